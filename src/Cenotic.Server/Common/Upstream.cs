using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;

namespace Cenotic.Server.Common;

/// <summary>A broker of the maker's own, and how to sign in there.</summary>
/// <param name="Address">mqtt://HOST:PORT, or mqtts:// with TLS.</param>
/// <param name="Authority">The certificate that the broker's must come from; null for those the system trusts.</param>
/// <param name="ClientId">The name under which the broker keeps the session; another for each program that uses it.</param>
public sealed record Upstream(Uri Address, string? User, string? Password, X509Certificate2? Authority, string ClientId)
{
    /// <summary>Reads the settings CENOTIC_UPSTREAM, with _USER, _PASSWORD, _AUTHORITY and _CLIENT.</summary>
    /// <exception cref="ArgumentException">The address or the certificate cannot be read.</exception>
    internal static Upstream? Read(IConfiguration configuration)
    {
        if (configuration["UPSTREAM"] is not { Length: > 0 } text)
        {
            return null;
        }
        if (
            !Uri.TryCreate(text, UriKind.Absolute, out var address)
            || address.Scheme is not ("mqtt" or "mqtts")
            || address.Host.Length == 0
            || address.UserInfo.Length > 0
        )
        {
            throw new ArgumentException(
                $"CENOTIC_UPSTREAM is \"{text}\"; write it like mqtt://192.168.1.4:1883, or mqtts:// for TLS. Name and password are settings of their own."
            );
        }
        if (address.Port < 0)
        {
            address = new UriBuilder(address) { Port = address.Scheme == "mqtts" ? 8883 : 1883 }.Uri;
        }
        X509Certificate2? authority = null;
        if (configuration["UPSTREAM_AUTHORITY"] is { Length: > 0 } file)
        {
            try
            {
                authority = X509Certificate2.CreateFromPem(File.ReadAllText(file));
            }
            catch (Exception fault) when (fault is IOException or UnauthorizedAccessException or CryptographicException or ArgumentException)
            {
                throw new ArgumentException($"CENOTIC_UPSTREAM_AUTHORITY \"{file}\" cannot be used: {fault.Message} It is a PEM file with one certificate.");
            }
        }
        string? Of(string name) => configuration["UPSTREAM_" + name] is { Length: > 0 } value ? value : null;
        return new(address, Of("USER"), Of("PASSWORD"), authority, Of("CLIENT") ?? "cenotic");
    }
}
