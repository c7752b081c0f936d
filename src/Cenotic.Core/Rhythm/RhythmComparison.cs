using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Rhythm;

/// <summary>What would be: the changes that help most, and the same node with other radios and other intervals.
/// Its pins are not planned for each: the boards table of the Bench does that.</summary>
/// <param name="Gains">Changes that lengthen the life on cells, the most first.</param>
/// <param name="Intervals">Columns of the table, ms between wakes.</param>
public sealed record RhythmComparison(IReadOnlyList<LifeGain> Gains, long TodayMs, IReadOnlyList<long> Intervals, IReadOnlyList<RadioRhythm> Radios)
{
    private const int CurvePoints = 24;
    private const double ShortestMs = 5_000,
        LongestMs = 86_400_000;
    private static readonly long[] Columns = [10_000, 60_000, 300_000, 900_000, 3_600_000, 21_600_000];

    /// <summary>Works out table and curves; empty for a board that is not in the catalogue.</summary>
    /// <param name="site">Where it stands and whom it hears; null for a node that stands for itself.</param>
    /// <param name="links">What the plan of the place says of the link of the node with another radio; null where it is not asked.</param>
    public static RhythmComparison Of(
        NodeDesign node,
        BenchPlan bench,
        HardwareCatalogue catalogue,
        Evidence evidence,
        SiteDesign? site = null,
        WorkBudget? budget = null,
        Func<NodeDesign, LinkAssumption?>? links = null
    )
    {
        var around = site is null ? Surroundings.Indoors : Surroundings.Of(site, node);
        var relayed = site is null ? Relayed.None : new([.. Relaying.Of(site, catalogue)[node.Key]]);
        var setting = new RhythmSetting(catalogue, evidence, around, budget ?? WorkBudget.Unbounded) { Links = links, Relayed = relayed };
        var today = Schedule.Of(node).PeriodMs;
        var intervals = Columns.Append(today).Distinct().Order().ToList();
        if (catalogue.Board(node.Board) is not { } board)
        {
            return new([], today, intervals, []);
        }
        var radios = Choices(node, board, catalogue).Select(r => Row(r.Key, r.Label, r.IsToday, r.Changed)).ToList();
        var gains = setting.Compute(node, bench) is { } plan ? LifeGains.Of(node, bench, plan, setting) : [];
        return new(gains, today, intervals, radios);

        RadioRhythm Row(string key, string label, bool isToday, NodeDesign changed)
        {
            var with = setting.Sketch(changed, bench);
            RhythmPoint? Point(double ms) =>
                setting.Compute(Paced(changed, today, ms), with) is { } then
                    ? new((long)ms, then.Life?.Value, then.Life?.Low, then.Life?.High, then.Average.Value!.Value)
                    : null;
            var curve = Enumerable
                .Range(0, CurvePoints)
                .Select(i => Point(ShortestMs * Math.Pow(LongestMs / ShortestMs, i / (CurvePoints - 1.0))))
                .OfType<RhythmPoint>();
            return new(key, label, isToday, [.. intervals.Select(i => Point(i)).OfType<RhythmPoint>()], [.. curve]);
        }
    }

    /// <summary>What the board can send by, and every module and modem.</summary>
    private static IEnumerable<(string Key, string Label, bool IsToday, NodeDesign Changed)> Choices(NodeDesign node, Board board, HardwareCatalogue catalogue)
    {
        var bare = Without(node, catalogue);
        if (board.ConnectMs is not null && board.Sends(LinkKind.Wifi))
        {
            yield return ("wifi", "Wi-Fi of the board", node.Link == LinkKind.Wifi, bare with { Link = LinkKind.Wifi });
        }
        foreach (var link in LinkKinds.OfBoards.Where(board.Sends))
        {
            yield return (BoardRadios.IdOf(link), $"{link.Name()} of the board", node.Link == link, bare with { Link = link });
        }
        var now = node.Link.IsByModule() ? Sending.RadioOf(node, catalogue)?.Id ?? Sending.TextModemOf(node, catalogue)?.Part.Id : null;
        var modules = Enum.GetValues<LinkKind>()
            .Where(l => l.IsByModule())
            .SelectMany(l => catalogue.Parts.Where(p => Sending.SendsSo(p, l)).Select(p => (Radio: p, Link: l)));
        foreach (var (radio, link) in modules.OrderBy(m => m.Radio.Modem is not { BitsPerSecond: not null }).ThenBy(m => m.Radio.Id, StringComparer.Ordinal))
        {
            var mine = node.Parts.FirstOrDefault(p => p.Part == radio.Id) ?? new PartInstance(NodeEdits.FreeKey(bare, "radio"), radio.Label, radio.Id);
            yield return (radio.Id, radio.Label, now == radio.Id, bare with { Link = link, Parts = [.. bare.Parts, mine] });
        }
    }

    /// <summary>The node without the radios among its parts.</summary>
    private static NodeDesign Without(NodeDesign node, HardwareCatalogue catalogue) =>
        node with
        {
            Parts = [.. node.Parts.Where(p => catalogue.Part(p.Part) is not ({ Modem: not null } or { Texts: not null }))],
        };

    /// <summary>The node with its timetable stretched or pressed so that it wakes so often.</summary>
    private static NodeDesign Paced(NodeDesign node, long today, double ms)
    {
        long? Scaled(long? gap) => gap is > 0 ? Math.Max(1, (long)Math.Round(gap.Value * (ms / today))) : gap;
        return node with
        {
            Readings =
            [
                .. node.Readings.Select(r =>
                    r with
                    {
                        IntervalMs = Scaled(r.IntervalMs),
                        HeartbeatMs = r.IntervalMs is null ? Scaled(r.HeartbeatMs) : r.HeartbeatMs,
                    }
                ),
            ],
        };
    }
}

/// <summary>A radio with its figures at the intervals of the table and along the curve.</summary>
/// <param name="Today">True for the radio that the node has.</param>
public sealed record RadioRhythm(string Key, string Label, bool Today, IReadOnlyList<RhythmPoint> Cells, IReadOnlyList<RhythmPoint> Curve);

/// <summary>Life and current at an interval.</summary>
/// <param name="LifeDays">Null for a node without cells.</param>
public sealed record RhythmPoint(long IntervalMs, double? LifeDays, double? LowDays, double? HighDays, double Milliamps);
