using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>Two nodes from the first wire to the label, on a phone beside the soldering iron, by touch.</summary>
public sealed class FullBringUpTests(Demo demo) : IClassFixture<Demo>
{
    /// <summary>What happens in the world: a hand warms a probe, a window is opened.</summary>
    private static void World(Page page, string address, object body) =>
        Assert.Equal(
            "",
            page.Driver.ExecuteAsyncScript(
                """
                const [address, body, done] = arguments;
                const headers = (s) => ({ "Content-Type": "application/json", "X-Cenotic-Token": s.token });
                fetch("/api/session").then((r) => r.json()).then((s) => fetch(address, { method: "PUT", headers: headers(s), body }))
                  .then(async (r) => done(r.ok ? "" : await r.text()), (e) => done(String(e)));
                """,
                address,
                System.Text.Json.JsonSerializer.Serialize(body)
            )
        );

    private static void StandIn(Page page, string node, bool scanning, string? warmPart = null, bool trip = false) =>
        World(
            page,
            $"/api/sites/fernhollow/stand-ins/{node}",
            new
            {
                silenced = false,
                heatCelsius = 0,
                trip,
                unplugged = false,
                jammed = false,
                lossPercent = 0,
                skewSeconds = 0,
                cells = (double?)null,
                scanning,
                warmPart,
            }
        );

    /// <summary>Taps through the steps of building; each is what it should be.</summary>
    private static int Build(Page page, string node)
    {
        page.Go($"bring-up/{node}");
        var taps = 0;
        for (; ; taps++)
        {
            var done = page.Find("//*[@data-build]//*[@role='progressbar']", "how far it is");
            if (done.GetAttribute("aria-valuenow") == done.GetAttribute("aria-valuemax"))
            {
                return taps;
            }
            Assert.True(taps < 100, "the steps come to an end");
            var before = done.GetAttribute("aria-valuenow");
            page.Tap(() =>
                page.Find(
                    "//*[@data-build]//article//button[normalize-space() = 'Within that' or normalize-space() = 'Soldered' or normalize-space() = 'Done']",
                    "the answer"
                )
            );
            page.Until(() => page.Find("//*[@data-build]//*[@role='progressbar']", "how far it is").GetAttribute("aria-valuenow") != before, "a step is done");
        }
    }

    [Fact]
    public void A_list_that_comes_before_the_answer_to_a_tap_skips_no_step()
    {
        using var page = demo.Open(390, 844);
        page.SignIn();
        // The answer to a tap is held back until the list with that step done was asked for anew.
        page.Driver.ExecuteCdpCommand(
            "Page.addScriptToEvaluateOnNewDocument",
            new()
            {
                ["source"] = """
                const own = window.fetch;
                window.fetch = async (request, ...rest) => {
                  const answer = await own(request, ...rest);
                  if (request.method === "POST" && request.url.endsWith("/build")) await new Promise((go) => (window.letAnswerCome = go));
                  return answer;
                };
                """,
            }
        );
        page.Go("bring-up/kiln");
        IWebElement Progress() => page.Find("//*[@data-build]//*[@role='progressbar']", "how far it is");
        IWebElement Step() => page.Find("//*[@data-build]//article", "the step");
        Assert.Equal("0", Progress().GetAttribute("aria-valuenow"));
        page.Tap(() => page.Find("//*[@data-build]//article//button[normalize-space() = 'Done']", "the answer"));
        page.Until(() => (bool)page.Driver.ExecuteScript("return !!window.letAnswerCome")!, "the tap was answered");
        page.Until(
            () =>
            {
                page.Driver.ExecuteScript("for (const line of ['offline', 'online']) window.dispatchEvent(new Event(line))");
                return Progress().GetAttribute("aria-valuenow") == "1";
            },
            "the list is asked for anew"
        );
        page.Driver.ExecuteScript("window.letAnswerCome()");
        page.Until(() => Step().FindElements(By.CssSelector("button:not([disabled])")).Count > 0, "the next answer can be tapped");
        Assert.Contains("STEP 2", Step().Text, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public void From_the_first_wire_to_the_label_and_the_log_tells_the_story()
    {
        using var page = demo.Open(390, 844, touch: true);
        page.SignIn();
        Assert.True(Build(page, "drying") > 20);
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());

        StandIn(page, "drying", scanning: true);
        page.Go("bring-up/drying?view=scan");
        page.Click("Name them by warming one");
        foreach (var probe in new[] { 2, 1 })
        {
            page.UntilSees("Hold one probe in your hand");
            StandIn(page, "drying", scanning: true, $"rack{probe}");
            page.UntilSees("This one is warm: which is it?");
            page.Click($"Rack probe {probe}");
        }
        page.UntilGone("This one is warm");
        Assert.Empty(page.AxeFaults());
        StandIn(page, "drying", scanning: false);

        page.Go("bring-up/drying?view=calibration");
        page.Click("Calibrate");
        page.Choose("How", "two points");
        foreach (var (showed, truth) in new[] { ("0.4", "0"), ("99.1", "100") })
        {
            page.Type("Or typed", showed);
            page.Type("In truth", truth);
            page.Click("Take this point");
        }
        page.UntilSees("Beyond the points it is a guess.");
        page.Type("Held against", "ice and steam");
        page.Click("Put it in force");
        page.UntilSees("1 so far");

        page.Go("bring-up/drying?view=first");
        page.UntilSees("can be true");
        page.Go("bring-up/drying?view=label");
        page.UntilSees("fernhollow/drying, settings");

        Assert.True(Build(page, "landing") > 15);
        StandIn(page, "landing", scanning: true);
        page.Go("bring-up/landing?view=scan");
        page.UntilSees("As planned");
        StandIn(page, "landing", scanning: false);
        page.Go("bring-up/landing?view=first");
        page.Tap(() => page.Find("(//*[@data-first]//button[contains(normalize-space(), 'Prove it by doing it')])[1]", "what proves it"));
        page.UntilSees("Open it now, then close it");
        World(page, "/api/sites/fernhollow/speed", new { speed = 10 });
        StandIn(page, "landing", scanning: false, trip: true);
        page.Find("(//*[@data-first]//li[@data-reading])[1][contains(., 'proven') and not(contains(., 'not proven'))]", "the contact, proven");
        World(page, "/api/sites/fernhollow/speed", new { speed = 1 });
        page.Go("bring-up/landing?view=label");
        page.UntilSees("fernhollow/landing, settings");
        Assert.Empty(page.AxeFaults());

        page.Go("log");
        foreach (
            var (search, told) in new[]
            {
                ("Solder Air", "Solder Air sensor"),
                ("Rack probe 2 28", "Rack probe 2"),
                ("ice and steam", "calibrated against ice and steam"),
                ("proven", "proven by doing it"),
                ("1 addresses, 4 codes", "1 addresses, 4 codes"),
            }
        )
        {
            page.Type("Search", search);
            page.UntilSees(told);
        }
        Assert.False(page.Overflows());
        Assert.Empty(page.ConsoleErrors());
    }
}
