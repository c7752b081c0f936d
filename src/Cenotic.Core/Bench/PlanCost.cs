using System.Text.Json.Serialization;

namespace Cenotic.Core.Bench;

/// <summary>The planner's objective, compared from left to right: the smaller is better.</summary>
/// <param name="MovedWires">Soldered wires taken off their pin.</param>
/// <param name="Components">Weighted list of what must be added: a resistor or bridge 1, a transistor 1, an SPI bus 3, a second I2C bus 4.</param>
/// <param name="HazardPoints">Of the pins used: care 3, avoid 10, memory pins of unknown modules 2, revisions 1.</param>
/// <param name="Splices">Wires that join others before the header.</param>
/// <param name="Distance">Sum of half rows between each pin and its part.</param>
/// <param name="Versatility">Points of the pins used: the versatile ones are kept free.</param>
public readonly record struct PlanCost(int MovedWires, int Components, int HazardPoints, int Splices, int Distance, int Versatility) : IComparable<PlanCost>
{
    // Field widths leave room for the sum over a whole board in each field.
    private const int VersatilityBits = 16, DistanceBits = 18, SpliceBits = 12, HazardBits = 14, ComponentBits = 14;

    /// <summary>The vector as one integer with the same order, so that an assignment can be solved exactly.</summary>
    [JsonIgnore]
    public Int128 Packed =>
        ((((((Int128)MovedWires << ComponentBits) + Components << HazardBits) + HazardPoints << SpliceBits) + Splices << DistanceBits) + Distance << VersatilityBits)
        + Versatility;

    public static PlanCost operator +(PlanCost a, PlanCost b) =>
        new(a.MovedWires + b.MovedWires, a.Components + b.Components, a.HazardPoints + b.HazardPoints, a.Splices + b.Splices, a.Distance + b.Distance, a.Versatility + b.Versatility);

    public int CompareTo(PlanCost other) => Packed.CompareTo(other.Packed);
}
