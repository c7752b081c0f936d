using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Cenotic.Core.BringUp;

namespace Cenotic.Core.Formats;

/// <summary>Text of people as C source that it cannot break out of.</summary>
internal static partial class CText
{
    /// <summary>A name for a macro.</summary>
    public static string Name(string text) =>
        Plain().Replace(text.Replace("+", "P", StringComparison.Ordinal).Replace("-", "_", StringComparison.Ordinal), "_").ToUpperInvariant();

    /// <summary>Text that cannot end a comment or a line.</summary>
    public static string Comment(string text) =>
        new string([.. text.Select(c => char.IsControl(c) ? ' ' : c)])
            .Replace("*/", "* /", StringComparison.Ordinal)
            .Replace("/*", "/ *", StringComparison.Ordinal)
            .Replace("\\", "/", StringComparison.Ordinal);

    /// <summary>A string literal (C99 6.4.5): bytes outside printable ASCII, quotes, question marks and backslashes as octal escapes.</summary>
    public static string Quoted(string text) =>
        $"\"{string.Concat(Encoding.UTF8.GetBytes(text).Select(b => IsPlain(b) ? ((char)b).ToString() : $"\\{Convert.ToString(b, 8).PadLeft(3, '0')}"))}\"";

    private static bool IsPlain(byte b) => b is >= 0x20 and < 0x7F and not (byte)'"' and not (byte)'\\' and not (byte)'?';

    /// <summary>A line that defines each pin, or each line of a helper by its position.</summary>
    public static IEnumerable<string> Pins(IReadOnlyList<PinSetting> pins) =>
        pins.Select(p =>
            $"#define {(p.Helper is null ? "PIN" : "LINE")}_{Name(p.Part)}_{Name(p.Line)} "
            + $"{(p.Helper is null ? p.Gpio : p.HelperLine)?.ToString(CultureInfo.InvariantCulture) ?? Name(p.Pin)} /* {Comment(p.PinLabel)} */"
        );

    /// <summary>A line that defines the address of a part.</summary>
    public static string Address(string part, int address, string? bus, string? behind) =>
        $"#define ADDR_{Name(part)} 0x{address:X2} /* {Comment(bus ?? "")}{(behind is null ? "" : ", " + Comment(behind))} */";

    [GeneratedRegex("[^A-Za-z0-9_]")]
    private static partial Regex Plain();
}
