using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Cenotic.Browser.Tests;

/// <summary>A view is built by mouse and by keyboard, shared, and opened by somebody who is not signed in.</summary>
public sealed class ViewsTests(Demo demo) : IClassFixture<Demo>
{
    private static List<string> Order(Page page) => [.. page.Driver.FindElements(By.CssSelector("[data-tile] h3")).Select(e => e.Text)];

    private static void Add(Page page, string shows, string? reading, string? title = null)
    {
        page.Click("New tile");
        page.Choose("Shows", shows);
        if (reading is not null)
        {
            page.Choose("Reading", reading);
        }
        if (title is not null)
        {
            page.Type("Title", title);
        }
        page.Click("Add");
        page.UntilGone("New tile ");
        page.Until(() => page.Driver.FindElements(By.CssSelector("[role=dialog]")).Count == 0, "the dialog is gone");
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void It_is_built_by_mouse_and_by_keyboard_undone_and_goes_to_its_own_address(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("watch");
        page.Click("New view");
        page.Type("Name", $"Mine {width}");
        page.Click("Add");
        page.Until(() => page.Driver.Url.EndsWith($"/watch/mine-{width}", StringComparison.Ordinal), "it has an address of its own");
        page.UntilSees("No tiles yet");
        page.Tap(() => page.Find("//main//button[normalize-space() = 'New tile']", "the first tile"));
        page.Choose("Reading", "Hall temperature (Hall presence)");
        page.Click("Add");
        page.UntilSees("°C");
        // A note without a text is answered where it stands, and nothing typed is lost.
        page.Click("New tile");
        page.Choose("Shows", "note");
        page.Type("Title", "Reminder");
        page.Click("Add");
        page.UntilSees("A note has 1 to 2000 characters");
        Assert.Equal("Reminder", page.Field("Title").GetAttribute("value"));
        // What is typed is text and never markup.
        page.Type("Text", "<img src='x' onerror='alert(1)'> **dry**");
        page.Click("Add");
        page.UntilSees("<img src='x' onerror='alert(1)'>");
        Assert.Empty(page.Driver.FindElements(By.CssSelector("main img")));
        page.Click("Undo");
        page.Until(() => Order(page).SequenceEqual(["Hall temperature"]), "the note is taken back");
        Add(page, "figure", "Kiln shell (Kiln shed)");
        Add(page, "nodes", null);
        Assert.Equal(["Hall temperature", "Kiln shell", "Nodes"], Order(page));

        // By keyboard: the tile itself is moved and resized.
        void Key(string tile, string keys)
        {
            page.Driver.ExecuteScript("arguments[0].focus()", page.Find($"//article[starts-with(@aria-label, '{tile},')]", tile));
            page.Press(keys);
        }
        Key("Nodes", Keys.ArrowLeft);
        page.Until(() => Order(page).SequenceEqual(["Hall temperature", "Nodes", "Kiln shell"]), "it moved by a key");
        Key("Kiln shell", Keys.Shift + Keys.ArrowRight);
        page.UntilSees("Kiln shell is 2 by 1");
        page.Click("Undo");
        page.Until(() => page.Driver.FindElements(By.XPath("//article[starts-with(@aria-label, 'Kiln shell, 1 by 1')]")).Count == 1, "it is undone");

        // By mouse: dragged where there is a mouse, by its buttons at both sizes.
        if (width > 1000)
        {
            var (from, to) = (
                page.Find("//article[starts-with(@aria-label, 'Kiln shell,')]//h3", "what is dragged"),
                page.Find("//article[starts-with(@aria-label, 'Hall temperature,')]//h3", "where it goes")
            );
            page.Driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", from);
            new Actions(page.Driver).ClickAndHold(from).MoveByOffset(-10, 0).MoveToElement(to).Release().Perform();
            page.Until(() => Order(page)[0] == "Kiln shell", "it was dragged to the front");
        }
        else
        {
            page.Click("Move Kiln shell earlier");
            page.Until(() => Order(page)[1] == "Kiln shell", "it was moved once");
            page.Click("Move Kiln shell earlier");
            page.Until(() => Order(page)[0] == "Kiln shell", "it was moved to the front");
        }
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Click("Done");

        // It stands there after a reload, and the stretch in the address too.
        page.Click("1 h");
        page.Until(() => page.Driver.Url.Contains("span=1h"), "the stretch is in the address");
        page.Click("Earlier");
        page.Until(() => page.Driver.Url.Contains("from="), "the stretch is fixed");
        page.Driver.Navigate().Refresh();
        page.Until(() => Order(page).SequenceEqual(["Kiln shell", "Hall temperature", "Nodes"]), "it is kept");
        page.Click("Live");
        Assert.All(page.ConsoleErrors(), e => Assert.Contains("/edits - Failed to load resource: the server responded with a status of 422", e));
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void It_is_shared_opened_signed_out_and_revoked(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("watch/house");
        page.Click("Share");
        page.Click("Make a link");
        page.UntilSees("Say for whom it is");
        page.Type("For whom", $"Neighbour {width}");
        page.Click("Make a link");
        var link = page.Find("//*[@data-link]/p[contains(., '/s#')]", "the link").Text;
        using var guest = demo.Open(width, height, night: width > 1000);
        guest.Driver.Navigate().GoToUrl(link);
        guest.UntilSees("Who was where");
        guest.UntilSees("live");
        guest.Until(() => guest.Driver.FindElements(By.CssSelector("canvas")).Count > 0, "the lines are drawn");
        Assert.DoesNotContain("#", guest.Driver.Url);
        Assert.DoesNotContain("Arming", Order(guest));
        Assert.Empty(guest.AxeFaults());
        Assert.False(guest.Overflows());
        Assert.Empty(guest.ConsoleErrors());
        // The rest of the site asks for a name and a password.
        guest.Driver.Navigate().GoToUrl($"{demo.Address}/fernhollow/watch");
        guest.Field("Password");
        guest.Driver.Navigate().GoToUrl($"{demo.Address}/s");
        guest.UntilSees("Who was where");
        page.UntilSees("opened 0 times");
        page.Click($"Revoke Neighbour {width}");
        guest.UntilSees("This link holds no more");
    }

    [Fact]
    public void A_line_is_zoomed_by_dragging_and_by_keys_and_a_month_of_it_is_drawn_quickly()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("watch/pottery");
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-tile=racks] canvas")).Count > 0, "it is drawn");
        var over = page.Find("//*[@data-tile='racks']//*[contains(@class, 'u-over')]", "the chart");
        new Actions(page.Driver).MoveToElement(over, -200, 0).ClickAndHold().MoveByOffset(150, 0).Release().Perform();
        page.Until(() => page.Driver.Url.Contains("from="), "it is zoomed");
        var before = page.Driver.Url;
        page.Driver.ExecuteScript("document.querySelector('[data-tile=racks] [role=img]').focus()");
        page.Press(Keys.ArrowLeft);
        page.Until(() => page.Driver.Url != before, "it is moved by a key");
        page.Click("30 d");
        page.Until(() => page.Driver.Url.Contains("span=30d"), "a month");
        page.UntilSees("Rack 1 temperature");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void The_wall_shows_a_view_without_the_workbench_and_leads_back()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("wall/house");
        page.UntilSees("Who was where");
        Assert.False(page.Sees("Bring-up"));
        page.Click("Dim at night");
        page.UntilSees("Bright at night");
        page.Click("Back");
        page.Until(() => page.Driver.Url.EndsWith("/watch/house", StringComparison.Ordinal), "it leads back");
    }
}
