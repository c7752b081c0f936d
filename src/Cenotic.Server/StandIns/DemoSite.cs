using Cenotic.Core.Formats;
using Cenotic.Core.Rehearsal;
using Cenotic.Server.Alerts;
using Cenotic.Server.Alerts.Ways;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Identity;

namespace Cenotic.Server.StandIns;

/// <summary>Sets up the demo: the invented site Fernhollow, two accounts, and a rehearsed day before now.</summary>
public sealed class DemoSite(
    SiteBook book,
    IServiceScopeFactory scopes,
    Settings settings,
    SampleWriter writer,
    Intake intake,
    SiteClock clock,
    MailSink mails,
    Alerts.Ways.NoticeWays ways,
    StandInPlan plan
)
{
    public const string Owner = "owner",
        Viewer = "viewer";
    private const long DayMs = 86_400_000;

    /// <summary>The site file that ships.</summary>
    public static string File => Path.Combine(AppContext.BaseDirectory, "fernhollow.json");

    /// <summary>Creates what is missing and gives the passwords of this start.</summary>
    public async Task<(string Owner, string Viewer)> PrepareAsync()
    {
        using var scope = scopes.CreateScope();
        var users = scope.ServiceProvider.GetRequiredService<UserManager<Account>>();
        var ownerPassword = settings.DemoPassword ?? NewPassword();
        var viewerPassword = settings.DemoPassword ?? NewPassword();
        var owner = await WithPasswordAsync(users, Owner, ownerPassword);
        var viewer = await WithPasswordAsync(users, Viewer, viewerPassword);
        if (book.Find(plan.Site) is null)
        {
            var file = SiteFiles.Read(await System.IO.File.ReadAllTextAsync(File)).Value;
            await book.CreateAsync(plan.Site, file.Design, owner.Id, file.Evidence);
            await scope
                .ServiceProvider.GetRequiredService<WriteGate>()
                .WriteAsync(store =>
                {
                    store.Memberships.Add(
                        new()
                        {
                            Site = plan.Site,
                            AccountId = viewer.Id,
                            Role = Role.Viewer,
                        }
                    );
                    return Task.CompletedTask;
                });
        }
        return (ownerPassword, viewerPassword);
    }

    /// <summary>Lets notices go to the sinks that ship: nothing leaves this machine.</summary>
    /// <param name="web">Where this program is reached.</param>
    public async Task ConnectWaysAsync(Uri web)
    {
        using var scope = scopes.CreateScope();
        await scope
            .ServiceProvider.GetRequiredService<WriteGate>()
            .WriteAsync(async store =>
            {
                var row = await NoticeSettingsEndpoints.OfAsync(store, plan.Site, ways);
                (row.MailHost, row.MailPort, row.MailTls, row.MailFrom) = (mails.Address.Address.ToString(), mails.Address.Port, false, plan.MailFrom);
                (row.TextUrl, row.HomeNetworks) = ($"{web.Scheme}://{web.Authority}/api/stand-ins/texts", "127.0.0.0/8");
            });
        await book.WaysOutChangedAsync(plan.Site);
    }

    /// <summary>Plays the day before now into the store, once; as far as it came when the program is stopped meanwhile.</summary>
    public async Task RehearseYesterdayAsync(CancellationToken stop)
    {
        try
        {
            await PlayYesterdayAsync(stop);
        }
        catch (Exception fault) when (stop.IsCancellationRequested && fault is (OperationCanceledException or IOException))
        {
            // Whoever stops it during its first start wants it to end, and not a day that is whole.
        }
    }

    private async Task PlayYesterdayAsync(CancellationToken stop)
    {
        var state = book.Find(plan.Site)!;
        var now = clock.Now(plan.Site);
        var planned = await book.PlanAsync(state);
        foreach (var node in state.Design.Nodes)
        {
            var behaviour = new NodeBehaviour(node, planned.Node(node.Key)!.Rhythm, state.Catalogue, plan.Seed, 1, now - DayMs, planned.SlotOf(node.Key));
            var last = Task.CompletedTask;
            for (var t = now - DayMs; t < now && !stop.IsCancellationRequested; t = behaviour.NextAt(t, WorldControl.Calm))
            {
                behaviour.ServerHeard(t);
                foreach (var message in behaviour.Advance(t, WorldControl.Calm))
                {
                    last = writer.StoreAsync(
                        intake.Decode(plan.Site, node.Key, node.Via is null ? message.Payload : StandInClient.WithSignal(plan, node.Key, message.Payload)) with
                        {
                            ReceivedMs = t,
                        },
                        stop
                    );
                }
            }
            await last;
        }
    }

    private static string NewPassword() => System.Security.Cryptography.RandomNumberGenerator.GetString("abcdefghjkmnpqrstuvwxyz23456789", 14);

    private static async Task<Account> WithPasswordAsync(UserManager<Account> users, string name, string password)
    {
        var account = await users.FindByNameAsync(name);
        if (account is null)
        {
            account = new Account { UserName = name };
            Check(await users.CreateAsync(account, password));
            return account;
        }
        Check(await users.RemovePasswordAsync(account));
        Check(await users.AddPasswordAsync(account, password));
        return account;

        static void Check(IdentityResult result)
        {
            if (!result.Succeeded)
            {
                throw new ArgumentException("CENOTIC_DEMO_PASSWORD: " + string.Join(" ", result.Errors.Select(e => e.Description)));
            }
        }
    }
}
