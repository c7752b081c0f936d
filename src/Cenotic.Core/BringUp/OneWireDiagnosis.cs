using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.BringUp;

/// <summary>Codes on a 1-Wire line against the probes that are planned on it.</summary>
internal sealed class OneWireDiagnosis(NodeDesign node, BenchPlan plan, List<ScanLine> lines, List<Finding> findings)
{
    private const string Note = "application note 27",
        Practice = "common practice, no source";

    /// <summary>Family codes of parts that makers meet. Source: data sheets of the parts, from memory.</summary>
    private static readonly Dictionary<int, string> Families = new()
    {
        [0x28] = "DS18B20",
        [0x10] = "DS18S20",
        [0x22] = "DS1822",
        [0x3B] = "DS1825 or a thermocouple converter",
        [0x26] = "DS2438",
        [0x01] = "an identity chip",
        [0x29] = "DS2408",
        [0x3A] = "DS2413",
    };

    private const int ProbeFamily = 0x28;

    private readonly List<(PlannedPart Plan, PartInstance Instance)> _probes =
    [
        .. plan.Parts.Where(p => p.Interface == InterfaceKind.OneWire).Select(p => (p, node.Part(p.Part)!)).Where(p => p.Item2 is not null),
    ];

    /// <returns>Sound codes that belong to no part yet, the newly plugged in first.</returns>
    internal static IReadOnlyList<RomCode> Of(
        NodeDesign node,
        BenchPlan plan,
        IReadOnlyList<RomCode> roms,
        IReadOnlyList<RomCode>? before,
        List<ScanLine> lines,
        List<Finding> findings
    ) => new OneWireDiagnosis(node, plan, lines, findings).Compare(roms, before);

    private List<RomCode> Compare(IReadOnlyList<RomCode> roms, IReadOnlyList<RomCode>? before)
    {
        LineHeld(roms);
        var real = roms.Where(r => !r.Hex.All(c => c is '0') && !r.Hex.All(c => c is 'F')).ToList();
        Misread(real);
        var sound = real.Where(r => r.CrcGood).ToList();
        Others(sound);
        var fit = sound.Where(r => r.Family == ProbeFamily).ToList();
        Tabulate(fit);
        var named = _probes.Select(p => p.Instance.Rom).OfType<string>().ToHashSet();
        var unnamed = fit.Where(r => !named.Contains(r.Hex)).OrderBy(r => before?.Any(b => b.Hex == r.Hex) ?? true).ToList();
        lines.AddRange(unnamed.Select(r => new ScanLine(ScanVerdict.Unexpected, null, "a probe", Shown(r), null)));
        Count(fit, nothing: roms.Count == 0);
        return unnamed;
    }

    private Finding Say(string code, Severity severity, string? item, string what, string why, string advice, string source) =>
        ScanComparison.Say(node, code, severity, item, what, why, advice, source);

    private string Pull() => $"{OneWire.PullUpOhms(_probes.Sum(p => p.Instance.LeadMetres), _probes.Count) / 1000} kΩ";

    /// <summary>Codes that nobody sent: the line is held low, or nobody pulled it.</summary>
    private void LineHeld(IReadOnlyList<RomCode> roms)
    {
        if (roms.Any(r => r.Hex.All(c => c == '0')))
        {
            findings.Add(
                Say(
                    "SCAN-ROM-ZERO",
                    Severity.Stop,
                    null,
                    "A code of nothing but zeros: the line is held low.",
                    "Zeros fit their CRC, so this looks like an answer.",
                    "With the supply off, data to ground must read above 1 kΩ. Look for data and ground swapped on a probe, and a short in a cable.",
                    Note
                )
            );
        }
        if (roms.Any(r => r.Hex.All(c => c == 'F')))
        {
            findings.Add(
                Say(
                    "SCAN-ROM-ONES",
                    Severity.Stop,
                    null,
                    "A code of nothing but ones: nobody pulled the line low.",
                    "That is what an empty line reads like.",
                    "Is the probe on the pin that the program reads, and has it ground?",
                    "DS18B20 data sheet, read time slots"
                )
            );
        }
    }

    private void Misread(List<RomCode> real)
    {
        foreach (var bad in real.Where(r => !r.CrcGood))
        {
            findings.Add(
                Say(
                    "SCAN-ROM-CRC",
                    Severity.Risk,
                    null,
                    $"The code {Shown(bad)} does not fit its CRC.",
                    "A bit was read wrong: the line is disturbed, or the paste is torn.",
                    $"Scan again. When it stays: a pull-up of {Pull()} at the board, a line and not a star of cables, and the timing of the program "
                        + "undisturbed.",
                    Note
                )
            );
        }
    }

    /// <summary>Chips of other families than the _probes.</summary>
    private void Others(List<RomCode> sound)
    {
        foreach (var other in sound.Where(r => r.Family != ProbeFamily))
        {
            findings.Add(
                Say(
                    "SCAN-ROM-FAMILY",
                    Severity.Risk,
                    null,
                    $"{Shown(other)} is of family {I2cDiagnosis.Hex(other.Family)}, "
                        + $"{Families.GetValueOrDefault(other.Family, "which is not known here")}; a DS18B20 has 0x28.",
                    other.Family == 0x10
                        ? "Its temperature register counts in half degrees: read as a DS18B20 it shows an eighth."
                        : "Its registers are not those of a temperature probe as planned.",
                    "Use a DS18B20 in its place, or another program for it.",
                    "data sheets of the parts, from memory"
                )
            );
        }
    }

    private void Tabulate(List<RomCode> fit)
    {
        foreach (var (planned, instance) in _probes)
        {
            lines.Add(
                new(
                    instance.Rom is null ? ScanVerdict.NotSeenFromHere
                        : fit.Any(r => r.Hex == instance.Rom) ? ScanVerdict.Found
                        : ScanVerdict.Missing,
                    instance.Key,
                    instance.Label,
                    instance.Rom,
                    planned.Bus
                )
            );
        }
    }

    /// <summary>As many probes as are planned, fewer, or more.</summary>
    private void Count(List<RomCode> fit, bool nothing)
    {
        if (_probes.Count > 0 && nothing)
        {
            findings.Add(
                Say(
                    "SCAN-WIRE-SILENT",
                    Severity.Stop,
                    null,
                    $"No probe answered; {_probes.Count} {(_probes.Count == 1 ? "is" : "are")} planned.",
                    "One broken probe leaves the others: this is common to all.",
                    $"The pull-up of {Pull()} from data to supply; data and supply swapped; the pin of the plan "
                        + $"({string.Join(", ", plan.Lines.Where(w => w.Part == _probes[0].Instance.Key && w.Line == "DQ").Select(w => w.PinLabel))}); the "
                        + "supply at a probe.",
                    Practice
                )
            );
        }
        else if (_probes.Count > 0 && fit.Count < _probes.Count)
        {
            var silent = _probes.Where(p => p.Instance.Rom is { } rom && fit.All(r => r.Hex != rom)).Select(p => p.Instance.Label).ToList();
            findings.Add(
                Say(
                    "SCAN-WIRE-FEWER",
                    Severity.Stop,
                    null,
                    $"{fit.Count} of {_probes.Count} probes answered{(silent.Count > 0 ? $"; {string.Join(" and ", silent)} did not" : "")}.",
                    "The line works for some: it is a probe, its splice, or the pull-up at that length.",
                    $"Look at the splices of those that are silent. Plug them in alone. A pull-up of {Pull()} suits {_probes.Count} probes on "
                        + $"{_probes.Sum(p => p.Instance.LeadMetres):0.#} m.",
                    Practice
                )
            );
        }
        else if (fit.Count > _probes.Count)
        {
            findings.Add(
                Say(
                    "SCAN-WIRE-MORE",
                    Severity.Note,
                    null,
                    $"{fit.Count} probes answered; {_probes.Count} {(_probes.Count == 1 ? "is" : "are")} planned.",
                    "The plan counts power, pull-up and time of a reading by its own number.",
                    "Add the part at the Bench, or take the probe off.",
                    "design"
                )
            );
        }
    }

    /// <summary>A code as it is usually written: family, serial number.</summary>
    internal static string Shown(RomCode rom) => $"{rom.Hex[..2]}-{rom.Hex[2..]}";
}
