using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>A battery cell or pack sold as one.</summary>
/// <param name="UsableFraction">Part of the capacity that can be had before the node stops, 0..1.</param>
/// <param name="SelfDischargePerYear">Loss by itself as a fraction of capacity a year.</param>
/// <param name="ColdFactor">Capacity factor at 0 °C.</param>
/// <param name="MaxPulseMilliamps">What it gives for a radio pulse without sagging to brown-out, mA.</param>
/// <param name="InternalOhms">Its own resistance, ohm: it sags by that times the current.</param>
/// <param name="Curve">Its voltage at a small load and 20 °C by what was taken out of it, from full to empty, falling.</param>
/// <param name="VoltsPerKelvin">By how much that voltage rises for each kelvin, V.</param>
public sealed record Cell(
    string Id,
    string Label,
    string Chemistry,
    double NominalVolts,
    double FullVolts,
    double EmptyVolts,
    Fact CapacityMilliampHours,
    Fact UsableFraction,
    Fact SelfDischargePerYear,
    Fact ColdFactor,
    Fact MaxPulseMilliamps,
    IReadOnlyList<string> Cautions,
    string Source,
    Fact InternalOhms,
    bool Rechargeable,
    IReadOnlyList<CurvePoint>? Curve = null,
    double VoltsPerKelvin = 0
)
{
    /// <summary>Its voltage on average while its usable part is taken out, V; the nominal one where its curve is not known. Behind a converter that takes power
    /// this, and not the nominal voltage, says how long it lasts.</summary>
    public double MeanVolts => Curve is { Count: > 1 } curve ? Mean(curve, UsableFraction.Likely) : NominalVolts;

    /// <summary>Mean of a curve from full to a used part, by trapezia; beyond its ends as at them.</summary>
    private static double Mean(IReadOnlyList<CurvePoint> curve, double until)
    {
        var (area, from, volts) = (0.0, 0.0, curve[0].Volts);
        foreach (var point in curve.Where(p => p.Used > 0))
        {
            var to = Math.Min(point.Used, until);
            if (to <= from)
            {
                continue;
            }
            var end = volts + (point.Volts - volts) * (to - from) / Math.Max(1e-12, point.Used - from);
            area += (volts + end) / 2 * (to - from);
            (from, volts) = (to, end);
        }
        return (area + volts * Math.Max(0, until - from)) / until;
    }

    /// <summary>So many of it one after another: voltages and resistance add, the charge stays.</summary>
    public Cell InSeries(int count) =>
        count == 1
            ? this
            : this with
            {
                Label = $"{count} × {Label} in series",
                NominalVolts = NominalVolts * count,
                FullVolts = FullVolts * count,
                EmptyVolts = EmptyVolts * count,
                InternalOhms = InternalOhms.Times(count),
                Curve = Curve is null ? null : [.. Curve.Select(p => p with { Volts = p.Volts * count })],
                VoltsPerKelvin = VoltsPerKelvin * count,
            };
}

/// <param name="Used">Part of the capacity taken out, 0..1.</param>
/// <param name="Volts">At a small load and 20 °C.</param>
public sealed record CurvePoint(double Used, double Volts);
