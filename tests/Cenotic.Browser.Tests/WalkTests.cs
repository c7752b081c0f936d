using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>A maker goes through the whole slice: place, plan, rhythm, watch, be told.</summary>
public sealed class WalkTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void From_a_new_node_to_an_acknowledged_alert(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();

        // Place: a spot; nonsense is told beside the field and what was typed stays.
        page.Go("place");
        page.Click("New spot");
        page.Type("Height, m", "99");
        page.Type("Name", $"Shelf {width}");
        page.Click("Add the spot");
        page.UntilSees("The height is 99 m; it must be from 0 to 60 m.");
        Assert.Equal($"Shelf {width}", page.Field("Name").GetAttribute("value"));
        page.Type("Height, m", "1.8");
        page.Click("Add the spot");
        page.UntilGone("it must be from 0 to 60 m");
        page.UntilSees($"Shelf {width}");

        // Bench: a node with parts; the plan follows, and says what must stand between.
        page.Go("bench");
        page.Click("New node");
        page.Type("Name", $"Cellar {width}");
        page.Choose("Spot", $"Shelf {width}");
        page.Click("Add the node");
        page.UntilSees("No parts yet");
        foreach (
            var part in new[]
            {
                "BME280 breakout: temperature, humidity, pressure",
                "HC-SR04 ultrasonic distance sensor",
                "Relay module, one channel, 5 V coil",
            }
        )
        {
            page.Click("Add a part");
            page.Tap(() => page.Find($"//button[starts-with(normalize-space(), '{part}')]", part));
            page.Until(() => page.Driver.FindElements(By.CssSelector("[role=dialog]")).Count == 0, "the tray closes");
        }
        page.UntilSees("10 kΩ over 15 kΩ");
        page.UntilSees("NPN transistor");
        page.UntilSees("Every part is served");

        // A wire: why it is there, another pin, soldered, and undone.
        page.Tap(() => page.Find("//table//button[contains(., 'ECHO')]", "the echo wire"));
        page.UntilSees("pins can do this");
        page.UntilSees("The next best is");
        var tick = page.Find("//input[contains(@aria-label, 'ECHO is soldered')]", "the tick");
        page.Driver.ExecuteScript("arguments[0].click()", tick);
        page.UntilSees("soldered at");
        page.Until(() => page.Find("//input[contains(@aria-label, 'ECHO is soldered')]", "the tick").Selected, "it is soldered");
        page.Until(() => page.Button("Undo").Enabled, "it can be undone");
        page.Click("Undo");
        page.Until(() => !page.Find("//input[contains(@aria-label, 'ECHO is soldered')]", "the tick").Selected, "it is not soldered any more");

        // Rhythm: the interval in place; a wrong one is told and stays; a right one changes the plan.
        page.Go($"rhythm/cellar-{width}");
        const string Interval = "//input[contains(@aria-label, 'Interval of') and contains(@aria-label, 'temperature')]";
        page.Enter(Interval, "soon");
        page.UntilSees("is no time; write it like 30 s, 5 min or 2 h.");
        Assert.Equal("soon", page.Find(Interval, "the interval").GetAttribute("value"));
        page.Enter(Interval, "0.2 s");
        page.Until(() => page.Driver.FindElements(By.XPath("//*[contains(., '; the part wants')]")).Count > 0, "the finding comes");
        if (width < 1000)
        {
            page.Tap(() => page.Find("//button[contains(., 'Margin:')]", "the margin"));
        }
        page.Click("Read every 1 s");
        page.Until(() => page.Driver.FindElements(By.XPath("//*[contains(., '; the part wants')]")).Count == 0, "the remedy removes it");

        // Watch: what the new node sends arrives by itself.
        page.Go("watch");
        page.Until(
            () => page.Driver.FindElements(By.XPath($"//*[@data-reading[starts-with(., 'cellar-{width}/')]]//*[@data-value][contains(., '°C')]")).Count > 0,
            "the new node is heard"
        );

        // Alerts: a rule as a sentence; the heat of the demo raises it; it is acknowledged.
        page.Go("alerts?view=rules");
        page.Click("New rule");
        page.Type("Name", $"Cellar {width} warm");
        page.Choose("Tell me when", $"temperature (Cellar {width})");
        page.Type("Limit, °C", "30");
        page.Type("Over at, °C", "31");
        page.Click("Add and arm");
        page.UntilSees("it must be at or below it");
        page.Type("Over at, °C", "29");
        page.UntilSees("is above 30 °C; it is over at 29 °C.");
        page.Click("Add and arm");
        page.UntilGone("Add and arm");
        page.Go("watch");
        page.Tap(() => page.Find("//summary", "the control sheet"));
        for (var i = 0; i < 4; i++)
        {
            page.Click($"+5 °C for Cellar {width}");
            page.UntilSees($"+{(i + 1) * 5} °C");
        }
        page.Go("alerts");
        page.Find($"//li[@data-episode='cellar-{width}-warm']", "the episode");
        page.Click($"Acknowledge Cellar {width} warm");
        page.Type("What you found", "The heater was left on.");
        page.Click("Acknowledge");
        page.UntilSees("acknowledged by owner");
        page.UntilSees("owner: The heater was left on.");
        Assert.Contains("taken up after", page.Find($"//*[@data-lane='cellar-{width}-warm']", "its lane").Text);
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Tap(() => page.Find($"//a[@aria-label='Show Cellar {width} warm']", "the way to its stretch"));
        page.Until(
            () => page.Driver.Url.Contains("/watch/", StringComparison.Ordinal) && page.Driver.Url.Contains("from=", StringComparison.Ordinal),
            "a view stands at its stretch"
        );

        // The browser itself notes each refusal that was provoked above; nothing else may stand there.
        Assert.All(page.ConsoleErrors(), e => Assert.Contains("/edits - Failed to load resource: the server responded with a status of 422", e));
    }

    [Fact]
    public void A_viewer_watches_and_finds_nothing_to_write_with()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn("viewer");
        page.UntilSees("Hall temperature");
        foreach (var station in new[] { "place", "bench/hall", "rhythm/cistern", "watch", "alerts" })
        {
            page.Go(station);
            foreach (
                var words in new[]
                {
                    "New spot",
                    "New node",
                    "Add a part",
                    "New reading",
                    "New rule",
                    "Remove",
                    "Edit",
                    "Acknowledge",
                    "Add a measured current",
                }
            )
            {
                Assert.DoesNotContain(page.Driver.FindElements(By.XPath($"//button[normalize-space() = '{words}']")), e => e.Displayed);
            }
            // What is marked as a view changes what is drawn on this screen only.
            Assert.DoesNotContain(page.Driver.FindElements(By.CssSelector("main input:not([data-view])")), e => e.Enabled);
        }
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void A_figure_changes_in_an_open_page_without_a_reload()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("watch");
        string Air() => page.Find("//*[@data-reading='drying/rack2']//*[@data-value]", "the figure").Text;
        page.Until(() => Air().Contains("°C"), "it is there");
        page.Driver.ExecuteScript("window.stayed = true");
        var before = Air();
        page.Until(() => Air() != before, "it changes");
        Assert.True((bool)page.Driver.ExecuteScript("return window.stayed === true")!);
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void Everything_goes_by_keyboard()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Press("2");
        page.Until(() => page.Driver.Url.Contains("/bench"), "2 leads to the Bench");
        page.Press("/");
        page.Find("//input[@aria-label='Find']", "the find box").SendKeys("cistern level" + Keys.Enter);
        page.Until(() => page.Driver.Url.EndsWith("/bench/cistern", StringComparison.Ordinal), "Find leads to the node");
        page.Press("?");
        page.UntilSees("Single-key shortcuts are on");
        page.Press(Keys.Escape);
        page.UntilGone("Single-key shortcuts are on");
        page.Press("3");
        page.Find("//button[starts-with(normalize-space(), 'Battery life:')]", "the life").SendKeys(".");
        page.UntilSees("days = C · u / (Iavg + C · s / 8766 h) / 24");
        page.Press("7");
        page.UntilSees("When do I want to be told");
        page.Press("n");
        page.Find("//*[@role='dialog']//*[contains(., 'New rule')]", "the dialog");
        page.Press(Keys.Escape);

        // A spot moves by the arrow keys, and Ctrl+Z undoes it.
        page.Go("place");
        var spot = page.Find("//*[name()='g'][starts-with(@aria-label, 'Spot Kiln shelf')]", "the spot");
        page.Driver.ExecuteScript("arguments[0].focus()", spot);
        page.Press(Keys.ArrowRight);
        page.UntilSees("11.7, 1.2 m");
        page.Press(Keys.Control + "z");
        page.UntilSees("11.6, 1.2 m");
        Assert.Empty(page.ConsoleErrors());
    }
}
