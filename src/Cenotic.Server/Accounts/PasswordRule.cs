using System.Collections.Frozen;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Identity;

namespace Cenotic.Server.Accounts;

/// <summary>
/// What a password must be: long, and none that is tried first. No rule about kinds of characters, which makes passwords worse (NIST SP 800-63B, 5.1.1.2: 8 and
/// more characters, compared with a list of commonly used ones).
/// </summary>
public sealed class PasswordRule : IPasswordValidator<Account>
{
    public const int Shortest = 10,
        Longest = 128;

    /// <summary>Letters that it must have different ones of.</summary>
    private const int Different = 5;

    private const int HashDigits = 16;

    /// <summary>
    /// The commonest passwords of ten and more letters, in small letters, each as the first digits of its SHA-256, so that none stands here to be read. Source:
    /// the list of the npm package @zxcvbn-ts/language-common 3.0.4 (MIT licence), which is made of passwords that became public.
    /// </summary>
    private static readonly Lazy<FrozenSet<string>> Commonest = new(() =>
    {
        using var list = typeof(PasswordRule).Assembly.GetManifestResourceStream("commonest-passwords.txt")!;
        using var reader = new StreamReader(list);
        return reader.ReadToEnd().Split('\n', StringSplitOptions.RemoveEmptyEntries).ToFrozenSet();
    });

    public Task<IdentityResult> ValidateAsync(UserManager<Account> manager, Account user, string? password) =>
        Task.FromResult(
            Fault(user.UserName ?? "", password ?? "") is { } fault
                ? IdentityResult.Failed(new IdentityError { Code = "Password", Description = fault })
                : IdentityResult.Success
        );

    /// <summary>What is wrong with a password; null when nothing is.</summary>
    public static string? Fault(string name, string password) =>
        password switch
        {
            { Length: < Shortest } => $"A password has at least {Shortest} characters; a few words that you remember are good.",
            { Length: > Longest } => $"A password has at most {Longest} characters.",
            _ when password.Distinct().Count() < Different => $"A password has at least {Different} different characters.",
            _ when name.Length >= 3 && password.Contains(name, StringComparison.OrdinalIgnoreCase) => "A password does not hold the name it is for.",
            _ when Commonest.Value.Contains(Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(password.ToLowerInvariant())))[..HashDigits]) =>
                "This password is among the first that are tried; take a few words that you remember.",
            _ => null,
        };
}
