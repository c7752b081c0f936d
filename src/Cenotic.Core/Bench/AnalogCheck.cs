using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Bench;

/// <summary>Range, step and error of each analog reading, in the unit of its quantity.</summary>
internal static class AnalogCheck
{
    /// <param name="tried">The plan with a remedy; null where that brings a stop or is not asked for.</param>
    internal static IReadOnlyList<AnalogReading> Check(
        NodeDesign node,
        Board board,
        NodeSupply supply,
        PinSolution solution,
        HardwareCatalogue catalogue,
        List<Finding> findings,
        Func<Remedy, BenchPlan?> tried
    )
    {
        var readings = new List<AnalogReading>();
        // The same remedy for every reading of the node: tried once, and only when it is wanted. A converter has few inputs: not every reading need get one.
        var through = new Lazy<(Remedy Remedy, BenchPlan Plan)?>(() =>
            node.Parts.All(p => catalogue.Part(p.Part)?.Helper?.Kind != HelperKind.Converter)
            && catalogue.Part("ads1115") is { } better
            && new Remedy($"Read it through an {better.Label.Split(' ')[0]}", [new PutPart(node.Key, new PartInstance("converter", "Converter", better.Id))])
                is var remedy
            && tried(remedy) is { } plan
                ? (remedy, plan)
                : null
        );
        IReadOnlyList<Remedy> Through(string code, string item) =>
            through.Value is { } way && way.Plan.Findings.All(f => f.Code != code || f.Subject.Item != item) ? [way.Remedy] : [];
        foreach (
            var (demand, pin) in solution
                .List.Demands.Zip(solution.Pins)
                .Where(p => p.First.Needs.Analog && p.First.Wires[0].Part != DemandList.SupplySense.Part)
        )
        {
            var connection = solution.Structure.Connections.First(c => c.Instance.Key == demand.Wires[0].Part);
            var line = connection.Interface.Lines.First(l => l.Name == demand.Wires[0].Line);
            var helper = HelperPins.IsHelper(pin)
                ? solution.Structure.Connections.First(c => pin.Id.StartsWith(c.Instance.Key + ":", StringComparison.Ordinal))
                : null;
            if (
                (helper?.Part.Helper?.Converter ?? board.Converter) is not { } converter
                || connection.Part.Quantities.FirstOrDefault(q => q.Kind == ReadingKind.Gauge) is not { Min: { } from, Max: { } to } quantity
            )
            {
                continue;
            }
            var chain = new Chain(board, connection, line, helper, converter, quantity, to - from, Span(board, supply, connection, line));
            readings.Add(chain.Reading());
            var highest = pin.MaxVolts is { } most ? Math.Min(most, converter.HighVolts) : converter.HighVolts;
            if (chain.High > highest + 0.05 || chain.Low < converter.LowVolts - 0.05)
            {
                var remedies = helper is null ? Through("BENCH-ANALOG-RANGE", demand.Wires[0].Key) : [];
                findings.Add(OutOfRange(node, chain, highest, remedies));
            }
            else if (chain.Error > (quantity.Error ?? double.MaxValue))
            {
                var remedies = helper is null ? Through("BENCH-ANALOG-COARSE", demand.Wires[0].Key) : [];
                findings.Add(TooCoarse(node, chain, remedies));
            }
        }
        return readings;
    }

    private static Finding OutOfRange(NodeDesign node, Chain chain, double highest, IReadOnlyList<Remedy> remedies) =>
        new(
            "BENCH-ANALOG-RANGE",
            Severity.Risk,
            new("bench", node.Key, $"{chain.Connection.Instance.Key}.{chain.Line.Name}"),
            $"{chain.Connection.Instance.Label} gives {chain.Low:0.##} to {chain.High:0.##} V; the converter is straight from "
                + $"{chain.Converter.LowVolts:0.##} to {highest:0.##} V.",
            "At the end of its range the reading flattens or stops.",
            remedies,
            remedies.Count > 0 ? null : "Put a divider before it, or use another converter range.",
            chain.Converter.ErrorPercent.Source
        );

    private static Finding TooCoarse(NodeDesign node, Chain chain, IReadOnlyList<Remedy> remedies) =>
        new(
            "BENCH-ANALOG-COARSE",
            Severity.Risk,
            new("bench", node.Key, $"{chain.Connection.Instance.Key}.{chain.Line.Name}"),
            $"The converter of the {chain.Board.Label} adds ±{chain.Error:0.##} {chain.Quantity.Unit} to {chain.Connection.Instance.Label}, which is good "
                + $"for ±{chain.Quantity.Error} {chain.Quantity.Unit}.",
            "The reading is worse than the sensor.",
            remedies,
            remedies.Count > 0 ? null : "Average many readings, or calibrate the chain end to end.",
            chain.Converter.ErrorPercent.Source
        );

    private static (double Low, double High) Span(Board board, NodeSupply supply, Connection connection, PartLine line)
    {
        if (connection.Interface.Resistive is { } sensor)
        {
            return (
                ResistiveSender.Volts(board.LogicVolts, sensor.ReferenceOhms, sensor.LowOhms),
                ResistiveSender.Volts(board.LogicVolts, sensor.ReferenceOhms, sensor.HighOhms)
            );
        }
        var high = LineRules.Volts(line, connection, board, supply);
        return LineRules.Of(line, connection, board, supply) == LineSupport.DividerToBoard
            ? ((line.LowVolts ?? 0) * board.LogicVolts / high, board.LogicVolts)
            : (line.LowVolts ?? 0, high);
    }

    /// <summary>A sensor's line and the converter that reads it: of the board, or of a helper.</summary>
    /// <param name="Range">From one end of what is measured to the other, in the unit of the quantity.</param>
    /// <param name="Signal">Volts at these ends.</param>
    private sealed record Chain(
        Board Board,
        Connection Connection,
        PartLine Line,
        Connection? Helper,
        ConverterFacts Converter,
        PartQuantity Quantity,
        double Range,
        (double Low, double High) Signal
    )
    {
        private const string Ideal = "ideal converter; straight sensor";

        internal double Low => Signal.Low;

        internal double High => Signal.High;

        /// <summary>Full scale, V: a converter with ranges is set to the smallest that holds the signal.</summary>
        private double Full => Converter.RangesVolts?.Where(r => r >= High).DefaultIfEmpty(Converter.HighVolts).Min() ?? Converter.HighVolts;

        private double SpanVolts => Math.Max(0.01, High - Low);

        /// <summary>What the input of the converter takes off the signal, %.</summary>
        private double Loading => Converter.InputOhms is { } load ? (Line.SourceOhms ?? 0) / ((Line.SourceOhms ?? 0) + load) * 100 : 0;

        internal double Error => ConverterReading.ErrorInUnit(Converter.ErrorPercent.Likely + Loading, Full, Range, SpanVolts);

        internal AnalogReading Reading()
        {
            var by = Helper?.Part.Label ?? Board.Label;
            WorkingInput[] inputs =
            [
                new("full scale", Full, Unit.Volt, by),
                new("signal low", Low, Unit.Volt, Connection.Part.Label),
                new("signal high", High, Unit.Volt, Connection.Part.Label),
                new("span", Range, Quantity.Unit, $"{Quantity.Quantity}, straight between its ends"),
                new("error", Converter.ErrorPercent.Likely, Unit.Percent, Converter.ErrorPercent.Source),
                .. Loading > 0 ? new[] { new WorkingInput("loading", Loading, Unit.Percent, "source and input resistance as a divider") } : [],
            ];
            var step = ConverterReading.StepMicrovolts(Full, Converter.Bits) / 1e6 * Range / SpanVolts;
            var steps = new Working(
                "step = full scale / 2^bits · span / (signal high − signal low)",
                [.. inputs[..4], new("bits", Converter.Bits, "", by)],
                Ideal
            );
            var error = new Working("e = (error + loading) · full scale · span / (signal high − signal low)", inputs, Ideal);
            return new(
                Connection.Instance.Key,
                Line.Name,
                Quantity.Quantity,
                Helper?.Instance.Label ?? Board.Label,
                Figure.Exact("One step", step, Quantity.Unit, steps),
                Figure.Exact("Error of the converter", Error, Quantity.Unit, error)
            );
        }
    }
}
