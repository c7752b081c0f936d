using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

public enum SupplyModuleKind
{
    Linear,
    StepDown,
    StepUp,
    Source,
    Mains,
    OverCable,
    Charger,
    Harvester,
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
