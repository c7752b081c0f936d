using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rehearsal;

namespace Cenotic.Server.StandIns;

/// <summary>What a stand-in finds on its buses: the addresses of its plan, and for each probe an invented code with its temperature.</summary>
internal static class StandInScan
{
    private const double HandKelvin = 7,
        HandSeconds = 8;

    /// <param name="speed">Of site time: a hand warms a probe in seconds of the maker's own time.</param>
    internal static string Of(NodeDesign node, BenchPlan plan, int seed, StandInControl control, long now, double speed)
    {
        var lines = new List<string>();
        foreach (var part in plan.Parts.Where(p => p.Behind is null))
        {
            if (part.Address is { } address)
            {
                lines.Add(string.Create(CultureInfo.InvariantCulture, $"0x{address:X2}"));
            }
            else if (part.Interface == InterfaceKind.OneWire)
            {
                var held = control.WarmPart == part.Part ? HandKelvin * (1 - Math.Exp(-(now - control.WarmSince) / 1000.0 / speed / HandSeconds)) : 0;
                lines.Add(
                    string.Create(
                        CultureInfo.InvariantCulture,
                        $"{Code(node, part.Part)}: {World.Value(seed, node.Key, part.Part, "temperature", now, new(control.HeatCelsius, 0)) + held:0.00}"
                    )
                );
            }
        }
        return lines.Count > 0 ? string.Join('\n', lines.Order(StringComparer.Ordinal)) : "none";
    }

    /// <summary>The code of a probe: the one it was given, or one made of its name.</summary>
    private static string Code(NodeDesign node, string part)
    {
        if (node.Part(part)?.Rom is { } rom)
        {
            return rom;
        }
        byte[] seven = [0x28, .. SHA256.HashData(Encoding.UTF8.GetBytes($"{node.Key}/{part}"))[..6]];
        return Convert.ToHexString([.. seven, OneWire.Crc8(seven)]);
    }
}
