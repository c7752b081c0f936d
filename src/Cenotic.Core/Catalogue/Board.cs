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
/// <param name="Packets">How it sends message by message, without a connection; null where it cannot, or nobody here knows.</param>
public sealed record Radio(RadioKind Kind, string Label, BoardPackets? Packets = null);

/// <summary>How a radio on a board sends message by message.</summary>
/// <param name="PowerDbm">What it sends with, dBm.</param>
/// <param name="SensitivityDbm">The weakest signal that it understands, dBm.</param>
/// <param name="StartMs">From the start of the board until the radio can send, ms.</param>
/// <param name="TransmitMilliamps">Of the whole board while it sends; null: as with Wi-Fi.</param>
/// <param name="ReceiveMilliamps">Of the whole board while it listens; null: as with Wi-Fi.</param>
/// <param name="CodedSensitivityDbm">Of Bluetooth the weakest signal at the coded rate, 125 kbit/s, dBm; null where it does not have that rate.</param>
public sealed record BoardPackets(
    Fact PowerDbm,
    Fact SensitivityDbm,
    Fact StartMs,
    Fact? TransmitMilliamps = null,
    Fact? ReceiveMilliamps = null,
    Fact? CodedSensitivityDbm = null
);

/// <summary>What a board can send by itself.</summary>
public enum RadioKind
{
    /// <summary>IEEE 802.11.</summary>
    Wifi,

    /// <summary>Bluetooth, low energy.</summary>
    Bluetooth,

    /// <summary>IEEE 802.3 over a cable.</summary>
    Ethernet,

    /// <summary>IEEE 802.15.4.</summary>
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
