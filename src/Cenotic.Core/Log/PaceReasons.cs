using System.Globalization;
using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Log;

/// <summary>Why cells go faster or slower than planned.</summary>
/// <param name="Factor">What it does to the pace: 1.2 is a fifth faster.</param>
public sealed record PaceReason(string Label, double Factor, string How);

/// <summary>Explains a pace by what is known. Arithmetic; no published source needed.</summary>
public static class PaceReasons
{
    private const double Worth = 0.03,
        NotTold = 0.1,
        AsPlannedPercent = 5,
        WarmCelsius = 20,
        ColdestCelsius = -20;

    /// <summary>How cells go against the plan, in words.</summary>
    public static string Words(BatteryState state) =>
        state.Pace.Value is not { } pace ? ""
        : IsLearnt(state) ? Words(pace)
        : "by the plan alone: the voltage tells nothing yet";

    /// <summary>A pace in words: 1.2 is "20 % faster than planned".</summary>
    public static string Words(double pace)
    {
        var percent = Math.Round((pace - 1) * 100);
        return Math.Abs(percent) < AsPlannedPercent ? "as planned"
            : percent > 0 ? $"{percent} % faster than planned"
            : $"{-percent} % slower than planned";
    }

    /// <summary>True when the voltage told enough to look for reasons.</summary>
    public static bool IsLearnt(BatteryState state) => state.Learnt >= NotTold;

    /// <summary>The reasons that make a difference of 3 % or more, and what they leave open.</summary>
    /// <param name="pace">Used over planned.</param>
    /// <param name="planned">Average current of the plan, mA.</param>
    /// <param name="withLoss">Average current when as many messages are lost as were, mA; null when that is not known.</param>
    /// <param name="celsius">Mean temperature at the cells; null when nobody measures it.</param>
    /// <param name="byCatalogue">Average current by the catalogue alone, mA, where a measured current stands in the plan; null where none does. It is in the
    /// plan already and explains what changed, not what is left.</param>
    public static IReadOnlyList<PaceReason> Of(double pace, double planned, double? withLoss, double? celsius, Cell cell, double? byCatalogue)
    {
        var reasons = new List<PaceReason>();
        var rest = pace;
        void Say(string label, double factor, string how, bool explains = true)
        {
            if (Math.Abs(factor - 1) >= Worth)
            {
                reasons.Add(new(label, factor, how));
                rest /= explains ? factor : 1;
            }
        }
        if (byCatalogue is { } catalogue)
        {
            Say(
                "Measured current",
                planned / catalogue,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{planned:G3} mA with what was measured, {catalogue:G3} mA by the catalogue; in the plan since then"
                ),
                explains: false
            );
        }
        if (withLoss is { } lossy)
        {
            Say(
                "Messages sent again",
                lossy / planned,
                string.Create(CultureInfo.InvariantCulture, $"{lossy:G3} mA with the losses that were counted, {planned:G3} mA planned")
            );
        }
        if (celsius is { } mean)
        {
            // Straight from 20 °C, where the capacity is the rated one, through that at 0 °C.
            var capacity = 1 - (1 - cell.ColdFactor.Likely) * (WarmCelsius - Math.Clamp(mean, ColdestCelsius, WarmCelsius)) / WarmCelsius;
            Say(
                "Cold",
                1 / Math.Max(0.2, capacity),
                string.Create(CultureInfo.InvariantCulture, $"{mean:0.0} °C on average: the cell gives {capacity * 100:0} % of its charge")
            );
        }
        Say("Not explained", rest, "A part that draws more or less than the catalogue says, or a cell of another capacity: measure the current asleep");
        return reasons;
    }
}
