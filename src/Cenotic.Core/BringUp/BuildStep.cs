using Cenotic.Core.Common;

namespace Cenotic.Core.BringUp;

/// <summary>Where in the work a step stands.</summary>
public enum BuildStage
{
    /// <summary>Things and tools are at hand.</summary>
    Ready,

    /// <summary>Supplies are set, shorts are looked for: nothing is powered.</summary>
    Prepare,

    /// <summary>The board is powered alone.</summary>
    Board,

    /// <summary>The parts are added one by one.</summary>
    Parts,

    /// <summary>The whole node is looked at.</summary>
    Finish,
}

/// <summary>What is measured at a step.</summary>
public enum MeasureKind
{
    /// <summary>Of a supply or cell that is not connected yet.</summary>
    SupplyVolts,

    /// <summary>Between supply and ground, everything off.</summary>
    ShortOhms,

    /// <summary>Between a bus line and the logic supply, everything off.</summary>
    PullUpOhms,

    /// <summary>Taken from the source.</summary>
    CurrentMilliamps,
}

/// <summary>What a meter showed against what was expected: told by a tap, or worked out from a value.</summary>
public enum MeterShows
{
    /// <summary>What was expected.</summary>
    Within,

    /// <summary>Less than expected.</summary>
    Below,

    /// <summary>More than expected.</summary>
    Above,

    /// <summary>No reading at all.</summary>
    Nothing,
}

/// <summary>What to measure and what should come out.</summary>
/// <param name="How">Where to hold the leads.</param>
/// <param name="Expected">With its band; a high end is left out where any high value is good.</param>
/// <param name="LimitMilliamps">Where the current of the supply is to be limited; null when nothing is powered.</param>
public sealed record BuildMeasure(MeasureKind Kind, string How, Figure Expected, double? LimitMilliamps)
{
    private const double NothingShare = 0.05;

    /// <summary>What a value says. A meter that shows overload is <see cref="MeterShows.Above"/>; a current
    /// or voltage next to none is <see cref="MeterShows.Nothing"/>.</summary>
    public MeterShows Of(double value)
    {
        var (low, high) = (Expected.Low ?? Expected.Value ?? 0, Expected.High);
        return Kind is MeasureKind.SupplyVolts or MeasureKind.CurrentMilliamps && Math.Abs(value) < NothingShare * low ? MeterShows.Nothing
            : value < low ? MeterShows.Below
            : value > high ? MeterShows.Above
            : MeterShows.Within;
    }
}

/// <summary>A line of a step.</summary>
/// <param name="Colour">Insulation colour of the wire it is about; null for anything else.</param>
public sealed record BuildLine(string Text, string? Colour = null);

/// <summary>One step of building a node.</summary>
/// <param name="Key">Stable while what is to be done is the same: a step whose wires change gets another.</param>
/// <param name="Part">The part it is about; null for the node.</param>
/// <param name="Caution">The usual caution where hands can be hurt.</param>
/// <param name="Wires">Keys ("part.LINE") of the wires that are soldered when it is ticked.</param>
/// <param name="Takes">Catalogue ids and values that are taken out of the drawer when it is ticked, each with its count.</param>
public sealed record BuildStep(
    string Key,
    BuildStage Stage,
    string Title,
    string? Part,
    IReadOnlyList<BuildLine> Lines,
    string? Caution,
    IReadOnlyList<string> Wires,
    BuildMeasure? Measure,
    IReadOnlyDictionary<string, int> Takes
);
