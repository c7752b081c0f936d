namespace Cenotic.Browser.Tests;

/// <summary>Who hears whom, at the desk and on a phone.</summary>
public sealed class ReachTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_link_is_told_with_its_walls_and_its_working(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("reach");
        page.UntilSees("Kiln shed");
        page.UntilSees("brick wall at");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        page.Tap(() => page.Find("//tr[@data-link='kiln']//button[contains(., 'dB')]", "the margin of the kiln"));
        page.UntilSees("ITU-R P.2040-1");
        page.UntilSees("24 cm, as drawn");
        page.UntilSees("What was measured, 868 MHz");
        // What is not known says what is missing.
        page.Go("reach");
        page.Tap(() => page.Find("//tr[@data-link='rain']//button[contains(., 'not known')]", "the margin of the rain mast"));
        page.UntilSees("who hears Rain mast");
    }

    /// <summary>A lower power is one node's alone; what both ends need alike is set on all of the channel, and undone at once.</summary>
    [Fact]
    public void A_radio_is_set_and_both_ends_stay_alike()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("reach");
        page.Click("Radio of Kiln shed");
        page.UntilSees("they are set on");
        page.Type("Spreading factor", "13");
        page.Click("Save");
        page.UntilSees("it must be from 6 to 12");
        page.Type("Spreading factor", "7");
        page.Type("Power, dBm", "5");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//tr[@data-law][contains(., 'SF7')]")).Count == 4, "all four have the rate");
        page.Find("//tr[@data-law='kiln'][contains(., '2.85')]", "the lower power of the kiln alone");
        page.Find("//tr[@data-law='cistern'][contains(., '11.8')]", "the usual power of the cistern");
        page.Click("Undo");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//tr[@data-law][contains(., 'SF7')]")).Count == 0, "all as before");
    }
}
