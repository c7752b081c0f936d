using System.Text.Json;

namespace Cenotic.Browser.Tests;

/// <summary>A form that is opened and saved changes nothing: what it shows is what there is, to the last second.</summary>
public sealed class FormsTests(Demo demo) : IClassFixture<Demo>
{
    private static readonly int[] Times = [12_500, 61_000, 90_000, 130_000, 599_000];

    /// <summary>Runs a script that ends with a promise, and gives what comes of it.</summary>
    private static string Asked(Page page, string script, params object[] arguments) =>
        (string)page.Driver.ExecuteAsyncScript($"const done = arguments[arguments.length - 1]; (async (...arguments) => {{ {script} }})(...arguments).then(done, e => done('failed: ' + e));", arguments)!;

    private static string Design(Page page) =>
        Asked(page, "const site = await (await fetch('/api/sites/fernhollow')).json(); return JSON.stringify(site.design);");

    /// <summary>Gives every duration of rules and zones, and of the outputs of the drying room, another value.</summary>
    private static void Scatter(Page page, int seed)
    {
        var answer = Asked(page,
            """
            const [times, seed] = [arguments[0], arguments[1]];
            const site = await (await fetch('/api/sites/fernhollow')).json(), token = (await (await fetch('/api/session')).json()).token;
            let n = seed;
            const names = ['forMs', 'withinMs', 'afterMs', 'remindEveryMs', 'exitMs', 'entryMs', 'soundMs', 'holdOffMs', 'soundAfterMs', 'awayMs'];
            const walk = o => { for (const k of Object.keys(o)) { if (names.includes(k) && o[k] > 0) o[k] = k === 'remindEveryMs' ? 3_723_000 : times[n++ % times.length]; else if (o[k] && typeof o[k] === 'object') walk(o[k]); } return o; };
            const edits = [...site.design.rules.map(rule => ({ kind: 'putRule', rule: walk(rule) })), ...site.design.zones.map(zone => ({ kind: 'putZone', zone: walk(zone) }))];
            const drying = site.design.nodes.find(x => x.key === 'drying');
            for (const reading of drying.readings.filter(r => r.output)) edits.push({ kind: 'putReading', node: 'drying', reading: { ...reading, output: { ...reading.output, maxOnMs: 3_723_000, serverSilentMs: 610_000 } } });
            const put = await fetch('/api/sites/fernhollow/edits', { method: 'POST', headers: { 'Content-Type': 'application/json', 'X-Cenotic-Token': token }, body: JSON.stringify({ revision: site.revision, edits }) });
            return put.ok ? 'put' : JSON.stringify(await put.json());
            """, Times, seed);
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

    private static void SaveAsItIs(Page page, string edit)
    {
        page.Click(edit);
        page.Find("//*[@role='dialog']", "the dialog");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, $"\"{edit}\" is saved");
    }
}
