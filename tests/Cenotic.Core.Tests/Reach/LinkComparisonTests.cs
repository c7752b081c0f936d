using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Core.Tests.Reach;

/// <summary>Links as they would be, against the plan of the site after the change.</summary>
public class LinkComparisonTests
{
    private static readonly SiteDesign Site = Samples.Fernhollow().Design;

    private static SitePlan Plan(SiteDesign site) => SitePlanner.Plan(site, Samples.Catalogue, Evidence.None);

    private static LinkComparison Compare(string node, SiteDesign? site = null) =>
        LinkComparison.Of(site ?? Site, Samples.Catalogue, Evidence.None, node, Plan(site ?? Site).Node(node)!.Bench);

    private static SiteDesign After(IReadOnlyList<DesignEdit> edits) => EditBatch.Apply(Site, edits).Value.After;

    [Theory]
    [InlineData("cistern", 5)]
    [InlineData("hall", 5)]
    [InlineData("kiln", 5)]
    [InlineData("rain", 2)]
    public void A_radio_that_is_compared_is_what_the_plan_says_once_it_is_taken(string node, int radios)
    {
        var choices = Compare(node).Radios;
        Assert.Equal(radios, choices.Count);
        Assert.Equal([true, .. Enumerable.Repeat(false, radios - 1)], choices.Select(c => c.IsNow));
        Assert.All(choices, choice =>
        {
            var plan = Plan(choice.IsNow ? Site : After(choice.Edits));
            var link = plan.Reach.Links.Single(l => l.Node == node);
            Assert.Equal(
                (link.Margin.Value, link.Delivered.Value, link.Receiver),
                (choice.Link.Margin.Value, choice.Link.Delivered.Value, choice.Link.Receiver)
            );
            var life = plan.Node(node)!.Rhythm.Life?.Value;
            Assert.Equal(life is null, choice.Life is null);
            // Before its pins are planned it is not known what the planner adds.
            Assert.Equal(life ?? 0, choice.Life?.Value ?? 0, 0.03 * (life ?? 0));
            Assert.Equal(plan.Node(node)!.Bench.Complete, choice.FindsPins);
        });
    }

    [Fact]
    public void Who_hears_them_is_tried_at_each_free_spot_and_the_best_comes_first()
    {
        var (x, y) = (13.0, 2.0);
        var far = new Spot("field", "Far field", null, 400, 400, 0.3, 0);
        var near = new Spot("middle", "Middle", "pottery", x, y, 2, 0);
        var site = EditBatch.Apply(Site, [new PutSpot(far), new PutSpot(near)]).Value.After;
        var spots = Compare("kiln", site).Spots;
        Assert.Equal(["kitchen-sill", "middle", "kiln-shelf", "field"], spots.Select(s => s.Spot));
        Assert.Equal([true, false, false, false], spots.Select(s => s.IsNow));
        foreach (var spot in spots)
        {
            var plan = Plan(spot.IsNow ? site : EditBatch.Apply(site, spot.Edits).Value.After);
            var links = plan.Reach.Links.Where(l => l.Receiver == "gateway").ToList();
            Assert.Equal((links.Count, links.Count(l => l.Verdict == LinkVerdict.Good)), (spot.Of, spot.Good));
            Assert.Equal(links.Min(l => l.Margin.Value), spot.Weakest.Value);
        }
        Assert.True(spots[1].Weakest.Value > spots[^1].Weakest.Value);
    }

    [Fact]
    public void An_access_point_is_tried_too_and_a_node_that_sends_by_no_radio_has_no_choice()
    {
        var site = EditBatch.Apply(Site, [new PutSpot(new("loft", "Loft", "landing", 2, 3, 2.4, 0))]).Value.After;
        var loft = Compare("hall", site).Spots.Single(s => s.Spot == "loft");
        Assert.Equal([new PutAccessPoint(Site.Place.AccessPoints[0] with { Spot = "loft" })], loft.Edits);
        var glaze = Compare("glaze");
        Assert.Empty(glaze.Radios.Concat<object>(glaze.Spots));
    }

    [Fact]
    public void A_gateway_keeps_the_module_that_others_are_heard_by()
    {
        var second = Site.Node("gateway")! with { Key = "second", Label = "Second", Spot = "hall-wall" };
        var site = EditBatch.Apply(Site, [new PutNode(second)]).Value.After;
        Assert.All(Compare("gateway", site).Radios.SelectMany(r => r.Edits), e => Assert.IsNotType<RemovePart>(e));
        Assert.Contains(Compare("cistern").Radios.SelectMany(r => r.Edits), e => e is RemovePart { Key: "radio" });
    }

    [Fact]
    public void A_node_that_is_not_there_is_refused() =>
        Assert.Throws<ArgumentException>(() => LinkComparison.Of(Site, Samples.Catalogue, Evidence.None, "nobody", Plan(Site).Nodes[0].Bench));
}
