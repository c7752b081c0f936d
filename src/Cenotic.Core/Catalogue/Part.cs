using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>What a part is for. A helper lends the board lines, converter inputs or bus channels.</summary>
public enum PartKind
{
    /// <summary>It measures.</summary>
    Sensor,

    /// <summary>It is switched.</summary>
    Output,

    /// <summary>It sends for the board.</summary>
    Radio,

    /// <summary>It shows.</summary>
    Display,

    /// <summary>It keeps values: a storage card.</summary>
    Storage,

    /// <summary>It keeps time.</summary>
    Clock,

    /// <summary>It lends the board lines: an expander, a multiplexer, a converter.</summary>
    Helper,

    /// <summary>Something else that hangs on the board.</summary>
    Accessory,
}

/// <summary>A sensor, output or radio module as bought.</summary>
/// <param name="SupplyMinVolts">Lowest supply the usual module works at, volts.</param>
/// <param name="SupplyMaxVolts">Highest it survives, volts.</param>
/// <param name="StaysOn">True when it has no sleep, or must keep its supply to be of use (a motion sensor that warms up for a minute).</param>
/// <param name="SleepMicroamps">Current with the supply on and nothing to do.</param>
/// <param name="ActiveMilliamps">Current while it measures, listens or holds its coil.</param>
/// <param name="PeakMilliamps">Greatest current, short.</param>
/// <param name="WarmUpMs">From power to values that count.</param>
/// <param name="ConversionMs">One measurement at the usual setting.</param>
/// <param name="ConversionByBits">Measurement time by resolution, where the maker can choose.</param>
/// <param name="MinIntervalMs">Shortest time between readings that makes sense or is allowed.</param>
/// <param name="PullUpOhms">Pull-ups fitted on the module's bus lines; null when none.</param>
/// <param name="Pins">The module's pins as usually printed; boards vary and the print wins.</param>
/// <param name="SupplyPin">The one of <paramref name="Pins"/> that takes the supply; null for a bare contact.</param>
/// <param name="GroundPin">The one that takes ground.</param>
/// <param name="PeakMs">How long <paramref name="PeakMilliamps"/> lasts, ms.</param>
/// <param name="BulkMicrofarads">Capacitor it wants at its supply, µF.</param>
/// <param name="Helper">What it lends the board; null for parts that only take.</param>
/// <param name="Display">For a display, its lines.</param>
/// <param name="Uses">Words that a maker looks for it by: "door", "GSM".</param>
/// <param name="Leds">Of a strip, for how many LEDs its currents stand; null for anything else.</param>
/// <param name="Opto">Its isolated input; null where it has none.</param>
/// <param name="View">What it sees of the room before it; null for a part that does not look.</param>
/// <param name="Noise">What is heard of it; null for nothing.</param>
/// <param name="Texts">How it sends text messages; null for a part that does not.</param>
/// <param name="DiscardReadings">First readings after it was powered or asleep that do not count.</param>
public sealed record Part(
    string Id,
    string Label,
    PartKind Kind,
    IReadOnlyList<PartQuantity> Quantities,
    IReadOnlyList<PartInterface> Interfaces,
    double? SupplyMinVolts,
    double? SupplyMaxVolts,
    bool StaysOn,
    Fact? SleepMicroamps,
    Fact? ActiveMilliamps,
    Fact? PeakMilliamps,
    Fact? WarmUpMs,
    Fact? ConversionMs,
    IReadOnlyDictionary<string, double>? ConversionByBits,
    Fact? MinIntervalMs,
    Fact? PullUpOhms,
    IReadOnlyList<string> Pins,
    string? SupplyPin,
    string? GroundPin,
    RadioModem? Modem,
    IReadOnlyList<string> Needs,
    IReadOnlyList<string> Placement,
    IReadOnlyList<FaultSignature> Faults,
    IReadOnlyList<string> Cautions,
    string Source,
    Fact? PeakMs = null,
    Fact? BulkMicrofarads = null,
    HelperFacts? Helper = null,
    int DiscardReadings = 0,
    DisplayFacts? Display = null,
    IReadOnlyList<string>? Uses = null,
    int? Leds = null,
    OptoInput? Opto = null,
    FieldOfView? View = null,
    string? Noise = null,
    TextModem? Texts = null
);

/// <summary>A modem that sends text messages over a mobile network.</summary>
/// <param name="SendMs">From handing over a text until the network has it, ms.</param>
/// <param name="LargestBytes">Most bytes in a text. Source: 3GPP TS 23.040, 140 bytes, which are 160 characters of 7 bits.</param>
public sealed record TextModem(Fact SendMs, int LargestBytes = 140);

/// <summary>The LED of an optocoupler at the input of a part: what is isolated lights it through
/// a resistor that the maker fits. Pins "IN+" and "IN-".</summary>
/// <param name="ForwardVolts">Across the LED, volts.</param>
/// <param name="Milliamps">What it wants, mA.</param>
/// <param name="MaxVolts">Highest voltage of the source, volts.</param>
public sealed record OptoInput(double ForwardVolts, double Milliamps, double MaxVolts);

/// <summary>What a display shows, in characters of its usual font.</summary>
public sealed record DisplayFacts(int Columns, int Rows);

/// <summary>Something the part measures or reports.</summary>
/// <param name="Quantity">temperature, humidity, pressure, illuminance, motion, presence, contact, distance, relay and so on.</param>
/// <param name="Error">Usual error in the unit, ±; null where it is not known or depends on a calibration.</param>
/// <param name="ErrorPercent">Usual error as a part of the value, ± %.</param>
public sealed record PartQuantity(
    string Quantity,
    ReadingKind Kind,
    string Unit,
    string Accuracy,
    double? Min = null,
    double? Max = null,
    double? Resolution = null,
    double? Error = null,
    double? ErrorPercent = null
);

/// <summary>What a reading's numbers mean: a level, a rising count, an on/off state, or something that happens.</summary>
public enum ReadingKind
{
    /// <summary>A level that can be read at any time.</summary>
    Gauge,

    /// <summary>A count that rises.</summary>
    Counter,

    /// <summary>On or off.</summary>
    State,

    /// <summary>Something that happens: each value above 0 is one of them.</summary>
    Event,
}

/// <summary>How a part is connected.</summary>
public enum InterfaceKind
{
    /// <summary>The two-wire bus of UM10204.</summary>
    I2c,

    /// <summary>Clock, two data lines and a select line for each part.</summary>
    Spi,

    /// <summary>An asynchronous serial line.</summary>
    Uart,

    /// <summary>The one-wire bus with a code for each part.</summary>
    OneWire,

    /// <summary>One data line of the part's own protocol.</summary>
    SingleWire,

    /// <summary>A level, high or low.</summary>
    Digital,

    /// <summary>A contact that closes.</summary>
    Contact,

    /// <summary>A voltage.</summary>
    Analog,
}

/// <summary>One way to connect the part.</summary>
/// <param name="Quantities">What can be had this way; empty means all the part has.</param>
/// <param name="Addresses">For I2C, in the order to try; the first is how the module comes.</param>
/// <param name="AlsoAddresses">Further addresses the module answers at, whatever its strap (the memory of a clock module).</param>
/// <param name="StartAddress">Where it answers until the program has written its address: free of other parts on that bus. Null for a strapped address.</param>
/// <param name="BitsPerReading">Bits on the bus for one reading, with its addressing.</param>
/// <param name="Strap">Pins of the module that are tied to choose this interface.</param>
/// <param name="ExclusiveBus">True when the module may hold a shared SPI line and wants a bus of its own.</param>
/// <param name="Resistive">For a bare resistor read through a divider.</param>
public sealed record PartInterface(
    InterfaceKind Kind,
    string Label,
    IReadOnlyList<PartLine> Lines,
    IReadOnlyList<string>? Quantities = null,
    IReadOnlyList<StrapAddress>? Addresses = null,
    double? MaxKilohertz = null,
    int? BitsPerReading = null,
    int? Baud = null,
    string? Strap = null,
    IReadOnlyList<int>? AlsoAddresses = null,
    int? StartAddress = null,
    bool ExclusiveBus = false,
    ResistiveFacts? Resistive = null
);

/// <summary>A sensor that is a resistor: read through a divider with a reference on top.</summary>
/// <param name="LowOhms">Least resistance over its range.</param>
/// <param name="HighOhms">Greatest resistance over its range.</param>
public sealed record ResistiveFacts(double ReferenceOhms, double LowOhms, double HighOhms, ResistanceLaw Law, double? NominalOhms = null, double? Beta = null);

/// <summary>How resistance follows the quantity: straight, or the thermistor Beta equation.</summary>
public enum ResistanceLaw
{
    /// <summary>Straight between its two ends.</summary>
    Linear,

    /// <summary>By the Beta equation of a thermistor.</summary>
    Beta,
}

/// <summary>What a helper lends.</summary>
public enum HelperKind
{
    /// <summary>Digital lines.</summary>
    Expander,

    /// <summary>Further buses with the same addresses.</summary>
    Mux,

    /// <summary>Analog inputs.</summary>
    Converter,
}

/// <summary>What a helper module lends.</summary>
/// <param name="Lines">Its lines, converter inputs, or the data lines of its bus channels.</param>
/// <param name="Proposable">True when the planner may add one by itself.</param>
public sealed record HelperFacts(HelperKind Kind, bool Proposable, IReadOnlyList<HelperLine> Lines, ConverterFacts? Converter = null);

/// <param name="WeakHigh">True when its high gives about 0.1 mA only (quasi-bidirectional).</param>
/// <param name="ContactOnly">True when only a contact to ground works it: an optocoupler's LED hangs on it.</param>
public sealed record HelperLine(string Name, bool Input, bool Output, bool WeakHigh = false, bool ContactOnly = false);

/// <summary>An analog-to-digital converter.</summary>
/// <param name="Bits">Usable bits of a single-ended reading.</param>
/// <param name="LowVolts">Below it readings are not straight.</param>
/// <param name="HighVolts">Above it they are not straight, or full scale is reached.</param>
/// <param name="ErrorPercent">Error of full scale, ±%.</param>
/// <param name="RangesVolts">Full-scale ranges it can be set to; null when there is one.</param>
/// <param name="InputOhms">What it loads its source with, ohm, where that is little: a divider on the board.</param>
public sealed record ConverterFacts(
    int Bits,
    double LowVolts,
    double HighVolts,
    Fact ErrorPercent,
    IReadOnlyList<double>? RangesVolts = null,
    double? InputOhms = null
);

/// <summary>An address a strap can choose, and how.</summary>
public sealed record StrapAddress(int Address, string Strap);

/// <summary>What a line does, seen from the board.</summary>
public enum LineRole
{
    /// <summary>Data of an I2C bus.</summary>
    I2cSda,

    /// <summary>Clock of an I2C bus.</summary>
    I2cScl,

    /// <summary>Data of a 1-Wire bus.</summary>
    OneWire,

    /// <summary>Clock of an SPI bus.</summary>
    SpiSck,

    /// <summary>Data from the board.</summary>
    SpiMosi,

    /// <summary>Data to the board.</summary>
    SpiMiso,

    /// <summary>Select line, one for each part.</summary>
    SpiSelect,

    /// <summary>Serial, from the part to the board.</summary>
    UartToBoard,

    /// <summary>Serial, from the board to the part.</summary>
    UartToPart,

    /// <summary>A level that the board reads.</summary>
    DigitalToBoard,

    /// <summary>A level that the board sets.</summary>
    DigitalToPart,

    /// <summary>A contact to ground that the board reads.</summary>
    Contact,

    /// <summary>Data of the part's own protocol, both ways.</summary>
    SingleWire,

    /// <summary>A voltage that the board reads.</summary>
    Analog,

    /// <summary>A surface whose capacitance the board reads.</summary>
    Touch,
}

/// <summary>How the part drives the line.</summary>
public enum LineDrive
{
    /// <summary>It drives nothing: it listens.</summary>
    None,

    /// <summary>High and low, both strongly.</summary>
    PushPull,

    /// <summary>Low only; a pull-up makes the high.</summary>
    OpenDrain,

    /// <summary>A switch that closes.</summary>
    Contact,
}

/// <summary>What the line does, by itself and with its usual resistors, while the board starts.</summary>
public enum RestLevel
{
    /// <summary>It is high.</summary>
    High,

    /// <summary>It is low.</summary>
    Low,

    /// <summary>It may be the one or the other.</summary>
    Either,

    /// <summary>Nothing holds it.</summary>
    Floating,
}

/// <summary>One signal of an interface.</summary>
/// <param name="HighVolts">Its high level, volts; null when it follows the part's supply.</param>
/// <param name="Edge">True when the board must catch its edges.</param>
/// <param name="Load">True when it switches a load: nothing may pulse it while the board starts.</param>
/// <param name="ActiveLow">True when low means on.</param>
/// <param name="FloatsToSupply">True when the undriven input sits at the part's supply (a relay input through its LED).</param>
/// <param name="Optional">True when it may stay open.</param>
/// <param name="Timed">True when microseconds count: it cannot go through an expander.</param>
/// <param name="Pwm">True when the pin must make a pulse-width signal.</param>
/// <param name="OpenDrain">True when the board may only pull it low or let go.</param>
/// <param name="Gate">True when it is the gate of a MOSFET on the module.</param>
/// <param name="MaxVolts">Highest voltage the part's input may see, volts; null when it stands what its supply gives.</param>
/// <param name="HighAtLeastVolts">Lowest high level its input takes, volts, where that does not follow its supply.</param>
/// <param name="HighAtLeastOfSupply">Lowest high level its input takes, as a part of its supply.</param>
/// <param name="Milliamps">Current the line must be given, mA; null when next to nothing.</param>
/// <param name="Inductive">True when switching it off makes a voltage spike.</param>
/// <param name="ForwardVolts">For an LED, its forward voltage, volts.</param>
/// <param name="SeriesOhms">Resistor the part wants in this line, ohm.</param>
/// <param name="LowVolts">For an analog line, its lowest output, volts.</param>
/// <param name="SourceOhms">For an analog line, the resistance behind it, ohm.</param>
public sealed record PartLine(
    string Name,
    LineRole Role,
    LineDrive Drive,
    RestLevel AtStart,
    double? HighVolts = null,
    bool Edge = false,
    bool Load = false,
    bool ActiveLow = false,
    bool FloatsToSupply = false,
    bool Optional = false,
    string? Note = null,
    bool Timed = false,
    bool Pwm = false,
    bool OpenDrain = false,
    bool Gate = false,
    double? MaxVolts = null,
    double? HighAtLeastOfSupply = null,
    double? Milliamps = null,
    bool Inductive = false,
    double? ForwardVolts = null,
    double? SeriesOhms = null,
    double? LowVolts = null,
    double? SourceOhms = null,
    double? HighAtLeastVolts = null
);

/// <summary>A value that means a fault and not a measurement.</summary>
public sealed record FaultSignature(string Quantity, double Value, double Tolerance, string Meaning);

/// <summary>What a radio does that does not both send and hear.</summary>
public enum OneWay
{
    /// <summary>A transmitter.</summary>
    Sends,

    /// <summary>A receiver.</summary>
    Hears,
}

/// <summary>Settings of a radio for its time on air and its transmit current: LoRa, or a fixed rate.</summary>
/// <param name="SpreadingFactor">6 to 12 for LoRa; 0 for a radio with a fixed rate.</param>
/// <param name="BitsPerSecond">For a fixed rate, bits a second on the air; null for LoRa.</param>
/// <param name="OverheadBytes">For a fixed rate, preamble, address, length and check.</param>
/// <param name="Megahertz">Centre of the channel that such radios are set to unless told otherwise, MHz; null when not known.</param>
/// <param name="PowerDbm">What it sends with unless told otherwise, dBm; null when not known.</param>
/// <param name="SensitivityDbm">For a fixed rate, the weakest signal it understands at that rate, dBm; null for LoRa, of which it is worked out.</param>
/// <param name="LargestBytes">Largest payload of a packet; null for what is usual of such radios.</param>
/// <param name="Copies">Packets that carry the same: one on each channel that is advertised on.</param>
/// <param name="AnswerMs">Until the answer that the radio itself gives is over, ms; null where the program answers.</param>
/// <param name="ListensFirst">True for one that sends only when it hears nobody else.</param>
/// <param name="OneWay">Whether it only sends or only hears, by on-off keying; null for one that does both.</param>
/// <param name="HopChannels">Channels that it changes between; null for one alone.</param>
public sealed record RadioModem(
    int SpreadingFactor,
    double BandwidthKilohertz,
    int CodingRate,
    int PreambleSymbols,
    Fact TransmitMilliamps,
    Fact StandbyMilliamps,
    double? BitsPerSecond = null,
    int OverheadBytes = 0,
    double? Megahertz = null,
    Fact? PowerDbm = null,
    Fact? SensitivityDbm = null,
    int? LargestBytes = null,
    int Copies = 1,
    double? AnswerMs = null,
    bool ListensFirst = false,
    OneWay? OneWay = null,
    int? HopChannels = null
)
{
    /// <summary>True for LoRa, false for a fixed rate.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsLora => BitsPerSecond is null;
}
