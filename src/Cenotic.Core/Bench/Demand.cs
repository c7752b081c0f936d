using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>One pin that the node needs: a bus line shared by its parts, or a line of one part.</summary>
/// <param name="Key">"I2C 0.SDA" for a bus line, "part.LINE" for a single one.</param>
/// <param name="Wires">The lines that end on this pin.</param>
/// <param name="Needs">What the pin must be able to do.</param>
public sealed record Demand(string Key, IReadOnlyList<DemandWire> Wires, PinNeeds Needs)
{
    /// <summary>What the line does.</summary>
    public LineRole Role => Needs.Role;
}

/// <summary>What a line asks of a pin; lines with equal needs are alike for every pin.</summary>
/// <param name="Controller">Number of the I2C, SPI or UART controller; null for plain pins.</param>
/// <param name="AtStart">Level of the line while the board starts, with everything attached that the plan adds.</param>
public sealed record PinNeeds(LineRole Role, int? Controller, RestLevel AtStart)
{
    /// <summary>The board must drive the line.</summary>
    public bool Output { get; init; }

    /// <summary>The board must read the line.</summary>
    public bool Input { get; init; }

    /// <summary>The board must catch edges on it.</summary>
    public bool Edge { get; init; }

    /// <summary>Microseconds count on it.</summary>
    public bool Timed { get; init; }

    /// <summary>The pin must make a pulse-width signal.</summary>
    public bool Pwm { get; init; }

    /// <summary>It must end deep sleep.</summary>
    public bool Wake { get; init; }

    /// <summary>It must be measured by the converter.</summary>
    public bool Analog { get; init; }

    /// <summary>The pin must sense the charge of an electrode.</summary>
    public bool Touch { get; init; }

    /// <summary>It switches a load: no pulse while the board starts.</summary>
    public bool Load { get; init; }

    /// <summary>The pin must give current: a transistor's base, a gate or an LED hangs on it.</summary>
    public bool Drive { get; init; }

    /// <summary>It needs a pull-up that the pin may have inside.</summary>
    public bool PullUp { get; init; }

    /// <summary>Highest voltage at the pin after what the plan adds, volts.</summary>
    public double Volts { get; init; }

    /// <summary>True when it can go through an expander: read or switched now and then, with no timing.</summary>
    public bool Slow => (Role is LineRole.DigitalToBoard or LineRole.DigitalToPart or LineRole.Contact) && !(Edge || Timed || Pwm || Wake || Analog);
}

/// <summary>A line of a part that belongs to a demand.</summary>
/// <param name="Position">Where the part lies along the header, in half rows; null when it has no place (a module the planner added).</param>
public sealed record DemandWire(string Part, string PartLabel, string Line, int? Position)
{
    /// <summary>The part and its line: "air.SDA".</summary>
    public string Key => $"{Part}.{Line}";

    /// <summary>True for the line by which an expander tells of a change.</summary>
    public bool IsInterrupt { get; init; }
}
