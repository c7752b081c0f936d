using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace Cenotic.Browser.Tests;

/// <summary>The Bench as a maker uses it: a wish, a wire dragged, a module kept, another board, the drawer, a part of one's own, the exports.</summary>
public sealed class BenchTests(Demo demo) : IClassFixture<Demo>
{
    [Fact]
    public void A_wish_is_answered_and_one_click_places_a_part()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("bench/glaze");
        page.Click("Add a part");
        page.Click("Say what you want to know");
        page.Choose("Quantity", "co2");
        page.UntilSees("SCD41 breakout");
        page.Click("Place SCD41 breakout: carbon dioxide, temperature, humidity");
        page.Until(() => page.Driver.FindElements(By.CssSelector("[role=dialog]")).Count == 0, "the tray closes");
        page.UntilSees("SCD41 breakout");
        page.Click("Undo");
        page.UntilGone("SCD41 breakout");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void A_wire_held_over_a_pin_says_at_once_what_it_would_cost_or_why_not()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("bench/hall");
        var handle = page.Find("//button[contains(@aria-label, 'OUT to another pin')]", "the handle of a wire");
        IWebElement Pin(string id) => page.Driver.FindElement(By.CssSelector($"[data-comb] [data-pin='{id}'] rect:not(.focus)"));
        // By hand: held over a pin it says at once what it would cost, beside the pointer; let go there it is fixed.
        page.Driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", handle);
        var hand = new Actions(page.Driver);
        hand.ClickAndHold(handle).MoveByOffset(-20, 0).MoveToElement(Pin("L16")).Perform();
        page.UntilSees("carries the program flash: a load or a level there stops the program.");
        Assert.True(page.Driver.FindElement(By.CssSelector("[data-trial]")).Displayed);
        hand.MoveToElement(Pin("L8")).Perform();
        page.UntilSees("Costs ");
        hand.Release().Perform();
        page.UntilSees("fixed at 33");
        page.Click("Undo");
        page.UntilSees("Undone: ");
        // By keyboard: Enter on the handle takes it up, arrows go from pin to pin, Enter lays it down, Escape gives up.
        page.Find("//button[contains(@aria-label, 'OUT to another pin')]", "the handle again").SendKeys(Keys.Enter);
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-trial]")).Count == 1, "the wire is in hand");
        page.Driver.SwitchTo().ActiveElement().SendKeys(Keys.ArrowDown);
        page.UntilSees("Costs ");
        page.Driver.SwitchTo().ActiveElement().SendKeys(Keys.Escape);
        page.Until(() => page.Driver.FindElements(By.CssSelector("[data-trial]")).Count == 0, "it is laid back");
        page.Find("//button[contains(@aria-label, 'OUT to another pin')]", "the handle once more").SendKeys(Keys.Enter);
        page.Driver.SwitchTo().ActiveElement().SendKeys(Keys.ArrowDown);
        page.Driver.SwitchTo().ActiveElement().SendKeys(Keys.Enter);
        page.UntilSees("fixed at ");
        page.Click("Undo");
        page.UntilSees("Undone: ");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void Another_board_the_drawer_and_what_protects_the_supply_are_one_click_and_one_undo()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("bench/landing");
        page.UntilSees("Contact expander");
        page.Click("Other boards");
        page.Click("Use the ESP32-S3 board, 44-pin");
        page.UntilSees("Landing is on the ESP32-S3 board, 44-pin now");
        page.Click("Undo");
        page.UntilSees("Undone: ");
        page.Click("Parts and cost");
        page.Click("Stock of MCP23017 expander, 16 lines");
        page.Type("At hand", "3");
        page.Click("Save");
        page.Until(
            () => page.Driver.FindElements(By.XPath("//tr[contains(., 'MCP23017')]/td[4][normalize-space() = '3']")).Count == 1,
            "the drawer counts three"
        );
        page.Click("Power");
        page.Find("//label[contains(., 'Clamps and filters')]//input", "the tick").Click();
        page.UntilSees("Clamps and filters at the long cables");
        page.Click("Structure");
        page.UntilSees("I2C 0");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void A_part_of_ones_own_is_checked_line_by_line()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("bench/hall");
        page.Click("Catalogue");
        page.Click("BH1750 breakout: illuminance");
        page.UntilSees("Draws at rest");
        page.Click("Make one of your own from it");
        var text = page.Find("//textarea", "the text");
        page.Driver.ExecuteScript(
            "arguments[0].value = arguments[0].value.replace('\"supplyPin\": \"VCC\"', '\"supplyPin\": \"V+\"'); arguments[0].dispatchEvent(new "
                + "Event('input'))",
            text
        );
        page.Click("Check and save");
        page.UntilSees("is not one of the pins.");
        Assert.Matches("Line \\d+", page.Find("//ul[@role='alert']", "the faults").Text);
        page.Driver.ExecuteScript(
            "arguments[0].value = arguments[0].value.replace('\"supplyPin\": \"V+\"', '\"supplyPin\": \"VCC\"'); arguments[0].dispatchEvent(new "
                + "Event('input'))",
            text
        );
        page.Click("Check and save");
        page.UntilSees("My BH1750 breakout: illuminance is in your catalogue");
        page.UntilSees("yours");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void Exports_come_as_files_and_the_print_sheet_has_drawing_and_table()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("bench/drying");
        page.Click("Print and export");
        Assert.EndsWith("/exports/wiring.csv", page.Find("//a[contains(., 'Wiring table')]", "the export").GetAttribute("href"), StringComparison.Ordinal);
        page.Driver.ExecuteScript("URL.createObjectURL = (blob) => { blob.text().then((t) => (window.saved = t)); return '#'; }");
        page.Click("Drawing of the board, SVG");
        page.Until(() => page.Driver.ExecuteScript("return window.saved") is string, "the drawing is written");
        var drawing = (string)page.Driver.ExecuteScript("return window.saved")!;
        Assert.StartsWith("<svg xmlns=", drawing, StringComparison.Ordinal);
        Assert.Contains("Fan relay IN", drawing);
        Assert.DoesNotContain("var(--", drawing);
        // As it would be printed: the sheet shows, the screen does not.
        page.Driver.ExecuteCdpCommand("Emulation.setEmulatedMedia", new Dictionary<string, object?> { ["media"] = "print" });
        page.Until(() => page.Driver.FindElement(By.CssSelector("[data-print-comb] svg")).Displayed, "the drawing is on the sheet");
        page.UntilSees("Drying room: wires, in soldering order");
        Assert.False(page.Driver.FindElement(By.CssSelector("[data-comb]")).Displayed);
        var pdf = page.Driver.Print(new PrintOptions { PageDimensions = PrintOptions.PageSize.A4 }).AsByteArray;
        var pages = System.Text.RegularExpressions.Regex.Matches(System.Text.Encoding.Latin1.GetString(pdf), @"/Type\s*/Page[^s]").Count;
        Assert.Equal(2, pages);
    }
}
