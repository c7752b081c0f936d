using System.Net;
using Cenotic.Core.Formats;
using Cenotic.Server;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Benchmarks;

/// <summary>The real server on free ports and a new folder, with the demo's design as site "home".</summary>
internal sealed class Host : IAsyncDisposable
{
    public const string Password = "correct-horse";

    private Host(WebApplication app, App.Started started, string folder) => (App, Started, Folder) = (app, started, folder);

    public WebApplication App { get; }

    public App.Started Started { get; }

    public string Folder { get; }

    public static async Task<Host> StartAsync()
    {
        ServePages();
        var folder = Path.Combine(Path.GetTempPath(), "cenotic-bench", Guid.NewGuid().ToString("n"));
        var settings = new Settings(new(IPAddress.Loopback, 0), new(IPAddress.Loopback, 0), folder, false, null);
        var app = Cenotic.Server.App.Build(settings, []);
        var host = new Host(app, await Cenotic.Server.App.StartAsync(app, settings), folder);
        using var scope = app.Services.CreateScope();
        var account = new Account { UserName = "owner" };
        await scope.ServiceProvider.GetRequiredService<UserManager<Account>>().CreateAsync(account, Password);
        var file = SiteFiles.Read(await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "fernhollow.json"))).Value;
        await app.Services.GetRequiredService<SiteBook>().CreateAsync("home", file.Design with { Rules = [] }, account.Id, file.Evidence);
        return host;
    }

    /// <summary>The folder of the server as the script built it.</summary>
    internal static string Built
    {
        get
        {
            var root = new DirectoryInfo(AppContext.BaseDirectory);
            while (!File.Exists(Path.Combine(root!.FullName, "Cenotic.slnx")))
            {
                root = root.Parent;
            }
            return Path.Combine(root.FullName, ".run", "program");
        }
    }

    /// <summary>Lets the host find the pages that were built for the server.</summary>
    private static void ServePages()
    {
        var (here, built) = (Path.Combine(AppContext.BaseDirectory, "wwwroot"), Path.Combine(Built, "wwwroot"));
        if (Directory.Exists(built) && !File.Exists(Path.Combine(here, "index.html")))
        {
            if (Directory.Exists(here))
            {
                Directory.Delete(here);
            }
            Directory.CreateSymbolicLink(here, built);
        }
    }

    public async ValueTask DisposeAsync()
    {
        await App.StopAsync();
        await App.DisposeAsync();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(Folder, recursive: true);
    }
}
