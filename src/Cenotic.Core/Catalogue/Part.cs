using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

public enum PartKind { Sensor, Output, Radio }

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
public sealed record Part(
    string Id, string Label, PartKind Kind, IReadOnlyList<PartQuantity> Quantities, IReadOnlyList<PartInterface> Interfaces,
    double? SupplyMinVolts, double? SupplyMaxVolts, bool StaysOn, Fact? SleepMicroamps, Fact? ActiveMilliamps, Fact? PeakMilliamps,
    Fact? WarmUpMs, Fact? ConversionMs, IReadOnlyDictionary<string, double>? ConversionByBits, Fact? MinIntervalMs, Fact? PullUpOhms,
    IReadOnlyList<string> Pins, string? SupplyPin, string? GroundPin, RadioModem? Modem,
    IReadOnlyList<string> Needs, IReadOnlyList<string> Placement, IReadOnlyList<FaultSignature> Faults, IReadOnlyList<string> Cautions, string Source);

/// <summary>Something the part measures or reports.</summary>
/// <param name="Quantity">temperature, humidity, pressure, illuminance, motion, presence, contact, distance, relay.</param>
public sealed record PartQuantity(string Quantity, ReadingKind Kind, string Unit, double? Min, double? Max, string Accuracy, double? Resolution);

/// <summary>What a reading's numbers mean: a level, a rising count, an on/off state, or something that happens.</summary>
public enum ReadingKind { Gauge, Counter, State, Event }

public enum InterfaceKind { I2c, Spi, Uart, OneWire, Digital, Contact }

/// <summary>One way to connect the part.</summary>
/// <param name="Quantities">What can be had this way; empty means all the part has.</param>
/// <param name="Addresses">For I2C, in the order to try; the first is how the module comes.</param>
/// <param name="Strap">Pins of the module that are tied to choose this interface.</param>
public sealed record PartInterface(
    InterfaceKind Kind, string Label, IReadOnlyList<PartLine> Lines, IReadOnlyList<string>? Quantities = null, IReadOnlyList<StrapAddress>? Addresses = null,
    double? MaxKilohertz = null, int? BitsPerReading = null, int? Baud = null, string? Strap = null);

/// <summary>An address a strap can choose, and how.</summary>
public sealed record StrapAddress(int Address, string Strap);

/// <summary>What a line does, seen from the board.</summary>
public enum LineRole { I2cSda, I2cScl, OneWire, SpiSck, SpiMosi, SpiMiso, SpiSelect, UartToBoard, UartToPart, DigitalToBoard, DigitalToPart, Contact }

/// <summary>How the part drives the line.</summary>
public enum LineDrive { None, PushPull, OpenDrain, Contact }

/// <summary>What the line does, by itself and with its usual resistors, while the board starts.</summary>
public enum RestLevel { High, Low, Either, Floating }

/// <summary>One signal of an interface.</summary>
/// <param name="HighVolts">Its high level, volts; null when it follows the part's supply.</param>
/// <param name="Edge">True when the board must catch its edges.</param>
/// <param name="Load">True when it switches a load: nothing may pulse it while the board starts.</param>
/// <param name="ActiveLow">True when low means on.</param>
/// <param name="FloatsToSupply">True when the undriven input sits at the part's supply (a relay input through its LED).</param>
/// <param name="Optional">True when it may stay open.</param>
public sealed record PartLine(
    string Name, LineRole Role, LineDrive Drive, RestLevel AtStart, double? HighVolts = null, bool Edge = false, bool Load = false, bool ActiveLow = false,
    bool FloatsToSupply = false, bool Optional = false, string? Note = null);

/// <summary>A value that means a fault and not a measurement.</summary>
public sealed record FaultSignature(string Quantity, double Value, double Tolerance, string Meaning);

/// <summary>Settings of a long-range radio for its time on air and its transmit current.</summary>
public sealed record RadioModem(int SpreadingFactor, double BandwidthKilohertz, int CodingRate, int PreambleSymbols, Fact TransmitMilliamps, Fact StandbyMilliamps);
