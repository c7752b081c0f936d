namespace Cenotic.Core.BringUp;

/// <summary>Identity registers of chips and what they hold, for telling lookalikes apart. Source: data sheets of the parts, from memory.</summary>
internal static class Identities
{
    /// <param name="Register">Where it stands.</param>
    /// <param name="Value">What this chip has there.</param>
    internal sealed record Identity(string Part, int Register, int Value);

    internal static readonly IReadOnlyList<Identity> Known =
    [
        new("bme280", 0xD0, 0x60),
        new("bmp280", 0xD0, 0x58),
        new("bme680", 0xD0, 0x61),
        new("vl53l0x", 0xC0, 0xEE),
        new("tsl2591", 0x12, 0x50),
    ];

    internal static Identity? Of(string part) => Known.FirstOrDefault(i => i.Part == part);

    /// <summary>Parts whose identity is this value, read from the same register as that of a part.</summary>
    internal static IEnumerable<string> With(int register, int value) => Known.Where(i => i.Register == register && i.Value == value).Select(i => i.Part);
}
