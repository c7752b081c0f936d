using System.Globalization;
using System.Text.RegularExpressions;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Cenotic.Browser.Tests;

/// <summary>Work on the plan of the demo: outlines drawn and changed, a paper plan under it, and the plan as files.</summary>
public sealed partial class PlaceSheetTests(Demo demo) : IClassFixture<Demo>
{
    /// <summary>A file far away is refused and nothing is lost; one that lies there is put on the plan, and taken back in one step.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_plan_goes_out_and_a_file_comes_in(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("place");
        page.Click("Plan as files");
        page.UntilSees("GeoJSON needs the place on the earth");
        page.Type("Latitude, °", "91");
        page.Type("Longitude, °", "-1.9");
        page.Click("Save");
        page.UntilSees("must be from -85 to 85");
        page.Type("Latitude, °", "52.1");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(By.XPath("//*[@role='dialog']")).Count == 0, "the dialog closes");
        page.Click("Plan as files");
        page.Find("//a[contains(., 'GeoJSON (RFC 7946)')]", "the way out");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        Gives(page, "[9.0, 52.1], [9.001, 52.1], [9.001, 52.101], [9.0, 52.1]");
        page.UntilSees("from the plan's corner");
        Gives(page, "[-1.9, 52.1], [-1.89995, 52.1], [-1.89995, 52.09996], [-1.9, 52.1]");
        page.UntilSees("1 room, 0 walls, 0 spots");
        page.Click("Put them on the plan");
        page.Find("//td[normalize-space() = 'Tent']", "the room of the file");
        page.Click("Undo");
        page.Until(() => page.Driver.FindElements(By.XPath("//td[normalize-space() = 'Tent']")).Count == 0, "it is gone again");
        page.Click("Undo");
        Assert.All(page.ConsoleErrors(), e => Assert.Contains("Failed to load resource: the server responded with a status of 422", e));
    }

    private static void Gives(Page page, string ring)
    {
        var file = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():n}.geojson");
        File.WriteAllText(
            file,
            """{"type": "FeatureCollection", "features": [{"type": "Feature", "properties": {"name": "Tent"}, "geometry": {"type": "Polygon", "coordinates": """
                + $"[[{ring}]]}}}}]}}"
        );
        page.Driver.FindElement(By.CssSelector("input[data-geojson]")).SendKeys(file);
    }

    /// <summary>A heater is put into the hall, moved on the plan, and told where a motion sensor looks at it.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_heater_stands_on_the_plan_and_a_motion_sensor_that_looks_at_it_is_told(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("place");
        page.Click("New heater or vent");
        page.Type("Name", "Hall radiator");
        page.Type("From left, m", "2.1");
        page.Type("From top, m", "2.45");
        Assert.Empty(page.AxeFaults());
        page.Click("Add it");
        page.Find("//td[contains(., 'Hall radiator')]", "it is in the list");
        var mark = page.Find("//*[@data-heat-source='hall-radiator']", "its mark");
        // Three presses before the first is answered are three steps.
        mark.SendKeys(Keys.ArrowUp + Keys.ArrowUp + Keys.ArrowUp);
        page.Find("//td[contains(., '2.1, 2.15 m')]", "where it is now");
        page.UntilSees("looks at Hall radiator");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        for (var i = 0; i < 4; i++)
        {
            page.Click("Undo");
        }
        page.Until(() => page.Driver.FindElements(By.XPath("//td[contains(., 'Hall radiator')]")).Count == 0, "all is undone");
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>A room of six corners: clicked, or set by keys with a typed length; then a side and a corner are moved, and all is undone.</summary>
    [Theory]
    [InlineData(1280, 800, true)]
    [InlineData(390, 844, false)]
    public void A_room_of_another_shape_is_drawn_and_changed_on_the_plan(int width, int height, bool byMouse)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("place");
        page.Click("Draw rooms");
        var sheet = page.Find("//*[name() = 'svg'][@aria-label = 'Plan of the site']", "the sheet");
        if (byMouse)
        {
            Clicks(page, sheet);
        }
        else
        {
            Keys6(page, sheet);
        }
        page.Find("//*[@role='dialog']", "the form of the room");
        Assert.Equal(6, page.Driver.FindElements(By.XPath("//label[contains(., ', from left')]")).Count);
        page.Type("Name", "Nook");
        Assert.Empty(page.AxeFaults());
        page.Click("Add the room");
        page.Find("//td[normalize-space() = 'Nook']", "the room");
        page.Click("Stop drawing");
        page.Tap(() => page.Find("//button[@aria-label = 'Shape of Nook']", "its shape"));
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-corner]")).Count == 6, "six corners have handles");
        var area = Area(page);
        page.Find("(//*[@data-side])[1]", "a side").SendKeys(Keys.Shift + Keys.ArrowUp);
        page.Until(() => Area(page) > area + 0.5, "the room is larger");
        page.Find("(//*[@data-corner])[2]", "a corner").SendKeys(Keys.ArrowRight);
        page.UntilSees("A corner of Nook moved");
        page.Find("(//*[@data-side])[1]", "a side").SendKeys("+");
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-corner]")).Count == 7, "a corner more");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        for (var i = 0; i < 4; i++)
        {
            page.Click("Undo");
        }
        page.Until(() => page.Driver.FindElements(By.XPath("//td[normalize-space() = 'Nook']")).Count == 0, "all is undone");
        Assert.Empty(page.ConsoleErrors());
    }

    private static double Area(Page page) =>
        double.Parse(Squares().Match(page.Find("//tr[td[normalize-space() = 'Nook']]/td[2]", "its area").Text).Groups[1].Value, CultureInfo.InvariantCulture);

    [GeneratedRegex(@"([\d.]+)\s*m²")]
    private static partial Regex Squares();

    /// <summary>An L beside the house, clicked corner by corner and closed at the first.</summary>
    private static void Clicks(Page page, IWebElement sheet)
    {
        (int X, int Y)[] corners = [(-300, 120), (-200, 120), (-200, 160), (-250, 160), (-250, 195), (-300, 195), (-300, 120)];
        foreach (var (x, y) in corners)
        {
            new Actions(page.Driver).MoveToElement(sheet, x, y).Click().Perform();
        }
    }

    /// <summary>The same by keys: the cross is moved, Enter sets a corner, and one side is typed as it was measured.</summary>
    private static void Keys6(Page page, IWebElement sheet)
    {
        void Walk(string arrow, int metres) => sheet.SendKeys(string.Concat(Enumerable.Repeat(Keys.Shift + arrow + Keys.Null, metres)) + Keys.Enter);
        Walk(Keys.ArrowUp, 5);
        sheet.SendKeys(Keys.Shift + Keys.ArrowRight);
        page.Type("Side, m", "4 m");
        page.Click("Set the corner");
        page.UntilSees("2 corners set");
        Walk(Keys.ArrowDown, 1);
        Walk(Keys.ArrowLeft, 2);
        Walk(Keys.ArrowDown, 2);
        Walk(Keys.ArrowLeft, 2);
        page.UntilSees("6 corners set");
        page.Click("Close the outline");
    }

    /// <summary>A picture is laid under the plan, two points of it are clicked, and it is scaled by what was measured between them.</summary>
    [Fact]
    public void A_paper_plan_is_laid_under_and_scaled()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("place");
        page.Click("Paper plan");
        page.Driver.FindElement(By.CssSelector("input[data-scan]")).SendKeys(Path.Combine(Demo.Root, "docs", "screenshots", "place.png"));
        page.UntilSees("0 of 2");
        var before = Across(page);
        var sheet = page.Find("//*[name() = 'svg'][@aria-label = 'Plan of the site']", "the sheet");
        new Actions(page.Driver).MoveToElement(sheet, -100, 0).Click().Perform();
        page.UntilSees("1 of 2");
        new Actions(page.Driver).MoveToElement(sheet, 100, 2).Click().Perform();
        page.UntilSees("How far are they apart");
        page.Type("Apart, m", "0.01");
        page.Click("Scale it");
        page.UntilSees("The distance is 0.01 m");
        page.Type("Apart, m", "2.5 m");
        page.Click("Scale it");
        page.UntilSees("0 of 2");
        Assert.True(Across(page) < before);
        Assert.Empty(page.AxeFaults());
        page.Click("Take it away");
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-scan-picture]")).Count == 0, "the picture is gone");
        Assert.All(page.ConsoleErrors(), e => Assert.Contains("/edits - Failed to load resource: the server responded with a status of 422", e));
    }

    private static double Across(Page page) =>
        double.Parse(
            page.Find("//*[@data-scan-picture]", "the picture").GetAttribute("transform")!.Split("scale(")[1].TrimEnd(')'),
            CultureInfo.InvariantCulture
        );
}
