using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.BringUp;

/// <summary>A line of a part on a pin of the board, or on a line of a helper.</summary>
/// <param name="Gpio">Number of the pin as programs name it; null for a pin without one.</param>
/// <param name="Helper">Key of the helper the line ends on; null when it ends on the board.</param>
/// <param name="HelperLine">Position of the line on the helper, from 0.</param>
public sealed record PinSetting(string Part, string Label, string Line, string Pin, string PinLabel, int? Gpio, string? Helper, int? HelperLine);

/// <param name="Hertz">Clock; null where the bus has none.</param>
public sealed record BusSetting(string Name, InterfaceKind Kind, int? Hertz, IReadOnlyList<string> Parts);

/// <param name="Model">Catalogue id.</param>
/// <param name="Rom">Code of a 1-Wire part, 16 hexadecimal digits.</param>
public sealed record PartSetting(string Part, string Label, string Model, InterfaceKind Interface, string? Bus, int? Address, string? Behind, string? Rom);

/// <param name="Unit">As it is shown.</param>
/// <param name="IntervalMs">As it really comes by the plan; null when it is sent when it changes.</param>
public sealed record ReadingSetting(
    string Reading,
    string Label,
    string Part,
    string Quantity,
    string Unit,
    ReadingKind Kind,
    long? IntervalMs,
    long? HeartbeatMs,
    int BatchOf,
    int Decimals
);

/// <summary>An output in the settings of a node's program.</summary>
public sealed record OutputSetting(string Output, long MaxOnMs, long? ServerSilentMs);

/// <summary>A difference between the settings a node runs and those of the plan.</summary>
/// <param name="Before">Null when there was none.</param>
/// <param name="Now">Null when there is none any more.</param>
public sealed record SettingChange(string What, string? Before, string? Now);

/// <summary>What the program of a node must know: everything of its plan that it acts by, and nothing else.</summary>
/// <param name="WakeEveryMs">Time between its wakes, ms.</param>
/// <param name="SendOffsetMs">Start of its slot within the period; null without a slot.</param>
public sealed record NodeSettings(
    string Node,
    string Board,
    bool Sleeps,
    long WakeEveryMs,
    long? SendOffsetMs,
    IReadOnlyList<PinSetting> Pins,
    IReadOnlyList<BusSetting> Buses,
    IReadOnlyList<PartSetting> Parts,
    IReadOnlyList<ReadingSetting> Readings,
    IReadOnlyList<OutputSetting> Outputs
)
{
    private const int HashDigits = 8;

    /// <summary>Calibrations that the node applies itself.</summary>
    public IReadOnlyList<CorrectionSetting> Corrections { get; init; } = [];

    /// <summary>Limits that it watches itself.</summary>
    public IReadOnlyList<LimitSetting> Limits { get; init; } = [];

    /// <summary>How its radio module is set; null for a node without one.</summary>
    public RadioSetting? Radio { get; init; }

    /// <summary>How the modules are set that it has besides, to hear others with.</summary>
    public IReadOnlyList<RadioSetting> FurtherRadios { get; init; } = [];

    /// <summary>Lines of its displays.</summary>
    public IReadOnlyList<DisplaySetting> Displays { get; init; } = [];

    /// <summary>The settings of a node by its plan.</summary>
    /// <param name="slotMs">Start of its slot; null without one.</param>
    /// <param name="calibrations">In force, by reading; null for none.</param>
    /// <param name="site">Whose rules it may watch itself, and whose nodes it may relay; null for a node that stands for itself.</param>
    public static NodeSettings Of(
        NodeDesign node,
        BenchPlan bench,
        RhythmPlan rhythm,
        HardwareCatalogue hardware,
        long? slotMs,
        IReadOnlyDictionary<string, Calibration>? calibrations = null,
        SiteDesign? site = null
    )
    {
        ReadingSetting? Reading(ReadingDesign reading) =>
            node.Part(reading.Part) is { } part && hardware.Part(part.Part)?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity) is { } quantity
                ? new(
                    reading.Key,
                    reading.Label,
                    reading.Part,
                    reading.Quantity,
                    quantity.Unit,
                    quantity.Kind,
                    rhythm.Readings.FirstOrDefault(r => r.Reading == reading.Key)?.IntervalMs,
                    reading.HeartbeatMs,
                    reading.BatchOf,
                    reading.Decimals
                )
                : null;
        return new(
            node.Key,
            node.Board,
            node.Sleeps,
            rhythm.PeriodMs,
            slotMs,
            PinsOf(bench, hardware.Board(node.Board)),
            [.. bench.Buses.Select(b => new BusSetting(b.Name, b.Kind, b.ClockKilohertz is { } clock ? (int)Math.Round(clock * 1000) : null, b.Parts))],
            [
                .. bench.Parts.Select(p => new PartSetting(
                    p.Part,
                    p.Label,
                    node.Part(p.Part)?.Part ?? bench.Helpers.FirstOrDefault(h => h.Part == p.Part)?.CatalogueId ?? "",
                    p.Interface,
                    p.Bus,
                    p.Address,
                    p.Behind,
                    node.Part(p.Part)?.Rom
                )),
            ],
            [.. node.Readings.Select(Reading).OfType<ReadingSetting>()],
            [.. node.Readings.Where(r => r.Output is not null).Select(r => new OutputSetting(r.Key, r.Output!.MaxOnMs, r.Output.ServerSilentMs))]
        )
        {
            Corrections = OnNode.Corrections(node, calibrations ?? new Dictionary<string, Calibration>()),
            Limits = OnNode.Limits(node, site?.Rules ?? []),
            Radio = RadioSetting.Of(node, hardware, site),
            FurtherRadios = RadioSetting.Further(node, hardware),
            Displays = OnNode.Displays(node, hardware),
        };
    }

    /// <summary>The lines of a bench plan that a program names: buses and signals, by part and line.</summary>
    public static IReadOnlyList<PinSetting> PinsOf(BenchPlan bench, Board? board)
    {
        PinSetting Of(PlannedLine wire)
        {
            var helper = bench.Helpers.FirstOrDefault(h => wire.Pin.StartsWith(h.Part + ":", StringComparison.Ordinal));
            return new(
                wire.Part,
                wire.PartLabel,
                wire.Line,
                wire.Pin,
                wire.PinLabel,
                helper is null ? board?.Pin(wire.Pin)?.Gpio : null,
                helper?.Part,
                helper?.Lines.ToList().IndexOf(wire.Pin.Split(':')[1])
            );
        }
        return [.. bench.Lines.OrderBy(w => w.Part, StringComparer.Ordinal).ThenBy(w => w.Line, StringComparer.Ordinal).Select(Of)];
    }

    /// <summary>Everything a program acts by, a line each as <c>key=value</c>; names for people are not among them.</summary>
    public IReadOnlyList<string> Lines()
    {
        var lines = new List<string>();
        void Say(string key, params object?[] values) =>
            lines.Add($"{key}={string.Join(' ', values.Select(v => v is null ? "-" : Convert.ToString(v, CultureInfo.InvariantCulture)))}");
        Say("board", Board);
        Say("wake", Sleeps ? "sleep" : "on", WakeEveryMs, SendOffsetMs);
        foreach (var pin in Pins)
        {
            Say($"pin.{pin.Part}.{pin.Line}", pin.Pin);
        }
        foreach (var bus in Buses)
        {
            Say($"bus.{bus.Name}", bus.Hertz);
        }
        foreach (var part in Parts)
        {
            Say(
                $"part.{part.Part}",
                part.Model,
                part.Interface,
                part.Bus?.Replace(' ', '_'),
                part.Address is { } address ? $"0x{address:X2}" : null,
                part.Behind?.Replace(' ', '_'),
                part.Rom
            );
        }
        foreach (var (key, values) in new[] { Radio }.Concat(FurtherRadios).OfType<RadioSetting>().SelectMany(r => r.Lines()))
        {
            Say(key, values);
        }
        foreach (var reading in Readings)
        {
            Say($"reading.{reading.Reading}", reading.Part, reading.Quantity, reading.IntervalMs, reading.HeartbeatMs, reading.BatchOf, reading.Decimals);
        }
        foreach (var output in Outputs)
        {
            Say($"output.{output.Output}", output.MaxOnMs, output.ServerSilentMs);
        }
        foreach (var correction in Corrections)
        {
            Say(
                $"correction.{correction.Reading}",
                [correction.Slope, correction.Intercept, .. correction.Points.Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Raw}:{p.Truth}"))]
            );
        }
        foreach (var limit in Limits)
        {
            Say($"limit.{limit.Rule}", limit.Reading, limit.Above ? "above" : "below", limit.Limit, limit.Clear, limit.ForMs);
        }
        foreach (var line in Displays)
        {
            Say($"display.{line.Part}.{line.Row}", line.Reading, line.Format.Replace(' ', '_'));
        }
        return [.. lines.Order(StringComparer.Ordinal)];
    }

    /// <summary>What a node reports in sys/cfg to tell which settings it runs: the first eight digits of
    /// the SHA-256 (FIPS 180-4) of the lines, each ended by a line feed.</summary>
    public string Hash => HashOf(Lines());

    /// <summary>The hash of lines that were kept.</summary>
    public static string HashOf(IReadOnlyList<string> lines) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Concat(lines.Select(l => l + "\n")))))[..HashDigits];

    /// <summary>What lies between lines that were kept and these settings, in a maker's words.</summary>
    public IReadOnlyList<SettingChange> Since(IReadOnlyList<string> before)
    {
        static Dictionary<string, string> Split(IEnumerable<string> lines) =>
            lines.Select(l => l.Split('=', 2)).Where(l => l.Length == 2).GroupBy(l => l[0]).ToDictionary(g => g.Key, g => g.First()[1]);
        var (old, now) = (Split(before), Split(Lines()));
        return
        [
            .. old
                .Keys.Union(now.Keys)
                .Order(StringComparer.Ordinal)
                .Where(k => old.GetValueOrDefault(k) != now.GetValueOrDefault(k))
                .SelectMany(k => Said(k, old.GetValueOrDefault(k), now.GetValueOrDefault(k))),
        ];
    }

    private IEnumerable<SettingChange> Said(string key, string? before, string? now)
    {
        var name = key.Split('.', 3);
        string[] fields = name[0] switch
        {
            "wake" => ["Sleep", "Time between wakes", "Slot"],
            "pin" => [$"Pin of {PartLabel(name[1])} {name.ElementAtOrDefault(2)}"],
            "bus" => [$"Clock of {name[1]}"],
            "part" => ["Model", "Interface", "Bus", "Address", "Channel", "Code"],
            "reading" => ["Part", "Quantity", "Interval", "Heartbeat", "Readings in a message", "Decimals"],
            "correction" => ["Slope", "Intercept"],
            "limit" => ["Reading", "Side", "Limit", "Clearing level", "Time beyond it"],
            "display" => ["Reading", "Text"],
            "radio" => ["Frequency", "Spreading factor", "Bandwidth", "Coding rate", "Rate on the air", "Power", "Tries", "Channels to hop over"],
            "relay" => [$"Messages of {name[1]} passed on"],
            "output" => ["Longest time on", "On without a server after"],
            _ => ["Board"],
        };
        var of = name[0] switch
        {
            "part" or "radio" => $" of {PartLabel(name[1])}",
            "reading" => $" of {Readings.FirstOrDefault(r => r.Reading == name[1])?.Label ?? name[1]}",
            "output" or "correction" => $" of {Readings.FirstOrDefault(r => r.Reading == name[1])?.Label ?? name[1]}",
            "limit" => $" of the rule {name[1]}",
            "display" => $" on line {name.ElementAtOrDefault(2)} of {PartLabel(name[1])}",
            _ => "",
        };
        if (before is null || now is null)
        {
            yield return new(
                fields.Length == 1
                    ? fields[0]
                    : name[0] switch
                    {
                        "part" => PartLabel(name[1]),
                        "wake" => "Wakes",
                        "correction" => "Calibration" + of,
                        "limit" => "Limit" + of,
                        "display" => "Text" + of,
                        "radio" => "Settings" + of,
                        _ => of[" of ".Length..],
                    },
                Shown(before, ""),
                Shown(now, "")
            );
            yield break;
        }
        var (was, becomes) = (before.Split(' '), now.Split(' '));
        for (var i = 0; i < Math.Min(fields.Length, Math.Min(was.Length, becomes.Length)); i++)
        {
            if (was[i] != becomes[i])
            {
                yield return new(fields[i] + of, Shown(was[i], fields[i]), Shown(becomes[i], fields[i]));
            }
        }
    }

    private string PartLabel(string key) => Parts.FirstOrDefault(p => p.Part == key)?.Label ?? Pins.FirstOrDefault(p => p.Part == key)?.Label ?? key;

    private static string? Shown(string? value, string field) =>
        value switch
        {
            null => null,
            "-" => "none",
            _ when field is "Interval" or "Heartbeat" or "Slot" or "Time between wakes" or "Longest time on" or "Time beyond it" or "On without a server after"
                    && long.TryParse(value, CultureInfo.InvariantCulture, out var ms) => DurationText.Of(ms),
            _ when field.StartsWith("Clock", StringComparison.Ordinal) => value + " Hz",
            _ => value.Replace('_', ' '),
        };
}
