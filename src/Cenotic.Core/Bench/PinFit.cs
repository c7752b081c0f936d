using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>The hard and soft rules of one pin for one demand. The rules are those of the chip's data sheet as the catalogue records them.</summary>
/// <param name="Refusals">Why it cannot be; empty when it can.</param>
/// <param name="Adds">Components this pin needs that another might not.</param>
public sealed record PinFit(IReadOnlyList<string> Refusals, IReadOnlyList<string> Adds, int HazardPoints, int Versatility)
{
    public bool Fits => Refusals.Count == 0;

    /// <summary>Judges a pin for a demand.</summary>
    /// <param name="wifiOn">True when the node uses Wi-Fi.</param>
    public static PinFit Judge(Pin pin, Demand demand, bool wifiOn)
    {
        var no = new List<string>();
        if (pin.Kind != PinKind.Gpio)
        {
            no.Add($"{pin.Label} is not a pin for signals.");
            return new(no, [], 0, 0);
        }
        if (pin.Has(Hazard.Flash))
        {
            no.Add($"{pin.Name} carries the program flash: a load or a level there stops the program.");
            return new(no, [], 0, 0);
        }
        if (pin.Has(Hazard.Console))
        {
            no.Add($"{pin.Name} is wired to the USB-serial chip: a part there corrupts uploads and the log.");
        }
        Directions(no, pin, demand);
        Roles(no, pin, demand);
        StartLevels(no, pin, demand);
        var adds = demand.PullUp && !pin.PullUp ? new[] { "10 kΩ pull-up: this pin has none inside" } : [];
        if (demand.Analog && pin.Has(Hazard.AdcStopsWithWifi) && wifiOn)
        {
            no.Add($"{pin.Name} is on the converter that stops while Wi-Fi is on.");
        }
        return new(no, adds, Points(pin), VersatilityOf(pin));
    }

    private static void Directions(List<string> no, Pin pin, Demand demand)
    {
        if (demand.Output && !pin.Output)
        {
            no.Add($"{pin.Name} can only read; this line must be driven.");
        }
        if (demand.Input && !pin.Input)
        {
            no.Add($"{pin.Name} cannot read.");
        }
        if (demand.Analog && pin.Adc is null)
        {
            no.Add($"{pin.Name} has no converter; this line is a voltage to measure.");
        }
        if (demand.Edge && !pin.Interrupt)
        {
            no.Add($"{pin.Name} cannot catch edges.");
        }
        if (demand.Edge && pin.Has(Hazard.EdgeGlitch))
        {
            no.Add($"{pin.Name} shows short false edges whenever the converter powers up, which Wi-Fi power save also causes.");
        }
        if (demand.Wake && !pin.Wakes)
        {
            no.Add($"{pin.Name} cannot wake the board, and this line must end its sleep.");
        }
    }

    private static void Roles(List<string> no, Pin pin, Demand demand)
    {
        var (offers, wanted) = demand.Role switch
        {
            LineRole.I2cSda => (pin.I2c, $"I2C{demand.Controller} SDA"),
            LineRole.I2cScl => (pin.I2c, $"I2C{demand.Controller} SCL"),
            LineRole.SpiSck => (pin.Spi, $"SPI{demand.Controller} SCK"),
            LineRole.SpiMosi => (pin.Spi, $"SPI{demand.Controller} TX"),
            LineRole.SpiMiso => (pin.Spi, $"SPI{demand.Controller} RX"),
            LineRole.UartToBoard => (pin.Uart, $"U{demand.Controller} RX"),
            LineRole.UartToPart => (pin.Uart, $"U{demand.Controller} TX"),
            _ => (null, ""),
        };
        if (offers is null)
        {
            return;
        }
        var inputOnly = demand.Role is LineRole.SpiMiso && offers.Contains("any MISO") || demand.Role is LineRole.UartToBoard && offers.Contains("any RX");
        if (!offers.Contains("any") && !offers.Contains(wanted) && !inputOnly)
        {
            no.Add($"{pin.Name} cannot carry {wanted}.");
        }
    }

    private static void StartLevels(List<string> no, Pin pin, Demand demand)
    {
        var mayBeHigh = demand.AtStart is RestLevel.High or RestLevel.Either;
        var mayBeLow = demand.AtStart is RestLevel.Low or RestLevel.Either;
        if (pin.Has(Hazard.StrapLow) && mayBeHigh)
        {
            no.Add($"{pin.Name} must be low when the board starts; this line can be high then, so the board would not start.");
        }
        if (pin.Has(Hazard.StrapLoaderLow) && mayBeHigh)
        {
            no.Add($"{pin.Name} must be low or open for an upload; this line can be high, so uploads would fail.");
        }
        if (pin.Has(Hazard.StrapHigh) && mayBeLow)
        {
            no.Add($"{pin.Name} must be high when the board starts; this line can be low then, so the board would wait in its loader.");
        }
        if (demand.Load && pin.Has(Hazard.BootPulse))
        {
            no.Add($"{pin.Name} goes high or toggles while the board starts; the load would switch on by itself.");
        }
    }

    private static int Points(Pin pin) =>
        pin.Use switch { PinUse.Care => 3, PinUse.Avoid => 10, PinUse.Never => 30, _ => 0 } + (pin.Has(Hazard.Psram) ? 2 : 0) + (pin.Has(Hazard.Revision) ? 1 : 0);

    private static int VersatilityOf(Pin pin) =>
        (pin.Adc is null ? 0 : pin.Has(Hazard.AdcStopsWithWifi) ? 1 : 3) + (pin.Dac is null ? 0 : 2) + (pin.Touch is null ? 0 : 1) + (pin.Wakes ? 1 : 0) + (pin.Output ? 1 : 0)
        + (pin.PullUp ? 1 : 0);
}
