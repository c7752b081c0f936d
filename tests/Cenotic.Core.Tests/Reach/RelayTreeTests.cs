using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;
using CsCheck;

namespace Cenotic.Core.Tests.Reach;

/// <summary>The best ways over relays, against every way there is.</summary>
public class RelayTreeTests
{
    private static readonly Gen<NodeDesign> Radios = Gen.Select(
        Gen.Int[0, 2].Select(i => i == 0),
        Gen.Int[0, 3].Select(i => i == 0),
        Gen.Int[0, 2].Select(i => i == 0 ? PowerKind.Cells : PowerKind.Usb),
        Gen.Int[0, 8]
            .Select(i =>
                i switch
                {
                    0 => LinkKind.Wifi,
                    1 => LinkKind.Cable,
                    2 or 3 => LinkKind.Frames,
                    8 => LinkKind.SerialCable,
                    _ => LinkKind.LongRange,
                }
            ),
        Gen.Int[-78, -58],
        Gen.Int[0, 9].Select(i => i == 0 ? 10 : (int?)null),
        (sleeps, relays, power, link, dbm, factor) =>
            Samples.Node(("radio", "lora-sx1276")) with
            {
                Sleeps = sleeps,
                Relays = relays,
                Power = power == PowerKind.Cells ? new(power, "cell-18650") : new(power),
                Link = link,
                Radio = new(PowerDbm: dbm, SpreadingFactor: factor),
            }
    );

    private static NodeDesign Gateway(NodeDesign radio) => radio with { Link = LinkKind.Cable, Sleeps = false };

    private static readonly Gen<Wall> Walls = Gen.Select(
        Gen.Double[0, 60],
        Gen.Double[0, 40],
        Gen.Double[0, 60],
        Gen.Double[0, 40],
        Gen.Enum<WallMaterial>(),
        (x, y, x2, y2, material) => new Wall("w", new(x, y), new(x2, y2), material)
    );

    private static readonly Gen<SiteDesign> Sites = Gen.Select(
        Gen.Select(Radios, Gen.Double[0, 60], Gen.Double[0, 40], Gen.Double[0.5, 5]).Array[2, 8],
        Walls.Array[0, 4],
        (radios, walls) =>
            SiteDesign.Empty("Test site") with
            {
                Place = new(
                    [],
                    [new("far", new(200, 0), new(200, 1), WallMaterial.Brick), .. walls.Select((w, i) => w with { Key = $"w{i}" })],
                    [.. radios.Select((r, i) => new Spot($"s{i}", $"Spot {i}", null, r.Item2, r.Item3, r.Item4, 0))]
                ),
                Nodes = [.. radios.Select((r, i) => (i % 5 == 0 ? Gateway(r.Item1) : r.Item1) with { Key = $"n{i}", Label = $"Node {i}", Spot = $"s{i}" })],
            }
    );

    /// <summary>One hop, from the margins that its link states: the chance that a single message and its answer both come through, integrated over places by
    /// the trapezoidal rule; shadowing the same there and back, each faded by Rayleigh on its own.</summary>
    private static double Hop(SiteDesign site, PathsByFrequency paths, NodeDesign sender, NodeDesign receiver)
    {
        var link = LinkPlanner.Of(
            site,
            Samples.Catalogue,
            sender with
            {
                Link = sender.Link == LinkKind.Frames ? sender.Link : LinkKind.LongRange,
                Via = receiver.Key,
            },
            paths
        )!;
        if (link.Margin.Value is not { } there || link.Back.Value is not { } back)
        {
            return double.PositiveInfinity;
        }
        var sigma = link.Delivered.Working.Inputs.Single(i => i.Name == "sigma").Value;
        const double Step = 0.01;
        double OneTry(double margin) => Math.Exp(-Math.Pow(10, -margin / 10));
        var both = Enumerable
            .Range(-800, 1601)
            .Select(i => i * Step)
            .Sum(z => Step * Math.Exp(-z * z / 2) / Math.Sqrt(2 * Math.PI) * OneTry(there + z * sigma) * OneTry(back + z * sigma));
        return both < 0.2 ? double.PositiveInfinity : 1 / both;
    }

    /// <summary>Whether a node ends a way, and whether it may stand within one, as docs/rooms/reach.md says it.</summary>
    private static bool IsGateway(NodeDesign n) => !n.Sleeps && n.Link is LinkKind.Wifi or LinkKind.Cable or LinkKind.SerialCable;

    private static bool MayRelay(NodeDesign n) => n.Link is LinkKind.LongRange or LinkKind.Frames && (n.Relays || (!n.Sleeps && n.Power.Kind == PowerKind.Usb));

    private static double Cheapest(NodeDesign[] nodes, double[,] hops, int at, HashSet<int> been)
    {
        var best = double.PositiveInfinity;
        for (var next = 0; next < nodes.Length; next++)
        {
            if (been.Contains(next) || double.IsInfinity(hops[at, next]))
            {
                continue;
            }
            if (IsGateway(nodes[next]))
            {
                best = Math.Min(best, hops[at, next]);
            }
            else if (MayRelay(nodes[next]))
            {
                best = Math.Min(best, hops[at, next] + Cheapest(nodes, hops, next, [.. been, next]));
            }
        }
        return best;
    }

    [Fact]
    public void The_way_that_is_chosen_is_the_cheapest_of_all_there_are()
    {
        var (relayed, none, sites) = (0, 0, 0);
        Sites.Sample(
            site =>
            {
                Interlocked.Increment(ref sites);
                var paths = new PathsByFrequency(site.Place, []);
                var tree = new RelayTree(site, Samples.Catalogue, paths);
                NodeDesign[] nodes = [.. site.Nodes];
                var hops = new double[nodes.Length, nodes.Length];
                for (var i = 0; i < nodes.Length; i++)
                {
                    for (var j = 0; j < nodes.Length; j++)
                    {
                        hops[i, j] = i == j ? double.PositiveInfinity : Hop(site, paths, nodes[i], nodes[j]);
                    }
                }
                for (var i = 0; i < nodes.Length; i++)
                {
                    if (nodes[i].Link is LinkKind.Wifi or LinkKind.Cable or LinkKind.SerialCable)
                    {
                        Assert.Null(tree.Best(nodes[i].Key));
                        continue;
                    }
                    var cheapest = Cheapest(nodes, hops, i, [i]);
                    var best = tree.Best(nodes[i].Key);
                    Assert.Equal(cheapest, best?.Transmissions ?? double.PositiveInfinity, 1e-6);
                    Interlocked.Add(ref none, best is null ? 1 : 0);
                    Interlocked.Add(ref relayed, best?.Over.Count > 1 ? 1 : 0);
                    if (best is not null)
                    {
                        var at = best.Over.Select(k => Array.FindIndex(nodes, n => n.Key == k)).Prepend(i).ToList();
                        Assert.Equal(cheapest, at.Zip(at.Skip(1)).Sum(h => hops[h.First, h.Second]), 1e-6);
                    }
                }
            },
            iter: 300,
            threads: 2
        );
        Assert.Equal(300, sites);
        // Enough of both to mean something; how many it is by chance.
        Assert.True(relayed > 5 && none > 50, $"{relayed} ways over relays, {none} nodes without a way");
    }

    /// <summary>Without a relay the others find the cheapest way that does not go over it, as if it were not there.</summary>
    [Fact]
    public void Without_a_node_the_ways_are_those_of_a_site_that_never_had_it() =>
        Sites.Sample(
            site =>
            {
                var tree = new RelayTree(site, Samples.Catalogue, new(site.Place, []));
                foreach (var gone in site.Nodes)
                {
                    var smaller = site with { Nodes = [.. site.Nodes.Where(n => n.Key != gone.Key)] };
                    var never = new RelayTree(smaller, Samples.Catalogue, new(site.Place, []));
                    var without = tree.Without(gone.Key);
                    Assert.All(smaller.Nodes, n => Assert.Equal(never.Best(n.Key)?.Transmissions, without.GetValueOrDefault(n.Key)?.Transmissions));
                }
            },
            iter: 40,
            threads: 2
        );

    /// <summary>Sites with ways as somebody may have chosen them: each node through any other, where that closes no ring.</summary>
    private static readonly Gen<SiteDesign> Chosen = Gen.Select(Sites, Gen.Int[0, 8].Array[8], (site, vias) =>
        site
            .Nodes.Select((n, i) => (Node: n, Via: site.Nodes.ElementAtOrDefault(vias[i])?.Key))
            .Where(c => c.Node.Link is LinkKind.LongRange or LinkKind.Frames && c.Via is not null)
            .Aggregate(site, (at, c) =>
                EditBatch.Apply(at, [SetNodes.As(at.Node(c.Node.Key)!) with { Via = c.Via }]) is { Ok: true } done ? done.Value.After : at
            )
    );

    /// <summary>What is offered for the ways of random sites can be done, removes what it is offered for, and adds no stop.</summary>
    [Fact]
    public void Every_remedy_of_a_way_holds()
    {
        var tried = 0;
        Chosen.Sample(
            site =>
            {
                var plan = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None);
                foreach (var finding in plan.Findings.Where(f => f.Code.StartsWith("REACH-", StringComparison.Ordinal)))
                {
                    foreach (var remedy in finding.Remedies)
                    {
                        Interlocked.Increment(ref tried);
                        var after = SitePlanner.Plan(EditBatch.Apply(site, remedy.Edits).Value.After, Samples.Catalogue, Evidence.None);
                        Assert.DoesNotContain(after.Findings, f => f.Code == finding.Code && f.Subject == finding.Subject);
                        int Stops(SitePlan p) => p.Findings.Count(f => f.Severity == Severity.Stop);
                        Assert.True(Stops(after) <= Stops(plan), $"{finding.Code}: \"{remedy.Label}\"");
                    }
                }
            },
            iter: 60,
            threads: 2
        );
        Assert.True(tried > 40, $"{tried} remedies");
    }
}
