using System.Globalization;
using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>Whether a number can be a value of a quantity at all. What a sensor measures wrongly is stored
/// and looked at; what nothing measures is refused where it comes in.</summary>
public static class PossibleValue
{
    /// <summary>No reading is beyond this, in any unit: a million years of such values every millisecond still has a finite sum. Our own choice.</summary>
    public const double Most = 1e15;

    /// <summary>Absolute zero, °C. Source: the SI definition of the degree Celsius.</summary>
    public const double AbsoluteZeroCelsius = -273.15;

    /// <summary>A level this many widths of its range beyond it was not measured by the part, also not by a
    /// faulty one: another unit, or noise. Our own choice, wide on purpose.</summary>
    private const double MostWidths = 100;

    /// <summary>True for a finite number that is not beyond <see cref="Most"/>.</summary>
    public static bool IsBounded(double value) => Math.Abs(value) <= Most;

    /// <summary>A value this share of the range's width beyond it is still measured: offset and
    /// scale of a sensor are never quite right. Our own choice.</summary>
    private const double BeyondShare = 0.02;

    /// <summary>Whether a part can have measured a value; true where its range is not known. What it cannot have measured is stored and marked.</summary>
    /// <param name="value">In the quantity's unit.</param>
    public static bool IsMeasured(double value, PartQuantity? quantity) =>
        quantity is not { Kind: ReadingKind.Gauge, Min: { } min, Max: { } max }
        || (value >= min - BeyondShare * (max - min) && value <= max + BeyondShare * (max - min));

    /// <summary>Why a number cannot be a value of a quantity, to stand behind the reading's name; null when it can.</summary>
    /// <param name="value">The number, in the quantity's unit.</param>
    /// <param name="quantity">What the reading measures; null where nothing is known of it.</param>
    public static string? Refusal(double value, PartQuantity? quantity)
    {
        if (!IsBounded(value))
        {
            return string.Create(CultureInfo.InvariantCulture, $"is {value:0.###E+0}; no reading is beyond ±1E+15.");
        }
        if (quantity is { Unit: Unit.Celsius } && value < AbsoluteZeroCelsius)
        {
            return string.Create(CultureInfo.InvariantCulture, $"is {value:0.###} °C, below absolute zero.");
        }
        if (
            quantity is { Kind: ReadingKind.Gauge, Min: { } min, Max: { } max }
            && (value > max + MostWidths * (max - min) || value < min - MostWidths * (max - min))
        )
        {
            return string.Create(
                CultureInfo.InvariantCulture,
                $"is {value:0.###} {quantity.Unit}; the part measures {min:0.###} to {max:0.###}. Is it sent in another unit?"
            );
        }
        return null;
    }
}
