using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The colours of insulation: grounds black, supplies by their voltage, signals in turn. Common practice, no source.</summary>
internal static class WireColours
{
    /// <summary>Colours of signals; those of grounds and supplies are none of them.</summary>
    private static readonly string[] Signals = ["yellow", "blue", "green", "white", "violet", "grey", "pink", "turquoise"];

    /// <summary>The insulation of each net that serves lines, in turn; what is soldered keeps its colour, and changes no other's.</summary>
    internal static Dictionary<string, string> OfNets(Circuit circuit, NodeDesign node)
    {
        var colours = new Dictionary<string, string>();
        foreach (var net in circuit.Nets.Where(n => n.Serves.Count > 0))
        {
            var soldered = node.Wires.FirstOrDefault(w => w is { Hold: WireHold.Soldered, Colour: not null } && net.Serves.Contains(w.Key));
            colours[net.Key] = soldered?.Colour ?? Signals[colours.Count % Signals.Length];
        }
        return colours;
    }

    /// <summary>The colour of a wire on a net.</summary>
    /// <param name="ofLine">The colour of the line that it serves; null where it serves none.</param>
    internal static string Of(Net net, string? ofLine) =>
        net.Kind switch
        {
            WireKind.Ground => "black",
            WireKind.Supply => net.HighVolts > 6 ? "brown"
            : net.HighVolts > 4.3 ? "red"
            : "orange",
            _ => ofLine ?? Signals[0],
        };
}
