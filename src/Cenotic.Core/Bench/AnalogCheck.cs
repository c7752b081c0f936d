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
            var (low, high) = Span(board, supply, connection, line);
            // A converter with ranges is set to the smallest that holds the signal.
            var full = converter.RangesVolts?.Where(r => r >= high).DefaultIfEmpty(converter.HighVolts).Min() ?? converter.HighVolts;
            var highest = pin.MaxVolts is { } most ? Math.Min(most, converter.HighVolts) : converter.HighVolts;
            var step = ConverterReading.StepMicrovolts(full, converter.Bits) / 1e6 * (to - from) / Math.Max(0.01, high - low);
            var loading = converter.InputOhms is { } load ? (line.SourceOhms ?? 0) / ((line.SourceOhms ?? 0) + load) * 100 : 0;
            var error = ConverterReading.ErrorInUnit(converter.ErrorPercent.Likely + loading, full, to - from, Math.Max(0.01, high - low));
            WorkingInput[] inputs =
            [
                new("full scale", full, Unit.Volt, helper?.Part.Label ?? board.Label),
                new("signal low", low, Unit.Volt, connection.Part.Label),
                new("signal high", high, Unit.Volt, connection.Part.Label),
                new("span", to - from, quantity.Unit, $"{quantity.Quantity}, straight between its ends"),
                new("error", converter.ErrorPercent.Likely, Unit.Percent, converter.ErrorPercent.Source),
                .. loading > 0 ? new[] { new WorkingInput("loading", loading, Unit.Percent, "source and input resistance as a divider") } : [],
            ];
            var figure = Figure.Exact(
                "Error of the converter",
                error,
                quantity.Unit,
                new Working("e = (error + loading) · full scale · span / (signal high − signal low)", inputs, "ideal converter; straight sensor")
            );
            var steps = Figure.Exact(
                "One step",
                step,
                quantity.Unit,
                new Working(
                    "step = full scale / 2^bits · span / (signal high − signal low)",
                    [.. inputs[..4], new("bits", converter.Bits, "", helper?.Part.Label ?? board.Label)],
                    "ideal converter; straight sensor"
                )
            );
            readings.Add(new(connection.Instance.Key, line.Name, quantity.Quantity, helper?.Instance.Label ?? board.Label, steps, figure));
            if (high > highest + 0.05 || low < converter.LowVolts - 0.05)
            {
                var remedies = helper is null ? Through("BENCH-ANALOG-RANGE", demand.Wires[0].Key) : [];
                findings.Add(
                    new(
                        "BENCH-ANALOG-RANGE",
                        Severity.Risk,
                        new("bench", node.Key, $"{connection.Instance.Key}.{line.Name}"),
                        $"{connection.Instance.Label} gives {low:0.##} to {high:0.##} V; the converter is straight from {converter.LowVolts:0.##} to "
                            + $"{highest:0.##} V.",
                        "At the end of its range the reading flattens or stops.",
                        remedies,
                        remedies.Count > 0 ? null : "Put a divider before it, or use another converter range.",
                        converter.ErrorPercent.Source
                    )
                );
            }
            else if (error > (quantity.Error ?? double.MaxValue))
            {
                var remedies = helper is null ? Through("BENCH-ANALOG-COARSE", demand.Wires[0].Key) : [];
                findings.Add(
                    new(
                        "BENCH-ANALOG-COARSE",
                        Severity.Risk,
                        new("bench", node.Key, $"{connection.Instance.Key}.{line.Name}"),
                        $"The converter of the {board.Label} adds ±{error:0.##} {quantity.Unit} to {connection.Instance.Label}, which is good for "
                            + $"±{quantity.Error} {quantity.Unit}.",
                        "The reading is worse than the sensor.",
                        remedies,
                        remedies.Count > 0 ? null : "Average many readings, or calibrate the chain end to end.",
                        converter.ErrorPercent.Source
                    )
                );
            }
        }
        return readings;
    }

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
}
