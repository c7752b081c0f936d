using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>What each rail carries against what it can give.</summary>
internal static class RailCheck
{
    internal static IReadOnlyList<RailLoad> Rails(NodeDesign node, NodeSupply supply, IReadOnlyList<LoadProfile> loads, List<Finding> findings)
    {
        var result = new List<RailLoad>();
        foreach (var rail in supply.Rails)
        {
            // A rail carries what hangs on it and on the rails made from it.
            var on = loads.Where(l => l.Rail == rail.Id || supply.Rails.Any(r => r.Id == l.Rail && r.FedFrom == rail.Id)).ToList();
            if (on.Count == 0)
            {
                continue;
            }
            var typical = Sum("Typical load", on, l => l.ActiveMilliamps?.Likely, "as it runs");
            var peak = Sum("Peak load", on, l => l.PeakMilliamps?.High ?? l.ActiveMilliamps?.High, "all peaks at once");
            var budget = Figure.Exact("Rail can give", rail.BudgetMilliamps.Likely, Unit.Milliamp, new Working("from the catalogue", [new(rail.Label, rail.BudgetMilliamps.Likely, Unit.Milliamp, rail.BudgetMilliamps.Source)], rail.BudgetMilliamps.Source));
            result.Add(new(rail.Id, rail.Label, rail.Volts, typical, peak, budget));
            if (peak.Value > budget.Value)
            {
                var always = typical.Value > budget.Value;
                var stronger = node.Power.Kind == PowerKind.Usb && rail.FedFrom == "usb"
                    ? new[] { new Remedy("Feed the node from a 5 V supply of 1 A", [SetNodes.WithPower(node, new PowerDesign(PowerKind.FiveVolt))]) }
                    : [];
                findings.Add(new(always ? "BENCH-RAIL-OVER" : "BENCH-RAIL-PEAK", always ? Severity.Stop : Severity.Risk, new("bench", node.Key, rail.Id),
                    $"The {rail.Label} rail gives {budget.Value:0} mA; the parts on it take {typical.Value:0} mA and {peak.Value:0} mA at their peak.",
                    always ? "The rail sags and the board resets." : "When the peaks fall together the rail sags and the board may reset.", stronger,
                    stronger.Length > 0 ? null : "Give the biggest load its own regulator, with the grounds joined.", rail.BudgetMilliamps.Source));
            }
        }
        return result;
    }

    private static Figure Sum(string label, IReadOnlyList<LoadProfile> loads, Func<LoadProfile, double?> milliamps, string state)
    {
        var known = loads.Where(l => milliamps(l) is not null).Select(l => new WorkingInput(l.Label, milliamps(l)!.Value, Unit.Milliamp, state)).ToList();
        var missing = loads.Where(l => milliamps(l) is null).Select(l => l.Label).ToList();
        return Figure.Exact(label, known.Sum(i => i.Value), Unit.Milliamp,
            new Working(missing.Count == 0 ? "I = Σ parts" : $"I = Σ parts; left out, not known: {string.Join(", ", missing)}", known, "catalogue"));
    }
}
