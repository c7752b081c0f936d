using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>How one part is connected in a structure.</summary>
/// <param name="Controller">I2C, SPI, UART or 1-Wire number; null for plain lines.</param>
/// <param name="Behind">The multiplexer channel it hangs on, or null.</param>
public sealed record Connection(PartInstance Instance, Part Part, PartInterface Interface, int? Controller, StrapAddress? Address, MuxChannel? Behind = null);

/// <summary>A channel of a multiplexer that is one of the node's parts.</summary>
public sealed record MuxChannel(string Mux, int Channel);

/// <summary>Which interface, bus and address each part uses, and which helper modules are added: everything but the pins.</summary>
/// <param name="Added">Helper modules that are not among the node's parts; they stand in <paramref name="Connections"/> too.</param>
public sealed record Structure(IReadOnlyList<Connection> Connections, IReadOnlyList<PartInstance> Added)
{
    /// <summary>Parts on each I2C controller, those behind its multiplexers included.</summary>
    public IEnumerable<IGrouping<int, Connection>> I2cBuses =>
        Connections.Where(c => c.Interface.Kind == InterfaceKind.I2c).GroupBy(c => c.Controller!.Value).OrderBy(g => g.Key);
}

/// <summary>The traffic of an I2C bus.</summary>
public static class BusLoad
{
    /// <summary>Share of a bus that readings may take: beyond it a retry has no room (planning value).</summary>
    public const double Limit = 0.8;

    private const double ExpanderReadsPerSecond = 50,
        OtherReadsPerSecond = 1;

    /// <summary>Clock that the slowest of a bus can follow, kHz: the board or a part.</summary>
    public static double SlowestKilohertz(Board board, IEnumerable<Connection> bus) =>
        Math.Min(board.Controllers.I2cMaxKilohertz, bus.Min(c => c.Interface.MaxKilohertz ?? 100));

    /// <summary>Bits a second that a part puts on its bus: bits of a reading times how often it is read.</summary>
    public static double BitsPerSecond(NodeDesign node, PartInstance instance, Part part, PartInterface by)
    {
        var intervals = node.Readings.Where(r => r.Part == instance.Key && r.IntervalMs is not null).Select(r => r.IntervalMs!.Value).ToList();
        var rate =
            intervals.Count > 0 ? 1000.0 / intervals.Min()
            : part.Helper is { Kind: HelperKind.Expander } ? ExpanderReadsPerSecond
            : OtherReadsPerSecond;
        return (by.BitsPerReading ?? 0) * rate;
    }

    /// <summary>The clock of a bus, kHz: 100 where that is enough, else 400 or 1000 where board
    /// and all parts can follow; null when even that is not enough.</summary>
    /// <param name="slowest">Highest clock of the slowest part or of the board, kHz.</param>
    public static double? ClockKilohertz(double bitsPerSecond, double slowest)
    {
        if (bitsPerSecond <= Limit * 100_000)
        {
            return Math.Min(100, slowest);
        }
        if (slowest >= 400 && bitsPerSecond <= Limit * 400_000)
        {
            return 400;
        }
        return slowest >= 1000 && bitsPerSecond <= Limit * 1_000_000 ? 1000 : null;
    }
}
