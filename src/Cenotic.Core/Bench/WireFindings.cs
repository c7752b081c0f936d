using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>Checks of the wires a maker holds, and of the pins that were taken as second choice.</summary>
internal static class WireFindings
{
    internal static void Add(NodeDesign node, Board board, PinSolution solution, List<Finding> findings)
    {
        var served = solution.List.Demands.Zip(solution.Pins, solution.Fits).ToList();
        foreach (var wire in node.Wires.Where(w => w.Hold == WireHold.Locked))
        {
            var at = served.FirstOrDefault(s => s.First.Wires.Any(w => w.Key == wire.Key));
            var let = new Remedy("Let the planner choose the pin", [new RemoveWire(node.Key, wire.Part, wire.Line)]);
            var label = $"{node.Part(wire.Part)?.Label ?? wire.Part} {wire.Line}";
            if (at.First is null)
            {
                findings.Add(LockIdle(node, wire, let, label));
            }
            else if (at.Second.Id != wire.Pin)
            {
                findings.Add(LockTwice(node, wire, let, label));
            }
            else if (!at.Third.Fits)
            {
                findings.Add(LockUnfit(node, board, wire, at, let, label));
            }
        }
        foreach (var (demand, pin, _) in served.Where(s => s.First is { Role: LineRole.UartToBoard, Needs.Controller: LineRules.SoftwareSerial }))
        {
            findings.Add(ReadBySoftware(node, board, demand, pin));
        }
        foreach (var (demand, pin, _) in served.Where(s => s.Second.Has(Hazard.ConsoleOption) && s.Third.Fits))
        {
            findings.Add(ConsoleShared(node, demand, pin));
        }
        foreach (var (demand, pin, fit) in served.Where(s => s.Second.Has(Hazard.Psram) && s.Third.Fits))
        {
            findings.Add(ExtraMemory(node, demand, pin));
        }
    }

    private static Finding LockIdle(NodeDesign node, WireDesign wire, Remedy let, string label) =>
        new(
            "BENCH-LOCK-IDLE",
            Severity.Note,
            new("bench", node.Key, wire.Key),
            $"{label} is fixed to {wire.Pin}, but the plan has no such line.",
            "The part is connected another way.",
            [let],
            null,
            "design"
        );

    private static Finding LockTwice(NodeDesign node, WireDesign wire, Remedy let, string label) =>
        new(
            "BENCH-LOCK-TWICE",
            Severity.Stop,
            new("bench", node.Key, wire.Key),
            $"{label} is fixed to {wire.Pin}, which another fixed line has or the board has not.",
            "One pin serves one line.",
            [let],
            null,
            "one function a pin"
        );

    private static Finding LockUnfit(NodeDesign node, Board board, WireDesign wire, (Demand First, Pin Second, PinFit Third) at, Remedy let, string label) =>
        new(
            "BENCH-LOCK-UNFIT",
            Severity.Stop,
            new("bench", node.Key, wire.Key),
            $"{label} is fixed to {at.Second.Label}, which is unfit for it.",
            string.Join(" ", at.Third.Refusals),
            [let],
            null,
            $"{board.Mcu} data sheet, as recorded in the catalogue"
        );

    private static Finding ReadBySoftware(NodeDesign node, Board board, Demand demand, Pin pin) =>
        new(
            "BENCH-SOFTWARE-SERIAL",
            Severity.Note,
            new("bench", node.Key, demand.Wires[0].Key),
            $"{PinSolver.Name(demand)} is read by software serial on {pin.Name}: the {board.Label} has no serial port left for it.",
            "The program times every bit itself: bytes are lost while it sends by radio or drives a strip of LEDs.",
            [],
            "Read it at 9600 baud while nothing else runs, and check what it sends by its checksum.",
            "common practice, no source"
        );

    private static Finding ConsoleShared(NodeDesign node, Demand demand, Pin pin) =>
        new(
            "BENCH-PIN-CARE",
            Severity.Note,
            new("bench", node.Key, demand.Wires[0].Key),
            $"{PinSolver.Name(demand)} is on {pin.Name}: {pin.Hazards.First(h => h.Code == Hazard.ConsoleOption).What}",
            "The chip has no other serial port; uploads and the log share this one.",
            [],
            "Unplug the part while you upload, or fit a jumper in its line, and switch the console off in the program.",
            "board data in the catalogue"
        );

    private static Finding ExtraMemory(NodeDesign node, Demand demand, Pin pin) =>
        new(
            "BENCH-PIN-CARE",
            Severity.Note,
            new("bench", node.Key, demand.Wires[0].Key),
            $"{PinSolver.Name(demand)} is on {pin.Name}: {pin.Hazards.First(h => h.Code == Hazard.Psram).What}",
            "On a module with extra memory that pin is not free.",
            [],
            $"Read the print on the module before you solder {pin.Name}.",
            "board data in the catalogue"
        );

    /// <summary>Loads without a level while the board starts, and what all pins together give.</summary>
    internal static void Loads(NodeDesign node, Board board, NodeSupply supply, PinSolution solution, List<Finding> findings)
    {
        var given = new List<(string Label, double Milliamps)>();
        foreach (var connection in solution.Structure.Connections)
        {
            foreach (var line in connection.Interface.Lines.Where(l => !l.Optional))
            {
                var support = LineRules.Of(line, connection, board, supply);
                if (line.Load && support == LineSupport.None && line.AtStart is RestLevel.Floating or RestLevel.Either)
                {
                    findings.Add(
                        new(
                            "BENCH-LOAD-START",
                            Severity.Stop,
                            new("bench", node.Key, $"{connection.Instance.Key}.{line.Name}"),
                            $"Nothing holds {connection.Instance.Label} {line.Name} at a level while the board starts.",
                            "The load can switch on by itself, or chatter.",
                            [],
                            $"Fit 10 kΩ from {line.Name} to {(line.ActiveLow ? "the supply" : "ground")}.",
                            "chip data sheets, from memory: pins float until the program runs"
                        )
                    );
                }
                if (support == LineSupport.SeriesResistor && line.Milliamps is { } milliamps)
                {
                    given.Add(($"{connection.Instance.Label} {line.Name}", milliamps));
                }
                else if (support == LineSupport.Transistor)
                {
                    given.Add(($"{connection.Instance.Label} {line.Name}", 0.6));
                }
            }
        }
        if (board.PinTotalMilliamps is { } most && given.Sum(g => g.Milliamps) > most)
        {
            findings.Add(
                new(
                    "BENCH-PIN-TOTAL",
                    Severity.Stop,
                    new("bench", node.Key, given.MaxBy(g => g.Milliamps).Label),
                    $"The pins together would give {given.Sum(g => g.Milliamps):0} mA; the {board.Label} gives {most:0} mA over all pins.",
                    "Above it the chip is damaged.",
                    [],
                    $"Switch the biggest through a transistor: {string.Join(", ", given.OrderByDescending(g => g.Milliamps).Take(3).Select(g => g.Label))}.",
                    $"{board.Mcu} data sheet, from memory"
                )
            );
        }
    }

    /// <summary>Soldered wires that the solution takes elsewhere.</summary>
    internal static IReadOnlyList<WireMove> Moves(
        NodeDesign node,
        Board board,
        PinSolution solution,
        IReadOnlyList<PlannedLine> lines,
        IReadOnlyList<PlannedWire> planned
    )
    {
        var moves = new List<WireMove>();
        var wires = solution.Structure.Connections.Select(c => c.Instance.Key).Append("board").ToHashSet();
        foreach (var wire in node.Wires.Where(w => w.Hold == WireHold.Soldered && wires.Contains(w.Part)))
        {
            var demand = solution.List.Demands.FirstOrDefault(d => d.Wires.Any(w => w.Key == wire.Key));
            var was = board.Pins.FirstOrDefault(p => p.Id == wire.Pin);
            var taken = node.Wires.FirstOrDefault(w =>
                w.Hold == WireHold.Locked && w.Pin == wire.Pin && w.Key != wire.Key && solution.List.Demands.Any(d => d.Wires.Any(x => x.Key == w.Key))
            )
                is { } taker
                ? $"You fixed {node.Part(taker.Part)?.Label ?? taker.Part} {taker.Line} on that pin."
                : null;
            if (demand is null)
            {
                // A channel of a multiplexer, a supply or a ground.
                if (planned.FirstOrDefault(p => p.Tick == wire.Key) is not { } other)
                {
                    moves.Add(new(wire.Part, wire.Line, wire.Pin, was?.Label ?? wire.Pin, null, "nowhere", "The part is connected another way now."));
                }
                else if (other.Pin != wire.Pin)
                {
                    moves.Add(
                        new(
                            wire.Part,
                            wire.Line,
                            wire.Pin,
                            was?.Label ?? wire.Pin,
                            other.Pin,
                            other.PinLabel,
                            taken is null ? other.Reason : $"{taken} {other.Reason}"
                        )
                    );
                }
                continue;
            }
            var to = solution.PinOf(demand);
            if (to.Id == wire.Pin)
            {
                continue;
            }
            var fit = was is null ? null : PinFit.Judge(was, demand.Needs, node.UsesWifi, node.Sleeps);
            var why = taken
                ?? (
                    fit is null ? "That pin is not there any more."
                    : fit.Fits ? "Every plan that keeps it moves more wires or leaves a part out."
                    : string.Join(" ", fit.Refusals)
                );
            moves.Add(new(wire.Part, wire.Line, wire.Pin, was?.Label ?? wire.Pin, to.Id, lines.FirstOrDefault(p => p.Pin == to.Id)?.PinLabel ?? to.Label, why));
        }
        return moves;
    }
}
