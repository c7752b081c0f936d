using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>Whether a state says what it should when it is done by hand.</summary>
/// <param name="Do">What to do: "Open it now".</param>
/// <param name="Rest">What it showed before; null when it never showed anything.</param>
/// <param name="Now">What it shows.</param>
/// <param name="Proven">True when it changed as it should and came back.</param>
public sealed record ProofVerdict(string Do, double? Rest, double? Now, int Changes, bool Proven, Finding? Finding);

/// <summary>Proves the active level of a contact, button, motion or level sensor by doing it. Pure.</summary>
public static class LevelProof
{
    private const int Chatters = 6;
    private const string Practice = "common practice, no source";

    /// <summary>What to do with one's hands, and what it is to show then: 1 for on.</summary>
    private static readonly Dictionary<string, (string Do, int Then)> Deeds = new()
    {
        ["contact"] = ("Open it now, then close it", 0),
        ["motion"] = ("Walk past it now, then stand still out of its sight", 1),
        ["presence"] = ("Step before it now, then go out of its sight", 1),
        ["level"] = ("Lift the float now, then let it hang", 1),
        ["vibration"] = ("Knock on it now, then leave it alone", 1),
        ["button"] = ("Press it now, then let go", 1),
    };

    /// <summary>True for a reading that can be proven like this.</summary>
    public static bool Applies(ReadingDesign reading, PartQuantity quantity) =>
        quantity.Kind is ReadingKind.State or ReadingKind.Event && reading.Output is null && Deeds.ContainsKey(reading.Quantity);

    /// <summary>What the values say.</summary>
    /// <param name="rest">The newest value before the deed; null when there is none.</param>
    /// <param name="values">Since then, in order of time.</param>
    /// <param name="over">True when the time for the deed is up: what did not change then does not.</param>
    public static ProofVerdict Judge(NodeDesign node, ReadingDesign reading, double? rest, IReadOnlyList<FirstValue> values, bool over)
    {
        var (deed, then) = Deeds[reading.Quantity];
        var changes = values.Prepend(new(0, rest ?? (values.Count > 0 ? values[0].Value : 0))).Zip(values).Count(p => p.First.Value != p.Second.Value);
        var now = values.Count > 0 ? values[^1].Value : rest;
        Finding Say(string code, Severity severity, string what, string why, string advice) =>
            new(code, severity, new("bring-up", node.Key, reading.Key), what, why, [], advice, Practice);
        ProofVerdict Verdict(bool proven, Finding? finding = null) => new(deed, rest, now, changes, proven, finding);
        if (changes > Chatters)
        {
            return Verdict(
                false,
                Say(
                    "FIRST-CHATTER",
                    Severity.Risk,
                    $"{reading.Label} changed {changes} times.",
                    "One deed should be one change there and one back.",
                    "A pull resistor is missing or the contact bounces: 10 kΩ to the supply, 100 nF across it, and 50 ms of quiet in the program "
                        + "before a change counts."
                )
            );
        }
        var seen = values.Any(v => v.Value == then);
        if (rest == then && values.Any(v => v.Value != then))
        {
            return Verdict(
                false,
                Say(
                    "FIRST-UPSIDE-DOWN",
                    Severity.Stop,
                    $"{reading.Label} is upside down: at rest it shows {(then == 1 ? "on" : "off")}, done it shows {(then == 1 ? "off" : "on")}.",
                    "An alarm would sound all day, or never.",
                    "A contact that closes where one that opens is planned, or a line that is active low: turn it round in the program, or use the "
                        + "other contact."
                )
            );
        }
        if (seen && now == 1 - then)
        {
            return Verdict(true);
        }
        return over && changes == 0
            ? Verdict(
                false,
                Say(
                    "FIRST-NOT-MOVED",
                    Severity.Stop,
                    $"{reading.Label} did not change.",
                    "The part is not heard, or not moved.",
                    "See that it is the right one; measure its line while it is done; look at ground, pull resistor and pin in the wiring table."
                )
            )
            : Verdict(false);
    }
}
