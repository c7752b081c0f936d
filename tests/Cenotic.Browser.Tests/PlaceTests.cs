using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Cenotic.Browser.Tests;

/// <summary>A house of four rooms from nothing: drawn and typed, walled in by a remedy, and what its access point hears.</summary>
public sealed class PlaceTests(Demo demo) : IClassFixture<Demo>
{
    [Fact]
    public void A_house_is_drawn_walled_and_asked_what_gets_through()
    {
        using var wide = demo.Open(1280, 800);
        using var narrow = demo.Open(390, 844);
        wide.SignIn();
        narrow.SignIn();
        Builds(wide, "Cottage", byMouse: true);
        Builds(narrow, "Barn", byMouse: false);
    }

    private static void Builds(Page page, string name, bool byMouse)
    {
        page.Click("owner");
        page.Tap(() => page.Find("//a[normalize-space() = 'Your sites']", "the sites"));
        page.UntilSees("A new site");
        page.Type("Name", name);
        page.Type("Time zone", "Europe/London");
        page.Click("Add the site");
        page.UntilSees("No rooms yet");
        if (byMouse)
        {
            Draws(page);
        }
        else
        {
            page.Click("Type its size");
        }
        Sizes(page, "Kitchen", "0", "0");
        foreach (var (label, x, y) in new[] { ("Hall", "4", "0"), ("Bath", "0", "3"), ("Study", "4", "3") })
        {
            page.Click("New room");
            Sizes(page, label, x, y);
        }
        page.Follow("Brick outside, plasterboard between", byMouse);
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-wall]")).Count == 6, "six walls stand");
        Spot(page, "Desk", "1", "1", "Kitchen");
        Spot(page, "Sill", "7.5", "5.5", "Study");
        var place = page.Driver.Url;
        page.Driver.Navigate().GoToUrl(place.Replace("/place", "/bench", StringComparison.Ordinal));
        page.Click("New node");
        page.Type("Name", "Window");
        page.Choose("Spot", "Sill");
        page.Click("Add the node");
        page.UntilSees("Window");
        page.Driver.Navigate().GoToUrl(place.Replace("/place", "/reach", StringComparison.Ordinal));
        page.Follow("It stands at Desk", byMouse);
        page.UntilSees("plasterboard wall at");
        page.UntilSees("gets through");
        page.Choose("Shown", "what Access point hears");
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-heat]")).Count == 1, "the map is drawn");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>Presses at one corner of the sheet and lets go at another: the form opens with the size that was drawn.</summary>
    private static void Draws(Page page)
    {
        page.Click("Draw rooms");
        var sheet = page.Find("//*[name() = 'svg'][@aria-label = 'Plan of the site']", "the sheet");
        new Actions(page.Driver).MoveToElement(sheet, -200, -120).ClickAndHold().MoveByOffset(60, 40).MoveByOffset(180, 110).Release().Perform();
        page.Find("//*[@role='dialog']", "the form of the room");
        Assert.True(double.Parse(page.Field("Width, m").GetAttribute("value")!, System.Globalization.CultureInfo.InvariantCulture) > 1);
    }

    private static void Sizes(Page page, string label, string x, string y)
    {
        page.Type("Name", label);
        page.Type("From left, m", x);
        page.Type("From top, m", y);
        // As it was read off a tape: 4.00 and 3.00 m.
        page.Type("Width, m", "13 ft 1.48 in");
        page.Type("Depth, m", "300 cm");
        page.Click("Add the room");
        page.Find($"//td[normalize-space() = '{label}']", label);
    }

    private static void Spot(Page page, string label, string x, string y, string room)
    {
        page.Click("New spot");
        page.Type("Name", label);
        page.Choose("Room", room);
        page.Type("From left, m", x);
        page.Type("From top, m", y);
        page.Click("Add the spot");
        page.Find($"//button[normalize-space() = '{label}']", label);
    }
}
