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

    /// <summary>What is open is seen on every station, on the wall, in the rail and in the tab, acknowledged from there, and gone when it is over.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void What_is_open_stands_on_every_page_until_it_is_over(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("alerts?view=rules");
        page.Click("Edit Rack 1 too warm");
        page.Type("Limit, °C", "5");
        page.Type("Over at, °C", "4");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, "the rule is saved");
        foreach (var station in new[] { "place", "bench", "rhythm", "reach", "bring-up", "watch", "log", "wall/first" })
        {
            page.Go(station);
            page.Find("//*[@data-open][contains(., 'Rack 1 too warm') and contains(., 'Open the vent')]", $"the open episode at {station}");
            page.Until(() => page.Driver.Title.StartsWith("(1) ", StringComparison.Ordinal), "the count in the tab");
            Assert.False(page.Overflows(), station);
        }
        // It is marked where the reading is drawn, and led to with its limit.
        page.Go("watch");
        page.Find("//article[@data-reading='drying/rack1']//*[@data-open-here][contains(., 'Rack 1 too warm')]", "the mark at the reading");
        page.Go("bench");
        Assert.Equal("1 open", page.Find("//*[@data-open-count]", "the count in the rail").Text);
        Assert.Empty(page.AxeFaults());
        page.Click("Acknowledge Rack 1 too warm");
        page.Type("What you found", "A wrong limit");
        page.Find("//*[@role='dialog']//button[normalize-space() = 'Acknowledge']", "the button of the form").Click();
        page.UntilSees("Acknowledged, not over yet: Rack 1 too warm");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, "the form is closed");
        page.Until(() => !page.Driver.Title.StartsWith('('), "nothing waits in the tab");
        Assert.Empty(page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@data-open-count]")));
        Assert.Empty(page.AxeFaults());
        page.Click("Undo");
        page.UntilSees("Undone: ");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@data-open][contains(., 'Rack 1')]")).Count == 0, "it is over");
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>Two conditions with one that a node shows by itself, in one step that undo takes back; and a rule of two events.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_rule_takes_several_conditions_and_what_a_node_shows_by_itself(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("alerts?view=rules");
        page.UntilSees("Parcel lid (Parcel box) comes together with Parcel box knocked (Parcel box) within 10 s.");
        page.Click("New rule");
        // A state begins with what a state can do, and is tried for how long it lasts.
        page.UntilSees("Tell me when Presence (Hall presence) is on.");
        page.UntilSees("Episodes by how long it lasts");
        page.Tap(() => page.Find("//button[span[normalize-space() = '60 s']]", "a duration"));
        page.Until(() => page.Field("for").GetAttribute("value") == "60 s", "the duration is taken");
        page.UntilSees("Tell me when Presence (Hall presence) is on for 60 s.");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Type("Name", $"Losing {width}");
        page.Choose("Tell me when", "Hall temperature (Hall presence)");
        page.Choose("What it does", "is unlike its usual by");
        page.Type("By, °C", "2");
        page.Type("for", "20 min");
        page.UntilSees("is 2 °C beyond what is usual at this hour of this weekday for 20 min");
        page.Click("One condition more");
        page.Choose("and when", width > 1000 ? "Lost messages, Hall presence" : "Lost messages, Kiln shed");
        page.Type("Limit, %", "10");
        page.UntilSees("it has no past to be tried on");
        page.UntilSees(", and Lost messages,");
        page.Choose("It raises with", "any of these");
        page.UntilSees(", or Lost messages,");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Click("Add and arm");
        page.UntilGone("Add and arm");
        page.UntilSees($"Losing {width}");
        page.UntilSees(" (Worked out) is above 10 %");
        page.Click("Undo");
        page.UntilGone($"Losing {width}");
        page.Go("watch");
        page.UntilSees("Somebody in the hall");
        Assert.False(page.Sees("Lost messages, Hall") || page.Sees("Lost messages, Kiln"));
        Assert.Empty(page.ConsoleErrors());
    }
}
