using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Bench;

/// <summary>Pull-ups, capacitance and rise time of each I2C bus; the other buses by name.</summary>
internal static class BusCheck
{
    private const double BoardPicofarads = 20,
        DevicePicofarads = 10,
        LeadPicofaradsPerMetre = 100,
        LongestBusPicofarads = 400;
    private static readonly double[] UsualPullUps = [10_000, 4_700, 3_300, 2_200, 1_500, 1_000];
    private const string Guide = "UM10204, pull-up resistor sizing";

    internal static IReadOnlyList<PlannedBus> Buses(
        Board board,
        NodeDesign node,
        NodeSupply supply,
        PinSolution solution,
        List<Addition> additions,
        List<Finding> findings
    )
    {
        var buses = solution.Structure.I2cBuses.Select(b => I2c(board, node, supply, b.Key, [.. b], additions, findings)).ToList();
        foreach (
            var group in solution
                .Structure.Connections.Where(c => c.Interface.Kind is InterfaceKind.Spi or InterfaceKind.Uart or InterfaceKind.OneWire)
                .GroupBy(BusName)
        )
        {
            buses.Add(
                new(
                    group.Key!,
                    group.First().Interface.Kind,
                    group.First().Interface.Kind == InterfaceKind.Spi ? Math.Min(8000, group.Min(c => c.Interface.MaxKilohertz ?? 8000)) : null,
                    [.. group.Select(c => c.Instance.Key)],
                    []
                )
            );
        }
        return buses;
    }

    internal static string? BusName(Connection connection) =>
        connection.Interface.Kind switch
        {
            InterfaceKind.I2c => $"I2C {connection.Controller}",
            InterfaceKind.Spi => $"SPI {connection.Controller}",
            InterfaceKind.Uart => connection.Controller == LineRules.SoftwareSerial ? "software serial" : $"UART {connection.Controller}",
            InterfaceKind.OneWire => $"1-Wire {connection.Controller}",
            _ => null,
        };

    /// <summary>The weakest pull-up of the usual values with which the edges are fast enough;
    /// the strongest that parts can still pull low where none is.</summary>
    private static double PullUpToAdd(IReadOnlyList<double> fitted, double smallest, double largest)
    {
        var able = UsualPullUps.Where(o => (fitted.Count > 0 || o <= 4_700) && I2cBus.ParallelOhms([.. fitted, o]) >= smallest).ToList();
        return able.FirstOrDefault(o => I2cBus.ParallelOhms([.. fitted, o]) <= largest, able.Count > 0 ? able[^1] : UsualPullUps[^1]);
    }

    private static PlannedBus I2c(
        Board board,
        NodeDesign node,
        NodeSupply supply,
        int number,
        IReadOnlyList<Connection> members,
        List<Addition> additions,
        List<Finding> findings
    )
    {
        var name = $"I2C {number}";
        var all = members;
        // What hangs behind a multiplexer or a level shifter is not felt on the board's side of it.
        members = [.. members.Where(m => m.Behind is null && !LineRules.NeedsShifter(m, board, supply))];
        var shifted = all.Any(m => m.Behind is null && LineRules.NeedsShifter(m, board, supply));
        var bits = all.Sum(m => BusLoad.BitsPerSecond(node, m.Instance, m.Part, m.Interface));
        var slowest = BusLoad.SlowestKilohertz(board, all);
        var clock = BusLoad.ClockKilohertz(bits, slowest) ?? slowest;
        var fitted = members.Where(m => m.Part.PullUpOhms is not null).Select(m => (m.Instance.Label, m.Part.PullUpOhms!.Likely)).ToList();
        if (shifted)
        {
            fitted.Add(("level shifter", CircuitOhms.ShifterPullUp));
        }
        var metres = members.Sum(m => m.Instance.LeadMetres);
        var picofarads = BoardPicofarads + DevicePicofarads * members.Count + LeadPicofaradsPerMetre * metres;
        var riseLimit = I2cBus.RiseLimitNanoseconds(clock);
        var smallest = I2cBus.SmallestPullUpOhms(board.LogicVolts);
        var largest = I2cBus.LargestPullUpOhms(riseLimit, picofarads);
        if (fitted.Count == 0 || I2cBus.ParallelOhms([.. fitted.Select(f => f.Likely)]) > largest)
        {
            var add = PullUpToAdd([.. fitted.Select(f => f.Likely)], smallest, largest);
            fitted.Add(($"added pair of {AdditionList.Ohms(add)}", add));
            additions.Add(AdditionList.BusPullUps(board, supply, name, add));
        }
        var parallel = I2cBus.ParallelOhms([.. fitted.Select(f => f.Likely)]);
        var capacitance = Capacitance(members, metres, picofarads);
        var pullUp = Figure.Exact(
            "Pull-up in effect",
            parallel,
            Unit.Ohm,
            new Working("1/R = Σ 1/Ri", [.. fitted.Select(f => new WorkingInput(f.Label, f.Likely, Unit.Ohm, "fitted on the module"))], "circuit theory")
        );
        var lower = SmallestPullUp(board, smallest);
        var upper = LargestPullUp(clock, picofarads, riseLimit, largest, capacitance);
        var rise = RiseTime(picofarads, parallel, capacitance, pullUp);
        if (parallel < smallest)
        {
            findings.Add(PullUpTooStrong(node, name, fitted, smallest, parallel));
        }
        if (picofarads > LongestBusPicofarads)
        {
            findings.Add(BusTooLong(node, members, name, metres, picofarads));
        }
        var load = LoadOf(node, all, bits, slowest, clock);
        return new(name, InterfaceKind.I2c, clock, [.. all.Select(m => m.Instance.Key)], [load, pullUp, lower, upper, capacitance, rise]);
    }

    private static Figure Capacitance(IReadOnlyList<Connection> members, double metres, double picofarads) =>
        Figure.Exact(
            "Bus capacitance",
            picofarads,
            Unit.Picofarad,
            new Working(
                "C = board + devices · 10 pF + lead · 100 pF/m",
                [
                    new("board", BoardPicofarads, Unit.Picofarad, "planning value"),
                    new("devices", members.Count, "", "this bus"),
                    new("lead", metres, Unit.Metre, "lengths of the leads"),
                ],
                "common practice, no source"
            )
        );

    private static Figure SmallestPullUp(Board board, double smallest) =>
        Figure.Exact(
            "Smallest allowed",
            smallest,
            Unit.Ohm,
            new Working(
                "R = (VDD − VOL) / IOL",
                [
                    new("VDD", board.LogicVolts, Unit.Volt, board.Label),
                    new("VOL", I2cBus.LowLevel(board.LogicVolts).Volts, Unit.Volt, "low level of the standard"),
                    new("IOL", I2cBus.LowLevel(board.LogicVolts).Milliamps, Unit.Milliamp, "current of the standard"),
                ],
                Guide
            )
        );

    private static Figure LargestPullUp(double clock, double picofarads, double riseLimit, double largest, Figure capacitance) =>
        Figure.Exact(
            "Largest allowed",
            largest,
            Unit.Ohm,
            new Working(
                "R = tr / (0.8473 · C)",
                [new("tr", riseLimit, Unit.Nanosecond, $"limit at {clock:0} kHz"), new("C", picofarads, Unit.Picofarad, "this bus")],
                Guide,
                [capacitance]
            )
        );

    private static Figure RiseTime(double picofarads, double parallel, Figure capacitance, Figure pullUp) =>
        Figure.Exact(
            "Rise time",
            I2cBus.RiseNanoseconds(parallel, picofarads),
            Unit.Nanosecond,
            new Working(
                "tr = 0.8473 · R · C",
                [new("R", parallel, Unit.Ohm, "in effect"), new("C", picofarads, Unit.Picofarad, "this bus")],
                Guide,
                [pullUp, capacitance]
            )
        );

    private static Finding PullUpTooStrong(NodeDesign node, string name, List<(string Label, double Likely)> fitted, double smallest, double parallel) =>
        new(
            "BENCH-PULLUP-STRONG",
            Severity.Stop,
            new("bench", node.Key, name),
            $"The pull-ups on {name} are {AdditionList.Ohms(Math.Round(parallel))} together, below the "
                + $"{AdditionList.Ohms(Math.Round(smallest))} a part can still pull low.",
            "A part that cannot pull the line low is never heard.",
            [],
            $"Take the pull-up resistors off all but one or two of: {string.Join(", ", fitted.Select(f => f.Label))}.",
            Guide
        );

    private static Finding BusTooLong(NodeDesign node, IReadOnlyList<Connection> members, string name, double metres, double picofarads) =>
        new(
            "BENCH-I2C-LONG",
            Severity.Risk,
            new("bench", node.Key, name),
            $"{name} has about {picofarads:0} pF with {metres:0.##} m of lead; the bus is meant for {LongestBusPicofarads} pF.",
            "Edges get slow and readings fail now and then.",
            [
                new(
                    "Shorten the leads to 0.3 m",
                    [.. members.Where(m => m.Instance.LeadMetres > 0.3).Select(m => new PutPart(node.Key, m.Instance with { LeadMetres = 0.3 }))]
                ),
            ],
            null,
            "UM10204, bus capacitance limit"
        );

    private static Figure LoadOf(NodeDesign node, IReadOnlyList<Connection> all, double bits, double slowest, double clock) =>
        Figure.Exact(
            "Bus load",
            bits / (clock * 10),
            Unit.Percent,
            new Working(
                "load = Σ bits of a reading · readings a second / clock",
                [
                    .. all.Select(m => new WorkingInput(
                        m.Instance.Label,
                        BusLoad.BitsPerSecond(node, m.Instance, m.Part, m.Interface),
                        "bit/s",
                        "bits counted on UM10204 framing, from memory"
                    )),
                    new("clock", clock, "kHz", $"100 kHz where that is enough; the slowest part follows {slowest:0} kHz"),
                ],
                "bit counting"
            )
        );
}
