using System.Text.RegularExpressions;
using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>What a board, part or cell must keep to, beyond its shape. Each fault names the member and the rule.</summary>
public static partial class HardwareRules
{
    /// <summary>Faults of a part; empty when it can be planned with.</summary>
    public static IReadOnlyList<(string Member, string Rule)> Faults(Part part)
    {
        var faults = new List<(string, string)>();
        Name(faults, part.Id, part.Label);
        Facts(
            faults,
            [
                ("sleepMicroamps", part.SleepMicroamps),
                ("activeMilliamps", part.ActiveMilliamps),
                ("peakMilliamps", part.PeakMilliamps),
                ("warmUpMs", part.WarmUpMs),
                ("conversionMs", part.ConversionMs),
                ("minIntervalMs", part.MinIntervalMs),
                ("pullUpOhms", part.PullUpOhms),
                ("peakMs", part.PeakMs),
                ("bulkMicrofarads", part.BulkMicrofarads),
                ("view.rangeMetres", part.View?.RangeMetres),
                ("view.zones", part.View?.Zones),
                ("modem.transmitMilliamps", part.Modem?.TransmitMilliamps),
                ("modem.standbyMilliamps", part.Modem?.StandbyMilliamps),
                ("texts.sendMs", part.Texts?.SendMs),
            ]
        );
        if (part.SupplyMinVolts is null != part.SupplyMaxVolts is null || part.SupplyMinVolts > part.SupplyMaxVolts)
        {
            faults.Add(("$.supplyMinVolts", "the supply range needs both ends, the lower first."));
        }
        if (part.SupplyPin is { } supply && !part.Pins.Contains(supply))
        {
            faults.Add(("$.supplyPin", $"\"{supply}\" is not one of the pins."));
        }
        if (part.GroundPin is { } ground && !part.Pins.Contains(ground))
        {
            faults.Add(("$.groundPin", $"\"{ground}\" is not one of the pins."));
        }
        Quantities(faults, part.Quantities);
        Abilities(faults, part);
        for (var i = 0; i < part.Interfaces.Count; i++)
        {
            Interface(faults, part, part.Interfaces[i], $"$.interfaces[{i}]");
        }
        for (var l = 0; l < (part.Helper?.Lines.Count ?? 0); l++)
        {
            if (!part.Pins.Contains(part.Helper!.Lines[l].Name))
            {
                faults.Add(($"$.helper.lines[{l}].name", $"\"{part.Helper.Lines[l].Name}\" is not one of the pins."));
            }
        }
        return faults;
    }

    /// <summary>Faults of a board; empty when it can be planned with.</summary>
    public static IReadOnlyList<(string Member, string Rule)> Faults(Board board)
    {
        var faults = new List<(string, string)>();
        Name(faults, board.Id, board.Label);
        Facts(faults, [("bootMs", board.BootMs), ("connectMs", board.ConnectMs), ("internalPullOhms", board.InternalPullOhms)]);
        for (var r = 0; r < board.Radios.Count; r++)
        {
            Packets(faults, board.Radios[r].Packets, $"radios[{r}].packets");
        }
        if (!(board.LogicVolts is > 0 and <= 5.5) || board.PinMaxVolts < board.LogicVolts || board.HighAtLeastVolts > board.LogicVolts)
        {
            faults.Add(("$.logicVolts", "the logic supply is above 0 and at most 5.5 V; a pin stands at least that, and reads high at or below it."));
        }
        for (var p = 0; p < board.Pins.Count; p++)
        {
            var pin = board.Pins[p];
            if (string.IsNullOrWhiteSpace(pin.Id) || pin.Id.Contains(':', StringComparison.Ordinal) || board.Pins.Take(p).Any(o => o.Id == pin.Id))
            {
                faults.Add(($"$.pins[{p}].id", "each pin has an id of its own, without a colon."));
            }
            if (board.Pins.Take(p).Any(o => o.Side == pin.Side && o.Position == pin.Position))
            {
                faults.Add(($"$.pins[{p}].position", "two pins of one side stand at one position."));
            }
            if (pin.Rail is { } rail && board.Rails.All(r => r.Id != rail) && board.Supplies.All(s => s.Id != rail))
            {
                faults.Add(($"$.pins[{p}].rail", $"\"{rail}\" is neither a rail nor an input of this board."));
            }
        }
        if (board.Pins.Count(p => p.Kind == PinKind.Gpio) == 0 || board.Pins.All(p => p.Kind != PinKind.Ground))
        {
            faults.Add(("$.pins", "a board has at least one signal pin and one ground pin."));
        }
        for (var s = 0; s < board.Supplies.Count; s++)
        {
            if (board.Supplies[s].Pin is { } pin && board.Pins.All(p => p.Id != pin))
            {
                faults.Add(($"$.supplies[{s}].pin", $"there is no pin \"{pin}\"."));
            }
        }
        for (var r = 0; r < board.Rails.Count; r++)
        {
            if (board.Pins.All(p => p.Rail != board.Rails[r].Id))
            {
                faults.Add(($"$.rails[{r}].id", "no pin carries this rail."));
            }
        }
        return faults;
    }

    private static void Abilities(List<(string, string)> faults, Part part)
    {
        if (part.Modem is { } modem)
        {
            Modem(faults, modem);
        }
        if (part.Texts is { LargestBytes: not (>= 1 and <= 140) })
        {
            faults.Add(("$.texts.largestBytes", "a text message holds 1 to 140 bytes."));
        }
        if (part.View is { } view)
        {
            View(faults, view);
        }
    }

    private static void Quantities(List<(string, string)> faults, IReadOnlyList<PartQuantity> quantities)
    {
        for (var q = 0; q < quantities.Count; q++)
        {
            if (quantities[q] is { Min: { } min, Max: { } max } && min >= max)
            {
                faults.Add(($"$.quantities[{q}].min", "the range must rise."));
            }
            if (quantities.Take(q).Any(o => o.Quantity == quantities[q].Quantity))
            {
                faults.Add(($"$.quantities[{q}].quantity", "each quantity once."));
            }
        }
    }

    private static void View(List<(string, string)> faults, FieldOfView view)
    {
        static bool Angle(double degrees) => degrees is (> 0 and <= FieldOfView.WidestDegrees) or FieldOfView.AllRound;
        static bool Round(double degrees) => degrees == FieldOfView.AllRound;
        if (!Angle(view.HorizontalDegrees) || !Angle(view.VerticalDegrees) || Round(view.HorizontalDegrees) != Round(view.VerticalDegrees))
        {
            faults.Add(
                ("$.view.horizontalDegrees", $"both angles are above 0 and at most {FieldOfView.WidestDegrees} degrees, or both {FieldOfView.AllRound}.")
            );
        }
        if (!(view.RangeMetres.Low > 0 && view.RangeMetres.High <= 100))
        {
            faults.Add(("$.view.rangeMetres", "a sensor sees above 0 to 100 m."));
        }
        if (view.Zones is { } zones && !(zones.Low >= 1 && zones.High <= 200 && view.HorizontalDegrees <= FieldOfView.WidestDegrees))
        {
            faults.Add(("$.view.zones", "a lens that does not look all round has 1 to 200 zones side by side."));
        }
        if (new[] { view.ThroughLight, view.ThroughGlass, view.ThroughBrick }.Any(t => t is not (>= 0 and <= 1)))
        {
            faults.Add(("$.view.throughLight", "what is left of the range behind a wall is 0 to 1."));
        }
    }

    private static void Modem(List<(string, string)> faults, RadioModem modem)
    {
        void Within(string member, double? value, double low, double high)
        {
            if (!(value is null || (value >= low && value <= high)))
            {
                faults.Add(($"$.modem.{member}", $"it lies between {low} and {high}."));
            }
        }
        if (modem.IsLora)
        {
            Within("spreadingFactor", modem.SpreadingFactor, 6, 12);
            Within("bandwidthKilohertz", modem.BandwidthKilohertz, 7.8, 500);
            Within("codingRate", modem.CodingRate, 1, 4);
        }
        Within("preambleSymbols", modem.PreambleSymbols, 0, 65_535);
        Within("bitsPerSecond", modem.BitsPerSecond, 1, 100_000_000);
        Within("overheadBytes", modem.OverheadBytes, 0, 10_000);
        Within("megahertz", modem.Megahertz, 1, 100_000);
        Within("largestBytes", modem.LargestBytes, 1, 65_535);
        Within("copies", modem.Copies, 1, 64);
        Within("hopChannels", modem.HopChannels, 2, 500);
        Within("answerMs", modem.AnswerMs, 0, 60_000);
        Levels(faults, [("modem.powerDbm", modem.PowerDbm), ("modem.sensitivityDbm", modem.SensitivityDbm)]);
    }

    private static void Packets(List<(string, string)> faults, BoardPackets? packets, string where)
    {
        Facts(
            faults,
            [
                ($"{where}.startMs", packets?.StartMs),
                ($"{where}.transmitMilliamps", packets?.TransmitMilliamps),
                ($"{where}.receiveMilliamps", packets?.ReceiveMilliamps),
            ]
        );
        Levels(
            faults,
            [
                ($"{where}.powerDbm", packets?.PowerDbm),
                ($"{where}.sensitivityDbm", packets?.SensitivityDbm),
                ($"{where}.codedSensitivityDbm", packets?.CodedSensitivityDbm),
            ]
        );
    }

    /// <summary>Powers in dBm, which may lie below 0.</summary>
    private static void Levels(List<(string, string)> faults, IEnumerable<(string Member, Fact? Fact)> levels)
    {
        foreach (var (member, fact) in levels)
        {
            if (fact is { Min: null, Typ: null, Max: null })
            {
                faults.Add(($"$.{member}", "a fact has at least one number; what is not known is null."));
            }
            else if (fact is not null && !(fact.Low >= -200 && fact.Low <= fact.Likely && fact.Likely <= fact.High && fact.High <= 60))
            {
                faults.Add(($"$.{member}", "it lies between -200 and 60, its numbers in order."));
            }
        }
    }

    private static void Interface(List<(string, string)> faults, Part part, PartInterface by, string where)
    {
        for (var l = 0; l < by.Lines.Count; l++)
        {
            if (!part.Pins.Contains(by.Lines[l].Name))
            {
                faults.Add(($"{where}.lines[{l}].name", $"\"{by.Lines[l].Name}\" is not one of the pins."));
            }
        }
        if (by.Kind == InterfaceKind.I2c && (by.Addresses is not { Count: > 0 } || by.Addresses.Any(a => a.Address is < 0x08 or > 0x77)))
        {
            faults.Add(($"{where}.addresses", "an I2C interface has at least one address, from 8 to 119 (0x08 to 0x77)."));
        }
        LineRole[] wanted = by.Kind switch
        {
            InterfaceKind.I2c => [LineRole.I2cSda, LineRole.I2cScl],
            InterfaceKind.Spi => [LineRole.SpiSck, LineRole.SpiSelect],
            InterfaceKind.OneWire => [LineRole.OneWire],
            InterfaceKind.Analog when by.Lines.All(l => l.Role != LineRole.Touch) => [LineRole.Analog],
            _ => [],
        };
        if (wanted.Any(w => by.Lines.All(l => l.Role != w)))
        {
            faults.Add(($"{where}.lines", $"this kind of interface needs lines for {string.Join(" and ", wanted)}."));
        }
        if (by.Quantities?.Any(q => part.Quantities.All(p => p.Quantity != q)) == true)
        {
            faults.Add(($"{where}.quantities", "a quantity is named here that the part has not."));
        }
    }

    /// <summary>Faults of a cell; empty when it can be planned with.</summary>
    public static IReadOnlyList<(string Member, string Rule)> Faults(Cell cell)
    {
        var faults = new List<(string, string)>();
        Name(faults, cell.Id, cell.Label);
        Facts(
            faults,
            [
                ("capacityMilliampHours", cell.CapacityMilliampHours),
                ("usableFraction", cell.UsableFraction),
                ("selfDischargePerYear", cell.SelfDischargePerYear),
                ("coldFactor", cell.ColdFactor),
                ("maxPulseMilliamps", cell.MaxPulseMilliamps),
                ("internalOhms", cell.InternalOhms),
            ]
        );
        if (!(cell.EmptyVolts > 0 && cell.EmptyVolts < cell.NominalVolts && cell.NominalVolts <= cell.FullVolts && cell.FullVolts <= 60))
        {
            faults.Add(("$.emptyVolts", "empty, nominal and full rise, and lie between 0 and 60 V."));
        }
        foreach (
            var (member, fraction) in new[]
            {
                ("usableFraction", cell.UsableFraction),
                ("selfDischargePerYear", cell.SelfDischargePerYear),
                ("coldFactor", cell.ColdFactor),
            }
        )
        {
            if (fraction.High > 1)
            {
                faults.Add(($"$.{member}", "is a part of the capacity, 0 to 1."));
            }
        }
        if (cell.CapacityMilliampHours.Low <= 0)
        {
            faults.Add(("$.capacityMilliampHours", "is more than nothing."));
        }
        if (
            cell.Curve is { } curve
            && (
                curve.Count < 2
                || curve[0].Used != 0
                || curve[^1].Used != 1
                || curve.Zip(curve.Skip(1)).Any(p => p.First.Used >= p.Second.Used || p.First.Volts <= p.Second.Volts)
            )
        )
        {
            faults.Add(("$.curve", "begins at 0 and ends at 1 taken out; its voltage falls all the way."));
        }
        return faults;
    }

    private static void Name(List<(string, string)> faults, string id, string label)
    {
        if (!IdForm().IsMatch(id))
        {
            faults.Add(("$.id", "1 to 40 small letters, digits and hyphens, starting with a letter."));
        }
        if (string.IsNullOrWhiteSpace(label) || label.Length > 80 || label.Any(char.IsControl))
        {
            faults.Add(("$.label", "1 to 80 characters on one line."));
        }
    }

    private static void Facts(List<(string, string)> faults, IEnumerable<(string Member, Fact? Fact)> facts)
    {
        foreach (var (member, fact) in facts)
        {
            if (fact is { Min: null, Typ: null, Max: null })
            {
                faults.Add(($"$.{member}", "a fact has at least one number; what is not known is null."));
            }
            else if (fact is not null && (fact.Low < 0 || !(fact.Low <= fact.Likely && fact.Likely <= fact.High)))
            {
                faults.Add(($"$.{member}", "its numbers are not negative and in order."));
            }
        }
    }

    [GeneratedRegex("^[a-z][a-z0-9-]{0,39}$")]
    private static partial Regex IdForm();
}
