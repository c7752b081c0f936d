using System.Globalization;
using System.Text.RegularExpressions;

namespace Cenotic.Core.Design;

/// <summary>Another of what a site has: the edit that adds it, with a name and a key of its own. Pure.</summary>
public static partial class Duplicates
{
    /// <summary>Between the last room of a floor and one that is added beside it, m.</summary>
    private const double GapMetres = 1;

    /// <summary>
    /// Another node of the same kind: board, supply, parts and readings. What belongs to the one that was built is left out: its spot, wires that are
    /// held or soldered, the codes of its 1-Wire parts, when its cells were put in.
    /// </summary>
    /// <returns>Null where there is no such node.</returns>
    public static PutNode? OfNode(SiteDesign site, string node) =>
        site.Node(node) is not { } of
            ? null
            : new(
                of with
                {
                    Key = Keys.Free(of.Label, [.. site.Nodes.Select(n => n.Key)]),
                    Label = Next(of.Label, site.Nodes.Select(n => n.Label)),
                    Spot = null,
                    Wires = [],
                    Parts = [.. of.Parts.Select(p => p with { Rom = null, EmitterSpot = null })],
                    Power = of.Power with { FittedOn = null },
                }
            );

    /// <summary>Another room of the same outline, beside all others of its floor.</summary>
    /// <returns>Null where there is no such room.</returns>
    public static PutRoom? OfRoom(SiteDesign site, string room)
    {
        if (site.Place.Rooms.FirstOrDefault(r => r.Key == room) is not { } of)
        {
            return null;
        }
        var right = site.Place.Rooms.Where(r => r.Floor == of.Floor).SelectMany(r => r.Corners).Max(c => c.X);
        var by = Math.Round(right + GapMetres - of.Corners.Min(c => c.X), 2);
        return new(
            of with
            {
                Key = Keys.Free(of.Label, [.. site.Place.Rooms.Select(r => r.Key)]),
                Label = Next(of.Label, site.Place.Rooms.Select(r => r.Label)),
                Corners = [.. of.Corners.Select(c => c with { X = Math.Round(c.X + by, 3) })],
            }
        );
    }

    /// <summary>Another rule of the same sentence, off until it is made its own.</summary>
    /// <returns>Null where there is no such rule.</returns>
    public static PutRule? OfRule(SiteDesign site, string rule) =>
        site.Rule(rule) is not { } of
            ? null
            : new(
                of with
                {
                    Key = Keys.Free(of.Label, [.. site.Rules.Select(r => r.Key)]),
                    Label = Next(of.Label, site.Rules.Select(r => r.Label)),
                    Armed = false,
                }
            );

    /// <summary>The name with the next number that is free: "Shed" gives "Shed 2", "Rack 2" gives "Rack 3".</summary>
    private static string Next(string label, IEnumerable<string> taken)
    {
        var number = LastNumber().Match(label);
        var name = number.Success ? label[..number.Index].TrimEnd() : label;
        var from = number.Success && int.TryParse(number.Value, CultureInfo.InvariantCulture, out var n) ? n + 1 : 2;
        var labels = taken.ToHashSet(StringComparer.OrdinalIgnoreCase);
        return Enumerable.Range(from, labels.Count + 1).Select(Numbered).First(l => !labels.Contains(l));

        string Numbered(int of)
        {
            var behind = string.Create(CultureInfo.InvariantCulture, $" {of}");
            return (name[..Math.Min(name.Length, FaultList.LongestText - behind.Length)].TrimEnd() + behind).TrimStart();
        }
    }

    [GeneratedRegex("[0-9]{1,6}$")]
    private static partial Regex LastNumber();
}
