using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>How a radio bridge writes what it heard onto its serial line.</summary>
public enum FrameKind
{
    /// <summary>One number and a line feed: 21.5⏎.</summary>
    ValuePerLine,

    /// <summary>Numbers, each followed by a letter of its own: 21.5t55h.</summary>
    LetteredValues,

    /// <summary>Numbers with a separator between them, in the order of the fields, and a line feed: 21.5,55⏎.</summary>
    SeparatedValues,

    /// <summary>Numbers in binary at fixed places, whole ones scaled, between start bytes and a check.</summary>
    Binary,

    /// <summary>Start bytes, a length, a message as nodes send it (SenML or a flat JSON object), and a check.</summary>
    LengthPrefixed,
}

/// <summary>A number in a binary frame; the letters say which byte comes first (little or big end).</summary>
public enum FrameNumber
{
    /// <summary>One byte, 0 to 255.</summary>
    U8,

    /// <summary>One byte, -128 to 127.</summary>
    I8,

    /// <summary>Two bytes without sign, the low one first.</summary>
    U16Le,

    /// <summary>Two bytes without sign, the high one first.</summary>
    U16Be,

    /// <summary>Two bytes with sign, the low one first.</summary>
    I16Le,

    /// <summary>Two bytes with sign, the high one first.</summary>
    I16Be,

    /// <summary>Four bytes without sign, the lowest first.</summary>
    U32Le,

    /// <summary>Four bytes without sign, the highest first.</summary>
    U32Be,

    /// <summary>Four bytes with sign, the lowest first.</summary>
    I32Le,

    /// <summary>Four bytes with sign, the highest first.</summary>
    I32Be,

    /// <summary>Single precision (IEEE 754), the lowest byte first.</summary>
    F32Le,

    /// <summary>Single precision (IEEE 754), the highest byte first.</summary>
    F32Be,
}

/// <summary>The check at the end of a frame: none, or a CRC of 16 bits over everything between start bytes and check, big end first except Modbus.</summary>
public enum FrameCheck
{
    /// <summary>No check.</summary>
    None,

    /// <summary>CRC-16 with 0x1021, begun with 0xFFFF.</summary>
    CcittFalse,

    /// <summary>CRC-16 with 0x1021, begun with 0.</summary>
    Xmodem,

    /// <summary>CRC-16 with 0x8005, reflected, begun with 0xFFFF.</summary>
    Modbus,
}

/// <summary>One number of a frame and the reading it is.</summary>
/// <param name="Letter">The letter that follows it; with <see cref="FrameKind.LetteredValues"/> only.</param>
/// <param name="Number">How it is written; with <see cref="FrameKind.Binary"/> only.</param>
/// <param name="Scale">What the number is multiplied by to give the reading in its unit.</param>
/// <param name="Offset">Added after that, in the unit.</param>
public sealed record FrameField(
    string Node,
    string Reading,
    string? Letter = null,
    FrameNumber Number = FrameNumber.I16Be,
    double Scale = 1,
    double Offset = 0
);

/// <summary>The frames of a line.</summary>
/// <param name="Separator">Between numbers; with <see cref="FrameKind.SeparatedValues"/> only.</param>
/// <param name="Start">Bytes every binary frame begins with, as hexadecimal digits; may be empty.</param>
/// <param name="LengthBytes">Bytes of the length, big end first: 1 or 2.</param>
/// <param name="Node">Whose readings a message names; with <see cref="FrameKind.LengthPrefixed"/> only.</param>
public sealed record FrameFormat(
    FrameKind Kind,
    IReadOnlyList<FrameField> Fields,
    string Separator = ",",
    string Start = "",
    FrameCheck Check = FrameCheck.None,
    int LengthBytes = 1,
    string? Node = null
)
{
    /// <summary>Whether its frames tell readings of a node.</summary>
    public bool Names(string node) => Node == node || Fields.Any(f => f.Node == node);

    /// <summary>True when a frame carries a check; without one noise may pass as a value.</summary>
    [JsonIgnore]
    public bool Checked => Kind is FrameKind.Binary or FrameKind.LengthPrefixed && Check != FrameCheck.None;
}

/// <summary>A serial line from a radio bridge.</summary>
/// <param name="Port">A device such as /dev/ttyUSB0, or tcp://HOST:PORT for a line that comes over the network.</param>
/// <param name="Baud">Bits a second; of no meaning over the network.</param>
public sealed record SerialLineDesign(string Key, string Label, string Port, int Baud, FrameFormat Format, bool Open = true);
