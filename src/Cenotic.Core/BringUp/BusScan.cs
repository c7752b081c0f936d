using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;
using Cenotic.Core.Common;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.BringUp;

/// <summary>A device that answered on an I2C bus.</summary>
/// <param name="Address">7 bits.</param>
/// <param name="Identity">What its identity register holds, when that was read; else null.</param>
/// <param name="InUse">True when a driver of the operating system holds the address, so that it was not asked ("UU" in a table).</param>
public sealed record ScannedDevice(int Address, int? Identity, bool InUse = false);

/// <summary>The code of a 1-Wire device: family, serial number and CRC, 8 bytes in the order they are sent.</summary>
/// <param name="Hex">16 digits in capitals.</param>
public sealed record RomCode(string Hex)
{
    private byte[] Bytes => Convert.FromHexString(Hex);

    /// <summary>Which kind of part it is.</summary>
    public int Family => Bytes[0];

    /// <summary>True when the CRC in its last byte fits (application note 27).</summary>
    public bool CrcGood => OneWire.Crc8(Bytes) == 0;
}

/// <summary>What a node found on its buses.</summary>
/// <param name="Devices">Answers on I2C, each address once.</param>
/// <param name="Roms">Codes on 1-Wire, each once.</param>
/// <param name="LooksI2c">True when it tells of an I2C bus, even of an empty one.</param>
/// <param name="LooksOneWire">True when it tells of a 1-Wire line, even of an empty one.</param>
public sealed record BusScan(IReadOnlyList<ScannedDevice> Devices, IReadOnlyList<RomCode> Roms, bool LooksI2c, bool LooksOneWire)
{
    /// <summary>What probes showed beside their codes, °C, by the code.</summary>
    public IReadOnlyDictionary<string, double> Celsius { get; init; } = new Dictionary<string, double>();
}

/// <summary>
/// Reads what scanning programs print: addresses as 0x76 or as three decimal digits, a table of two-digit addresses with row headings, codes of 1-Wire as 16
/// digits in one of the usual ways, "0x76 id 0x60" for an identity, "28-FF641E8D1603BD: 21.4" for a probe and
/// its temperature, "none" for an empty bus, or JSON {"i2c": [118], "rom": ["28…"]}.
/// </summary>
public static partial class ScanText
{
    private const int Longest = 20_000;

    /// <summary>Reads a text. Refused is one in which nothing of a scan is found, with what is expected.</summary>
    public static Outcome<BusScan> Read(string text)
    {
        if (text.Length > Longest)
        {
            return Outcome<BusScan>.Refused($"A scan has at most {Longest} characters.");
        }
        if (text.TrimStart().StartsWith('{'))
        {
            return Json(text);
        }
        var (devices, inUse) = (new Dictionary<int, int?>(), new HashSet<int>());
        var list = AddressList(text);
        var (roms, celsius) = list is null ? ReadRoms(text) : ([], []);
        // What is read as a code is no address too.
        var rest = RomShape().Replace(text, " ");
        if (LooksGrid().IsMatch(rest))
        {
            if (Torn(rest) is { } torn)
            {
                return Outcome<BusScan>.Refused(torn);
            }
            foreach (Match row in GridRow().Matches(rest))
            {
                ReadRow(row, devices, inUse);
            }
        }
        else if (list is not null)
        {
            list.ForEach(a => devices.TryAdd(a, null));
        }
        else
        {
            ReadNumbers(rest, devices, anyCode: roms.Count > 0);
        }
        var (i2c, wire) = (
            text.Contains("i2c", StringComparison.OrdinalIgnoreCase),
            text.Contains("1-wire", StringComparison.OrdinalIgnoreCase) || text.Contains("onewire", StringComparison.OrdinalIgnoreCase)
        );
        var empty = Nothing().IsMatch(text) || (devices.Count == 0 && LooksGrid().IsMatch(rest));
        if (devices.Count == 0 && roms.Count == 0 && !empty)
        {
            return Outcome<BusScan>.Refused(
                "Nothing of a scan is found in it. Paste addresses (0x76), a table of them, 1-Wire codes of 16 hexadecimal digits, or \"none\" when "
                    + "nothing answered."
            );
        }
        return devices.Keys.FirstOrDefault(a => a > 0xFF) is > 0 and var beyond
            ? Outcome<BusScan>.Refused($"0x{beyond:X} is no I2C address; they have 7 bits. Was the paste torn?")
            : Outcome<BusScan>.Of(
                new(
                    [.. devices.OrderBy(d => d.Key).Select(d => new ScannedDevice(d.Key, d.Value, inUse.Contains(d.Key)))],
                    [.. roms.Select(r => new RomCode(r))],
                    devices.Count > 0 || (empty && (i2c || !wire)),
                    roms.Count > 0 || (empty && (wire || !i2c))
                )
                {
                    Celsius = celsius,
                }
            );
    }

    /// <summary>Addresses in running text: in hexadecimal, else in decimal.</summary>
    private static void ReadNumbers(string text, Dictionary<int, int?> devices, bool anyCode)
    {
        foreach (Match one in Hexadecimal().Matches(text))
        {
            var identity = one.Groups[2].Success ? int.Parse(one.Groups[2].Value, NumberStyles.HexNumber, CultureInfo.InvariantCulture) : (int?)null;
            var address = int.Parse(one.Groups[1].Value, NumberStyles.HexNumber, CultureInfo.InvariantCulture);
            devices[address] = identity ?? devices.GetValueOrDefault(address);
        }
        if (devices.Count == 0 && !anyCode)
        {
            foreach (Match one in Decimal().Matches(text))
            {
                devices.TryAdd(int.Parse(one.Value, CultureInfo.InvariantCulture), null);
            }
        }
    }

    /// <summary>1-Wire codes, and the temperature that stands beside one.</summary>
    private static (List<string> Roms, Dictionary<string, double> Celsius) ReadRoms(string text)
    {
        var (roms, celsius) = (new List<string>(), new Dictionary<string, double>());
        foreach (Match rom in RomShape().Matches(text))
        {
            Add(roms, Plain(rom.Value));
            if (Beside().Match(text, rom.Index + rom.Length) is { Success: true } beside && beside.Index == rom.Index + rom.Length)
            {
                celsius[Plain(rom.Value)] = double.Parse(beside.Groups[1].Value, CultureInfo.InvariantCulture);
            }
        }
        return (roms, celsius);
    }

    /// <summary>A row of a table: its cells stand under 0 to f, so that one that is in use has the address of its place.</summary>
    private static void ReadRow(Match row, Dictionary<int, int?> devices, HashSet<int> inUse)
    {
        var from = int.Parse(row.Groups[1].Value, NumberStyles.HexNumber, CultureInfo.InvariantCulture);
        var cells = row.Groups[2].Value.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        // The first row lacks the reserved addresses before its first cell, the last those after its last.
        var first = from == 0 ? 16 - cells.Length : 0;
        for (var i = 0; i < cells.Length; i++)
        {
            var address =
                cells[i] == "UU" ? from + first + i
                : cells[i] == "--" ? -1
                : int.Parse(cells[i], NumberStyles.HexNumber, CultureInfo.InvariantCulture);
            if (address >= 0)
            {
                devices.TryAdd(address, null);
            }
            if (cells[i] == "UU")
            {
                inUse.Add(address);
            }
        }
    }

    /// <summary>Why a table is not whole; null when it is.</summary>
    private static string? Torn(string text)
    {
        const string again = "Paste it whole, from its heading line (0 1 2 … f) to the row 70.";
        foreach (var line in text.Split('\n').Select(l => l.TrimEnd()))
        {
            if (LooksHeading().IsMatch(line) && string.Concat(line.Split(' ', StringSplitOptions.RemoveEmptyEntries)) != "0123456789abcdef")
            {
                return $"The table is torn: its heading line \"{line.Trim()}\" is not 0 to f. {again}";
            }
            if (LooksGrid().IsMatch(line) && !GridRow().IsMatch(line))
            {
                return $"The table is torn: the row \"{(line.Length > 60 ? line[..60] + "…" : line).Trim()}\" does not begin with 00: to 70:. {again}";
            }
        }
        return null;
    }

    /// <summary>Eight or fewer rising numbers of two digits are a list of addresses, though they could be the bytes
    /// of a code, unless their CRC says that they are one; null for no list.</summary>
    private static List<int>? AddressList(string text)
    {
        var words = text.Split([' ', ',', ';', '\t', '\r', '\n'], StringSplitOptions.RemoveEmptyEntries);
        if (words.Length < 2 || !words.All(w => w.Length == 2 && w.All(char.IsAsciiHexDigit)))
        {
            return null;
        }
        var numbers = words.Select(w => int.Parse(w, NumberStyles.HexNumber, CultureInfo.InvariantCulture)).ToList();
        var rising = numbers.Zip(numbers.Skip(1)).All(p => p.First < p.Second) && numbers[0] >= 0x08 && numbers[^1] <= 0x77;
        // Fewer than eight without a letter may as well be decimal: those are read as such.
        var hexadecimal = words.Length >= 8 || words.Any(w => w.Any(char.IsAsciiLetter));
        return rising && hexadecimal && !(words.Length == 8 && new RomCode(string.Concat(words)).CrcGood) ? numbers : null;
    }

    private static Outcome<BusScan> Json(string text)
    {
        try
        {
            using var document = JsonDocument.Parse(text);
            var root = document.RootElement;
            var (i2c, rom) = (root.TryGetProperty("i2c", out var addresses), root.TryGetProperty("rom", out var codes));
            List<ScannedDevice> devices = i2c
                ?
                [
                    .. addresses
                        .EnumerateArray()
                        .Select(a => a.ValueKind == JsonValueKind.Array ? new ScannedDevice(a[0].GetInt32(), a[1].GetInt32()) : new(a.GetInt32(), null))
                        .DistinctBy(d => d.Address)
                        .OrderBy(d => d.Address),
                ]
                : [];
            var probes = rom
                ? codes
                    .EnumerateArray()
                    .Select(c =>
                        c.ValueKind == JsonValueKind.Array
                            ? (Code: Plain(c[0].GetString() ?? ""), Celsius: (double?)c[1].GetDouble())
                            : (Code: Plain(c.GetString() ?? ""), Celsius: null)
                    )
                    .ToList()
                : [];
            List<string> roms = [.. probes.Select(p => p.Code).Distinct()];
            return !i2c && !rom ? Outcome<BusScan>.Refused("The JSON has neither \"i2c\" nor \"rom\".")
                : devices.Any(d => d.Address is < 0 or > 0xFF) || roms.Any(r => r.Length != 16 || !r.All(char.IsAsciiHexDigit))
                    ? Outcome<BusScan>.Refused("An address has 7 bits, a code 16 hexadecimal digits.")
                : Outcome<BusScan>.Of(
                    new(devices, [.. roms.Select(r => new RomCode(r))], i2c, rom)
                    {
                        Celsius = probes.Where(p => p.Celsius is not null).GroupBy(p => p.Code).ToDictionary(g => g.Key, g => g.Last().Celsius!.Value),
                    }
                );
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException or FormatException or IndexOutOfRangeException)
        {
            return Outcome<BusScan>.Refused(
                $"The JSON cannot be read: {fault.Message} It is {{\"i2c\": [118], \"rom\": [\"28…\"]}}, an address with its identity as [118, 96], a "
                    + "code with its temperature as [\"28…\", 21.4]."
            );
        }
    }

    private static void Add(List<string> list, string code)
    {
        if (!list.Contains(code))
        {
            list.Add(code);
        }
    }

    /// <summary>A code as 16 digits. The kernel's form has the serial number backwards and no CRC.</summary>
    private static string Plain(string code)
    {
        if (KernelShape().Match(code) is { Success: true } kernel)
        {
            byte[] seven = [.. Convert.FromHexString(kernel.Groups[1].Value), .. Convert.FromHexString(kernel.Groups[2].Value).Reverse()];
            return Convert.ToHexString([.. seven, OneWire.Crc8(seven)]);
        }
        return string.Concat(
                code.Replace("0x", "", StringComparison.OrdinalIgnoreCase)
                    .Split([' ', '-', ':', ',', '\t'], StringSplitOptions.RemoveEmptyEntries)
                    .Select(b => b.PadLeft(2, '0'))
            )
            .ToUpperInvariant();
    }

    /// <summary>Eight bytes as 28FF641E8D1603BD, 28-FF-…, 28 FF …, 28:FF:…, 0x28, 0xFF, …, with
    /// single digits for small ones, or 28- and the serial number.</summary>
    [GeneratedRegex(
        @"(?<!0x[0-9A-Fa-f]{1,2}[,\s]+)\b0x(?:28|10|22|3B|3b)(?:[,\s]+0x[0-9A-Fa-f]{1,2}){7}\b(?![,\s]+0x)"
            + @"|\b[0-9A-Fa-f]{2}(?:[-:][0-9A-Fa-f]{1,2}){7}\b"
            + @"|\b(?:28|10|22|3B|3b)(?: [0-9A-Fa-f]{1,2}){7}\b"
            + @"|\b[0-9A-Fa-f]{16}\b"
            + @"|\b[0-9A-Fa-f]{2}-(?:[0-9A-Fa-f]{14}|[0-9A-Fa-f]{12})\b"
    )]
    private static partial Regex RomShape();

    /// <summary>A temperature after a code, with its decimal point: "28-…: 21.37".</summary>
    [GeneratedRegex(@"(?:[ \t]*[:=][ \t]*|[ \t]+)([-+]?\d{1,3}\.\d{1,4})\b")]
    private static partial Regex Beside();

    [GeneratedRegex(@"^([0-9A-Fa-f]{2})-([0-9A-Fa-f]{12})$")]
    private static partial Regex KernelShape();

    [GeneratedRegex(@"^\s*([0-7]0):((?: +(?:[0-9A-Fa-f]{2}|--|UU))+)\s*$", RegexOptions.Multiline)]
    private static partial Regex GridRow();

    /// <summary>Part of a row of a table: three cells of which one is empty.</summary>
    [GeneratedRegex(@"(?:^|[ :])(?:(?:[0-9A-Fa-f]{2}|UU) +){0,14}--(?: +(?:[0-9A-Fa-f]{2}|--|UU)){2,}", RegexOptions.Multiline)]
    private static partial Regex LooksGrid();

    /// <summary>Part of the heading of a table: hexadecimal digits one by one, rising.</summary>
    [GeneratedRegex(@"^\s*(?:[0-9a-f] +){3,}[0-9a-f]\s*$")]
    private static partial Regex LooksHeading();

    [GeneratedRegex(@"0x([0-9A-Fa-f]{1,4})\b(?:\s*(?:,|:|=|-|\()?\s*(?:id|identity|chip id)\s*[:=]?\s*0x([0-9A-Fa-f]{1,4}))?", RegexOptions.IgnoreCase)]
    private static partial Regex Hexadecimal();

    [GeneratedRegex(@"(?<![0-9.])(?:[89]|[1-9][0-9]|1[0-2][0-9])(?![0-9.])")]
    private static partial Regex Decimal();

    [GeneratedRegex(@"\b(?:none|nothing|no (?:i2c |1-wire |onewire )?(?:device|devices|address|addresses|sensor|sensors))\b", RegexOptions.IgnoreCase)]
    private static partial Regex Nothing();
}
