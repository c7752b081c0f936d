using System.Diagnostics;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Core.Rhythm;

namespace Cenotic.Benchmarks;

/// <summary>Planning the rhythm of 200 nodes side by side, as a site's plan does it, their benches planned already, as a ratio to the plain energy formula for
/// as many cycles in the same run; and one edit among them.</summary>
public static class RhythmBench
{
    internal const int Nodes = 200;
    private const int Warm = 25,
        Rounds = 15;
    private static readonly (string Part, string Quantity)[] Sensors =
    [
        ("bme280", "temperature"),
        ("bme280", "humidity"),
        ("bh1750", "illuminance"),
        ("ds18b20", "temperature"),
        ("dht22", "humidity"),
        ("sht31", "temperature"),
        ("hc-sr04", "distance"),
    ];
    private static readonly string[] Boards = ["esp32-dev-38", "rp2040-wifi-40", "esp32-c3-mini-16", "esp8266-dev-30"];

    public static void Run()
    {
        var catalogue = HardwareCatalogue.BuiltIn;
        var site = Site();
        var benches = site.Nodes.Select(n => BenchPlanner.Plan(n, catalogue)).ToList();
        var times = Enumerable
            .Range(0, Warm + Rounds)
            .Select(_ =>
                Time(() =>
                    site.Nodes.Zip(benches).AsParallel().AsOrdered().Select(p => RhythmPlanner.Plan(p.First, p.Second, catalogue, Evidence.None)).ToList()
                )
            )
            .Skip(Warm)
            .Order()
            .ToList();
        var bare = Enumerable
            .Range(0, Warm + Rounds)
            .Select(_ => Time(() => Enumerable.Range(0, Nodes).Sum(i => Energy.ChargeMilliampSeconds([(40, 550 + i), (80, 60), (12, 20)], 10, 3600))))
            .Skip(Warm)
            .Order()
            .ToList();
        var memory = new PlanMemory();
        SitePlanner.Plan(site, catalogue, Evidence.None, memory: memory);
        var edits = Enumerable
            .Range(0, Warm + Rounds)
            .Select(round =>
                Time(() =>
                {
                    var reading = site.Nodes[round % Nodes].Readings[0];
                    site = EditBatch
                        .Apply(site, [new PutReading(site.Nodes[round % Nodes].Key, reading with { IntervalMs = reading.IntervalMs + 1000 })])
                        .Value.After;
                    SitePlanner.Plan(site, catalogue, Evidence.None, memory: memory);
                })
            )
            .Skip(Warm)
            .Order()
            .ToList();
        Console.WriteLine(
            $"rhythm of {Nodes} nodes: median {Middle(times):0.0} ms, worst of {times.Count} {times[^1]:0.0} ms, {Middle(times) / Middle(bare):0} "
                + $"times the bare energy formula ({Middle(bare) * 1000:0} µs)"
        );
        var demo = SiteFiles.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "fernhollow.json"))).Value;
        var (house, kept) = (demo.Design, new PlanMemory());
        var one = Enumerable
            .Range(0, 4 * (Warm + Rounds))
            .Select(round =>
                Time(() =>
                {
                    var reading = house.Node("cistern")!.Readings[0];
                    house = EditBatch.Apply(house, [new PutReading("cistern", reading with { IntervalMs = 600_000 + round * 1000 })]).Value.After;
                    SitePlanner.Plan(house, catalogue, demo.Evidence, memory: kept);
                })
            )
            .Skip(4 * Warm)
            .Order()
            .ToList();
        Console.WriteLine($"one edited interval in the demo, planned whole: median {Middle(one):0.0} ms, worst {one[^1]:0.0} ms");
        Console.WriteLine($"one edited interval among {Nodes} nodes, planned whole: median {Middle(edits):0.0} ms, worst {edits[^1]:0.0} ms");
    }

    internal static SiteDesign Site() => SiteDesign.Empty("bench") with { Nodes = [.. Enumerable.Range(0, Nodes).Select(Node)] };

    private static double Middle(List<double> sorted) => sorted[sorted.Count / 2];

    private static double Time(Action act)
    {
        var watch = Stopwatch.StartNew();
        act();
        return watch.Elapsed.TotalMilliseconds;
    }

    /// <summary>A third on mains over Wi-Fi, a third on mains over a radio in slots, a third asleep
    /// on cells: half of these on a board that drains them in weeks.</summary>
    private static NodeDesign Node(int seed)
    {
        var random = new Random(seed);
        var picked = Enumerable.Range(0, 1 + random.Next(4)).Select(_ => Sensors[random.Next(Sensors.Length)]).ToList();
        var parts = picked.Select(p => p.Part).Distinct().Select(p => new PartInstance(p, p, p)).ToList();
        var readings = picked
            .Select((p, i) => new ReadingDesign($"r{i}", $"r{i}", p.Part, p.Quantity, 60_000L * (1 + random.Next(15)), null, 1, 1 + random.Next(3)))
            .ToList();
        var (radio, cells, sparing) = (seed % 3 == 2, seed % 3 == 0, seed % 6 == 0);
        var power =
            !cells ? new PowerDesign(PowerKind.Usb)
            : sparing ? new(PowerKind.Cells, "lifepo4-18650", 4)
            : new(PowerKind.Cells, "cell-18650", 2, StepUp: true);
        return new(
            $"n{seed}",
            $"Node {seed}",
            null,
            sparing ? "rp2040-40" : Boards[seed % Boards.Length],
            power,
            radio || sparing ? LinkKind.LongRange : LinkKind.Wifi,
            cells,
            false,
            [.. parts, .. radio || sparing ? [new PartInstance("radio", "radio", "lora-sx1276")] : Array.Empty<PartInstance>()],
            [],
            readings,
            Sending: radio || sparing ? new(HearsTime: radio) : null
        );
    }
}
