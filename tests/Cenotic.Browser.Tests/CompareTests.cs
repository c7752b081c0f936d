namespace Cenotic.Browser.Tests;

/// <summary>Two readings are compared on Watch.</summary>
public sealed class CompareTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void Radar_and_infrared_as_lanes_and_two_probes_as_figures(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("watch");
        page.Click("Compare");
        page.Choose("The trusted one", "Presence (Hall presence)");
        page.Choose("The other", "Motion (Hall presence)");
        page.UntilSees("detections the other missed");
        page.UntilSees("Best hold time");
        Assert.Empty(page.AxeFaults());
        page.Choose("The trusted one", "Rack 1 temperature");
        page.Choose("The other", "Rack 2 temperature");
        page.UntilSees("95 % of the differences");
        page.UntilSees("Drift a day");
        page.Check("in one table");
        page.UntilSees("The trusted one less");
        page.Find("//table//tr[th[contains(., 'Rack 2 temperature')]]/td[5]", "the lag of rack 2 in the table");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        Assert.Empty(page.ConsoleErrors());
    }
}
