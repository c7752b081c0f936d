using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Accounts;
using Cenotic.Server.Alerts;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Http.Connections;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;
using MQTTnet.Protocol;

namespace Cenotic.Server.Tests;

/// <summary>The real host on free ports, with the demo's design as site "home" and three accounts: an owner, a viewer, and a stranger to the site.</summary>
public sealed class RunningServer : IAsyncDisposable
{
    public const string Site = "home",
        Password = "correct-horse";

    private readonly bool _keepsFolder;

    private RunningServer(WebApplication app, App.Started started, Settings settings, bool keepsFolder) =>
        (Application, Started, Settings, _keepsFolder) = (app, started, settings, keepsFolder);

    public WebApplication Application { get; }

    public App.Started Started { get; }

    public Settings Settings { get; }

    public IServiceProvider Services => Application.Services;

    public static string NewFolder() => Path.Combine(Path.GetTempPath(), "cenotic-tests", Guid.NewGuid().ToString("n"));

    /// <param name="folder">A data folder to use and keep; else a new one that is deleted at the end.</param>
    /// <param name="empty">True for a server without accounts.</param>
    /// <param name="with">Other settings than the usual.</param>
    /// <param name="system">Another clock than this machine's.</param>
    public static async Task<RunningServer> StartAsync(
        string? folder = null,
        bool empty = false,
        bool demo = false,
        Func<Settings, Settings>? with = null,
        TimeProvider? system = null
    )
    {
        var settings = new Settings(new(IPAddress.Loopback, 0), new(IPAddress.Loopback, 0), folder ?? NewFolder(), demo, Password);
        settings = with?.Invoke(settings) ?? settings;
        var app = App.Build(settings, [], system: system);
        var server = new RunningServer(app, await App.StartAsync(app, settings), settings, folder is not null);
        if (!empty && !demo && server.Book.Find(Site) is null)
        {
            await server.SettleAsync();
        }
        return server;
    }

    public SiteBook Book => Services.GetRequiredService<SiteBook>();

    public static SiteFile Fernhollow => SiteFiles.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "fernhollow.json"))).Value;

    private async Task SettleAsync()
    {
        using var scope = Services.CreateScope();
        var users = scope.ServiceProvider.GetRequiredService<UserManager<Account>>();
        var ids = new Dictionary<string, string>();
        foreach (var name in new[] { "owner", "viewer", "stranger" })
        {
            var account = new Account { UserName = name };
            Assert.True((await users.CreateAsync(account, Password)).Succeeded);
            ids[name] = account.Id;
        }
        // Without what is worked out: tests count what nodes sent.
        await Book.CreateAsync(Site, Fernhollow.Design with { Derived = [] }, ids["owner"], Fernhollow.Evidence);
        await Services
            .GetRequiredService<WriteGate>()
            .WriteAsync(store =>
            {
                store.Memberships.Add(
                    new()
                    {
                        Site = Site,
                        AccountId = ids["viewer"],
                        Role = Role.Viewer,
                    }
                );
                return Task.CompletedTask;
            });
    }

    /// <summary>A browser in miniature: cookies, and the token on every write.</summary>
    public Task<HttpClient> ClientAsync(string? name = null, bool withToken = true) => SignedInAsync(Started.Web, name, withToken);

    /// <summary>The same for a server elsewhere, once it answers.</summary>
    public static async Task<HttpClient> SignedInAsync(Uri web, string? name, bool withToken = true)
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer(), AllowAutoRedirect = false }) { BaseAddress = web };
        for (var attempt = 0; ; attempt++)
        {
            try
            {
                await client.GetAsync("/health");
                break;
            }
            catch (HttpRequestException) when (attempt < 1200)
            {
                await Task.Delay(100);
            }
        }
        if (name is not null)
        {
            (await client.PostAsJsonAsync("/api/session", new SignIn(name, Password), CenoticJson.Options)).EnsureSuccessStatusCode();
        }
        var session = await client.GetFromJsonAsync<SessionView>("/api/session", CenoticJson.Options);
        if (withToken)
        {
            client.DefaultRequestHeaders.Add(AntiforgeryCheck.Header, session!.Token);
        }
        return client;
    }

    /// <summary>A connected MQTT client of a node, with a new key.</summary>
    public async Task<IMqttClient> NodeAsync(string node)
    {
        var key = await Services.GetRequiredService<NodeKeys>().IssueAsync(Site, node);
        var client = new MqttClientFactory().CreateMqttClient();
        await client.ConnectAsync(Options(node, key));
        return client;
    }

    public MqttClientOptions Options(string node, string key) =>
        new MqttClientOptionsBuilder()
            .WithTcpServer("127.0.0.1", Started.Broker.Port)
            .WithCredentials(Broker.UserName(Site, node), key)
            .WithProtocolVersion(MQTTnet.Formatter.MqttProtocolVersion.V500)
            .WithTimeout(TimeSpan.FromSeconds(10))
            .Build();

    public static Task<MqttClientPublishResult> PublishAsync(IMqttClient client, string node, string payload, string? topic = null) =>
        client.PublishAsync(
            new MqttApplicationMessageBuilder()
                .WithTopic(topic ?? Topics.Data(Site, node))
                .WithPayload(payload)
                .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                .Build()
        );

    public static Task<MqttClientPublishResult> PublishAsync(IMqttClient client, string node, byte[] payload) =>
        client.PublishAsync(
            new MqttApplicationMessageBuilder()
                .WithTopic(Topics.Data(Site, node))
                .WithPayload(payload)
                .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                .Build()
        );

    public async Task<T> QueryAsync<T>(Func<CenoticStore, Task<T>> query)
    {
        await using var store = await Services.GetRequiredService<IDbContextFactory<CenoticStore>>().CreateDbContextAsync();
        return await query(store);
    }

    /// <summary>One number from the database.</summary>
    public Task<long> CountAsync(FormattableString sql) => QueryAsync(async s => (await s.Database.SqlQuery<long>(sql).ToListAsync()).Single());

    public Task<List<string>> RefusalsAsync(string node) =>
        QueryAsync(s => s.Refusals.Where(r => r.Node == node).OrderBy(r => r.Id).Select(r => r.Reason).ToListAsync());

    /// <summary>Waits until rules, acts and notices have all looked from the begin of a round to its end: what there was for them to do is done.</summary>
    public async Task LookedAsync()
    {
        var (health, clock, outbox) = (
            Services.GetRequiredService<LoopHealth>(),
            Services.GetRequiredService<SiteClock>(),
            Services.GetRequiredService<OutboxSender>()
        );
        var site = await QueryAsync(s => s.Sites.AsNoTracking().SingleAsync(r => r.Key == Site));
        // The acts have two rounds a look: those of the site, and chirps.
        foreach (var (loop, rounds) in new[] { ("rules", 2), ("acts", 4), ("notices", 2) })
        {
            var wanted = health.Done(loop) + rounds;
            await UntilAsync(
                () =>
                {
                    clock.Set(site);
                    outbox.Wake();
                    return Task.FromResult(health.Done(loop) >= wanted);
                },
                $"{loop} have looked"
            );
        }
    }

    /// <summary>A live connection with the cookie of a sign-in or of a link.</summary>
    public HubConnection Live(string cookie) =>
        new HubConnectionBuilder()
            .WithUrl(new Uri(Started.Web, "/live"), o =>
            {
                o.Transports = HttpTransportType.WebSockets;
                o.SkipNegotiation = true;
                o.Headers["Cookie"] = cookie;
            })
            .Build();

    /// <summary>Starts a live connection, and waits until it hears: its handshake is over before that.</summary>
    public static async Task JoinAsync(HubConnection live)
    {
        var joined = new TaskCompletionSource();
        live.On("joined", () => joined.TrySetResult());
        await live.StartAsync();
        await joined.Task.WaitAsync(TimeSpan.FromSeconds(Patience));
    }

    /// <summary>Waits until the server has ended a live connection.</summary>
    public static Task EndedAsync(HubConnection live) =>
        UntilAsync(() => Task.FromResult(live.State == HubConnectionState.Disconnected), "the live connection ends");

    /// <summary>How long is waited for what comes within a moment on a calm machine, s: it costs nothing where all goes well.</summary>
    private const int Patience = 180;

    /// <summary>Waits until something is so.</summary>
    public static async Task UntilAsync(Func<Task<bool>> holds, string what)
    {
        var until = DateTime.UtcNow.AddSeconds(Patience);
        while (!await holds())
        {
            Assert.True(DateTime.UtcNow < until, $"It never came to be that {what}.");
            await Task.Delay(25);
        }
    }

    /// <summary>Names this machine as a network of the house, which lines over the network and webhooks may be in.</summary>
    public async Task NameHomeAsync(HttpClient owner) =>
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await owner.PutAsync($"/api/sites/{Site}/notices/settings", Body(new NoticeSettingsRequest(HomeNetworks: "127.0.0.0/8")))).StatusCode
        );

    public static StringContent Body(object value) => new(JsonSerializer.Serialize(value, CenoticJson.Options), System.Text.Encoding.UTF8, "application/json");

    public async ValueTask DisposeAsync()
    {
        await Application.StopAsync();
        await Application.DisposeAsync();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        if (!_keepsFolder)
        {
            Directory.Delete(Settings.Data, recursive: true);
        }
    }
}
