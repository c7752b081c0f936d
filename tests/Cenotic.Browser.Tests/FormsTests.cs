using System.Text.Json;

namespace Cenotic.Browser.Tests;

/// <summary>A form that is opened and saved changes nothing: what it shows is what there is, to the last second.</summary>
public sealed class FormsTests(Demo demo) : IClassFixture<Demo>
{
    private static readonly int[] Times = [12_500, 61_000, 90_000, 130_000, 599_000];

    /// <summary>Runs a script that ends with a promise, and gives what comes of it.</summary>
    private static string Asked(Page page, string script, params object[] arguments) =>
        (string)
            page.Driver.ExecuteAsyncScript(
                $"const done = arguments[arguments.length - 1]; (async (...arguments) => {{ {script} }})(...arguments).then(done, e => done('failed: ' + e));",
                arguments
            )!;

    private static string Design(Page page) =>
        Asked(page, "const site = await (await fetch('/api/sites/fernhollow')).json(); return JSON.stringify(site.design);");

    /// <summary>Gives every duration of rules and zones, and of the outputs of the drying room, another value.</summary>
    private static void Scatter(Page page, int seed)
    {
        var answer = Asked(
            page,
            """
            const [times, seed] = [arguments[0], arguments[1]];
            const site = await (await fetch('/api/sites/fernhollow')).json(), token = (await (await fetch('/api/session')).json()).token;
            let n = seed;
            const names = ['forMs', 'withinMs', 'afterMs', 'remindEveryMs', 'exitMs', 'entryMs', 'soundMs', 'holdOffMs', 'soundAfterMs', 'awayMs'];
            const walk = o => {
              for (const k of Object.keys(o)) {
                if (names.includes(k) && o[k] > 0) o[k] = k === 'remindEveryMs' ? 3_723_000 : times[n++ % times.length];
                else if (o[k] && typeof o[k] === 'object') walk(o[k]);
              }
              return o;
            };
            const edits = [...site.design.rules.map(rule => ({ kind: 'putRule', rule: walk(rule) })),
              ...site.design.zones.map(zone => ({ kind: 'putZone', zone: walk(zone) }))];
            const drying = site.design.nodes.find(x => x.key === 'drying');
            for (const reading of drying.readings.filter(r => r.output)) {
              const output = { ...reading.output, maxOnMs: 3_723_000, serverSilentMs: 610_000 };
              edits.push({ kind: 'putReading', node: 'drying', reading: { ...reading, output } });
            }
            const put = await fetch('/api/sites/fernhollow/edits', {
              method: 'POST', headers: { 'Content-Type': 'application/json', 'X-Cenotic-Token': token },
              body: JSON.stringify({ revision: site.revision, edits }),
            });
            return put.ok ? 'put' : JSON.stringify(await put.json());
            """,
            Times,
            seed
        );
        Assert.Equal("put", answer);
    }

    [Fact]
    public void Every_rule_zone_and_output_that_is_opened_and_saved_is_as_before()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        for (var seed = 0; seed < Times.Length; seed += 2)
        {
            Scatter(page, seed);
            var before = Design(page);
            using var design = JsonDocument.Parse(before);
            page.Go("alerts?view=rules");
            foreach (var rule in design.RootElement.GetProperty("rules").EnumerateArray().Select(r => r.GetProperty("label").GetString()!))
            {
                SaveAsItIs(page, $"Edit {rule}");
            }
            page.Go("alerts?view=zones");
            foreach (var zone in design.RootElement.GetProperty("zones").EnumerateArray().Select(z => z.GetProperty("label").GetString()!))
            {
                SaveAsItIs(page, $"Edit {zone}");
            }
            Assert.Equal(before, Design(page));
        }
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>Pages of the demo and the buttons on them that open a form of something that is there.</summary>
    private static IEnumerable<(string Page, string Opens)> Forms(JsonElement design)
    {
        const string Named = "//main//button[starts-with(@aria-label, 'Edit ')]",
            Edit = "//main//button[normalize-space() = 'Edit']";
        yield return ("place", "//main//button[normalize-space() = 'Site']");
        yield return ("place", Edit);
        foreach (var node in design.GetProperty("nodes").EnumerateArray().Select(n => n.GetProperty("key").GetString()!))
        {
            yield return ($"bench/{node}", "//main//button[normalize-space() = 'Board, supply, radio']");
            yield return ($"bench/{node}", Edit);
            yield return ($"bench/{node}?view=parts", "//main//button[starts-with(@aria-label, 'Stock of')]");
            yield return ($"rhythm/{node}", "//main//button[starts-with(@aria-label, 'What ') and contains(@aria-label, ' switches')]");
            yield return ($"rhythm/{node}?view=air", "//main//button[normalize-space() = 'How it sends']");
            yield return ($"rhythm/{node}?view=light", "//main//button[normalize-space() = 'Change it']");
        }
        yield return ("watch", Named);
        yield return ("watch", "//main//button[starts-with(normalize-space(), 'Set up ')]");
        foreach (var view in design.GetProperty("views").EnumerateArray().Select(v => v.GetProperty("key").GetString()!))
        {
            yield return ($"watch/{view}", "arrange " + Named);
            yield return ($"watch/{view}", "arrange //main//button[normalize-space() = 'Name']");
        }
        yield return ("alerts?view=people", Named);
    }

    /// <summary>Gives how each node sends, and what is worked out over time, values that nobody would round to.</summary>
    private static void ScatterNodes(Page page) =>
        Assert.Equal(
            "put",
            Asked(
                page,
                """
                const site = await (await fetch('/api/sites/fernhollow')).json(), token = (await (await fetch('/api/session')).json()).token;
                const draw = (low, high, step) => Number((low + Math.floor(Math.random() * (high - low) / step) * step).toPrecision(12));
                const edits = site.design.nodes.map(n => ({
                  kind: 'setNode', node: n.key, label: n.label, spot: n.spot, board: n.board, power: n.power, link: n.link, sleeps: n.sleeps,
                  measuresSupply: n.measuresSupply, addsModules: n.addsModules, housing: n.housing, via: n.via, correctsItself: n.correctsItself,
                  sending: {
                    acknowledged: Math.random() < 0.5, mostTries: draw(1, 9, 1), deliveredShare: draw(0.31, 0.99, 0.001),
                    hearsTime: n.sending?.hearsTime ?? false,
                    clockPpm: draw(1, 90, 0.1), resyncMs: draw(61_000, 7_200_000, 500), jitterMs: draw(0.5, 40, 0.1), bufferBytes: draw(300, 900, 1),
                    mostFields: draw(3, 30, 1), leastSpacingMs: draw(1_500, 59_000, 500),
                  },
                }));
                for (const derived of site.design.derived) {
                  const from = { ...derived.from };
                  for (const k of ['holdMs', 'withinMs']) if (from[k]) from[k] = draw(601_000, 1_799_000, 1000);
                  edits.push({ kind: 'putDerived', derived: { ...derived, from } });
                }
                const put = await fetch('/api/sites/fernhollow/edits', {
                  method: 'POST', headers: { 'Content-Type': 'application/json', 'X-Cenotic-Token': token },
                  body: JSON.stringify({ revision: site.revision, edits }),
                });
                return put.ok ? 'put' : JSON.stringify(await put.json());
                """
            )
        );

    /// <summary>Of each form the first three of its kind on a page: they share their code, and the page stays the same.</summary>
    [Fact]
    public void Every_form_of_the_design_that_is_opened_and_saved_changes_nothing()
    {
        const int EachTime = 3;
        using var page = demo.Open(1280, 800);
        page.SignIn();
        ScatterNodes(page);
        var before = Design(page);
        using var design = JsonDocument.Parse(before);
        var saved = 0;
        foreach (var (at, opens) in Forms(design.RootElement))
        {
            page.Go(at);
            var xpath = opens.Replace("arrange ", "", StringComparison.Ordinal);
            if (xpath != opens)
            {
                page.Click("Arrange");
            }
            var count = page.Driver.FindElements(OpenQA.Selenium.By.XPath(xpath)).Count(e => e.Displayed);
            for (var n = 0; n < Math.Min(count, EachTime); n++)
            {
                var which = n;
                page.Tap(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath(xpath)).Where(e => e.Displayed).ElementAt(which));
                page.Find("//*[@role='dialog']", "the dialog");
                page.Click("Save");
                page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, $"form {n + 1} of {at} is saved");
                saved++;
            }
            Assert.True(before == Design(page), $"Saved as it was, a form of {at} ({xpath}) changed {Changed(before, Design(page))}");
        }
        Assert.True(saved >= 60, $"only {saved} forms");
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>Where two texts part, with what stands there.</summary>
    private static string Changed(string before, string after)
    {
        var at = before.Zip(after).TakeWhile(p => p.First == p.Second).Count();
        string Around(string text) => text[Math.Max(0, at - 80)..Math.Min(text.Length, at + 80)];
        return $"{Around(before)} to {Around(after)}";
    }

    private static void SaveAsItIs(Page page, string edit)
    {
        page.Click(edit);
        page.Find("//*[@role='dialog']", "the dialog");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, $"\"{edit}\" is saved");
    }
}
