using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>Everything a person decided about a site. Immutable; changed only by <see cref="EditBatch.Apply"/>.</summary>
public sealed record SiteDesign(SiteSettings Settings, PlaceDesign Place, IReadOnlyList<NodeDesign> Nodes, IReadOnlyList<RuleDesign> Rules)
{
    /// <summary>Boards the maker added to the catalogue; one with the id of a shipped board stands in its place.</summary>
    public IReadOnlyList<Catalogue.Board> OwnBoards { get; init; } = [];

    /// <summary>Parts the maker added to the catalogue.</summary>
    public IReadOnlyList<Catalogue.Part> OwnParts { get; init; } = [];

    /// <summary>Cells that the maker described, beside those of the catalogue.</summary>
    public IReadOnlyList<Catalogue.Cell> OwnCells { get; init; } = [];

    /// <summary>What lies in the drawer, and what more of it costs.</summary>
    public IReadOnlyList<StockItem> Stock { get; init; } = [];

    /// <summary>Serial lines from radio bridges.</summary>
    public IReadOnlyList<SerialLineDesign> Lines { get; init; } = [];

    /// <summary>Who may be told.</summary>
    public IReadOnlyList<PersonDesign> People { get; init; } = [];

    /// <summary>What can be armed.</summary>
    public IReadOnlyList<ZoneDesign> Zones { get; init; } = [];

    /// <summary>Views of tiles.</summary>
    public IReadOnlyList<ViewDesign> Views { get; init; } = [];

    /// <summary>Readings that are worked out of others.</summary>
    public IReadOnlyList<DerivedDesign> Derived { get; init; } = [];

    /// <summary>The version that documents are written in.</summary>
    public const int FormatVersion = 1;

    /// <summary>A site with nothing in it yet.</summary>
    public static SiteDesign Empty(string name, string timeZone = "Etc/UTC") => new(new(name, timeZone, RadioRegion.Unset), new([], [], []), [], []);

    /// <summary>The node with a key, or null.</summary>
    public NodeDesign? Node(string key) => Nodes.FirstOrDefault(n => n.Key == key);

    /// <summary>A reading that is measured or worked out, or null.</summary>
    public ReadingDesign? Reading(ReadingRef reading) =>
        reading.Node != DerivedDesign.Node ? Node(reading.Node)?.Reading(reading.Reading)
        : Derived.FirstOrDefault(d => d.Key == reading.Reading) is { } derived
            ? new(derived.Key, derived.Label, "", "", GapOf(derived.From), null, derived.Decimals)
        : null;

    /// <summary>All readings: those of the nodes in their order, then what is worked out.</summary>
    [JsonIgnore]
    public IEnumerable<(ReadingRef Ref, ReadingDesign Reading)> AllReadings =>
        Nodes
            .SelectMany(n => n.Readings.Select(r => (new ReadingRef(n.Key, r.Key), r)))
            .Concat(Derived.Select(d => (Ref: new ReadingRef(DerivedDesign.Node, d.Key), Reading: Reading(new(DerivedDesign.Node, d.Key))!)));

    /// <summary>What stands for the node of a reading in the eyes of people.</summary>
    public string? NodeLabel(string node) => node == DerivedDesign.Node ? "Worked out" : Node(node)?.Label;

    /// <summary>How long may pass between two values of a reading that is worked out when all is well, ms; null where there is no such time.</summary>
    private long? GapOf(DerivedFrom from) =>
        from switch
        {
            PresenceOf => null,
            LostShareOf or DaysLeftOf => DerivedDesign.NodeEveryMs,
            _ => from.Inputs.Select(i => Reading(i)?.LongestGapMs).ToList() is { Count: > 0 } gaps && gaps.TrueForAll(g => g is not null)
                ? gaps.Max() + (from.IsTotal ? DerivedDesign.TotalsApartMs : 0)
                : null,
        };

    /// <summary>Spots at which neither a node nor an access point stands.</summary>
    [JsonIgnore]
    public IEnumerable<Spot> FreeSpots
    {
        get
        {
            var taken = Nodes.Select(n => n.Spot).Concat(Place.AccessPoints.Select(a => a.Spot)).ToHashSet();
            return Place.Spots.Where(s => !taken.Contains(s.Key));
        }
    }

    /// <summary>Whether the key of one node is good for messages of another: its own, and those heard through it, also through relays in between.</summary>
    public bool SpeaksFor(string node, string whose) => Node(whose) is { } other && (whose == node || HeardThrough(other).Any(n => n.Key == node));

    /// <summary>The nodes that pass a node's messages on, in their order: relays, and at last the gateway. Ends before a node that is gone, and before a ring
    /// would close.</summary>
    public IReadOnlyList<NodeDesign> HeardThrough(NodeDesign node)
    {
        List<NodeDesign> way = [];
        for (var hears = Hearing(node); hears is not null && hears.Key != node.Key && way.TrueForAll(n => n.Key != hears.Key); hears = Hearing(hears))
        {
            way.Add(hears);
        }
        return way;
    }

    private NodeDesign? Hearing(NodeDesign node) => node.Via is { } via ? Node(via) : null;

    /// <summary>The rule with a key, or null.</summary>
    public RuleDesign? Rule(string key) => Rules.FirstOrDefault(r => r.Key == key);
}

/// <summary>Stock and price of one thing: a board, part, cell or supply by its catalogue id, or a component by its value ("10 kΩ").</summary>
/// <param name="OnHand">How many lie in the drawer.</param>
/// <param name="Offers">How more can be bought.</param>
public sealed record StockItem(string Id, int OnHand, IReadOnlyList<StockOffer> Offers)
{
    /// <summary>The cheapest price of one, in the maker's own currency; null where nobody offers it.</summary>
    [JsonIgnore]
    public double? UnitPrice => Offers.Select(o => (double?)(o.PackPrice / o.PackSize)).Min();
}

/// <summary>One way to buy: a pack of so many, its price in the maker's own currency, and the days until it is here.</summary>
public sealed record StockOffer(string From, int PackSize, double PackPrice, int Days);

/// <summary>Radio rules that apply; unset until the maker says where the site is.</summary>
public enum RadioRegion
{
    /// <summary>Not said yet.</summary>
    Unset,

    /// <summary>Europe, around 868 MHz.</summary>
    Europe868,

    /// <summary>America, around 915 MHz.</summary>
    America915,

    /// <summary>Another: the bands that the maker typed.</summary>
    Own,
}

/// <param name="TimeZone">IANA name, such as Europe/London.</param>
/// <param name="Keeping">How long measurements are kept; null for ever.</param>
/// <param name="OwnBands">The bands of the region of the maker's own; null for none.</param>
public sealed record SiteSettings(string Name, string TimeZone, RadioRegion Region, KeepDesign? Keeping = null, IReadOnlyList<OwnBand>? OwnBands = null);

/// <summary>How long measurements are kept. Highs, lows and means of each hour are kept for ever.</summary>
/// <param name="SampleDays">Days that single samples are kept; null for ever.</param>
/// <param name="MinuteDays">Days that the highs, lows and means of each minute are kept, no fewer than the samples; null for ever.</param>
public sealed record KeepDesign(int? SampleDays, int? MinuteDays);

/// <summary>How a node sends: over the Wi-Fi of its board, over a radio module among its parts, over its cable, or onto a storage card.</summary>
public enum LinkKind
{
    /// <summary>Wi-Fi of the board.</summary>
    Wifi,

    /// <summary>A radio module of its own.</summary>
    LongRange,

    /// <summary>Its cable.</summary>
    Cable,

    /// <summary>None: it writes to a storage card.</summary>
    Card,

    /// <summary>Frames of the Wi-Fi radio of the board, without a connection, to a board whose radio understands them.</summary>
    Frames,

    /// <summary>Bluetooth low energy advertising of the board, to one that listens for it.</summary>
    Advertising,

    /// <summary>The same at the coded rate, 125 kbit/s: further, and four times as long on the air.</summary>
    CodedAdvertising,

    /// <summary>The IEEE 802.15.4 radio of the board.</summary>
    Ieee802154,

    /// <summary>A serial line over a cable, such as its USB, to the machine that runs the program.</summary>
    SerialCable,

    /// <summary>An on-off keyed transmitter among its parts: it hears nothing, so nobody answers.</summary>
    OnOffKeyed,

    /// <summary>Text messages over the mobile network, by a modem among its parts, to the modem of a gateway.</summary>
    TextMessage,
}

/// <summary>What feeds a node.</summary>
public enum PowerKind
{
    /// <summary>USB, 5 V.</summary>
    Usb,

    /// <summary>A 5 V supply.</summary>
    FiveVolt,

    /// <summary>Cells.</summary>
    Cells,

    /// <summary>A 12 V source.</summary>
    TwelveVolt,

    /// <summary>A 24 V source.</summary>
    TwentyFourVolt,

    /// <summary>The network cable.</summary>
    OverCable,

    /// <summary>A storage capacitor that light fills.</summary>
    Capacitor,
}

/// <summary>What feeds a node, and what protects it.</summary>
/// <param name="Cell">Catalogue id of the cell; with <see cref="PowerKind.Cells"/> only.</param>
/// <param name="Parallel">Cells side by side.</param>
/// <param name="StepUp">True when a converter makes 5 V from the cells.</param>
/// <param name="Module">Catalogue id of the step-down or powered-device module between a higher supply and the board.</param>
/// <param name="TwelveVoltStepUp">True when a step-up module makes 12 V for a load beside the board.</param>
/// <param name="FuseAmps">Rating of the fuse at the source, ampere; null when there is none.</param>
/// <param name="ReverseGuard">True when a diode or MOSFET blocks a reversed supply.</param>
/// <param name="SurgeGuard">True when clamps stand at the cables that leave the building or are long.</param>
/// <param name="LeadMetres">Length of the cable from the source.</param>
/// <param name="LeadAwg">Its gauge; null when not known.</param>
/// <param name="AlsoUsb">True when USB is plugged in beside this supply now and then.</param>
/// <param name="BackfeedGuard">True when a diode keeps the two apart.</param>
/// <param name="Charger">Catalogue id of a charger for the cells, or null.</param>
/// <param name="ChargerMeasuresCell">True when the charger measures the temperature of the cell.</param>
/// <param name="CellCutOff">True when a protection board cuts an empty or shorted cell off.</param>
/// <param name="Series">Cells one after another: the voltages add.</param>
/// <param name="FittedOn">The day the cells were put in; null when not noted.</param>
/// <param name="Harvest">A light cell that feeds the node; null for none.</param>
/// <param name="RatedAmps">What the source gives for long, ampere; null for the usual one of its kind.</param>
/// <param name="Vehicle">True for the battery of a vehicle: its charger lifts it, and what is switched off in it makes spikes.</param>
/// <param name="Rails">Further rails, each through a converter of its own.</param>
public sealed record PowerDesign(
    PowerKind Kind,
    string? Cell = null,
    int Parallel = 1,
    bool StepUp = false,
    string? Module = null,
    bool TwelveVoltStepUp = false,
    double? FuseAmps = null,
    bool ReverseGuard = false,
    bool SurgeGuard = false,
    double LeadMetres = 0,
    int? LeadAwg = null,
    bool AlsoUsb = false,
    bool BackfeedGuard = false,
    string? Charger = null,
    bool ChargerMeasuresCell = false,
    bool CellCutOff = true,
    int Series = 1,
    DateOnly? FittedOn = null,
    HarvestDesign? Harvest = null,
    double? RatedAmps = null,
    bool Vehicle = false,
    IReadOnlyList<RailDesign>? Rails = null
);

/// <summary>A rail that the maker adds: 4 V for a modem, say.</summary>
/// <param name="Module">Catalogue id of its step-down or step-up module.</param>
public sealed record RailDesign(double Volts, string Module);

/// <summary>Where the light of a harvesting cell comes from.</summary>
public enum LightKind
{
    /// <summary>The sun, by latitude and clearness.</summary>
    Sun,

    /// <summary>A lamp, by lx and hours.</summary>
    Lamp,

    /// <summary>A table of each month.</summary>
    Table,
}

/// <summary>A light cell and what it fills.</summary>
/// <param name="AreaSquareCm">Area of the cell, cm².</param>
/// <param name="EfficiencyPercent">Light to electricity at that light, %.</param>
/// <param name="LatitudeDegrees">For the sun, degrees north; south is negative.</param>
/// <param name="Clearness">For the sun, the part of the light above the air that reaches the cell, 0..1.</param>
/// <param name="Lux">For a lamp, lx on the cell while it is lit.</param>
/// <param name="HoursPerDay">For a lamp, hours a day.</param>
/// <param name="WattHoursPerSquareMetre">For a table, Wh/m² on the cell on a day of each month, January first.</param>
/// <param name="CapacitorMicrofarads">Storage capacitor, µF; null when the cells of the node are charged.</param>
/// <param name="StartVolts">Capacitor voltage at which the node starts.</param>
/// <param name="StopVolts">Capacitor voltage below which it stops.</param>
public sealed record HarvestDesign(
    double AreaSquareCm,
    double EfficiencyPercent,
    LightKind Light,
    double? LatitudeDegrees = null,
    double? Clearness = null,
    double? Lux = null,
    double? HoursPerDay = null,
    IReadOnlyList<double>? WattHoursPerSquareMetre = null,
    double? CapacitorMicrofarads = null,
    double StartVolts = 3.6,
    double StopVolts = 2.25
);

/// <summary>How a node sends and keeps time, and what its receiver takes.</summary>
/// <param name="Acknowledged">True when it listens for an acknowledgement and sends again without one.</param>
/// <param name="MostTries">Transmissions of one message at most.</param>
/// <param name="DeliveredShare">Part of single transmissions that arrive, 0..1; null: the planning value of its radio.</param>
/// <param name="HearsTime">True when it receives a time reference, so that it can keep a slot.</param>
/// <param name="ClockPpm">Error of its clock, ± ppm.</param>
/// <param name="ResyncMs">Time between time references.</param>
/// <param name="JitterMs">Spread of its start of sending, ms.</param>
/// <param name="BufferBytes">Largest packet its client holds; null when not known.</param>
/// <param name="MostFields">Most values the receiver takes in a message; null for no limit.</param>
/// <param name="LeastSpacingMs">Least time between messages that the receiver allows; null for no limit.</param>
/// <param name="Repeats">Times that a message is sent where no answer is waited for.</param>
public sealed record SendDesign(
    bool Acknowledged = true,
    int MostTries = 3,
    double? DeliveredShare = null,
    bool HearsTime = false,
    double ClockPpm = 20,
    long ResyncMs = 3_600_000,
    double JitterMs = 5,
    int? BufferBytes = null,
    int? MostFields = null,
    long? LeastSpacingMs = null,
    int Repeats = 1
)
{
    /// <summary>How messages are advertised where nothing else is said: nobody answers, and a receiver listens on one of three channels at a time.</summary>
    public static SendDesign Advertised { get; } = new(Acknowledged: false, Repeats: 5);

    /// <summary>How they are sent by on-off keying where nothing else is said. Source: common practice, no source.</summary>
    public static SendDesign OnOffKeyed { get; } = new(Acknowledged: false, Repeats: 3);

    /// <summary>How messages are sent where nothing else is said.</summary>
    public static SendDesign UsualOf(LinkKind link) =>
        link == LinkKind.OnOffKeyed ? OnOffKeyed
        : link.IsAdvertised() ? Advertised
        : new();

    /// <summary>Transmissions of a message at most.</summary>
    [JsonIgnore]
    public int MostSent => Acknowledged ? MostTries : Repeats;

    /// <summary>How a node sends, with the usual way of its radio filled in. What is advertised gets no answer: where one was waited for, a message goes out as
    /// often as is usual instead.</summary>
    public static SendDesign Of(NodeDesign node)
    {
        var (send, usual) = (node.Sending, UsualOf(node.Link));
        return send is null ? usual
            : node.Link.IsAdvertised() && send.Acknowledged ? send with { Acknowledged = false, Repeats = usual.Repeats }
            : send;
    }
}

/// <summary>One node: a board, what hangs on it, what it reads and how it sends.</summary>
/// <param name="Sleeps">True when it sleeps between wakes; false when it is always on.</param>
/// <param name="MeasuresSupply">True when it measures its own cell through a divider and the converter.</param>
/// <param name="AddsModules">True when the planner may add expanders, a multiplexer or a converter where there is no plan without.</param>
/// <param name="Housing">What stands around the board; null when it is open.</param>
/// <param name="Sending">How it sends; null for the usual way of its radio.</param>
/// <param name="Via">The node that hears it and passes its messages on, a gateway or a relay: its key speaks for this node too. Null when it sends for
/// itself.</param>
/// <param name="CorrectsItself">True when its program applies calibrations and limits: they hold without a network,
/// and a new one wants flashing. The server then takes its values as they come.</param>
/// <param name="Radio">How its first module is set, unless that has settings of its own: then, and without a module, how its board's radio is. Null for the
/// usual settings.</param>
/// <param name="Relays">True when it passes on by its radio module what it hears of other nodes, also where it sleeps: it then listens all the time.</param>
public sealed record NodeDesign(
    string Key,
    string Label,
    string? Spot,
    string Board,
    PowerDesign Power,
    LinkKind Link,
    bool Sleeps,
    bool MeasuresSupply,
    IReadOnlyList<PartInstance> Parts,
    IReadOnlyList<WireDesign> Wires,
    IReadOnlyList<ReadingDesign> Readings,
    bool AddsModules = true,
    Housing? Housing = null,
    SendDesign? Sending = null,
    string? Via = null,
    bool CorrectsItself = false,
    RadioDesign? Radio = null,
    bool Relays = false
)
{
    /// <summary>Whether it hears others at any time: one that is always on, or a relay whose radio listens while it sleeps.</summary>
    [JsonIgnore]
    public bool Hears => (!Sleeps || (Relays && SendsPackets)) && (!SendsPackets || Link.CanRelay());

    /// <summary>Whether others may be heard through it: it hears at any time, and sends for itself or passes on by radio.</summary>
    [JsonIgnore]
    public bool MayBeHeardThrough => Hears && (SendsPackets || Via is null);

    /// <summary>Whether it sends message by message over a radio, to a gateway or a relay.</summary>
    [JsonIgnore]
    public bool SendsPackets => Link.IsPackets();

    /// <summary>Whether it is on the network itself: commands reach it there.</summary>
    [JsonIgnore]
    public bool IsOnNetwork => Link is LinkKind.Wifi or LinkKind.Cable;

    /// <summary>Whether the Wi-Fi radio of its board is on, with a connection or without.</summary>
    [JsonIgnore]
    public bool UsesWifi => Link is LinkKind.Wifi or LinkKind.Frames;

    /// <summary>The part with a key, or null.</summary>
    public PartInstance? Part(string key) => Parts.FirstOrDefault(p => p.Key == key);

    /// <summary>The reading with a key, or null.</summary>
    public ReadingDesign? Reading(string key) => Readings.FirstOrDefault(r => r.Key == key);
}

/// <summary>What stands around a node's board and the parts with short leads.</summary>
/// <param name="Vented">True when air passes through.</param>
/// <param name="Sealed">True when no water gets in.</param>
/// <param name="ClearLid">True when light gets in.</param>
/// <param name="AntennaInMetal">True when it is of metal and the antenna is inside.</param>
public sealed record Housing(bool Vented, bool Sealed, bool ClearLid, bool AntennaInMetal = false);

/// <summary>One part on a node.</summary>
/// <param name="Part">Catalogue id.</param>
/// <param name="Interface">The interface the maker chose, or null: the planner chooses.</param>
/// <param name="Address">The I2C address the maker strapped, or null.</param>
/// <param name="LeadMetres">Length of its lead.</param>
/// <param name="SwitchSupply">True when a transistor cuts its supply between readings.</param>
/// <param name="Bits">Resolution, where the part has a choice.</param>
/// <param name="Rom">The code of a 1-Wire part, 16 hexadecimal digits, once it is known which of them this is.</param>
/// <param name="Variant">How it differs from the catalogue's; null where it does not.</param>
/// <param name="EmitterSpot">Of a light barrier, where its emitter hangs; the receiver hangs with the node. Null where that is not said.</param>
/// <param name="Radio">Of a radio module, how it is set; null for the usual settings, and for the first module of a node as the node says.</param>
public sealed record PartInstance(
    string Key,
    string Label,
    string Part,
    Catalogue.InterfaceKind? Interface = null,
    int? Address = null,
    double LeadMetres = 0.2,
    bool SwitchSupply = false,
    int? Bits = null,
    string? Rom = null,
    PartVariant? Variant = null,
    string? EmitterSpot = null,
    RadioDesign? Radio = null
);

/// <summary>How one part differs from the catalogue's of its kind; what is null is as the catalogue has it.</summary>
/// <param name="LowOhms">Of a resistive sensor, its least resistance, ohm.</param>
/// <param name="HighOhms">Its greatest, ohm.</param>
/// <param name="NominalOhms">Of a thermistor, its resistance at 25 °C, ohm.</param>
/// <param name="Beta">Of a thermistor, its Beta, K.</param>
/// <param name="Leds">Of a strip, how many LEDs it has.</param>
/// <param name="InputVolts">Of an isolated input, the voltage of what drives it, volts.</param>
public sealed record PartVariant(
    double? LowOhms = null,
    double? HighOhms = null,
    double? NominalOhms = null,
    double? Beta = null,
    int? Leds = null,
    double? InputVolts = null
);

/// <summary>What holds a wire where it is.</summary>
public enum WireHold
{
    /// <summary>The maker wants this pin.</summary>
    Locked,

    /// <summary>The wire is soldered there: moving it costs.</summary>
    Soldered,
}

/// <summary>A wire that is decided: a line, supply or ground pin of a part on a pin of the board.</summary>
/// <param name="Colour">The insulation it has; null where the plan may choose it.</param>
public sealed record WireDesign(string Part, string Line, string Pin, WireHold Hold, string? Colour = null)
{
    /// <summary>The part and its line: "air.SDA".</summary>
    [JsonIgnore]
    public string Key => $"{Part}.{Line}";
}

/// <summary>One quantity read from one part, and when.</summary>
/// <param name="IntervalMs">Time between readings; null for a reading that is sent when it changes.</param>
/// <param name="HeartbeatMs">For on-change readings, the longest silence; null for none.</param>
/// <param name="BatchOf">Readings that are sent together; 1 sends each.</param>
/// <param name="WantedWithinMs">How soon after the event the maker wants to know; null for no wish.</param>
/// <param name="PerDay">For on-change readings and counters, changes or pulses expected a day; null: the planning value.</param>
/// <param name="Output">For the state of an output, what it switches; null while that is not said, and then it is not switched from here.</param>
public sealed record ReadingDesign(
    string Key,
    string Label,
    string Part,
    string Quantity,
    long? IntervalMs,
    long? HeartbeatMs,
    int Decimals,
    int BatchOf = 1,
    long? WantedWithinMs = null,
    double? PerDay = null,
    OutputDesign? Output = null
)
{
    /// <summary>The longest time that may pass between two samples when all is well, or null when there is no such time.</summary>
    [JsonIgnore]
    public long? LongestGapMs => IntervalMs ?? HeartbeatMs;

    /// <summary>The longest time that may pass between two messages with it when all is well, ms: a batch is sent once it is
    /// full. Null when there is no such time.</summary>
    [JsonIgnore]
    public long? MessageGapMs => IntervalMs * Math.Max(1, BatchOf) ?? HeartbeatMs;

    /// <summary>How long after it was heard last a reading is silent, ms; null when it cannot be.</summary>
    [JsonIgnore]
    public long? SilentMs => MessageGapMs is { } gap ? SilentAfterMs(gap) : null;

    /// <summary>How long after the newest message something is silent, ms: two messages in a row may
    /// be lost, and one may be late (common practice, no source).</summary>
    /// <param name="messageGapMs">Longest time between two messages when all is well, ms.</param>
    public static long SilentAfterMs(long messageGapMs) => messageGapMs * 5 / 2 + 5_000;
}

/// <summary>What hangs on an output.</summary>
public enum OutputLoad
{
    /// <summary>A lamp.</summary>
    Lamp,

    /// <summary>A fan.</summary>
    Fan,

    /// <summary>A pump.</summary>
    Pump,

    /// <summary>A valve.</summary>
    Valve,

    /// <summary>A motor.</summary>
    Motor,

    /// <summary>A heater: a certified limiter stands beside it.</summary>
    Heater,

    /// <summary>A sounder.</summary>
    Sounder,

    /// <summary>Something else.</summary>
    Other,
}

/// <summary>What an output switches, and how long it may be on without a person asking again. The node counts this time itself.</summary>
/// <param name="MaxOnMs">Longest time on, ms.</param>
/// <param name="ServerSilentMs">The node switches it on by itself when it has heard no server for this long (a gateway's watchdog); null for never.</param>
public sealed record OutputDesign(OutputLoad Load, long MaxOnMs, long? ServerSilentMs = null);

/// <summary>When to be told. The condition is judged on arrival, live and on the past, by the same code.</summary>
/// <param name="Note">What to do about it, in the maker's words.</param>
/// <param name="WantedWithinMs">How soon after the event the notice is wanted; null for no wish.</param>
public sealed record RuleDesign(
    string Key,
    string Label,
    string Node,
    string Reading,
    RuleCondition Condition,
    string Note,
    bool Armed,
    long? WantedWithinMs = null
)
{
    /// <summary>Whom it tells; null for nobody but the pages that are open.</summary>
    public TellDesign? Tell { get; init; }

    /// <summary>Outputs it switches.</summary>
    public IReadOnlyList<ActDesign> Acts { get; init; } = [];

    /// <summary>Whether it takes all of its conditions together, or any.</summary>
    public RuleJoin Join { get; init; }

    /// <summary>Further conditions, each with its own reading, duration and clearing.</summary>
    public IReadOnlyList<RulePart> Also { get; init; } = [];

    /// <summary>All its conditions; the first is that of its own reading.</summary>
    [JsonIgnore]
    public IReadOnlyList<RulePart> Parts => [new(new(Node, Reading), Condition), .. Also];

    /// <summary>The readings it watches; its own is the first.</summary>
    [JsonIgnore]
    public IReadOnlyList<ReadingRef> Inputs =>
        [.. Parts.SelectMany(p => p.Condition is InSequence sequence ? new[] { p.Reading, sequence.Other } : [p.Reading]).Distinct()];
}

/// <summary>How the conditions of a rule go together.</summary>
public enum RuleJoin
{
    /// <summary>All hold at once.</summary>
    All,

    /// <summary>One of them is enough.</summary>
    Any,
}

/// <summary>One of several conditions of a rule.</summary>
public sealed record RulePart(ReadingRef Reading, RuleCondition Condition);

/// <summary>What a rule watches for.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(BeyondLimit), "beyondLimit")]
[JsonDerivedType(typeof(SilentFor), "silentFor")]
[JsonDerivedType(typeof(OutsideBand), "outsideBand")]
[JsonDerivedType(typeof(InARow), "inARow")]
[JsonDerivedType(typeof(ChangesFaster), "changesFaster")]
[JsonDerivedType(typeof(EventsWithin), "eventsWithin")]
[JsonDerivedType(typeof(UnlikeUsual), "unlikeUsual")]
[JsonDerivedType(typeof(InSequence), "inSequence")]
public abstract record RuleCondition;

/// <summary>The side of a limit that raises.</summary>
public enum LimitSide
{
    /// <summary>Values above it.</summary>
    Above,

    /// <summary>Values below it.</summary>
    Below,
}

/// <summary>Above or below <paramref name="Limit"/> for <paramref name="ForMs"/>; over when it is back at <paramref name="Clear"/> or better.</summary>
public sealed record BeyondLimit(LimitSide Side, double Limit, double Clear, long ForMs) : RuleCondition;

/// <summary>Below <paramref name="Low"/> or above <paramref name="High"/> for <paramref name="ForMs"/>;
/// over when it is inside by <paramref name="ClearBy"/> or more.</summary>
public sealed record OutsideBand(double Low, double High, double ClearBy, long ForMs) : RuleCondition;

/// <summary>Beyond <paramref name="Limit"/> <paramref name="Times"/> values in a row; over when it is back at <paramref name="Clear"/> or better.</summary>
public sealed record InARow(LimitSide Side, double Limit, double Clear, int Times) : RuleCondition;

/// <summary>The direction of a change.</summary>
public enum ChangeSide
{
    /// <summary>Values that rise.</summary>
    Rises,

    /// <summary>Values that fall.</summary>
    Falls,
}

/// <summary>Rises or falls by <paramref name="By"/> or more within <paramref name="WithinMs"/>; over when it changed by less than half of that.</summary>
public sealed record ChangesFaster(ChangeSide Side, double By, long WithinMs) : RuleCondition;

/// <summary>Goes on <paramref name="Count"/> times within <paramref name="WithinMs"/>; over when the last <paramref name="WithinMs"/> saw fewer.</summary>
public sealed record EventsWithin(int Count, long WithinMs) : RuleCondition;

/// <summary>Nothing heard for <paramref name="ForMs"/>.</summary>
public sealed record SilentFor(long ForMs) : RuleCondition;

/// <summary>Beyond what is usual at this hour of this day of the week by <paramref name="By"/> or
/// more, for <paramref name="ForMs"/>; over when it is usual again.</summary>
public sealed record UnlikeUsual(double By, long ForMs) : RuleCondition;

/// <summary>How two events went together.</summary>
public enum SequenceOutcome
{
    /// <summary>Both came within the time.</summary>
    Both,

    /// <summary>The first came without the second.</summary>
    FirstAlone,

    /// <summary>The second came without the first.</summary>
    SecondAlone,
}

/// <summary>An event of the rule's reading (the first) and one of another (the second) go together, or one
/// comes alone; over after <paramref name="WithinMs"/> without another.</summary>
/// <param name="WithinMs">Longest time between two that go together.</param>
/// <param name="InOrder">True when the second must not come before the first.</param>
/// <param name="OwnFalls">True when the rule's reading happens as it goes off: a contact that is closed at rest.</param>
/// <param name="OtherFalls">The same of the other.</param>
public sealed record InSequence(ReadingRef Other, SequenceOutcome Outcome, long WithinMs, bool InOrder, bool OwnFalls = false, bool OtherFalls = false)
    : RuleCondition;

/// <summary>A site as a file: what the interface exports and <c>./run plan</c> reads.</summary>
public sealed record SiteFile(string Format, int FormatVersion, SiteDesign Design, Evidence Evidence)
{
    /// <summary>What a file says that it is.</summary>
    public const string FormatName = "cenotic-site";
}
