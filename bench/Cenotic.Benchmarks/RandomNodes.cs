using System.Diagnostics;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Benchmarks;

/// <summary>Planning times over seeded random nodes, the ones without a plan among them, each as a ratio to one bare assignment of the same run.</summary>
public static class RandomNodes
{
    private static readonly string[] Parts =
    [
        .. HardwareCatalogue.BuiltIn.Parts.Where(p => p.Interfaces.Count > 0 && p.SupplyMinVolts is null or < 5.1).Select(p => p.Id),
    ];

    public static void Run()
    {
        var bare = Bare();
        Report("16 parts on the 38-pin board, 1,000 random nodes", Enumerable.Range(0, 1000).Select(seed => Node("esp32-dev-38", seed, 16)), bare);
        Report(
            "1 to 16 parts on any board, 1,000 random nodes",
            Enumerable.Range(0, 1000).Select(seed => Node(HardwareCatalogue.BuiltIn.Boards.ElementAt(seed % 13).Id, 7000 + seed, 1 + seed % 16)),
            bare
        );
        Report("40 functions with two expanders", Enumerable.Range(0, 20).Select(_ => Forty()), bare);
    }

    /// <summary>A node of so many parts, drawn from the whole catalogue.</summary>
    private static NodeDesign Node(string board, int seed, int parts)
    {
        var random = new Random(seed);
        var instances = Enumerable.Range(0, parts).Select(i => new PartInstance($"p{i}", $"p{i}", Parts[random.Next(Parts.Length)])).ToList();
        return new(
            "n",
            "Node",
            null,
            board,
            new(board == "esp32-eth-rmii-26" ? PowerKind.FiveVolt : PowerKind.Usb),
            LinkKind.Wifi,
            false,
            false,
            instances,
            [],
            [],
            AddsModules: seed % 2 == 0
        );
    }

    private static NodeDesign Forty()
    {
        IEnumerable<PartInstance> Many(string part, int count) => Enumerable.Range(0, count).Select(i => new PartInstance($"{part}-{i}", $"{part} {i}", part));
        return new(
            "n",
            "Node",
            null,
            "esp32-dev-38",
            new(PowerKind.FiveVolt),
            LinkKind.Wifi,
            false,
            false,
            [
                .. Many("mcp23017", 2),
                .. Many("reed-contact", 22),
                .. Many("pir-am312", 4),
                .. Many("relay-5v-4ch", 1),
                .. Many("ds18b20", 4),
                .. Many("bme280", 2),
                .. Many("rain-gauge-tipping", 1),
                .. Many("dht22", 2),
                .. Many("ldr-3pin", 1),
            ],
            [],
            []
        );
    }

    private static void Report(string what, IEnumerable<NodeDesign> nodes, double bareMs)
    {
        // Warm: the first hundred of them, so that compilation is not measured.
        foreach (var node in nodes.Take(100))
        {
            BenchPlanner.Plan(node, HardwareCatalogue.BuiltIn);
        }
        var times = new List<(double Ms, NodeDesign Node, bool Complete)>();
        var before = GC.GetAllocatedBytesForCurrentThread();
        foreach (var node in nodes)
        {
            var watch = Stopwatch.StartNew();
            var plan = BenchPlanner.Plan(node, HardwareCatalogue.BuiltIn);
            times.Add((watch.Elapsed.TotalMilliseconds, node, plan.Complete));
        }
        var bytes = (GC.GetAllocatedBytesForCurrentThread() - before) / times.Count;
        var sorted = times.OrderBy(t => t.Ms).ToList();
        Console.WriteLine(
            $"{what}: median {sorted[sorted.Count / 2].Ms:0.00} ms ({sorted[sorted.Count / 2].Ms / bareMs:0} bare assignments), worst "
                + $"{sorted[^1].Ms:0.0} ms, {times.Count(t => !t.Complete)} without a plan, {bytes / 1024} KiB a plan"
        );
        if (Environment.GetEnvironmentVariable("CENOTIC_BENCH_WORST") is not null)
        {
            foreach (var (ms, node, complete) in sorted.TakeLast(5))
            {
                Console.WriteLine(
                    $"  {ms:0} ms {(complete ? "complete" : "conflict")} {node.Board} adds {node.AddsModules}: "
                        + $"{string.Join(' ', node.Parts.Select(p => p.Part))}"
                );
            }
        }
    }

    private static double Bare()
    {
        var cells = PlanningBench.Square(20, 30);
        var watch = Stopwatch.StartNew();
        for (var i = 0; i < 2000; i++)
        {
            Assignment.Solve(cells, 30);
        }
        return watch.Elapsed.TotalMilliseconds / 2000;
    }
}
