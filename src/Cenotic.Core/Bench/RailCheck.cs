using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>What each rail carries against what it can give.</summary>
internal static class RailCheck
{
    internal static IReadOnlyList<RailLoad> Rails(
        NodeDesign node,
        Board board,
        NodeSupply supply,
        HardwareCatalogue catalogue,
        IReadOnlyList<LoadProfile> loads,
        List<Finding> findings
    )
    {
        var result = new List<RailLoad>();
        foreach (var rail in supply.Rails)
        {
            // A rail carries what hangs on it and, through their converters, what hangs on the rails made from it.
            var on = Carried(supply, rail.Id, loads).ToList();
            if (on.Count == 0)
            {
                continue;
            }
            var typical = Sum("Typical load", on, l => l.ActiveMilliamps?.Likely, "as it runs");
            var peak = Sum("Peak load", on, l => l.PeakMilliamps?.High ?? l.ActiveMilliamps?.High, "all peaks at once");
            var left = node.UsesWifi && !node.Sleeps && rail.WifiBudgetMilliamps is { } wifi ? wifi : rail.BudgetMilliamps;
            var budget = Figure.Exact(
                "Rail can give",
                left.Likely,
                Unit.Milliamp,
                new Working("from the catalogue", [new(rail.Label, left.Likely, Unit.Milliamp, left.Source)], left.Source)
            );
            result.Add(new(rail.Id, rail.Label, rail.Volts, typical, peak, budget));
            if (peak.Value > budget.Value)
            {
                var always = typical.Value > budget.Value;
                var remedies =
                    node.Power.Kind == PowerKind.Usb && rail.FedFrom == "usb" && (always ? typical.Value : peak.Value) <= 700
                        ? NodeSupply.FiveVoltRemedy(node, board, catalogue)
                        : [];
                findings.Add(
                    new(
                        always ? "BENCH-RAIL-OVER" : "BENCH-RAIL-PEAK",
                        always ? Severity.Stop : Severity.Risk,
                        new("bench", node.Key, rail.Id),
                        $"The {rail.Label} rail gives {budget.Value:0} mA; the parts on it take {typical.Value:0} mA and {peak.Value:0} mA at their peak.",
                        always ? "The rail sags and the board resets." : "When the peaks fall together the rail sags and the board may reset.",
                        remedies,
                        remedies.Count > 0 ? null : "Give the biggest load its own regulator, with the grounds joined.",
                        left.Source
                    )
                );
            }
        }
        return result;
    }

    /// <summary>Loads on a rail with the current each takes of it, mA for each mA of the load.</summary>
    internal static IEnumerable<(LoadProfile Load, double Ratio)> Carried(NodeSupply supply, string rail, IReadOnlyList<LoadProfile> loads) =>
        loads
            .Where(l => l.Rail == rail)
            .Select(l => (l, 1.0))
            .Concat(
                supply
                    .Supplied.Where(s => s.Rail.FedFrom == rail && s.Rail.Id != rail)
                    .SelectMany(s => Carried(supply, s.Rail.Id, loads).Select(c => (c.Load, c.Ratio * s.CurrentRatio)))
            );

    private static Figure Sum(string label, IReadOnlyList<(LoadProfile Load, double Ratio)> loads, Func<LoadProfile, double?> milliamps, string state)
    {
        var known = loads
            .Where(l => milliamps(l.Load) is not null)
            .Select(l => new WorkingInput(
                l.Load.Label,
                milliamps(l.Load)!.Value * l.Ratio,
                Unit.Milliamp,
                l.Ratio == 1 ? state : $"{state}, through its converter: {l.Ratio:0.00} times its own current"
            ))
            .ToList();
        var missing = loads.Where(l => milliamps(l.Load) is null).Select(l => l.Load.Label).ToList();
        return Figure.Exact(
            label,
            known.Sum(i => i.Value),
            Unit.Milliamp,
            new Working(missing.Count == 0 ? "I = Σ parts" : $"I = Σ parts; left out, not known: {string.Join(", ", missing)}", known, "catalogue")
        );
    }
}
