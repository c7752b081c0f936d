using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>What a node would have to spare at each place of a floor, heard by one receiver.</summary>
/// <param name="Receiver">Key of the node or access point that hears.</param>
/// <param name="X">Left edge of the first column, m.</param>
/// <param name="Y">Upper edge of the first row, m.</param>
/// <param name="StepMetres">Width and height of a cell, m.</param>
/// <param name="HeightMetres">Above the floor, m.</param>
/// <param name="EnoughDb">Margin with which 95 of 100 places that the plan cannot tell apart are heard, dB.</param>
/// <param name="Margins">Margin in the middle of each cell, whole dB, row by row.</param>
public sealed record HeatMap(
    string Receiver,
    string Label,
    string? Floor,
    double X,
    double Y,
    double StepMetres,
    double HeightMetres,
    int Columns,
    int Rows,
    double EnoughDb,
    IReadOnlyList<int> Margins
)
{
    /// <summary>Across the plan, m.</summary>
    public double WidthMetres => Columns * StepMetres;

    /// <summary>Down the plan, m.</summary>
    public double DepthMetres => Rows * StepMetres;

    /// <summary>Most cells along and across.</summary>
    public const int MostCells = 200;
    private const double SensorHeight = 1.2,
        EdgeMetres = 1;

    /// <summary>The map of a receiver, or null where its place, frequency, power or sensitivity is not known.</summary>
    /// <param name="receiver">Key of an access point, or of a node that hears others by radio.</param>
    /// <param name="floor">Key of the floor that is looked at; null for the ground.</param>
    /// <param name="cells">Cells along the longer side, 10 to <see cref="MostCells"/>.</param>
    /// <exception cref="ArgumentOutOfRangeException">Too few or too many cells.</exception>
    public static HeatMap? Of(
        SiteDesign site,
        HardwareCatalogue catalogue,
        Evidence evidence,
        string receiver,
        string? floor,
        int cells,
        CancellationToken stop = default
    )
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(cells, 10);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(cells, MostCells);
        var (end, sent) = EndOf(site, catalogue, receiver);
        if (
            end is not { At: { } at, Megahertz: { } megahertz, Sensitivity: { } sensitivity }
            || sent is not { } dbm
            || Box(site.Place, floor, at) is not { } edges
        )
        {
            return null;
        }
        var step = Math.Max(edges.Right - edges.Left, edges.Down - edges.Up) / cells;
        var (columns, rows) = ((int)Math.Ceiling((edges.Right - edges.Left) / step - 1e-9), (int)Math.Ceiling((edges.Down - edges.Up) / step - 1e-9));
        var fit = new PathsByFrequency(site.Place, LinkFit.Of(site, catalogue, evidence)).FitAt(megahertz);
        var offset = fit?.Offset(receiver) ?? 0;
        var height = (site.Place.Floor(floor)?.LevelMetres ?? 0) + SensorHeight;
        var box = new SignalPaths(site.Place, megahertz, fit).BoxDb(end);
        var margins = new int[columns * rows];
        Parallel.For(
            0,
            rows,
            new ParallelOptions { CancellationToken = stop },
            () => new SignalPaths(site.Place, megahertz, fit),
            (row, _, paths) =>
            {
                for (var column = 0; column < columns; column++)
                {
                    var from = new Point3(edges.Left + (column + 0.5) * step, edges.Up + (row + 0.5) * step, height);
                    margins[row * columns + column] = (int)Math.Round(dbm + end.Gain.Value + offset - paths.LossDb(from, at) - box - sensitivity.Value);
                }
                return paths;
            },
            _ => { }
        );
        return new(
            receiver,
            end.Label,
            floor,
            edges.Left,
            edges.Up,
            step,
            SensorHeight,
            columns,
            rows,
            LinkBudget.MarginFor(0.95, fit?.Sigma.Value ?? SignalPaths.HouseSigma),
            margins
        );
    }

    /// <summary>What hears, and what is sent to it, dBm.</summary>
    private static (RadioEnd? End, double? Sent) EndOf(SiteDesign site, HardwareCatalogue catalogue, string receiver)
    {
        if (site.Place.AccessPoints.FirstOrDefault(a => a.Key == receiver) is { } accessPoint)
        {
            return (RadioEnd.Of(site, accessPoint), RadioEnd.WifiOfBoard.Value);
        }
        // A gateway hears with what the nodes send that are heard through it.
        var sender = site.Nodes.FirstOrDefault(n => n.Via == receiver && n.SendsPackets);
        var channel = sender is null ? null : Sending.RadioOf(sender, catalogue)?.Channel;
        var end = site.Node(receiver) is { } node ? RadioEnd.OfReceiver(site, catalogue, node, sender?.Link ?? LinkKind.LongRange, channel) : null;
        return (end, end?.Power?.Value);
    }

    /// <summary>What is drawn of a floor, and the receiver, with a metre round it; null where nothing is drawn.</summary>
    private static (double Left, double Up, double Right, double Down)? Box(PlaceDesign place, string? floor, Point3 receiver)
    {
        List<Point> points =
        [
            .. place.Rooms.Where(r => r.Floor == floor || place.Floor(r.Floor) is null).SelectMany(r => r.Corners),
            .. place.Walls.Where(w => w.Floor == floor).SelectMany(w => new[] { w.From, w.To }),
        ];
        if (points.Count == 0)
        {
            return null;
        }
        points.Add(new(receiver.X, receiver.Y));
        return (points.Min(p => p.X) - EdgeMetres, points.Min(p => p.Y) - EdgeMetres, points.Max(p => p.X) + EdgeMetres, points.Max(p => p.Y) + EdgeMetres);
    }
}
