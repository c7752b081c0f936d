namespace Cenotic.Core.Bench;

/// <summary>The components that additions are made of, each with the nets of its terminals.</summary>
internal static class Pieces
{
    internal static Component Resistor(string addition, string name, double ohms, string one, string two) =>
        Piece(addition, name, ComponentKind.Resistor, $"{AdditionList.Ohms(ohms)} resistor", AdditionList.Ohms(ohms), ("1", one), ("2", two)) with
        {
            Ohms = ohms,
        };

    internal static Component Capacitor(string addition, string name, double microfarads, string plus, string minus)
    {
        var value = microfarads < 1 ? $"{microfarads * 1000:0.##} nF" : $"{microfarads:0.##} µF";
        return Piece(addition, name, ComponentKind.Capacitor, $"{value} capacitor", value, ("+", plus), ("-", minus)) with { Microfarads = microfarads };
    }

    /// <summary>Something outside the node that makes pulses.</summary>
    internal static Component PulseSource(string addition, double volts, string plus, string minus) =>
        Piece(addition, "source", ComponentKind.Source, $"pulse source, {volts:0.#} V", $"{volts:0.#} V", ("+", plus), ("-", minus)) with
        {
            Volts = volts,
        };

    internal static Component Diode(string addition, string name, string type, string anode, string cathode) =>
        Piece(addition, name, ComponentKind.Diode, $"{type} diode", type, ("A", anode), ("K", cathode));

    internal static Component Clamp(string addition, string name, double volts, string cathode, string anode) =>
        Piece(addition, name, ComponentKind.Clamp, $"clamp diode, {volts:0.##} V stand-off", $"{volts:0.##} V stand-off", ("K", cathode), ("A", anode)) with
        {
            Volts = volts,
        };

    internal static Component Npn(string addition, string name, string basis, string collector, string emitter) =>
        Piece(addition, name, ComponentKind.Npn, "NPN transistor (2N3904 type)", "2N3904 type", ("B", basis), ("C", collector), ("E", emitter));

    internal static Component NMosfet(string addition, string name, string gate, string drain, string source) =>
        Piece(addition, name, ComponentKind.NMosfet, "N-channel MOSFET (AO3400A type)", "AO3400A type", ("G", gate), ("D", drain), ("S", source));

    internal static Component PMosfet(string addition, string name, string gate, string drain, string source) =>
        Piece(addition, name, ComponentKind.PMosfet, "P-channel MOSFET (AO3401A type)", "AO3401A type", ("G", gate), ("D", drain), ("S", source));

    internal static Component Buffer(string addition, string name, string type, string input, string output, string supply) =>
        Piece(
            addition,
            name,
            ComponentKind.Buffer,
            $"buffer gate ({type} type)",
            $"{type} type",
            ("OE", Circuit.Ground),
            ("A", input),
            ("GND", Circuit.Ground),
            ("Y", output),
            ("VCC", supply)
        );

    /// <param name="channels">The nets of each channel: on its lower side, on its higher side.</param>
    internal static Component Shifter(string addition, string name, string low, string high, params IReadOnlyList<(string Low, string High)> channels) =>
        Piece(
            addition,
            name,
            ComponentKind.Shifter,
            "level shifter (BSS138 type)",
            "BSS138 type",
            [("LV", low), ("HV", high), ("GND", Circuit.Ground), .. channels.SelectMany((c, at) => new[] { ($"LV{at + 1}", c.Low), ($"HV{at + 1}", c.High) })]
        );

    private static Component Piece(
        string addition,
        string name,
        ComponentKind kind,
        string label,
        string value,
        params IReadOnlyList<(string Name, string Net)> terminals
    ) => new($"{addition}/{name}", kind, label, value, [.. terminals.Select(t => new Terminal(t.Name, t.Net))]) { Addition = addition };
}
