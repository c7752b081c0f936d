using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

/// <summary>The planner against a general integer solver on random nodes, those without a plan among them.</summary>
public class OracleTests
{
    private static readonly string[] Boards = [.. Samples.Catalogue.Boards.Select(b => b.Id)];

    private static readonly string[] Parts =
    [
        "bme280",
        "bme280",
        "bh1750",
        "aht20",
        "aht20",
        "tsl2591",
        "vl53l0x",
        "vl53l0x",
        "scd41",
        "mlx90640",
        "ds18b20",
        "ds18b20",
        "dht22",
        "ld2410",
        "pms5003",
        "pir-am312",
        "reed-contact",
        "reed-contact",
        "float-switch",
        "rain-gauge-tipping",
        "hc-sr04",
        "hx711",
        "soil-capacitive",
        "tds-analog",
        "ntc-10k",
        "relay-5v-1ch",
        "relay-5v-2ch",
        "ws2812b-strip",
        "rgb-led-cc",
        "lcd-1602-i2c",
        "ssd1306-oled",
        "lora-sx1276",
        "microsd-spi",
        "pcf8574",
        "mcp23017",
        "tca9548a",
        "ads1115",
        "ds3231",
        "mosfet-switch",
        "siren-12v",
        "sim800-modem",
        "cc1101",
        "hc-12",
        "hall-switch",
        "ir-led-tx",
        "piezo-passive",
        "x9c103",
        "ook-rx-433",
    ];

    internal static readonly Gen<NodeDesign> AnyNode = Gen.Select(
            Gen.Int[0, Boards.Length - 1].Select(i => Boards[i]),
            Gen.Int[0, Parts.Length - 1].Select(i => Parts[i]).Array[1, 9],
            Gen.Bool,
            Gen.Int[0, 3],
            Gen.Int[0, 3],
            Gen.Int[50, 4000],
            Gen.Select(EveryBoard.Power, Gen.Bool, Gen.Bool)
        )
        .Select(
            (board, parts, wifi, adds, held, ms, supply) =>
            {
                var instances = parts.Select((p, i) => Samples.Part($"p{i}", p) with { SwitchSupply = p == "soil-capacitive" && i % 2 == 0 }).ToList();
                var readings = instances
                    .Where(i => Samples.Catalogue.Part(i.Part)!.Quantities.Count > 0)
                    .Select(i => (i, q: Samples.Catalogue.Part(i.Part)!.Quantities[0]))
                    .Select(x =>
                        x.q.Kind == ReadingKind.Gauge
                            ? Samples.Every("r" + x.i.Key, x.i.Key, x.q.Quantity, x.i.Part == "mlx90640" ? ms : 60_000)
                            : Samples.OnChange("r" + x.i.Key, x.i.Key, x.q.Quantity)
                    )
                    .ToList();
                var node = new NodeDesign(
                    "n",
                    "Node",
                    null,
                    board,
                    supply.Item1,
                    wifi ? LinkKind.Wifi : LinkKind.LongRange,
                    supply.Item2,
                    supply.Item3,
                    instances,
                    [],
                    readings,
                    AddsModules: adds > 0
                );
                // A quarter of the nodes has soldered wires, some of them in a place that the plan would not choose.
                var pins = Samples.Board(board).Pins.Where(p => p.Kind == PinKind.Gpio).ToList();
                var lines = instances
                    .SelectMany(i =>
                        Samples.Catalogue.Part(i.Part)!.Interfaces.Take(1).SelectMany(f => f.Lines.Where(l => !l.Optional).Select(l => (i.Key, l.Name)))
                    )
                    .ToList();
                return held > 0 || lines.Count == 0
                    ? node
                    : node with
                    {
                        Wires = [.. lines.Take(4).Select((l, n) => new WireDesign(l.Key, l.Name, pins[(ms + 3 * n) % pins.Count].Id, WireHold.Soldered))],
                    };
            }
        );

    [Fact]
    public void The_planner_finds_the_optimum_of_the_solver()
    {
        int infeasible = 0,
            unproved = 0;
        AnyNode.Sample(
            node =>
            {
                var plan = Samples.Plan(node);
                var model = new BenchModel(node, Samples.Catalogue);
                Interlocked.Add(ref infeasible, model.Check(plan.Complete ? plan.Cost : null) ? 0 : 1);
                Interlocked.Add(ref unproved, model.Proved ? 0 : 1);
            },
            iter: 300,
            seed: "0000KFfPTcd4",
            threads: 2,
            print: Write
        );
        Assert.InRange(infeasible, 10, 200);
        Assert.InRange(unproved, 0, 3);
    }

    private static string Write(NodeDesign node) =>
        $"{node.Board} {node.Power} {node.Link} adds {node.AddsModules} sleeps {node.Sleeps} measures {node.MeasuresSupply}: "
        + $"{string.Join(", ", node.Parts.Select(p => p.Part + (p.SwitchSupply ? "/switched" : "")))}; "
        + $"{string.Join(", ", node.Wires.Select(w => $"{w.Key}={w.Pin}"))}; "
        + $"{node.Readings.FirstOrDefault(r => r.Quantity == "object-temperature")?.IntervalMs}";
}
