namespace Cenotic.Core.Bench;

/// <summary>Strips on which the wires of a supply or of ground meet, where they are more than the pins of the board take.</summary>
internal static class Strips
{
    /// <summary>Wires that one pin of a header takes: common practice, no source.</summary>
    private const int MostOnPin = 4;

    /// <summary>One for each supply or ground with more wires than its pins take, or than the terminal takes that feeds it.</summary>
    internal static IEnumerable<Component> Of(IReadOnlyList<Component> components, IEnumerable<Net> nets)
    {
        foreach (var net in nets.Where(n => n.Kind is WireKind.Supply or WireKind.Ground))
        {
            var on = components.SelectMany(c => c.Terminals.Where(t => t.Net == net.Key).Select(t => (Component: c, Terminal: t))).ToList();
            var pins = on.Count(o => o.Component.Kind == ComponentKind.Board && !Wiring.IsSocket(o.Terminal));
            var keys = on.Select(o => o.Component.Key).ToHashSet();
            var wires = on.Where(o => o.Component.Kind != ComponentKind.Board && (o.Component.At is not { } at || !keys.Contains(at)))
                .Select(o => Wiring.ClusterOf(o.Component, o.Terminal))
                .Distinct()
                .Count();
            if (wires > MostOnPin * Math.Max(1, pins) + (pins == 0 ? 1 : 0))
            {
                var ways = wires + (pins > 0 ? 1 : 0);
                yield return new(Circuit.StripKey + net.Key, ComponentKind.Strip, $"strip for {net.Label}", $"{ways} ways", [new(Bar, net.Key)]);
            }
        }
    }

    /// <summary>The one terminal of a strip.</summary>
    internal const string Bar = "bar";
}
