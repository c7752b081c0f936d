using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Log;

/// <summary>What may stand in a holder in place of the cells that were entered.</summary>
public static class CellKinds
{
    private const double AlkalineVolts = 1.5;

    /// <summary>Round cells of 1.5 V class that fit where alkaline ones do: curve of one at a small load and 20 °C, from memory of data sheets.</summary>
    private static readonly (string Label, double Nominal, double VoltsPerKelvin, CurvePoint[] Curve)[] RoundCells =
    [
        (
            "NiMH",
            1.2,
            0.0003,
            [
                new(0, 1.42),
                new(0.05, 1.34),
                new(0.1, 1.32),
                new(0.2, 1.3),
                new(0.4, 1.28),
                new(0.6, 1.265),
                new(0.8, 1.24),
                new(0.9, 1.2),
                new(0.95, 1.14),
                new(1, 0.9),
            ]
        ),
        (
            "lithium iron disulfide (1.5 V lithium)",
            1.5,
            0.0005,
            [new(0, 1.75), new(0.05, 1.58), new(0.1, 1.54), new(0.2, 1.51), new(0.5, 1.49), new(0.8, 1.46), new(0.9, 1.42), new(0.95, 1.35), new(1, 0.9)]
        ),
    ];

    /// <summary>Other cells, each as it would stand in the place of one that was entered.</summary>
    /// <param name="entered">With <see cref="Cell.InSeries"/> where several stand one after another.</param>
    /// <param name="series">So many of the catalogue's cell stand one after another.</param>
    /// <param name="catalogue">The cells that are known.</param>
    public static IReadOnlyList<Cell> InPlaceOf(Cell entered, int series, IEnumerable<Cell> catalogue)
    {
        var others = catalogue.Where(c => c.Id != entered.Id && c.Curve is { Count: > 1 }).Select(c => c.InSeries(series) with { Label = c.Label });
        if (entered.Chemistry != "alkaline")
        {
            return [.. others];
        }
        var count = Math.Max(1, (int)Math.Round(entered.NominalVolts / AlkalineVolts));
        return
        [
            .. others,
            .. RoundCells.Select(r =>
                entered with
                {
                    Id = r.Label,
                    Label = r.Label,
                    Chemistry = r.Label,
                    NominalVolts = r.Nominal * count,
                    VoltsPerKelvin = r.VoltsPerKelvin * count,
                    Curve = [.. r.Curve.Select(p => p with { Volts = p.Volts * count })],
                }
            ),
        ];
    }
}
