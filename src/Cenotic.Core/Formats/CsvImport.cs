using System.Globalization;
using CsvHelper;

namespace Cenotic.Core.Formats;

/// <summary>How a table writes its times.</summary>
public enum CsvTime
{
    /// <summary>2026-11-25 14:30:00, with or without T and offset; without one in the table's time zone (RFC 3339, loosely).</summary>
    Iso8601,

    /// <summary>25.11.2026 14:30 or 25/11/2026 14:30:00.</summary>
    DayMonthYear,

    /// <summary>11/25/2026 14:30.</summary>
    MonthDayYear,

    /// <summary>Seconds since 1970 UTC.</summary>
    UnixSeconds,

    /// <summary>Milliseconds since 1970 UTC.</summary>
    UnixMilliseconds,

    /// <summary>Seconds since the node started: it had no clock.</summary>
    SecondsSinceStart,

    /// <summary>Milliseconds since the node started: it had no clock.</summary>
    MillisecondsSinceStart,
}

/// <summary>A column and the reading it is.</summary>
/// <param name="Index">From 0.</param>
public sealed record CsvColumn(int Index, string Node, string Reading);

/// <summary>How a table is read.</summary>
/// <param name="TimeColumn">Index of the column with the times, from 0.</param>
/// <param name="TimeZone">IANA name, for times without an offset.</param>
/// <param name="EndedMs">When its last row was written, UTC ms: wanted for times since a start.</param>
public sealed record CsvLayout(
    char Separator,
    bool DecimalComma,
    bool HasHeader,
    int TimeColumn,
    CsvTime Time,
    string TimeZone,
    IReadOnlyList<CsvColumn> Columns,
    long? EndedMs = null
);

/// <summary>What a table seems to be, to begin from.</summary>
/// <param name="TimeColumn">Null when no column looks like a time.</param>
/// <param name="Rows">The first rows, as text.</param>
public sealed record CsvGuess(
    char Separator,
    bool DecimalComma,
    bool HasHeader,
    IReadOnlyList<string> Headers,
    int? TimeColumn,
    CsvTime? Time,
    IReadOnlyList<IReadOnlyList<string>> Rows
);

/// <summary>A row that was read.</summary>
/// <param name="T">UTC ms.</param>
/// <param name="Estimated">True when its time was worked out from a start without a clock.</param>
/// <param name="Values">For each column that holds a number: its place in the layout's columns.</param>
/// <param name="Refusals">What was left out of it, and why.</param>
public sealed record CsvValues(long Row, long T, bool Estimated, IReadOnlyList<(int Column, double Value)> Values, IReadOnlyList<string> Refusals);

/// <summary>Reads tables of storage cards and spreadsheets: CSV (RFC 4180) with any separator, decimal comma or point, seven ways to write a time.</summary>
public static class CsvImport
{
    private const int LongestRecord = 64 * 1024,
        Shown = 8,
        Looked = 40;

    /// <summary>Words of a heading that name a time, in the languages that loggers are mostly written in.</summary>
    private static readonly HashSet<string> TimeWords =
    [
        "t",
        "s",
        "sec",
        "secs",
        "second",
        "seconds",
        "zeit",
        "sekunden",
        "temps",
        "secondes",
        "tiempo",
        "segundos",
        "tempo",
        "tijd",
        "uptime",
        "elapsed",
    ];

    private static readonly string[] DayFirst = [.. Forms("d.M.yyyy", "d/M/yyyy", "d-M-yyyy", "d.M.yy", "d/M/yy")];
    private static readonly string[] MonthFirst = [.. Forms("M/d/yyyy", "M-d-yyyy", "M/d/yy")];

    /// <summary>Looks at the beginning of a table.</summary>
    /// <exception cref="CsvFormatException">A record is longer than 64 KiB: it is no table.</exception>
    public static CsvGuess Guess(Stream table)
    {
        using var reader = CsvReader.Create(table, Options(null, header: false), true);
        var rows = new List<IReadOnlyList<string>>();
        while (rows.Count < Looked && reader.Read())
        {
            rows.Add(reader.Current.ToArray());
        }
        var separator = reader.Separator;
        var header =
            rows.Count > 0
            && rows[0].All(f => f.Length > 0 && Number(f, false) is null && Number(f, true) is null)
            && rows[0].All(f => Enum.GetValues<CsvTime>().All(k => k >= CsvTime.UnixSeconds || Clock(f, k, TimeZoneInfo.Utc) is null));
        var data = rows.Skip(header ? 1 : 0).ToList();
        var comma =
            separator != ','
            && data.SelectMany(r => r).Count(f => f.Contains(',') && Number(f, true) is not null)
                > data.SelectMany(r => r).Count(f => f.Contains('.') && Number(f, false) is not null && !f.Contains(' '));
        var width = rows.Count == 0 ? 0 : rows.Max(r => r.Count);
        IReadOnlyList<string> headers = header ? rows[0] : [.. Enumerable.Range(1, width).Select(n => $"Column {n}")];
        (int Column, CsvTime Time)? time = null;
        for (var column = 0; column < width && time is null && data.Count > 0; column++)
        {
            var fields = data.Where(r => r.Count > column).Select(r => r[column]).ToList();
            time = TimeOf(fields, headers[Math.Min(column, headers.Count - 1)], comma) is { } kind ? (column, kind) : null;
        }
        time ??= header || width < 2 || Counting([.. data.Where(r => r.Count > 0).Select(r => Number(r[0], comma))]) is not { } counts ? time : (0, counts);
        return new(separator, comma, header, headers, time?.Column, time?.Time, [.. data.Take(Shown)]);
    }

    /// <summary>Reads a table row by row. What cannot be read is named in its row; nothing in a table throws but a record over 64 KiB.</summary>
    /// <param name="open">Opens the table at its beginning; asked twice where runs without a clock must be placed first.</param>
    /// <exception cref="CsvFormatException">A record is longer than 64 KiB.</exception>
    /// <exception cref="ArgumentException">The layout has no such time zone, or no end for times since a start.</exception>
    public static IEnumerable<CsvValues> Read(Func<Stream> open, CsvLayout layout)
    {
        if (!TimeZoneInfo.TryFindSystemTimeZoneById(layout.TimeZone, out var zone))
        {
            throw new ArgumentException($"\"{layout.TimeZone}\" is no time zone.");
        }
        var since = layout.Time is CsvTime.SecondsSinceStart or CsvTime.MillisecondsSinceStart;
        if (since && layout.EndedMs is null)
        {
            throw new ArgumentException("Times since a start want the moment at which the last row was written.");
        }
        return Rows(open, layout, zone, since ? Bases(open, layout) : []);
    }

    private static IEnumerable<CsvValues> Rows(Func<Stream> open, CsvLayout layout, TimeZoneInfo zone, List<long> bases)
    {
        using var table = open();
        var whole = Ends(table);
        using var reader = CsvReader.Create(table, Options(layout.Separator, layout.HasHeader), true);
        var (run, before) = (0, double.NegativeInfinity);
        var more = reader.Read();
        while (more)
        {
            var row = reader.RowNumber;
            var fields = reader.Current.ToArray();
            more = reader.Read();
            if (!more && !whole)
            {
                yield return new(
                    row,
                    0,
                    false,
                    [],
                    [$"Row {row}, the last, has no end: the power went in it. It is left out; end it with a line feed if it is whole."]
                );
                yield break;
            }
            var time = fields.Length > layout.TimeColumn ? fields[layout.TimeColumn].Trim() : "";
            long? t;
            if (bases.Count > 0)
            {
                var since = Number(time, layout.DecimalComma);
                run += since < before ? 1 : 0;
                before = since ?? before;
                t = since is { } s ? bases[run] + InMs(s, layout.Time) : null;
            }
            else
            {
                t =
                    layout.Time >= CsvTime.UnixSeconds
                        ? Number(time, layout.DecimalComma) is { } number && Math.Abs(number) < 1e15
                            ? InMs(number, layout.Time)
                            : null
                        : Clock(time, layout.Time, zone);
            }
            if (t is not { } at)
            {
                yield return new(row, 0, false, [], [$"Row {row}: \"{Shorten(time)}\" is no time of that form, or one that the clocks skipped."]);
                continue;
            }
            var (values, refusals) = Values(row, fields, layout);
            yield return new(row, at, bases.Count > 0, values, refusals);
        }
    }

    private static (List<(int Column, double Value)> Values, List<string> Refusals) Values(long row, string[] fields, CsvLayout layout)
    {
        var values = new List<(int, double)>();
        var refusals = new List<string>();
        foreach (var (column, index) in layout.Columns.Select((c, i) => (c, i)))
        {
            var text = fields.Length > column.Index ? fields[column.Index].Trim() : "";
            if (Number(text, layout.DecimalComma) is { } value)
            {
                values.Add((index, value));
            }
            else if (text.Length > 0)
            {
                refusals.Add($"Row {row}: \"{Shorten(text)}\" is no number of {column.Reading}.");
            }
        }
        return (values, refusals);
    }

    /// <summary>Where the runs of a node without a clock begin, UTC ms: the last ends with the table, each earlier
    /// one where the next begins; how long it was off between is not known.</summary>
    private static List<long> Bases(Func<Stream> open, CsvLayout layout)
    {
        using var table = open();
        var whole = Ends(table);
        using var reader = CsvReader.Create(table, Options(layout.Separator, layout.HasHeader), true);
        var runs = new List<(double First, double Last)>();
        double? held = null;
        void Take(double since)
        {
            if (runs.Count == 0 || since < runs[^1].Last)
            {
                runs.Add((since, since));
            }
            runs[^1] = (runs[^1].First, since);
        }
        while (reader.Read())
        {
            if (held is { } earlier)
            {
                Take(earlier);
            }
            held = reader.FieldCount > layout.TimeColumn ? Number(reader.GetString(layout.TimeColumn).Trim(), layout.DecimalComma) : null;
        }
        if (held is { } last && whole)
        {
            Take(last);
        }
        var bases = new long[runs.Count];
        var end = layout.EndedMs!.Value;
        for (var run = runs.Count - 1; run >= 0; run--)
        {
            bases[run] = end - InMs(runs[run].Last, layout.Time);
            end = bases[run] + InMs(runs[run].First, layout.Time);
        }
        return bases.Length == 0 ? [end] : [.. bases];
    }

    private static CsvReaderOptions Options(char? separator, bool header) =>
        CsvReaderOptions.Default with
        {
            Separator = separator,
            HasHeader = header,
            AllowLineBreaksInQuotes = false,
            TrimWhitespace = true,
            MaxRecordSize = LongestRecord,
            DetectSeparatorHint = separator is null,
        };

    /// <summary>True when the table ends with the end of a line.</summary>
    private static bool Ends(Stream table)
    {
        if (table.Length == 0)
        {
            return true;
        }
        table.Seek(-1, SeekOrigin.End);
        var last = table.ReadByte();
        table.Seek(0, SeekOrigin.Begin);
        return last is '\n' or '\r';
    }

    private static CsvTime? TimeOf(List<string> fields, string header, bool comma)
    {
        bool All(CsvTime kind) => fields.Count > 0 && fields.All(f => Clock(f, kind, TimeZoneInfo.Utc) is not null);
        if (All(CsvTime.Iso8601))
        {
            return CsvTime.Iso8601;
        }
        if (All(CsvTime.DayMonthYear))
        {
            return CsvTime.DayMonthYear;
        }
        if (All(CsvTime.MonthDayYear))
        {
            return CsvTime.MonthDayYear;
        }
        var numbers = fields.Select(f => Number(f, comma)).ToList();
        if (numbers.Count == 0 || numbers.Any(n => n is null or < 0))
        {
            return null;
        }
        var least = numbers.Min();
        var words = header
            .Split([' ', '_', '-', '(', ')', '[', ']', '/', '.', ',', ':'], StringSplitOptions.RemoveEmptyEntries)
            .Select(w => w.ToLowerInvariant())
            .ToList();
        var inMs = words.Any(w => w == "ms" || w.StartsWith("milli", StringComparison.Ordinal));
        var named = inMs || header.Contains("time", StringComparison.OrdinalIgnoreCase) || words.Any(w => TimeWords.Contains(w));
        return least is >= 1e12 and < 1e13 ? CsvTime.UnixMilliseconds
            : least is >= 1.2e9 and < 1e10 ? CsvTime.UnixSeconds
            : !named ? null
            : inMs ? CsvTime.MillisecondsSinceStart
            : CsvTime.SecondsSinceStart;
    }

    /// <summary>Whether the first column of a table without headings counts time: rising by steps that are nearly alike, but for starts anew. In milliseconds
    /// where a step is half a second or more of them; else null.</summary>
    private static CsvTime? Counting(List<double?> numbers)
    {
        if (numbers.Count < 4 || numbers.Any(n => n is null or < 0))
        {
            return null;
        }
        var steps = numbers.Zip(numbers.Skip(1), (a, b) => b!.Value - a!.Value).Where(s => s > 0).Order().ToList();
        // One row in eight may begin a new run.
        if (steps.Count * 8 < (numbers.Count - 1) * 7 || steps[^(1 + steps.Count / 10)] > 3 * steps[steps.Count / 2])
        {
            return null;
        }
        return steps[steps.Count / 2] >= 500 ? CsvTime.MillisecondsSinceStart : CsvTime.SecondsSinceStart;
    }

    private static long InMs(double number, CsvTime time) =>
        (long)Math.Round(time is CsvTime.UnixSeconds or CsvTime.SecondsSinceStart ? number * 1000 : number);

    /// <summary>UTC ms of a time that is written out; null when it is none of that form, or one that the
    /// clocks skipped. An hour that comes twice is taken as its first.</summary>
    private static long? Clock(string text, CsvTime kind, TimeZoneInfo zone)
    {
        text = text.Trim();
        if (kind == CsvTime.Iso8601)
        {
            if (
                text.Length < 10
                || text[4] != '-'
                || !DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var moment)
            )
            {
                return null;
            }
            var offset = text.Length > 11 && (text.EndsWith('Z') || text.EndsWith('z') || text.AsSpan(11).IndexOfAny('+', '-') >= 0);
            return offset ? moment.ToUnixTimeMilliseconds() : Utc(moment.UtcDateTime, zone);
        }
        var forms = kind == CsvTime.DayMonthYear ? DayFirst : MonthFirst;
        return DateTime.TryParseExact(
            text.Replace("  ", " ", StringComparison.Ordinal),
            forms,
            CultureInfo.InvariantCulture,
            DateTimeStyles.None,
            out var local
        )
            ? Utc(local, zone)
            : null;
    }

    private static long? Utc(DateTime local, TimeZoneInfo zone)
    {
        local = DateTime.SpecifyKind(local, DateTimeKind.Unspecified);
        if (zone.IsInvalidTime(local))
        {
            return null;
        }
        var offset = zone.IsAmbiguousTime(local) ? zone.GetAmbiguousTimeOffsets(local).Max() : zone.GetUtcOffset(local);
        return new DateTimeOffset(local, offset).ToUnixTimeMilliseconds();
    }

    private static double? Number(string text, bool comma)
    {
        text = text.Trim();
        if (
            text.Length is 0 or > 40
            || comma && text.Contains('.')
            || text.Any(c => !char.IsAsciiDigit(c) && c is not ('+' or '-' or '.' or ',' or 'e' or 'E'))
        )
        {
            return null;
        }
        return double.TryParse(comma ? text.Replace(',', '.') : text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value)
            ? value
            : null;
    }

    private static IEnumerable<string> Forms(params string[] dates) => dates.SelectMany(d => new[] { $"{d} H:mm:ss", $"{d} H:mm", $"{d} H:mm:ss.FFF", d });

    private static string Shorten(string text) => text.Length > 30 ? text[..30] + "…" : text;
}
