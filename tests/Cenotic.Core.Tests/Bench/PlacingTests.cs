using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.Bench;

public class PlacingTests
{
    public static TheoryData<string> Parts => [.. Samples.Catalogue.Parts.Select(p => p.Id)];

    private static SiteDesign Place(SiteDesign site, Part part) => EditBatch.Apply(site, Placing.Of(site.Node("n")!, part).Edits).Value.After;

    [Theory]
    [MemberData(nameof(Parts))]
    public void Every_part_of_the_catalogue_is_placed_three_times_with_readings_it_keeps_up_with(string id)
    {
        var part = Samples.Catalogue.Part(id)!;
        var node = Place(Place(Place(Samples.Site(Samples.Node()), part), part), part).Node("n")!;
        Assert.Equal(3, node.Parts.Select(p => p.Label).Distinct().Count());
        var first = part.Interfaces.FirstOrDefault()?.Quantities;
        var wanted = part.Quantities.Count(q => first is null || first.Contains(q.Quantity));
        Assert.Equal(3 * wanted, node.Readings.Count);
        // The whole band of its least interval, not its likely value alone.
        Assert.All(node.Readings, r => Assert.True(r.LongestGapMs >= (part.MinIntervalMs?.High ?? 0), $"{id}: {r.Key} each {r.LongestGapMs} ms"));
    }

    [Fact]
    public void A_slow_part_is_not_asked_each_minute()
    {
        var slow = Samples.Catalogue.Part("bme280")! with { MinIntervalMs = new Fact(150_000, 200_000, 300_000, "made up for this test", Confidence.Typical) };
        Assert.All(Placing.Of(Samples.Node(), slow).Edits.OfType<PutReading>(), e => Assert.Equal(300_000, e.Reading.IntervalMs));
    }

    /// <summary>Several at once are as one after the other, and what they would take of the node is what they take once they are there.</summary>
    [Fact]
    public void Parts_that_are_placed_together_are_as_placed_singly_and_take_what_was_said()
    {
        var chance = new Random(23);
        var catalogue = Samples.Catalogue;
        var pool = catalogue.Parts.Where(p => p.Interfaces.Count > 0).ToList();
        var (fitted, refused) = (0, 0);
        for (var n = 0; n < 60; n++)
        {
            var site = Samples.Site(Samples.Node(("air", "bme280")));
            List<Part> parts = [.. Enumerable.Range(0, chance.Next(1, 7)).Select(_ => pool[chance.Next(pool.Count)])];
            var tried = Placing.Try(site, site.Node("n")!, catalogue, parts);
            var together = EditBatch.Apply(site, tried.Edits).Value.After;
            var singly = parts.Aggregate(site, Place);
            Assert.Equal(Text(singly.Node("n")), Text(together.Node("n")));
            var (before, after) = (
                SitePlanner.Plan(site, catalogue, Evidence.None).Node("n")!.Bench,
                SitePlanner.Plan(together, catalogue, Evidence.None).Node("n")!.Bench
            );
            var stops = after.Findings.Any(f => f.Severity == Severity.Stop) || !after.Complete;
            Assert.Equal(!stops, tried.Then!.Fits);
            Assert.Equal(stops, tried.Then.Why is not null);
            Assert.Equal(Wires(after) - Wires(before), tried.Then.Wires);
            Assert.Equal(after.Helpers.Count(h => h.Added), tried.Then.Modules.Count);
            Interlocked.Add(ref fitted, stops ? 0 : 1);
            Interlocked.Add(ref refused, stops ? 1 : 0);
        }
        Assert.True(fitted > 10 && refused > 3, $"{fitted} fit, {refused} do not");

        static int Wires(BenchPlan plan) => plan.Wires.Count(w => w.Form == WireForm.Wire);
    }

    /// <summary>Two parts of 3.20 and a pack of ten for 4.00, one part that nobody offers.</summary>
    [Fact]
    public void The_price_is_that_of_the_cheapest_offers_and_says_what_it_leaves_out()
    {
        var site = Samples.Site(Samples.Node()) with
        {
            Stock = [new("bme280", 0, [new("one", 1, 3.20, 2), new("other", 1, 5, 2)]), new("reed-contact", 0, [new("one", 10, 4.00, 2)])],
        };
        var parts = new[] { "bme280", "bme280", "reed-contact", "pir-am312" }.Select(p => Samples.Catalogue.Part(p)!).ToList();
        var then = Placing.Try(site, site.Node("n")!, Samples.Catalogue, parts).Then!;
        Assert.Equal((6.80, 1), (Math.Round(then.Price!.Value, 6), then.Unpriced));
        Assert.Null(Placing.Try(site with { Stock = [] }, site.Node("n")!, Samples.Catalogue, parts).Then!.Price);
    }

    private static string Text(object? thing) => System.Text.Json.JsonSerializer.Serialize(thing, CenoticJson.Options);
}
