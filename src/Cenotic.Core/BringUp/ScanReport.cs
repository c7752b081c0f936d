using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>How a line of a scan agrees with the plan.</summary>
public enum ScanVerdict
{
    /// <summary>Planned, and it answers.</summary>
    Found,

    /// <summary>Planned, and it does not answer.</summary>
    Missing,

    /// <summary>It answers, and nobody planned it.</summary>
    Unexpected,

    /// <summary>It lies behind a multiplexer that this scan did not switch.</summary>
    NotSeenFromHere,
}

/// <summary>One line of the comparison: a planned part, or an answer that nobody planned.</summary>
/// <param name="Part">Key of the part; null for an unexpected answer.</param>
/// <param name="At">Address or code as text; null for a 1-Wire part that no code was given to.</param>
public sealed record ScanLine(ScanVerdict Verdict, string? Part, string Label, string? At, string? Bus);

/// <summary>A scan held against the plan.</summary>
/// <param name="Findings">What is wrong and what to do with one's hands, the likeliest first.</param>
/// <param name="Unnamed">Codes that belong to no part yet.</param>
public sealed record ScanReport(IReadOnlyList<ScanLine> Lines, IReadOnlyList<Finding> Findings, IReadOnlyList<RomCode> Unnamed)
{
    /// <summary>The scan in a sentence: as planned, or what is wrong first of all and how much more.</summary>
    public string Verdict =>
        AsPlanned ? "all as planned"
        : Findings.Count > 0 ? Findings[0].What + (Findings.Count > 1 ? $" And {Findings.Count - 1} more." : "")
        : string.Join(
            ", ",
            Lines
                .Where(l => l.Verdict is ScanVerdict.Missing or ScanVerdict.Unexpected)
                .Select(l => $"{l.Label}{(l.At is null ? "" : $" at {l.At}")} {(l.Verdict == ScanVerdict.Missing ? "is missing" : "is not planned")}")
        );

    /// <summary>True when all that is planned answered and nothing else did.</summary>
    public bool AsPlanned => Findings.Count == 0 && Lines.All(l => l.Verdict is ScanVerdict.Found or ScanVerdict.NotSeenFromHere);
}

/// <summary>Compares a scan with the plan. Pure.</summary>
public static class ScanComparison
{
    /// <summary>What the scan says about a node.</summary>
    /// <param name="before">The scan before it, to tell which probe was just plugged in; null for none.</param>
    public static ScanReport Compare(NodeDesign node, BenchPlan plan, HardwareCatalogue catalogue, BusScan scan, BusScan? before = null)
    {
        var (lines, findings) = (new List<ScanLine>(), new List<Finding>());
        if (scan.LooksI2c)
        {
            I2cDiagnosis.Of(new(node, plan, catalogue), scan.Devices, lines, findings);
        }
        IReadOnlyList<RomCode> unnamed = [];
        if (scan.LooksOneWire)
        {
            unnamed = OneWireDiagnosis.Of(node, plan, scan.Roms, before?.Roms, lines, findings);
        }
        return new(lines, findings, unnamed);
    }

    internal static Finding Say(
        NodeDesign node,
        string code,
        Severity severity,
        string? item,
        string what,
        string why,
        string advice,
        string source,
        params Remedy[] remedies
    ) => new(code, severity, new("bring-up", node.Key, item), what, why, remedies, advice, source);
}
