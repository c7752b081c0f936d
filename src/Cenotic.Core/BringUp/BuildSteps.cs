using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.BringUp;

/// <summary>
/// The steps of building a node in safe order, worked out from its plan: supplies are set before they are connected, shorts are looked for before power, the
/// board is powered before its parts and each part by itself. Pure.
/// </summary>
public static class BuildSteps
{
    private const string Practice = "common practice, no source";
    private const double StripMetres = 0.02,
        LeadAwg = 24,
        ProbeOhms = 0.5,
        ShortOhms = 50,
        PullUpSpread = 0.25,
        VoltsSpread = 0.03,
        CurrentSpread = 0.3,
        RiseSpread = 0.1;
    private static readonly double[] Limits = [20, 50, 100, 200, 300, 500, 750, 1000, 1500, 2000, 3000, 5000];
    private static readonly Dictionary<string, int> None = [];

    /// <summary>The steps.</summary>
    /// <param name="measured">Currents that were measured at steps before, mA by the key of the step: what a part
    /// adds is then held against the step before it, not against the catalogue alone.</param>
    /// <returns>Empty when the node cannot be planned.</returns>
    public static IReadOnlyList<BuildStep> Of(
        NodeDesign node,
        BenchPlan plan,
        HardwareCatalogue catalogue,
        IReadOnlyList<StockItem> stock,
        IReadOnlyDictionary<string, double> measured
    )
    {
        if (catalogue.Board(node.Board) is not { } board || plan.Wires.Count == 0)
        {
            return [];
        }
        var supply = NodeSupply.Of(board, node.Power, catalogue);
        var parts = plan
            .Circuit.Components.Where(c => c.Kind == ComponentKind.Part)
            .Select(c => (c.Key, c.Label))
            .Concat(plan.Lines.Where(l => l.Part == Circuit.BoardKey).Select(l => (Key: l.Part, Label: l.PartLabel)))
            .OrderBy(p => Rank(plan, node, p.Key))
            .ToList();
        var steps = new List<BuildStep> { Ready(node, plan, catalogue, stock) };
        steps.AddRange(Supplies(node, supply, catalogue));
        steps.AddRange(Prepared(plan));
        steps.AddRange(BoardAlone(board, node, supply, plan));
        var (before, soldered) = ("board-power", new HashSet<string>());
        foreach (var (key, label) in parts)
        {
            soldered.Add(key);
            steps.Add(Solder(plan, key, label, [.. Fitted(plan, key, soldered)]));
            if (Supplied(plan, key) is not { } pin)
            {
                continue;
            }
            steps.Add(NoShort(key, label, pin));
            foreach (var bus in plan.Buses.Where(b => b.Parts.Contains(key) && b.Parts.All(p => soldered.Contains(p) || Rank(plan, node, p) == int.MaxValue)))
            {
                if (PullUp(plan, catalogue, board, bus) is { } step)
                {
                    steps.Add(step);
                }
            }
            steps.Add(
                Power(
                    $"power:{key}",
                    BuildStage.Parts,
                    $"Power with {label}",
                    key,
                    Current(node, board, supply, plan, soldered, key, measured.TryGetValue(before, out var was) ? was : null),
                    supply,
                    Cautions(node, catalogue, key)
                )
            );
            before = $"power:{key}";
        }
        steps.Add(Finish());
        return steps;
    }

    private static BuildStep NoShort(string key, string label, PlannedWire pin) =>
        new(
            $"short:{key}",
            BuildStage.Parts,
            $"No short at {label}",
            key,
            [new("Supply off, all plugs out.")],
            null,
            [],
            new(
                MeasureKind.ShortOhms,
                $"Between {pin.PinLabel} and ground, red lead on {pin.PinLabel}. Wait until it stands still: capacitors fill first.",
                Least(),
                null
            ),
            None
        );

    private static BuildStep Finish() =>
        new(
            "finish",
            BuildStage.Finish,
            "Program it, scan, look at its first readings",
            null,
            [
                new("Save its settings and client, and flash it."),
                new("Compare a scan of its buses with the plan."),
                new("Look at its first readings; calibrate what needs it."),
                new("Print its label."),
            ],
            null,
            [],
            null,
            None
        );

    /// <summary>The unit that a meter shows at the step with this key.</summary>
    public static string UnitAt(string key) =>
        key is "cells" or "source" || key.StartsWith("set:", StringComparison.Ordinal) ? Unit.Volt
        : key == "board-power" || key.StartsWith("power:", StringComparison.Ordinal) ? Unit.Milliamp
        : Unit.Ohm;

    /// <summary>Helpers come first: other parts hang on them.</summary>
    private static int Rank(BenchPlan plan, NodeDesign node, string part) =>
        plan.Helpers.Any(h => h.Part == part)
            ? -1
            : node.Parts.Select((p, at) => (p.Key, at)).Where(p => p.Key == part).Select(p => p.at).DefaultIfEmpty(int.MaxValue).First();

    private static BuildStep Ready(NodeDesign node, BenchPlan plan, HardwareCatalogue catalogue, IReadOnlyList<StockItem> stock)
    {
        var items = PartsList.Of(node, plan, catalogue, stock).Items;
        var metres = plan
            .Wires.Where(w => w.Form == WireForm.Wire)
            .GroupBy(w => w.Colour)
            .Select(g => string.Create(CultureInfo.InvariantCulture, $"{g.Sum(w => w.LengthMetres + StripMetres):0.0} m {g.Key}"));
        return new(
            "ready",
            BuildStage.Ready,
            "Have at hand",
            null,
            [
                .. items.Select(i => new BuildLine(
                    $"{i.Needed} × {i.Label}{(i.ToBuy > 0 && stock.Any(s => s.Id == i.Id) ? $": {i.ToBuy} missing in the drawer" : "")}"
                )),
                new($"Wire, AWG {LeadAwg:0}: {string.Join(", ", metres)}"),
                new("Iron, solder, cutter, stripper, sleeve, a meter, and a supply with a current limit if there is one"),
            ],
            "The iron burns skin and cloth: stand it in its holder, wear glasses when you cut, air the room.",
            [],
            null,
            items.Where(i => stock.Any(s => s.Id == i.Id)).ToDictionary(i => i.Id, i => i.Needed)
        );
    }

    /// <summary>Sources and modules are set and measured before anything hangs on them.</summary>
    private static IEnumerable<BuildStep> Supplies(NodeDesign node, NodeSupply supply, HardwareCatalogue catalogue)
    {
        if (Source(node, supply, catalogue) is { } source)
        {
            yield return source;
        }
        foreach (
            var module in supply
                .Supplied.Select(s => s.Module)
                .OfType<SupplyModule>()
                .Where(m => m.Kind is SupplyModuleKind.StepDown or SupplyModuleKind.StepUp or SupplyModuleKind.OverCable)
                .DistinctBy(m => m.Id)
        )
        {
            var volts = supply.Supplied.First(s => s.Module == module).Rail.Volts;
            yield return Step(
                $"set:{module.Id}",
                $"Set the {module.Label} to {volts:0.##} V",
                "At its output, fed from its source; turn the trimmer, then fix it with a drop of lacquer.",
                volts,
                volts * (1 - VoltsSpread),
                volts * (1 + VoltsSpread),
                string.Join(" ", module.Cautions),
                module.Source
            );
        }
    }

    /// <summary>A look at what feeds the node; null where nothing there can be measured.</summary>
    private static BuildStep? Source(NodeDesign node, NodeSupply supply, HardwareCatalogue catalogue)
    {
        if (node.Power.Kind == PowerKind.Cells && catalogue.Cell(node.Power.Cell ?? "")?.InSeries(node.Power.Series) is { } cell)
        {
            return Step(
                "cells",
                $"Measure the cells ({cell.Label})",
                "Across the holder. Plus is not always where the print says.",
                cell.NominalVolts,
                Math.Min(cell.NominalVolts, (cell.EmptyVolts + cell.NominalVolts) / 2),
                cell.FullVolts * 1.02,
                string.Join(" ", cell.Cautions),
                cell.Source
            );
        }
        if (supply.SourceVolts is { } source)
        {
            return Step(
                "source",
                $"Measure the {source:0} V source",
                "Across its leads.",
                source,
                source * 0.9,
                source * 1.1,
                "A source of many amperes burns a cable in a short: the fuse stands at the source. Mains belongs to a licensed trade.",
                "design"
            );
        }
        if (node.Power.Kind is PowerKind.FiveVolt or PowerKind.Usb)
        {
            return Step(
                "source",
                $"Measure the 5 V supply",
                node.Power.Kind == PowerKind.Usb ? "At a cut cable or a socket adapter; red is plus." : "Across its leads.",
                5,
                4.75,
                5.25,
                "Use a supply that is closed and certified; nothing here opens one that hangs on mains.",
                "USB 2.0, 4.75 to 5.25 V at the source, from memory"
            );
        }
        if (node.Power is { Kind: PowerKind.Capacitor, Harvest: { } harvest })
        {
            return Step(
                "source",
                "Measure the storage capacitor",
                "Across it, after an hour of light.",
                harvest.StartVolts,
                harvest.StopVolts,
                harvest.StartVolts * 1.1,
                "A charged capacitor gives many amperes in a short. Watch its rated voltage.",
                "design"
            );
        }
        return null;
    }

    private static BuildStep Step(string key, string title, string how, double volts, double low, double high, string? caution, string source) =>
        new(
            key,
            BuildStage.Prepare,
            title,
            null,
            [new("Nothing else is connected yet."), new("Mark plus and minus.")],
            caution,
            [],
            new(
                MeasureKind.SupplyVolts,
                how,
                new(
                    "Voltage",
                    volts,
                    low,
                    high,
                    Unit.Volt,
                    new Working("the set value and what is allowed around it", [new("V", volts, Unit.Volt, source)], Practice)
                ),
                null
            ),
            None
        );

    private static IEnumerable<BuildStep> Prepared(BenchPlan plan)
    {
        var straps = plan
            .Parts.Where(p => p.Strap is not null)
            .Select(p => new BuildLine($"{p.Label}: {p.Strap}{(p.Address is { } a ? $" (0x{a:X2})" : "")}"))
            .ToList();
        if (straps.Count > 0)
        {
            yield return new("straps" + Print(straps), BuildStage.Prepare, "Set the straps of the modules", null, straps, null, [], null, None);
        }
        var cut = plan.Wires.Where(w => w.Form == WireForm.Wire).ToList();
        var wires = cut.GroupBy(w => (w.PartLabel, w.LengthMetres))
            .Select(g => new BuildLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{g.Key.PartLabel}: {g.Count()} of {Math.Ceiling((g.Key.LengthMetres + StripMetres) * 100):0} cm, "
                        + $"{string.Join(", ", g.Select(w => w.Colour))}"
                )
            ))
            .ToList();
        yield return new(
            "cut" + Print(wires),
            BuildStage.Prepare,
            "Cut the wires, sleeve before solder",
            null,
            [.. wires, new($"Push a sleeve of 15 mm on every wire before its end is soldered: {cut.Count} pieces.")],
            null,
            [],
            null,
            None
        );
        var splices = plan.Splices.Select(s => new BuildLine($"{string.Join(", ", s.Wires)} → one wire to {s.PinLabel}", s.Colour)).ToList();
        if (splices.Count > 0)
        {
            yield return new(
                "splices" + Print(splices),
                BuildStage.Prepare,
                "Splice what shares a pin",
                null,
                [.. splices, new("Twist, solder, cool, then shrink the sleeve over the bare metal.")],
                null,
                [],
                null,
                None
            );
        }
    }

    private static IEnumerable<BuildStep> BoardAlone(Board board, NodeDesign node, NodeSupply supply, BenchPlan plan)
    {
        var input = supply.Input?.Pin is { } id ? board.Pin(id).Label : null;
        var ground = board.Pins.First(p => p.Kind == PinKind.Ground).Label;
        var feed = plan.Wires.Where(w => Circuit.IsOfSupply(w.Part)).Select(Joint).ToList();
        if (feed.Count > 0)
        {
            yield return new(
                "feed" + Print(feed),
                BuildStage.Board,
                "Connect what feeds the board",
                null,
                [.. feed, .. node.Power.FuseAmps is { } amps ? new[] { new BuildLine($"The fuse of {amps} A stands at the source end.") } : []],
                "The supply is unplugged. Reversed, the board dies at once.",
                [],
                null,
                None
            );
        }
        var rail = input
            ?? supply.Rails.Select(r => board.Pins.FirstOrDefault(p => p.Rail == r.Id)?.Label).OfType<string>().FirstOrDefault()
            ?? "its supply pin";
        yield return new(
            "board-short",
            BuildStage.Board,
            "No short at the board",
            null,
            [new("Supply off, USB out.")],
            null,
            [],
            new(MeasureKind.ShortOhms, $"Between {rail} and {ground}, red lead on {rail}. Wait until it stands still: capacitors fill first.", Least(), null),
            None
        );
        yield return Power(
            "board-power",
            BuildStage.Board,
            "First power: the board alone",
            null,
            Current(node, board, supply, plan, [], null, null),
            supply,
            string.Join(" ", board.Cautions.Take(1))
        );
    }

    /// <summary>What is fitted with a part: the additions for its lines and its supply, and with the first part of a bus those of the bus.</summary>
    private static IEnumerable<Addition> Fitted(BenchPlan plan, string part, HashSet<string> soldered) =>
        plan.Additions.Where(a =>
            plan.Buses.FirstOrDefault(b => b.Name == a.For || a.For.StartsWith(b.Name + ".", StringComparison.Ordinal)) is { } bus
                ? bus.Parts.Contains(part) && bus.Parts.Count(soldered.Contains) == 1
                : a.For == part || a.For.StartsWith(part + ".", StringComparison.Ordinal)
        );

    private static BuildStep Solder(BenchPlan plan, string key, string label, IReadOnlyList<Addition> fitted)
    {
        var pieces = fitted.SelectMany(a => a.Pieces).Select(p => p.Key).ToHashSet();
        var wires = plan.Wires.Where(w => w.Part == key || pieces.Contains(w.Part)).OrderBy(w => w.Order).ToList();
        var lines = fitted.Select(a => new BuildLine($"Fit {a.What}: {a.Where}")).Concat(wires.Select(Joint)).ToList();
        return new(
            $"solder:{key}{Print(lines)}",
            BuildStage.Parts,
            $"Solder {label}",
            key,
            lines,
            null,
            [.. wires.Select(w => w.Tick).OfType<string>()],
            null,
            None
        );
    }

    /// <summary>One joint in words; a wire with what it may read from end to end.</summary>
    private static BuildLine Joint(PlannedWire wire)
    {
        var from =
            wire.Form == WireForm.Wire && !Circuit.IsOfSupply(wire.Part) && !wire.Part.Contains('/', StringComparison.Ordinal)
                ? wire.Line
                : $"{wire.PartLabel} {wire.Line}";
        var to = $"{wire.PinLabel}{(wire.PinName != wire.PinLabel ? $" ({wire.PinName})" : "")}";
        var ohms = CopperWire.OhmsPerMetre(LeadAwg) * wire.LengthMetres + ProbeOhms;
        return wire.Form switch
        {
            WireForm.Wire => new(
                string.Create(CultureInfo.InvariantCulture, $"{from} → {to}; end to end below {Math.Ceiling(ohms * 10) / 10:0.0} Ω"),
                wire.Colour
            ),
            WireForm.Bridge => new($"Bridge {from} to {to}"),
            WireForm.Plug => new($"Plug {from} into {to}"),
            _ => new($"{from} → {to}"),
        };
    }

    private static BuildStep Power(string key, BuildStage stage, string title, string? part, Figure current, NodeSupply supply, string? caution)
    {
        var limit = Limits.FirstOrDefault(l => l >= 1.5 * current.High!.Value, Limits[^1]);
        var at = supply.SourceVolts is { } volts ? $"the {volts:0} V source" : "the supply";
        return new(
            key,
            stage,
            title,
            part,
            [
                new($"Limit {at} to {limit:0} mA, or hold a meter in the lead and pull it at once above that."),
                new("A finger near each part: what gets hot in a second is reversed or shorted."),
            ],
            caution is { Length: > 0 } ? caution : null,
            [],
            new(MeasureKind.CurrentMilliamps, $"In the plus lead of {at}, as it settles after some seconds.", current, limit),
            None
        );
    }

    /// <summary>Current at the source with these parts on, whatever the program does: from all idle to all at
    /// work. With the step before measured, that and what the new part adds.</summary>
    private static Figure Current(NodeDesign node, Board board, NodeSupply supply, BenchPlan plan, HashSet<string> on, string? added, double? before)
    {
        var loads = PowerCheck.PartsAtSource(supply, plan.Loads).Where(l => on.Contains(l.Load.Part)).ToList();
        static double Idle(LoadProfile l) =>
            l.StaysOn ? l.ActiveMilliamps?.Low ?? 0 : Math.Min(l.SleepMicroamps?.Low / 1000 ?? 0, l.ActiveMilliamps?.Low ?? double.MaxValue);
        static double Busy(LoadProfile l) => l.PeakMilliamps is { } peak && l.ActiveMilliamps is null ? peak.High : l.ActiveMilliamps?.High ?? 0;
        if (before is { } was && added is not null)
        {
            var own = loads.Where(l => l.Load.Part == added).ToList();
            var (idle, busy) = (own.Sum(l => Idle(l.Load) * l.Ratio), own.Sum(l => Busy(l.Load) * l.Ratio));
            var (low, high) = (was * (1 - RiseSpread) + idle * (1 - CurrentSpread), was * (1 + RiseSpread) + busy * (1 + CurrentSpread));
            return new(
                "Current",
                (low + high) / 2,
                low,
                high,
                Unit.Milliamp,
                new Working(
                    "I = before ± 10 % + what the part adds ± 30 %",
                    [
                        new("before", was, Unit.Milliamp, "measured at the step before"),
                        new("idle", idle, Unit.Milliamp, "catalogue"),
                        new("at work", busy, Unit.Milliamp, "catalogue"),
                    ],
                    Practice
                )
            );
        }
        var ratio = supply.BoardRatio;
        var (least, most) = (board.Currents.ActiveMilliamps.Low, Math.Max(board.Currents.ActiveMilliamps.High, board.Currents.WifiReceiveMilliamps?.High ?? 0));
        var (bottom, top) = (
            least * ratio * (1 - CurrentSpread) + loads.Sum(l => Idle(l.Load) * l.Ratio),
            (most * ratio + loads.Sum(l => Busy(l.Load) * l.Ratio)) * (1 + CurrentSpread)
        );
        return new(
            "Current",
            Math.Clamp(board.Currents.ActiveMilliamps.Likely * ratio + loads.Sum(l => (Idle(l.Load) + Busy(l.Load)) / 2 * l.Ratio), bottom, top),
            bottom,
            top,
            Unit.Milliamp,
            new Working(
                "I = board + Σ parts, from idle to at work, ± 30 %",
                [
                    new("board, least", least * ratio, Unit.Milliamp, board.Currents.ActiveMilliamps.Source),
                    new("board, most", most * ratio, Unit.Milliamp, board.Currents.WifiReceiveMilliamps?.Source ?? board.Currents.ActiveMilliamps.Source),
                    .. loads.Select(l => new WorkingInput(l.Load.Label, Busy(l.Load) * l.Ratio, Unit.Milliamp, "at work; catalogue")),
                ],
                "catalogue; the spread: common practice, no source"
            )
        );
    }

    /// <summary>The pull-ups of an I2C or 1-Wire bus, measured at one of its lines; null where the plan names none.</summary>
    private static BuildStep? PullUp(BenchPlan plan, HardwareCatalogue catalogue, Board board, PlannedBus bus)
    {
        var line = bus.Kind switch
        {
            InterfaceKind.I2c => $"{bus.Name}.SDA",
            InterfaceKind.OneWire => $"{bus.Name}.DQ",
            _ => null,
        };
        if (
            line is null
            || plan.Lines.FirstOrDefault(l => l.Net == line) is not { } wire
            || CircuitOhms.PullUp(plan.Circuit, catalogue, line) is not { } expected
        )
        {
            return null;
        }
        return new(
            $"pull-up:{bus.Name}",
            BuildStage.Parts,
            $"Pull-up of {bus.Name}",
            null,
            [new("Supply off, all plugs out."), .. bus.Kind == InterfaceKind.I2c ? new[] { new BuildLine("The same at SCL.") } : []],
            null,
            [],
            new(
                MeasureKind.PullUpOhms,
                $"Between {wire.PinLabel} and the {board.LogicVolts} V of the board.",
                new(
                    $"Pull-up of {bus.Name}",
                    expected,
                    expected * (1 - PullUpSpread),
                    expected * (1 + PullUpSpread),
                    Unit.Ohm,
                    new Working(
                        "R of all pull-ups together ± 25 %",
                        [new("R", expected, Unit.Ohm, "circuit of the node")],
                        "resistors ± 5 %; what else hangs on the line takes some: common practice, no source"
                    )
                ),
                null
            ),
            None
        );
    }

    private static Figure Least() =>
        new(
            "Between supply and ground",
            ShortOhms * 20,
            ShortOhms,
            null,
            Unit.Ohm,
            new Working("more than 50 Ω", [new("least", ShortOhms, Unit.Ohm, "a short reads a few ohms, parts and dividers hundreds and more")], Practice)
        );

    private static PlannedWire? Supplied(BenchPlan plan, string part) => plan.Wires.FirstOrDefault(w => w.Part == part && w.Kind == WireKind.Supply);

    private static string? Cautions(NodeDesign node, HardwareCatalogue catalogue, string part) =>
        catalogue.Part(node.Part(part)?.Part ?? "")?.Cautions is { Count: > 0 } cautions ? cautions[0] : null;

    /// <summary>What tells one step from another of its kind.</summary>
    private static string Print(IEnumerable<BuildLine> lines) =>
        "#" + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', lines.Select(l => l.Text))))[..3]);
}
