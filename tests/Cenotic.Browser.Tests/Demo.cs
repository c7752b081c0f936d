using System.Diagnostics;
using Cenotic.Tests;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace Cenotic.Browser.Tests;

/// <summary>The demo as a maker starts it, on free ports, with one headless browser a test class.</summary>
public sealed class Demo : IAsyncLifetime
{
    public const string Password = "fernhollow-demo";

    private readonly string _folder = Path.Combine(Path.GetTempPath(), "cenotic-browser", Guid.NewGuid().ToString("n"));
    private Process? _server;

    public string Address { get; private set; } = "";

    public static string Root
    {
        get
        {
            var at = new DirectoryInfo(AppContext.BaseDirectory);
            while (!File.Exists(Path.Combine(at!.FullName, "Cenotic.slnx")))
            {
                at = at.Parent;
            }
            return at.FullName;
        }
    }

    public async Task InitializeAsync()
    {
        var (web, broker) = Ports.Free();
        Address = $"http://127.0.0.1:{web}";
        var start = new ProcessStartInfo("dotnet", [Path.Combine(Root, ".run", "program", "Cenotic.Server.dll")])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["CENOTIC_DEMO"] = "true";
        start.Environment["CENOTIC_DATA"] = _folder;
        start.Environment["CENOTIC_WEB"] = Address;
        start.Environment["CENOTIC_BROKER"] = $"127.0.0.1:{broker}";
        start.Environment["CENOTIC_DEMO_PASSWORD"] = Password;
        _server = Process.Start(start)!;
        // The address is printed when the rehearsed day is stored and all is ready.
        var ready = new TaskCompletionSource();
        _server.OutputDataReceived += (_, line) =>
        {
            if (line.Data?.StartsWith("Open ", StringComparison.Ordinal) == true)
            {
                ready.TrySetResult();
            }
        };
        _server.BeginOutputReadLine();
        _server.BeginErrorReadLine();
        await ready.Task.WaitAsync(TimeSpan.FromSeconds(300));
    }

    public async Task DisposeAsync()
    {
        _server?.Kill();
        await (_server?.WaitForExitAsync() ?? Task.CompletedTask);
        Directory.Delete(_folder, recursive: true);
    }

    /// <param name="touch">True for a screen that is touched: what a test clicks is tapped with a finger.</param>
    public Page Open(int width, int height, bool night = false, bool touch = false) => new(this, NewBrowser(width, height, night, touch), touch);

    private static ChromeDriver NewBrowser(int width, int height, bool night, bool touch)
    {
        var options = new ChromeOptions { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            "--hide-scrollbars",
            $"--window-size={width},{height}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.All);
        var service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        var driver = new ChromeDriver(service, options, TimeSpan.FromSeconds(60));
        driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new()
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = touch,
            }
        );
        driver.ExecuteCdpCommand("Emulation.setTouchEmulationEnabled", new() { ["enabled"] = touch, ["maxTouchPoints"] = 5 });
        Page.SetPalette(driver, night);
        return driver;
    }
}
