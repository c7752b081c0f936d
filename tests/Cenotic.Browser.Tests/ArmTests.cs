using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>A zone is armed, tripped, heard of and taken up.</summary>
public sealed class ArmTests(Demo demo) : IClassFixture<Demo>
{
    [Fact]
    public void Arm_trip_be_told_acknowledge_and_disarm()
    {
        using var page = demo.Open(390, 844);
        page.SignIn();
        // Half a minute to leave would be long for a test.
        page.Go("alerts?view=zones");
        page.Click("Edit House");
        page.Type("Time to leave", "2 s");
        page.Type("Time to disarm", "soon");
        page.Click("Save");
        page.UntilSees("is no time; write it like 30 s, 5 min or 2 h.");
        page.Type("Time to disarm", "2 s");
        Assert.Empty(page.AxeFaults());
        page.Click("Save");
        page.UntilGone("Sensors that trigger it");
        page.Click("House: Armed");
        page.UntilSees("leave now");
        page.UntilSees("watching");
        page.Go("watch");
        page.Tap(() => page.Find("//summary[contains(., 'stand-ins play')]", "the control sheet"));
        page.Click("Trip for 1 min: Landing");
        page.Go("alerts?view=zones");
        page.UntilSees("alarm: Stair window (Landing)");
        Assert.Empty(page.AxeFaults());
        page.Go("alerts");
        page.Find("//li[@data-episode='zone:house']", "the episode");
        page.UntilSees("What to do: Look from outside first");
        page.Click("Acknowledge House");
        page.Type("What you found", "The wind.");
        page.Click("Acknowledge");
        page.UntilSees("owner: The wind.");
        page.Until(
            () => page.Driver.FindElements(By.XPath("//li[@data-episode='zone:house']//summary[contains(., 'told Ottilie')]")).Count == 1,
            "it stands there who was told"
        );
        page.Go("alerts?view=people");
        page.UntilSees("Fernhollow: House");
        page.UntilSees("taken");
        page.Go("alerts?view=zones");
        page.Click("House: Off");
        page.Until(() => page.Find("//*[@data-zone='house']//*[@data-phase]", "the zone").Text.Contains("off"), "it is off");
        Assert.All(page.ConsoleErrors(), e => Assert.Contains("422", e));
    }

    [Fact]
    public void A_person_is_added_with_quiet_hours_tested_and_chosen_in_a_rule()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("alerts?view=people");
        page.Click("New person");
        page.Type("Name", "Wren");
        page.Type("Address 1", "wren at home");
        page.Click("Add");
        page.UntilSees("is no mail address");
        page.Type("Address 1", "wren@fernhollow.example");
        page.Tap(() => page.Find("//label[contains(., 'Quiet hours')]//input", "quiet hours"));
        page.Type("From", "21:15");
        Assert.Empty(page.AxeFaults());
        page.Click("Add");
        page.UntilSees("quiet 21:15 to 07:00, every day");
        page.Click("Test Wren");
        page.UntilSees("to Wren by mail");
        page.Until(() => page.Driver.FindElements(By.XPath("//li[contains(., 'to Wren by mail')][contains(., 'taken')]")).Count == 1, "the mail was taken");
        page.Go("alerts?view=rules");
        page.Click("Edit Rack 1 too warm");
        page.Tap(() => page.Find("//label[normalize-space() = 'Wren']//input", "Wren"));
        page.Type("Remind every", "2 h");
        page.Choose("Fan (Drying room)", "is on while it is raised");
        page.Click("Save");
        page.UntilSees("Tells Ottilie, Wren, again every 2 h, and when it is over.");
        page.UntilSees("Switches Fan (Drying room) on.");
        // The fan is switched by the damp rule too: that is said beside the sheet.
        page.UntilSees("Fan is switched by");
    }
}
