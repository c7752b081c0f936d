namespace Cenotic.Browser.Tests;

/// <summary>Bring-up beside the soldering iron: a scan is pasted, told, put right, and probes are named.</summary>
public sealed class BringUpTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_scan_is_compared_put_right_and_undone(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("bring-up/hall?view=scan");
        page.Type("What the scan printed", "no luck");
        page.Click("Compare with the plan");
        page.UntilSees("Nothing of a scan is found in it.");
        page.Type("What the scan printed", "found 0x77, found 0x23");
        page.Click("Compare with the plan");
        page.UntilSees("Air sensor answers at 0x77; the plan has it at 0x76.");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Click("Plan Air sensor at 0x77");
        page.UntilSees("As planned");
        page.Click("Undo");
        page.UntilSees("Not as planned");
    }

    [Fact]
    public void Probes_are_named_one_after_another()
    {
        using var page = demo.Open(390, 844);
        page.SignIn();
        page.Go("bring-up/drying?view=scan");
        page.Type("What the scan printed", "28-FF641E8D1603BD");
        page.Click("Compare with the plan");
        page.UntilSees("probes answered.");
        page.Click("Rack probe 3");
        page.UntilGone("Which probe is it?");
        page.Type("What the scan printed", "28-FF641E8D1603BD 28-FF4A1C8D1603E0");
        page.Click("Compare with the plan");
        page.UntilSees("Which probe is it?");
        page.UntilSees("28-FF4A1C8D1603E0");
        page.Click("Rack probe 1");
        page.UntilGone("Which probe is it?");
        Assert.Empty(page.AxeFaults());
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void A_node_is_calibrated_at_two_points_hands_free_and_the_calibration_is_taken_back()
    {
        using var page = demo.Open(390, 844);
        page.SignIn();
        page.Go("bring-up/glaze?view=calibration");
        page.UntilSees("as it came from the factory");
        page.Click("Calibrate");
        page.Choose("How", "two points");
        // The first is typed, the second is taken by itself once what the sensor shows is steady.
        page.Type("Or typed", "100");
        page.Type("In truth", "110");
        page.Click("Take this point");
        page.UntilSees("1 of 2 points taken.");
        page.Type("In truth", "21");
        page.Tap(() => page.Find("//label[contains(., 'Take it by itself when it is steady')]", "the tick for both hands free"));
        page.UntilSees("Beyond the points it is a guess.");
        page.Type("It is good for ±", "0.5");
        page.UntilSees("k = 2");
        page.Type("Held against", "the good one");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Click("Put it in force");
        page.UntilSees("1 so far");
        page.Click("1 so far");
        page.UntilSees("against the good one");
        page.UntilSees("in force");
        page.Click("Take back");
        page.UntilSees("taken back");
        page.UntilGone("in force");
        Assert.Empty(page.ConsoleErrors());
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_node_says_what_it_runs_and_its_secrets_are_shown_once(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("bring-up/hall?view=program");
        page.UntilSees("program stand-in 1");
        page.Click("Save settings and client");
        page.UntilSees("saved");
        page.Click("Its secrets…");
        page.Type("Wi-Fi network", "Fern");
        page.Type("Its password", "short");
        page.Click("Make its secrets");
        page.UntilSees("8 to 63 characters");
        page.Type("Its password", "long enough");
        page.Click("Make its secrets");
        page.UntilSees("#define CENOTIC_KEY");
        page.UntilSees("#define WIFI_NETWORK");
        Assert.Empty(page.AxeFaults());
        page.Press(OpenQA.Selenium.Keys.Escape);
        page.UntilGone("#define CENOTIC_KEY");
        Assert.False(page.Overflows());
    }
}
