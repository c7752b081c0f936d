using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

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
}
