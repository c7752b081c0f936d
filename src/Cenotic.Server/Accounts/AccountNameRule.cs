using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Identity;

namespace Cenotic.Server.Accounts;

/// <summary>A name to sign in with is as long as a person's name may be, beside the letters that accounts may have.</summary>
public sealed class AccountNameRule : IUserValidator<Account>
{
    public const int Longest = 60;

    public Task<IdentityResult> ValidateAsync(UserManager<Account> manager, Account user) =>
        Task.FromResult(
            user.UserName?.Length <= Longest
                ? IdentityResult.Success
                : IdentityResult.Failed(new IdentityError { Code = "Name", Description = $"A name has 1 to {Longest} characters." })
        );
}
