using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>The hard and soft rules of one pin for one demand. The rules are those of the chip's data sheet as the catalogue records them.</summary>
/// <param name="Refusals">Why it cannot be; empty when it can.</param>
/// <param name="Adds">Components this pin needs that another might not.</param>
public sealed record PinFit(IReadOnlyList<string> Refusals, IReadOnlyList<string> Adds, int HazardPoints, int Versatility)
{
    /// <summary>True when the line may be on the pin.</summary>
    public bool Fits => Refusals.Count == 0;

    /// <summary>Judges a pin for a demand.</summary>
    /// <param name="wifiOn">True when the node uses Wi-Fi.</param>
    /// <param name="sleeps">True when the node sleeps between readings.</param>
    public static PinFit Judge(Pin pin, PinNeeds needs, bool wifiOn, bool sleeps)
    {
        var no = new List<string>();
        if (pin.Kind != PinKind.Gpio && !(pin.Kind == PinKind.Analog && pin.Adc is not null))
        {
            no.Add($"{pin.Label} is not a pin for signals.");
            return new(no, [], 0, 0);
        }
        if (pin.Hazards.FirstOrDefault(h => h.Code is Hazard.Flash or Hazard.Taken) is { } taken)
        {
            no.Add(
                taken.Code == Hazard.Flash ? $"{pin.Name} carries the program flash: a load or a level there stops the program." : $"{pin.Name}: {taken.What}"
            );
            return new(no, [], 0, 0);
        }
        if (pin.Has(Hazard.Console) && !pin.Has(Hazard.ConsoleOption))
        {
            no.Add($"{pin.Name} is wired to the USB-serial chip: a part there corrupts uploads and the log.");
        }
        Directions(no, pin, needs);
        Roles(no, pin, needs);
        StartLevels(no, pin, needs);
        Limits(no, pin, needs, sleeps);
        var adds = needs.PullUp && !pin.PullUp && !pin.Has(Hazard.FixedPullUp) ? new[] { "this pin has no pull-up inside" } : [];
        if (needs.Analog && pin.Has(Hazard.AdcStopsWithWifi) && wifiOn)
        {
            no.Add($"{pin.Name} is on the converter that stops while Wi-Fi is on.");
        }
        return new(no, adds, Points(pin, needs), VersatilityOf(pin, needs));
    }

    private static void Limits(List<string> no, Pin pin, PinNeeds needs, bool sleeps)
    {
        if (HelperPins.IsHelper(pin) && !needs.Slow && !needs.Analog)
        {
            no.Add($"{pin.Label} is a line of an expander: too slow for this line, and it wakes nothing.");
        }
        if (pin.Kind == PinKind.Analog && !needs.Analog)
        {
            no.Add($"{pin.Label} can only measure.");
        }
        if (pin.Has(Hazard.WeakHigh) && needs.Drive)
        {
            no.Add($"{pin.Label} gives about 0.1 mA when high: not enough for a transistor or a load.");
        }
        if (pin.Has(Hazard.ContactOnly) && needs.Role != LineRole.Contact)
        {
            no.Add($"{pin.Label} is lit through an optocoupler: a contact to ground works it, the output of a part does not.");
        }
        if (needs.Pwm && pin.Pwm is null)
        {
            no.Add($"{pin.Name} makes no pulse-width signal.");
        }
        if (pin.Has(Hazard.LowFrequency) && (needs.Timed || needs.Pwm || needs.Load || needs.Drive || needs.Controller is not null))
        {
            no.Add($"{pin.Name} lies near the radio: up to about 10 kHz and 2 mA only.");
        }
        if (pin.Has(Hazard.SoftwareTimed) && needs is { Timed: true, Role: LineRole.DigitalToPart or LineRole.DigitalToBoard })
        {
            no.Add($"{pin.Name} is timed by a program under an operating system: microseconds count on this line.");
        }
        if (pin.Has(Hazard.TimerWake) && sleeps)
        {
            no.Add($"{pin.Name} is linked to the reset pin, so that the board can wake itself.");
        }
        if (pin.Has(Hazard.TimerWake) && (needs.Timed || needs.Pwm))
        {
            no.Add($"{pin.Name} belongs to the clock block of the chip: too slow for this line.");
        }
        if (pin.Has(Hazard.FixedPullUp) && needs is { Load: true, AtStart: RestLevel.Low })
        {
            no.Add($"{pin.Name} has a fixed pull-up of 1.8 kΩ: the load would be on while the board starts.");
        }
        if (pin.Has(Hazard.ConsoleOption) && needs.Role is not (LineRole.UartToBoard or LineRole.UartToPart))
        {
            no.Add($"{pin.Name} is the serial console: free only for a serial part, once the console is switched off.");
        }
        if (pin.MaxVolts is { } most && needs.Volts > most)
        {
            no.Add($"{pin.Label} stands {most} V; this line reaches {needs.Volts:0.##} V.");
        }
    }

    private static void Directions(List<string> no, Pin pin, PinNeeds needs)
    {
        if (needs.Touch && pin.Touch is null)
        {
            no.Add($"{pin.Name} has no touch input.");
        }
        if (needs.Output && !pin.Output)
        {
            no.Add($"{pin.Name} can only read; this line must be driven.");
        }
        if (needs.Input && !pin.Input && !(needs.Analog && pin.Adc is not null))
        {
            no.Add($"{pin.Name} cannot read.");
        }
        if (needs.Analog && pin.Adc is null)
        {
            no.Add($"{pin.Name} has no converter; this line is a voltage to measure.");
        }
        if (needs.Edge && !pin.Interrupt)
        {
            no.Add($"{pin.Name} cannot catch edges.");
        }
        if (needs.Edge && pin.Has(Hazard.EdgeGlitch))
        {
            no.Add($"{pin.Name} shows short false edges whenever the converter powers up, which Wi-Fi power save also causes.");
        }
        if (needs.Wake && !pin.Wakes)
        {
            no.Add($"{pin.Name} cannot wake the board, and this line must end its sleep.");
        }
    }

    private static void Roles(List<string> no, Pin pin, PinNeeds needs)
    {
        var (offers, wanted) = needs.Role switch
        {
            LineRole.I2cSda => (pin.I2c, $"I2C{needs.Controller} SDA"),
            LineRole.I2cScl => (pin.I2c, $"I2C{needs.Controller} SCL"),
            LineRole.SpiSck => (pin.Spi, $"SPI{needs.Controller} SCK"),
            LineRole.SpiMosi => (pin.Spi, $"SPI{needs.Controller} TX"),
            LineRole.SpiMiso => (pin.Spi, $"SPI{needs.Controller} RX"),
            LineRole.UartToBoard => (pin.Uart, $"U{needs.Controller} RX"),
            LineRole.UartToPart => (pin.Uart, $"U{needs.Controller} TX"),
            _ => (null, ""),
        };
        if (offers is null || needs is { Role: LineRole.UartToBoard or LineRole.UartToPart, Controller: LineRules.SoftwareSerial })
        {
            return;
        }
        var inputOnly = needs.Role is LineRole.SpiMiso && offers.Contains("any MISO") || needs.Role is LineRole.UartToBoard && offers.Contains("any RX");
        if (!offers.Contains("any") && !offers.Contains(wanted) && !inputOnly)
        {
            no.Add($"{pin.Name} cannot carry {BusLine(needs.Role, needs.Controller)}.");
        }
    }

    /// <summary>A line of a bus as the field says it: "UART 2 TX", seen from the board; null for a line of no bus.</summary>
    internal static string? BusLine(LineRole role, int? controller)
    {
        var uart = controller == LineRules.SoftwareSerial ? "software serial" : $"UART {controller}";
        return role switch
        {
            LineRole.I2cSda => $"I2C {controller} SDA",
            LineRole.I2cScl => $"I2C {controller} SCL",
            LineRole.SpiSck => $"SPI {controller} SCK",
            LineRole.SpiMosi => $"SPI {controller} MOSI",
            LineRole.SpiMiso => $"SPI {controller} MISO",
            LineRole.UartToBoard => $"{uart} RX",
            LineRole.UartToPart => $"{uart} TX",
            _ => null,
        };
    }

    private static void StartLevels(List<string> no, Pin pin, PinNeeds needs)
    {
        var mayBeHigh = needs.AtStart is RestLevel.High or RestLevel.Either;
        var mayBeLow = needs.AtStart is RestLevel.Low or RestLevel.Either;
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
        if (needs.Load && pin.Has(Hazard.BootPulse))
        {
            no.Add($"{pin.Name} goes high or toggles while the board starts; the load would switch on by itself.");
        }
    }

    private static int Points(Pin pin, PinNeeds needs) =>
        pin.Use switch
        {
            PinUse.Care => 3,
            PinUse.Avoid => 10,
            PinUse.Never => 30,
            _ => 0,
        }
        + (pin.Has(Hazard.Psram) ? 2 : 0)
        + (pin.Has(Hazard.Revision) ? 1 : 0)
        + (pin.Has(Hazard.ConsoleOption) ? 6 : 0)
        + (pin.Has(Hazard.EdgeGlitch) && needs.Role == LineRole.DigitalToBoard ? 3 : 0);

    /// <summary>What else the pin could do. A bus line on its usual pin takes nothing from others;
    /// a usual pin of a bus is worth a point more to others.</summary>
    private static int VersatilityOf(Pin pin, PinNeeds needs)
    {
        if (HelperPins.IsHelper(pin) || pin.Usual == needs.Role)
        {
            return 0;
        }
        var converter =
            pin.Adc is null ? 0
            : pin.Has(Hazard.AdcStopsWithWifi) ? 1
            : 3;
        return converter
            + (pin.Dac is null ? 0 : 2)
            + (pin.Touch is null ? 0 : 1)
            + (pin.Wakes ? 1 : 0)
            + (pin.Output ? 1 : 0)
            + (pin.PullUp ? 1 : 0)
            + (pin.Usual is null ? 0 : 1);
    }
}
