using System.Reflection;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;

namespace Cenotic.Core.Tests.Catalogue;

public class CatalogueTests
{
    [Fact]
    public void It_ships_every_board_part_cell_and_supply_of_the_reference()
    {
        Assert.Equal(13, Samples.Catalogue.Boards.Count);
        // Besides those of the reference the transmitter that belongs to its receiver of on-off keying.
        Assert.Equal(91 + 1, Samples.Catalogue.Parts.Count);
        Assert.Equal(6, Samples.Catalogue.Cells.Count);
        Assert.Equal(14, Samples.Catalogue.Supplies.Count);
        Assert.Equal([16, 16, 26, 27, 30, 30, 30, 33, 38, 40, 40, 40, 44], Samples.Catalogue.Boards.Select(b => b.Pins.Count).Order());
    }

    [Fact]
    public void Every_fact_has_a_number_in_order_and_a_source()
    {
        var facts = Samples
            .Catalogue.Boards.SelectMany(b => Facts(b))
            .Concat(Samples.Catalogue.Parts.SelectMany(p => Facts(p)))
            .Concat(Samples.Catalogue.Cells.SelectMany(c => Facts(c)))
            .ToList();
        Assert.True(facts.Count > 70);
        Assert.All(facts, f =>
        {
            Assert.False(string.IsNullOrWhiteSpace(f.Fact.Source), f.Where);
            Assert.True(f.Fact.Low <= f.Fact.Likely && f.Fact.Likely <= f.Fact.High, f.Where);
            // A level in dBm may lie below a milliwatt.
            Assert.True(f.Fact.Low >= 0 || f.Where.EndsWith("Dbm", StringComparison.Ordinal), f.Where);
        });
    }

    [Fact]
    public void Every_line_of_an_interface_is_a_pin_of_its_part_and_its_supply_pins_exist()
    {
        foreach (var part in Samples.Catalogue.Parts)
        {
            Assert.All(part.Interfaces.SelectMany(i => i.Lines), l => Assert.Contains(l.Name, part.Pins));
            Assert.True(part.SupplyPin is null || part.Pins.Contains(part.SupplyPin));
            Assert.True(part.GroundPin is null || part.Pins.Contains(part.GroundPin));
            Assert.All(part.Interfaces.Where(i => i.Kind == InterfaceKind.I2c), i => Assert.NotEmpty(i.Addresses!));
        }
    }

    [Fact]
    public void Pins_stand_once_each_in_their_order()
    {
        foreach (var board in Samples.Catalogue.Boards)
        {
            Assert.Equal(board.Pins.Count, board.Pins.Select(p => p.Id).Distinct().Count());
            Assert.Equal(board.Pins.Count, board.Pins.Select(p => (p.Side, p.Position)).Distinct().Count());
            Assert.All(board.Pins.Where(p => p.Kind == PinKind.Gpio), p => Assert.NotNull(p.Gpio));
            Assert.All(board.Rails, r => Assert.Contains(board.Pins, p => p.Rail == r.Id));
        }
    }

    [Fact]
    public void The_38_pin_board_knows_its_hazards()
    {
        // ESP32 data sheet, strapping pins and pin list, from memory.
        int[] Of(Func<Pin, bool> has) => [.. Samples.Board().Pins.Where(p => p.Gpio is not null && has(p)).Select(p => p.Gpio!.Value).Order()];
        Assert.Equal([6, 7, 8, 9, 10, 11], Of(p => p.Has(Hazard.Flash)));
        Assert.Equal([34, 35, 36, 39], Of(p => !p.Output && p.Input));
        Assert.Equal([12], Of(p => p.Has(Hazard.StrapLow)));
        Assert.Equal([0], Of(p => p.Has(Hazard.StrapHigh)));
        Assert.Equal([2], Of(p => p.Has(Hazard.StrapLoaderLow)));
        Assert.Equal([0, 1, 5, 14, 15], Of(p => p.Has(Hazard.BootPulse)));
        Assert.Equal([1, 3], Of(p => p.Has(Hazard.Console)));
        Assert.Equal([0, 2, 4, 12, 13, 14, 15, 25, 26, 27], Of(p => p.Has(Hazard.AdcStopsWithWifi)));
        Assert.Equal([0, 2, 4, 12, 13, 14, 15, 25, 26, 27, 32, 33, 34, 35, 36, 39], Of(p => p.Wakes));
    }

    [Fact]
    public void The_40_pin_board_has_fixed_roles()
    {
        // RP2040 data sheet: SDA of either controller on even pins, SCL on odd ones.
        foreach (var pin in Samples.Board(Samples.Rp2040).Pins.Where(p => p.Kind == PinKind.Gpio))
        {
            Assert.EndsWith(pin.Gpio % 2 == 0 ? "SDA" : "SCL", Assert.Single(pin.I2c));
            Assert.Equal(pin.Gpio / 2 % 2, int.Parse(pin.I2c[0].AsSpan(3, 1)));
        }
    }

    private static IEnumerable<(string Where, Fact Fact)> Facts(object record) =>
        record
            .GetType()
            .GetProperties(BindingFlags.Public | BindingFlags.Instance)
            .Where(p => p.GetIndexParameters().Length == 0)
            .SelectMany(p =>
                p.GetValue(record) switch
                {
                    Fact fact => [($"{record} {p.Name}", fact)],
                    BoardCurrents currents => Facts(currents),
                    RadioModem modem => Facts(modem),
                    IEnumerable<Rail> rails => rails.SelectMany(Facts),
                    _ => Enumerable.Empty<(string, Fact)>(),
                }
            );
}
