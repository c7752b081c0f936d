using System.Diagnostics;
using System.Text.Json;

namespace Cenotic.Browser.Tests;

/// <summary>
/// What arrives live goes into a drawn line: every value of a message, in any order, of several lines
/// at once. The module of the page is run as it stands, against a sorted list.
/// </summary>
public sealed class LiveLineTests
{
    private const int Rounds = 200;

    /// <param name="Starts">Times that the chart has already, of its first line.</param>
    private sealed record Case(double[] Starts, int Lines, (int Line, double T, double Value)[] Arrivals);

    [Fact]
    public void Every_value_of_a_message_stands_in_its_line()
    {
        var random = new Random(20);
        var cases = Enumerable.Range(0, Rounds).Select(_ => Draw(random)).ToList();
        var drawn = Run(cases);
        foreach (var (of, columns) in cases.Zip(drawn))
        {
            var values = of
                .Starts.Select(t => (Line: 0, T: t, Value: 0.0))
                .Concat(of.Arrivals.Where(a => of.Starts.Length == 0 || a.T >= of.Starts[0]))
                .ToList();
            if (of.Starts.Length == 0 && of.Arrivals.Length > 0)
            {
                // An empty chart begins with the first that arrives.
                values = Later(of.Arrivals);
            }
            var times = values.Select(v => v.T).Distinct().Order().ToList();
            Assert.Equal(times, columns[0].Select(t => t!.Value));
            for (var line = 0; line < of.Lines; line++)
            {
                for (var at = 0; at < times.Count; at++)
                {
                    var here = values.Where(v => v.Line == line && v.T == times[at]).Select(v => v.Value).ToList();
                    double?[] expected = here.Count == 0 ? [null, null, null] : [here.Min(), here[^1], here.Max()];
                    Assert.Equal(expected, [columns[line * 3 + 1][at], columns[line * 3 + 2][at], columns[line * 3 + 3][at]]);
                }
            }
        }
    }

    /// <summary>What is kept of arrivals in an empty chart: nothing from before the earliest that is there at that time.</summary>
    private static List<(int Line, double T, double Value)> Later((int Line, double T, double Value)[] arrivals)
    {
        var kept = new List<(int Line, double T, double Value)>();
        foreach (var arrival in arrivals.Where(a => kept.Count == 0 || a.T >= kept.Min(k => k.T)))
        {
            kept.Add(arrival);
        }
        return kept;
    }

    private static Case Draw(Random random)
    {
        double[] starts = [.. Enumerable.Range(0, random.Next(4)).Select(i => 1000.0 + 10 * i)];
        var lines = 1 + random.Next(3);
        // A few moments, so that several values and lines meet at one.
        var arrivals = Enumerable
            .Range(0, random.Next(1, 12))
            .Select(_ => (random.Next(lines), 980.0 + 10 * random.Next(9), Math.Round(random.NextDouble() * 40, 1)))
            .ToArray();
        return new(starts, lines, arrivals);
    }

    private static List<double?[][]> Run(List<Case> cases)
    {
        const string Script = """
            const ts = require("typescript"), fs = require("fs"), module_ = { exports: {} };
            const source = fs.readFileSync("src/stations/watch/gaps.ts", "utf8");
            const text = ts.transpileModule(source, { compilerOptions: { module: "CommonJS", target: "ES2022" } }).outputText;
            new Function("module", "exports", "require", text)(module_, module_.exports, require);
            const cases = JSON.parse(fs.readFileSync(0, "utf8"));
            console.log(JSON.stringify(cases.map(c => {
              const columns = [[...c.starts], ...Array.from({ length: 3 * c.lines }, (_, i) => c.starts.map(() => i < 3 ? 0 : undefined))];
              for (const [line, t, value] of c.arrivals) module_.exports.takeIn(columns, line, t, value);
              return columns.map(c => Array.from(c, v => v ?? null));
            })));
            """;
        var start = new ProcessStartInfo("node")
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            WorkingDirectory = Path.Combine(Demo.Root, "src", "web"),
        };
        start.ArgumentList.Add("-e");
        start.ArgumentList.Add(Script);
        using var node = Process.Start(start)!;
        var given = cases.Select(c => new
        {
            starts = c.Starts,
            lines = c.Lines,
            arrivals = c.Arrivals.Select(a => new object[] { a.Line, a.T, a.Value }),
        });
        node.StandardInput.Write(JsonSerializer.Serialize(given));
        node.StandardInput.Close();
        var told = node.StandardOutput.ReadToEnd();
        node.WaitForExit();
        return JsonSerializer.Deserialize<List<double?[][]>>(told)!;
    }
}
