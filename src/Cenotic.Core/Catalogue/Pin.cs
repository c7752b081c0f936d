namespace Cenotic.Core.Catalogue;

/// <summary>What a place on the header is.</summary>
public enum PinKind
{
    /// <summary>A line that a program can use.</summary>
    Gpio,

    /// <summary>A rail or an input of the supply.</summary>
    Power,

    /// <summary>Ground.</summary>
    Ground,

    /// <summary>Reset, enable or another control of the chip.</summary>
    Control,

    /// <summary>An analog input that is no digital line.</summary>
    Analog,

    /// <summary>Nothing.</summary>
    NotConnected,
}

/// <summary>How freely a pin can be used.</summary>
public enum PinUse
{
    /// <summary>For anything.</summary>
    Free,

    /// <summary>With care: its hazards say why.</summary>
    Care,

    /// <summary>Where no other is left.</summary>
    Avoid,

    /// <summary>Not at all.</summary>
    Never,
}

/// <summary>A side of the header, seen from above.</summary>
public enum HeaderSide
{
    /// <summary>The side that the board's note names left.</summary>
    Left,

    /// <summary>The other side.</summary>
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

    /// <summary>An LED of the board hangs on it.</summary>
    Led,

    /// <summary>A button of the board hangs on it.</summary>
    Button,

    /// <summary>Taken by something fitted on some revisions.</summary>
    Revision,

    /// <summary>Must not be driven while the board is without supply.</summary>
    UnpoweredDiode,

    /// <summary>Used by a debugger.</summary>
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

/// <summary>A hazard of one pin, and what it means there.</summary>
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
