using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using Xunit.Abstractions;

namespace Cenotic.Browser.Tests;

/// <summary>
/// The first evening of a newcomer, counted: an empty site becomes four rooms, five nodes with fourteen parts, a person, a rule and a view. A click, a drag
/// and a choice of a list each count as one act; a field that is typed into counts as one.
/// </summary>
public sealed class EveningTests(Demo demo, ITestOutputHelper output) : IClassFixture<Demo>
{
    private const int MostActs = 55,
        MostFields = 25;
    private int _acts,
        _fields,
        _keys;

    [Theory]
    [InlineData(1280, 800)]
    public void An_evening_takes_fewer_than_55_acts_and_25_fields(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Click("owner");
        page.Tap(() => page.Find("//a[normalize-space() = 'Your sites']", "the sites"));
        page.UntilSees("A new site");
        page.Type("Name", "Lodge");
        page.Click("Add the site");
        page.UntilSees("No rooms yet");
        DrawRooms(page);
        BuildNodes(page);
        Station(page, "Alerts");
        TellOf(page);
        Station(page, "Watch");
        MakeView(page);
        page.Until(() => Made(page) == "4 rooms, 5 nodes, 14 parts, 1 people, 1 armed rules, 1 views", "the site holds all of it");
        output.WriteLine($"{_acts} acts, {_fields} fields, {_keys} key strokes");
        Assert.True(_acts < MostActs && _fields < MostFields, $"{_acts} acts, {_fields} fields, {_keys} key strokes");
        Assert.Empty(page.AxeFaults());
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>What the site holds in the end, by the server.</summary>
    private static string Made(Page page) =>
        (string)
            page.Driver.ExecuteAsyncScript(
                """
                const done = arguments[0];
                fetch("/api/sites/lodge").then((r) => r.json()).then(({ design: d }) => done(
                  `${d.place.rooms.length} rooms, ${d.nodes.length} nodes, ${d.nodes.reduce((n, x) => n + x.parts.length, 0)} parts, ` +
                    `${d.people.length} people, ${d.rules.filter((r) => r.armed).length} armed rules, ${d.views.length} views`));
                """
            )!;

    private void Click(Page page, string words)
    {
        _acts++;
        page.Click(words);
    }

    private void Choose(Page page, string label, string option)
    {
        _acts++;
        page.Choose(label, option);
    }

    private void Type(Page page, string label, string text)
    {
        _fields++;
        _keys += text.Length;
        page.Type(label, text);
    }

    private void Station(Page page, string name)
    {
        _acts++;
        page.Tap(() => page.Find($"//nav[@aria-label = 'Stations']//a[contains(., '{name}')]", name));
    }

    /// <summary>Four rooms beside each other, each dragged from corner to corner.</summary>
    private void DrawRooms(Page page)
    {
        Click(page, "Draw rooms");
        foreach (var (label, x, y) in new[] { ("Kitchen", -200, -150), ("Hall", -40, -150), ("Bath", -200, -20), ("Study", -40, -20) })
        {
            var sheet = page.Find("//*[name() = 'svg'][@aria-label = 'Plan of the site']", "the sheet");
            _acts++;
            new Actions(page.Driver).MoveToElement(sheet, x, y).ClickAndHold().MoveByOffset(60, 40).MoveByOffset(90, 80).Release().Perform();
            page.Find("//*[@role='dialog']", "the form of the room");
            Type(page, "Name", label);
            Click(page, "Add the room");
            page.Find($"//td[normalize-space() = '{label}']", label);
        }
    }

    /// <summary>Two nodes with their parts, and another three like them.</summary>
    private void BuildNodes(Page page)
    {
        Station(page, "Bench");
        NewNode(page, "Kitchen air", ["bme280", "reed", "am312"]);
        Duplicate(page, "Kitchen air", "Kitchen air 2");
        Duplicate(page, "Kitchen air 2", "Kitchen air 3");
        NewNode(page, "Bath damp", ["sht3", "reed"], first: false);
        Duplicate(page, "Bath damp", "Bath damp 2");
        // One of them gets one part more: fourteen.
        Click(page, "Add a part");
        Search(page, "bh1750");
        _acts++;
        page.Tap(() => page.Find("//*[@role='dialog']//li//button[contains(., 'BH1750')]", "the light sensor"));
        page.UntilSees("placed");
    }

    private void NewNode(Page page, string name, string[] parts, bool first = true)
    {
        Click(page, "New node");
        Type(page, "Name", name);
        Click(page, "Add the node");
        page.Until(() => page.Driver.FindElements(By.XPath("//*[@role='dialog']")).Count == 0, $"{name} is there");
        Click(page, "Add a part");
        foreach (var part in parts)
        {
            Search(page, part);
            _acts++;
            page.Tap(() => page.Find("(//*[@role='dialog']//button[starts-with(@aria-label, 'Collect ')])[1]", part));
        }
        _acts++;
        page.Tap(() => page.Find("//*[@data-tray]//button[starts-with(normalize-space(), 'Place ') and not(@disabled)]", "all of them"));
        page.Until(() => page.Driver.FindElements(By.XPath("//*[@role='dialog']")).Count == 0, $"the parts of {name} are placed");
    }

    private void Search(Page page, string part)
    {
        _fields++;
        _keys += part.Length;
        page.Until(() => page.Driver.FindElements(By.XPath("//input[@aria-label = 'Search the parts']")).Count == 1, "the search");
        var field = page.Find("//input[@aria-label = 'Search the parts']", "the search");
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(part);
    }

    private void Duplicate(Page page, string name, string next)
    {
        Click(page, $"Duplicate {name}");
        page.Find($"//nav[@aria-label = 'Nodes']//a[@aria-current = 'page'][contains(., '{next}')]", next);
    }

    private void TellOf(Page page)
    {
        Click(page, "People");
        Click(page, "New person");
        Type(page, "Name", "Robin");
        Type(page, "Address 1", "robin@house.example");
        Click(page, "Add");
        page.Find("//*[@data-person]", "the person");
        Click(page, "New rule");
        page.UntilSees("Tell me when");
        Type(page, "Name", "Kitchen too warm");
        Type(page, "Limit, °C", "26");
        Type(page, "Over at, °C", "25");
        _acts++;
        page.Check("Robin");
        Click(page, "Add and arm");
        page.Until(() => page.Driver.FindElements(By.XPath("//*[@role='dialog']")).Count == 0, "the rule is armed");
    }

    private void MakeView(Page page)
    {
        Click(page, "First view");
        Click(page, "Keep this view");
    }
}
