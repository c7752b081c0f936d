using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>How one part is connected in a structure.</summary>
/// <param name="Controller">I2C, SPI or UART number; null for plain lines.</param>
public sealed record Connection(PartInstance Instance, Part Part, PartInterface Interface, int? Controller, StrapAddress? Address);

/// <summary>Which interface, bus and address each part uses: everything but the pins.</summary>
public sealed record Structure(IReadOnlyList<Connection> Connections)
{
    /// <summary>A second I2C bus is two more wires and a second driver to start: it weighs like this many components.</summary>
    public const int SecondBusWeight = 4;

    /// <summary>An SPI bus is three wires and a driver to start, where I2C takes two that others share: it weighs like this many components.</summary>
    public const int SpiBusWeight = 3;

    public IEnumerable<IGrouping<int, Connection>> I2cBuses =>
        Connections.Where(c => c.Interface.Kind == InterfaceKind.I2c).GroupBy(c => c.Controller!.Value).OrderBy(g => g.Key);

    /// <summary>Bridges that differ from how the module comes.</summary>
    public int StrapsChanged => Connections.Count(c => c.Address is { } a && a != c.Interface.Addresses![0]);

    /// <summary>
    /// All structures of a node's parts on a board, without those that differ only in the names of equal controllers. Reasons why parts have none are collected.
    /// </summary>
    /// <param name="mostComponents">Component weight of the best plan so far: what surely costs more is not tried.</param>
    public static IEnumerable<Structure> All(
        Board board, NodeDesign node, IReadOnlyList<(PartInstance Instance, Part Part)> parts, ISet<string> reasons, Func<int>? mostComponents = null)
    {
        var choices = parts.Select(p => Interfaces(node, p.Instance, p.Part)).ToList();
        for (var i = 0; i < parts.Count; i++)
        {
            if (choices[i].Count == 0)
            {
                reasons.Add($"{parts[i].Instance.Label} has no interface that serves all its readings the way it is set.");
                return [];
            }
        }
        return Extend(board, parts, choices, 0, [], reasons, mostComponents ?? (() => int.MaxValue));
    }

    private static List<PartInterface> Interfaces(NodeDesign node, PartInstance instance, Part part)
    {
        var wanted = node.Readings.Where(r => r.Part == instance.Key).Select(r => r.Quantity).ToHashSet();
        return [.. part.Interfaces.Where(i => (instance.Interface is null || i.Kind == instance.Interface) && (i.Quantities is null || wanted.IsSubsetOf(i.Quantities)))];
    }

    private static IEnumerable<Structure> Extend(
        Board board, IReadOnlyList<(PartInstance Instance, Part Part)> parts, List<List<PartInterface>> choices, int at, List<Connection> done, ISet<string> reasons,
        Func<int> mostComponents)
    {
        if (SureComponents(done) > mostComponents())
        {
            yield break;
        }
        if (at == parts.Count)
        {
            yield return new Structure(Addressed(done));
            yield break;
        }
        var (instance, part) = parts[at];
        foreach (var choice in choices[at])
        {
            var any = false;
            foreach (var controller in ControllersFor(board, choice.Kind, done))
            {
                any = true;
                done.Add(new Connection(instance, part, choice, controller, null));
                if (choice.Kind != InterfaceKind.I2c || HasAddresses(done, controller!.Value, reasons))
                {
                    foreach (var whole in Extend(board, parts, choices, at + 1, done, reasons, mostComponents))
                    {
                        yield return whole;
                    }
                }
                done.RemoveAt(done.Count - 1);
            }
            if (!any)
            {
                reasons.Add($"{instance.Label} needs a {choice.Label}, and every {choice.Kind} controller of the {board.Label} is taken.");
            }
        }
    }

    private static IEnumerable<int?> ControllersFor(Board board, InterfaceKind kind, List<Connection> done)
    {
        var used = done.Where(c => c.Interface.Kind == kind).Select(c => c.Controller!.GetValueOrDefault()).ToHashSet();
        switch (kind)
        {
            case InterfaceKind.I2c:
                // Through a pin matrix all controllers are alike: of the unused ones only the first is tried.
                var unused = board.Controllers.I2c.Where(n => !used.Contains(n));
                return board.Controllers.I2c.Where(used.Contains).Concat(board.Controllers.PinMatrix ? unused.Take(1) : unused).Order().Select(n => (int?)n);
            case InterfaceKind.Spi:
                // All SPI parts share one bus, each with a select line of its own.
                return (used.Count > 0 ? board.Controllers.Spi.Where(used.Contains) : board.Controllers.PinMatrix ? board.Controllers.Spi.Take(1) : board.Controllers.Spi).Select(n => (int?)n);
            case InterfaceKind.Uart:
                var free = board.Controllers.Uart.Where(n => !used.Contains(n));
                return (board.Controllers.PinMatrix ? free.Take(1) : free).Select(n => (int?)n);
            default:
                return [null];
        }
    }

    /// <summary>Components that every structure with these connections adds: a select line's pull-up each, the SPI bus itself, and a second I2C bus.</summary>
    private static int SureComponents(List<Connection> done) =>
        done.Count(c => c.Interface.Kind == InterfaceKind.Spi) + (done.Any(c => c.Interface.Kind == InterfaceKind.Spi) ? SpiBusWeight : 0) + SecondBusWeight * Math.Max(0, done.Where(c => c.Interface.Kind == InterfaceKind.I2c).Select(c => c.Controller).Distinct().Count() - 1);

    private static bool HasAddresses(List<Connection> done, int controller, ISet<string> reasons)
    {
        var bus = done.Where(c => c.Interface.Kind == InterfaceKind.I2c && c.Controller == controller).ToList();
        if (FewestStraps(bus) is not null)
        {
            return true;
        }
        reasons.Add($"On one I2C bus {string.Join(", ", bus.Select(m => m.Instance.Label))} cannot all have an address of their own.");
        return false;
    }

    private static List<Connection> Addressed(List<Connection> connections)
    {
        var result = connections.ToList();
        foreach (var bus in connections.Select((c, at) => (c, at)).Where(p => p.c.Interface.Kind == InterfaceKind.I2c).GroupBy(p => p.c.Controller!.Value))
        {
            var members = bus.ToList();
            var chosen = FewestStraps(members.Select(m => m.c).ToList())!;
            for (var i = 0; i < members.Count; i++)
            {
                result[members[i].at] = members[i].c with { Address = chosen[i] };
            }
        }
        return result;
    }

    /// <summary>An address a part, all different, with the fewest straps changed; of equals the first in order. Null when there is none.</summary>
    private static StrapAddress[]? FewestStraps(IReadOnlyList<Connection> bus)
    {
        var best = (Straps: int.MaxValue, Addresses: (StrapAddress[]?)null);
        var current = new StrapAddress[bus.Count];
        Try(0, 0, []);
        return best.Addresses;

        void Try(int at, int straps, HashSet<int> taken)
        {
            if (straps >= best.Straps)
            {
                return;
            }
            if (at == bus.Count)
            {
                best = (straps, [.. current]);
                return;
            }
            var addresses = bus[at].Interface.Addresses!;
            for (var i = 0; i < addresses.Count; i++)
            {
                if ((bus[at].Instance.Address is { } wanted && wanted != addresses[i].Address) || !taken.Add(addresses[i].Address))
                {
                    continue;
                }
                current[at] = addresses[i];
                Try(at + 1, straps + (i > 0 ? 1 : 0), taken);
                taken.Remove(addresses[i].Address);
            }
        }
    }
}
