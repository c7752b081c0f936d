using System.Net;
using System.Net.Sockets;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Server.Accounts;
using Cenotic.Server.Alerts;
using Cenotic.Server.Bench;
using Cenotic.Server.BringUp;
using Cenotic.Server.Commands;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Cenotic.Server.Log;
using Cenotic.Server.Place;
using Cenotic.Server.Reach;
using Cenotic.Server.Rhythm;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.StandIns;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Server.Kestrel.Core;
using Microsoft.EntityFrameworkCore;
using MQTTnet.AspNetCore;

namespace Cenotic.Server;

/// <summary>Puts the host together.</summary>
public static class App
{
    /// <summary>What goes on beside since the start is waited for so long when the program stops.</summary>
    private static readonly TimeSpan LongestLookBack = TimeSpan.FromSeconds(10);

    /// <summary>Builds the application; nothing is opened yet.</summary>
    /// <param name="describing">True when only the interface is to be described: nothing works in the background.</param>
    /// <param name="system">The clock of this machine; another one in tests.</param>
    public static WebApplication Build(Settings settings, string[] args, bool describing = false, TimeProvider? system = null)
    {
        WarmUp(describing);
        // What computes and what waits for a commit must not keep what arrives from a thread:
        // the pool makes this many at once, beyond them one in half a second.
        ThreadPool.SetMinThreads(Math.Max(32, 4 * Environment.ProcessorCount), Math.Max(32, 4 * Environment.ProcessorCount));
        var builder = WebApplication.CreateBuilder(
            new WebApplicationOptions
            {
                Args = args,
                ContentRootPath = AppContext.BaseDirectory,
                WebRootPath = WebRoot(),
            }
        );
        builder.Configuration.AddInMemoryCollection([
            new("AllowedHosts", builder.Configuration["CENOTIC_HOSTS"] ?? $"localhost;127.0.0.1;[::1];{settings.Web.Address}"),
        ]);
        builder
            .Logging.AddFilter("Microsoft.EntityFrameworkCore", LogLevel.Warning)
            .AddFilter("Microsoft.AspNetCore", LogLevel.Warning)
            .AddFilter("Microsoft.Hosting.Lifetime", LogLevel.Warning)
            .AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
        Listen(builder, settings);
        AddRooms(builder.Services, settings, system ?? TimeProvider.System, describing);
        if (describing)
        {
            LeaveWorkersOut(builder.Services);
        }
        var app = builder.Build();
        Pipeline(app, settings);
        return app;
    }

    /// <summary>Opens the database, loads the sites and starts serving. Returns what to tell the person at the console.</summary>
    public static async Task<Started> StartAsync(WebApplication app, Settings settings)
    {
        var services = app.Services;
        var held = await Database.OpenAsync(settings, services.GetRequiredService<IDbContextFactory<CenoticStore>>());
        app.Lifetime.ApplicationStopped.Register(held.Dispose);
        services.GetRequiredService<Imports>().RemoveLeft();
        SecretKeys.Ready(settings, services.GetRequiredService<IDataProtectionProvider>());
        await LoadAsync(services);
        var told = new List<string>();
        var firstDemo = settings.Demo && services.GetRequiredService<SiteBook>().Find(services.GetRequiredService<StandInPlan>().Site) is null;
        if (settings.Demo)
        {
            var (owner, viewer) = await services.GetRequiredService<DemoSite>().PrepareAsync();
            told.Add($"Sign in as \"{DemoSite.Owner}\" with {owner}, or as \"{DemoSite.Viewer}\" with {viewer}.");
        }
        var left = await services.GetRequiredService<SampleRemaker>().FindLeftAsync();
        MayListen(settings.Web, "CENOTIC_WEB");
        MayListen(settings.Broker, "CENOTIC_BROKER");
        MayListen(settings.BrokerTls, "CENOTIC_BROKER_TLS");
        await app.StartAsync();
        var (web, broker) = ListensAt(services, settings);
        told.Insert(0, $"Open {web.Scheme}://{web.Host}:{web.Port}");
        told.AddRange(OfNodes(broker, settings.CertificateFault(services.GetRequiredService<TimeProvider>().GetUtcNow())));
        if (settings.Demo)
        {
            await services.GetRequiredService<DemoSite>().ConnectWaysAsync(web);
        }
        if (firstDemo)
        {
            await services.GetRequiredService<DemoSite>().RehearseYesterdayAsync(app.Lifetime.ApplicationStopping);
        }
        services.GetRequiredService<BrokerAddress>().Set(broker);
        LookBack(app, left);
        await using var store = await services.GetRequiredService<IDbContextFactory<CenoticStore>>().CreateDbContextAsync();
        if (!await store.Users.AnyAsync())
        {
            told.Add($"First start: create the owner on the page with the code {services.GetRequiredService<FirstStartCode>().Text}");
        }
        return new(web, broker.Plain, told, broker.Tls);
    }

    private static async Task LoadAsync(IServiceProvider services)
    {
        await Task.WhenAll(
            Task.Run(services.GetRequiredService<SiteBook>().LoadAsync),
            Task.Run(async () =>
            {
                await services.GetRequiredService<NodeKeys>().LoadAsync();
                await services.GetRequiredService<NodeClocks>().LoadAsync();
                await services.GetRequiredService<Calibrations>().LoadAsync();
                await services.GetRequiredService<SetAside>().LoadAsync();
            })
        );
        services.GetRequiredService<Calibrations>().FindOnNode();
    }

    private static (Uri Web, BrokerAt Broker) ListensAt(IServiceProvider services, Settings settings)
    {
        var addresses = services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Select(a => new Uri(a)).ToList();
        IPEndPoint At(int listener) => new(IPAddress.Parse(addresses[listener].Host.Trim('[', ']')), addresses[listener].Port);
        return (addresses[0], new(At(1), settings.BrokerTls is null ? null : At(2)));
    }

    private static IEnumerable<string> OfNodes(BrokerAt broker, string? expired)
    {
        yield return $"Nodes connect to {broker.Plain} (MQTT, without TLS: keys and passwords cross the network readable).";
        if (broker.Tls is not null)
        {
            yield return $"Nodes connect to {broker.Tls} (MQTT with TLS).";
        }
        if (expired is not null)
        {
            yield return expired;
        }
    }

    /// <summary>Does beside the service what was left undone at the last stop.</summary>
    private static void LookBack(WebApplication app, IReadOnlyList<int> left)
    {
        var beside = Task.WhenAll(
            Task.Run(app.Services.GetRequiredService<SiteBook>().LookBackAsync),
            Task.Run(() => app.Services.GetRequiredService<SampleRemaker>().RemoveLeftAsync(left))
        );
        // Whoever stops the program finds its folder closed: nothing is read or written in it any more.
        app.Lifetime.ApplicationStopped.Register(() => ((IAsyncResult)beside).AsyncWaitHandle.WaitOne(LongestLookBack));
    }

    /// <summary>Looks whether it can listen at an address before the host tries: the host would tell it with all its insides.</summary>
    /// <exception cref="IOException">Another program listens there, or it is no address of this machine.</exception>
    private static void MayListen(IPEndPoint? at, string setting)
    {
        if (at is not { Port: > 0 })
        {
            return;
        }
        try
        {
            using var probe = new TcpListener(at);
            probe.Start();
        }
        catch (SocketException fault) when (fault.SocketErrorCode == SocketError.AddressAlreadyInUse)
        {
            throw new IOException($"Another program listens at {at}; stop it, or set {setting} to another address.", fault);
        }
        catch (SocketException fault)
        {
            throw new IOException(
                $"{at} is no address of this machine that may be listened at. Set {setting} to one that is; 0.0.0.0 stands for all of them ({fault.Message}).",
                fault
            );
        }
    }

    /// <summary>Begins on the other cores what the start needs later: the catalogue is read, and the code of the database and of JSON is made ready.</summary>
    private static void WarmUp(bool describing)
    {
        if (!describing)
        {
            _ = Task.Run(static () => HardwareCatalogue.BuiltIn.Boards.Count);
            _ = Task.Run(static () =>
            {
                using var store = new CenoticStore(CenoticStore.For(":memory:"));
                return store.Sites.AsNoTracking().ToQueryString().Length;
            });
        }
    }

    private static string WebRoot()
    {
        var shipped = Path.Combine(AppContext.BaseDirectory, "wwwroot");
        Directory.CreateDirectory(shipped);
        return shipped;
    }

    private static void Listen(WebApplicationBuilder builder, Settings settings) =>
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = 4 * 1024 * 1024;
            kestrel.Listen(settings.Web, listen =>
            {
                if (settings.Certificate is not null)
                {
                    listen.UseHttps(settings.Certificate);
                }
            });
            kestrel.Listen(settings.Broker, Guarded);
            if (settings.BrokerTls is not null)
            {
                kestrel.Listen(settings.BrokerTls, listen =>
                {
                    listen.UseHttps(settings.Certificate!);
                    Guarded(listen);
                });
            }

            static void Guarded(ListenOptions listen)
            {
                listen.ApplicationServices.GetRequiredService<PacketGuard>().StandBefore(listen);
                listen.UseMqtt();
            }
        });

    private static void AddRooms(IServiceCollection services, Settings settings, TimeProvider system, bool describing)
    {
        services.AddSingleton(settings).AddSingleton(system).AddSingleton(_ => HardwareCatalogue.BuiltIn);
        services.AddSingleton<LoopHealth>().AddHostedService<StartMemory>();
        services.AddConnections();
        services.ConfigureHttpJsonOptions(o =>
        {
            CenoticJson.Configure(o.SerializerOptions);
            LazyJsonTypes.In(o.SerializerOptions);
        });
        services.AddOpenApi(o => o.RequireWhatIsAlwaysThere());
        services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        services.AddExceptionHandler<RequestFaults>().AddProblemDetails();
        services
            .AddDelivery()
            .AddStorage(settings)
            .AddSites()
            .AddAccounts(settings, describing)
            .AddLive()
            .AddSamples()
            .AddIngest()
            .AddCommands()
            .AddReach()
            .AddBringUp()
            .AddWatch()
            .AddAlerts()
            .AddLog();
        if (settings.Demo)
        {
            services.AddStandIns();
        }
        // The broker opens last and closes first: all that its messages need stands meanwhile.
        services.AddHostedMqttServer(o => o.WithoutDefaultEndpoint());
    }

    private static void LeaveWorkersOut(IServiceCollection services)
    {
        foreach (var worker in services.Where(d => d.ServiceType == typeof(IHostedService) && d.ImplementationType?.Name != "GenericWebHostService").ToList())
        {
            services.Remove(worker);
        }
    }

    private static void Pipeline(WebApplication app, Settings settings)
    {
        app.UseExceptionHandler();
        app.Use(
            (http, next) =>
            {
                http.Response.Headers.ContentSecurityPolicy =
                    "default-src 'self'; img-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'";
                http.Response.Headers.XContentTypeOptions = "nosniff";
                http.Response.Headers["Referrer-Policy"] = "no-referrer";
                return next(http);
            }
        );
        app.Use(new OriginCheck(LiveSetup.Path, RelayEndpoints.WebSocket).InvokeAsync);
        app.Use(NothingThereAsync);
        app.UseDelivery();
        app.UseRouting();
        app.UseRateLimiter();
        app.UseAuthentication();
        app.UseAuthorization();
        app.UseMqttServer(server => app.Services.GetRequiredService<Broker>().Attach(server));
        app.MapOpenApi().AllowAnonymous();
        app.MapSites();
        app.MapAccounts();
        app.MapLive();
        app.MapIngest();
        app.MapCommands();
        app.MapPlace();
        app.MapBench();
        app.MapRhythm();
        app.MapReach();
        app.MapBringUp();
        app.MapWatch();
        app.MapAlerts();
        app.MapLog();
        if (settings.Demo)
        {
            app.MapStandIns();
        }
        // Every page is the same file; what begins with api is none.
        app.MapFallbackToFile("{*path:nonfile:regex(^(?!api(/|$)).*$)}", "index.html", Delivery.Files).AllowAnonymous();
    }

    /// <summary>An address of the API that there is not is said like every other fault.</summary>
    private static async Task NothingThereAsync(HttpContext http, RequestDelegate next)
    {
        await next(http);
        if (
            http.Response is { StatusCode: StatusCodes.Status404NotFound, HasStarted: false }
            && http.GetEndpoint() is null
            && http.Request.Path.StartsWithSegments("/api")
        )
        {
            await TypedResults.Problem($"There is nothing at {http.Request.Path}.", statusCode: StatusCodes.Status404NotFound).ExecuteAsync(http);
        }
    }

    /// <summary>A server that runs: where it really listens, and what to tell the person at the console.</summary>
    public sealed record Started(Uri Web, IPEndPoint Broker, IReadOnlyList<string> Lines, IPEndPoint? BrokerTls = null);
}
