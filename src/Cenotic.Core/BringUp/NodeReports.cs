using System.Globalization;
using Cenotic.Core.Bench;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.BringUp;

/// <summary>What a node tells of itself after a start.</summary>
/// <param name="AtMs">When it was told, UTC ms.</param>
/// <param name="Boot">Count of its starts (sys/boot); null when it keeps none.</param>
/// <param name="Firmware">sys/fw.</param>
/// <param name="Settings">sys/cfg: <see cref="NodeSettings.Hash"/> of what it runs.</param>
/// <param name="Reset">sys/rst: why it started.</param>
/// <param name="SupplyVolts">sys/vcc.</param>
/// <param name="FreeBytes">sys/mem: memory that is free, bytes.</param>
public sealed record NodeReport(long AtMs, long? Boot, string? Firmware, string? Settings, string? Reset, double? SupplyVolts, long? FreeBytes)
{
    /// <summary>The reason that says its supply fell too low.</summary>
    public const string BrownOut = "brownout";
}

/// <summary>What is known of the messages of a node.</summary>
/// <param name="Newest">Its newest report; null when it sent none.</param>
/// <param name="Starts">Starts within <see cref="NodeReports.StartsWithinMs"/>, the oldest first.</param>
/// <param name="BrownOuts">How many of them it says were brown-outs.</param>
/// <param name="GapsMs">Times between messages that follow each other by their numbers, ms.</param>
/// <param name="Messages">Messages that ever came.</param>
/// <param name="Ran">Lines of the settings it runs, as they were kept when they were made here; null when they were not made here.</param>
public sealed record NodeHistory(
    NodeReport? Newest,
    IReadOnlyList<long> Starts,
    int BrownOuts,
    IReadOnlyList<long> GapsMs,
    long Messages,
    IReadOnlyList<string>? Ran
);

/// <summary>Holds what a node says of itself against its plan. Pure.</summary>
public static class NodeReports
{
    /// <summary>How far back starts are counted, ms.</summary>
    public const long StartsWithinMs = 3_600_000;

    private const int ManyStarts = 3,
        FewGaps = 5,
        MostNamed = 4;
    private const double Slow = 1.5;
    private const string Practice = "common practice, no source";

    /// <summary>What a maker should know.</summary>
    /// <param name="now">Settings by the plan on the screen.</param>
    public static IReadOnlyList<Finding> Judge(NodeDesign node, NodeSettings now, BenchPlan bench, RhythmPlan rhythm, NodeHistory history) =>
        [.. Settings(node, now, history), .. Starts(node, bench, history), .. Pace(node, now, rhythm, history)];

    private static IEnumerable<Finding> Settings(NodeDesign node, NodeSettings now, NodeHistory history)
    {
        if (history.Newest?.Settings is not { } runs)
        {
            yield return Say(
                node,
                "NODE-UNREPORTED",
                Severity.Note,
                history.Messages == 0 ? $"{node.Label} was never heard." : $"{node.Label} sends, but has never said which settings it runs.",
                "Whether it runs this plan or last week's cannot be seen.",
                "Let its first message after a start carry sys/cfg with the text of CENOTIC_SETTINGS."
            );
        }
        else if (runs != now.Hash)
        {
            var changes = history.Ran is null ? [] : now.Since(history.Ran);
            var named = string.Join("; ", changes.Take(MostNamed).Select(c => $"{c.What}: {c.Before ?? "none"} there, {c.Now ?? "none"} in the plan"));
            yield return Say(
                node,
                "NODE-OTHER-PLAN",
                Severity.Risk,
                $"{node.Label} runs settings {runs}; the plan is {now.Hash}.",
                history.Ran is null
                    ? "Those settings were not made here, so what differs is not known."
                    : $"{named}{(changes.Count > MostNamed ? $"; and {changes.Count - MostNamed} more" : "")}.",
                "Save its settings, build its program with them and flash it; or take the change back."
            );
        }
        if (
            !node.CorrectsItself
            && history.Ran?.Where(l => l.StartsWith("correction.", StringComparison.Ordinal)).Select(l => l["correction.".Length..].Split('=')[0]).ToList()
                is { Count: > 0 } twice
        )
        {
            yield return Say(
                node,
                "NODE-CORRECTS-TOO",
                Severity.Stop,
                $"{node.Label} runs a program that corrects {string.Join(", ", twice.Select(k => node.Reading(k)?.Label ?? k))}; by the plan the server does.",
                "With both, a value is corrected twice.",
                "Flash it with the settings of the plan; or say at the Bench that its program applies calibrations itself."
            );
        }
    }

    private static IEnumerable<Finding> Starts(NodeDesign node, BenchPlan bench, NodeHistory history)
    {
        if (history.BrownOuts > 0)
        {
            yield return Say(
                node,
                "NODE-BROWN-OUT",
                Severity.Risk,
                $"{node.Label} restarted {Times(history.BrownOuts)} within the hour because its supply fell too low.",
                Peak(bench),
                "Put 470 µF beside the board, shorten and thicken the supply lead, change weak cells, and measure the supply while it sends."
            );
        }
        else if (history.Starts.Count >= ManyStarts)
        {
            yield return Say(
                node,
                "NODE-RESTARTS",
                Severity.Risk,
                $"{node.Label} started {Times(history.Starts.Count)} within the hour.",
                Peak(bench),
                "Let it report why (sys/rst). Power or brown-out: the supply or its lead. Watchdog: the program hangs, often on a bus that is stuck."
            );
        }
    }

    private static IEnumerable<Finding> Pace(NodeDesign node, NodeSettings now, RhythmPlan rhythm, NodeHistory history)
    {
        if (rhythm.SendEveryMs is { } every && history.GapsMs.Count >= FewGaps && Median(history.GapsMs) is var gap && gap > Slow * every)
        {
            yield return Say(
                node,
                "NODE-SLOW",
                Severity.Risk,
                $"{node.Label} sends every {DurationText.Of(gap)}; planned is every {DurationText.Of(every)}.",
                "Alerts come later than the plan says.",
                history.Newest?.Settings == now.Hash
                    ? "Its program waits somewhere: for a part that does not answer, or for the network."
                    : "It may run an older plan: flash it anew."
            );
        }
    }

    private static Finding Say(NodeDesign node, string code, Severity severity, string what, string why, string advice) =>
        new(code, severity, new("bring-up", node.Key), what, why, [], advice, Practice);

    private static string Times(int count) => count == 1 ? "once" : string.Create(CultureInfo.InvariantCulture, $"{count} times");

    /// <summary>What its plan draws at most.</summary>
    private static string Peak(BenchPlan bench) =>
        bench.Rails.Where(r => r.Peak.Value is not null).MaxBy(r => r.Peak.Value) is { } rail
            ? string.Create(
                CultureInfo.InvariantCulture,
                $"By the plan it draws up to {rail.Peak.Value:0} mA at once on "
                    + $"{rail.Label}{(rail.Budget.Value is { } budget ? $", which gives {budget:0} mA" : "")}."
            )
            : "How much it draws at once is not known.";

    private static long Median(IReadOnlyList<long> values) => values.Order().ElementAt(values.Count / 2);
}
