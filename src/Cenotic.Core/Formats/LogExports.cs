using System.Globalization;
using System.Text;
using Cenotic.Core.Log;

namespace Cenotic.Core.Formats;

/// <summary>The log for other tools: CSV (RFC 4180) and Markdown (CommonMark 0.31).</summary>
public static class LogExports
{
    /// <param name="zone">Of the site: times are written in it.</param>
    public static string Csv(IEnumerable<LogEntry> entries, TimeZoneInfo zone) =>
        GuardedCsv.Of(
            ["time", "kind", "node", "who", "text"],
            entries.Select(e =>
                new[]
                {
                    At(e.AtMs, zone).ToString("yyyy-MM-dd'T'HH:mm:sszzz", CultureInfo.InvariantCulture),
                    e.Kind.ToString().ToLowerInvariant(),
                    e.Node ?? "",
                    e.Who ?? "",
                    e.Text,
                }
            )
        );

    /// <summary>A heading for each day, a list item for each entry.</summary>
    /// <param name="title">Of the page.</param>
    public static string Markdown(string title, IEnumerable<LogEntry> entries, TimeZoneInfo zone, Func<string, string> node)
    {
        var text = new StringBuilder().Append(CultureInfo.InvariantCulture, $"# {Plain(title)}\n");
        DateOnly? day = null;
        foreach (var entry in entries)
        {
            var at = At(entry.AtMs, zone);
            if (DateOnly.FromDateTime(at.DateTime) is var date && date != day)
            {
                day = date;
                text.Append(CultureInfo.InvariantCulture, $"\n## {date:yyyy-MM-dd}\n\n");
            }
            text.Append(
                CultureInfo.InvariantCulture,
                $"- {at:HH:mm} "
                    + $"{(entry.Node is { } key ? $"**{Plain(node(key))}** " : "")}{Plain(entry.Text)}{(entry.Who is { } who ? $" ({Plain(who)})" : "")}\n"
            );
        }
        return text.ToString();
    }

    private static DateTimeOffset At(long ms, TimeZoneInfo zone) => TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(ms), zone);

    /// <summary>Text on one line without a mark-up of its own (CommonMark 0.31, 2.4: backslash escapes).</summary>
    private static string Plain(string text) =>
        string.Concat(
            text.Select(c =>
                c is '\n' or '\r' or '\t' ? " "
                : "\\`*_{}[]<>#|!&~".Contains(c) ? $"\\{c}"
                : char.IsControl(c) ? ""
                : c.ToString()
            )
        );
}
