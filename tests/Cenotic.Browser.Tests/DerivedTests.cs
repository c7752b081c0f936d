using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>A reading is worked out: seen with its working before it is kept, its past drawn, changed and taken back.</summary>
public sealed class DerivedTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_difference_is_worked_out_over_what_is_stored_and_goes_on(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("watch");
        page.UntilSees("Somebody in the hall");
        page.Click("Work a reading out");
        page.UntilSees("Choose at least one reading.");
        page.Choose("Reading 1", "Rack 1 temperature (Drying room)");
        page.Choose("Reading 2", "Hall temperature (Hall presence)");
        page.UntilSees("a − b");
        page.UntilSees("Source: arithmetic");
        page.Type("Name", $"Warmer {width}");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Click("Work it out");
        page.UntilGone("Source: arithmetic");
        var tile = $"[data-derived=warmer-{width}]";
        page.Until(
            () =>
                page.Driver.FindElements(By.CssSelector($"{tile} canvas")).Count > 0
                && page.Driver.FindElements(By.CssSelector($"{tile} [data-value]")).Any(e => e.Text.EndsWith("°C", StringComparison.Ordinal)),
            "its past is drawn and it has a value"
        );
        // A dew point of two temperatures cannot be.
        page.Click($"Edit Warmer {width}");
        page.Choose("What", "dew point");
        page.UntilSees("Choose a reading for temperature.");
        page.Press(Keys.Escape);
        Assert.Empty(page.AxeFaults());
        page.Click($"Remove Warmer {width}");
        page.Until(() => page.Driver.FindElements(By.CssSelector(tile)).Count == 0, "it is gone");
        Assert.Empty(page.ConsoleErrors());
    }
}
