using System.Text.RegularExpressions;
using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>Straps of a module as joints: "SDO to GND", "A2 A1 A0 = 0 1 0". What is a pad without a pin stays words.</summary>
internal static partial class Straps
{
    /// <summary>The strap in words, or null.</summary>
    internal static string? Text(Connection connection) =>
        connection.Address is { } address
            ? (connection.Interface.Strap is { } strap ? $"{address.Strap}; {strap}" : address.Strap)
            : connection.Interface.Strap;

    /// <summary>The net of each pin of the module that a strap ties.</summary>
    /// <param name="terminals">The module's, with the nets of its lines.</param>
    /// <param name="supply">Key of the net of its supply; null where it has none.</param>
    internal static IReadOnlyDictionary<string, string> Of(Connection connection, IReadOnlyList<Terminal> terminals, string? supply)
    {
        var tied = new Dictionary<string, string>();
        string? NetOf(string pin) =>
            pin == connection.Part.GroundPin || pin == "GND" ? Circuit.Ground
            : pin == connection.Part.SupplyPin || pin is "VCC" or "VDD" ? supply
            : terminals.FirstOrDefault(t => t.Name == pin)?.Net;
        foreach (var strap in (Text(connection) ?? "").Split(';', StringSplitOptions.TrimEntries))
        {
            if (Tie().Match(strap) is { Success: true } tie && terminals.Any(t => t.Name == tie.Groups[1].Value) && NetOf(tie.Groups[2].Value) is { } to)
            {
                tied[tie.Groups[1].Value] = to;
            }
            else if (Bits().Match(strap) is { Success: true } bits)
            {
                var (names, values) = (bits.Groups[1].Value.Split(' '), bits.Groups[2].Value.Split(' '));
                foreach (var (name, value) in names.Zip(values).Where(p => terminals.Any(t => t.Name == p.First)))
                {
                    if (value == "0" || supply is not null)
                    {
                        tied[name] = value == "0" ? Circuit.Ground : supply!;
                    }
                }
            }
        }
        return tied;
    }

    [GeneratedRegex(@"^(\S+) to (\S+)$")]
    private static partial Regex Tie();

    [GeneratedRegex(@"^((?:[A-Z]\d ?)+)= ([01 ]+)$")]
    private static partial Regex Bits();
}
