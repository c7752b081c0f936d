using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>Each finding of what a node says of itself: with what makes it appear and what makes it go.</summary>
public class NodeReportsTests
{
    private static readonly NodeDesign Node = Samples.Node(("air", "bme280")) with { Readings = [Samples.Every("t", "air", "temperature", 60_000)] };
    private static readonly NodeSettings Now = Settings(Node);
    private static readonly NodeReport Fine = new(1, 4, "1.2", Now.Hash, "power", 3.31, 120_000);
    private static readonly NodeHistory Well = new(Fine, [1], 0, [60_000, 60_100, 59_900, 60_000, 60_000], 100, Now.Lines());

    private static NodeSettings Settings(NodeDesign node)
    {
        var plan = SitePlanner.Plan(Samples.Site(node), Samples.Catalogue, Evidence.None);
        return NodeSettings.Of(node, plan.Nodes[0].Bench, plan.Nodes[0].Rhythm, Samples.Catalogue, null);
    }

    private static IReadOnlyList<Finding> Judge(NodeHistory history)
    {
        var plan = SitePlanner.Plan(Samples.Site(Node), Samples.Catalogue, Evidence.None).Nodes[0];
        return NodeReports.Judge(Node, Now, plan.Bench, plan.Rhythm, history);
    }

    [Fact]
    public void Nothing_speaks_against_a_node_that_runs_the_plan() => Assert.Empty(Judge(Well));

    [Fact]
    public void One_that_never_said_what_it_runs_is_named_and_one_that_was_never_heard_too()
    {
        Assert.Equal(
            ("NODE-UNREPORTED", Severity.Note, "Node sends, but has never said which settings it runs."),
            Only(Well with { Newest = null, Ran = null })
        );
        Assert.Equal("Node was never heard.", Only(new(null, [], 0, [], 0, null)).What);
        Assert.Equal("NODE-UNREPORTED", Only(Well with { Newest = Fine with { Settings = null } }).Code);
    }

    [Fact]
    public void Another_plan_than_the_one_on_the_screen_says_what_differs()
    {
        var old = Settings(Node with { Parts = [Node.Parts[0] with { Address = 0x77 }], Readings = [Node.Readings[0] with { IntervalMs = 300_000 }] });
        var finding = Assert.Single(Judge(Well with { Newest = Fine with { Settings = old.Hash }, Ran = old.Lines() }));
        Assert.Equal(("NODE-OTHER-PLAN", Severity.Risk), (finding.Code, finding.Severity));
        Assert.Contains("Address of air: 0x77 there, 0x76 in the plan", finding.Why);
        Assert.Contains("Interval of t: 5 min there, 60 s in the plan", finding.Why);
        Assert.Contains("not known", Assert.Single(Judge(Well with { Newest = Fine with { Settings = "00000000" }, Ran = null })).Why);
    }

    [Fact]
    public void A_value_that_node_and_server_would_both_correct_is_a_stop()
    {
        var ran = Now.Lines().Append("correction.t=1.02 -0.5").ToList();
        var finding = Assert.Single(Judge(Well with { Ran = ran }));
        Assert.Equal(
            ("NODE-CORRECTS-TOO", Severity.Stop, "Node runs a program that corrects t; by the plan the server does."),
            (finding.Code, finding.Severity, finding.What)
        );
        var plan = SitePlanner.Plan(Samples.Site(Node), Samples.Catalogue, Evidence.None).Nodes[0];
        Assert.Empty(NodeReports.Judge(Node with { CorrectsItself = true }, Now, plan.Bench, plan.Rhythm, Well with { Ran = ran }));
    }

    [Fact]
    public void Restarts_are_named_with_the_peak_of_the_plan_and_a_brown_out_by_its_name()
    {
        Assert.Empty(Judge(Well with { Starts = [1, 2] }));
        var finding = Assert.Single(Judge(Well with { Starts = [1, 2, 3] }));
        Assert.Equal("NODE-RESTARTS", finding.Code);
        // The peak of the board's rail by the plan itself.
        var rail = Samples.Plan(Node).Rails.MaxBy(r => r.Peak.Value)!;
        Assert.Contains($"up to {rail.Peak.Value:0} mA at once on {rail.Label}", finding.Why);
        Assert.Equal(
            ("NODE-BROWN-OUT", Severity.Risk, "Node restarted once within the hour because its supply fell too low."),
            Only(Well with { BrownOuts = 1 })
        );
    }

    [Fact]
    public void Slower_than_planned_is_told_by_the_usual_gap_not_by_one_long_one()
    {
        Assert.Empty(Judge(Well with { GapsMs = [60_000, 60_000, 60_000, 60_000, 3_600_000] }));
        Assert.Empty(Judge(Well with { GapsMs = [300_000, 300_000] }));
        var finding = Assert.Single(Judge(Well with { GapsMs = [300_000, 300_000, 300_000, 300_000, 60_000] }));
        Assert.Equal(("NODE-SLOW", "Node sends every 5 min; planned is every 60 s."), (finding.Code, finding.What));
    }

    private static (string Code, Severity Severity, string What) Only(NodeHistory history)
    {
        var finding = Assert.Single(Judge(history));
        return (finding.Code, finding.Severity, finding.What);
    }
}
