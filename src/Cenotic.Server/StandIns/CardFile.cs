using System.Globalization;
using System.Text;
using Cenotic.Core.Design;
using Cenotic.Core.Rehearsal;

namespace Cenotic.Server.StandIns;

/// <summary>What the storage card of a logger would hold: the day before the one that the demo begins with,
/// written as such loggers do, until the power went in the midst of a row.</summary>
public static class CardFile
{
    private const long DayMs = 86_400_000,
        StepMs = 60_000;

    /// <param name="now">UTC ms of site time; the file holds from two days to one day before.</param>
    public static byte[] Of(NodeDesign node, int seed, TimeZoneInfo zone, long now)
    {
        var readings = node.Readings.Where(r => r.IntervalMs is not null).ToList();
        var text = new StringBuilder("time;").AppendJoin(';', readings.Select(r => r.Key)).Append("\r\n");
        var comma = new NumberFormatInfo { NumberDecimalSeparator = "," };
        for (var t = now - 2 * DayMs; t < now - DayMs; t += StepMs)
        {
            var local = TimeZoneInfo.ConvertTime(DateTimeOffset.FromUnixTimeMilliseconds(t), zone);
            text.Append(local.ToString("dd.MM.yyyy HH:mm:ss", CultureInfo.InvariantCulture)).Append(';');
            text.AppendJoin(';', readings.Select(r => World.Value(seed, node.Key, r.Part, r.Quantity, t, WorldControl.Calm).ToString($"F{r.Decimals}", comma)))
                .Append("\r\n");
        }
        // The last row is torn in its middle.
        return Encoding.UTF8.GetBytes(text.ToString())[..^9];
    }
}
