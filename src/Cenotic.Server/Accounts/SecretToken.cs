using System.Security.Cryptography;
using System.Text;

namespace Cenotic.Server.Accounts;

/// <summary>Secrets that are shown once and kept as a hash: keys of nodes, addresses of calendars, share links. 160 random bits need no slow hash.</summary>
internal static class SecretToken
{
    /// <summary>A new secret, 40 hexadecimal digits.</summary>
    public static string New() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(20));

    /// <summary>What is kept of it (SHA-256, FIPS 180-4).</summary>
    public static string Hash(string secret) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));
}
