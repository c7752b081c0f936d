using System.Globalization;
using System.Text;
using System.Text.Json;
using Cenotic.Core.Common;

namespace Cenotic.Core.Formats;

/// <summary>A stored sample on its way out.</summary>
/// <param name="T">UTC ms.</param>
/// <param name="Unit">As shown.</param>
/// <param name="Marks">What is to be said about it ("late", "imported"), separated by spaces; empty for nothing.</param>
public readonly record struct ExportedSample(string Node, string Reading, long T, double Value, string Unit, string Marks);

/// <summary>Samples of any stretch as a table or as SenML, written as they are read, so that a year needs no more memory than an hour.</summary>
public static class SampleExports
{
    private const string Head = "time,node,reading,value,unit,marks\r\n";

    /// <summary>A CSV table (RFC 4180): UTC time by ISO 8601, node, reading, value, unit, marks. Keys and marks hold
    /// nothing that wants quotation marks; the unit of an own part may hold anything.</summary>
    public static IEnumerable<string> Csv(IEnumerable<ExportedSample> samples) =>
        samples
            .Select(s =>
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{DateTimeOffset.FromUnixTimeMilliseconds(s.T).UtcDateTime:yyyy-MM-dd'T'HH:mm:ss.fff'Z'},"
                        + $"{s.Node},{s.Reading},{Number(s.Value)},{GuardedCsv.Cell(s.Unit)},{s.Marks}\r\n"
                )
            )
            .Prepend(Head);

    /// <summary>A value without what arithmetic left behind in its last digits: 31.2 and not 31.200000000000003.
    /// What was sent with more digits keeps them.</summary>
    private static string Number(double value)
    {
        const int fewUlps = 4,
            digitsOfArithmetic = 16,
            digitsOfMeasurement = 12;
        var (whole, plain) = (value.ToString("R", CultureInfo.InvariantCulture), value.ToString("G15", CultureInfo.InvariantCulture));
        if (Digits(whole) < digitsOfArithmetic || Digits(plain) > digitsOfMeasurement)
        {
            return whole;
        }
        var apart = Math.Abs(double.Parse(plain, CultureInfo.InvariantCulture) - value);
        return apart <= fewUlps * (Math.BitIncrement(Math.Abs(value)) - Math.Abs(value)) ? plain : whole;

        static int Digits(string text) => text.Split('E')[0].Where(char.IsAsciiDigit).SkipWhile(c => c == '0').Count();
    }

    /// <summary>A SenML pack in JSON (RFC 8428): names are NODE/READING, times are counted from the first
    /// sample of each reading. Samples of a reading stand together.</summary>
    public static IEnumerable<string> Senml(IEnumerable<ExportedSample> samples)
    {
        yield return "[";
        (string Node, string Reading)? last = null;
        long begin = 0;
        var text = new StringBuilder();
        foreach (var s in samples)
        {
            text.Clear().Append(last is null ? "" : ",\n").Append('{');
            if (last?.Node != s.Node)
            {
                text.Append(CultureInfo.InvariantCulture, $"\"bn\":\"{s.Node}/\",");
            }
            if (last != (s.Node, s.Reading))
            {
                begin = s.T;
                text.Append(CultureInfo.InvariantCulture, $"\"bt\":{begin / 1000.0:R},");
            }
            last = (s.Node, s.Reading);
            text.Append(CultureInfo.InvariantCulture, $"\"n\":\"{s.Reading}\",");
            if (Unit.ToSenml(s.Unit) is { } unit)
            {
                text.Append(CultureInfo.InvariantCulture, $"\"u\":{JsonSerializer.Serialize(unit)},");
            }
            if (s.T != begin)
            {
                text.Append(CultureInfo.InvariantCulture, $"\"t\":{(s.T - begin) / 1000.0:R},");
            }
            yield return text.Append(CultureInfo.InvariantCulture, $"\"v\":{Number(s.Value)}").Append('}').ToString();
        }
        yield return "]\n";
    }
}
