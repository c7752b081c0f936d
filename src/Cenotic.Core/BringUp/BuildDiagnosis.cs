using System.Globalization;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>What a meter says about a step when it does not show what was expected. Pure.</summary>
public static class BuildDiagnosis
{
    private const string Practice = "common practice, no source";

    /// <summary>The finding; null when all is well.</summary>
    /// <param name="value">What the meter showed; null when only a tap told.</param>
    public static Finding? Of(NodeDesign node, BuildStep step, MeterShows shows, double? value)
    {
        if (step.Measure is not { } measure || shows == MeterShows.Within)
        {
            return null;
        }
        var part = step.Part is { } key ? node.Part(key)?.Label ?? key : "the board";
        var diagnosis = measure.Kind switch
        {
            MeasureKind.SupplyVolts => Volts(shows, value, ofCells: step.Key == "cells"),
            MeasureKind.ShortOhms => Short(part),
            MeasureKind.PullUpOhms => PullUp(shows, value),
            _ => Current(shows, value, measure, step.Part is null ? null : part),
        };
        var what = value is { } v ? $"{diagnosis.What} It shows {Is(v)}; expected" : $"{diagnosis.What} Expected";
        return new(
            diagnosis.Code,
            diagnosis.Severity,
            new("bring-up", node.Key, step.Part),
            $"{what} is {Band(measure.Expected)}.",
            diagnosis.Why,
            [],
            diagnosis.Advice,
            Practice
        );

        string Is(double volts) => string.Create(CultureInfo.InvariantCulture, $"{volts:0.##} {measure.Expected.Unit}");
    }

    private static string Band(Figure expected) =>
        expected.High is { } high ? $"{Number(expected.Low ?? 0)} to {Number(high)} {expected.Unit}" : $"more than {Number(expected.Low ?? 0)} {expected.Unit}";

    /// <summary>What the voltage of a supply tells.</summary>
    private static Diagnosis Volts(MeterShows shows, double? value, bool ofCells) =>
        shows switch
        {
            _ when value < -0.2 => new(
                "BUILD-REVERSED",
                Severity.Stop,
                "Plus and minus are swapped.",
                "A board fed like that dies at once.",
                "Swap the leads of the meter to be sure; then mark the leads of the supply, and swap them."
            ),
            MeterShows.Above => new(
                "BUILD-VOLTS-HIGH",
                Severity.Stop,
                "The voltage is too high.",
                ofCells ? "It is another cell than planned, or one more of them." : "What is connected would be destroyed.",
                ofCells
                    ? "Read the print on the cell; put the right one into the plan."
                    : "Do not connect it. Turn the trimmer back until the meter shows the value; at an end stop the module passes its whole input."
            ),
            MeterShows.Nothing => new(
                "BUILD-VOLTS-NONE",
                Severity.Stop,
                "There is no voltage.",
                "Nothing feeds it, or what guards it has switched off.",
                ofCells
                    ? "A protection board that has tripped shows 0 V: a charger wakes it. Look at the contacts of the holder."
                    : "Look at the fuse, the plug, the polarity at the module's input, and whether it needs a start or enable pin."
            ),
            _ => new(
                "BUILD-VOLTS-LOW",
                ofCells ? Severity.Risk : Severity.Stop,
                "The voltage is too low.",
                ofCells ? "The cells are partly used: the planned life does not hold." : "The board resets when it sends.",
                ofCells ? "Charge them, or take fresh ones; do not mix old and new." : "Set it again; measure it with the load on too, a weak supply sags."
            ),
        };

    private static Diagnosis Short(string part) =>
        new(
            "BUILD-SHORT",
            Severity.Stop,
            $"Supply and ground are shorted at {part}.",
            "Power now would burn a wire or a regulator.",
            "Look for a bridge of solder, a whisker of wire, a reversed part. Take the wires soldered last off, one after another, until it is gone."
        );

    /// <summary>What the resistance between a line and the supply tells.</summary>
    private static Diagnosis PullUp(MeterShows shows, double? value) =>
        shows switch
        {
            MeterShows.Above or MeterShows.Nothing => new(
                "BUILD-PULLUP-MISSING",
                Severity.Stop,
                "A pull-up of the bus is missing.",
                "The line never goes high: nothing will answer.",
                "Fit the resistor of the plan; see that the module that brings one has its supply wire, and that its solder bridge is closed."
            ),
            MeterShows.Below when value is < 50 => new(
                "BUILD-LINE-HELD",
                Severity.Stop,
                "The line is shorted to the supply.",
                "It can never go low: nothing will answer, and a pin that pulls it low may be damaged.",
                "Look for a bridge between the data pin and its neighbour at the board and at each module."
            ),
            _ => new(
                "BUILD-PULLUP-STRONG",
                Severity.Risk,
                "The pull-ups are stronger than planned.",
                "Modules carry pull-ups of their own that the plan does not know of.",
                "Set the pull-ups of the parts in the catalogue as they are; take some off when the Bench says so."
            ),
        };

    /// <summary>What the current tells; no part where the board is fed alone.</summary>
    private static Diagnosis Current(MeterShows shows, double? value, BuildMeasure measure, string? part) =>
        shows switch
        {
            MeterShows.Nothing => new(
                "BUILD-CURRENT-NONE",
                Severity.Stop,
                "No current flows.",
                "Nothing is fed: an open lead, a fuse, or a supply that has switched off.",
                "Measure the voltage at the board's pins, from the source on, joint by joint. Two AA cells or a protected cell may wait for a first charge."
            ),
            MeterShows.Below => new(
                "BUILD-CURRENT-LOW",
                Severity.Risk,
                part is null ? "The board takes less than it should." : $"{part} seems to take nothing.",
                part is null ? "It may be held in reset, or its regulator does not start." : "Its supply or ground wire does not carry.",
                part is null
                    ? "Measure its logic supply; see that enable and reset are not held low."
                    : "Measure the voltage at the part itself, between its own supply and ground pins."
            ),
            _ when value >= measure.LimitMilliamps || shows == MeterShows.Above && value is null => new(
                "BUILD-CURRENT-SHORT",
                Severity.Stop,
                "The current runs into its limit.",
                $"Something is shorted or reversed, most likely {part ?? "the board"}.",
                "Unplug at once. Feel what is hot, compare its pins with the print, take its supply wire off and try again."
            ),
            _ => new(
                "BUILD-CURRENT-HIGH",
                value < 2 * measure.Expected.High ? Severity.Risk : Severity.Stop,
                "The current is higher than it should be.",
                part is null
                    ? "A board that is reversed, damaged, or loaded by something."
                    : $"{part} may be reversed, fed too much, or bridged; or it is another type.",
                "Unplug and feel what is warm. Compare the order of its pins with the print: modules of one name differ. A lamp on the module may "
                    + "take some mA: then go on."
            ),
        };

    private static string Number(double value) =>
        value.ToString(
            Math.Abs(value) >= 100 ? "0"
                : Math.Abs(value) >= 10 ? "0.#"
                : "0.##",
            CultureInfo.InvariantCulture
        );

    /// <summary>What is wrong, what follows from it, and what to do.</summary>
    private sealed record Diagnosis(string Code, Severity Severity, string What, string Why, string Advice);
}
