using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The exact pin, bus and supply plan of one node.</summary>
/// <param name="Complete">True when every part is served; else <paramref name="Findings"/> names the conflict and the rest is planned.</param>
/// <param name="Lines">The pin of each line of a part.</param>
/// <param name="Wires">What is joined, in soldering order: ground, supply, buses, single signals.</param>
/// <param name="Circuit">All components and nets; <paramref name="Lines"/>, <paramref name="Wires"/> and <paramref name="Splices"/> are views of it.</param>
/// <param name="Moves">Soldered wires that the plan takes off their pin.</param>
/// <param name="Cost">What the plan minimises, in order.</param>
/// <param name="Power">The supply from its source to the board.</param>
/// <param name="Analog">What each analog reading is worth.</param>
/// <param name="Splices">Where wires join before they reach a pin.</param>
/// <param name="Helpers">Expanders, converters and multiplexers, the added ones among them.</param>
public sealed record BenchPlan(
    string Node,
    bool Complete,
    IReadOnlyList<PlannedLine> Lines,
    IReadOnlyList<PlannedWire> Wires,
    Circuit Circuit,
    IReadOnlyList<PlannedPart> Parts,
    IReadOnlyList<PlannedBus> Buses,
    IReadOnlyList<Addition> Additions,
    IReadOnlyList<RailLoad> Rails,
    IReadOnlyList<WireMove> Moves,
    PlanCost Cost,
    IReadOnlyList<LoadProfile> Loads,
    IReadOnlyList<Finding> Findings,
    IReadOnlyList<Figure> Power,
    IReadOnlyList<AnalogReading> Analog,
    IReadOnlyList<PlannedHelper> Helpers,
    IReadOnlyList<Splice> Splices
)
{
    /// <summary>Nothing but what is said of a node that could not be planned.</summary>
    internal static BenchPlan Empty(string node, params IReadOnlyList<Finding> findings) =>
        new(node, false, [], [], Circuit.Empty, [], [], [], [], [], default, [], findings, [], [], [], []);

    /// <summary>The pin of a line of a part, or null.</summary>
    public PlannedLine? Line(string part, string line) => Lines.FirstOrDefault(l => l.Part == part && l.Line == line);

    /// <summary>The wire that ends on a terminal of a component, or null.</summary>
    public PlannedWire? Wire(string component, string terminal) => Wires.FirstOrDefault(w => w.Part == component && w.Line == terminal);
}

/// <summary>An analog reading through a converter.</summary>
/// <param name="Through">The board or module whose converter it is.</param>
public sealed record AnalogReading(string Part, string Line, string Quantity, string Through, Figure Step, Figure Error);

/// <summary>Wires that join and go on to one pin.</summary>
/// <param name="Wires">"part label LINE" of each.</param>
public sealed record Splice(string Pin, string PinLabel, WireKind Kind, string Colour, IReadOnlyList<string> Wires);

/// <summary>A helper module in the plan.</summary>
/// <param name="Added">True when the planner added it: it is not among the node's parts.</param>
/// <param name="CatalogueId">What to buy.</param>
/// <param name="Lines">Its lines in order; wires end on "part:LINE".</param>
public sealed record PlannedHelper(string Part, string Label, string CatalogueId, HelperKind Kind, bool Added, IReadOnlyList<string> Lines);

/// <summary>What a wire carries.</summary>
public enum WireKind
{
    /// <summary>The common ground.</summary>
    Ground,

    /// <summary>A rail that feeds parts.</summary>
    Supply,

    /// <summary>A line that several parts share.</summary>
    Bus,

    /// <summary>A line of one part.</summary>
    Signal,
}

/// <summary>The pin that a line of a part has.</summary>
/// <param name="Pin">Id of a pin of the board, or "part:LINE" of a helper.</param>
/// <param name="Net">Key of the net of the pin.</param>
/// <param name="Colour">Insulation colour of its wire.</param>
/// <param name="Reason">Why this pin.</param>
public sealed record PlannedLine(
    WireKind Kind,
    string Part,
    string PartLabel,
    string Line,
    string Pin,
    string PinLabel,
    string PinName,
    string Net,
    string Colour,
    WireHold? Hold,
    string Reason
)
{
    /// <summary>What the pin is on the board's side, as a program names it: "UART 2 RX"; null for a line of no bus.</summary>
    public string? BusLine { get; init; }

    /// <summary>How far its high lies above what is read as high, volts; null where that is not known, or stands with what is added to the line.</summary>
    public Figure? HighMargin { get; init; }
}

/// <summary>How two terminals are joined.</summary>
public enum WireForm
{
    /// <summary>An insulated wire.</summary>
    Wire,

    /// <summary>The leg of a component, soldered straight to the other end.</summary>
    Leg,

    /// <summary>Two pads or pins of one module.</summary>
    Bridge,

    /// <summary>A plug in its socket.</summary>
    Plug,
}

/// <summary>One joint: from a terminal of a component to a pin of the board, a line of a helper, or a terminal of another component.</summary>
/// <param name="Net">Key of the net it belongs to.</param>
/// <param name="Part">Key of the component it comes from.</param>
/// <param name="Line">Its terminal.</param>
/// <param name="Pin">Id of a pin of the board, else "component:terminal".</param>
/// <param name="Colour">Insulation colour of a wire; empty for a leg, bridge or plug.</param>
/// <param name="Serves">"part.LINE" of the line of a part that it is for; null for supply, ground and what stands between.</param>
/// <param name="Tick">"part.LINE" of what is held at <paramref name="Pin"/> when it is ticked as soldered; null where nothing is.</param>
/// <param name="Reason">Why there.</param>
public sealed record PlannedWire(
    int Order,
    WireKind Kind,
    WireForm Form,
    string Net,
    string Part,
    string PartLabel,
    string Line,
    string Pin,
    string PinLabel,
    string PinName,
    string Colour,
    double LengthMetres,
    string? Serves,
    string? Tick,
    WireHold? Hold,
    string Reason
);

/// <summary>How a part is connected.</summary>
/// <param name="Bus">"I2C 0", "SPI 2", "UART 1", "1-Wire" or null.</param>
/// <param name="Strap">What to bridge on the module, or null.</param>
/// <param name="Behind">The multiplexer channel it hangs on, or null.</param>
/// <param name="By">Which of its interfaces, by its label in the catalogue.</param>
public sealed record PlannedPart(
    string Part,
    string Label,
    InterfaceKind Interface,
    string? Bus,
    int? Address,
    string? Strap,
    string Rail,
    string? Behind,
    string By
);

/// <summary>A shared bus with its electrical check.</summary>
public sealed record PlannedBus(string Name, InterfaceKind Kind, double? ClockKilohertz, IReadOnlyList<string> Parts, IReadOnlyList<Figure> Figures);

/// <summary>Something to fit besides the parts, of one piece or several.</summary>
/// <param name="For">"part.LINE" of the line it is for, a bus, or a part.</param>
/// <param name="Pieces">Its components, with the nets they join.</param>
public sealed record Addition(string Key, string For, string What, string Value, string Where, IReadOnlyList<Figure> Figures, IReadOnlyList<Component> Pieces);

/// <summary>What hangs on a rail against what it can give, mA.</summary>
public sealed record RailLoad(string Rail, string Label, double Volts, Figure Typical, Figure Peak, Figure Budget)
{
    /// <summary>What usually hangs on it, percent of what it gives; null when either is not known.</summary>
    public double? TypicalPercent => Percent(Typical);

    /// <summary>What hangs on it at most, percent of what it gives; null when either is not known.</summary>
    public double? PeakPercent => Percent(Peak);

    private double? Percent(Figure load) => Budget.Value is > 0 and var budget ? load.Value / budget * 100 : null;
}

/// <summary>A soldered wire that the plan moves, and why.</summary>
/// <param name="To">The pin it goes to; null when the plan has no such wire any more.</param>
public sealed record WireMove(string Part, string Line, string From, string FromLabel, string? To, string ToLabel, string Why);

/// <summary>What a pin could do for a wire: refusals make it unfit, hazard points make it a second choice.</summary>
public sealed record PinOffer(string Pin, bool Fits, IReadOnlyList<string> Refusals, int HazardPoints, IReadOnlyList<string> Adds, string? TakenBy);

/// <summary>What holding a wire on a pin would mean.</summary>
/// <param name="Refusals">Why it cannot be; empty when it can.</param>
/// <param name="Now">Cost of the plan as it is.</param>
/// <param name="Then">Cost of the best plan with the wire there.</param>
/// <param name="Moves">Other wires that would go elsewhere.</param>
public sealed record WireTrial(bool Fits, IReadOnlyList<string> Refusals, PlanCost Now, PlanCost Then, IReadOnlyList<TrialMove> Moves);

/// <summary>Another wire that a trial takes from one pin to another.</summary>
public sealed record TrialMove(string Wire, string From, string To, bool Soldered);
