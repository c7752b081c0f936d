using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Design;

/// <summary>What is beyond all measure is refused with a sentence, wherever in a design it stands.</summary>
public class DesignLimitsTests
{
    private static readonly SiteDesign Demo = Samples.Fernhollow().Design;

    private static string Refusal(SiteDesign site, params DesignEdit[] edits) =>
        string.Join(" ", EditBatch.Apply(site, edits) is { Ok: false } refused ? refused.Reasons : []);

    [Fact]
    public void A_text_of_three_million_letters_is_refused_wherever_it_stands()
    {
        var hall = Demo.Node("hall")!;
        var text = new string('x', 3_000_000);
        Assert.Contains("spot has 3000000 characters", Refusal(Demo, SetNodes.As(hall) with { Spot = text }));
        Assert.Contains("at most 2000", Refusal(Demo, new PutNode(hall with { Board = text })));
        Assert.Contains("at most 2000", Refusal(Demo, new PutReading("hall", hall.Readings[0] with { Quantity = text })));
        Assert.NotEqual("", Refusal(Demo, new RemoveRoom(text)));
    }

    [Fact]
    public void An_element_that_is_missing_is_named()
    {
        Assert.Contains("An edit is missing", Refusal(Demo, [null!]));
        Assert.Contains("has nothing at place 2", Refusal(Demo, new PutNode(Demo.Node("hall")! with { Parts = [Demo.Node("hall")!.Parts[0], null!] })));
        Assert.Contains("has nothing at place 1", Refusal(Demo, new PutDerived(new("sum", "Sum", new PresenceOf([null!], 1000), 1))));
    }

    [Fact]
    public void A_node_holds_a_hundred_parts_and_a_site_two_hundred_nodes()
    {
        NodeDesign Node(string key, int parts) => Samples.Node([.. Enumerable.Range(0, parts).Select(i => ($"p{i}", "ds18b20"))]) with { Key = key };
        Assert.Equal("", Refusal(Demo, new PutNode(Node("new", DesignLimits.PartsOfNode))));
        Assert.Contains("at most 100 parts", Refusal(Demo, new PutNode(Node("new", DesignLimits.PartsOfNode + 1))));
        var full = Demo with { Nodes = [.. Enumerable.Range(0, 200).Select(i => Node($"n{i}", 1))] };
        Assert.Contains("at most 200 nodes", Refusal(full, new PutNode(Node("one-more", 1))));
        Assert.Contains("at most 100 parts", Refusal(full with { Nodes = [Node("n", 100)] }, new PutPart("n", Samples.Part("more", "ds18b20"))));
        // Another one in the place of one, and one less, are always possible.
        Assert.Equal("", Refusal(full, new PutNode(Node("n7", 2)), new RemoveNode("n8")));
    }

    [Fact]
    public void Readings_that_are_worked_out_rest_on_each_other_eight_deep()
    {
        DesignEdit Sum(int n) =>
            new PutDerived(
                new(
                    $"s{n}",
                    $"Sum {n}",
                    new SumOf([new(n == 0 ? new("hall", "temp") : new(DerivedDesign.Node, $"s{n - 1}"), 1), new(new("hall", "light"), 1)], 0),
                    1
                )
            );
        var eight = EditBatch.Apply(Demo, [.. Enumerable.Range(0, DesignLimits.DerivedDepth).Select(Sum)]);
        Assert.True(eight.Ok, string.Join(" ", eight.Ok ? [] : eight.Reasons));
        Assert.Contains("At most 8 readings", Refusal(eight.Value.After, Sum(DesignLimits.DerivedDepth)));
        // Deeper by a change further down is refused too.
        Assert.Contains(
            "At most 8 readings",
            Refusal(
                eight.Value.After,
                new PutDerived(new("base", "Base", new RateOf(new("hall", "temp"), 60_000), 1)),
                new PutDerived(new("s0", "Sum 0", new SumOf([new(new(DerivedDesign.Node, "base"), 1)], 0), 1))
            )
        );
    }
}
