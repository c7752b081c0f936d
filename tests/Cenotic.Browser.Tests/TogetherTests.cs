using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>Signing in, and two people at one site.</summary>
public sealed class TogetherTests(Demo demo) : IClassFixture<Demo>
{
    [Fact]
    public void A_wrong_password_is_told_beside_the_field_and_what_was_typed_stays()
    {
        using var page = demo.Open(1280, 800);
        page.Driver.Navigate().GoToUrl(demo.Address);
        page.Click("Sign in");
        page.UntilSees("Write the name and the password.");
        page.Type("Name", "owner");
        page.Type("Password", "not-the-password");
        page.Click("Sign in");
        page.UntilSees("No account has that name and password.");
        Assert.Equal("owner", page.Field("Name").GetAttribute("value"));
        Assert.Equal("true", page.Field("Password").GetAttribute("aria-invalid"));
    }

    [Fact]
    public void What_one_changes_shows_at_the_other_and_undo_is_each_ones_own()
    {
        using var one = demo.Open(1280, 800);
        using var other = demo.Open(390, 844);
        one.SignIn();
        other.SignIn();
        one.Go("alerts?view=rules");
        other.Go("alerts?view=rules");
        one.Click("Switch off Drying room damp");
        one.UntilSees("Drying room damp is off");
        other.Until(() => other.Driver.FindElements(By.XPath("//button[@aria-label='Arm Drying room damp']")).Count == 1, "the other sees it");
        Assert.False(other.Button("Undo").Enabled);

        // The other changes it again: the first one's undo is refused with the reason.
        other.Click("Arm Drying room damp");
        one.Until(() => one.Driver.FindElements(By.XPath("//button[@aria-label='Switch off Drying room damp']")).Count == 1, "the first sees that");
        one.Find("//*[@role='banner']//button[normalize-space()='Undo']", "undo").Click();
        one.UntilSees("Not undone: Changed meanwhile: rule:drying-damp.");
    }

    [Fact]
    public void Undo_survives_a_reload_and_ends_with_the_session()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("alerts?view=rules");
        page.Click("Remove Hall node silent");
        page.Until(() => !page.Sees("Tell me when Light"), "the rule is gone");
        page.Go("alerts?view=rules");
        page.Press("z");
        page.UntilSees("Tell me when Light");
        page.Go("alerts?view=rules");
        page.Press("Z");
        page.Until(() => !page.Sees("Tell me when Light"), "it is gone again");
        page.Press("z");
        page.UntilSees("Tell me when Light");
        page.Until(() => page.Button("Redo").Enabled, "it could be taken away again");
        page.Click("owner");
        page.Click("Sign out");
        page.UntilSees("Sign in");
        page.SignIn();
        page.Go("alerts?view=rules");
        Assert.False(page.Button("Redo").Enabled);
        Assert.False(page.Button("Undo").Enabled);
    }

    [Fact]
    public void Undo_and_redo_go_both_ways()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("alerts?view=rules");
        page.Click("Remove Hall node silent");
        page.Until(() => !page.Sees("Tell me when Light"), "the rule is gone");
        page.Press("z");
        page.UntilSees("Tell me when Light");
        page.Press("Z");
        page.Until(() => !page.Sees("Tell me when Light"), "it is gone again");
        // Two presses while the first is under way are two steps.
        page.Click("Switch off Drying room damp");
        page.UntilSees("Drying room damp is off");
        page.Driver.ExecuteScript("for (let n = 0; n < 2; n++) document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'z', bubbles: true }))");
        page.UntilSees("Tell me when Light");
        page.Find("//button[@aria-label='Switch off Drying room damp']", "it is armed again");
    }

    [Fact]
    public void A_node_gets_its_key_and_its_page_says_what_to_send()
    {
        using var page = demo.Open(390, 844);
        page.SignIn();
        page.Go("watch");
        page.Tap(() => page.Find("//h2[starts-with(normalize-space(), 'Drying room')]//button", "the page of the node"));
        page.UntilSees("site/fernhollow/drying/data");
        page.UntilSees("lost by their numbers");
        page.Click("Give it a new key");
        page.UntilSees("The old key ends at once");
        page.Click("Make the key");
        page.UntilSees("shown once");
        Assert.Matches("[0-9a-f]{40}", page.Driver.FindElement(By.CssSelector("[role=dialog]")).Text);
        page.Press(Keys.Escape);
        page.UntilGone("site/fernhollow/drying/data");
    }
}
