using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>What sensors see of a room, at the desk and on a phone.</summary>
public sealed class CoverageTests(Demo demo) : IClassFixture<Demo>
{
    /// <summary>The blind corner of the hall is shown, and one remedy mends it; a sensor is taken off the plan; where it should hang is asked.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_blind_corner_is_shown_and_mended(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("place");
        page.UntilSees("2.3 m² blind, most of it at the left side");
        int Drawn(string what) => page.Driver.FindElements(By.CssSelector($"[data-{what}]")).Count;
        Assert.Equal((2, 1), (Drawn("sight"), Drawn("blind")));
        page.Tap(() => page.Find("//tr[contains(., 'Radar')]//input[@type = 'checkbox']", "the tick of the radar"));
        page.Until(() => Drawn("sight") == 1, "the radar is off the plan");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        page.Follow("to look to the upper right, 45", width > 500);
        page.UntilSees("all of it");
        page.Click("Undo");
        page.UntilSees("2.3 m² blind, most of it at the left side");
        page.Click("Where should it hang?");
        page.Find("//*[@role='dialog']//button[normalize-space() = 'Turn it']", "the choice to turn it");
        Assert.Empty(page.AxeFaults());
        page.Click("Turn it");
        page.UntilGone("2.3 m² blind, most of it at the left side");
        page.Click("Undo");
        page.UntilSees("2.3 m² blind, most of it at the left side");
        Assert.Empty(page.ConsoleErrors());
    }
}
