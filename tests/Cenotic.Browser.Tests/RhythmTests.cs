using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>The Rhythm as a maker uses it: the wake to scale, readings in place, what helps, light, slots, the whole site.</summary>
public sealed class RhythmTests(Demo demo) : IClassFixture<Demo>
{
    private static void Type(Page page, string label, string text)
    {
        var field = page.Find($"//input[@aria-label='{label}']", label);
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(text + Keys.Enter);
    }

    [Fact]
    public void The_wake_is_zoomed_moved_and_explained()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("rhythm/cistern");
        IWebElement Bar(string name) => page.Find($"//*[name()='g'][@role='button'][starts-with(@aria-label, '{name}')]", name);
        double Wide(string name) =>
            Convert.ToDouble(
                page.Driver.ExecuteScript("return arguments[0].querySelectorAll('rect')[1].width.baseVal.value", Bar(name)),
                System.Globalization.CultureInfo.InvariantCulture
            );
        page.Until(() => Wide("Start of the board") > 100, "the awake part fills the strip");
        var before = Wide("Listen for the answer");
        page.Click("Zoom in");
        page.Until(() => Wide("Listen for the answer") > before, "it grows");
        page.Click("Whole cycle");
        // 0.8 s of 15 minutes, to scale: the whole start of the board is half a pixel.
        page.Until(() => Wide("Start of the board") < 2 && Wide("Sleep") > 500, "the whole cycle is to scale");
        page.Click("Awake part");
        page.Tap(() => page.Find("//ul[@aria-label='Segments']//button[contains(., 'Listen for the answer')]", "the segment"));
        page.Tap(() => page.Find("//figcaption//button[starts-with(normalize-space(), 'Listen for the answer: charge')]", "its charge"));
        page.UntilSees("Q = I · t");
        page.Tap(() => page.Find("//ul[@aria-label='Sorts of wake']//button[contains(., 'a day')]", "the wake by an event"));
        page.UntilSees("Cistern full changes");
        Assert.Empty(page.ConsoleErrors());
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void Readings_change_in_place_a_wish_is_judged_and_its_remedy_holds(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("rhythm/cistern");
        var life = page.Find("//button[starts-with(normalize-space(), 'Battery life:')]", "the life").Text;
        Type(page, "Readings of Distance to water sent together", "4");
        page.Until(() => page.Find("//button[starts-with(normalize-space(), 'Battery life:')]", "the life").Text != life, "the life follows");
        page.UntilSees("every 60 min");
        Type(page, "Readings of Distance to water sent together", "half");
        page.UntilSees("is no count; write a whole number from 1.");
        Assert.Equal("half", page.Find("//input[@aria-label='Readings of Distance to water sent together']", "the field").GetAttribute("value"));
        page.Find("//input[@aria-label='Readings of Distance to water sent together']", "the field").SendKeys(Keys.Escape);
        Type(page, "Distance to water wanted within", "20 min");
        page.Until(() => page.Driver.FindElements(By.XPath("//article[contains(., 'you want to know within')]")).Count > 0, "it is judged");
        if (width < 1000)
        {
            page.Tap(() => page.Find("//button[contains(., 'Margin:')]", "the margin"));
        }
        page.Tap(() =>
            page.Find("//article[contains(., 'you want to know within')]//button[starts-with(normalize-space(), 'Send each reading')]", "the remedy")
        );
        page.Until(() => page.Driver.FindElements(By.XPath("//article[contains(., 'you want to know within')]")).Count == 0, "the remedy removes it");
        for (var i = 0; i < 3; i++)
        {
            page.Until(() => page.Button("Undo").Enabled, "it can be undone");
            page.Click("Undo");
            page.UntilSees("Undone: ");
        }
        page.Until(() => page.Find("//button[starts-with(normalize-space(), 'Battery life:')]", "the life").Text == life, "all is as before");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void What_helps_most_is_one_click_and_radios_are_compared()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("rhythm/cistern?view=life");
        page.UntilSees("What helps most");
        page.UntilSees("today: ");
        page.UntilSees("SX1276 long-range radio");
        page.Tap(() => page.Find("//button[starts-with(@aria-label, 'Do it: Use 6 cells side by side')]", "the first gain"));
        page.Until(() => !page.Sees("Use 6 cells side by side: "), "it is done");
        page.Click("Undo");
        page.UntilSees("Undone: Use 6 cells side by side");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void A_light_cell_is_added_wrong_values_are_told_and_the_months_balance()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("rhythm/cistern?view=light");
        page.Click("Add a light cell");
        page.Type("Area, cm²", "900000");
        page.Click("Save");
        page.UntilSees("The area of the light cell is 900000 cm²");
        page.Type("Area, cm²", "60");
        page.Choose("Lit by", "a table by month");
        page.Type("Wh/m² on a day, January to December", "100 200");
        page.Click("Save");
        page.UntilSees("A table of light has twelve values");
        page.Type("Wh/m² on a day, January to December", "100 200 400 700 900 900 900 700 500 300 100 80");
        page.Click("Save");
        page.UntilSees("under a table by month");
        page.Until(
            () => page.Driver.FindElements(By.XPath("//*[name()='g'][contains(@aria-label, 'mAh short, gathered:')]")).Count is > 0 and < 12,
            "some months fall short"
        );
        page.UntilSees("The light does not carry the node in");
        page.Click("Take it off");
        page.UntilSees("No light cell");
        page.Go("rhythm/hall?view=light");
        page.UntilSees("A light cell fills cells or a storage capacitor.");
    }

    [Fact]
    public void Slots_stand_on_the_dial_and_a_node_that_hears_no_time_has_none()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("rhythm/kiln?view=air");
        page.UntilSees("No two slots ever meet.");
        Assert.Equal(3, page.Driver.FindElements(By.XPath("//*[name()='svg']/*[name()='g'][@role='button'][contains(@aria-label, 'starts ')]")).Count);
        page.Click("15 min");
        page.Until(
            () =>
                page.Find("//*[name()='svg'][starts-with(@aria-label, 'Slots of')]", "the dial")
                    .GetAttribute("aria-label")!
                    .EndsWith("on a ring of 15 min", StringComparison.Ordinal),
            "the ring is longer"
        );
        page.Click("How it sends");
        page.Tap(() => page.Find("//label[contains(., 'It hears a time reference')]/input", "the tick"));
        page.Type("A message every", "soon");
        page.Click("Save");
        page.UntilSees("is no time; write it like 30 s, 5 min or 2 h.");
        page.Type("A message every", "5 min");
        page.Click("Save");
        page.UntilSees("its receiver allows a message every");
        page.Until(() => page.Driver.FindElements(By.XPath("//td[normalize-space() = 'Kiln shed']")).Count == 1, "it sends when it will");
        page.Until(
            () => page.Driver.FindElements(By.XPath("//*[name()='svg']/*[name()='g'][@role='button'][contains(@aria-label, 'starts ')]")).Count == 2,
            "it has no slot"
        );
        page.Click("Undo");
        page.UntilSees("Undone: How Kiln shed sends");
    }

    [Fact]
    public void The_whole_site_says_when_cells_are_due_and_how_late_each_notice_is()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("rhythm/hall?view=site");
        page.UntilSees("From the event to the notice");
        page.UntilSees("Kiln shell too hot");
        Assert.EndsWith("/exports/batteries.ics", page.Find("//a[contains(., 'iCalendar')]", "the calendar").GetAttribute("href"), StringComparison.Ordinal);
        var day = page.Find("//input[@aria-label='Day the cells of Cistern level were put in']", "the day");
        page.Driver.ExecuteScript("arguments[0].value = ''; arguments[0].dispatchEvent(new Event('change'))", day);
        page.UntilSees("no day noted");
        page.Click("Undo");
        page.UntilGone("no day noted");
        // Findings of all nodes stand beside what concerns all.
        page.UntilSees("The cells of Cistern level last about");
        Assert.Empty(page.ConsoleErrors());
    }
}
