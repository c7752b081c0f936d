using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>A value as it came, fault values of the part included.</summary>
/// <param name="T">UTC ms.</param>
public readonly record struct FirstValue(long T, double Value);

/// <summary>What the same quantity is elsewhere in the same room.</summary>
/// <param name="Error">How good that reading is, ± in the unit; null when not known.</param>
public sealed record Neighbour(string Label, double Value, double? Error);

/// <summary>The first readings of a new node looked at.</summary>
/// <param name="Count">Values looked at.</param>
/// <param name="Wanted">Values that are wanted for a verdict.</param>
/// <param name="Findings">What speaks against them.</param>
/// <param name="WarmUntilMs">Until when its part warms up: what it shows before counts for nothing. Null when it needs none, or has.</param>
public sealed record FirstVerdict(
    string Reading,
    string Label,
    string Unit,
    int Count,
    int Wanted,
    double? Newest,
    IReadOnlyList<Finding> Findings,
    long? WarmUntilMs = null
)
{
    /// <summary>True when enough came and nothing speaks against it.</summary>
    public bool Good => Count >= Wanted && Findings.Count == 0 && WarmUntilMs is null;
}

/// <summary>Judges whether a part that was just soldered measures something that can be true. Pure.</summary>
public static class FirstReadings
{
    /// <summary>Values that are wanted for a verdict on noise and on being stuck.</summary>
    public const int Wanted = 8;

    /// <summary>What speaks against the values of one reading.</summary>
    /// <param name="values">In order of time.</param>
    /// <param name="neighbours">The same quantity in the same room.</param>
    /// <param name="startedMs">When the node started, UTC ms; null when it did not say.</param>
    /// <param name="now">UTC ms.</param>
    public static FirstVerdict Judge(
        NodeDesign node,
        ReadingDesign reading,
        Part part,
        IReadOnlyList<FirstValue> values,
        IReadOnlyList<Neighbour> neighbours,
        long? startedMs = null,
        long now = 0
    )
    {
        if (startedMs + (long?)part.WarmUpMs?.High is { } warm && part.StaysOn)
        {
            var latest = values.Count > 0 ? values[^1].Value : (double?)null;
            values = [.. values.Where(v => v.T >= warm)];
            if (now < warm)
            {
                return new(reading.Key, reading.Label, part.Quantities.First(q => q.Quantity == reading.Quantity).Unit, 0, Wanted, latest, [], warm);
            }
        }
        var judge = new FirstJudge(node, reading, part, values);
        judge.Judge(neighbours);
        return judge.Verdict;
    }
}

/// <summary>Looks for what speaks against the values of one reading.</summary>
internal sealed class FirstJudge(NodeDesign node, ReadingDesign reading, Part part, IReadOnlyList<FirstValue> values)
{
    private static readonly HashSet<string> MayBeNothing = ["illuminance", "pm1", "pm25", "pm10"];

    private const int Wanted = FirstReadings.Wanted;
    private const double NoisyErrors = 4,
        ApartErrors = 3,
        FineSteps = 10;
    private const string Practice = "common practice, no source";
    private readonly PartQuantity _quantity = part.Quantities.First(q => q.Quantity == reading.Quantity);
    private readonly List<Finding> _findings = [];

    internal FirstVerdict Verdict =>
        new(
            reading.Key,
            reading.Label,
            _quantity.Unit,
            values.Count,
            _quantity.Kind == ReadingKind.Gauge ? Wanted : 1,
            values.Count > 0 ? values[^1].Value : null,
            _findings
        );

    /// <param name="neighbours">The same quantity in the same room.</param>
    internal void Judge(IReadOnlyList<Neighbour> neighbours)
    {
        if (values.Count == 0)
        {
            Silent();
            return;
        }
        var newest = values[^1].Value;
        if (part.Faults.FirstOrDefault(f => f.Quantity == reading.Quantity && Math.Abs(f.Value - newest) <= f.Tolerance) is { } fault)
        {
            FaultValue(newest, fault);
            return;
        }
        if (newest < _quantity.Min || newest > _quantity.Max)
        {
            Beyond(newest);
        }
        if (_quantity.Kind is not ReadingKind.Gauge)
        {
            return;
        }
        if (values.Count >= Wanted && values.All(v => v.Value == newest))
        {
            Still(newest);
        }
        var mean = values.Average(v => v.Value);
        Noisy(mean);
        Apart(mean, neighbours);
    }

    private void Say(string code, Severity severity, string what, string why, string advice, string source) =>
        _findings.Add(new(code, severity, new("bring-up", node.Key, reading.Key), what, why, [], advice, source));

    private string Of(double value) =>
        string.Create(CultureInfo.InvariantCulture, $"{Math.Round(value, Math.Max(reading.Decimals, 1))} {_quantity.Unit}").Trim();

    private void Silent()
    {
        Say(
            "FIRST-SILENT",
            Severity.Note,
            $"{reading.Label} has sent nothing yet.",
            reading.IntervalMs is { } every ? $"It is read every {DurationText.Of(every)}." : "It is sent when it changes.",
            reading.IntervalMs is null
                ? "Make it change: press, open, fill or walk past it."
                : "Wait for its interval; then look at the node's page for what was refused.",
            "design"
        );
    }

    private void FaultValue(double newest, FaultSignature fault)
    {
        Say(
            "FIRST-FAULT-VALUE",
            Severity.Stop,
            $"{reading.Label} shows {Of(newest)}: {fault.Meaning}.",
            "That is what the part gives when it did not measure.",
            "Check its supply, its data line and the pull-up; let the program wait for the measurement to end.",
            part.Source
        );
    }

    private void Beyond(double newest)
    {
        Say(
            "FIRST-BEYOND",
            Severity.Stop,
            $"{reading.Label} shows {Of(newest)}; the part measures {Of(_quantity.Min ?? newest)} to {Of(_quantity.Max ?? newest)}.",
            "It cannot be that.",
            "A wrong register, a byte order or a scale in the program; or the value of another _quantity.",
            part.Source
        );
    }

    private void Still(double newest)
    {
        // A light sensor in the dark and a particle counter in clean air rightly show nothing.
        var nothing = newest == 0 && MayBeNothing.Contains(reading.Quantity);
        var end = !nothing && (newest == _quantity.Min || newest == _quantity.Max);
        // What is sent with few decimals stands still in a quiet room, and so does a coarse part.
        if (nothing)
        {
            Say(
                "FIRST-NOTHING",
                Severity.Note,
                $"{reading.Label} has shown {Of(newest)} {values.Count} times on end.",
                "In the dark, or in clean air, that is right.",
                reading.Quantity == "illuminance" ? "Shine a lamp on it: it must rise." : "Hold it over a candle that was just blown out: it must rise.",
                Practice
            );
        }
        else if (end || _quantity.Resolution is { } step && _quantity.Error is { } error && Math.Max(step, Math.Pow(10, -reading.Decimals)) < error / FineSteps)
        {
            Say(
                "FIRST-STUCK",
                end ? Severity.Stop : Severity.Risk,
                $"{reading.Label} has shown {Of(newest)} {values.Count} times on end{(end ? ", the end of its range" : "")}.",
                end ? "A shorted or open line reads like that." : "The part resolves far finer than that; something real moves a little.",
                "Breathe on it, cover it or warm it with a finger: when it does not move, the program shows an old value, or the line is held.",
                Practice
            );
        }
    }

    /// <summary>From step to step, so that a value that rises is no noise (mean square successive difference, von Neumann 1941).</summary>
    private void Noisy(double mean)
    {
        var spread = values.Count < 2 ? 0 : Math.Sqrt(values.Zip(values.Skip(1), (a, b) => Math.Pow(b.Value - a.Value, 2)).Average() / 2);
        if (values.Count >= Wanted && _quantity.Error is { } noise && spread > NoisyErrors * noise)
        {
            Say(
                "FIRST-NOISY",
                Severity.Risk,
                $"{reading.Label} jumps by ±{Of(spread)} around {Of(mean)}; the part is good for ±{Of(noise)}.",
                "Real air and water do not jump like that.",
                "Look at the supply (100 nF at the part), the ground, a loose contact, and the lead beside a radio or a motor.",
                Practice
            );
        }
    }

    private void Apart(double mean, IReadOnlyList<Neighbour> neighbours)
    {
        foreach (var other in neighbours)
        {
            var allowed = ApartErrors * ((_quantity.Error ?? 0) + (other.Error ?? 0));
            if (allowed > 0 && Math.Abs(mean - other.Value) > allowed)
            {
                Say(
                    "FIRST-APART",
                    Severity.Risk,
                    $"{reading.Label} shows {Of(mean)}; {other.Label} in the same room {Of(other.Value)}.",
                    $"Together they are good for ±{Of(allowed / ApartErrors)}.",
                    "Lay them side by side for an hour. Sun, a wall, the board's own heat, or a chip of another kind.",
                    Practice
                );
            }
        }
    }
}
