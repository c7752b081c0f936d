using System.Security.Cryptography;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Alerts.Ways;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>How notices leave the house, as the owner sees it. Secrets are never shown again.</summary>
/// <param name="HasMailPassword">True when one is kept.</param>
/// <param name="HomeNetworks">Networks of the house that webhooks and the text gateway may be in, one a line.</param>
public sealed record NoticeSettingsView(
    string MailHost,
    int MailPort,
    bool MailTls,
    string MailFrom,
    string MailUser,
    bool HasMailPassword,
    string TextUrl,
    bool HasTextKey,
    string HomeNetworks
);

/// <summary>The same as it is written.</summary>
/// <param name="MailPassword">Null keeps the one that is kept; empty takes it away.</param>
/// <param name="TextKey">Null keeps the one that is kept; empty takes it away.</param>
public sealed record NoticeSettingsRequest(
    string MailHost = "",
    int MailPort = 587,
    bool MailTls = false,
    string MailFrom = "",
    string MailUser = "",
    string? MailPassword = null,
    string TextUrl = "",
    string? TextKey = null,
    string HomeNetworks = ""
);

/// <summary>A secret that is shown once.</summary>
public sealed record WebhookSecret(string Secret);

/// <summary>A notice on its way, or gone.</summary>
/// <param name="Tells">What it tells, in one line.</param>
public sealed record OutboxView(
    long Id,
    string Person,
    WayKind Way,
    string Tells,
    long AtMs,
    bool Done,
    bool Taken,
    string? Result,
    bool MaybeTwice,
    int Tries
);

/// <summary>How notices leave the house: set by the owner, tried by makers.</summary>
public static class NoticeSettingsEndpoints
{
    private const int Shown = 60,
        LongestSetting = 500,
        LongestNetworks = 2_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/notices", ListAsync).WithName("GetNotices");
        SiteRoutes.Writing(routes).MapPost("/people/{person}/test", TestAsync).WithName("TestPerson");
        var owner = SiteRoutes.Writing(routes, Role.Owner);
        routes
            .MapGroup("/api/sites/{site}")
            .AddEndpointFilter(new SiteAccess(Role.Owner))
            .MapGet("/notices/settings", ViewAsync)
            .WithName("GetNoticeSettings")
            .ProducesProblem(403);
        owner.MapPut("/notices/settings", SetAsync).WithName("SetNoticeSettings");
        owner.MapPost("/notices/secret", SecretAsync).WithName("NewWebhookSecret");
    }

    /// <summary>The settings of a site, made on first use: a webhook is signed from the first one on.</summary>
    internal static async Task<NoticeSettingsRow> OfAsync(CenoticStore store, string site, NoticeWays ways)
    {
        if (await store.NoticeSettings.FindAsync(site) is { } row)
        {
            return row;
        }
        return store
            .NoticeSettings.Add(
                new()
                {
                    Site = site,
                    WebhookSecret = ways.Hide(NewSecret())!,
                    MailPort = 587,
                }
            )
            .Entity;
    }

    private static string NewSecret() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));

    private static async Task<List<OutboxView>> ListAsync(string site, SiteBook book, CenoticStore store)
    {
        var rows = await store.Outbox.AsNoTracking().Where(o => o.Site == site).OrderByDescending(o => o.Id).Take(Shown).ToListAsync();
        var design = book.Find(site)!.Design;
        return
        [
            .. rows.Select(o => new OutboxView(
                o.Id,
                design.People.FirstOrDefault(p => p.Key == o.Person)?.Name ?? o.Person,
                o.Way,
                Core.Alerts.NoticeText.Subject(
                    design.Settings.Name,
                    System.Text.Json.JsonSerializer.Deserialize<List<Core.Alerts.NoticeFacts>>(o.Notices, CenoticJson.Options)!
                ),
                o.CreatedMs,
                o.DoneMs is not null,
                o.Taken,
                o.Result,
                o.MaybeTwice,
                o.Tries
            )),
        ];
    }

    private static async Task<NoticeSettingsView> ViewAsync(string site, CenoticStore store)
    {
        var row = await store.NoticeSettings.AsNoTracking().SingleOrDefaultAsync(s => s.Site == site);
        return row is null
            ? new("", 587, false, "", "", false, "", false, "")
            : new(
                row.MailHost ?? "",
                row.MailPort,
                row.MailTls,
                row.MailFrom ?? "",
                row.MailUser ?? "",
                row.MailPassword is not null,
                row.TextUrl ?? "",
                row.TextKey is not null,
                row.HomeNetworks
            );
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> SetAsync(
        string site,
        NoticeSettingsRequest request,
        WriteGate gate,
        NoticeWays ways,
        OutboxSender sender,
        SiteBook book
    )
    {
        if (Faults(request) is { Count: > 0 } faults)
        {
            return TypedResults.UnprocessableEntity(new EditRefused(faults));
        }
        await gate.WriteAsync(async store =>
        {
            var row = await OfAsync(store, site, ways);
            (row.MailHost, row.MailPort, row.MailTls, row.MailFrom, row.MailUser) = (
                request.MailHost,
                request.MailPort,
                request.MailTls,
                request.MailFrom,
                request.MailUser
            );
            (row.TextUrl, row.HomeNetworks) = (request.TextUrl, request.HomeNetworks.Trim());
            row.MailPassword = request.MailPassword is null ? row.MailPassword : ways.Hide(request.MailPassword);
            row.TextKey = request.TextKey is null ? row.TextKey : ways.Hide(request.TextKey);
            // What waited for a way has one now.
            foreach (var waiting in await store.Outbox.Where(o => o.Site == site && o.DoneMs == null && o.HandingMs == null).ToListAsync())
            {
                waiting.NotBeforeMs = Math.Min(waiting.NotBeforeMs, waiting.CreatedMs);
            }
        });
        sender.Wake();
        await book.WaysOutChangedAsync(site);
        return TypedResults.NoContent();
    }

    private static List<string> Faults(NoticeSettingsRequest request)
    {
        var faults = new List<string>();
        if (
            new[] { request.MailHost, request.MailFrom, request.MailUser, request.MailPassword ?? "", request.TextUrl, request.TextKey ?? "" }.Any(t =>
                t.Length > LongestSetting
            )
            || request.HomeNetworks.Length > LongestNetworks
        )
        {
            return [$"Each of these has at most {LongestSetting} characters, the networks together {LongestNetworks}."];
        }
        if (request.MailHost.Length > 0 && (Uri.CheckHostName(request.MailHost) == UriHostNameType.Unknown || request.MailPort is < 1 or > 65_535))
        {
            faults.Add("The mail server is a name or an address, with a port from 1 to 65535.");
        }
        if (request.MailHost.Length > 0 && !NoticeWays.IsMailbox(request.MailFrom))
        {
            faults.Add($"\"{request.MailFrom}\" is no mail address to send from; write it like home@example.com, without a name.");
        }
        if (request.TextUrl.Length > 0 && (!Uri.TryCreate(request.TextUrl, UriKind.Absolute, out var uri) || uri.Scheme is not ("http" or "https")))
        {
            faults.Add($"\"{request.TextUrl}\" is no address of a gateway; write it with http:// or https://.");
        }
        AddressGuard.Read(request.HomeNetworks, out var bad);
        faults.AddRange(bad.Select(b => $"\"{b}\" is no network; write it like 192.168.1.0/24."));
        return faults;
    }

    private static async Task<WebhookSecret> SecretAsync(string site, WriteGate gate, NoticeWays ways)
    {
        var secret = NewSecret();
        await gate.WriteAsync(async store => (await OfAsync(store, site, ways)).WebhookSecret = ways.Hide(secret)!);
        return new(secret);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> TestAsync(
        string site,
        string person,
        HttpContext http,
        SiteBook book,
        SiteClock clock,
        WriteGate gate,
        OutboxSender sender,
        TimeProvider system
    )
    {
        var state = book.Find(site)!;
        if (state.Design.People.FirstOrDefault(p => p.Key == person) is not { } whom)
        {
            return TypedResults.Problem("There is no such person.", statusCode: 404);
        }
        await gate.WriteAsync(store =>
        {
            NoticeStep.PutTest(store, state, whom, http.User.Identity!.Name!, clock.Now(site), system.GetUtcNow().ToUnixTimeMilliseconds());
            return Task.CompletedTask;
        });
        sender.Wake();
        return TypedResults.NoContent();
    }
}
