using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using MathNet.Numerics.LinearAlgebra;

namespace Cenotic.Core.Tests.Bench;

/// <summary>
/// Operating point of a network by nodal analysis: at every node without a source the currents sum
/// to nothing (Kirchhoff's current law), each resistor obeys Ohm's law, and a
/// junction the equation of Shockley, solved by Newton's method. Written from these laws alone.
/// </summary>
internal sealed class Kirchhoff
{
    private const double ThermalVolts = 0.02585,
        Leak = 1e-12;

    private readonly List<(string A, string B, double Ohms)> _resistors = [];
    private readonly List<(string Anode, string Cathode, double Saturation, double Emission)> _junctions = [];
    private readonly Dictionary<string, double> _sources = new() { [Circuit.Ground] = 0 };
    private readonly Dictionary<string, double> _injected = [];

    /// <summary>All resistors of a circuit, and the pull-ups on its modules.</summary>
    internal static Kirchhoff Of(Circuit circuit)
    {
        var network = new Kirchhoff();
        foreach (var component in circuit.Components)
        {
            string? Net(string terminal) => component.Terminals.FirstOrDefault(t => t.Name == terminal)?.Net;
            if (component is { Kind: ComponentKind.Resistor, Ohms: { } ohms })
            {
                network.Resistor(Net("1")!, Net("2")!, ohms);
            }
            else if (component.Kind == ComponentKind.Shifter)
            {
                foreach (var terminal in component.Terminals.Where(t => t.Name.Length == 3 && t.Name != "GND"))
                {
                    network.Resistor(terminal.Net!, Net(terminal.Name[..2])!, 10_000);
                }
            }
            else if (
                component is { Kind: ComponentKind.Part, PullUpTakenOff: false }
                && Samples.Catalogue.Part(component.CatalogueId!) is { PullUpOhms: { } pull, SupplyPin: { } supply } part
            )
            {
                foreach (var line in part.Interfaces[0].Lines.Where(l => l.Drive == LineDrive.OpenDrain && Net(l.Name) is not null))
                {
                    network.Resistor(Net(line.Name)!, Net(supply)!, pull.Likely);
                }
            }
        }
        return network;
    }

    internal Kirchhoff Resistor(string a, string b, double ohms)
    {
        _resistors.Add((a, b, ohms));
        return this;
    }

    internal Kirchhoff Source(string net, double volts)
    {
        _sources[net] = volts;
        return this;
    }

    internal Kirchhoff Inject(string net, double amps)
    {
        _injected[net] = amps;
        return this;
    }

    /// <summary>A junction that drops so much at a current: its saturation current follows.</summary>
    internal Kirchhoff Junction(string anode, string cathode, double volts, double amps, double emission = 1)
    {
        _junctions.Add((anode, cathode, amps / Math.Exp(volts / (emission * ThermalVolts)), emission));
        return this;
    }

    /// <summary>Volts of every node.</summary>
    internal Dictionary<string, double> Solve()
    {
        var nodes = _resistors
            .SelectMany(r => new[] { r.A, r.B })
            .Concat(_junctions.SelectMany(j => new[] { j.Anode, j.Cathode }))
            .Distinct()
            .Where(n => !_sources.ContainsKey(n))
            .ToList();
        var volts = new Dictionary<string, double>(_sources);
        foreach (var node in nodes)
        {
            volts[node] = 0;
        }
        var at = nodes.Select((n, i) => (n, i)).ToDictionary(p => p.n, p => p.i);
        for (var step = 0; step < 400 && nodes.Count > 0; step++)
        {
            var conductance = Matrix<double>.Build.Dense(nodes.Count, nodes.Count, (i, j) => i == j ? Leak : 0);
            var residual = Vector<double>.Build.Dense(nodes.Count, i => Leak * volts[nodes[i]] - _injected.GetValueOrDefault(nodes[i]));
            void Branch(string a, string b, double amps, double siemens)
            {
                foreach (var (one, other, sign) in new[] { (a, b, 1), (b, a, -1) })
                {
                    if (at.TryGetValue(one, out var row))
                    {
                        residual[row] += sign * amps;
                        conductance[row, row] += siemens;
                        if (at.TryGetValue(other, out var column))
                        {
                            conductance[row, column] -= siemens;
                        }
                    }
                }
            }
            foreach (var (a, b, ohms) in _resistors)
            {
                Branch(a, b, (volts[a] - volts[b]) / ohms, 1 / ohms);
            }
            foreach (var (anode, cathode, saturation, emission) in _junctions)
            {
                var exponential = saturation * Math.Exp(Math.Min(80, (volts[anode] - volts[cathode]) / (emission * ThermalVolts)));
                Branch(anode, cathode, exponential - saturation, exponential / (emission * ThermalVolts) + Leak);
            }
            var change = conductance.Solve(-residual);
            foreach (var (node, i) in at)
            {
                // Newton's step, limited so that the exponential does not run away.
                volts[node] += _junctions.Count > 0 ? Math.Clamp(change[i], -0.1, 0.1) : change[i];
            }
            if (change.AbsoluteMaximum() < 1e-12)
            {
                break;
            }
        }
        return volts;
    }

    /// <summary>Amperes from a to b through the resistors between them.</summary>
    internal double Amps(Dictionary<string, double> volts, string a, string b) =>
        _resistors.Where(r => (r.A == a && r.B == b) || (r.A == b && r.B == a)).Sum(r => (volts[a] - volts[b]) / r.Ohms);
}
