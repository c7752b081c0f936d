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
        page.Go("bring-up/hall");
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
        page.Go("bring-up/drying");
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
}
