using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Identity;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Accounts;

/// <summary>Passwords that are given anew to who lost theirs.</summary>
public static class Passwords
{
    /// <summary>Gives an account another password and ends every sign-in of it. What is wrong with the password; empty when it is set.</summary>
    internal static async Task<IReadOnlyList<string>> SetAsync(UserManager<Account> users, Account account, string password)
    {
        if (PasswordRule.Fault(account.UserName!, password) is { } fault)
        {
            return [fault];
        }
        account.PasswordHash = users.PasswordHasher.HashPassword(account, password);
        // The new stamp is written with it.
        var done = await users.UpdateSecurityStampAsync(account);
        return [.. done.Errors.Select(e => e.Description)];
    }

    /// <summary>Gives an account a random password, from the console, also while the server runs.</summary>
    /// <returns>The password.</returns>
    /// <exception cref="IOException">There is no database, it is of another version, or it has no such account.</exception>
    public static async Task<string> ResetAsync(Settings settings, string name)
    {
        if (!File.Exists(settings.Database) || !Database.IsUpToDate(settings.Database))
        {
            throw new IOException($"There is no database of this version in {settings.Data}; start the server once, or set CENOTIC_DATA.");
        }
        var services = new ServiceCollection()
            .AddLogging()
            .AddDbContext<CenoticStore>(o => o.UseSqlite($"Data Source={settings.Database}").AddInterceptors(DurableConnections.Instance));
        services.AddIdentityCore<Account>().AddEntityFrameworkStores<CenoticStore>();
        await using var provider = services.BuildServiceProvider();
        await using var scope = provider.CreateAsyncScope();
        var users = scope.ServiceProvider.GetRequiredService<UserManager<Account>>();
        var password = SecretToken.New()[..20];
        try
        {
            var account = await users.FindByNameAsync(name)
                ?? throw new IOException(
                    $"There is no account \"{name}\". There are: {string.Join(", ", await users.Users.Select(u => u.UserName).ToListAsync())}."
                );
            if (await SetAsync(users, account, password) is { Count: > 0 } faults)
            {
                throw new IOException(string.Join(" ", faults));
            }
        }
        finally
        {
            SqliteConnection.ClearAllPools();
        }
        return password;
    }
}
