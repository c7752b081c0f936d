using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>One pin that the node needs: a bus line shared by its parts, or a line of one part.</summary>
/// <param name="Key">"I2C 0.SDA" for a bus line, "part.LINE" for a single one.</param>
/// <param name="Wires">The lines that end on this pin.</param>
/// <param name="Controller">Number of the I2C, SPI or UART controller; null for plain pins.</param>
/// <param name="AtStart">Level of the line while the board starts, with everything attached that the plan adds.</param>
/// <param name="Position">Where its parts lie along the header, in half rows.</param>
public sealed record Demand(string Key, IReadOnlyList<DemandWire> Wires, LineRole Role, int? Controller, RestLevel AtStart, int Position)
{
    /// <summary>The board must drive the line.</summary>
    public bool Output { get; init; }

    /// <summary>The board must read the line.</summary>
    public bool Input { get; init; }

    /// <summary>The board must catch edges on it.</summary>
    public bool Edge { get; init; }

    /// <summary>It must end deep sleep.</summary>
    public bool Wake { get; init; }

    /// <summary>It must be measured by the converter.</summary>
    public bool Analog { get; init; }

    /// <summary>It switches a load: no pulse while the board starts.</summary>
    public bool Load { get; init; }

    /// <summary>It needs a pull-up that the pin may have inside.</summary>
    public bool PullUp { get; init; }
}

/// <summary>A line of a part that belongs to a demand.</summary>
public sealed record DemandWire(string Part, string PartLabel, string Line)
{
    public string Key => $"{Part}.{Line}";
}
