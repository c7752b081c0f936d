using Cenotic.Core.Catalogue;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Bench;

/// <summary>What a meter shows between two nets of a circuit without a supply.</summary>
public static class CircuitOhms
{
    /// <summary>On a usual BSS138 shifter board, from each line to the supply of its side, ohm.</summary>
    internal const double ShifterPullUp = 10_000;

    /// <summary>All pull-ups of a line together, those on the modules among them, ohm; null where it has none.</summary>
    /// <param name="line">Key of the net of the line.</param>
    public static double? PullUp(Circuit circuit, HardwareCatalogue catalogue, string line)
    {
        var ohms = new List<double>();
        foreach (var component in circuit.Components)
        {
            var on = component.Terminals.FirstOrDefault(t => t.Net == line);
            if (on is null)
            {
                continue;
            }
            switch (component.Kind)
            {
                case ComponentKind.Resistor when circuit.Net(component.Terminals.First(t => t.Name != on.Name).Net) is { Kind: WireKind.Supply }:
                    ohms.Add(component.Ohms!.Value);
                    break;
                case ComponentKind.Shifter:
                    ohms.Add(ShifterPullUp);
                    break;
                case ComponentKind.Part when !component.PullUpTakenOff && catalogue.Part(component.CatalogueId ?? "")?.PullUpOhms is { } fitted:
                    ohms.Add(fitted.Likely);
                    break;
            }
        }
        return ohms.Count == 0 ? null : I2cBus.ParallelOhms(ohms);
    }
}
