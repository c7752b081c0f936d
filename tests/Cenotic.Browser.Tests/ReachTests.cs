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
        page.UntilSees("11.5 cm, usual thickness");
        // What is not known says what is missing.
        page.Go("reach");
        page.Tap(() => page.Find("//tr[@data-link='rain']//button[contains(., 'not known')]", "the margin of the rain mast"));
        page.UntilSees("who hears Rain mast");
    }
}
