using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>What a supply module does.</summary>
public enum SupplyModuleKind
{
    /// <summary>Burns what is too much.</summary>
    Linear,

    /// <summary>Makes a lower voltage, by power.</summary>
    StepDown,

    /// <summary>Makes a higher voltage, by power.</summary>
    StepUp,

    /// <summary>A finished supply.</summary>
    Source,

    /// <summary>A module on mains: for licensed hands.</summary>
    Mains,

    /// <summary>Takes power of the network cable.</summary>
    OverCable,

    /// <summary>Charges a cell.</summary>
    Charger,

    /// <summary>Fills a cell or a capacitor from weak light.</summary>
    Harvester,

    /// <summary>A solar charger with its panel.</summary>
    Solar,
}

/// <summary>A regulator, converter, charger or source that feeds a node.</summary>
/// <param name="InputMinVolts">Lowest input at which the output holds, volts (mains modules: AC).</param>
/// <param name="OutputMilliamps">What it gives for long.</param>
/// <param name="PeakMilliamps">What it gives for a moment; null when not more.</param>
/// <param name="QuiescentMilliamps">What it takes for itself.</param>
/// <param name="DropoutVolts">For a linear regulator, how far its input must lie above its output.</param>
/// <param name="Efficiency">For a switching converter, 0..1.</param>
/// <param name="KelvinPerWatt">Rise of a linear regulator for each watt, on its usual board.</param>
/// <param name="MaxInputMicrofarads">Greatest capacitance that may hang on it when it starts.</param>
public sealed record SupplyModule(
    string Id,
    string Label,
    SupplyModuleKind Kind,
    double InputMinVolts,
    double InputMaxVolts,
    double OutputMinVolts,
    double OutputMaxVolts,
    Fact OutputMilliamps,
    Fact? PeakMilliamps,
    Fact? QuiescentMilliamps,
    Fact? DropoutVolts,
    Fact? Efficiency,
    Fact? KelvinPerWatt,
    double? MaxInputMicrofarads,
    IReadOnlyList<string> Needs,
    IReadOnlyList<string> Cautions,
    string Source
);
