namespace Cenotic.Core.Bench;

/// <summary>Everything that is soldered for a node: components, and the nets that join their terminals.
/// Wiring table, netlist, parts list and build steps are views of it.</summary>
/// <param name="Nets">Every net that a terminal names.</param>
public sealed record Circuit(IReadOnlyList<Component> Components, IReadOnlyList<Net> Nets)
{
    /// <summary>Key of the net that all grounds join.</summary>
    public const string Ground = "GND";

    /// <summary>Keys of the board and of what feeds the node, as components.</summary>
    public const string BoardKey = "board",
        SourceKey = "supply/source",
        CellsKey = "supply/cells",
        ModuleKey = "supply/module",
        StepUpKey = "supply/step-up",
        LoadStepUpKey = "supply/step-up-12",
        FurtherRailKey = "supply/rail ",
        CableKey = "supply/cable",
        StripKey = "supply/strip ";

    /// <summary>True for the key of a component between the source and the board.</summary>
    internal static bool IsOfSupply(string component) => component.StartsWith("supply/", StringComparison.Ordinal);

    /// <summary>A node without a plan.</summary>
    internal static readonly Circuit Empty = new([], []);

    /// <summary>The component with this key, or null.</summary>
    public Component? Component(string key) => Components.FirstOrDefault(c => c.Key == key);

    /// <summary>The net with this key, or null.</summary>
    public Net? Net(string? key) => Nets.FirstOrDefault(n => n.Key == key);

    /// <summary>The net that a terminal is on, or null when it is open or not there.</summary>
    public Net? NetOf(string component, string terminal) => Net(Component(component)?.Terminals.FirstOrDefault(t => t.Name == terminal)?.Net);

    /// <summary>Keys of the nets at the isolated input of a part.</summary>
    internal static string IsolatedPlus(string part) => $"{part}/input/IN+";

    internal static string IsolatedMinus(string part) => $"{part}/input/IN-";

    /// <summary>Key of the net of a rail.</summary>
    public static string Rail(string rail) => "rail " + rail;
}

/// <summary>What a component is, and with it what its terminals are called.</summary>
public enum ComponentKind
{
    /// <summary>Terminals are the ids of its pins; "USB+" and "USB-" are those of its socket.</summary>
    Board,

    /// <summary>A part or helper module of the node, or one that the planner added: its pins as printed.</summary>
    Part,

    /// <summary>1 and 2.</summary>
    Resistor,

    /// <summary>+ and -, also where the polarity does not matter.</summary>
    Capacitor,

    /// <summary>A and K.</summary>
    Diode,

    /// <summary>A diode that shorts what is above its voltage: A and K.</summary>
    Clamp,

    /// <summary>B, C and E.</summary>
    Npn,

    /// <summary>G, D and S.</summary>
    NMosfet,

    /// <summary>G, D and S.</summary>
    PMosfet,

    /// <summary>LV, HV and GND; LV1 and HV1 of its first channel, and so on.</summary>
    Shifter,

    /// <summary>A, Y, VCC, GND and OE.</summary>
    Buffer,

    /// <summary>+ and -.</summary>
    Source,

    /// <summary>+ and -.</summary>
    Cells,

    /// <summary>+ and -.</summary>
    LightCell,

    /// <summary>1 and 2.</summary>
    Fuse,

    /// <summary>Two wires side by side: +1 to +2, and -1 to -2.</summary>
    Cable,

    /// <summary>Where more wires meet than a pin takes: all of them on its bar.</summary>
    Strip,

    /// <summary>IN+, IN-, OUT+ and OUT-.</summary>
    Converter,

    /// <summary>IN+, IN-, B+, B-, OUT+ and OUT-.</summary>
    Charger,

    /// <summary>VIN, GND and VBAT.</summary>
    Harvester,
}

/// <summary>One thing with terminals.</summary>
/// <param name="Value">As one buys it: "4.7 kΩ", "AO3400A type".</param>
/// <param name="Terminals">In the order they are printed; open ones too.</param>
public sealed record Component(string Key, ComponentKind Kind, string Label, string Value, IReadOnlyList<Terminal> Terminals)
{
    /// <summary>Id in the catalogue, for a board, part, cell or supply module.</summary>
    public string? CatalogueId { get; init; }

    /// <summary>The addition it is a piece of, or null.</summary>
    public string? Addition { get; init; }

    /// <summary>Key of the component it sits at: a capacitor at the supply pin of its part. Null for anything else.</summary>
    public string? At { get; init; }

    /// <summary>Of a resistor, ohm.</summary>
    public double? Ohms { get; init; }

    /// <summary>Of a capacitor, µF.</summary>
    public double? Microfarads { get; init; }

    /// <summary>Of a source or cells, the highest voltage; of a converter, its output; of a clamp, where it starts to conduct, volts.</summary>
    public double? Volts { get; init; }

    /// <summary>True for a module whose own pull-up is to be taken off.</summary>
    public bool PullUpTakenOff { get; init; }

    /// <summary>Pads of a module that are bridged or cut, in words; null where it stays as it comes.</summary>
    public string? Strap { get; init; }
}

/// <param name="Name">As printed; for a pin of the board its id.</param>
/// <param name="Net">Key of its net; null where it stays open.</param>
public sealed record Terminal(string Name, string? Net);

/// <summary>Terminals that are one piece of metal.</summary>
/// <param name="LowVolts">Lowest voltage in use.</param>
/// <param name="HighVolts">Highest voltage it can have, with the pins driven and let go.</param>
/// <param name="Driver">"component:terminal" of what feeds a supply, or of the pin of the board or a helper that drives
/// a signal; null for what a part drives, for a bus that all pull low, and for ground.</param>
/// <param name="Serves">"part.LINE" of each line whose pin is on it.</param>
public sealed record Net(
    string Key,
    string Label,
    WireKind Kind,
    double LowVolts,
    double HighVolts,
    string? Driver,
    string Reason,
    IReadOnlyList<string> Serves
);
