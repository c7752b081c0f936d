using System.Text.Json;
using Cenotic.Core.Common;

namespace Cenotic.Core.Design;

/// <summary>How much a site may hold. Generous for a house and its garden, and little enough that
/// everything worked out of it takes a bounded time. Our own choice.</summary>
public static class DesignLimits
{
    /// <summary>How many of these a node has at most.</summary>
    public const int PartsOfNode = 100,
        ReadingsOfNode = 200,
        WiresOfNode = 400;

    /// <summary>Readings that are worked out of others that are worked out: so many, one on the other.</summary>
    public const int DerivedDepth = 8;

    /// <summary>Longest text anywhere in a design, characters. Most have a shorter limit of their own.</summary>
    public const int LongestText = 2_000;

    /// <summary>Longest list anywhere in a design.</summary>
    public const int LongestList = 2_000;

    /// <summary>Numbers that are none are for the checks of the edit to name.</summary>
    private static readonly JsonSerializerOptions AnyNumber = new(CenoticJson.Options)
    {
        NumberHandling = System.Text.Json.Serialization.JsonNumberHandling.AllowNamedFloatingPointLiterals,
    };

    private static readonly (string Things, int Most, Func<SiteDesign, int> Count)[] OfSite =
    [
        ("nodes", 200, s => s.Nodes.Count),
        ("rooms", 200, s => s.Place.Rooms.Count),
        ("walls", 1_000, s => s.Place.Walls.Count),
        ("spots", 500, s => s.Place.Spots.Count),
        ("floors", 20, s => s.Place.Floors.Count),
        ("access points", 50, s => s.Place.AccessPoints.Count),
        ("heaters and vents", 200, s => s.Place.HeatSources.Count),
        ("pictures under the plan", 21, s => s.Place.Scans.Count),
        ("rules", 500, s => s.Rules.Count),
        ("serial lines", 20, s => s.Lines.Count),
        ("boards of your own", 100, s => s.OwnBoards.Count),
        ("parts of your own", 500, s => s.OwnParts.Count),
        ("cells of your own", 100, s => s.OwnCells.Count),
        ("stock entries", 2_000, s => s.Stock.Count),
        ("people", 100, s => s.People.Count),
        ("zones", 50, s => s.Zones.Count),
        ("views", 100, s => s.Views.Count),
        ("readings that are worked out", 200, s => s.Derived.Count),
    ];

    /// <summary>What an edit would make too many of; null when it makes nothing too many. What is too many already may become fewer.</summary>
    internal static string? TooMany(SiteDesign before, SiteDesign after)
    {
        foreach (var (things, most, count) in OfSite)
        {
            if (count(after) > most && count(after) > count(before))
            {
                return $"A site has at most {most} {things}.";
            }
        }
        return null;
    }

    /// <summary>What a node has too many of.</summary>
    internal static IEnumerable<string> TooMany(NodeDesign node)
    {
        if (node.Parts.Count > PartsOfNode)
        {
            yield return $"A node has at most {PartsOfNode} parts; split them over two nodes.";
        }
        if (node.Readings.Count > ReadingsOfNode)
        {
            yield return $"A node has at most {ReadingsOfNode} readings.";
        }
        if (node.Wires.Count > WiresOfNode)
        {
            yield return $"A node has at most {WiresOfNode} held wires.";
        }
    }

    /// <summary>What is wrong with the shape of an edit, whatever it says: an element that is missing,
    /// a list or a text beyond all measure. Null when nothing is.</summary>
    internal static string? Misshapen(DesignEdit? edit) =>
        edit is null ? "An edit is missing: an element of the list is null." : Misshapen(JsonSerializer.SerializeToElement(edit, AnyNumber), "");

    private static string? Misshapen(JsonElement element, string at)
    {
        switch (element.ValueKind)
        {
            case JsonValueKind.String when element.GetString()!.Length > LongestText:
                return $"{at.TrimStart('.')} has {element.GetString()!.Length} characters; a text has at most {LongestText}.";
            case JsonValueKind.Object:
                return element.EnumerateObject().Select(p => Misshapen(p.Value, $"{at}.{p.Name}")).FirstOrDefault(f => f is not null);
            case JsonValueKind.Array when element.GetArrayLength() > LongestList:
                return $"{at.TrimStart('.')} has {element.GetArrayLength()} entries; a list has at most {LongestList}.";
            case JsonValueKind.Array:
                return element
                    .EnumerateArray()
                    .Select((e, i) => e.ValueKind == JsonValueKind.Null ? $"{at.TrimStart('.')} has nothing at place {i + 1}." : Misshapen(e, $"{at}[{i}]"))
                    .FirstOrDefault(f => f is not null);
            default:
                return null;
        }
    }
}
