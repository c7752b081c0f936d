using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

/// <summary>
/// What no plan may do, by board and pin number, written out from the chips' data sheets (from memory) apart
/// from the catalogue's own pin tables, and held against random plans on every board.
/// </summary>
public class MustNotsTests
{
    /// <summary>A set of pins of some boards; names are GPIO numbers.</summary>
    private sealed record Rule(string[] Boards, int[] Pins);

    private static int[] To(int first, int last) => [.. Enumerable.Range(first, last - first + 1)];

    private static readonly string[] Esp32 = ["esp32-dev-38", "esp32-dev-30", "esp32-eth-rmii-26"],
        Esp8266 = ["esp8266-dev-30", "esp8266-mini-16"],
        Rp2040 = ["rp2040-40", "rp2040-wifi-40"];
    private static readonly string[] Intolerant =
    [
        "esp32-dev-38",
        "esp32-dev-30",
        "esp32-eth-rmii-26",
        "esp32-c3-mini-16",
        "esp32-s3-dev-44",
        "esp8266-dev-30",
        "esp8266-mini-16",
        "rp2040-40",
        "rp2040-wifi-40",
        "nrf52840-module-24",
        "linux-sbc-40",
    ];

    private static readonly Rule[] Refuse =
    [
        new(["esp32-dev-38", "esp8266-dev-30"], To(6, 11)),
        new(Esp32, [1, 3]),
        new(["esp32-s3-dev-44"], [43, 44, 19, 20]),
        new(Esp8266, [1, 3]),
        new(["linux-sbc-40"], [0, 1]),
        new(["esp32-eth-rmii-26"], [0, 16, 18, 19, 21, 22, 23, 25, 26, 27]),
    ];

    /// <summary>Refused while the console is used: a serial part alone, and it is said.</summary>
    private static readonly Rule[] ConsoleUnlessSaid = [new(["atmega328p-5v-mini-30"], [0, 1]), new(["linux-sbc-40"], [14, 15])];

    private static readonly Rule[] NoHighAtReset = [new(Esp32, [12, 2]), new(["esp32-s3-dev-44"], [45, 46]), new(Esp8266, [15])];
    private static readonly Rule[] NoLowAtReset = [new(["esp32-dev-38", "esp32-s3-dev-44"], [0]), new(Esp8266, [0, 2]), new(["esp32-c3-mini-16"], [2, 8, 9])];

    private static readonly Rule[] NoLoad =
    [
        new(Esp32, [0, 1, 3, 5, 14, 15]),
        new(Esp8266, [0, 1, 2, 3, 12, 13, 14, 16]),
        new(["esp32-s3-dev-44"], [0, 43, 44]),
        new(["esp32-c3-mini-16"], [8, 9, 20, 21]),
        new(["atmega328p-5v-mini-30"], [1, 13]),
        new(["linux-sbc-40"], [.. To(2, 8), 14]),
    ];

    private static readonly Rule[] NoOutput = [new(Esp32, [34, 35, 36, 39])];
    private static readonly Rule[] NoEdge = [new(Esp32, [36, 39]), new(Esp8266, [16])];
    private static readonly Rule[] NoAnalogWithWifi =
    [
        new(Esp32, [0, 2, 4, .. To(12, 15), 25, 26, 27]),
        new(["esp32-s3-dev-44"], To(11, 20)),
        new(["esp32-c3-mini-16"], [5]),
    ];
    private static readonly Rule[] Slow = [new(["nrf52840-module-24"], [2, 9, 10, 29, 31, 33, 34, 36, 38, 39, 43, 45, 47])];
    private static readonly Rule[] NoFastSoftware = [new(Esp8266, [16])];

    private static bool In(Rule[] rules, string board, int gpio) => rules.Any(r => r.Boards.Contains(board) && r.Pins.Contains(gpio));

    [Fact]
    public void No_plan_on_any_board_does_what_must_not_be() =>
        EveryBoard.Node.Sample(
            node =>
            {
                var board = Samples.Board(node.Board);
                var plan = Samples.Plan(node);
                var signals = plan.Lines;
                foreach (var wire in signals.Where(w => !w.Pin.Contains(':')))
                {
                    var gpio = board.Pin(wire.Pin).Gpio ?? -1;
                    var part =
                        wire.Part == "board"
                            ? null
                            : Samples.Catalogue.Part(node.Part(wire.Part)?.Part ?? plan.Helpers.Single(h => h.Part == wire.Part).CatalogueId);
                    var line = part
                        ?.Interfaces.Where(i => plan.Parts.All(p => p.Part != wire.Part || p.Interface == i.Kind))
                        .SelectMany(i => i.Lines)
                        .FirstOrDefault(l => l.Name == wire.Line);
                    var fast =
                        line?.Role
                        is LineRole.I2cSda
                            or LineRole.I2cScl
                            or LineRole.SpiSck
                            or LineRole.SpiMosi
                            or LineRole.SpiMiso
                            or LineRole.UartToBoard
                            or LineRole.UartToPart
                            or LineRole.OneWire
                            or LineRole.SingleWire;
                    var analog = wire.Line == "SUPPLY" || line?.Role == LineRole.Analog;
                    var where = $"{part?.Id} {wire.Line} on {node.Board} {gpio}";
                    Assert.False(In(Refuse, node.Board, gpio), where);
                    var said =
                        line?.Role is LineRole.UartToBoard or LineRole.UartToPart
                        && plan.Findings.Any(f => f.Code == "BENCH-PIN-CARE" && f.Subject.Item == $"{wire.Part}.{wire.Line}");
                    Assert.False(In(ConsoleUnlessSaid, node.Board, gpio) && !said, where);
                    Assert.False(analog && node.Link == LinkKind.Wifi && In(NoAnalogWithWifi, node.Board, gpio), where);
                    Assert.False(line is { Edge: true } && In(NoEdge, node.Board, gpio), where);
                    Assert.False(fast && (In(Slow, node.Board, gpio) || In(NoFastSoftware, node.Board, gpio)), where);
                    var quietLow = plan.Additions.Any(c =>
                        c.For == $"{wire.Part}.{wire.Line}" && (c.Key.EndsWith("/transistor") || c.Key.EndsWith("/switch") || c.Key.EndsWith("/gate"))
                    );
                    var load = line is { Load: true } || wire.Line == "PWR";
                    Assert.False(load && In(NoLoad, node.Board, gpio), where);
                    Assert.False(
                        line?.Role is LineRole.I2cSda or LineRole.I2cScl or LineRole.OneWire or LineRole.SpiSelect or LineRole.UartToBoard
                            && In(NoHighAtReset, node.Board, gpio),
                        where
                    );
                    Assert.False((line is { AtStart: RestLevel.Low or RestLevel.Either } || quietLow) && In(NoLowAtReset, node.Board, gpio), where);
                    Assert.False(
                        (
                            line?.Role
                                is LineRole.DigitalToPart
                                    or LineRole.UartToPart
                                    or LineRole.I2cSda
                                    or LineRole.I2cScl
                                    or LineRole.OneWire
                                    or LineRole.SpiSck
                                    or LineRole.SpiMosi
                                    or LineRole.SpiSelect
                                    or LineRole.SingleWire
                            || wire.Line == "PWR"
                        ) && In(NoOutput, node.Board, gpio),
                        where
                    );
                    // A 5 V output never meets a 3.3 V pin bare.
                    var bare = plan.Additions.All(c => c.For != $"{wire.Part}.{wire.Line}");
                    Assert.False(
                        Intolerant.Contains(node.Board)
                            && line is { Role: LineRole.DigitalToBoard or LineRole.UartToBoard, HighVolts: null }
                            && part?.SupplyMinVolts > 3.6
                            && bare,
                        where
                    );
                }
                // One function a pin, on the board and on the helpers; one address once a bus, but behind a multiplexer.
                Assert.All(signals.GroupBy(w => w.Pin), g => Assert.True(g.Count() == 1 || g.All(w => w.Kind == WireKind.Bus), g.Key));
                Assert.All(plan.Parts.Where(p => p.Address is not null && p.Behind is null).GroupBy(p => p.Bus), b =>
                    Assert.Equal(b.Count(), b.Select(p => p.Address).Distinct().Count())
                );
                Assert.All(plan.Parts.Where(p => p.Behind is not null), p =>
                    Assert.DoesNotContain(plan.Parts, o => o.Behind is null && o.Bus == p.Bus && o.Address == p.Address)
                );
                // Fixed roles: both lines of a bus of the RP2040 carry its number.
                if (Rp2040.Contains(node.Board))
                {
                    Assert.All(
                        plan.Lines.Where(w =>
                            w.Line is "SDA" or "SCL" && !w.Pin.Contains(':') && plan.Parts.Single(p => p.Part == w.Part) is { Interface: InterfaceKind.I2c }
                        ),
                        w => Assert.Equal(plan.Parts.Single(p => p.Part == w.Part).Bus, $"I2C {board.Pin(w.Pin).Gpio / 2 % 2}")
                    );
                }
                Assert.Equal(plan.Complete, plan.Findings.All(f => f.Code is not ("BENCH-CONFLICT" or "BENCH-NO-PART")));
            },
            iter: 600,
            seed: "0000KFfPTcd7"
        );
}
