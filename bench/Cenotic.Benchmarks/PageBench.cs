using System.Globalization;
using Cenotic.Core.Formats;
using Cenotic.Server;
using Cenotic.Server.Ingest;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;
using MQTTnet.Protocol;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace Cenotic.Benchmarks;

/// <summary>From a node's publish to the changed figure in the document of an open browser page, beside the bare acknowledged
/// publish of the same run; and how soon a drag is answered on the page.</summary>
internal static class PageBench
{
    private const int Rounds = 60;

    public static async Task RunAsync()
    {
        await using var host = await Host.StartAsync();
        using var page = Open(host);
        using var node = new MqttClientFactory().CreateMqttClient();
        var key = await host.App.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        await node.ConnectAsync(new MqttClientOptionsBuilder().WithTcpServer("127.0.0.1", host.Started.Broker.Port).WithCredentials("home/hall", key).Build());
        var (sent, acknowledged) = (new double[Rounds], new double[Rounds]);
        for (var i = 0; i < Rounds; i++)
        {
            sent[i] = Now();
            await node.PublishAsync(
                new MqttApplicationMessageBuilder()
                    .WithTopic(Topics.Data("home", "hall"))
                    .WithPayload($$"""[{"n":"temp","v":{{i}}}]""")
                    .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                    .Build()
            );
            acknowledged[i] = Now() - sent[i];
            await Task.Delay(100);
        }
        await Task.Delay(1_000);
        var seen = (IReadOnlyDictionary<string, object>)page.ExecuteScript("return window.seen")!;
        double[] shown =
        [
            .. Enumerable
                .Range(0, Rounds)
                .Where(i => seen.ContainsKey($"{i}.0 °C"))
                .Select(i => Convert.ToDouble(seen[$"{i}.0 °C"], CultureInfo.InvariantCulture) - sent[i])
                .Order(),
        ];
        Array.Sort(acknowledged);
        Console.WriteLine(
            $"page: publish to figure in an open browser, median {shown[shown.Length / 2]:0.0} ms, worst {shown[^1]:0.0} ms, {shown.Length} of "
                + $"{Rounds} seen; publish to acknowledgement, median {acknowledged[Rounds / 2]:0.0} ms; ratio "
                + $"{shown[shown.Length / 2] / acknowledged[Rounds / 2]:0.00}"
        );
        Drag(page, host);
        Edit(page, host);
    }

    /// <summary>An interval typed into the readings table of a node on cells: from the change to its new figures
    /// in the document, beside the bare acknowledged edit of the same run.</summary>
    private static void Edit(ChromeDriver page, Host host)
    {
        page.Navigate().GoToUrl(new Uri(host.Started.Web, "/home/rhythm/cistern"));
        page.FindElement(By.CssSelector("input[aria-label='Interval of Distance to water']"));
        Thread.Sleep(1_500);
        var measured =
            (IReadOnlyCollection<object>)
                page.ExecuteAsyncScript(
                    """
                    const done = arguments[0], out = [], rounds = 40;
                    const figures = () => document.querySelector("main dl").textContent;
                    const round = (n) => {
                      if (n === rounds) return done(out.slice(10));
                      const field = document.querySelector("input[aria-label='Interval of Distance to water']"), before = figures(), began = performance.now();
                      field.value = 600 + 20 * n + " s";
                      field.dispatchEvent(new Event("input"));
                      field.dispatchEvent(new Event("change"));
                      const look = () => {
                        if (figures() === before && performance.now() - began < 5000) return requestAnimationFrame(look);
                        const now = performance.now();
                        setTimeout(() => {
                          const edit = performance.getEntriesByType("resource").filter((e) => e.name.endsWith("/edits") && e.startTime >= began).pop();
                          out.push(now - began, edit.duration);
                          round(n + 1);
                        }, 150);
                      };
                      requestAnimationFrame(look);
                    };
                    round(0);
                    """
                )!;
        var pairs = measured.Select(m => Convert.ToDouble(m, CultureInfo.InvariantCulture)).Chunk(2).ToList();
        double[] shown = [.. pairs.Select(p => p[0]).Order()],
            edit = [.. pairs.Select(p => p[1]).Order()];
        Console.WriteLine(
            $"edit: an interval typed to its figures on the page, median {shown[shown.Length / 2]:0.0} ms, worst of {shown.Length} {shown[^1]:0.0} "
                + $"ms; the stored edit alone, median {edit[edit.Length / 2]:0.0} ms; ratio {shown[shown.Length / 2] / edit[edit.Length / 2]:0.00}"
        );
    }

    /// <summary>A wire dragged over the pins of the comb: from the last byte of the server's answer to its text in the document.</summary>
    private static void Drag(ChromeDriver page, Host host)
    {
        page.Navigate().GoToUrl(new Uri(host.Started.Web, "/home/bench/hall"));
        page.FindElement(By.CssSelector("button[draggable=true]"));
        page.Manage().Timeouts().AsynchronousJavaScript = TimeSpan.FromSeconds(60);
        var measured =
            (IReadOnlyCollection<object>)
                page.ExecuteAsyncScript(
                    """
                    const done = arguments[0], out = [], data = new DataTransfer();
                    const event = (name) => new DragEvent(name, { bubbles: true, cancelable: true, dataTransfer: data });
                    document.querySelector("button[draggable=true]").dispatchEvent(event("dragstart"));
                    const pins = [...document.querySelectorAll("svg g[role=button][tabindex='0']")].slice(0, 30);
                    const next = () => {
                      if (pins.length === 0) return done(out);
                      const began = performance.now();
                      let shown;
                      const watch = new MutationObserver(() => {
                        const text = document.querySelector("p[role=status]")?.textContent.trim();
                        if (text && text !== "…") shown = performance.now();
                      });
                      watch.observe(document.querySelector("main"), { subtree: true, childList: true, characterData: true });
                      pins.shift().dispatchEvent(event("dragover"));
                      setTimeout(() => {
                        watch.disconnect();
                        const answer = performance.getEntriesByType("resource").filter((e) => e.name.includes("/trial") && e.startTime >= began).pop();
                        if (answer && shown) out.push(shown - answer.responseEnd);
                        next();
                      }, 150);
                    };
                    setTimeout(next, 500);
                    """
                )!;
        double[] late = [.. measured.Select(m => Convert.ToDouble(m, CultureInfo.InvariantCulture)).Order()];
        Console.WriteLine(
            $"drag: answer of the server to its text on the page, median {late[late.Length / 2]:0.0} ms, worst of {late.Length} {late[^1]:0.0} ms; "
                + $"ratio of the median to a frame of 1/60 s {late[late.Length / 2] * 60 / 1000:0.00}"
        );
    }

    private static double Now() => (DateTime.UtcNow - DateTime.UnixEpoch).TotalMilliseconds;

    /// <summary>A page on Watch that notes when each text of the figure came to stand in the document.</summary>
    internal static ChromeDriver Open(Host host)
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
            "--window-size=1280,800"
        );
        var driver = new ChromeDriver(ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver"), options);
        driver.Manage().Timeouts().ImplicitWait = TimeSpan.FromSeconds(20);
        driver.Navigate().GoToUrl(host.Started.Web);
        driver.FindElement(By.CssSelector("input[autocomplete=username]")).SendKeys("owner");
        driver.FindElement(By.CssSelector("input[type=password]")).SendKeys(Host.Password + Keys.Enter);
        driver.FindElement(By.CssSelector("nav"));
        driver.Navigate().GoToUrl(new Uri(host.Started.Web, "/home/watch"));
        driver.FindElement(By.CssSelector("[data-reading='hall/temp'] [data-value]"));
        Thread.Sleep(2_000);
        driver.ExecuteScript(
            """
            window.seen = {};
            new MutationObserver(() => {
              const text = document.querySelector("[data-reading='hall/temp'] [data-value]").textContent;
              window.seen[text] ??= performance.timeOrigin + performance.now();
            }).observe(document.querySelector("main"), { subtree: true, childList: true, characterData: true });
            """
        );
        return driver;
    }
}
