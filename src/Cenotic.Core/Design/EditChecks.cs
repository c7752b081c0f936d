using System.Text.RegularExpressions;
using Cenotic.Core.Common;

namespace Cenotic.Core.Design;

/// <summary>
/// What makes an edit nonsense. Each fault is a sentence that says what is wrong and what would be right. A document may name something of another document
/// that is gone (a node its spot, a rule its reading): that is a finding, not nonsense, so that everything removed can be brought back in any order.
/// </summary>
public static partial class EditChecks
{
    private const double LargestMetres = 500;
    private const int MostOwnBands = 20;
    private const long DayMs = 86_400_000;

    /// <summary>The faults of an edit on this design; empty when it can be carried out.</summary>
    public static IReadOnlyList<Reason> Faults(SiteDesign design, DesignEdit edit)
    {
        var faults = new FaultList();
        switch (edit)
        {
            case SetSite e:
                faults.Text("The site's name", e.Settings.Name);
                if (!TimeZoneInfo.TryFindSystemTimeZoneById(e.Settings.TimeZone, out _))
                {
                    faults.Add($"\"{e.Settings.TimeZone}\" is not a time zone; write it like Europe/London.", "settings.timeZone");
                }
                Keeping(faults.Under("settings.keeping"), e.Settings.Keeping);
                OwnBands(faults.Under("settings"), e.Settings);
                break;
            case PlaceEdit e:
                OfPlace(faults, design.Place, e);
                break;
            case PutRule e:
                Rule(faults.Under("rule"), e.Rule);
                break;
            case RemoveRule e:
                Exists(faults, design.Rule(e.Key) is not null, "rule", e.Key);
                break;
            case PutLine e:
                SerialLine(faults.Under("line"), e.Line);
                break;
            case RemoveLine e:
                Exists(faults, design.Lines.Any(l => l.Key == e.Key), "serial line", e.Key);
                break;
            case PutOwnBoard e:
                faults.AddRange(Catalogue.HardwareRules.Faults(e.Board).Select(f => $"{f.Member}: {f.Rule}"));
                break;
            case RemoveOwnBoard e:
                Exists(faults, design.OwnBoards.Any(b => b.Id == e.Id), "board of your own", e.Id);
                break;
            case PutOwnPart e:
                faults.AddRange(Catalogue.HardwareRules.Faults(e.Part).Select(f => $"{f.Member}: {f.Rule}"));
                break;
            case RemoveOwnPart e:
                Exists(faults, design.OwnParts.Any(p => p.Id == e.Id), "part of your own", e.Id);
                break;
            case PutOwnCell e:
                faults.AddRange(Catalogue.HardwareRules.Faults(e.Cell).Select(f => $"{f.Member}: {f.Rule}"));
                break;
            case RemoveOwnCell e:
                Exists(faults, design.OwnCells.Any(c => c.Id == e.Id), "cell of your own", e.Id);
                break;
            case PutStock e:
                Stock(faults.Under("item"), e.Item);
                break;
            case RemoveStock e:
                Exists(faults, design.Stock.Any(i => i.Id == e.Id), "stock entry", e.Id);
                break;
            case PutPerson e:
                Person(faults.Under("person"), e.Person);
                break;
            case RemovePerson e:
                Exists(faults, design.People.Any(p => p.Key == e.Key), "person", e.Key);
                break;
            case PutZone e:
                Zone(faults.Under("zone"), e.Zone);
                break;
            case RemoveZone e:
                Exists(faults, design.Zones.Any(z => z.Key == e.Key), "zone", e.Key);
                break;
            case PutView e:
                View(faults.Under("view"), e.View);
                break;
            case RemoveView e:
                Exists(faults, design.Views.Any(v => v.Key == e.Key), "view", e.Key);
                break;
            case PutDerived e:
                Derived(faults.Under("derived"), design, e.Derived);
                break;
            case RemoveDerived e:
                Exists(faults, design.Derived.Any(d => d.Key == e.Key), "reading that is worked out", e.Key);
                break;
            case NodeEdit e:
                OfNode(faults, design, e);
                break;
        }
        return faults.All;
    }

    private static void OfNode(FaultList faults, SiteDesign design, NodeEdit edit)
    {
        if (edit is PutNode put)
        {
            if (put.Node == DerivedDesign.Node)
            {
                faults.Add($"\"{DerivedDesign.Node}\" stands for readings that are worked out; give the node another key.");
                return;
            }
            WholeNode(faults.Under("design"), design, put.Design);
            return;
        }
        if (design.Node(edit.Node) is not { } node)
        {
            Exists(faults, false, "node", edit.Node);
            return;
        }
        switch (edit)
        {
            case SetNode e:
                NodeItself(faults, e.Label, e.Power, e.Sending, e.Radio);
                Via(faults, design, e.Node, e.Via);
                break;
            case PutPart e:
                Part(faults.Under("part"), e.Part);
                faults.AddRange(DesignLimits.TooMany(node with { Parts = [.. node.Parts.Where(p => p.Key != e.Part.Key), e.Part] }));
                break;
            case RemovePart e:
                Exists(faults, node.Part(e.Key) is not null, "part", e.Key);
                break;
            case PutWire e:
                Wire(faults.Under("wire"), node, e.Wire);
                faults.AddRange(DesignLimits.TooMany(node with { Wires = [.. node.Wires.Where(w => w.Key != e.Wire.Key), e.Wire] }));
                break;
            case RemoveWire e:
                Exists(faults, node.Wires.Any(w => w.Part == e.Part && w.Line == e.Line), "held wire", $"{e.Part}.{e.Line}");
                break;
            case PutReading e:
                Reading(faults.Under("reading"), node, e.Reading);
                faults.AddRange(DesignLimits.TooMany(node with { Readings = [.. node.Readings.Where(r => r.Key != e.Reading.Key), e.Reading] }));
                break;
            case RemoveReading e:
                Exists(faults, node.Reading(e.Key) is not null, "reading", e.Key);
                break;
        }
    }

    private static void Keeping(FaultList faults, KeepDesign? keeping)
    {
        faults.Within("The days that samples are kept", keeping?.SampleDays ?? 1, 1, 36_500, "days");
        faults.Within("The days that minutes are kept", keeping?.MinuteDays ?? 1, 1, 36_500, "days");
        if (keeping?.MinuteDays is { } minutes && !(keeping.SampleDays <= minutes))
        {
            faults.Add($"Minutes are kept {minutes} days; samples must be kept no longer than that.", "sampleDays");
        }
    }

    private static void OwnBands(FaultList faults, SiteSettings settings)
    {
        var bands = settings.OwnBands ?? [];
        if (settings.Region == RadioRegion.Own && bands.Count == 0)
        {
            faults.Add("A region of your own has at least one band; add it as your country's rules say.", "ownBands");
        }
        if (bands.Count > MostOwnBands)
        {
            faults.Add($"There are {bands.Count} bands; at most {MostOwnBands} can be kept.", "ownBands");
        }
        for (var i = 0; i < bands.Count; i++)
        {
            var (at, band) = (faults.Under($"ownBands.{i}"), bands[i]);
            at.Within("The band's beginning", band.LowMegahertz, 1, 6000, "MHz");
            at.Within("The band's end", band.HighMegahertz, 1, 6000, "MHz");
            if (!(band.HighMegahertz > band.LowMegahertz))
            {
                at.Add("The band ends above where it begins.", "highMegahertz");
            }
            at.Within("The power", band.MostDbm, -60, 40, "dBm");
            at.Within("The time on the air", band.DutyPercent ?? 1, 0.001, 100, "% of an hour");
            at.Within("The time at a stretch", band.LongestMs ?? 1, 1, 60_000, "ms");
            if (band.Source.Length > 0)
            {
                at.Text("The rule's number", band.Source);
            }
        }
    }

    private static void WholeNode(FaultList faults, SiteDesign design, NodeDesign node)
    {
        faults.AddRange(DesignLimits.TooMany(node));
        faults.Key(node.Key);
        NodeItself(faults, node.Label, node.Power, node.Sending, node.Radio);
        Via(faults, design, node.Key, node.Via);
        for (var i = 0; i < node.Parts.Count; i++)
        {
            Part(faults.Under($"parts.{i}"), node.Parts[i]);
        }
        for (var i = 0; i < node.Wires.Count; i++)
        {
            Wire(faults.Under($"wires.{i}"), node, node.Wires[i]);
        }
        for (var i = 0; i < node.Readings.Count; i++)
        {
            Reading(faults.Under($"readings.{i}"), node, node.Readings[i]);
        }
        Unique(faults, "part", node.Parts.Select(p => p.Key));
        Unique(faults, "wire", node.Wires.Select(w => w.Key));
        Unique(faults, "reading", node.Readings.Select(r => r.Key));
    }

    private static void NodeItself(FaultList faults, string label, PowerDesign power, SendDesign? sending, RadioDesign? radio)
    {
        faults.Text("The node's name", label);
        Power(faults.Under("power"), power);
        if (sending is not null)
        {
            Sending(faults.Under("sending"), sending);
        }
        if (radio is not null)
        {
            Radio(faults.Under("radio"), radio);
        }
    }

    private static void Power(FaultList faults, PowerDesign power)
    {
        faults.Within("The supply cable", power.LeadMetres, 0, 200, "m");
        faults.Within("The gauge of the supply cable", power.LeadAwg ?? 22, 8, 32, "AWG");
        faults.Within("The fuse", power.FuseAmps ?? 1, 0.05, 30, "A");
        faults.Within("The rating of the supply", power.RatedAmps ?? 1, 0.05, 30, "A");
        if (power.Vehicle && power.Kind is not (PowerKind.TwelveVolt or PowerKind.TwentyFourVolt))
        {
            faults.Add("A vehicle gives 12 or 24 V.", "vehicle");
        }
        for (var i = 0; i < (power.Rails?.Count ?? 0); i++)
        {
            var rail = power.Rails![i];
            faults.Under($"rails.{i}").Within("A further rail", rail.Volts, 0.8, 30, "V");
        }
        if (power.Rails?.Count > 4 || power.Rails?.Select(r => r.Volts).Distinct().Count() < power.Rails?.Count)
        {
            faults.Add("A node has at most four further rails, each of another voltage.", "rails");
        }
        if (power.Kind == PowerKind.Cells == power.Cell is null)
        {
            faults.Add("Cells need a cell from the catalogue; other supplies take none.", "cell");
        }
        if (power.Kind == PowerKind.Capacitor != power.Harvest is { CapacitorMicrofarads: not null })
        {
            faults.Add("A storage capacitor needs a light cell that fills it and its µF; other supplies have none.");
        }
        faults.Within("The number of cells side by side", power.Parallel, 1, 20, "");
        faults.Within("The number of cells in series", power.Series, 1, 10, "");
        if (power.Harvest is { } harvest)
        {
            Harvest(faults.Under("harvest"), harvest);
        }
    }

    private static void Via(FaultList faults, SiteDesign design, string node, string? via)
    {
        if (via == node)
        {
            faults.Add("A node cannot be heard through itself; leave it out when it sends for itself.", "via");
        }
        else if (via is not null && design.Node(via) is { } hears && design.HeardThrough(hears).Any(n => n.Key == node))
        {
            faults.Add($"{hears.Label} is heard through this node: in a ring nothing reaches a gateway.", "via");
        }
    }

    private static void Harvest(FaultList faults, HarvestDesign harvest)
    {
        faults.Within("The area of the light cell", harvest.AreaSquareCm, 0.1, 20_000, "cm²");
        faults.Within("The efficiency of the light cell", harvest.EfficiencyPercent, 0.1, 50, "%");
        faults.Within("The latitude", harvest.LatitudeDegrees ?? 0, -90, 90, "degrees");
        faults.Within("The clearness", harvest.Clearness ?? 0.5, 0.01, 1, "");
        faults.Within("The light", harvest.Lux ?? 0, 0, 200_000, "lx");
        faults.Within("The lit hours", harvest.HoursPerDay ?? 0, 0, 24, "h");
        faults.Within("The capacitor", harvest.CapacitorMicrofarads ?? 1, 0.1, 1e9, "µF");
        faults.Within("The starting voltage", harvest.StartVolts, 0.5, 30, "V");
        faults.Within("The stopping voltage", harvest.StopVolts, 0.1, 30, "V");
        if (harvest.StopVolts >= harvest.StartVolts)
        {
            faults.Add($"The node stops at {harvest.StopVolts} V and starts at {harvest.StartVolts} V; it must start above where it stops.", "startVolts");
        }
        if (
            harvest.Light == LightKind.Sun && harvest.LatitudeDegrees is null
            || harvest.Light == LightKind.Lamp && (harvest.Lux is null || harvest.HoursPerDay is null)
        )
        {
            faults.Add(harvest.Light == LightKind.Sun ? "The light of the sun needs the latitude." : "The light of a lamp needs lx and hours a day.");
        }
        if (harvest.Light == LightKind.Table && (harvest.WattHoursPerSquareMetre is not { Count: 12 } table || table.Any(w => !(w is >= 0 and <= 15_000))))
        {
            faults.Add("A table of light has twelve values from 0 to 15000 Wh/m² a day.", "wattHoursPerSquareMetre");
        }
    }

    private static void Sending(FaultList faults, SendDesign sending)
    {
        faults.Within("The number of tries", sending.MostTries, 1, 20, "");
        faults.Within("The times that a message is sent", sending.Repeats, 1, 50, "");
        faults.Within("The delivered share", sending.DeliveredShare ?? 1, 0.01, 1, "");
        faults.Within("The clock error", sending.ClockPpm, 0, 50_000, "ppm");
        faults.Within("The time between time references", sending.ResyncMs / 1000.0, 1, 400 * DayMs / 1000.0, "s");
        faults.Within("The jitter", sending.JitterMs, 0, 60_000, "ms");
        faults.Within("The buffer", sending.BufferBytes ?? 256, 16, 1 << 20, "bytes");
        faults.Within("The number of values in a message", sending.MostFields ?? 1, 1, 1000, "");
        faults.Within("The spacing of messages", (sending.LeastSpacingMs ?? 1000) / 1000.0, 0, 7 * DayMs / 1000.0, "s");
    }

    private static void Radio(FaultList faults, RadioDesign radio)
    {
        faults.Within("The frequency", radio.FrequencyMegahertz ?? 868, 100, 6_000, "MHz");
        faults.Within("The spreading factor", radio.SpreadingFactor ?? 7, 6, 12, "");
        faults.Within("The bandwidth", radio.BandwidthKilohertz ?? 125, 7.8, 500, "kHz");
        faults.Within("The coding rate", radio.CodingRate ?? 1, 1, 4, "");
        faults.Within("The rate on the air", radio.BitsPerSecond ?? 1_000, 100, 2_000_000, "bit/s");
        faults.Within("The number of channels", radio.HopChannels ?? 2, 2, 500, "");
        faults.Within("The transmit power", radio.PowerDbm ?? 0, -40, 33, "dBm");
        faults.Within("The gain of the antenna", radio.AntennaGainDbi ?? 0, -20, 20, "dBi");
    }

    private static void Part(FaultList faults, PartInstance part)
    {
        faults.Key(part.Key);
        faults.Text("The part's name", part.Label);
        faults.Within("The lead", part.LeadMetres, 0, 100, "m");
        Variant(faults.Under("variant"), part.Variant ?? new());
        faults.Within("The address", part.Address ?? 0x08, 0x08, 0x77, "");
        if (
            part.Rom is { } rom
            && (rom.Length != 16 || !rom.All(c => char.IsAsciiDigit(c) || c is >= 'A' and <= 'F') || Electrical.OneWire.Crc8(Convert.FromHexString(rom)) != 0)
        )
        {
            faults.Add("A 1-Wire code is 16 hexadecimal digits in capitals whose last two are the CRC of the others.", "rom");
        }
        faults.Within("The resolution", part.Bits ?? 1, 1, 32, "bits");
        Radio(faults.Under("radio"), part.Radio ?? new());
    }

    private static void Variant(FaultList faults, PartVariant variant)
    {
        faults.Within("The least resistance", variant.LowOhms ?? 1, 0.1, 10_000_000, "Ω");
        faults.Within("The greatest resistance", variant.HighOhms ?? 1, 0.1, 10_000_000, "Ω");
        faults.Within("The resistance at 25 °C", variant.NominalOhms ?? 1, 1, 10_000_000, "Ω");
        faults.Within("Beta", variant.Beta ?? 3950, 1_000, 6_000, "K");
        faults.Within("The number of LEDs", variant.Leds ?? 1, 1, 1_000, "LEDs");
        faults.Within("The voltage at the isolated input", variant.InputVolts ?? 12, 2.5, 27, "V");
        if (variant.LowOhms is null != variant.HighOhms is null)
        {
            faults.Add("Give both ends of the resistance, or leave both empty for those of the catalogue.");
        }
        if (variant.LowOhms >= variant.HighOhms)
        {
            faults.Add("The least resistance must lie below the greatest.", "lowOhms");
        }
    }

    private static void Wire(FaultList faults, NodeDesign node, WireDesign wire)
    {
        Exists(faults, node.Part(wire.Part) is not null || wire.Part == "board", "part", wire.Part);
        if (string.IsNullOrWhiteSpace(wire.Line) || string.IsNullOrWhiteSpace(wire.Pin))
        {
            faults.Add("A wire needs a line of the part and a pin of the board.");
        }
    }

    private static void Reading(FaultList faults, NodeDesign node, ReadingDesign reading)
    {
        faults.Key(reading.Key);
        faults.Text("The reading's name", reading.Label);
        Exists(faults, node.Part(reading.Part) is not null, "part", reading.Part);
        faults.Within("The number of decimals", reading.Decimals, 0, 6, "");
        faults.Within("The batch", reading.BatchOf, 1, 1000, "readings");
        faults.Within("The wished lateness", (reading.WantedWithinMs ?? 1000) / 1000.0, 0.001, 30 * DayMs / 1000.0, "s");
        faults.Within("The longest time on", (reading.Output?.MaxOnMs ?? 1000) / 1000.0, 1, DayMs / 1000.0, "s");
        faults.Within("The silence of the server", (reading.Output?.ServerSilentMs ?? 60_000) / 1000.0, 60, DayMs / 1000.0, "s");
        faults.Within("The changes expected a day", reading.PerDay ?? 0, 0, 10_000_000, "");
        faults.Within("The interval", (reading.IntervalMs ?? 1000) / 1000.0, 0.05, 7 * DayMs / 1000.0, "s");
        faults.Within("The heartbeat", (reading.HeartbeatMs ?? 1000) / 1000.0, 1, 7 * DayMs / 1000.0, "s");
        if (reading.IntervalMs is not null && reading.HeartbeatMs is not null)
        {
            faults.Add("A reading has an interval, or is sent on change with a heartbeat, not both.", "heartbeatMs");
        }
    }

    private static void SerialLine(FaultList faults, SerialLineDesign line)
    {
        faults.Key(line.Key);
        faults.Text("The line's name", line.Label);
        if (!PortName().IsMatch(line.Port))
        {
            faults.Add($"\"{line.Port}\" is no serial port; write it like /dev/ttyUSB0, or tcp://192.168.1.40:4001.", "port");
        }
        faults.Within("The speed", line.Baud, 300, 4_000_000, "baud");
        var format = line.Format;
        if (format.Kind == FrameKind.LengthPrefixed ? string.IsNullOrEmpty(format.Node) : format.Fields.Count is 0 or > 64)
        {
            faults.Add(format.Kind == FrameKind.LengthPrefixed ? "Say whose readings the messages name." : "A frame has 1 to 64 values.");
        }
        if (format.Kind == FrameKind.ValuePerLine && format.Fields.Count > 1)
        {
            faults.Add("A line with one value has one reading.");
        }
        if (
            format.Kind == FrameKind.LetteredValues
            && (
                format.Fields.Any(f => f.Letter is not [var c] || !char.IsAsciiLetter(c))
                || format.Fields.DistinctBy(f => f.Letter).Count() < format.Fields.Count
            )
        )
        {
            faults.Add("Each value is followed by a letter of its own, a to z or A to Z.");
        }
        if (
            format.Kind == FrameKind.SeparatedValues
            && (format.Separator.Length is 0 or > 4 || format.Separator.Any(c => char.IsAsciiDigit(c) || c is '.' or '+' or '-' or '\n' or '\r'))
        )
        {
            faults.Add("The separator has 1 to 4 characters that do not occur in a number.", "format.separator");
        }
        if (!StartBytes().IsMatch(format.Start))
        {
            faults.Add($"\"{format.Start}\" are no start bytes; write up to 8 of them as hexadecimal digits, like AA55.", "format.start");
        }
        if (format.LengthBytes is not (1 or 2))
        {
            faults.Add("The length has 1 or 2 bytes.", "format.lengthBytes");
        }
        if (format.Fields.Any(f => !double.IsFinite(f.Scale) || f.Scale == 0 || !double.IsFinite(f.Offset)))
        {
            faults.Add("A scale is a number other than 0.");
        }
    }

    [GeneratedRegex(@"^(/dev/[A-Za-z0-9/_.:-]{1,100}|tcp://[A-Za-z0-9.:\[\]-]{1,100}:[0-9]{1,5})$")]
    private static partial Regex PortName();

    [GeneratedRegex("^([0-9A-Fa-f]{2}){0,8}$")]
    private static partial Regex StartBytes();

    private static void Rule(FaultList faults, RuleDesign rule)
    {
        faults.Key(rule.Key);
        faults.Text("The rule's name", rule.Label);
        faults.Within("The wished lateness", (rule.WantedWithinMs ?? 1000) / 1000.0, 0.001, 30 * DayMs / 1000.0, "s");
        if (rule.Note.Length > 500)
        {
            faults.Add("The note is longer than 500 characters; shorten it.", "note");
        }
        Tell(faults.Under("tell"), rule.Tell);
        Acts(faults.Under("acts"), rule.Acts);
        if (rule.Also.Count > 5)
        {
            faults.Add("A rule has at most 6 conditions.", "also");
        }
        for (var i = 0; i < rule.Parts.Count; i++)
        {
            Condition(faults.Under(i == 0 ? "condition" : $"also.{i - 1}.condition"), rule.Parts[i]);
        }
    }

    private static void Condition(FaultList faults, RulePart part)
    {
        switch (part.Condition)
        {
            case BeyondLimit limit:
                faults.Within("The limit", limit.Limit, -1e9, 1e9, "");
                faults.Within("The clearing level", limit.Clear, -1e9, 1e9, "");
                faults.Within("The duration", limit.ForMs / 1000.0, 0, 7 * DayMs / 1000.0, "s");
                if (limit.Side == LimitSide.Above ? limit.Clear > limit.Limit : limit.Clear < limit.Limit)
                {
                    faults.Add(
                        limit.Side == LimitSide.Above
                            ? $"The clearing level {limit.Clear} is above the limit {limit.Limit}; it must be at or below it."
                            : $"The clearing level {limit.Clear} is below the limit {limit.Limit}; it must be at or above it.",
                        "clear"
                    );
                }
                break;
            case SilentFor silent:
                faults.Within("The silence", silent.ForMs / 1000.0, 1, 30 * DayMs / 1000.0, "s");
                break;
            case OutsideBand band:
                faults.Within("The low end", band.Low, -1e9, 1e9, "");
                faults.Within("The high end", band.High, -1e9, 1e9, "");
                faults.Within("The duration", band.ForMs / 1000.0, 0, 7 * DayMs / 1000.0, "s");
                if (!(band.Low < band.High))
                {
                    faults.Add($"The low end {band.Low} must be below the high end {band.High}.", "low");
                }
                else
                {
                    faults.Within("How far inside it is over", band.ClearBy, 0, (band.High - band.Low) / 2, "");
                }
                break;
            case InARow row:
                faults.Within("The limit", row.Limit, -1e9, 1e9, "");
                faults.Within("The clearing level", row.Clear, -1e9, 1e9, "");
                faults.Within("The number in a row", row.Times, 2, 100, "values");
                if (row.Side == LimitSide.Above ? row.Clear > row.Limit : row.Clear < row.Limit)
                {
                    faults.Add($"The clearing level {row.Clear} lies beyond the limit {row.Limit}; it must be at it or short of it.", "clear");
                }
                break;
            case ChangesFaster change:
                faults.Within("The change", change.By, 1e-9, 1e9, "");
                faults.Within("The time of the change", change.WithinMs / 1000.0, 1, 7 * DayMs / 1000.0, "s");
                break;
            case EventsWithin events:
                faults.Within("The number of events", events.Count, 2, 200, "");
                faults.Within("The time they come in", events.WithinMs / 1000.0, 1, 7 * DayMs / 1000.0, "s");
                break;
            case UnlikeUsual unlike:
                faults.Within("How far beyond the usual", unlike.By, 0, 1e9, "");
                faults.Within("The duration", unlike.ForMs / 1000.0, 0, 7 * DayMs / 1000.0, "s");
                break;
            case InSequence sequence:
                faults.Within("The time between the two", sequence.WithinMs / 1000.0, 0.1, 3_600, "s");
                if (sequence.Other == part.Reading)
                {
                    faults.Add("The two readings are one and the same; choose another.", "other");
                }
                break;
        }
    }

    private static void Stock(FaultList faults, StockItem item)
    {
        faults.Text("The name of the thing", item.Id);
        faults.Within("The number at hand", item.OnHand, 0, 100_000, "");
        for (var i = 0; i < item.Offers.Count; i++)
        {
            var (at, offer) = (faults.Under($"offers.{i}"), item.Offers[i]);
            at.Text("Where it is bought", offer.From);
            at.Within("The pack", offer.PackSize, 1, 100_000, "pieces");
            at.Within("The price of a pack", offer.PackPrice, 0, 100_000, "");
            at.Within("The delivery time", offer.Days, 0, 400, "days");
        }
        if (item.Offers.Count > 20)
        {
            faults.Add("At most 20 offers for one thing.", "offers");
        }
    }

    private static void Exists(FaultList faults, bool there, string what, string key)
    {
        if (!there)
        {
            faults.Add($"There is no {what} \"{key}\" here; it may have been removed.");
        }
    }

    private static void Unique(FaultList faults, string what, IEnumerable<string> keys)
    {
        foreach (var twice in keys.GroupBy(k => k).Where(g => g.Count() > 1))
        {
            faults.Add($"Two {what}s have the key \"{twice.Key}\"; keys are unique in a node.");
        }
    }
}
