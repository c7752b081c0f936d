using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>Every screen, at both sizes and on both palettes: no serious fault by axe-core, nothing wider than the window, no console error.</summary>
public sealed class AxeTests(Demo demo) : IClassFixture<Demo>
{
    private static readonly string[] Screens =
    [
        "place",
        "bench/hall",
        "bench/landing",
        "bench/drying?view=structure",
        "bench/drying?view=power",
        "bench/drying?view=parts",
        "bench/drying?view=boards",
        "rhythm/cistern",
        "rhythm/hall",
        "rhythm/cistern?view=life",
        "rhythm/parcel?view=light",
        "rhythm/hall?view=light",
        "rhythm/kiln?view=air",
        "rhythm/hall?view=site",
        "reach",
        "bring-up/kiln",
        "bring-up/hall?view=program",
        "bring-up/hall?view=scan",
        "bring-up/hall?view=first",
        "bring-up/hall?view=calibration",
        "bring-up/hall?view=walk",
        "bring-up/hall?view=label",
        "log?view=due",
        "log?view=cells",
        "watch",
        "watch/house",
        "watch/pottery",
        "watch/garden",
        "watch/first",
        "wall/house",
        "alerts",
        "alerts?view=rules",
        "alerts?view=zones",
        "alerts?view=people",
        "log",
    ];

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void No_screen_has_a_serious_fault_by_day_and_by_night(int width, int height)
    {
        using var page = demo.Open(width, height);
        var faults = new List<string>();
        page.Driver.Navigate().GoToUrl(demo.Address);
        page.Field("Name");
        Check(page, "sign-in", faults);
        page.SignIn();
        foreach (var screen in Screens)
        {
            page.Go(screen);
            page.Until(() => page.Driver.FindElements(By.CssSelector("main table, main li, main p")).Count > 0, "something is drawn");
            Check(page, screen, faults);
        }
        foreach (
            var (screen, button) in new[]
            {
                ("place", "New spot"),
                ("place", "New room"),
                ("place", "Site"),
                ("place", "New wall"),
                ("place", "New floor"),
                ("place", "New access point"),
                ("place", "New heater or vent"),
                ("reach", "Radio of Kiln shed"),
                ("rhythm/drying", "What Fan switches"),
                ("watch", "Save a stretch as a file"),
                ("bench/hall", "Add a part"),
                ("bench/hall", "New node"),
                ("bench/hall", "Catalogue"),
                ("bench/drying?view=parts", "Stock of BME280 breakout: temperature, humidity, pressure"),
                ("rhythm/hall", "New reading"),
                ("rhythm/parcel?view=light", "Change it"),
                ("rhythm/kiln?view=air", "How it sends"),
                ("alerts?view=rules", "New rule"),
                ("alerts?view=zones", "New zone"),
                ("alerts?view=people", "New person"),
                ("alerts?view=people", "Ways out"),
                ("watch/house", "Share"),
                ("watch", "New view"),
                ("watch", "Messages and key"),
                ("watch", "Work a reading out"),
            }
        )
        {
            page.Go(screen);
            page.Click(button);
            page.Find("//*[@role='dialog']", "the dialog");
            Check(page, $"{screen}: {button}", faults);
        }
        Assert.True(faults.Count == 0, string.Join("\n", faults));
        Assert.Empty(page.ConsoleErrors());
    }

    private static void Check(Page page, string screen, List<string> faults)
    {
        faults.AddRange(page.AxeFaults().Select(f => $"{screen}: {f}"));
        // By night the page is the same in other colours.
        page.SetPalette(night: true);
        faults.AddRange(page.AxeFaults(colours: true).Select(f => $"{screen} by night: {f}"));
        page.SetPalette(night: false);
        if (page.Overflows())
        {
            faults.Add($"{screen} is wider than the window");
        }
    }
}
