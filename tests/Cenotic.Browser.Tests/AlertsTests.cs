namespace Cenotic.Browser.Tests;

/// <summary>A rule is tried on the past before it is armed.</summary>
public sealed class AlertsTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void Another_limit_and_another_kind_are_tried_on_what_is_stored(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("alerts?view=rules");
        page.Click("Edit Rack 1 too warm");
        page.UntilSees("It would have told never");
        page.Type("Limit, °C", "19");
        page.Type("Over at, °C", "18.9");
        page.UntilSees("in all");
        page.UntilSees("Episodes by limit");
        page.Click("Take that limit");
        page.UntilGone("above 19 °C");
        Assert.Empty(page.AxeFaults());
        // A sentence that cannot be is answered where it stands.
        page.Type("Over at, °C", "99");
        page.UntilSees("it must be at or below it");
        page.Choose("What it does", "rises by");
        page.Type("By, °C", "0.2");
        page.UntilSees("rises by 0.2 °C within 30 min");
        page.UntilSees("in all");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Click("Cancel");
        page.UntilSees("is above 32 °C; it is over at 30 °C.");
        Assert.Empty(page.ConsoleErrors());
    }
}
