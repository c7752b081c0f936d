namespace Cenotic.Browser.Tests;

/// <summary>Passwords are changed and given anew in the page, and who is signed in elsewhere is signed out.
/// It has a demo of its own: others sign in with the passwords it changes.</summary>
public sealed class AccountTests(Demo demo) : IClassFixture<Demo>
{
    private const string New = "three brave otters",
        Other = "seven quiet herons";

    private static void SignIn(Page page, string name, string password)
    {
        page.UntilSees("The workbench for networks");
        page.Type("Name", name);
        page.Type("Password", password);
        page.Click("Sign in");
    }

    [Theory]
    [InlineData(1280, 800, New, Other)]
    [InlineData(390, 844, Other, Demo.Password)]
    public void A_viewer_who_forgot_gets_a_new_password_and_changes_it(int width, int height, string given, string own)
    {
        using var viewer = demo.Open(width, height);
        using var owner = demo.Open(width, height);
        viewer.Driver.Navigate().GoToUrl(demo.Address);
        SignIn(viewer, "viewer", width == 1280 ? Demo.Password : Other);
        viewer.Until(() => viewer.Driver.Url.Contains("/fernhollow/", StringComparison.Ordinal), "the site opens");
        owner.SignIn();
        owner.Click("owner");
        owner.Click("Members");
        owner.Click("New password for viewer");
        owner.UntilSees("Every device on which they are signed in is signed out.");
        owner.Type("New password", "password123");
        owner.Click("Set the password");
        owner.UntilSees("among the first that are tried");
        Assert.Empty(owner.AxeFaults());
        Assert.False(owner.Overflows());
        owner.Type("New password", given);
        owner.Click("Set the password");
        owner.UntilSees("viewer has a new password.");
        // The next thing the viewer does leads to the sign-in.
        viewer.Driver.Navigate().Refresh();
        SignIn(viewer, "viewer", given);
        viewer.Until(() => viewer.Driver.Url.Contains("/fernhollow/", StringComparison.Ordinal), "the new one opens the site");
        viewer.Click("viewer");
        viewer.Click("Change password");
        viewer.Type("Current password", "not this one");
        viewer.Type("New password", own);
        viewer.Click("Set the password");
        viewer.UntilSees("The current password is another one.");
        viewer.Type("Current password", given);
        viewer.Click("Set the password");
        viewer.UntilSees("Your password is changed.");
        // What is written afterwards goes on with the new sign-in's token.
        viewer.Click("viewer");
        viewer.Click("Sign out everywhere");
        SignIn(viewer, "viewer", own);
        viewer.Until(() => viewer.Driver.Url.Contains("/fernhollow/", StringComparison.Ordinal), "it is the password now");
    }

    [Fact]
    public void What_ships_is_listed_with_its_licence_also_signed_out()
    {
        using var page = demo.Open(390, 844);
        page.Driver.Navigate().GoToUrl(demo.Address);
        page.UntilSees("The workbench for networks");
        page.Tap(() => page.Find("//a[normalize-space() = 'Licences']", "the licences"));
        page.UntilSees("MQTTnet");
        page.UntilSees("OFL-1.1");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
    }
}
