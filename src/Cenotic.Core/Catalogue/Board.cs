using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>A microcontroller board as bought: its pins in header order and what its chip and supply can do.</summary>
/// <param name="Id">Stable id, lower case.</param>
/// <param name="LogicVolts">Level of its outputs and the supply of its pads, volts.</param>
/// <param name="PinMaxVolts">Highest voltage a pin may see, volts (absolute maximum).</param>
/// <param name="HighAtLeastVolts">Lowest voltage that surely reads high (VIH), volts.</param>
/// <param name="PinPlanMilliamps">Current to plan for a pin at most, mA.</param>
/// <param name="BootMs">Start to the first line of the program, ms.</param>
/// <param name="ConnectMs">Wi-Fi with a fixed address and remembered access point, ms; null without Wi-Fi.</param>
/// <param name="InternalPullOhms">The chip's own pull resistors, ohm.</param>
/// <param name="Converter">Its analog-to-digital converter; null when it has none.</param>
/// <param name="Regulator">Catalogue id of the linear regulator that makes its logic rail; null when it switches or is not known.</param>
/// <param name="PinTotalMilliamps">What all pins together may give, mA; null when the rail is the limit.</param>
/// <param name="I2cHighAtLeastVolts">Where its I2C pins want more for a high than its other pins.</param>
public sealed record Board(
    string Id,
    string Label,
    string Mcu,
    string Form,
    double LogicVolts,
    double PinMaxVolts,
    double HighAtLeastVolts,
    double PinPlanMilliamps,
    IReadOnlyList<SupplyInput> Supplies,
    IReadOnlyList<Rail> Rails,
    Controllers Controllers,
    IReadOnlyList<Radio> Radios,
    BoardCurrents Currents,
    Fact BootMs,
    Fact? ConnectMs,
    Fact InternalPullOhms,
    IReadOnlyList<string> Cautions,
    IReadOnlyList<Pin> Pins,
    ConverterFacts? Converter = null,
    string? Regulator = null,
    double? PinTotalMilliamps = null,
    double? I2cHighAtLeastVolts = null
)
{
    /// <summary>The pin with this id.</summary>
    /// <exception cref="KeyNotFoundException">The board has no such pin.</exception>
    public Pin Pin(string id) => Pins.FirstOrDefault(p => p.Id == id) ?? throw new KeyNotFoundException($"{Label} has no pin {id}.");

    /// <summary>Rows on the longer side of the header, for distances along it.</summary>
    public int Rows => Pins.Max(p => p.Position) + 1;
}

/// <summary>A way to feed the board. <paramref name="Pin"/> is null for the USB socket.</summary>
public sealed record SupplyInput(string Id, string Label, string? Pin, double MinVolts, double MaxVolts, string Note);

/// <summary>A supply the board offers to parts. <paramref name="BudgetMilliamps"/> is for external loads.</summary>
/// <param name="FedFrom">The rail or input this one is made from; its load counts there too.</param>
/// <param name="UsbOnly">True when the rail has a voltage only while USB feeds the board.</param>
/// <param name="WifiBudgetMilliamps">What is left while Wi-Fi stays on, where that is less.</param>
public sealed record Rail(
    string Id,
    string Label,
    double Volts,
    double LowVolts,
    Fact BudgetMilliamps,
    string FedFrom,
    bool UsbOnly = false,
    Fact? WifiBudgetMilliamps = null
);

/// <summary>How many of each bus the chip has free, and whether any pin can carry them (pin matrix) or the pin table decides.</summary>
/// <param name="I2cMaxKilohertz">Highest I2C clock the chip makes, kHz.</param>
public sealed record Controllers(IReadOnlyList<int> I2c, IReadOnlyList<int> Spi, IReadOnlyList<int> Uart, bool PinMatrix, double I2cMaxKilohertz = 400);

/// <summary>A radio on the board.</summary>
public sealed record Radio(RadioKind Kind, string Label);

public enum RadioKind
{
    Wifi,
    Bluetooth,
    Ethernet,
    Mesh,
}

/// <summary>Currents of the whole board at its input, in the unit of the name. Null where nobody here knows.</summary>
public sealed record BoardCurrents(
    Fact ActiveMilliamps,
    Fact? WifiReceiveMilliamps,
    Fact? WifiTransmitPeakMilliamps,
    Fact? LightSleepMilliamps,
    Fact? DeepSleepMilliamps,
    Fact? ChipDeepSleepMicroamps
);

public enum PinKind
{
    Gpio,
    Power,
    Ground,
    Control,
    Analog,
    NotConnected,
}

public enum PinUse
{
    Free,
    Care,
    Avoid,
    Never,
}

public enum HeaderSide
{
    Left,
    Right,
}

/// <summary>What can make a pin unfit. Codes follow the effect, not the chip.</summary>
public enum Hazard
{
    /// <summary>Must be high while the chip starts: nothing may hold it low.</summary>
    StrapHigh,

    /// <summary>Must be low while the chip starts: nothing may pull it high.</summary>
    StrapLow,

    /// <summary>Must be low or open for an upload; a pull-up there blocks uploads.</summary>
    StrapLoaderLow,

    /// <summary>Sampled at start with a harmless effect.</summary>
    StrapNote,

    /// <summary>Drives, pulses or is pulled high while the chip starts.</summary>
    BootPulse,

    /// <summary>Carries the program flash.</summary>
    Flash,

    /// <summary>Taken by extra memory on some modules.</summary>
    Psram,

    /// <summary>Wired to the USB-serial chip.</summary>
    Console,

    /// <summary>Its converter stops while Wi-Fi is on.</summary>
    AdcStopsWithWifi,

    /// <summary>Short false edges: no interrupt or pulse counting.</summary>
    EdgeGlitch,

    Led,
    Button,

    /// <summary>Taken by something fitted on some revisions.</summary>
    Revision,

    /// <summary>Must not be driven while the board is without supply.</summary>
    UnpoweredDiode,
    Jtag,

    /// <summary>Taken by something on the board.</summary>
    Taken,

    /// <summary>A console that can be switched off: free for a serial part then.</summary>
    ConsoleOption,

    /// <summary>Slow and weak signals only.</summary>
    LowFrequency,

    /// <summary>Linked to the reset pin for timed wake, so taken on a node that sleeps.</summary>
    TimerWake,

    /// <summary>A strong pull-up is fitted on the board.</summary>
    FixedPullUp,

    /// <summary>Timed by a program under an operating system: microseconds are not kept.</summary>
    SoftwareTimed,

    /// <summary>Its high is weak: no load, no transistor base (a line of an expander).</summary>
    WeakHigh,

    /// <summary>Only a contact to ground works it: an optocoupler's LED hangs on it.</summary>
    ContactOnly,
}

public sealed record PinHazard(Hazard Code, string What);

/// <summary>One pin of the header, in order.</summary>
/// <param name="Id">As the header counts it: L3, R7, 21.</param>
/// <param name="Label">As printed on the board.</param>
/// <param name="Gpio">Number used in firmware; null when it is not a GPIO.</param>
/// <param name="Position">Row along its side, from 0 at the end named first in the board's note.</param>
/// <param name="Adc">Converter as unit.channel, or null.</param>
/// <param name="I2c">"any" through a pin matrix, or fixed roles such as "I2C0 SDA".</param>
/// <param name="Spi">"any", or "SPI0 SCK"; RX and TX are the controller's input and output.</param>
/// <param name="Uart">"any", or "U1 TX".</param>
/// <param name="Wakes">True when a level on it ends deep sleep.</param>
/// <param name="Rail">For power pins, the rail or input it carries.</param>
/// <param name="MaxVolts">Where it stands less or more than the board's other pins.</param>
/// <param name="Usual">The bus line that is printed there, or that the chip's usual libraries put there: common practice, no source.</param>
public sealed record Pin(
    string Id,
    string Label,
    PinKind Kind,
    int? Gpio,
    HeaderSide Side,
    int Position,
    PinUse Use,
    bool Input,
    bool Output,
    bool PullUp,
    bool PullDown,
    string? Adc,
    string? Dac,
    string? Touch,
    string? Pwm,
    IReadOnlyList<string> I2c,
    IReadOnlyList<string> Spi,
    IReadOnlyList<string> Uart,
    bool Wakes,
    bool Interrupt,
    IReadOnlyList<PinHazard> Hazards,
    string? Rail,
    double? MaxVolts = null,
    LineRole? Usual = null
)
{
    /// <summary>True when the pin has this hazard.</summary>
    public bool Has(Hazard code) => Hazards.Any(h => h.Code == code);

    /// <summary>"GPIO12" for a GPIO, else the printed label.</summary>
    public string Name => Gpio is { } g ? $"GPIO{g}" : Label;
}
