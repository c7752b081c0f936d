using System.Security.Cryptography;
using System.Text;

namespace Cenotic.Server.Accounts;

/// <summary>The one-time code that lets the person at the console create the first account. New at every start.</summary>
public sealed class FirstStartCode
{
    public string Text { get; } = RandomNumberGenerator.GetString("ABCDEFGHJKLMNPQRSTUVWXYZ23456789", 10);

    /// <summary>Held while the first account is made: of two who come at once with the code, one is first.</summary>
    public SemaphoreSlim OneAtATime { get; } = new(1, 1);

    public bool Fits(string code) =>
        CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(Text), Encoding.UTF8.GetBytes(code.Trim().ToUpperInvariant()));
}
