using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>One account, several sites. It has a demo of its own: with two sites, who signs in is asked which.</summary>
public sealed class SitesTests(Demo demo) : IClassFixture<Demo>
{
    [Fact]
    public void A_further_site_is_added_and_left_again()
    {
        using var wide = demo.Open(1280, 800);
        using var narrow = demo.Open(390, 844);
        wide.SignIn();
        narrow.SignIn();
        Adds(wide, "Shed");
        Adds(narrow, "Attic");
    }

    private static void Adds(Page page, string name)
    {
        page.Click("owner");
        page.Tap(() => page.Find("//a[normalize-space() = 'Your sites']", "the sites"));
        page.UntilSees("A new site");
        page.Type("Name", name);
        page.Type("Time zone", "Nowhere/Land");
        page.Click("Add the site");
        page.UntilSees("write it like Europe/London");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Type("Time zone", "Europe/London");
        page.Click("Add the site");
        page.Until(() => page.Driver.Url.EndsWith($"/{name.ToLowerInvariant()}/place", StringComparison.Ordinal), "the new site opens");
        page.UntilSees(name);
        page.Click("owner");
        page.Tap(() => page.Find("//a[normalize-space() = 'Your sites']", "the sites"));
        page.Tap(() => page.Find("//a[contains(., 'Fernhollow')]", "the first site"));
        page.Go("watch");
        page.UntilSees("Somebody in the hall");
        Assert.All(page.ConsoleErrors(), e => Assert.Contains("/api/sites - Failed to load resource: the server responded with a status of 422", e));
    }
}
