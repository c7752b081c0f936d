using System.Xml;
using System.Xml.Linq;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.DataProtection;

namespace Cenotic.Server.Accounts;

/// <summary>The keys beside the database, with which cookies are signed and secrets encrypted.</summary>
internal static class SecretKeys
{
    public static string Folder(Settings settings) => Path.Combine(settings.Data, "keys");

    /// <summary>Looks whether the keys can be read, and makes the first one: a backup is whole from the first start on.</summary>
    /// <exception cref="IOException">A key cannot be read.</exception>
    public static void Ready(Settings settings, IDataProtectionProvider protection)
    {
        OwnFolder.Make(Folder(settings));
        var files = Directory.GetFiles(Folder(settings), "*.xml");
        foreach (var file in files)
        {
            try
            {
                using var stream = File.OpenRead(file);
                if (XDocument.Load(stream).Root?.Name.LocalName is not ("key" or "revocation"))
                {
                    throw new XmlException("it is not a key");
                }
            }
            catch (Exception fault) when (fault is XmlException or UnauthorizedAccessException or IOException)
            {
                throw new IOException(
                    $"The key {file} cannot be read ({fault.Message.TrimEnd('.')}). Make it readable, or put it back from a backup; without it "
                        + "everybody signs in anew and the passwords of mail, gateway and webhook are to be entered again.",
                    fault
                );
            }
        }
        if (files.Length == 0)
        {
            protection.CreateProtector("first").Protect("first");
        }
    }
}
