using System.Globalization;
using System.Reflection;
using System.Text;
using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;

namespace Cenotic.Core.Formats;

/// <summary>A file of a bundle.</summary>
public sealed record BundleFile(string Name, string Text);

/// <summary>What a maker takes to the program of a node: its settings as a C header and as JSON, and
/// a client in C99. Described in docs/formats.md. No secret is in it.</summary>
public static class NodeBundle
{
    private const string Folder = "client/";

    /// <summary>The files of a node.</summary>
    /// <param name="site">Key of the site.</param>
    /// <param name="label">The node's name, for a comment.</param>
    public static IReadOnlyList<BundleFile> Of(string site, string label, NodeSettings settings) =>
        [new("settings.h", Header(site, label, settings)), new("settings.json", Json(site, settings)), .. Client()];

    /// <summary>The reference client: cenotic.h and .c, a transport over POSIX sockets, and a program to fill in.</summary>
    public static IReadOnlyList<BundleFile> Client()
    {
        var assembly = typeof(NodeBundle).Assembly;
        return
        [
            .. assembly
                .GetManifestResourceNames()
                .Where(n => n.StartsWith(Folder, StringComparison.Ordinal))
                .Order(StringComparer.Ordinal)
                .Select(n => new BundleFile(n[Folder.Length..], Text(assembly, n))),
        ];
    }

    /// <summary>The settings as JSON.</summary>
    public static string Json(string site, NodeSettings settings) =>
        JsonSerializer.Serialize(
            new
            {
                Format = "cenotic-node",
                FormatVersion = 1,
                Site = site,
                ConfigHash = settings.Hash,
                Topics = new
                {
                    Data = Topics.Data(site, settings.Node),
                    Command = Topics.Command(site, settings.Node),
                    Scan = Topics.Scan(site, settings.Node),
                },
                Settings = settings,
            },
            CenoticJson.Indented
        );

    /// <summary>The settings as a C header.</summary>
    public static string Header(string site, string label, NodeSettings settings)
    {
        var text = new HeaderText();
        Names(text, site, label, settings);
        Wiring(text, settings);
        Tables(text, settings);
        text.Line($"\n#endif");
        return text.ToString();
    }

    private static void Names(HeaderText text, string site, string label, NodeSettings settings)
    {
        text.Line($"/* Settings of node {CText.Comment(label)}. Made from its plan: change the plan, not this file. */");
        text.Line($"#ifndef CENOTIC_SETTINGS_H");
        text.Line($"#define CENOTIC_SETTINGS_H\n");
        text.Define("CENOTIC_SITE", CText.Quoted(site));
        text.Define("CENOTIC_NODE", CText.Quoted(settings.Node));
        text.Define("CENOTIC_TOPIC_DATA", CText.Quoted(Topics.Data(site, settings.Node)));
        text.Define("CENOTIC_TOPIC_COMMAND", CText.Quoted(Topics.Command(site, settings.Node)));
        text.Define("CENOTIC_TOPIC_SCAN", CText.Quoted(Topics.Scan(site, settings.Node)));
        text.Define("CENOTIC_SETTINGS", CText.Quoted(settings.Hash), "what this node reports in sys/cfg");
        text.Define("CENOTIC_SLEEPS", settings.Sleeps ? "1" : "0");
        text.Define("CENOTIC_WAKE_EVERY_MS", $"{settings.WakeEveryMs}UL");
        if (settings.SendOffsetMs is { } offset)
        {
            text.Define("CENOTIC_SEND_OFFSET_MS", $"{offset}UL", "start of its slot in each period");
        }
    }

    private static void Wiring(HeaderText text, NodeSettings settings)
    {
        text.Line($"");
        foreach (var line in CText.Pins(settings.Pins))
        {
            text.Line($"{line}");
        }
        foreach (var bus in settings.Buses.Where(b => b.Hertz is not null))
        {
            text.Define($"BUS_{CText.Name(bus.Name)}_HZ", $"{bus.Hertz}UL", string.Join(", ", bus.Parts));
        }
        foreach (var part in settings.Parts)
        {
            if (part.Address is { } address)
            {
                text.Line($"{CText.Address(part.Part, address, part.Bus, part.Behind)}");
            }
            if (part.Rom is { } rom)
            {
                text.Define($"ROM_{CText.Name(part.Part)}", string.Join(", ", rom.Chunk(2).Select(p => $"0x{new string(p)}")), $"{part.Label}, {part.Bus}");
            }
        }
    }

    private static void Tables(HeaderText text, NodeSettings settings)
    {
        if (settings.Radio is { } radio)
        {
            Radio(text, "CENOTIC_RADIO", radio);
            text.Line($"/* nodes whose messages it passes on */");
            text.Rows("CENOTIC_RELAYS", "NULL", radio.PassesOn.Select(CText.Quoted));
        }
        foreach (var further in settings.FurtherRadios)
        {
            Radio(text, $"RADIO_{CText.Name(further.Part)}", further);
        }
        text.Line($"\n/* key, SenML unit, interval ms, heartbeat ms, readings in a message, decimals */");
        text.Rows(
            "CENOTIC_READINGS",
            "{NULL, NULL, 0, 0, 0, 0}",
            settings.Readings.Select(r =>
                $"{{{CText.Quoted(r.Reading)}, {(Unit.ToSenml(r.Unit) is { } unit && r.Kind == ReadingKind.Gauge ? CText.Quoted(unit) : "NULL")}, "
                + $"{r.IntervalMs ?? 0}UL, {r.HeartbeatMs ?? 0}UL, {r.BatchOf}, {r.Decimals}}}"
            )
        );
        text.Line($"/* key, longest time on ms, on without a server after ms */");
        text.Rows("CENOTIC_OUTPUTS", "{NULL, 0, 0}", settings.Outputs.Select(o => $"{{{CText.Quoted(o.Output)}, {o.MaxOnMs}UL, {o.ServerSilentMs ?? 0}UL}}"));
        foreach (var table in settings.Corrections.Where(c => c.Points.Count > 0))
        {
            var points = string.Join(", ", table.Points.Select(p => $"{{{Number(p.Raw)}, {Number(p.Truth)}}}"));
            text.Line($"static const double cenotic_table_{CText.Name(table.Reading).ToLowerInvariant()}[][2] = {{{points}}};");
        }
        text.Line($"/* key, slope, intercept, points of a table, the table */");
        text.Rows(
            "CENOTIC_CORRECTIONS",
            "{NULL, 1, 0, 0, NULL}",
            settings.Corrections.Select(c =>
                $"{{{CText.Quoted(c.Reading)}, {Number(c.Slope)}, {Number(c.Intercept)}, {c.Points.Count}, "
                + $"{(c.Points.Count > 0 ? $"cenotic_table_{CText.Name(c.Reading).ToLowerInvariant()}" : "NULL")}}}"
            )
        );
        text.Line($"/* rule, key, 1 for above, limit, clearing level, time beyond it ms */");
        text.Rows(
            "CENOTIC_LIMITS",
            "{NULL, NULL, 0, 0, 0, 0}",
            settings.Limits.Select(l =>
                $"{{{CText.Quoted(l.Rule)}, {CText.Quoted(l.Reading)}, {(l.Above ? 1 : 0)}, {Number(l.Limit)}, {Number(l.Clear)}, {l.ForMs}UL}}"
            )
        );
        if (settings.Displays.Count > 0)
        {
            text.Line($"/* part, line, key, format of its number */");
            text.Rows(
                "CENOTIC_DISPLAY",
                "",
                settings.Displays.Select(d => $"{{{CText.Quoted(d.Part)}, {d.Row}, {CText.Quoted(d.Reading)}, {CText.Quoted(d.Format)}}}")
            );
        }
    }

    private static void Radio(HeaderText text, string name, RadioSetting radio)
    {
        text.Line($"\n/* radio {CText.Comment(radio.Part)}; 0 for what it does not have, or nobody knows */");
        text.Define($"{name}_MHZ", Number(radio.Megahertz ?? 0));
        text.Define($"{name}_SF", $"{radio.SpreadingFactor ?? 0}", "spreading factor");
        text.Define($"{name}_KHZ", Number(radio.BandwidthKilohertz ?? 0), "bandwidth");
        text.Define($"{name}_CODING", $"{radio.CodingRate ?? 0}", "1 for 4/5 to 4 for 4/8");
        text.Define($"{name}_BIT_S", Number(radio.BitsPerSecond ?? 0));
        if (radio.HopChannels is { } hops)
        {
            text.Define($"{name}_HOPS", $"{hops}", "channels that it changes between, one a transmission");
        }
        text.Define($"{name}_DBM", Number(radio.PowerDbm ?? 0), "local law limits it");
        text.Define($"{name}_TRIES", $"{radio.MostTries}", "of a message at most");
    }

    /// <summary>As the language of C has it: a double, so that it is not taken for a whole number.</summary>
    private static string Number(double value) =>
        value.ToString("R", CultureInfo.InvariantCulture) is var number && number.AsSpan().IndexOfAny('.', 'E') < 0 ? number + ".0" : number;

    /// <summary>The lines of a header as they are written.</summary>
    private sealed class HeaderText
    {
        private readonly StringBuilder _text = new();

        internal void Line(FormattableString line) => _text.Append(line.ToString(CultureInfo.InvariantCulture)).Append('\n');

        internal void Define(string name, string value, string? comment = null) =>
            Line($"#define {name} {value}{(comment is null ? "" : $" /* {CText.Comment(comment)} */")}");

        internal void Rows(string name, string none, IEnumerable<string> rows) =>
            Line($"#define {name} {string.Join(", \\\n    ", rows.DefaultIfEmpty(none))}");

        public override string ToString() => _text.ToString();
    }

    /// <summary>What must not be in a repository, as a C header: the key of the node and what its Wi-Fi wants.</summary>
    public static string Secrets(string key, string? network, string? password)
    {
        var text = new StringBuilder(
            "/* Secrets of one node: keep this file out of every repository. It is not kept by the server. */\n#ifndef CENOTIC_SECRETS_H\n#define "
                + "CENOTIC_SECRETS_H\n\n"
        );
        text.Append(CultureInfo.InvariantCulture, $"#define CENOTIC_KEY {CText.Quoted(key)}\n");
        if (!string.IsNullOrEmpty(network))
        {
            text.Append(CultureInfo.InvariantCulture, $"#define WIFI_NETWORK {CText.Quoted(network)}\n#define WIFI_PASSWORD {CText.Quoted(password ?? "")}\n");
        }
        return text.Append("\n#endif\n").ToString();
    }

    private static string Text(Assembly assembly, string name)
    {
        using var reader = new StreamReader(assembly.GetManifestResourceStream(name)!);
        return reader.ReadToEnd();
    }
}
