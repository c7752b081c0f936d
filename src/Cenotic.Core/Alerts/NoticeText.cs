using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>What a notice speaks of.</summary>
/// <param name="Where">The node and its room.</param>
/// <param name="HowFar">The value against the limit; empty for silence.</param>
/// <param name="ToDo">The rule's own note; may be empty.</param>
/// <param name="Late">True when the server was off when it was due.</param>
public sealed record NoticeFacts(
    DueNotice Notice,
    string Label,
    string Where,
    string HowFar,
    string ToDo,
    long RaisedMs,
    long? ClearedMs,
    bool Late,
    bool Damped
);

/// <summary>The words of a notice: what, where, since when, how far, what to do. Pure.</summary>
public static class NoticeText
{
    private const int LongestText = 300;

    /// <summary>One line for a mail's subject: no control characters, so that nothing in a name becomes a header.</summary>
    public static string Subject(string site, IReadOnlyList<NoticeFacts> notices)
    {
        var (standing, over) = (notices.Where(n => n.Notice.Kind != NoticeKind.Over).ToList(), notices.Where(n => n.Notice.Kind == NoticeKind.Over).ToList());
        var first = standing.Count > 0 ? standing[0] : over[0];
        var more = notices.Count > 1 ? $" and {notices.Count - 1} more" : "";
        return OneLine($"{site}: {Headline(first)}{more}");
    }

    /// <summary>The text of a mail.</summary>
    public static string Body(string site, IReadOnlyList<NoticeFacts> notices, TimeZoneInfo zone) =>
        string.Join("\n", notices.Select(n => string.Join("\n", Lines(n, zone)) + "\n"))
        + $"\n{OneLine(site)}. Told by a home-made network, which is no certified alarm.\n";

    /// <summary>A text message: one line, and the mark by which a repeat is known.</summary>
    public static string Short(string site, IReadOnlyList<NoticeFacts> notices, TimeZoneInfo zone, string id)
    {
        var text = OneLine(
            $"{site}: "
                + string.Join(
                    "; ",
                    notices.Select(n =>
                        $"{Headline(n)}{(n.HowFar.Length > 0 && n.Notice.Kind != NoticeKind.Over ? $", {n.HowFar}" : "")}, "
                        + $"{Clock(n.Notice.Kind == NoticeKind.Over ? n.ClearedMs!.Value : n.RaisedMs, zone)}"
                    )
                )
        );
        return $"{(text.Length > LongestText ? text[..(LongestText - 1)] + "…" : text)} [{id[..6]}]";
    }

    /// <summary>The name of a notice that stays the same however often it is sent: 32 hexadecimal digits of a hash of episode, step, person and way.</summary>
    public static string Id(string site, long episode, string step, string person, WayDesign way) =>
        Convert.ToHexStringLower(
            SHA256.HashData(
                Encoding.UTF8.GetBytes(string.Join('\n', site, episode.ToString(CultureInfo.InvariantCulture), step, person, way.Kind, way.Address))
            )
        )[..32];

    /// <summary>Text on one line, without control characters.</summary>
    public static string OneLine(string text) => string.Concat(text.Select(c => char.IsControl(c) || c is '\u2028' or '\u2029' ? ' ' : c)).Trim();

    /// <summary>How far a value is from what a rule wants of it.</summary>
    /// <param name="decimals">Digits after the point.</param>
    public static string HowFar(RuleCondition condition, double? value, string unit, int decimals)
    {
        string With(double v) => $"{v.ToString("F" + Math.Clamp(decimals, 0, 6), CultureInfo.InvariantCulture)} {unit}".TrimEnd();
        string Plain(double v) => $"{v.ToString(CultureInfo.InvariantCulture)} {unit}".TrimEnd();
        return (condition, value) switch
        {
            (SilentFor silent, _) => $"nothing heard for {DurationText.Of(silent.ForMs)}",
            (EventsWithin events, _) => $"{events.Count} times within {DurationText.Of(events.WithinMs)}",
            (InSequence sequence, _) => sequence.Outcome switch
            {
                SequenceOutcome.Both => $"both within {DurationText.Of(sequence.WithinMs)}",
                SequenceOutcome.FirstAlone => $"without the other within {DurationText.Of(sequence.WithinMs)}",
                _ => $"the other alone, within {DurationText.Of(sequence.WithinMs)}",
            },
            (_, null) => "",
            (UnlikeUsual, { } v) => $"{With(v)}, unlike its usual at this hour",
            (BeyondLimit limit, { } v) => $"{With(v)}, {(limit.Side == LimitSide.Above ? "above" : "below")} "
                + $"{Plain(limit.Limit)}{(limit.ForMs > 0 ? $" for {DurationText.Of(limit.ForMs)}" : "")}",
            (OutsideBand band, { } v) => $"{With(v)}, outside {band.Low.ToString(CultureInfo.InvariantCulture)} to {Plain(band.High)}",
            (InARow row, { } v) => $"{With(v)}, {(row.Side == LimitSide.Above ? "above" : "below")} {Plain(row.Limit)} {row.Times} times in a row",
            (ChangesFaster change, { } v) =>
                $"{With(v)}, {(change.Side == ChangeSide.Rises ? "risen" : "fallen")} by {Plain(change.By)} or more within {DurationText.Of(change.WithinMs)}",
            (_, { } v) => With(v),
        };
    }

    private static string Headline(NoticeFacts n) =>
        n.Notice.Kind switch
        {
            NoticeKind.Over => $"{n.Label} is over",
            NoticeKind.Reminder => $"{n.Label}, reminder {n.Notice.Number}",
            NoticeKind.Escalated => $"{n.Label}, nobody has acknowledged it",
            _ => n.Label,
        };

    private static IEnumerable<string> Lines(NoticeFacts n, TimeZoneInfo zone)
    {
        yield return OneLine(Headline(n));
        yield return "Where: " + OneLine(n.Where);
        var since = Clock(n.RaisedMs, zone);
        yield return n.Notice.Kind == NoticeKind.Over ? $"From {since} to {Clock(n.ClearedMs!.Value, zone)}, {DurationText.Of(n.ClearedMs.Value - n.RaisedMs)}"
        : n.Notice.AtMs - n.RaisedMs >= 60_000 ? $"Since {since}, for {DurationText.Of((n.Notice.AtMs - n.RaisedMs) / 60_000 * 60_000)}"
        : $"Since {since}";
        if (n.HowFar.Length > 0)
        {
            yield return (n.Notice.Kind == NoticeKind.Over ? "It was: " : "How far: ") + OneLine(n.HowFar);
        }
        if (n.Late)
        {
            yield return "Told late: the server was off when it happened.";
        }
        if (n.Damped)
        {
            yield return "It raised again and again within an hour; it is told only when it lasts.";
        }
        if (n.ToDo.Length > 0 && n.Notice.Kind != NoticeKind.Over)
        {
            yield return "What to do: " + OneLine(n.ToDo);
        }
    }

    private static string Clock(long ms, TimeZoneInfo zone) =>
        TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(ms), zone).ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
}
