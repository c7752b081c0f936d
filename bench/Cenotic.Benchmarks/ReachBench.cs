using System.Diagnostics;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Planning;
using Cenotic.Core.Reach;

namespace Cenotic.Benchmarks;

/// <summary>A map of 200 by 200 cells through 60 walls, as a ratio to as many bare free-space losses; and a site of 60 nodes and 5 gateways planned anew
/// after a wall and after a spot moved, as a ratio to the plan from nothing in the same run.</summary>
public static class ReachBench
{
    private const int Warm = 5,
        Rounds = 11,
        Gateways = 5,
        Senders = 55;

    public static void Run()
    {
        var catalogue = HardwareCatalogue.BuiltIn;
        var site = Site();
        var map = Median(_ => HeatMap.Of(site, catalogue, Evidence.None, "n0", null, HeatMap.MostCells));
        var bare = Median(_ => Enumerable.Range(0, HeatMap.MostCells * HeatMap.MostCells).Sum(i => PathLoss.FreeSpaceDb(868.1, 1 + i % 40)));
        Console.WriteLine(
            $"map of 200 x 200 cells, {site.Place.Walls.Count} walls: median {map:0.0} ms, {map / bare:0} times as many free-space losses ({bare:0.00} ms)"
        );

        var whole = Median(_ => SitePlanner.Plan(site, catalogue, Evidence.None));
        var memory = new PlanMemory();
        SitePlanner.Plan(site, catalogue, Evidence.None, memory: memory);
        double After(Func<int, DesignEdit> edit) =>
            Median(round =>
            {
                site = EditBatch.Apply(site, [edit(round)]).Value.After;
                SitePlanner.Plan(site, catalogue, Evidence.None, memory: memory);
            });
        var wall = site.Place.Walls[20];
        var spot = site.Place.Spots[30];
        var walls = After(round => new PutWall(wall with { To = new(wall.To.X, wall.To.Y + round % 5 * 0.1) }));
        var spots = After(round => new PutSpot(spot with { X = spot.X + round % 5 * 0.1 }));
        Console.WriteLine(
            $"{site.Nodes.Count} nodes, {Gateways} gateways: a wall moved {walls:0.0} ms ({walls / whole:0.00} of the whole plan, {whole:0} ms), "
                + $"a spot moved {spots:0.0} ms ({spots / whole:0.00})"
        );
    }

    private static double Median(Action<int> work)
    {
        var times = new List<double>();
        for (var round = 0; round < Warm + Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            work(round);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        return times.Skip(Warm).Order().ElementAt(Rounds / 2);
    }

    /// <summary>Rooms of 4 m in a square of 5 by 5, with the walls between them; a motion sensor on every third node.</summary>
    private static SiteDesign Site()
    {
        var place = new PlaceDesign(
            [.. Enumerable.Range(0, 25).Select(i => Room(i))],
            [
                .. Enumerable.Range(0, 30).Select(i => new Wall($"x{i}", new(i / 5 * 4, i % 5 * 4), new(i / 5 * 4, i % 5 * 4 + 4), WallMaterial.Brick)),
                .. Enumerable.Range(0, 30).Select(i => new Wall($"y{i}", new(i % 5 * 4, i / 5 * 4), new(i % 5 * 4 + 4, i / 5 * 4), WallMaterial.Plasterboard)),
            ],
            [
                .. Enumerable
                    .Range(0, Gateways + Senders)
                    .Select(i => new Spot($"s{i}", $"Spot {i}", $"r{i % 25}", i % 5 * 4 + 1 + i / 25 * 0.7, i % 25 / 5 * 4 + 1 + i % 3 * 0.5, 1.5, 0)),
            ]
        );
        return SiteDesign.Empty("Bench") with { Place = place, Nodes = [.. Enumerable.Range(0, Gateways + Senders).Select(Node)] };
    }

    private static Room Room(int i) =>
        new(
            $"r{i}",
            $"Room {i}",
            [new(i % 5 * 4, i / 5 * 4), new(i % 5 * 4 + 4, i / 5 * 4), new(i % 5 * 4 + 4, i / 5 * 4 + 4), new(i % 5 * 4, i / 5 * 4 + 4)],
            []
        );

    private static NodeDesign Node(int i) =>
        new(
            $"n{i}",
            $"Node {i}",
            $"s{i}",
            "esp32-dev-38",
            new(PowerKind.Usb),
            i < Gateways ? LinkKind.Wifi : LinkKind.LongRange,
            i >= Gateways,
            false,
            [
                new("air", "Air", "bme280"),
                new("radio", "Radio", "lora-sx1276"),
                .. i % 3 == 0 ? [new PartInstance("eye", "Eye", "pir-hc-sr501")] : Array.Empty<PartInstance>(),
            ],
            [],
            [new("temp", "Temperature", "air", "temperature", 600_000 + i * 1000, null, 1)],
            Via: i < Gateways ? null : $"n{i % Gateways}"
        );
}
