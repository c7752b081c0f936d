using System.Net;
using System.Net.Sockets;
using System.Threading.RateLimiting;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Server.Accounts;
using Cenotic.Server.Alerts;
using Cenotic.Server.Alerts.Ways;
using Cenotic.Server.Bench;
using Cenotic.Server.BringUp;
using Cenotic.Server.Commands;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Cenotic.Server.Log;
using Cenotic.Server.Rhythm;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.StandIns;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Server.Kestrel.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.OpenApi;
using MQTTnet.AspNetCore;
using MQTTnet.Server;

namespace Cenotic.Server;

/// <summary>Puts the host together.</summary>
public static class App
{
    /// <summary>What goes on beside since the start is waited for so long when the program stops.</summary>
    private static readonly TimeSpan LongestLookBack = TimeSpan.FromSeconds(10);

    private const string LivePath = "/live";

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
        Services(builder.Services, settings, system ?? TimeProvider.System);
        Security(builder.Services, settings, describing);
        if (describing)
        {
            foreach (
                var worker in builder
                    .Services.Where(d => d.ServiceType == typeof(IHostedService) && d.ImplementationType?.Name != "GenericWebHostService")
                    .ToList()
            )
            {
                builder.Services.Remove(worker);
            }
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
        var told = new List<string>();
        var firstDemo = false;
        if (settings.Demo)
        {
            firstDemo = services.GetRequiredService<SiteBook>().Find(services.GetRequiredService<StandInPlan>().Site) is null;
            var (owner, viewer) = await services.GetRequiredService<DemoSite>().PrepareAsync();
            told.Add($"Sign in as \"{DemoSite.Owner}\" with {owner}, or as \"{DemoSite.Viewer}\" with {viewer}.");
        }
        var left = await services.GetRequiredService<SampleRemaker>().FindLeftAsync();
        MayListen(settings.Web, "CENOTIC_WEB");
        MayListen(settings.Broker, "CENOTIC_BROKER");
        MayListen(settings.BrokerTls, "CENOTIC_BROKER_TLS");
        await app.StartAsync();
        var addresses = services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Select(a => new Uri(a)).ToList();
        IPEndPoint At(int listener) => new(IPAddress.Parse(addresses[listener].Host.Trim('[', ']')), addresses[listener].Port);
        var broker = new BrokerAt(At(1), settings.BrokerTls is null ? null : At(2));
        told.Insert(0, $"Open {addresses[0].Scheme}://{addresses[0].Host}:{addresses[0].Port}");
        told.Add($"Nodes connect to {broker.Plain} (MQTT, without TLS: keys and passwords cross the network readable).");
        if (broker.Tls is not null)
        {
            told.Add($"Nodes connect to {broker.Tls} (MQTT with TLS).");
        }
        if (settings.CertificateFault(services.GetRequiredService<TimeProvider>().GetUtcNow()) is { } expired)
        {
            told.Add(expired);
        }
        if (settings.Demo)
        {
            await services.GetRequiredService<DemoSite>().ConnectWaysAsync(addresses[0]);
        }
        if (firstDemo)
        {
            await services.GetRequiredService<DemoSite>().RehearseYesterdayAsync(app.Lifetime.ApplicationStopping);
        }
        services.GetRequiredService<BrokerAddress>().Set(broker);
        var beside = Task.WhenAll(
            Task.Run(services.GetRequiredService<SiteBook>().LookBackAsync),
            Task.Run(() => services.GetRequiredService<SampleRemaker>().RemoveLeftAsync(left))
        );
        // Whoever stops the program finds its folder closed: nothing is read or written in it any more.
        app.Lifetime.ApplicationStopped.Register(() => ((IAsyncResult)beside).AsyncWaitHandle.WaitOne(LongestLookBack));
        await using var store = await services.GetRequiredService<IDbContextFactory<CenoticStore>>().CreateDbContextAsync();
        if (!await store.Users.AnyAsync())
        {
            told.Add($"First start: create the owner on the page with the code {services.GetRequiredService<FirstStartCode>().Text}");
        }
        return new(addresses[0], broker.Plain, told, broker.Tls);
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

    private static void Services(IServiceCollection services, Settings settings, TimeProvider system)
    {
        services.AddSingleton(settings);
        services.AddSingleton(system);
        services.AddSingleton<LoopHealth>().AddHostedService<StartMemory>();
        services.AddSingleton(_ => HardwareCatalogue.BuiltIn);
        services.AddDbContextFactory<CenoticStore>(o => o.UseSqlite($"Data Source={settings.Database}").AddInterceptors(DurableConnections.Instance));
        services
            .AddSingleton<WriteGate>()
            .AddSingleton<SiteClock>()
            .AddSingleton<SitePlans>()
            .AddSingleton<SiteBook>()
            .AddSingleton<NodeKeys>()
            .AddSingleton<NodeClocks>()
            .AddSingleton<ReadingNumbers>()
            .AddSingleton<SampleRemaker>()
            .AddSingleton<SetAside>()
            .AddSingleton<Calibrations>()
            .AddSingleton<ICorrections>(s => s.GetRequiredService<Calibrations>())
            .AddSingleton<LastMessages>()
            .AddSingleton<Intake>()
            .AddSingleton<Broker>()
            .AddSingleton<BrokerAddress>();
        services.AddSingleton<PacketGuard>().AddSingleton<LiveFeed>().AddSingleton<FirstStartCode>().AddSingleton<SignInThrottle>();
        services.AddSingleton<Imports>().AddSingleton<RelayMeter>().AddHostedService<BackupSchedule>();
        services.AddSingleton<StoreCheck>().AddSingleton<Retention>().AddHostedService(s => s.GetRequiredService<Retention>());
        services.AddSingleton<SampleWriter>().AddHostedService(s => s.GetRequiredService<SampleWriter>());
        services.AddSingleton<SerialLineHost>().AddHostedService(s => s.GetRequiredService<SerialLineHost>());
        services.AddSingleton<Scans>().AddSingleton<IScanKeeper>(s => s.GetRequiredService<Scans>());
        services.AddSingleton<UpstreamBroker>().AddHostedService(s => s.GetRequiredService<UpstreamBroker>());
        services.AddSingleton<OutputLeases>().AddHostedService(s => s.GetRequiredService<OutputLeases>());
        services.AddHostedService<LivePump>().AddSingleton<RuleRunner>().AddHostedService(s => s.GetRequiredService<RuleRunner>());
        services
            .AddSingleton<LiveConnections>()
            .AddSingleton<IDaysLeft, DaysLeft>()
            .AddSingleton<NodeHealthReader>()
            .AddSingleton<ViewReader>()
            .AddSingleton<Deriver>()
            .AddHostedService(s => s.GetRequiredService<Deriver>())
            .AddHostedService<LiveWatch>();
        services
            .AddSingleton<GuardedHttp>()
            .AddSingleton<NoticeWays>()
            .AddSingleton<OutboxSender>()
            .AddHostedService(s => s.GetRequiredService<OutboxSender>())
            .AddSingleton<ActKeeper>()
            .AddHostedService(s => s.GetRequiredService<ActKeeper>());
        services.AddHostedMqttServer(o => o.WithoutDefaultEndpoint());
        services
            .AddSingleton<MqttConnectionHandler>()
            .AddSingleton<DuplicateMessages>()
            .AddSingleton<NodeChannels>()
            .AddSingleton<IMqttServerAdapter>(s => s.GetRequiredService<NodeChannels>());
        services.AddConnections();
        services.AddSignalR().AddJsonProtocol(o => CenoticJson.Configure(o.PayloadSerializerOptions));
        services.ConfigureHttpJsonOptions(o => CenoticJson.Configure(o.SerializerOptions));
        services.AddOpenApi(o =>
            o.AddDocumentTransformer(
                (document, _, _) =>
                {
                    // The discriminator is always there: without this the generated types could not be told apart by it.
                    foreach (
                        var schema in document
                            .Components?.Schemas?.Values.OfType<OpenApiSchema>()
                            .Where(s => s.Properties?.ContainsKey("kind") == true && s.Properties["kind"].Enum?.Count == 1)
                            ?? []
                    )
                    {
                        (schema.Required ??= new HashSet<string>()).Add("kind");
                    }
                    return Task.CompletedTask;
                }
            )
        );
        if (settings.Demo)
        {
            services.AddSingleton<TextSink>().AddSingleton<MailSink>().AddHostedService(s => s.GetRequiredService<MailSink>());
            services
                .AddSingleton(_ => StandInPlan.Read())
                .AddSingleton<DemoSite>()
                .AddSingleton<StandInHost>()
                .AddHostedService(s => s.GetRequiredService<StandInHost>());
        }
    }

    private static void Security(IServiceCollection services, Settings settings, bool describing)
    {
        var protection = services.AddDataProtection().SetApplicationName("cenotic");
        if (describing)
        {
            // Nothing is written where only the interface is described.
            protection.UseEphemeralDataProtectionProvider();
        }
        else
        {
            protection.PersistKeysToFileSystem(new DirectoryInfo(SecretKeys.Folder(settings)));
        }
        services
            .AddIdentityCore<Account>(o =>
            {
                // The whole rule is PasswordRule's.
                o.Password.RequiredLength = o.Password.RequiredUniqueChars = 1;
                o.Password.RequireDigit = o.Password.RequireLowercase = o.Password.RequireUppercase = o.Password.RequireNonAlphanumeric = false;
            })
            .AddUserStore<AccountStore>()
            .AddPasswordValidator<PasswordRule>()
            .AddUserValidator<AccountNameRule>()
            .AddSignInManager();
        services
            .AddAuthentication(IdentityConstants.ApplicationScheme)
            .AddIdentityCookies(cookies =>
                cookies.ApplicationCookie!.Configure(o =>
                {
                    o.Cookie.Name = "cenotic";
                    o.Cookie.SameSite = SameSiteMode.Strict;
                    o.Cookie.HttpOnly = true;
                    o.Events.OnValidatePrincipal = SignInStamp.ValidateAsync;
                    o.Events.OnRedirectToLogin = c => Answer(c.Response, StatusCodes.Status401Unauthorized);
                    o.Events.OnRedirectToAccessDenied = c => Answer(c.Response, StatusCodes.Status403Forbidden);
                })
            );
        services.AddAuthentication().AddCookie(ShareScheme.Name, ShareScheme.Configure);
        services
            .AddAuthorizationBuilder()
            .SetFallbackPolicy(new AuthorizationPolicyBuilder(IdentityConstants.ApplicationScheme).RequireAuthenticatedUser().Build())
            .AddPolicy(ShareScheme.Policy, p => p.AddAuthenticationSchemes(ShareScheme.Name).RequireClaim(ShareScheme.LinkClaim))
            .AddPolicy(ShareScheme.LivePolicy, p =>
                p.AddAuthenticationSchemes(IdentityConstants.ApplicationScheme, ShareScheme.Name).RequireAuthenticatedUser()
            );
        services.AddAntiforgery(o =>
        {
            o.HeaderName = AntiforgeryCheck.Header;
            o.Cookie.Name = "cenotic-token";
            o.Cookie.SameSite = SameSiteMode.Strict;
        });
        services.AddRateLimiter(o =>
        {
            o.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
            o.AddPolicy(SessionEndpoints.SignInLimit, http =>
                RateLimitPartition.GetFixedWindowLimiter(PeerAddress.Of(http.Connection.RemoteIpAddress), _ => new FixedWindowRateLimiterOptions
                {
                    PermitLimit = 30,
                    Window = TimeSpan.FromMinutes(1),
                })
            );
            o.AddPolicy(IntakeEndpoints.Limit, IntakeEndpoints.LimitOf);
        });
        services.Configure<RouteHandlerOptions>(o => o.ThrowOnBadRequest = true);
        services.AddExceptionHandler<RequestFaults>().AddProblemDetails();

        static Task Answer(HttpResponse response, int status)
        {
            response.StatusCode = status;
            return Task.CompletedTask;
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
        app.Use(new OriginCheck(LivePath, RelayEndpoints.WebSocket).InvokeAsync);
        app.Use(NothingThereAsync);
        app.UseDefaultFiles();
        app.UseStaticFiles();
        app.UseRouting();
        app.UseRateLimiter();
        app.UseAuthentication();
        app.UseAuthorization();
        app.UseMqttServer(server => app.Services.GetRequiredService<Broker>().Attach(server));
        app.MapOpenApi().AllowAnonymous();
        RelayEndpoints.Map(app);
        SessionEndpoints.Map(app);
        SiteEndpoints.Map(app);
        BenchEndpoints.Map(app);
        HardwareEndpoints.Map(app);
        RhythmEndpoints.Map(app);
        WatchEndpoints.Map(app);
        ViewEndpoints.Map(app);
        DerivedEndpoints.Map(app);
        SetAsideEndpoints.Map(app);
        ShareEndpoints.Map(app);
        MemberEndpoints.Map(app);
        CompareEndpoints.Map(app);
        ExportEndpoints.Map(app);
        EpisodeEndpoints.Map(app);
        NoticeSettingsEndpoints.Map(app);
        ZoneEndpoints.Map(app);
        JudgeAnywayEndpoints.Map(app);
        TrialEndpoints.Map(app);
        TallyEndpoints.Map(app);
        LogEndpoints.Map(app);
        MaintenanceEndpoints.Map(app);
        NodeEndpoints.Map(app);
        IntakeEndpoints.Map(app);
        OutputEndpoints.Map(app);
        ScanEndpoints.Map(app);
        FirstReadingEndpoints.Map(app);
        NodeProgramEndpoints.Map(app);
        CalibrationEndpoints.Map(app);
        BuildEndpoints.Map(app);
        RangeWalkEndpoints.Map(app);
        LabelEndpoints.Map(app);
        SerialLineEndpoints.Map(app);
        ImportEndpoints.Map(app);
        if (settings.Demo)
        {
            StandInEndpoints.Map(app);
        }
        app.MapHub<LiveHub>(LivePath);
        // Every page is the same file; what begins with api is none.
        app.MapFallbackToFile("{*path:nonfile:regex(^(?!api(/|$)).*$)}", "index.html").AllowAnonymous();
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
