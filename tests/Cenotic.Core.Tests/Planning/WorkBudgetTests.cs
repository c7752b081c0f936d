using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.Planning;

/// <summary>No design that the limits allow makes a plan without end; what fits the budget fits it each time.</summary>
public class WorkBudgetTests
{
    private static readonly string[] Boards = ["esp32-dev-38", "rp2040-wifi-40", "esp8266-mini-16", "esp32-s3-dev-44"];
    private static readonly string[] OnI2c =
    [
        .. Samples.Catalogue.Parts.Where(p => p.Interfaces.Any(i => i.Kind == InterfaceKind.I2c)).Select(p => p.Id).Order(StringComparer.Ordinal),
    ];

    private static NodeDesign Full(string key, string board, IEnumerable<string> parts, double lead = 1, bool varied = false)
    {
        var instances = parts.Select((p, i) => new PartInstance($"p{i}", $"p{i}", p, LeadMetres: varied ? lead + i * 0.01 : lead)).ToList();
        var readings = instances.SelectMany(
            (p, i) =>
                Samples
                    .Catalogue.Part(p.Part)!
                    .Quantities.Take(2)
                    .Select((q, n) => new ReadingDesign($"r{i}-{n}", $"r{i}-{n}", p.Key, q.Quantity, 60_000 + i * 1_000, null, 1))
        );
        return new(key, key, null, board, new PowerDesign(PowerKind.Usb), LinkKind.Wifi, true, false, instances, [], [.. readings]) { AddsModules = true };
    }

    public static TheoryData<string> Worst =>
        ["probes on long leads", "every part that speaks I2C", "a hundred motion sensors", "every part of the catalogue", "probes that all differ"];

    private static IEnumerable<string> PartsOf(string worst) =>
        worst switch
        {
            "every part that speaks I2C" => OnI2c,
            "a hundred motion sensors" => Enumerable.Repeat("pir-am312", DesignLimits.PartsOfNode),
            "every part of the catalogue" => Samples.Catalogue.Parts.Select(p => p.Id),
            _ => Enumerable.Repeat("ds18b20", DesignLimits.PartsOfNode),
        };

    [Theory]
    [MemberData(nameof(Worst))]
    public void The_worst_designs_take_no_more_steps_than_they_may(string worst)
    {
        var nodes = Boards.Select((b, i) => Full($"n{i}", b, PartsOf(worst), 10, worst == "probes that all differ")).ToList();
        var memory = new PlanMemory();
        var site = SiteDesign.Empty("Test site") with { Nodes = [.. nodes, Full("good", "esp32-dev-38", ["bme280"])] };
        var plan = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None, memory: memory);
        // A step is counted before it is taken, so that the last one may stand over the budget.
        Assert.InRange(memory.Steps, 1, site.Nodes.Count * (SitePlanner.MostStepsOfNode + DesignLimits.PartsOfNode + 10));
        Assert.True(plan.Node("good")!.Bench.Complete, "the node beside them is planned");
        Assert.Equal(site.Nodes.Count, plan.Nodes.Count);
    }

    [Fact]
    public void Many_nodes_share_what_a_site_may_take()
    {
        var site = SiteDesign.Empty("Test site") with { Nodes = [.. Enumerable.Range(0, 60).Select(i => Full($"n{i}", Boards[i % Boards.Length], OnI2c))] };
        var memory = new PlanMemory();
        var plan = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None, memory: memory);
        Assert.InRange(memory.Steps, SitePlanner.MostStepsOfSite / 4, SitePlanner.MostStepsOfSite + site.Nodes.Count * 200);
        // One of the boards has so few pins that it is soon known what cannot be.
        Assert.InRange(plan.Findings.Count(f => f.Code == "BENCH-TOO-MUCH"), 45, 60);
    }

    [Fact]
    public void Too_much_is_said_of_the_node_and_goes_when_its_parts_are_fewer()
    {
        var much = Full("n", "esp32-dev-38", OnI2c.Take(18));
        var finding = Assert.Single(SitePlanner.Plan(Samples.Site(much), Samples.Catalogue, Evidence.None).Findings, f => f.Code == "BENCH-TOO-MUCH");
        Assert.Equal(Severity.Stop, finding.Severity);
        Assert.Contains("too much to plan: its 18 parts", finding.What);
        Assert.DoesNotContain(SitePlanner.Plan(Samples.Site(Full("n", "esp32-dev-38", OnI2c.Take(9))), Samples.Catalogue, Evidence.None).Findings, f =>
            f.Code == "BENCH-TOO-MUCH"
        );
    }

    [Fact]
    public void A_plan_with_a_memory_is_the_plan_without_also_where_the_budget_decides()
    {
        var site = SiteDesign.Empty("Test site") with { Nodes = [Full("a", "esp32-dev-38", OnI2c.Take(16)), Full("b", "esp32-dev-38", OnI2c.Take(12))] };
        // 2,000,000 steps for each of two nodes are enough for sixteen parts; what is left for each of forty is not.
        var crowd = site with { Nodes = [.. site.Nodes, .. Enumerable.Range(0, 38).Select(i => Full($"c{i}", "esp32-dev-38", ["bme280"]))] };
        var memory = new PlanMemory();
        foreach (var now in new[] { site, crowd, site, crowd })
        {
            string Said(SitePlan plan) =>
                string.Join("|", plan.Findings.Select(f => $"{f.Code} {f.Subject.Node}"))
                + string.Join("|", plan.Nodes.SelectMany(n => n.Bench.Wires).Select(w => $"{w.Part}.{w.Line}={w.Pin}"));
            Assert.Equal(
                Said(SitePlanner.Plan(now, Samples.Catalogue, Evidence.None)),
                Said(SitePlanner.Plan(now, Samples.Catalogue, Evidence.None, memory: memory))
            );
        }
    }

    [Fact]
    public void A_plan_that_nobody_waits_for_ends()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        Assert.ThrowsAny<OperationCanceledException>(() =>
            SitePlanner.Plan(Samples.Site(Full("n", "esp32-dev-38", OnI2c)), Samples.Catalogue, Evidence.None, stop: stop.Token)
        );
    }

    [Fact]
    public void Equal_probes_on_long_leads_are_planned()
    {
        // 40 leads of 10 m want four lines of 100 m: every way to share them out was gone through once for each order of the probes.
        var plan = SitePlanner.Plan(Samples.Site(Full("n", "esp32-dev-38", Enumerable.Repeat("ds18b20", 40), 10)), Samples.Catalogue, Evidence.None);
        Assert.True(plan.Nodes[0].Bench.Complete);
        Assert.Equal(4, plan.Nodes[0].Bench.Buses.Count(b => b.Kind == InterfaceKind.OneWire));
    }
}
