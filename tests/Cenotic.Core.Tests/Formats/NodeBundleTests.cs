using System.Diagnostics;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Core.Rehearsal;

namespace Cenotic.Core.Tests.Formats;

/// <summary>What a node's program is made from, compiled with the C compiler of the machine, and the reference
/// client under valgrind beside the behaviour that stand-ins have.</summary>
public sealed class NodeBundleTests : IDisposable
{
    private const long Clock = 1_790_000_000_000;
    private static readonly string[] Strict = ["-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Wconversion", "-Werror", "-g", "-O1"];
    private readonly string _folder = Directory.CreateTempSubdirectory("bundle").FullName;

    public void Dispose() => Directory.Delete(_folder, true);

    [Fact]
    public void The_settings_of_every_node_of_the_demo_compile_with_the_client_into_a_program()
    {
        var site = Samples.Fernhollow().Design;
        var plan = SitePlanner.Plan(site, Samples.Catalogue, Samples.Fernhollow().Evidence);
        Assert.Equal(9, site.Nodes.Count);
        foreach (var node in site.Nodes)
        {
            var settings = Settings(site, plan, node);
            Write(NodeBundle.Of("fernhollow", node.Label, settings));
            Compile("node", "node.c", "cenotic.c", "cenotic_mqtt.c");
            var header = File.ReadAllText(Path.Combine(_folder, "settings.h"));
            Assert.Contains($"#define CENOTIC_SETTINGS \"{settings.Hash}\"", header);
            foreach (var wire in settings.Pins.Where(p => p.Gpio is not null))
            {
                var line = wire.Line.ToUpperInvariant().Replace("+", "P", StringComparison.Ordinal);
                var define = $"#define PIN_{wire.Part.ToUpperInvariant().Replace('-', '_')}_{line} ";
                Assert.Contains($"{wire.Gpio} /* ", header.Split('\n').Single(l => l.StartsWith(define, StringComparison.Ordinal)));
            }
            var json = JsonDocument.Parse(NodeBundle.Json("fernhollow", settings)).RootElement;
            Assert.Equal(settings.Hash, json.GetProperty("configHash").GetString());
            Assert.Equal(
                node.Readings.Select(r => r.Key),
                json.GetProperty("settings").GetProperty("readings").EnumerateArray().Select(r => r.GetProperty("reading").GetString())
            );
        }
    }

    [Fact]
    public void The_hash_is_that_of_the_documented_lines_and_names_for_people_do_not_change_it()
    {
        var node = Samples.Node(("air", "bme280")) with { Readings = [Samples.Every("t", "air", "temperature", 60_000)] };
        var settings = Settings(node);
        var wire = Samples.Plan(node);
        var lines = new[]
        {
            "board=esp32-dev-38",
            $"bus.I2C 0={settings.Buses[0].Hertz}",
            "part.air=bme280 I2c I2C_0 0x76 - -",
            $"pin.air.SCL={wire.Line("air", "SCL")!.Pin}",
            $"pin.air.SDA={wire.Line("air", "SDA")!.Pin}",
            "reading.t=air temperature 60000 - 1 1",
            "wake=on 60000 -",
        };
        Assert.Equal(lines, settings.Lines());
        Assert.Equal(Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', lines) + "\n")))[..8].ToLowerInvariant(), settings.Hash);
        Assert.Equal(
            settings.Hash,
            Settings(
                node with
                {
                    Label = "Other",
                    Parts = [node.Parts[0] with { Label = "Weather" }],
                    Readings = [node.Readings[0] with { Label = "Warmth" }],
                }
            ).Hash
        );
        var changed = Settings(
            node with
            {
                Parts = [node.Parts[0] with { Label = "Weather", Address = 0x77 }],
                Readings = [node.Readings[0] with { IntervalMs = 300_000 }, Samples.Every("p", "air", "pressure", 600_000)],
            }
        );
        Assert.NotEqual(settings.Hash, changed.Hash);
        Assert.Equal(
            [
                ("Address of Weather", "0x76", "0x77"),
                ("p", null, "air pressure 600000 - 1 1"),
                ("Interval of t", "60 s", "5 min"),
                ("Time between wakes", "60 s", "5 min"),
            ],
            changed.Since(settings.Lines()).Select(c => (c.What, c.Before, c.Now))
        );
        Assert.Empty(settings.Since(settings.Lines()));
    }

    [Fact]
    public void Text_of_people_cannot_break_out_of_the_header_or_the_secrets()
    {
        var evil = "*/ #error x \n\"; ??/ \\ é";
        var node = Samples.Node(("air", "bme280")) with { Label = evil, Readings = [Samples.Every("t", "air", "temperature", 60_000)] };
        node = node with { Parts = [node.Parts[0] with { Label = evil, Rom = null }] };
        Write(NodeBundle.Of("home", evil, Settings(node)));
        File.WriteAllText(Path.Combine(_folder, "secrets.h"), NodeBundle.Secrets("k3y", evil, "pass\"; int x; /* ??/"));
        File.WriteAllText(
            Path.Combine(_folder, "print.c"),
            "#include <stdio.h>\n#include \"settings.h\"\n#include \"secrets.h\"\nint main(void) { printf(\"%s|%s|%s\", CENOTIC_KEY, WIFI_NETWORK, "
                + "WIFI_PASSWORD); return ADDR_AIR == 0x76 ? 0 : 1; }\n"
        );
        Compile("print", "print.c");
        Assert.Equal($"k3y|{evil}|pass\"; int x; /* ??/", Run(Path.Combine(_folder, "print"), [], ""));
        Assert.DoesNotContain("WIFI", NodeBundle.Secrets("k3y", null, null));
    }

    [Fact]
    public void A_day_of_commands_lost_links_and_ended_leases_goes_as_the_behaviour_of_stand_ins_does_and_ends_safe()
    {
        OutputDesign[] designs = [new(OutputLoad.Fan, 600_000), new(OutputLoad.Sounder, 90_000, 300_000)];
        string[] keys = ["fan", "sounder"];
        var outputs = designs.Select(d => new OutputBehaviour(d)).ToArray();
        var input = new StringBuilder();
        var expected = new StringBuilder();
        for (var i = 0; i < designs.Length; i++)
        {
            input.Append(CultureInfo.InvariantCulture, $"O {keys[i]} {designs[i].MaxOnMs} {designs[i].ServerSilentMs ?? 0}\n");
        }
        string States() => string.Concat(outputs.Select(o => o.On ? '1' : '0'));
        void Expect(string said = "") => expected.Append(said).Append(States()).Append('\n');
        void Each(Action<OutputBehaviour> act) => Array.ForEach(outputs, o => act(o));
        var random = new Random(20261125);
        var ids = new long[2];
        var (on, begun, safe) = (0, 0, 0);
        const long day = 86_400_000;
        for (var t = 1000L; t < day; t += random.Next(100, 20_000))
        {
            var i = random.Next(2);
            switch (random.Next(12))
            {
                case 0:
                    Each(o => o.Safe());
                    input.Append("S\n");
                    Expect();
                    safe++;
                    break;
                case 1 or 2:
                    Each(o => o.ServerHeard(t));
                    input.Append(CultureInfo.InvariantCulture, $"H {t}\n");
                    Expect();
                    break;
                case < 8:
                    // New, renewed, repeated, stale, expired, longer than the node allows, off.
                    var id = random.Next(6) switch
                    {
                        0 => ids[i] - 1,
                        < 3 => ids[i],
                        _ => ++ids[i],
                    };
                    var command = new OutputCommand(
                        Math.Max(0, id),
                        keys[i],
                        random.Next(4) > 0,
                        Clock + t + random.Next(-20_000, 120_000),
                        random.Next(3) == 0 ? 10_000_000 : random.Next(0, 400_000)
                    );
                    var read = OutputCommand.Read(command.Write()).Value;
                    input.Append(CultureInfo.InvariantCulture, $"C {Clock + t} {t} {Encoding.UTF8.GetString(command.Write())}\n");
                    var before = outputs[i].On;
                    var taken = outputs[i].Hear(read, Clock + t, t);
                    begun += taken && outputs[i].On && !before ? 1 : 0;
                    Expect(taken ? "y" : "n");
                    break;
                default:
                    Each(o => o.Advance(t));
                    input.Append(CultureInfo.InvariantCulture, $"A {t}\n");
                    Expect();
                    break;
            }
            on += outputs.Any(o => o.On) ? 1 : 0;
        }
        // The server is there to the end, so that the watchdog is not what is seen; then nothing is told any more.
        Each(o => o.ServerHeard(day));
        input.Append(CultureInfo.InvariantCulture, $"H {day}\n");
        Expect();
        Each(o => o.Advance(day + 120_001));
        input.Append(CultureInfo.InvariantCulture, $"A {day + 120_001}\n");
        Expect();
        Assert.Equal("00", States());
        Assert.True(begun > 100 && on > 500 && safe > 300, $"the day had {begun} beginnings, {on} moments on, {safe} lost links");
        Assert.Equal(expected.ToString(), Client(input.ToString()));
    }

    [Fact]
    public void Messages_are_repeated_unchanged_until_they_arrive_and_each_sample_comes_once()
    {
        var random = new Random(7);
        var input = new StringBuilder();
        var sent = new List<(string Key, double Value, long At)>();
        for (var i = 0; i < 600; i++)
        {
            var at = Clock + i * 1000L;
            var (key, unit, decimals) = random.Next(3) switch
            {
                0 => ("temperature", "Cel", 2),
                1 => ("motion", "-", 0),
                _ => ("pressure", "hPa", 1),
            };
            var value = Math.Round(random.NextDouble() * 2000 - 1000, decimals);
            sent.Add((key, value, at));
            input.Append(CultureInfo.InvariantCulture, $"V {key} {unit} {decimals} {value} {at}\n");
            if (random.Next(3) == 0 || i % 25 == 24)
            {
                input.Append(CultureInfo.InvariantCulture, $"P {(i % 25 == 24 || random.Next(2) == 0 ? 1 : 0)} {at}\n");
            }
        }
        input.Append("V temperature Cel 2 nan 0\n");
        var lines = Client(input.ToString()).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal("refused", lines[^1]);
        string? waits = null;
        var arrived = new List<(string Key, double Value, long At)>();
        var last = 0L;
        foreach (var line in lines.Where(l => l.StartsWith("took t ", StringComparison.Ordinal) || l.StartsWith("lost t ", StringComparison.Ordinal)))
        {
            var message = line[7..];
            Assert.True(waits is null || waits == message, "what waited was sent again changed");
            waits = line[0] == 'l' ? message : null;
            if (waits is not null)
            {
                continue;
            }
            var records = Senml.Read(Encoding.UTF8.GetBytes(message)).Value;
            var number = (long)records.Single(r => r.Name == "sys/seq").Value!;
            Assert.Equal((last + 1, 7.0), (number, records.Single(r => r.Name == "sys/boot").Value));
            Assert.Equal(number == 1 ? "cafe0123" : null, records.SingleOrDefault(r => r.Name == "sys/cfg")?.Text);
            last = number;
            arrived.AddRange(
                records.Where(r => !r.Name.StartsWith("sys/", StringComparison.Ordinal)).Select(r => (r.Name, r.Value!.Value, (long)Math.Round(r.Time * 1000)))
            );
        }
        Assert.True(lines.Count(l => l.StartsWith("lost", StringComparison.Ordinal)) > 50);
        Assert.Equal("all 0", lines[^2]);
        Assert.Equal(sent, arrived);
    }

    [Fact]
    public void Without_room_the_oldest_samples_go_and_are_counted()
    {
        var input = string.Concat(Enumerable.Range(0, 40).Select(i => $"V t Cel 0 {i} {Clock + i}\n")) + $"P 1 {Clock + 100}\n";
        var lines = Client(input).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        Assert.Equal("all 8", lines[^1]);
        var values = lines
            .Where(l => l.StartsWith("took", StringComparison.Ordinal))
            .SelectMany(l => Senml.Read(Encoding.UTF8.GetBytes(l[7..])).Value)
            .Where(r => r.Name == "t")
            .Select(r => r.Value!.Value);
        Assert.Equal(Enumerable.Range(8, 32).Select(i => (double)i), values);
    }

    [Fact]
    public void A_frame_of_the_client_is_read_by_the_decoder_and_what_is_out_of_range_is_held_at_its_end()
    {
        var hex = Client("F 0.01 21.5 -3.25 1000\n").Trim();
        var format = new FrameFormat(
            FrameKind.Binary,
            [new("n", "a", Scale: 0.01), new("n", "b", Scale: 0.01), new("n", "c", Scale: 0.01)],
            Start: "AA55",
            Check: FrameCheck.CcittFalse
        );
        var frame = Assert.Single(new FrameDecoder(format).Push(Convert.FromHexString(hex)));
        Assert.Equal([("a", 21.5), ("b", -3.25), ("c", 327.67)], frame.Values.Select(v => (v.Reading, Math.Round(v.Value, 6))));
        Assert.Empty(Client("F 1 1 2 3 4 5 6 7 8 9 10 11 12 13 14 15\n").Trim());
    }

    /// <summary>A program that corrects and watches what it is given, with the functions of the client.</summary>
    private const string OnNodeProgram = """
        #include "settings.h"
        #include "cenotic.h"
        #include <stdio.h>
        #include <string.h>
        #define COUNT_OF(rows) (sizeof rows / sizeof rows[0])
        static const cenotic_correction corrections[] = {CENOTIC_CORRECTIONS};
        static const cenotic_limit_setting limits[] = {CENOTIC_LIMITS};
        static const struct { const char *part; int row; const char *key; const char *format; } lines[] = {CENOTIC_DISPLAY};
        int main(void) {
          cenotic_limit limit;
          memset(&limit, 0, sizeof limit);
          limit.setting = limits[0];
          char key[32];
          double raw;
          long long at;
          while (scanf("%31s %lf %lld", key, &raw, &at) == 3) {
            const double value = cenotic_correct(corrections, COUNT_OF(corrections), key, raw);
            printf("%.9g %d\n", value, strcmp(key, limit.setting.key) == 0 ? cenotic_beyond(&limit, value, at) : -1);
          }
          for (size_t i = 0; i < COUNT_OF(lines); i++) {
            printf("%s %d %s|", lines[i].part, lines[i].row, lines[i].key);
            printf(lines[i].format, 21.46);
            puts("|");
          }
          return 0;
        }
        """;

    [Fact]
    public void What_a_node_corrects_watches_and_shows_is_what_the_server_would()
    {
        var node = Samples.Node(("air", "bme280"), ("probe", "ds18b20"), ("lcd", "lcd-1602-i2c")) with
        {
            Readings =
            [
                Samples.Every("temp", "air", "temperature", 60_000) with
                {
                    Label = "Gew\u00e4chshaus oben",
                },
                Samples.Every("cellar", "probe", "temperature", 60_000),
                Samples.Every("rh", "air", "humidity", 60_000),
            ],
            CorrectsItself = true,
        };
        var line = Calibration.Fit(CalibrationKind.TwoPoints, [new(1, 0), new(99, 100)], 0).Value;
        var table = Calibration.Fit(CalibrationKind.Table, [new(0, 0.5), new(20, 21), new(50, 48)], 0).Value;
        var rule = new RuleDesign("warm", "Too warm", "n", "temp", new BeyondLimit(LimitSide.Above, 30, 28, 90_000), "", true);
        var site = Samples.Site(node, rule, rule with { Key = "off", Armed = false });
        var plan = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Node("n")!;
        var calibrations = new Dictionary<string, Calibration> { ["temp"] = line, ["cellar"] = table };
        NodeSettings Of(NodeDesign n) => NodeSettings.Of(n, plan.Bench, plan.Rhythm, Samples.Catalogue, null, calibrations, site);
        var settings = Of(node);
        Assert.Empty(Of(node with { CorrectsItself = false }).Corrections.Concat<object>(Of(node with { CorrectsItself = false }).Limits));
        // A calibration that is new since the flash is named.
        var older = NodeSettings.Of(
            node,
            plan.Bench,
            plan.Rhythm,
            Samples.Catalogue,
            null,
            new Dictionary<string, Calibration> { ["temp"] = line with { Intercept = 7 } },
            site
        );
        Assert.NotEqual(older.Hash, settings.Hash);
        Assert.Equal(["Calibration of cellar", "Intercept of Gew\u00e4chshaus oben"], settings.Since(older.Lines()).Select(c => c.What).Order());

        Write(NodeBundle.Of("home", "Node", settings));
        File.WriteAllText(Path.Combine(_folder, "onnode.c"), OnNodeProgram);
        Run(
            "cc",
            [
                "-std=c99",
                "-Wall",
                "-Wextra",
                "-Wpedantic",
                "-Werror",
                .. new[] { "onnode.c", "cenotic.c" }.Select(s => Path.Combine(_folder, s)),
                "-lm",
                "-o",
                Path.Combine(_folder, "onnode"),
            ],
            ""
        );
        var random = new Random(7);
        var (input, expected) = (new StringBuilder(), new List<string>());
        var state = RuleState.Start(0);
        var value = 29.0;
        for (var i = 0; i < 2_000; i++)
        {
            var at = i * 30_000L;
            value = Math.Clamp(value + random.NextDouble() * 4 - 2, 20, 38);
            input.Append(CultureInfo.InvariantCulture, $"temp {value:R} {at}\ncellar {value - 25:R} {at}\nrh {value:R} {at}\n");
            // What ran out between two values is raised by the server at once, and by the node with the next
            // value: neither falls short of the other here, since values come every 30 s.
            (state, _) = RuleJudge.OnSample(rule, state, at, line.Apply(value));
            expected.Add(FormattableString.Invariant($"{line.Apply(value):G9} {(state.Raised ? 1 : 0)}"));
            expected.Add(FormattableString.Invariant($"{table.Apply(value - 25):G9} -1"));
            expected.Add(FormattableString.Invariant($"{value:G9} -1"));
        }
        var said = Run(Path.Combine(_folder, "onnode"), [], input.ToString()).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        static (double, string) Read(string text) => (Math.Round(double.Parse(text.Split(' ')[0], CultureInfo.InvariantCulture), 6), text.Split(' ')[1]);
        Assert.Equal(expected.Select(Read), said.Take(expected.Count).Select(Read));
        Assert.Contains(expected, e => e.EndsWith(" 1", StringComparison.Ordinal));
        // Two lines of sixteen characters; letters that the display does not have lose their marks.
        Assert.Equal(["lcd 0 temp|Gewachsh  21.5 C|", "lcd 1 cellar|cellar    21.5 C|"], said.Skip(expected.Count));
    }

    /// <summary>A radio that is set otherwise wants flashing anew, and the header tells the program how; one that is as usual changes no hash.</summary>
    [Fact]
    public void The_radio_of_a_node_and_whose_messages_it_passes_on_are_among_its_settings()
    {
        NodeDesign Radio(string key, string? via, RadioDesign? radio = null, LinkKind link = LinkKind.LongRange) =>
            Samples.Node(("air", "bme280"), ("radio", "lora-sx1276")) with
            {
                Key = key,
                Label = key,
                Link = link,
                Via = via,
                Readings = [Samples.Every("t", "air", "temperature", 60_000)],
                Radio = radio,
            };
        NodeSettings Of(string key, params NodeDesign[] nodes)
        {
            var site = Samples.Site(nodes[0]) with { Nodes = nodes };
            return Settings(site, SitePlanner.Plan(site, Samples.Catalogue, Evidence.None), site.Node(key)!);
        }
        var hub = Radio("hub", null, link: LinkKind.Wifi);
        var usual = Of("far", Radio("far", "hub"), hub);
        Assert.DoesNotContain(usual.Lines(), l => l.StartsWith("radio.", StringComparison.Ordinal));
        Assert.Equal(usual.Hash, Of("far", Radio("far", "hub", new(AntennaGainDbi: 2.15)), hub).Hash);
        Assert.Contains("#define CENOTIC_RADIO_SF 9 ", NodeBundle.Header("home", "far", usual));
        Assert.Contains("#define CENOTIC_RELAYS NULL", NodeBundle.Header("home", "far", usual));

        var slow = Of("far", Radio("far", "hub", new(SpreadingFactor: 10, PowerDbm: 5)), hub);
        Assert.Contains("radio.radio=868.1 10 125 1 - 5 3", slow.Lines());
        Assert.NotEqual(usual.Hash, slow.Hash);
        var hops = Of("far", Radio("far", "hub", new(HopChannels: 50)), hub);
        Assert.Contains("radio.radio=868.1 9 125 1 - 14 3 50", hops.Lines());
        Assert.Contains("#define CENOTIC_RADIO_HOPS 50 ", NodeBundle.Header("home", "far", hops));
        var slower = Of("far", Radio("far", "hub", new(SpreadingFactor: 11, PowerDbm: 5)), hub);
        Assert.Equal([new SettingChange("Spreading factor of radio", "10", "11")], slower.Since(slow.Lines()));

        var relay = Of("post", Radio("far", "post"), Radio("post", "hub"), hub);
        Assert.Equal(["far"], relay.Radio!.PassesOn);
        Assert.Contains("relay.far=on", relay.Lines());
        Assert.Contains("#define CENOTIC_RELAYS \"far\"", NodeBundle.Header("home", "post", relay));
        Assert.Empty(Of("hub", Radio("far", "post"), Radio("post", "hub"), hub).Radio!.PassesOn);
        Assert.Null(Settings(Samples.Node(("air", "bme280"))).Radio);

        // A second module, which only listens here, has its own settings beside those of the first.
        var second = Samples.Part("low", "lora-sx1278") with { Radio = new(FrequencyMegahertz: 433.5) };
        var two = Of("hub", hub with { Parts = [.. hub.Parts, second] });
        Assert.Contains("#define RADIO_LOW_MHZ 433.5", NodeBundle.Header("home", "hub", two));
        Assert.Contains("#define CENOTIC_RADIO_MHZ 868.1", NodeBundle.Header("home", "hub", two));
        Assert.Contains("radio.low=433.5 9 125 1 - 14 3", two.Lines());
        Assert.DoesNotContain(Of("hub", hub with { Parts = [.. hub.Parts, second with { Radio = null }] }).Lines(), l => l.StartsWith("radio.low"));
    }

    private static NodeSettings Settings(NodeDesign node) =>
        Settings(Samples.Site(node), SitePlanner.Plan(Samples.Site(node), Samples.Catalogue, Evidence.None), node);

    private static NodeSettings Settings(SiteDesign site, SitePlan plan, NodeDesign node) =>
        NodeSettings.Of(
            node,
            plan.Node(node.Key)!.Bench,
            plan.Node(node.Key)!.Rhythm,
            Samples.Catalogue.With(site.OwnBoards, site.OwnParts, site.OwnCells),
            plan.SlotOf(node.Key),
            site: site
        );

    private void Write(IEnumerable<BundleFile> files)
    {
        foreach (var file in files)
        {
            File.WriteAllText(Path.Combine(_folder, file.Name), file.Text);
        }
    }

    /// <summary>What the client prints to these lines; run under valgrind, where an error or a leak fails the test.</summary>
    private string Client(string input)
    {
        Write(NodeBundle.Client());
        File.Copy(Path.Combine(AppContext.BaseDirectory, "client_harness.c"), Path.Combine(_folder, "harness.c"), true);
        Compile("harness", "harness.c", "cenotic.c");
        return Run("valgrind", ["--quiet", "--error-exitcode=9", "--leak-check=full", "--errors-for-leak-kinds=all", Path.Combine(_folder, "harness")], input);
    }

    private void Compile(string program, params string[] sources) =>
        Run("cc", [.. Strict, .. sources.Select(s => Path.Combine(_folder, s)), "-lm", "-o", Path.Combine(_folder, program)], "");

    private static string Run(string program, IEnumerable<string> words, string input)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, words)
            {
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            }
        )!;
        var said = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEndAsync();
        process.StandardInput.Write(input);
        process.StandardInput.Close();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, $"{program} ended with {process.ExitCode}: {said.Result}");
        return output.Result;
    }
}
