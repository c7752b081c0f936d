using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Place;

namespace Cenotic.Core.Bench;

/// <summary>The supply from its source to the board: size, cable, fuse, heat, cells, protection.</summary>
internal static class PowerCheck
{
    private const double Margin = 1.3,
        WarmKelvin = 60,
        HotKelvin = 100,
        LongCableMetres = 3,
        PoeHoldMilliamps = 10,
        BurstDropVolts = 0.3,
        LeastOfRail = 0.97,
        RailVolts = 5,
        LeastInputVolts = 4.4;
    private static readonly double[] Fuses = [0.25, 0.5, 0.75, 1, 1.5, 2, 3, 4, 5, 7.5, 10];
    private static readonly int[] Gauges = [24, 22, 20, 18, 16, 14];

    /// <summary>Gauge of a supply cable whose maker has not said: planning value.</summary>
    internal const int UsualAwg = 22;

    internal static IReadOnlyList<Figure> Check(
        NodeDesign node,
        Board board,
        NodeSupply supply,
        IReadOnlyList<LoadProfile> loads,
        HardwareCatalogue catalogue,
        Surroundings around,
        List<Finding> findings
    )
    {
        var figures = new List<Figure>();
        var (typical, peak) = (AtSource(node, board, supply, loads, peak: false), AtSource(node, board, supply, loads, peak: true));
        figures.Add(typical);
        figures.Add(peak);
        var size = Figure.Exact(
            "Supply to choose",
            Math.Ceiling(Margin * peak.Value!.Value / 100) * 100,
            Unit.Milliamp,
            new Working(
                "I = 1.3 · peak, rounded up to 100 mA",
                [new("peak", peak.Value.Value, Unit.Milliamp, "at the source"), new("margin", Margin, "", "planning value")],
                "common practice, no source",
                [peak]
            )
        );
        figures.Add(size);
        Source(node, board, supply, catalogue, findings);
        Rating(node, board, supply, catalogue, typical, peak, findings);
        Cable(node, supply, typical, peak, figures, findings);
        Heat(node, board, supply, loads, figures, findings);
        Cells(node, supply, peak, catalogue, around, figures, findings);
        Inrush(node, board, supply, catalogue, figures, findings);
        return figures;
    }

    /// <summary>Current at the source: what the rails carry, and the board itself.</summary>
    private static Figure AtSource(NodeDesign node, Board board, NodeSupply supply, IReadOnlyList<LoadProfile> loads, bool peak)
    {
        double Of(LoadProfile l) => (peak ? l.PeakMilliamps?.High : null) ?? (peak ? l.ActiveMilliamps?.High : l.ActiveMilliamps?.Likely) ?? 0;
        var inputs = PartsAtSource(supply, loads)
            .Select(c => new WorkingInput(c.Load.Label, Of(c.Load) * c.Ratio, Unit.Milliamp, peak ? "at its peak" : "as it runs"))
            .Where(i => i.Value > 0)
            .ToList();
        var wifi = node.UsesWifi;
        var own =
            peak && wifi ? board.Currents.WifiTransmitPeakMilliamps ?? board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps
            : wifi ? board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps
            : board.Currents.ActiveMilliamps;
        inputs.Add(new(board.Label, (peak ? own.High : own.Likely) * supply.BoardRatio, Unit.Milliamp, own.Source));
        return Figure.Exact(
            peak ? "Peak current at the source" : "Usual current at the source",
            inputs.Sum(i => i.Value),
            Unit.Milliamp,
            new Working("I = Σ parts and board, each through its converters", inputs, "catalogue")
        );
    }

    /// <summary>Loads with the current each takes of the source, mA for each mA of the load.</summary>
    internal static IEnumerable<(LoadProfile Load, double Ratio)> PartsAtSource(NodeSupply supply, IReadOnlyList<LoadProfile> loads) =>
        supply
            .Supplied.Where(s => supply.Supplied.All(o => o.Rail.Id != s.Rail.FedFrom || o.Rail.Id == s.Rail.Id))
            .SelectMany(r => RailCheck.Carried(supply, r.Rail.Id, loads).Select(c => (c.Load, c.Ratio * r.CurrentRatio)));

    private static Remedy With(NodeDesign node, string label, PowerDesign changed) => new(label, [SetNodes.WithPower(node, changed)]);

    private static void Source(NodeDesign node, Board board, NodeSupply supply, HardwareCatalogue catalogue, List<Finding> findings)
    {
        var power = node.Power;
        var subject = new Subject("bench", node.Key, "supply");
        if (supply.SourceVolts is 12 or 24 && supply.Input is null)
        {
            findings.Add(NoStepDown(node, board, supply, catalogue, power, subject));
        }
        else if (supply.Input is null && power.Kind is PowerKind.Usb or PowerKind.FiveVolt or PowerKind.OverCable)
        {
            findings.Add(NoInput(node, board, catalogue, power, subject));
        }
        if (power.AlsoUsb && power.Kind != PowerKind.Usb && !power.BackfeedGuard)
        {
            findings.Add(Backfeed(node, power, subject));
        }
        if (power.Kind is PowerKind.TwelveVolt or PowerKind.TwentyFourVolt && !power.ReverseGuard)
        {
            findings.Add(Reverse(node, supply, power, subject));
        }
        var longest = node
            .Parts.Where(p => p.LeadMetres > LongCableMetres)
            .Select(p => (p.Label, p.LeadMetres))
            .Append(("its supply", power.LeadMetres))
            .MaxBy(l => l.Item2);
        if (longest.Item2 > LongCableMetres && !power.SurgeGuard)
        {
            findings.Add(Surge(node, power, subject, longest));
        }
        if (
            supply.HighestSourceVolts is { } highest
            && power.Module is { } id
            && power.Kind != PowerKind.OverCable
            && catalogue.Supply(id) is { } fitted
            && fitted.InputMaxVolts < highest
        )
        {
            findings.Add(ModuleOver(node, catalogue, power, subject, highest, fitted));
        }
        if (power is { Vehicle: true, SurgeGuard: false })
        {
            findings.Add(VehicleSpikes(node, supply, power, subject));
        }
        if (power.Kind == PowerKind.OverCable && node.Sleeps)
        {
            findings.Add(PoeHold(node, subject));
        }
        foreach (
            var module in supply.Supplied.Select(s => s.Module).OfType<SupplyModule>().Where(m => m.Kind is not SupplyModuleKind.Linear).DistinctBy(m => m.Id)
        )
        {
            findings.AddRange(
                module
                    .Cautions.Concat(module.Needs.Select(n => $"Needed: {n}."))
                    .Select(c => new Finding("BENCH-CAUTION", Severity.Note, subject, c, $"{module.Label}.", [], null, module.Source))
            );
        }
    }

    private static Finding NoStepDown(NodeDesign node, Board board, NodeSupply supply, HardwareCatalogue catalogue, PowerDesign power, Subject subject) =>
        new(
            "BENCH-STEP-DOWN",
            Severity.Stop,
            subject,
            $"Nothing brings {supply.SourceVolts} V down to what the {board.Label} takes.",
            "It would be destroyed at once.",
            [
                .. new[] { "buck-lm2596", "buck-mp1584" }
                    .Select(catalogue.Supply)
                    .OfType<SupplyModule>()
                    .Where(m => m.InputMaxVolts >= supply.SourceVolts * 1.2)
                    .Select(m => With(node, $"Put a {m.Label} before it", power with { Module = m.Id })),
            ],
            "Set its output to 5 V with a meter before you connect the board.",
            "board data in the catalogue"
        );

    private static Finding NoInput(NodeDesign node, Board board, HardwareCatalogue catalogue, PowerDesign power, Subject subject) =>
        new(
            "BENCH-NO-INPUT",
            Severity.Stop,
            subject,
            $"The {board.Label} has no input for {(power.Kind == PowerKind.Usb ? "USB" : "5 V")}.",
            "It takes " + string.Join("; ", board.Supplies.Select(s => $"{s.Label} {s.MinVolts} to {s.MaxVolts} V")) + ".",
            [
                .. new[]
                {
                    With(node, "Feed it from a 5 V supply of 1 A", power with { Kind = PowerKind.FiveVolt }),
                    With(node, "Feed it over USB", power with { Kind = PowerKind.Usb }),
                }.Where((_, i) => NodeSupply.Of(board, power with { Kind = i == 0 ? PowerKind.FiveVolt : PowerKind.Usb }, catalogue).Input is not null),
            ],
            null,
            "board data in the catalogue"
        );

    private static Finding Backfeed(NodeDesign node, PowerDesign power, Subject subject) =>
        new(
            "BENCH-BACKFEED",
            Severity.Stop,
            subject,
            "USB and the other supply feed the board at once, with nothing between them.",
            "The higher one drives current back into the other: a port or a cell can be damaged.",
            [
                With(node, "Put a diode (1N5819 type) in the other supply", power with { BackfeedGuard = true }),
                With(node, "Never plug USB in beside it", power with { AlsoUsb = false }),
            ],
            null,
            "common practice, no source"
        );

    private static Finding Reverse(NodeDesign node, NodeSupply supply, PowerDesign power, Subject subject) =>
        new(
            "BENCH-REVERSE",
            Severity.Risk,
            subject,
            $"A reversed {supply.SourceVolts} V supply kills the step-down module and what hangs on it.",
            "Screw terminals and loose wires get swapped sooner or later.",
            [With(node, "Put a diode or P-channel MOSFET in the supply", power with { ReverseGuard = true })],
            null,
            "common practice, no source"
        );

    private static Finding Surge(NodeDesign node, PowerDesign power, Subject subject, (string, double LeadMetres) longest) =>
        new(
            "BENCH-SURGE",
            Severity.Risk,
            subject,
            $"The cable to {longest.Item1} is {longest.Item2:0.#} m long, with nothing against surges and discharge.",
            "Long cables, and all that leave the building, pick up spikes that kill inputs.",
            [With(node, "Fit clamps and filters at the long cables", power with { SurgeGuard = true })],
            "At each signal: 1 kΩ in series, 10 nF to ground, and a clamp diode array to the logic supply; at the supply: a clamp whose "
                + "stand-off lies above its highest voltage. No substitute for lightning protection.",
            "common practice, no source"
        );

    private static Finding ModuleOver(NodeDesign node, HardwareCatalogue catalogue, PowerDesign power, Subject subject, double highest, SupplyModule fitted) =>
        new(
            "BENCH-MODULE-OVER",
            Severity.Stop,
            subject,
            $"The {fitted.Label} takes {fitted.InputMaxVolts:0.#} V at most; the source rises to {highest:0.#} V.",
            "It breaks through, and its whole input reaches the board.",
            [
                .. catalogue
                    .Supplies.Where(m =>
                        m.Kind == SupplyModuleKind.StepDown && m.InputMaxVolts >= highest && m is { OutputMinVolts: <= 5, OutputMaxVolts: >= 5 }
                    )
                    .OrderBy(m => m.Id, StringComparer.Ordinal)
                    .Take(2)
                    .Select(m => With(node, $"Take a {m.Label}", power with { Module = m.Id })),
            ],
            "Or bring the voltage down in two steps.",
            fitted.Source
        );

    private static Finding VehicleSpikes(NodeDesign node, NodeSupply supply, PowerDesign power, Subject subject) =>
        new(
            "BENCH-VEHICLE",
            Severity.Stop,
            subject,
            $"The {supply.SourceVolts:0} V of a vehicle rise to {supply.HighestSourceVolts:0.0} V while it charges and jump far higher when a "
                + "load lets go, with nothing against it.",
            "The first spike kills the converter and what hangs on it.",
            [With(node, "Fit clamps and filters", power with { SurgeGuard = true })],
            $"A clamp with a stand-off of {SupplyChain.ClampVolts(supply.SourceVolts ?? 12):0} V behind the fuse, and a converter that takes "
                + "what it lets through.",
            "ISO 7637-2 and ISO 16750-2, load dump, from memory"
        );

    private static Finding PoeHold(NodeDesign node, Subject subject) =>
        new(
            "BENCH-POE-HOLD",
            Severity.Risk,
            subject,
            $"Asleep the node takes less than the {PoeHoldMilliamps:0} mA that keep a port of the cable on.",
            "The port switches off and the node starts anew each time.",
            [new("Let it stay awake", [SetNodes.As(node) with { Sleeps = false }])],
            null,
            "IEEE 802.3af, maintain power signature, from memory"
        );

    /// <summary>What the source must give against what it can.</summary>
    private static void Rating(
        NodeDesign node,
        Board board,
        NodeSupply supply,
        HardwareCatalogue catalogue,
        Figure typical,
        Figure peak,
        List<Finding> findings
    )
    {
        var power = node.Power;
        var rated =
            power.RatedAmps * 1000
            ?? power.Kind switch
            {
                PowerKind.FiveVolt => 1000,
                PowerKind.TwelveVolt or PowerKind.TwentyFourVolt => 2000,
                PowerKind.OverCable => 12_950 / 48.0,
                _ => null,
            };
        if (power.Kind is PowerKind.Cells or PowerKind.Capacitor || rated is not { } most || peak.Value <= most)
        {
            return;
        }
        var always = typical.Value > most;
        var bigger = new[] { 1.0, 2, 3, 4, 5, 8, 10 }.FirstOrDefault(a => a * 1000 >= peak.Value);
        IReadOnlyList<Remedy> remedies = power.Kind switch
        {
            PowerKind.Usb => NodeSupply.FiveVoltRemedy(node, board, catalogue),
            PowerKind.OverCable => [],
            _ when bigger > 0 => [new($"Take a supply of {bigger:0} A", [SetNodes.WithPower(node, power with { RatedAmps = bigger })])],
            _ => [],
        };
        findings.Add(
            new(
                "BENCH-SOURCE-OVER",
                always ? Severity.Stop : Severity.Risk,
                new("bench", node.Key, "supply"),
                $"The source gives {most:0} mA; the node takes {typical.Value:0} mA of it and {peak.Value:0} mA at its peak.",
                "An overloaded supply sags, switches off or gets hot.",
                remedies,
                remedies.Count > 0 ? null : "Give the biggest load a supply of its own, with the grounds joined.",
                power.Kind == PowerKind.OverCable ? "IEEE 802.3af, 12.95 W at the device, from memory" : "rating of the supply"
            )
        );
    }

    private static void Cable(NodeDesign node, NodeSupply supply, Figure typical, Figure peak, List<Figure> figures, List<Finding> findings)
    {
        var power = node.Power;
        var subject = new Subject("bench", node.Key, "supply");
        var volts = supply.SourceVolts ?? 5;
        var fused = power.Kind is PowerKind.TwelveVolt or PowerKind.TwentyFourVolt;
        var amps = peak.Value!.Value / 1000;
        var awg = power.LeadAwg ?? UsualAwg;
        var carries = CopperWire.AmpsForLong(awg);
        if (fused && power.FuseAmps is null)
        {
            var fuse = Fuses.FirstOrDefault(f => f >= 1.5 * amps, Fuses[^1]);
            findings.Add(NoFuse(node, power, subject, volts, awg, fuse));
        }
        else if (power.FuseAmps is { } rating && rating > carries)
        {
            var gauge = Gauges.FirstOrDefault(g => CopperWire.AmpsForLong(g) >= rating, 0);
            findings.Add(FuseCable(node, power, subject, amps, awg, carries, rating, gauge));
        }
        if (power.LeadMetres <= 0)
        {
            return;
        }
        var drop = CableLoss(peak, power, amps, awg);
        figures.Add(drop);
        var least = supply.SourceVolts is null ? 4.75 : volts * 0.9;
        if (volts - drop.Value!.Value < least)
        {
            var better = Gauges
                .Where(g => g < awg && volts - CopperWire.DropVolts(g, power.LeadMetres, amps) >= least)
                .Take(1)
                .Select(g => With(node, $"Use AWG {g}", power with { LeadAwg = g }))
                .ToList();
            findings.Add(CableDrop(power, subject, volts, awg, drop, least, better));
        }
    }

    private static Finding NoFuse(NodeDesign node, PowerDesign power, Subject subject, double volts, int awg, double fuse) =>
        new(
            "BENCH-NO-FUSE",
            Severity.Risk,
            subject,
            $"The {volts} V source has no fuse.",
            "A short in the cable burns it: such sources give many amperes.",
            [
                With(
                    node,
                    $"Fit a fuse of {fuse} A at the source",
                    power with
                    {
                        FuseAmps = fuse,
                        LeadAwg = Gauges.FirstOrDefault(g => g <= awg && CopperWire.AmpsForLong(g) >= fuse, Gauges[^1]),
                    }
                ),
            ],
            "At the source end of the cable, a fuse or a resettable one.",
            "common practice, no source"
        );

    private static Finding FuseCable(NodeDesign node, PowerDesign power, Subject subject, double amps, int awg, double carries, double rating, int gauge) =>
        new(
            "BENCH-FUSE-CABLE",
            Severity.Stop,
            subject,
            $"The fuse of {rating} A lets more through than the cable (AWG {awg}) carries for long, {carries:0.0} A.",
            "In a short the cable burns before the fuse.",
            [
                .. Fuses.Where(f => f <= carries && f >= amps).TakeLast(1).Select(f => With(node, $"Fit a fuse of {f} A", power with { FuseAmps = f })),
                .. gauge > 0 ? new[] { With(node, $"Use AWG {gauge}", power with { LeadAwg = gauge }) } : [],
            ],
            null,
            "4 A a mm²: common practice, no source"
        );

    private static Figure CableLoss(Figure peak, PowerDesign power, double amps, int awg) =>
        Figure.Exact(
            "Voltage lost in the cable at peak",
            CopperWire.DropVolts(awg, power.LeadMetres, amps),
            Unit.Volt,
            new Working(
                "V = 2 · L · I · r",
                [
                    new("L", power.LeadMetres, Unit.Metre, "one way"),
                    new("I", amps, "A", "peak at the source"),
                    new("r", CopperWire.OhmsPerMetre(awg), "Ω/m", $"AWG {awg}, ASTM B258{(power.LeadAwg is null ? "; assumed" : "")}"),
                ],
                "Ohm's law",
                [peak]
            )
        );

    private static Finding CableDrop(PowerDesign power, Subject subject, double volts, int awg, Figure drop, double least, List<Remedy> better) =>
        new(
            "BENCH-CABLE-DROP",
            Severity.Risk,
            subject,
            $"At peak {drop.Value:0.00} V are lost in {power.LeadMetres:0.#} m of AWG {awg}: {volts - drop.Value!.Value:0.00} V arrive.",
            $"Below {least:0.0#} V the board may reset.",
            better,
            better.Count > 0 ? null : "Shorten the cable, or take a higher voltage there and step it down at the node.",
            "ASTM B258; Ohm's law"
        );

    private static void Heat(NodeDesign node, Board board, NodeSupply supply, IReadOnlyList<LoadProfile> loads, List<Figure> figures, List<Finding> findings)
    {
        foreach (var rail in supply.Supplied.Where(s => s.Module is { Kind: SupplyModuleKind.Linear, KelvinPerWatt: not null }))
        {
            var module = rail.Module!;
            var from = supply.Rails.FirstOrDefault(r => r.Id == rail.Rail.FedFrom && r.Id != rail.Rail.Id);
            var input = from?.Volts ?? (supply.Input?.Id == "3v3" || supply.SourceVolts is null ? 5 : supply.SourceVolts.Value);
            if (supply.Input?.MaxVolts < 4)
            {
                continue;
            }
            Dropout(node, supply, rail, from, figures, findings);
            var own = node.UsesWifi && !node.Sleeps ? board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps : board.Currents.ActiveMilliamps;
            var parts = RailCheck.Carried(supply, rail.Rail.Id, loads).Sum(c => (c.Load.ActiveMilliamps?.Likely ?? 0) * c.Ratio);
            var milliwatts = LinearRegulator.Milliwatts(input, rail.Rail.Volts, own.Likely + parts);
            var rise = new Figure(
                $"{module.Label}: rise above the air",
                LinearRegulator.RiseKelvin(milliwatts, module.KelvinPerWatt!.Likely),
                LinearRegulator.RiseKelvin(milliwatts, module.KelvinPerWatt.Low),
                LinearRegulator.RiseKelvin(milliwatts, module.KelvinPerWatt.High),
                "K",
                new Working(
                    "ΔT = (Vin − Vout) · I · Rθ",
                    [
                        new("Vin", input, Unit.Volt, "rail before it"),
                        new("Vout", rail.Rail.Volts, Unit.Volt, rail.Rail.Label),
                        new("I", own.Likely + parts, Unit.Milliamp, "board and parts"),
                        new("Rθ", module.KelvinPerWatt.Likely, "K/W", module.KelvinPerWatt.Source),
                    ],
                    "energy balance"
                )
            );
            figures.Add(rise);
            if (rise.Value > WarmKelvin)
            {
                findings.Add(
                    new(
                        "BENCH-HEAT",
                        rise.Value > HotKelvin ? Severity.Stop : Severity.Risk,
                        new("bench", node.Key, rail.Rail.Id),
                        $"The regulator of the {rail.Rail.Label} rail sheds {milliwatts / 1000:0.0} W and gets about {rise.Value:0} K warmer than the air.",
                        "Above 100 K it switches itself off; before that it bakes what lies beside it.",
                        [],
                        "Take the bigger loads off that rail: feed them from a regulator of their own, or step the input down first.",
                        "energy balance; thermal resistance from memory"
                    )
                );
            }
        }
    }

    /// <summary>Whether a linear regulator still has room when its input is at its lowest.</summary>
    private static void Dropout(NodeDesign node, NodeSupply supply, SuppliedRail rail, Rail? from, List<Figure> figures, List<Finding> findings)
    {
        if (rail.Module!.DropoutVolts is not { } dropout || from is null)
        {
            return;
        }
        // A converter between the cable and the regulator makes its output of what arrives.
        var lost =
            supply.BoardRatio != 1
                ? 0
                : figures.FirstOrDefault(f => f.Unit == Unit.Volt && f.Label.StartsWith("Voltage lost", StringComparison.Ordinal))?.Value ?? 0;
        var room = Figure.Exact(
            $"{rail.Module.Label}: what it can hold at its lowest input",
            from.LowVolts - lost - dropout.High,
            Unit.Volt,
            new Working(
                "V = Vin low − cable − dropout",
                [
                    new("Vin low", from.LowVolts, Unit.Volt, from.Label),
                    new("cable", lost, Unit.Volt, "at peak"),
                    new("dropout", dropout.High, Unit.Volt, rail.Module.Source),
                ],
                "regulator data sheet, from memory"
            )
        );
        figures.Add(room);
        if (room.Value < rail.Rail.Volts * LeastOfRail)
        {
            findings.Add(
                new(
                    "BENCH-DROPOUT",
                    Severity.Risk,
                    new("bench", node.Key, rail.Rail.Id),
                    $"At its lowest input the {rail.Module.Label} holds {room.Value:0.00} V, and {rail.Rail.Volts} V are wanted.",
                    "Parts and radio get less than they need when it matters: at a transmission.",
                    lost > 0
                        ?
                        [
                            .. Gauges
                                .Where(g => g < (node.Power.LeadAwg ?? UsualAwg))
                                .Select(g => node.Power with { LeadAwg = g })
                                .Where(p =>
                                    from.LowVolts
                                        - lost * CopperWire.OhmsPerMetre(p.LeadAwg!.Value) / CopperWire.OhmsPerMetre(node.Power.LeadAwg ?? UsualAwg)
                                        - dropout.High
                                    >= rail.Rail.Volts * LeastOfRail
                                )
                                .Take(1)
                                .Select(p => new Remedy($"Use AWG {p.LeadAwg}", [SetNodes.WithPower(node, p)])),
                        ]
                        : [],
                    "A shorter or thicker supply cable, or a regulator with less dropout.",
                    "regulator data sheet, from memory"
                )
            );
        }
    }

    private static void Cells(
        NodeDesign node,
        NodeSupply supply,
        Figure peak,
        HardwareCatalogue catalogue,
        Surroundings around,
        List<Figure> figures,
        List<Finding> findings
    )
    {
        if (supply.Cell is not { } cell || node.Power.Kind != PowerKind.Cells)
        {
            return;
        }
        var power = node.Power;
        var subject = new Subject("bench", node.Key, "supply");
        var each = peak.Value!.Value / power.Parallel;
        var sag = new Figure(
            "Cell sags at peak by",
            each / 1000 * cell.InternalOhms.Likely,
            each / 1000 * cell.InternalOhms.Low,
            each / 1000 * cell.InternalOhms.High,
            Unit.Volt,
            new Working(
                "V = I · R",
                [new("I", each, Unit.Milliamp, "peak, for each cell"), new("R", cell.InternalOhms.Likely, Unit.Ohm, cell.InternalOhms.Source)],
                "Ohm's law",
                [peak]
            )
        );
        figures.Add(sag);
        if (each > cell.MaxPulseMilliamps.High)
        {
            var stronger = catalogue
                .Cells.Where(c => c.MaxPulseMilliamps.Likely >= peak.Value && c.Id != cell.Id)
                .Select(c => (c, changed: power with { Cell = c.Id, Parallel = 1, StepUp = power.StepUp || cell.NominalVolts < 3.2 }))
                .Where(p => NodeSupply.Of(catalogue.Board(node.Board)!, p.changed, catalogue).Input is not null)
                .Take(2);
            findings.Add(CellPulse(node, cell, subject, each, stronger));
        }
        if (cell.Rechargeable && !power.CellCutOff)
        {
            findings.Add(NoCutoff(node, cell, power, subject));
        }
        if (power.Charger is null)
        {
            return;
        }
        if (catalogue.Supply(power.Charger) is { } charger && (!cell.Rechargeable || Math.Abs(charger.OutputMaxVolts - cell.FullVolts) > 0.05))
        {
            findings.Add(ChargeWrong(node, cell, power, subject, charger));
        }
        else if (around.BeyondCharging && !power.ChargerMeasuresCell)
        {
            findings.Add(ChargeTemp(node, around, cell, power, subject));
        }
    }

    private static Finding CellPulse(NodeDesign node, Cell cell, Subject subject, double each, IEnumerable<(Cell c, PowerDesign changed)> stronger) =>
        new(
            "BENCH-CELL-PULSE",
            Severity.Stop,
            subject,
            $"{cell.Label} gives pulses of {cell.MaxPulseMilliamps.High:0} mA; this node takes {each:0} mA at its peak.",
            "Its voltage breaks in with the first transmission, and the board resets.",
            [.. stronger.Select(p => With(node, $"Use the {p.c.Label}", p.changed))],
            "Or a radio that sends with less, and a capacitor for the pulse.",
            cell.Source
        );

    private static Finding NoCutoff(NodeDesign node, Cell cell, PowerDesign power, Subject subject) =>
        new(
            "BENCH-NO-CUTOFF",
            Severity.Stop,
            subject,
            $"Nothing cuts {cell.Label} off when it is empty or shorted.",
            "A lithium cell that is emptied too far, or shorted, can burn.",
            [With(node, "Use a protected cell or a protection board", power with { CellCutOff = true })],
            null,
            cell.Source
        );

    private static Finding ChargeWrong(NodeDesign node, Cell cell, PowerDesign power, Subject subject, SupplyModule charger) =>
        new(
            "BENCH-CHARGE-WRONG",
            Severity.Stop,
            subject,
            cell.Rechargeable
                ? $"The {charger.Label} charges to {charger.OutputMaxVolts} V; {cell.Label} is full at {cell.FullVolts} V."
                : $"{cell.Label} must never be charged.",
            "It can burst or burn.",
            [With(node, "Take the charger off", power with { Charger = null })],
            null,
            cell.Source
        );

    private static Finding ChargeTemp(NodeDesign node, Surroundings around, Cell cell, PowerDesign power, Subject subject) =>
        new(
            "BENCH-CHARGE-TEMP",
            Severity.Stop,
            subject,
            $"{around.Room} can be below 0 °C or above 45 °C, and the charger does not measure the cell.",
            "Charging a lithium cell in the cold plates metal inside it; in the heat it ages fast or burns.",
            [
                With(node, "Use a charger that measures the cell", power with { ChargerMeasuresCell = true }),
                With(node, "Take the charger off and charge indoors", power with { Charger = null }),
            ],
            null,
            cell.Source
        );

    private static void Inrush(NodeDesign node, Board board, NodeSupply supply, HardwareCatalogue catalogue, List<Figure> figures, List<Finding> findings)
    {
        var bulk = node
            .Parts.Select(p => (p, Part: catalogue.Part(p.Part)))
            .Where(p => p.Part?.BulkMicrofarads is not null && !p.p.SwitchSupply)
            .Select(p => new WorkingInput(p.p.Label, p.Part!.BulkMicrofarads!.Likely, "µF", p.Part.BulkMicrofarads.Source))
            .ToList();
        Bursts(node, board, supply, catalogue, figures);
        if (bulk.Count == 0)
        {
            return;
        }
        var sum = bulk.Sum(b => b.Value);
        figures.Add(Figure.Exact("Capacitance that charges at switch-on", sum, "µF", new Working("C = Σ capacitors at the parts", bulk, "catalogue")));
        var draw = figures.First(f => f.Label == "Usual current at the source").Value!.Value;
        figures.Add(HoldTime(sum, draw));
        var most = node.Power.Kind switch
        {
            PowerKind.Usb => catalogue.Supply("usb-5v")?.MaxInputMicrofarads,
            _ => null,
        };
        if (most is { } limit && sum > limit)
        {
            findings.Add(TooMuchInrush(node, board, catalogue, sum, limit));
        }
    }

    /// <summary>Capacitors that carry the bursts of parts which draw more than their rail gives.</summary>
    private static void Bursts(NodeDesign node, Board board, NodeSupply supply, HardwareCatalogue catalogue, List<Figure> figures)
    {
        foreach (
            var (instance, part) in node
                .Parts.Select(p => (p, Part: catalogue.Part(p.Part)))
                .Where(p => p.Part is { PeakMilliamps: not null, PeakMs: not null })
        )
        {
            var (amps, ms) = (part!.PeakMilliamps!.Likely, part.PeakMs!.High);
            var gives = supply.For(part, board)?.BudgetMilliamps.Likely ?? 0;
            if (part.BulkMicrofarads is { } own)
            {
                figures.Add(
                    Figure.Exact(
                        $"Capacitor for the bursts of {instance.Label}",
                        own.Likely,
                        "µF",
                        new Working("what the part asks for", [new("C", own.Likely, "µF", own.Source)], own.Source)
                    )
                );
            }
            else if (amps > gives)
            {
                figures.Add(
                    Figure.Exact(
                        $"Capacitor for the bursts of {instance.Label}",
                        StorageCapacitor.FromCharge((amps - gives) * ms, BurstDropVolts, 0),
                        "µF",
                        new Working(
                            "C = (I − Igiven) · t / ΔV",
                            [
                                new("I", amps, Unit.Milliamp, part.PeakMilliamps.Source),
                                new("Igiven", gives, Unit.Milliamp, "what its rail gives"),
                                new("t", ms, Unit.Millisecond, part.PeakMs.Source),
                                new("ΔV", BurstDropVolts, Unit.Volt, "planning value"),
                            ],
                            "charge of a capacitor"
                        )
                    )
                );
            }
        }
    }

    private static Figure HoldTime(double sum, double draw) =>
        Figure.Exact(
            "These hold the node through a dip for",
            StorageCapacitor.HoldMs(sum, draw, RailVolts, LeastInputVolts),
            Unit.Millisecond,
            new Working(
                "t = C · (V1 − V2) / I",
                [
                    new("C", sum, "µF", "capacitors at the parts"),
                    new("V1", RailVolts, Unit.Volt, "5 V rail"),
                    new("V2", LeastInputVolts, Unit.Volt, "where a regulator of 1.1 V dropout lets go"),
                    new("I", draw, Unit.Milliamp, "as it runs"),
                ],
                "charge of a capacitor"
            )
        );

    private static Finding TooMuchInrush(NodeDesign node, Board board, HardwareCatalogue catalogue, double sum, double limit) =>
        new(
            "BENCH-INRUSH",
            Severity.Note,
            new("bench", node.Key, "supply"),
            $"At switch-on {sum:0} µF charge at once; a USB port is meant for {limit:0} µF.",
            "The voltage dips, and a port or module may switch off and try again.",
            NodeSupply.FiveVoltRemedy(node, board, catalogue),
            "Or let a switch bring the big capacitors on one after another.",
            "USB 2.0 inrush limit, from memory"
        );
}
