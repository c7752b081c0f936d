using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Tests;

namespace Cenotic.Core.Tests.Planning;

/// <summary>Every finding: a site that makes it appear; its remedies make it go and add no stop, or a named change makes it go.</summary>
public class FindingsTests
{
    private static readonly PowerDesign Cell = new(PowerKind.Cells, "cell-18650", 1, StepUp: true);
    private static readonly PowerDesign Twelve = new(PowerKind.TwelveVolt, Module: "buck-lm2596", FuseAmps: 1, ReverseGuard: true, LeadAwg: 20);
    private static readonly Room Garden = new("garden", "Garden", [new(0, 0), new(4, 0), new(4, 4), new(0, 4)], [RoomTag.Outdoor]);

    private static SiteDesign AtGarden(NodeDesign node) =>
        Samples.Site(node with { Spot = "s" }) with
        {
            Place = new([Garden], [], [new("s", "Spot", "garden", 1, 1, 1, 0)]),
        };

    private static SiteDesign In(RoomTag tag, NodeDesign node) =>
        Samples.Site(node with { Spot = "s" }) with
        {
            Place = new([Garden with { Tags = [tag] }], [], [new("s", "Spot", "garden", 1, 1, 1, 0)]),
        };

    private static RuleDesign Rule(RuleCondition condition, string reading = "t") => new("rule", "Rule", "n", reading, condition, "", true);

    private static NodeDesign Texting(long everyMs) =>
        WithReading(Samples.Node(("air", "bme280"), ("modem", "sim800-modem")), Samples.Every("t", "air", "temperature", everyMs)) with
        {
            Link = LinkKind.TextMessage,
        };

    private static NodeDesign WithReading(NodeDesign node, params ReadingDesign[] readings) => node with { Readings = readings };

    private static WireDesign Held(string part, string line, string pin, WireHold hold) => new(part, line, pin, hold);

    private static NodeDesign Air => WithReading(Samples.Node(("air", "bme280")), Samples.Every("t", "air", "temperature", 60_000));

    private static NodeDesign Radio(string key, long interval, SendDesign? sending = null) =>
        WithReading(Samples.Node(("air", "bme280"), ("radio", "lora-sx1276")), Samples.Every("t", "air", "temperature", interval)) with
        {
            Key = key,
            Label = key,
            Link = LinkKind.LongRange,
            Sending = sending,
        };

    /// <summary>A hall with a window, a room behind plasterboard beside it, an access point in the corner of the hall, and a sensor.</summary>
    private static SiteDesign Watched(string part, Spot spot) =>
        Samples.Site(Samples.Node(("eye", part)) with { Spot = "s" }) with
        {
            Place = new(
                [
                    new("hall", "Hall", [new(0, 0), new(4, 0), new(4, 2.6), new(0, 2.6)], []),
                    new("kitchen", "Kitchen", [new(4, 0), new(8, 0), new(8, 2.6), new(4, 2.6)], []),
                ],
                [
                    new("n", new(0, 0), new(8, 0), WallMaterial.Brick),
                    new("s", new(0, 2.6), new(8, 2.6), WallMaterial.Brick),
                    new("w", new(0, 0), new(0, 2.6), WallMaterial.Brick) { Openings = [new(OpeningKind.Window, 0.8, 1, 0.9, 1.2)] },
                    new("e", new(8, 0), new(8, 2.6), WallMaterial.Brick),
                    new("m", new(4, 0), new(4, 2.6), WallMaterial.Plasterboard),
                ],
                [spot, new("ap", "Corner", "hall", 3.6, 0.4, 2, 0)]
            )
            {
                AccessPoints = [new("ap", "Access point", "ap")],
            },
        };

    /// <summary>A light barrier whose emitter hangs so far from its receiver, with a wall between or none.</summary>
    private static SiteDesign Barrier(double metres, WallMaterial? between) =>
        Samples.Site(Samples.Node() with { Spot = "here", Parts = [Samples.Part("beam", "ir-break-beam") with { EmitterSpot = "there" }] }) with
        {
            Place = new(
                [],
                between is { } material ? [new("w", new(-1, 0.1), new(1, 0.1), material)] : [],
                [new("here", "Here", null, 0, 0, 1, 0), new("there", "There", null, 0, metres, 1, 0)]
            ),
        };

    /// <summary>The hall with a radiator, and a sensor on the wall to the left that looks to the right.</summary>
    private static SiteDesign Heated(string part, double x, double y)
    {
        var site = Watched(part, new("s", "Spot", "hall", 0.3, 1.3, 2.6, 90));
        return site with
        {
            Place = site.Place with { HeatSources = [new("radiator", "Radiator", HeatSourceKind.Heater, x, y)] },
            Nodes = [site.Nodes[0] with { Readings = part == "bme280" ? [Samples.Every("t", "eye", "temperature", 60_000)] : site.Nodes[0].Readings }],
        };
    }

    private static readonly Spot BesideDoor = new("s", "Spot", "hall", 0.3, 1.3, 2, 90);

    private static readonly Wall Brick = new("brick", new(2, 0), new(2, 4), WallMaterial.Brick, 0.24);

    private static SiteDesign InEurope(RadioDesign radio, long interval) =>
        Samples.Site(Radio("a", interval, new(Acknowledged: false)) with { Radio = radio }) with
        {
            Settings = new("Test site", "Etc/UTC", RadioRegion.Europe868),
        };

    /// <summary>A node and its gateway where 400 ms at a stretch are allowed.</summary>
    private static SiteDesign AtOnce(int factor)
    {
        var heard = Heard(WallMaterial.Timber, new(SpreadingFactor: factor));
        return heard with
        {
            Settings = heard.Settings with { Region = RadioRegion.Own, OwnBands = [new(868, 868.6, 16, PowerReference.Isotropic, LongestMs: 400)] },
            Nodes = [.. heard.Nodes.Select(n => n with { Radio = new(SpreadingFactor: factor) })],
        };
    }

    /// <summary>A node and its gateway, 20 m apart, with two walls between.</summary>
    private static SiteDesign Heard(WallMaterial material, RadioDesign? radio, string key = "a") =>
        SiteDesign.Empty("Test site") with
        {
            Place = new(
                [],
                [new("w1", new(2, 0), new(2, 4), material), new("w2", new(15, 0), new(15, 4), material)],
                [new("s", "Spot", null, 0, 1, 1, 0), new("g", "Gateway", null, 20, 1, 1, 0)]
            ),
            Nodes = [Radio(key, 60_000) with { Spot = "s", Via = "hub", Radio = radio }, Radio("hub", 60_000) with { Spot = "g", Link = LinkKind.Cable }],
        };

    /// <summary>A sensor, a relay and a gateway in a row, so many metres apart, with so weak radios that 60 m are too far.</summary>
    private static SiteDesign Relayed(string? via, double metres, NodeDesign? post = null) =>
        SiteDesign.Empty("Test site") with
        {
            Place = new([], [], [new("s", "Spot", null, 0, 0, 1, 0), new("p", "Post", null, metres, 0, 1, 0), new("g", "Gateway", null, 2 * metres, 0, 1, 0)]),
            Nodes =
            [
                Radio("a", 600_000) with
                {
                    Spot = "s",
                    Via = via,
                    Radio = Whisper,
                },
                (post ?? Radio("post", 600_000)) with
                {
                    Spot = "p",
                    Via = "hub",
                    Radio = Whisper with { AntennaGainDbi = 6 },
                },
                Radio("hub", 600_000) with
                {
                    Spot = "g",
                    Link = LinkKind.Cable,
                    Radio = Whisper,
                },
            ],
        };

    /// <summary>A node that sends frames to a gateway on Wi-Fi, with the channel of its access point.</summary>
    private static SiteDesign Frames(int? channel) =>
        SiteDesign.Empty("Test site") with
        {
            Place = new([], [], [new("s", "Spot", null, 0, 1, 1, 0), new("g", "Gateway", null, 3, 1, 1, 0), new("ap", "Shelf", null, 6, 1, 1, 0)])
            {
                AccessPoints = [new("ap", "Access point", "ap", channel)],
            },
            Nodes =
            [
                Air with
                {
                    Key = "a",
                    Spot = "s",
                    Link = LinkKind.Frames,
                    Via = "hub",
                },
                Air with
                {
                    Key = "hub",
                    Spot = "g",
                    Link = LinkKind.Wifi,
                    Sleeps = false,
                },
            ],
        };

    private static RadioDesign Whisper => new(PowerDbm: -40);

    private static NodeDesign ListeningOnCells => Radio("post", 600_000) with { Board = Samples.Rp2040, Sleeps = true, Relays = true, Power = LiFePo4 };

    private static ReadingDesign Fan(OutputDesign? output) => new("t", "Fan", "fan", "relay", null, 60_000, 0, Output: output);

    private static SiteDesign Two(NodeDesign a, NodeDesign b) => Samples.Site(a) with { Nodes = [a, b] };

    /// <summary>Parts that speak I2C, each of another kind.</summary>
    private static readonly string[] OnI2c =
    [
        .. Samples.Catalogue.Parts.Where(p => p.Interfaces.Any(i => i.Kind == InterfaceKind.I2c)).Select(p => p.Id).Order(StringComparer.Ordinal),
    ];

    /// <summary>A part recorded with bus lines that stand 1.8 V only: the planner has nothing between for it, and the circuit check says so.</summary>
    private static readonly Part OnlyLow = Samples.Catalogue.Part("bme280") is { } air
        ? air with
        {
            Id = "raw",
            Interfaces = [air.Interfaces[0] with { Lines = [.. air.Interfaces[0].Lines.Select(l => l with { MaxVolts = 1.8 })] }],
        }
        : null!;

    private static readonly PowerDesign LiFePo4 = new(PowerKind.Cells, "lifepo4-18650");

    /// <summary>A sleeping node on a board that takes low voltages, fed by light.</summary>
    private static NodeDesign TwoSerial(string board) =>
        Samples.Node() with
        {
            Board = board,
            Parts = [Samples.Part("dust", "pms5003"), Samples.Part("radar", "ld2420") with { Interface = Core.Catalogue.InterfaceKind.Uart }],
        };

    private static NodeDesign Lit(HarvestDesign harvest) =>
        WithReading(Samples.Node(("air", "bme280")), Samples.Every("t", "air", "temperature", 600_000)) with
        {
            Sleeps = true,
            Board = Samples.Rp2040,
            Power = harvest.CapacitorMicrofarads is null ? LiFePo4 with { Harvest = harvest } : new(PowerKind.Capacitor, Harvest: harvest),
        };

    /// <summary>Code, a site with it, and the same site put right by hand (null where the remedies do it).</summary>
    private static readonly Dictionary<string, (SiteDesign With, SiteDesign? Without)> Cases = new()
    {
        ["BENCH-NO-BOARD"] = (Samples.Site(Air with { Board = "gone" }), null),
        ["BENCH-NO-PART"] = (Samples.Site(Samples.Node(("a", "gone"))), null),
        ["BENCH-NO-CELL"] = (Samples.Site(Air with { Power = new(PowerKind.Cells, "gone") }), null),
        ["BENCH-SUPPLY-UNFIT"] = (Samples.Site(Air with { Power = new(PowerKind.Cells, "cell-18650"), Sleeps = true }), null),
        ["BENCH-NO-RAIL"] = (
            Samples.Site(Samples.Node(("pir", "pir-hc-sr501")) with { Board = Samples.Rp2040, Power = new(PowerKind.Cells, "cell-18650") }),
            null
        ),
        ["BENCH-CONFLICT"] = (Samples.Site(Samples.Node([.. Enumerable.Range(0, 5).Select(i => ($"p{i}", "bh1750"))]) with { AddsModules = false }), null),
        ["BENCH-TOO-MUCH"] = (
            Samples.Site(Samples.Node([.. OnI2c.Take(18).Select((p, i) => ($"p{i}", p))])),
            Samples.Site(Samples.Node([.. OnI2c.Take(6).Select((p, i) => ($"p{i}", p))]))
        ),
        ["BENCH-MODULE-ADDED"] = (Samples.Site(Samples.Node([.. Enumerable.Range(0, 3).Select(i => ($"p{i}", "aht20"))])), null),
        ["BENCH-LOCK-UNFIT"] = (Samples.Site(Air with { Wires = [Held("air", "SDA", "L13", WireHold.Locked)] }), null),
        ["BENCH-LOCK-TWICE"] = (
            Samples.Site(Air with { Wires = [Held("air", "SDA", "R3", WireHold.Locked), Held("air", "SCL", "R3", WireHold.Locked)] }),
            null
        ),
        ["BENCH-LOCK-IDLE"] = (Samples.Site(Air with { Wires = [Held("air", "CSB", "R3", WireHold.Locked)] }), null),
        ["BENCH-WIRE-MOVED"] = (Samples.Site(Samples.Node(("p", "ds18b20")) with { Wires = [Held("p", "DQ", "L13", WireHold.Soldered)] }), null),
        ["BENCH-RAIL-OVER"] = (Samples.Site(Samples.Node([.. Enumerable.Range(0, 4).Select(i => ($"p{i}", "ld2410"))])), null),
        ["BENCH-RAIL-PEAK"] = (Samples.Site(Samples.Node(("a", "ld2410"), ("b", "ld2410"))), null),
        ["BENCH-PULLUP-STRONG"] = (
            Samples.Site(
                Samples.Node([.. Enumerable.Range(0, 2).Select(i => ($"a{i}", "strong")), .. Enumerable.Range(0, 2).Select(i => ($"b{i}", "bh1750"))])
            ),
            Samples.Site(Samples.Node([.. Enumerable.Range(0, 2).Select(i => ($"b{i}", "bh1750"))]))
        ),
        ["BENCH-I2C-LONG"] = (Samples.Site(Air with { Parts = [Samples.Part("air", "bme280") with { LeadMetres = 6 }] }), null),
        ["BENCH-PIN-CARE"] = (Samples.Site(Air with { Wires = [Held("air", "SDA", "R11", WireHold.Locked)] }), Samples.Site(Air)),
        ["BENCH-CAUTION"] = (Samples.Site(Air), Samples.Site(Samples.Node(("l", "bh1750")))),
        ["RHYTHM-OUTPUT-UNLIMITED"] = (Samples.Site(WithReading(Samples.Node(("fan", "relay-5v-1ch")), Fan(null))), null),
        ["RHYTHM-OUTPUT-LONG"] = (Samples.Site(WithReading(Samples.Node(("fan", "relay-5v-1ch")), Fan(new(OutputLoad.Heater, 20_000_000)))), null),
        ["RHYTHM-OUTPUT-DEAF"] = (
            Samples.Site(WithReading(Samples.Node(("fan", "relay-5v-1ch")), Fan(new(OutputLoad.Fan, 60_000))) with { Link = LinkKind.Card }),
            Samples.Site(WithReading(Samples.Node(("fan", "relay-5v-1ch")), Fan(new(OutputLoad.Fan, 60_000))))
        ),
        ["RHYTHM-GATEWAY-UNFIT"] = (Samples.Site(Air with { Via = "gone" }), null),
        ["RHYTHM-NO-READING"] = (Samples.Site(Samples.Node(("air", "bme280"))), Samples.Site(Air)),
        ["RHYTHM-NO-QUANTITY"] = (Samples.Site(WithReading(Samples.Node(("air", "bme280")), Samples.Every("t", "air", "presence", 60_000))), null),
        ["RHYTHM-CONVERSION-LONG"] = (Samples.Site(WithReading(Samples.Node(("p", "ds18b20")), Samples.Every("t", "p", "temperature", 500))), null),
        ["RHYTHM-INTERVAL-SHORT"] = (Samples.Site(WithReading(Samples.Node(("air", "bme280")), Samples.Every("t", "air", "temperature", 100))), null),
        ["RHYTHM-AWAKE-ON-CELLS"] = (Samples.Site(Air with { Power = Cell }), null),
        ["RHYTHM-BOARD-DRAIN"] = (Samples.Site(Air with { Power = Cell, Sleeps = true }), null),
        ["RHYTHM-SLEEP-DRAIN"] = (
            Samples.Site(WithReading(Samples.Node(("e", "hc-sr04")), Samples.Every("t", "e", "distance", 900_000)) with { Power = Cell, Sleeps = true }),
            null
        ),
        ["RHYTHM-NEVER-SLEEPS"] = (
            Samples.Site(
                WithReading(
                    Samples.Node(("air", "bme280")),
                    Samples.Every("t", "air", "temperature", 1_000),
                    Samples.OnChange("p", "air", "pressure", 2_000)
                ) with
                {
                    Sleeps = true,
                    Board = Samples.Rp2040,
                }
            ),
            null
        ),
        ["RHYTHM-LIFE-SHORT"] = (Samples.Site(Air with { Power = new(PowerKind.Cells, "cell-18650"), Board = Samples.Rp2040, Sleeps = true }), null),
        ["RHYTHM-INTERVAL-ZERO"] = (Samples.Site(WithReading(Samples.Node(("air", "bme280")), Samples.Every("t", "air", "temperature", 0))), null),
        ["RHYTHM-NO-WAKE"] = (
            Samples.Site(WithReading(Samples.Node(("air", "bme280")), Samples.OnChange("t", "air", "temperature", 900_000)) with { Sleeps = true }),
            null
        ),
        ["RHYTHM-BROWN-OUT"] = (
            Samples.Site(Air with { Board = "rp2040-40", Link = LinkKind.LongRange, Sleeps = true, Power = new(PowerKind.Cells, "cr2032", 2) }),
            null
        ),
        ["RHYTHM-SELF-HEATING"] = (Samples.Site(WithReading(Samples.Node(("air", "bme680")), Samples.Every("t", "air", "temperature", 3_000))), null),
        ["RHYTHM-FIELDS-MANY"] = (
            Samples.Site(
                WithReading(Samples.Node(("air", "bme280")), Samples.Every("t", "air", "temperature", 60_000) with { BatchOf = 5 }) with
                {
                    Sending = new(MostFields: 3),
                }
            ),
            null
        ),
        ["RHYTHM-SPACING-CHANGES"] = (
            Samples.Site(
                WithReading(Samples.Node(("d", "reed-contact")), Samples.OnChange("t", "d", "contact", 3_600_000)) with
                {
                    Sending = new(LeastSpacingMs: 300_000),
                }
            ),
            null
        ),
        ["RHYTHM-SPACING"] = (Samples.Site(Air with { Sending = new(LeastSpacingMs: 300_000) }), null),
        ["RHYTHM-MESSAGE-BIG"] = (Samples.Site(Air with { Sending = new(BufferBytes: 64) }), null),
        ["RHYTHM-LATE"] = (
            Samples.Site(
                WithReading(Samples.Node(("air", "bme280")), Samples.Every("t", "air", "temperature", 600_000) with { WantedWithinMs = 120_000 }) with
                {
                    Sleeps = true,
                }
            ),
            null
        ),
        ["RHYTHM-RULE-LATE"] = (Samples.Site(Air, Rule(new BeyondLimit(LimitSide.Above, 60, 50, 600_000)) with { WantedWithinMs = 120_000 }), null),
        ["RHYTHM-HARVEST-SHORT"] = (Samples.Site(Lit(new(8, 15, LightKind.Sun, LatitudeDegrees: 55))), null),
        ["RHYTHM-CAP-SMALL"] = (Samples.Site(Lit(new(200, 20, LightKind.Sun, LatitudeDegrees: 40, CapacitorMicrofarads: 10_000))), null),
        ["RHYTHM-CAP-NEVER"] = (Samples.Site(Lit(new(5, 10, LightKind.Lamp, Lux: 20_000, HoursPerDay: 8, CapacitorMicrofarads: 1_000_000))), null),
        ["RHYTHM-DARK"] = (Samples.Site(Lit(new(200, 20, LightKind.Sun, LatitudeDegrees: 40, CapacitorMicrofarads: 1_000_000))), null),
        ["RHYTHM-SLOTS-OVERLAP"] = (Two(Radio("a", 60_000, new(HearsTime: true)), Radio("b", 61_000, new(HearsTime: true))), null),
        ["RHYTHM-COLLIDES"] = (Two(Radio("a", 2_000, new(Acknowledged: false)), Radio("b", 2_000, new(Acknowledged: false))), null),
        ["PLACE-SPOT-OUTSIDE"] = (Samples.Site(Air) with { Place = new([Garden], [], [new("s", "Spot", "garden", 9, 9, 1, 0)]) }, null),
        ["PLACE-SPOT-IN-WALL"] = (Samples.Site(Air) with { Place = new([Garden], [Brick], [new("s", "Spot", "garden", 2.05, 1, 1, 0)]) }, null),
        ["PLACE-NO-WALLS"] = (Samples.Site(Air) with { Place = new([Garden with { Tags = [] }], [], []) }, null),
        ["PLACE-FLOOR-GONE"] = (
            Samples.Site(Air) with
            {
                Place = new([Garden with { Floor = "attic" }], [], []) { Floors = [new("up", "Upstairs", 2.7)] },
            },
            null
        ),
        ["PLACE-BLIND"] = (Watched("pir-hc-sr501", new("s", "Spot", "hall", 0.3, 1.3, 2, 90)), null),
        ["PLACE-NO-VIEW"] = (Watched("pir-hc-sr501", new("s", "Spot", "hall", 0.3, 1.3, 2, 270)), null),
        ["PLACE-SEES-BEYOND"] = (Watched("ld2410", BesideDoor), Watched("pir-hc-sr501", BesideDoor)),
        ["PLACE-BEAM-BESIDE"] = (Watched("hc-sr04", new("s", "Spot", "hall", 0.2, 0.2, 1, 90)), null),
        ["PLACE-WINDOW-IN-VIEW"] = (Watched("pir-hc-sr501", new("s", "Spot", "hall", 3.8, 1.3, 2, 270)), null),
        ["PLACE-HEAT-IN-VIEW"] = (Heated("pir-hc-sr501", 3.5, 1.3), Heated("ld2410", 3.5, 1.3)),
        ["PLACE-BARRIER-BLOCKED"] = (Barrier(0.2, WallMaterial.Brick), Barrier(0.2, null)),
        ["PLACE-BARRIER-FAR"] = (Barrier(0.9, null), Barrier(0.2, null)),
        ["PLACE-AIR-NEAR"] = (Heated("bme280", 0.9, 1.3), Heated("bme280", 2.5, 1.3)),
        ["PLACE-TOO-NEAR"] = (Watched("rcwl-0516", new("s", "Spot", "hall", 3.5, 0.5, 2, 270)), null),
        ["REACH-REGION"] = (Samples.Site(Radio("a", 60_000)), null),
        ["REACH-NO-ACCESS-POINT"] = (
            Samples.Site(Air with { Spot = "s" }) with
            {
                Place = new([Garden], [Brick], [new("s", "Spot", "garden", 1, 1, 1, 0), new("free", "Shelf", "garden", 3, 1, 1, 0)]),
            },
            null
        ),
        ["REACH-WEAK"] = (Heard(WallMaterial.Metal, new(PowerDbm: 2, AntennaGainDbi: -20)), Heard(WallMaterial.Timber, null)),
        ["REACH-FRAMES-CHANNEL"] = (Frames(null), Frames(11)),
        ["REACH-NO-RADIO"] = (Samples.Site(WithReading(Air, Samples.Every("t", "air", "temperature", 60_000)) with { Link = LinkKind.OnOffKeyed }), null),
        ["REACH-TEXTS"] = (Samples.Site(Texting(3_600_000)), null),
        ["REACH-TEXT-UNHEARD"] = (
            Samples.Site(Texting(86_400_000)),
            SiteDesign.Empty("Test site") with
            {
                Nodes = [Texting(86_400_000) with { Via = "hub" }, Samples.Node(("modem", "sim800-modem")) with { Key = "hub", Link = LinkKind.Cable }],
            }
        ),
        ["REACH-RADIO-POWER"] = (Samples.Site(Samples.Node(("radio", "lora-sx1276")) with { Radio = new(PowerDbm: 30) }), null),
        ["REACH-NO-LINE"] = (
            Samples.Site(Air with { Link = LinkKind.SerialCable }),
            Samples.Site(Air with { Link = LinkKind.SerialCable }) with
            {
                Lines = [new("usb", "USB", "/dev/ttyUSB0", 115_200, new(FrameKind.LengthPrefixed, [], Start: "7E", Node: Air.Key))],
            }
        ),
        ["REACH-UNHEARD"] = (Relayed(null, 20), null),
        ["REACH-OTHER-WAY"] = (Relayed("hub", 42), null),
        ["REACH-WAY-WEAK"] = (Relayed("post", 64), Relayed("post", 30)),
        ["REACH-SINGLE-POINT"] = (Relayed("post", 60), Relayed("post", 20)),
        ["REACH-RELAY-LIFE"] = (Relayed("post", 20, ListeningOnCells), null),
        ["REACH-HEARD-LESS"] = (Heard(WallMaterial.Timber, null, "heard"), Heard(WallMaterial.Timber, null)),
        ["REACH-LAW-BAND"] = (InEurope(new(FrequencyMegahertz: 868.65), 60_000), null),
        ["REACH-LAW-POWER"] = (InEurope(new(PowerDbm: 20), 60_000), null),
        ["REACH-LAW-DUTY"] = (InEurope(new(SpreadingFactor: 12), 20_000), InEurope(new(SpreadingFactor: 12), 3_600_000)),
        ["REACH-LAW-DWELL"] = (AtOnce(12), AtOnce(9)),
        ["PLACE-NO-SPOT"] = (Samples.Site(Air) with { Place = new([Garden], [], [new("s", "Spot", "garden", 1, 1, 1, 0)]) }, null),
        ["BENCH-NO-INPUT"] = (Samples.Site(Air with { Board = "esp32-eth-rmii-26" }), null),
        ["BENCH-STEP-DOWN"] = (Samples.Site(Air with { Power = Twelve with { Module = null } }), null),
        ["BENCH-BACKFEED"] = (Samples.Site(Air with { Power = new(PowerKind.FiveVolt, AlsoUsb: true) }), null),
        ["BENCH-REVERSE"] = (Samples.Site(Air with { Power = Twelve with { ReverseGuard = false } }), null),
        ["BENCH-NO-FUSE"] = (Samples.Site(Air with { Power = Twelve with { FuseAmps = null } }), null),
        ["BENCH-FUSE-CABLE"] = (Samples.Site(Air with { Power = Twelve with { FuseAmps = 5, LeadAwg = 24 } }), null),
        ["BENCH-CABLE-DROP"] = (Samples.Site(Air with { Power = new(PowerKind.FiveVolt, SurgeGuard: true, LeadMetres: 6, LeadAwg: 24) }), null),
        ["BENCH-DROPOUT"] = (Samples.Site(Air with { Power = new(PowerKind.FiveVolt, SurgeGuard: true, LeadMetres: 2.9, LeadAwg: 24) }), null),
        ["BENCH-CIRCUIT"] = (Samples.Site(Samples.Node(("raw", "raw"))) with { OwnParts = [OnlyLow] }, Samples.Site(Air)),
        ["BENCH-SOFTWARE-SERIAL"] = (Samples.Site(TwoSerial("esp32-c3-mini-16")), Samples.Site(TwoSerial("esp32-dev-38"))),
        ["BENCH-SOURCE-OVER"] = (
            Samples.Site(Samples.Node([.. Enumerable.Range(0, 4).Select(i => ($"p{i}", "ld2410"))]) with { Power = new(PowerKind.FiveVolt, RatedAmps: 0.5) }),
            null
        ),
        ["BENCH-VEHICLE"] = (
            Samples.Site(Air with { Power = new(PowerKind.TwelveVolt, Module: "buck-mp1584", FuseAmps: 1, ReverseGuard: true, Vehicle: true) }),
            null
        ),
        ["BENCH-MODULE-OVER"] = (
            Samples.Site(
                Air with
                {
                    Power = new(PowerKind.TwentyFourVolt, Module: "buck-mp1584", FuseAmps: 1, ReverseGuard: true, SurgeGuard: true, Vehicle: true),
                }
            ),
            null
        ),
        ["BENCH-NO-LINK"] = (Samples.Site(Air with { Board = "rp2040-40" }), null),
        ["BENCH-SUPPLY-SENSE"] = (
            Samples.Site(
                Samples.Node(("air", "bme280")) with
                {
                    Board = "linux-sbc-40",
                    Power = new(PowerKind.Cells, Cell: "cell-18650", StepUp: true),
                    MeasuresSupply = true,
                    AddsModules = false,
                    Link = LinkKind.Cable,
                }
            ),
            null
        ),
        ["BENCH-SURGE"] = (Samples.Site(Air with { Power = new(PowerKind.FiveVolt, LeadMetres: 5, LeadAwg: 14) }), null),
        ["BENCH-POE-HOLD"] = (Samples.Site(Air with { Power = new(PowerKind.OverCable), Sleeps = true }), null),
        ["BENCH-CELL-PULSE"] = (
            Samples.Site(
                Air with
                {
                    Board = Samples.Rp2040,
                    Power = new(PowerKind.Cells, "cr2032"),
                    Parts = [Samples.Part("air", "bme280"), Samples.Part("radio", "lora-sx1276")],
                }
            ),
            null
        ),
        ["BENCH-NO-CUTOFF"] = (Samples.Site(Air with { Power = Cell with { CellCutOff = false } }), null),
        ["BENCH-CHARGE-WRONG"] = (
            Samples.Site(Air with { Board = Samples.Rp2040, Power = new(PowerKind.Cells, "lifepo4-18650", Charger: "tp4056-charger") }),
            null
        ),
        ["BENCH-CHARGE-TEMP"] = (AtGarden(Air with { Power = Cell with { Charger = "tp4056-charger" } }), null),
        ["BENCH-INRUSH"] = (Samples.Site(Samples.Node(("dust", "pms5003"))), null),
        ["BENCH-HEAT"] = (
            Samples.Site(Samples.Node(("cam", "mlx90640"), ("radar", "ld2420")) with { Board = "esp32-c3-mini-16" }),
            Samples.Site(Samples.Node(("air", "bme280")) with { Board = "esp32-c3-mini-16", Link = LinkKind.LongRange })
        ),
        ["BENCH-NEAR-ANTENNA"] = (Samples.Site(Samples.Node(("pir", "pir-am312"))), null),
        ["BENCH-SELF-HEAT"] = (Samples.Site(Air with { Parts = [Samples.Part("air", "bme280") with { LeadMetres = 0.05 }] }), null),
        ["BENCH-NO-AIRFLOW"] = (
            Samples.Site(Air with { Parts = [Samples.Part("air", "bme280") with { LeadMetres = 0.05 }], Housing = new(false, true, false), Sleeps = true }),
            null
        ),
        ["BENCH-DARK-LID"] = (
            Samples.Site(
                Samples.Node(("lux", "bh1750")) is var lux
                    ? lux with
                    {
                        Parts = [lux.Parts[0] with { LeadMetres = 0.05 }],
                        Housing = new(true, false, false),
                    }
                    : lux
            ),
            null
        ),
        ["BENCH-UNSEALED"] = (AtGarden(Air), null),
        ["BENCH-NOISE"] = (In(RoomTag.Sleeping, Samples.Node(("dust", "pms5003"))), In(RoomTag.Sleeping, Air)),
        ["BENCH-DUST"] = (
            In(RoomTag.Dusty, Samples.Node(("pir", "pir-am312"))),
            In(RoomTag.Dusty, Samples.Node(("pir", "pir-am312")) with { Housing = new(false, false, false) })
        ),
        ["BENCH-ANALOG-RANGE"] = (Samples.Site(Samples.Node(("soil", "soil-capacitive"))), null),
        ["BENCH-ANALOG-COARSE"] = (Samples.Site(Samples.Node(("sharp", "sharp")) with { Board = "rp2040-40", Link = LinkKind.LongRange }), null),
        ["BENCH-LOAD-START"] = (Samples.Site(Samples.Node(("valve", "valve"))), Samples.Site(Samples.Node(("gate", "mosfet-switch")))),
        ["BENCH-PIN-TOTAL"] = (
            Samples.Site(Samples.Node([.. Enumerable.Range(0, 4).Select(i => ($"l{i}", "rgb-led-cc"))]) with { Board = "linux-sbc-40" }),
            Samples.Site(Samples.Node([.. Enumerable.Range(0, 4).Select(i => ($"l{i}", "rgb-led-cc"))]))
        ),
        ["ALERT-NOBODY"] = (Samples.Site(Air, Rule(new SilentFor(600_000)) with { Tell = new([new("ann")]) }), null),
        ["ALERT-NO-WAY-OUT"] = (
            Samples.Site(Air, Rule(new SilentFor(600_000)) with { Tell = new([new("ann")]) }) with
            {
                People = [new("ann", "Ann", [new(WayKind.Mail, "ann@house.example")]), new("ben", "Ben", [new(WayKind.Webhook, "https://house.example/told")])],
            },
            null
        ),
        ["ALERT-ACT-GONE"] = (Samples.Site(Air, Rule(new SilentFor(600_000)) with { Acts = [new("n", "fan", ActWhile.Raised)] }), null),
        ["ALERT-PERMIT-UNSEEN"] = (
            Samples.Site(DoorAndFan, Rule(new BeyondLimit(LimitSide.Above, 0, 0, 0)) with { Acts = [new("n", "fan", ActWhile.Calm)] }),
            null
        ),
        ["ALERT-ACTS-CROSS"] = (
            Samples.Site(
                DoorAndFan,
                Rule(new BeyondLimit(LimitSide.Above, 0, 0, 0)) with
                {
                    Acts = [new("n", "fan", ActWhile.Raised)],
                },
                Rule(new BeyondLimit(LimitSide.Above, 0, 0, 0)) with
                {
                    Key = "two",
                    Acts = [new("n", "fan", ActWhile.Raised)],
                }
            ),
            null
        ),
        ["ZONE-SENSOR-GONE"] = (Samples.Site(DoorAndFan) with { Zones = [Zone with { Sensors = [new("n", "t"), new("n", "gone")] }] }, null),
        ["ZONE-UNSEEN"] = (Samples.Site(DoorAndFan) with { Zones = [Zone] }, null),
        ["ZONE-SOUNDER-GONE"] = (Samples.Site(DoorAndFan) with { Zones = [Zone with { Sounders = [new("n", "fan"), new("n", "siren")] }] }, null),
        ["ZONE-LAMP-GONE"] = (Samples.Site(DoorAndFan) with { Zones = [Zone with { Lamp = new("n", "lamp") }] }, null),
        ["ZONE-WAITS-FOR-NOBODY"] = (
            Samples.Site(DoorAndFan) with
            {
                Zones = [Zone with { Tell = null, Sounders = [new("n", "fan")], SoundOnceTold = true, SoundAfterMs = 60_000 }],
            },
            null
        ),
        ["ZONE-TELLS-NOBODY"] = (Samples.Site(DoorAndFan) with { Zones = [Zone with { Sounders = [] }] }, Samples.Site(DoorAndFan) with { Zones = [Zone] }),
        ["WATCH-INPUT-GONE"] = (
            Samples.Site(Air) with
            {
                Derived = [new("left", "Left", new DaysLeftOf("nobody"), 0)],
            },
            Samples.Site(Air) with
            {
                Derived = [new("left", "Left", new DaysLeftOf("n"), 0)],
            }
        ),
        ["WATCH-INPUT-UNIT"] = (Samples.Site(Air) with { Derived = [new("dew", "Dew", new DewPointOf(new("n", "t"), new("n", "t")), 1)] }, null),
        ["WATCH-SUM-UNITS"] = (
            Samples.Site(Air with { Readings = [.. Air.Readings, Air.Readings[0] with { Key = "rh", Label = "Humidity", Quantity = "humidity" }] }) with
            {
                Derived = [new("sum", "Sum", new SumOf([new(new("n", "t"), 1), new(new("n", "rh"), 1)]), 1)],
            },
            null
        ),
        ["ALERT-NO-READING"] = (Samples.Site(Air, Rule(new SilentFor(600_000), "gone")), null),
        ["ALERT-NO-HEARTBEAT"] = (
            Samples.Site(WithReading(Samples.Node(("d", "reed-contact")), Samples.OnChange("t", "d", "contact")), Rule(new SilentFor(3_600_000))),
            null
        ),
        ["ALERT-SILENCE-SHORT"] = (Samples.Site(Air, Rule(new SilentFor(70_000))), null),
        ["ALERT-OUT-OF-RANGE"] = (
            Samples.Site(Air, Rule(new BeyondLimit(LimitSide.Above, 90, 80, 0))),
            Samples.Site(Air, Rule(new BeyondLimit(LimitSide.Above, 60, 50, 0)))
        ),
    };

    private static ZoneDesign Zone => new("z", "Zone", [new("n", "t")], 0, 0, 1, 0, [new("n", "fan")], 60_000, 0);

    /// <summary>A contact that only tells changes, and a relay that may be on for ten minutes.</summary>
    private static NodeDesign DoorAndFan =>
        Samples.Node(("d", "reed-contact"), ("relay", "relay-5v-1ch")) with
        {
            Readings =
            [
                Samples.OnChange("t", "d", "contact"),
                Samples.OnChange("fan", "relay", "relay") with
                {
                    HeartbeatMs = 60_000,
                    Output = new(OutputLoad.Fan, 600_000),
                },
            ],
        };

    public static readonly TheoryData<string> Codes = [.. Cases.Keys];

    /// <summary>The catalogue with a sensor whose pull-ups are too strong in company.</summary>
    private static readonly HardwareCatalogue Hardware = new(
        Samples.Catalogue.Boards,
        [
            .. Samples.Catalogue.Parts,
            Samples.Catalogue.Part("bme280")! with
            {
                Id = "strong",
                PullUpOhms = Fact.Of(1_500, "made up for this test"),
                Cautions = [],
                Interfaces = [Samples.Catalogue.Part("bme280")!.Interfaces[0]],
            },
            Samples.Catalogue.Part("tds-analog")! with
            {
                Id = "sharp",
                Quantities = [Samples.Catalogue.Part("tds-analog")!.Quantities[0] with { Error = 20 }],
            },
            Samples.Catalogue.Part("mosfet-switch")! with
            {
                Id = "valve",
                Interfaces = [new(InterfaceKind.Digital, "bare input", [new("G", LineRole.DigitalToPart, LineDrive.None, RestLevel.Floating, Load: true)])],
            },
        ],
        Samples.Catalogue.Cells,
        Samples.Catalogue.Supplies
    );

    private static SitePlan Plan(SiteDesign site) =>
        SitePlanner.Plan(site, Hardware, Evidence.None with { Links = [new("heard", LinkKind.LongRange, 60, 100)], WaysOut = [WayKind.Webhook] });

    private static int Stops(SiteDesign site) => Plan(site).Findings.Count(f => f.Severity == Severity.Stop);

    [Theory]
    [MemberData(nameof(Codes))]
    public void It_appears_and_goes(string code)
    {
        var (with, without) = Cases[code];
        var found = Plan(with).Findings.Where(f => f.Code == code).ToList();
        Assert.NotEmpty(found);
        Assert.All(found, f => Assert.False(string.IsNullOrWhiteSpace(f.What) || string.IsNullOrWhiteSpace(f.Why) || string.IsNullOrWhiteSpace(f.Source)));
        if (without is not null)
        {
            Assert.DoesNotContain(Plan(without).Findings, f => f.Code == code);
            return;
        }
        Assert.NotEmpty(found[0].Remedies);
        foreach (var remedy in found[0].Remedies)
        {
            var after = EditBatch.Apply(with, remedy.Edits).Value.After;
            Assert.DoesNotContain(Plan(after).Findings, f => f.Code == code && f.Subject == found[0].Subject);
            Assert.True(Stops(after) <= Stops(with), $"\"{remedy.Label}\" adds a stop");
        }
    }

    [Fact]
    public void No_finding_is_left_untested()
    {
        var sources = Directory.GetFiles(Path.Combine(Floors.Root, "src", "Cenotic.Core"), "*.cs", SearchOption.AllDirectories).Select(File.ReadAllText);
        var codes = sources
            .SelectMany(s =>
                System.Text.RegularExpressions.Regex.Matches(s, "\"((?:BENCH|RHYTHM|REACH|PLACE|ALERT|ZONE|WATCH)-[A-Z0-9-]+)\"").Select(m => m.Groups[1].Value)
            )
            .Distinct()
            .Order(StringComparer.Ordinal);
        Assert.Equal(codes, Cases.Keys.Order(StringComparer.Ordinal));
        var documented = File.ReadAllText(Path.Combine(Floors.Root, "docs", "formulas.md"));
        Assert.All(Cases.Keys, code => Assert.Contains(code, documented));
    }

    [Fact]
    public void The_demo_site_has_no_stop_and_every_remedy_of_it_holds()
    {
        var file = Samples.Fernhollow();
        var plan = SitePlanner.Plan(file.Design, Samples.Catalogue, file.Evidence);
        Assert.True(plan.Sound);
        foreach (var finding in plan.Findings.Where(f => f.Remedies.Count > 0))
        {
            foreach (var remedy in finding.Remedies)
            {
                var after = SitePlanner.Plan(EditBatch.Apply(file.Design, remedy.Edits).Value.After, Samples.Catalogue, file.Evidence);
                Assert.DoesNotContain(after.Findings, f => f.Code == finding.Code && f.Subject == finding.Subject);
                Assert.True(after.Sound, remedy.Label);
            }
        }
    }

    [Fact]
    public void Findings_come_by_severity_and_then_by_order_of_work()
    {
        var findings = SitePlanner.Plan(Samples.Fernhollow().Design, Samples.Catalogue, Evidence.None).Findings;
        Assert.Equal(findings.Select(f => f.Severity).Order(), findings.Select(f => f.Severity));
    }
}
