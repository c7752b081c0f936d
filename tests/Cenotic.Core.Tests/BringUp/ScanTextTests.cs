using Cenotic.Core.BringUp;
using CsCheck;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>Scans as scanning programs print them.</summary>
public class ScanTextTests
{
    private const string Good = "28FF641E8D1603BD";

    private const string Grid = """
             0  1  2  3  4  5  6  7  8  9  a  b  c  d  e  f
        00:                         -- -- -- -- -- -- -- --
        20: -- -- -- 23 -- -- -- -- -- -- -- -- -- -- -- --
        50: -- -- -- -- -- -- -- -- -- -- -- -- 5c -- -- --
        60: -- -- -- -- -- -- -- -- UU -- -- -- -- -- -- --
        70: -- -- -- -- -- -- 76 --
        """;

    public static readonly TheoryData<string, int[], string[]> Texts = new()
    {
        { "I2C device found at address 0x23\nI2C device found at address 0x76 !\ndone", [0x23, 0x76], [] },
        { Grid, [0x23, 0x5C, 0x68, 0x76], [] },
        // Eight addresses in two digits each could be the bytes of a code: their CRC says that they are none.
        { "28 3c 40 48 50 68 76 77", [0x28, 0x3C, 0x40, 0x48, 0x50, 0x68, 0x76, 0x77], [] },
        { "23, 3c, 76", [0x23, 0x3C, 0x76], [] },
        { "20: -- -- -- 23 -- -- -- -- -- -- -- -- -- -- -- --", [0x23], [] },
        { "[35, 118]", [35, 118], [] },
        { "Found: 35, 118", [35, 118], [] },
        { "{\"i2c\": [118, 35]}", [35, 118], [] },
        { "0x76 0x76 0x23", [0x23, 0x76], [] },
        { "ROM = 28 FF 64 1E 8D 16 3 BD", [], [Good] },
        { "28FF641E8D1603BD", [], [Good] },
        { "28-ff641e8d1603bd\n28-FF641E8D1603BD", [], [Good] },
        { "28-FF641E8D1603BD: 21.37\n0x76", [0x76], [Good] },
        { "{\"rom\": [[\"28-FF641E8D1603BD\", -3.5]]}", [], [Good] },
        { "28:ff:64:1e:8d:16:03:bd", [], [Good] },
        { "0x28, 0xFF, 0x64, 0x1E, 0x8D, 0x16, 0x3, 0xBD", [], [Good] },
        { "28 FF 64 1E 8D 16 03 BD\n0x76", [0x76], [Good] },
        // As the kernel names them: the serial number backwards, without the CRC.
        { "28-03168d1e64ff", [], [Good] },
        { "No I2C devices found", [], [] },
        { "onewire: none", [], [] },
    };

    [Fact]
    public void What_a_driver_holds_is_there_and_was_not_asked()
    {
        var scan = ScanText.Read(Grid).Value;
        Assert.Equal([0x68], scan.Devices.Where(d => d.InUse).Select(d => d.Address));
        // In the first row the cells begin at 08.
        Assert.Equal([0x0A], ScanText.Read("00:                         -- -- UU -- -- -- -- --\n10: -- -- --").Value.Devices.Select(d => d.Address));
    }

    [Theory]
    [InlineData("5  6  7  8  9  a  b  c  d  e  f\n20: -- -- -- 23 -- -- --\n30: -- -- --")]
    [InlineData("     0  1  2  3  4  5  6  7  8  9  a  b  c  d  e  f\n0: -- -- -- 23 -- -- --\n30: -- -- --")]
    [InlineData("     0  1  2  3  4  5  6  7  8  9  a  b\n20: -- -- -- 23 -- -- --")]
    public void A_torn_table_is_told_as_torn(string text) => Assert.Contains("torn", ScanText.Read(text).Reasons[0]);

    [Theory]
    [MemberData(nameof(Texts))]
    public void Addresses_and_codes_are_read(string text, int[] addresses, string[] roms)
    {
        var scan = ScanText.Read(text).Value;
        Assert.Equal(addresses, scan.Devices.Select(d => d.Address));
        Assert.Equal(roms, scan.Roms.Select(r => r.Hex));
    }

    [Theory]
    [InlineData("0x76 id 0x58", 0x58)]
    [InlineData("0x76: chip id = 0x60", 0x60)]
    [InlineData("{\"i2c\": [[118, 97]]}", 0x61)]
    [InlineData("0x76", null)]
    public void An_identity_goes_with_its_address(string text, int? identity) =>
        Assert.Equal(new ScannedDevice(0x76, identity), Assert.Single(ScanText.Read(text).Value.Devices));

    [Theory]
    [InlineData("")]
    [InlineData("Hello")]
    [InlineData("0x7600")]
    [InlineData("{\"i2c\": 5}")]
    [InlineData("{\"i2c\": [300]}")]
    [InlineData("{\"rom\": [\"28FF\"]}")]
    [InlineData("{\"i2c\": [118")]
    [InlineData("{}")]
    public void What_is_no_scan_is_refused_with_what_would_be_one(string text)
    {
        var read = ScanText.Read(text);
        Assert.False(read.Ok);
        Assert.All(read.Reasons, r => Assert.True(r.Length > 30));
    }

    [Fact]
    public void Damaged_text_never_throws_and_any_list_of_addresses_is_read_back()
    {
        Gen.Select(Gen.Int[0, Grid.Length - 1], Gen.Char, Gen.Int[0, Grid.Length])
            .Sample(
                (at, with, length) =>
                {
                    _ = ScanText.Read(string.Concat(Grid[..at], with.ToString(), Grid[(at + 1)..])[..length]).Ok;
                },
                iter: 10_000
            );
        Gen.Int[8, 0x77]
            .HashSet[1, 40]
            .Sample(addresses =>
                Assert.Equal(addresses.Order(), ScanText.Read(string.Join("\n", addresses.Select(a => $"found 0x{a:x2}"))).Value.Devices.Select(d => d.Address))
            );
    }

    [Theory]
    [InlineData("28-FF641E8D1603BD: 21.37", 21.37)]
    [InlineData("28FF641E8D1603BD = -0.06 C", -0.06)]
    [InlineData("{\"rom\": [[\"28-FF641E8D1603BD\", 85.0]]}", 85.0)]
    [InlineData("28-FF641E8D1603BD 118", null)]
    [InlineData("28-FF641E8D1603BD\n21.5", null)]
    public void A_temperature_beside_a_code_is_read(string text, double? celsius) =>
        Assert.Equal(celsius, ScanText.Read(text).Value.Celsius.TryGetValue(Good, out var found) ? found : null);
}
