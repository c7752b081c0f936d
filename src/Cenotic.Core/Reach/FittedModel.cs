using Cenotic.Core.Common;
using MathNet.Numerics.LinearAlgebra;

namespace Cenotic.Core.Reach;

/// <summary>What was measured of the radio of a house at one frequency, and what it makes of the book values.</summary>
/// <param name="Band">Frequency: "868 MHz".</param>
/// <param name="Exponent">How fast the signal falls with distance: n.</param>
/// <param name="Losses">What walls and floors take beyond their book value.</param>
/// <param name="Offsets">What each receiver hears beyond what is planned: power, antennas and what stands round it.</param>
/// <param name="Sigma">Spread of what was measured about the fit, dB.</param>
/// <param name="Measured">Each place that was measured.</param>
public sealed record FittedModel(
    string Band,
    Figure Exponent,
    IReadOnlyList<FittedLoss> Losses,
    IReadOnlyList<FittedOffset> Offsets,
    Figure Sigma,
    IReadOnlyList<MeasuredPlace> Measured
)
{
    /// <summary>The frequency at which it was measured, MHz.</summary>
    internal double Megahertz { get; init; }

    /// <summary>Of what was found, in the order in which it stands here.</summary>
    internal Matrix<double> Covariance { get; init; } = Matrix<double>.Build.Dense(1, 1);

    /// <summary>Spread between what is planned on a way and what would be measured there, dB: that about the fit, and how well the fit itself is known. Of what
    /// was never met or heard, the usual distance from the book counts.</summary>
    internal double SpreadDb(SignalPath path, string receiver)
    {
        var crossed = path.Terms.Where(t => t.Kind is not null).GroupBy(t => t.Kind!).ToDictionary(g => g.Key, g => g.Count());
        double[] row =
        [
            LinkFit.Falls(path),
            .. Losses.Select(l => -(double)crossed.GetValueOrDefault(l.Kind)),
            .. Offsets.Select(o => o.Receiver == receiver ? 1.0 : 0),
        ];
        var x = Vector<double>.Build.Dense(row);
        var unmet = crossed.Where(c => Losses.All(l => l.Kind != c.Key)).Sum(c => Math.Pow(c.Value * LinkFit.LossPrior, 2));
        var unheard = Offsets.Any(o => o.Receiver == receiver) ? 0 : Math.Pow(LinkFit.OffsetPrior, 2);
        return Math.Sqrt(Math.Pow(Sigma.Value!.Value, 2) + x * (Covariance * x) + unmet + unheard);
    }

    /// <summary>What a thing in the way takes beyond its book value, dB.</summary>
    internal double Extra(string kind) => Losses.FirstOrDefault(l => l.Kind == kind)?.Extra.Value ?? 0;

    /// <summary>What a receiver hears beyond what is planned, dB; 0 for one of which nothing was measured.</summary>
    internal double Offset(string receiver) => Offsets.FirstOrDefault(o => o.Receiver == receiver)?.Offset.Value ?? 0;
}

/// <summary>What one kind of wall takes beyond its book value.</summary>
/// <param name="Kind">"brick wall", "door", "floor".</param>
/// <param name="Extra">dB each time it is gone through.</param>
public sealed record FittedLoss(string Kind, Figure Extra);

/// <summary>What one receiver hears beyond what is planned.</summary>
/// <param name="Receiver">Key of a node or access point.</param>
public sealed record FittedOffset(string Receiver, string Label, Figure Offset);

/// <summary>A signal that was measured, and what is planned there.</summary>
/// <param name="BookDbm">By the book values, dBm.</param>
/// <param name="FittedDbm">By the fit, dBm.</param>
/// <param name="Stands">False for one that lies far from all others: it is counted less.</param>
public sealed record MeasuredPlace(string Node, string Label, string Spot, string Receiver, double SignalDbm, double BookDbm, double FittedDbm, bool Stands);
