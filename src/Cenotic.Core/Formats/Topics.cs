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
}
