using System.Text.Json.Serialization;

namespace Cenotic.Core.Bench;

/// <summary>The planner's objective, compared from left to right: the smaller is better.</summary>
/// <param name="MovedWires">Soldered wires taken off their pin.</param>
/// <param name="Components">Weighted list of what must be added (<see cref="Weights"/>): a resistor, bridge or transistor 1, a bus or a module more.</param>
/// <param name="HazardPoints">Of the pins used: care 3, avoid 10, memory pins of unknown modules 2, revisions 1.</param>
/// <param name="Splices">Wires that join others before the header.</param>
/// <param name="Versatility">Points of the pins used: those of the converter and other versatile ones are kept free, and buses have their usual pins.</param>
/// <param name="Distance">Sum over the wires of the half rows between the pin and the part.</param>
public readonly record struct PlanCost(int MovedWires, int Components, int HazardPoints, int Splices, int Versatility, int Distance) : IComparable<PlanCost>
{
    // Field widths leave room for the sum over a whole board with its helpers in each field; together they stay below Assignment.Forbidden.
    private const int VersatilityBits = 10,
        DistanceBits = 14,
        SpliceBits = 7,
        HazardBits = 10,
        ComponentBits = 11;

    /// <summary>The vector as one integer with the same order, so that an assignment can be solved exactly.</summary>
    [JsonIgnore]
    public long Packed =>
        (
            ((((((((long)MovedWires << ComponentBits) + Components) << HazardBits) + HazardPoints) << SpliceBits) + Splices) << VersatilityBits) + Versatility
            << DistanceBits
        ) + Distance;

    /// <summary>The vector of a packed one.</summary>
    internal static PlanCost Unpacked(long packed)
    {
        int Take(int bits)
        {
            var field = (int)(packed & ((1L << bits) - 1));
            packed >>= bits;
            return field;
        }
        var (distance, versatility, splices, hazard, components) = (
            Take(DistanceBits),
            Take(VersatilityBits),
            Take(SpliceBits),
            Take(HazardBits),
            Take(ComponentBits)
        );
        return new((int)packed, components, hazard, splices, versatility, distance);
    }

    /// <summary>The costs of two parts of a plan together.</summary>
    public static PlanCost operator +(PlanCost a, PlanCost b) =>
        new(
            a.MovedWires + b.MovedWires,
            a.Components + b.Components,
            a.HazardPoints + b.HazardPoints,
            a.Splices + b.Splices,
            a.Versatility + b.Versatility,
            a.Distance + b.Distance
        );

    /// <summary>Compares from left to right; what is smaller is the better plan.</summary>
    public int CompareTo(PlanCost other) => Packed.CompareTo(other.Packed);
}

/// <summary>What each addition weighs in <see cref="PlanCost.Components"/>: about the parts to buy and the joints to solder.</summary>
public static class Weights
{
    /// <summary>Three wires and a driver to start, where I2C takes two that others share.</summary>
    public const int SpiBus = 3;

    /// <summary>Two more wires and a second driver to start.</summary>
    public const int SecondI2cBus = 4;

    /// <summary>A serial port made by the program: it holds the processor for every byte, and loses some.</summary>
    public const int SoftwareSerial = 6;

    /// <summary>A pair of pull-up resistors.</summary>
    public const int PullUpPair = 2;

    /// <summary>One resistor, bridge, diode or transistor.</summary>
    public const int Piece = 1;

    /// <summary>Two resistors.</summary>
    public const int Divider = 2;

    /// <summary>A level shifter module for one bus.</summary>
    public const int Shifter = 3;

    /// <summary>A buffer chip with its capacitor.</summary>
    public const int Buffer = 2;

    /// <summary>Transistor, base resistor and pull-down.</summary>
    public const int Transistor = 3;

    /// <summary>A high-side switch: P-channel transistor, its driver, its pull-up.</summary>
    public const int SupplySwitch = 3;

    /// <summary>A channel of a multiplexer: two wires more.</summary>
    public const int MuxChannel = 1;

    /// <summary>An address that the program must write at each start.</summary>
    public const int WrittenAddress = 1;

    /// <summary>An expander, multiplexer or converter that the planner adds by itself.</summary>
    public const int AddedModule = 12;
}
