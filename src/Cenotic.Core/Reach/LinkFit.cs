using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Fits the model of a house to what range walks and everyday arrivals measured.</summary>
internal static class LinkFit
{
    /// <summary>From so many places on predictions follow what was measured.</summary>
    internal const int FewestPlaces = 3;

    /// <summary>How far each usually lies from the book. From memory: exponents of 1.6 to 3.5 in houses, walls of one material by 5 dB and more, small antennas
    /// and boxes by 5 dB.</summary>
    internal const double ExponentPrior = 1,
        LossPrior = 8,
        OffsetPrior = 8;

    /// <summary>Places count for the usual spread.</summary>
    private const double UsualWeight = 4;

    /// <summary>Frequencies within this of each other are one fit, as a part.</summary>
    private const double SameBand = 0.1;

    /// <summary>A signal with what the book says of its way.</summary>
    /// <param name="Falls">−10 log10 of the distance; 0 where the way is not that of a room.</param>
    /// <param name="Crossed">How often each kind of thing is gone through.</param>
    private sealed record Observation(
        NodeDesign Node,
        Spot Spot,
        RadioEnd Receiver,
        double SignalDbm,
        double BookDbm,
        double Megahertz,
        double Falls,
        IReadOnlyDictionary<string, int> Crossed
    );

    /// <summary>A fit for each band in which enough was measured.</summary>
    internal static IReadOnlyList<FittedModel> Of(SiteDesign site, HardwareCatalogue catalogue, Evidence evidence)
    {
        var paths = new PathsByFrequency(site.Place, []);
        List<Observation> all = [.. Measured(site, evidence).Select(m => Observed(site, catalogue, m, paths)).OfType<Observation>()];
        List<FittedModel> fits = [];
        while (all.Count > 0)
        {
            var megahertz = all[0].Megahertz;
            var band = all.FindAll(o => IsSame(o.Megahertz, megahertz));
            all.RemoveAll(o => IsSame(o.Megahertz, megahertz));
            if (band.DistinctBy(o => (o.Spot.Key, o.Receiver.Key)).Count() >= FewestPlaces)
            {
                fits.Add(Fit(band, megahertz, SignalPaths.BookExponent(site.Place)));
            }
        }
        return fits;
    }

    /// <summary>With what the signal of a node is sent and heard, as both are set now; null where that is not known.</summary>
    internal static WalkRadio? RadioNow(SiteDesign site, HardwareCatalogue catalogue, NodeDesign node) =>
        LinkPlanner.Ends(site, catalogue, node, new(site.Place, [])) is { } ends ? Radio(Heard(node, ends).From, Heard(node, ends).To) : null;

    internal static bool IsSame(double a, double b) => Math.Abs(a - b) < SameBand * b;

    /// <summary>Signals with the node and the spot where it was: of walks, and of every day where it hangs. Over a relay the gateway tells the signal of the
    /// relay, which is none of these.</summary>
    private static IEnumerable<(NodeDesign Node, Spot Spot, double Dbm, WalkRadio? Radio)> Measured(SiteDesign site, Evidence evidence)
    {
        foreach (var walk in evidence.Walks)
        {
            // Of what is half lost only the strong half is heard.
            if (walk is { MedianDbm: { } dbm } && walk.Heard > walk.Lost && site.Node(walk.Node) is { } node && site.Place.Spot(walk.Spot) is { } spot)
            {
                var walked = node with { Via = walk.Receiver ?? node.Via };
                if (!Relaying.IsRelayed(site, walked))
                {
                    yield return (walked, spot, dbm, walk.Radio);
                }
            }
        }
        foreach (var link in evidence.Links)
        {
            if (
                link is { MedianDbm: { } dbm }
                && 2 * link.Heard > link.Sent
                && site.Node(link.Node) is { } node
                && site.Place.Spot(node.Spot) is { } spot
                && !Relaying.IsRelayed(site, node)
            )
            {
                yield return (node, spot, dbm, null);
            }
        }
    }

    private static Observation? Observed(
        SiteDesign site,
        HardwareCatalogue catalogue,
        (NodeDesign Node, Spot Spot, double Dbm, WalkRadio? Radio) m,
        PathsByFrequency paths
    )
    {
        if (LinkPlanner.Ends(site, catalogue, m.Node with { Spot = m.Spot.Key }, paths) is not { } ends)
        {
            return null;
        }
        var (from, to) = Heard(m.Node, ends);
        var radio = m.Radio ?? Radio(from, to);
        var path = paths.At(ends.Receiver.Megahertz!.Value).Between(from, to);
        return new(
            m.Node,
            m.Spot,
            ends.Receiver,
            m.Dbm,
            radio.RadiatedDbm + radio.GainDbi - path.LossDb,
            ends.Receiver.Megahertz.Value,
            Falls(path),
            path.Terms.Where(t => t.Kind is not null).GroupBy(t => t.Kind!).ToDictionary(g => g.Key, g => g.Count())
        );
    }

    /// <summary>Who is heard and who hears: over Wi-Fi a node tells what it hears of the access point, else the gateway what it hears of the node.</summary>
    private static (RadioEnd From, RadioEnd To) Heard(NodeDesign node, (RadioEnd Sender, RadioEnd Receiver) ends) =>
        node.Link == LinkKind.Wifi ? (ends.Receiver, ends.Sender) : (ends.Sender, ends.Receiver);

    private static WalkRadio Radio(RadioEnd from, RadioEnd to) => new(from.RadiatedDbm!.Value, to.Gain.Value);

    private static FittedModel Fit(List<Observation> band, double megahertz, double exponent)
    {
        var kinds = band.SelectMany(o => o.Crossed.Keys).Distinct().Order(StringComparer.Ordinal).ToList();
        var receivers = band.Select(o => o.Receiver).DistinctBy(r => r.Key).ToList();
        double[] Row(Observation o) =>
            [o.Falls, .. kinds.Select(k => -(double)o.Crossed.GetValueOrDefault(k)), .. receivers.Select(r => r.Key == o.Receiver.Key ? 1.0 : 0)];
        double[] priors = [ExponentPrior, .. kinds.Select(_ => LossPrior), .. receivers.Select(_ => OffsetPrior)];
        var fit = new RobustFit([.. band.Select(Row)], [.. band.Select(o => o.SignalDbm - o.BookDbm)], priors, SignalPaths.HouseSigma, UsualWeight);
        Figure Of(string label, int at, double book, string unit) =>
            new(label, book + fit.Coefficients[at], book + fit.Coefficients[at] - fit.Halves[at], book + fit.Coefficients[at] + fit.Halves[at], unit, () =>
                How(band.Count, priors[at], unit, fit.Sigma)
            );
        return new(
            string.Create(CultureInfo.InvariantCulture, $"{megahertz:0} MHz"),
            Of("Exponent", 0, exponent, Unit.Count),
            [.. kinds.Select((k, i) => new FittedLoss(k, Of($"Loss beyond the book, {k}", 1 + i, 0, Unit.Decibel)))],
            [.. receivers.Select((r, i) => new FittedOffset(r.Key, r.Label, Of($"{r.Label} hears more than planned", 1 + kinds.Count + i, 0, Unit.Decibel)))],
            Figure.Exact("Spread about the fit", fit.Sigma, Unit.Decibel, How(band.Count, UsualWeight, "places", SignalPaths.HouseSigma)),
            [
                .. band.Select(
                    (o, i) =>
                        new MeasuredPlace(
                            o.Node.Key,
                            o.Node.Label,
                            o.Spot.Label,
                            o.Receiver.Label,
                            o.SignalDbm,
                            o.BookDbm,
                            o.SignalDbm - fit.Residuals[i],
                            fit.Stands[i]
                        )
                ),
            ]
        )
        {
            Megahertz = megahertz,
            Covariance = fit.Covariance,
        };
    }

    /// <summary>By how much a way changes with the exponent, dB.</summary>
    internal static double Falls(SignalPath path) => path.Open.IsRoom ? -10 * Math.Log10(path.Open.Metres) : 0;

    private static Working How(int places, double prior, string unit, double sigma) =>
        new(
            "least squares of measured − planned, each coefficient with a prior about the book value; what lies far from the rest counts less",
            [
                new("places", places, Unit.Count, "range walks and everyday arrivals"),
                new("prior", prior, unit, "how far it usually lies from the book, from memory"),
                new("sigma", sigma, Unit.Decibel, "spread about the fit"),
            ],
            "ridge: Hoerl and Kennard 1970; weights: Huber 1981; the band holds the true value 95 times of 100"
        );
}
