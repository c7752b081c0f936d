using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>Which nets a line of a part runs on: one where it goes straight to its pin, two where something stands between.</summary>
/// <param name="AtPart">Key of the net on the part's side.</param>
/// <param name="AtPin">Key of the net on the side of the pin.</param>
internal readonly record struct LineNets(string AtPart, string AtPin)
{
    internal static LineNets Of(Connection connection, PartLine line, Board board, NodeSupply supply)
    {
        var own = $"{connection.Instance.Key}.{line.Name}";
        var shared = DemandList.SharedKey(connection, line);
        if (connection.Behind is { } behind && line.Role is LineRole.I2cSda or LineRole.I2cScl)
        {
            var channel = $"{behind.Mux}:{ChannelPin(line, behind.Channel)}";
            return new(channel, channel);
        }
        if (line.Role is LineRole.I2cSda or LineRole.I2cScl && LineRules.NeedsShifter(connection, board, supply))
        {
            return new($"{shared}/shifted", shared!);
        }
        return StandsBetween(line, LineRules.Of(line, connection, board, supply)) ? new(own, shared ?? $"{own}/pin") : new(shared ?? own, shared ?? own);
    }

    /// <summary>Name of a multiplexer's pin for a line of a part behind it.</summary>
    internal static string ChannelPin(PartLine line, int channel) => (line.Role == LineRole.I2cSda ? "SD" : "SC") + channel;

    /// <summary>A reference resistor hangs on the line; with a resistor that protects the pin something stands in it as well.</summary>
    private static bool StandsBetween(PartLine line, LineSupport support) =>
        support is not (LineSupport.None or LineSupport.OwnPullUp or LineSupport.PullUp or LineSupport.Reference)
        || (support == LineSupport.Reference && line.SeriesOhms is not null);
}
