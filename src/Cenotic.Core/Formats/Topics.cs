namespace Cenotic.Core.Formats;

/// <summary>MQTT topics of a site.</summary>
public static class Topics
{
    /// <summary>Where a node publishes its readings.</summary>
    public static string Data(string site, string node) => $"site/{site}/{node}/data";

    /// <summary>Where a node publishes single numbers of one reading.</summary>
    public static string Data(string site, string node, string reading) => $"{Data(site, node)}/{reading}";

    /// <summary>Where a node hears its commands.</summary>
    public static string Command(string site, string node) => $"site/{site}/{node}/command";

    /// <summary>Where a node publishes what it found on its buses, as text.</summary>
    public static string Scan(string site, string node) => $"site/{site}/{node}/scan";

    /// <summary>Filters for what all nodes of all sites publish.</summary>
    public static IReadOnlyList<string> AllData => ["site/+/+/data", "site/+/+/data/+"];

    /// <summary>Whose data a topic is, and of which reading when it is of one; null for another topic.</summary>
    public static (string Site, string Node, string? Reading)? OfData(string topic) =>
        topic.Split('/') switch
        {
            ["site", var site, var node, "data"] => (site, node, null),
            ["site", var site, var node, "data", var reading] when reading.Length > 0 => (site, node, reading),
            _ => null,
        };
}
