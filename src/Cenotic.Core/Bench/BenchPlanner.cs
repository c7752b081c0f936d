using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Bench;

/// <summary>Plans the bench of a node: which board pin for which line, which bus and address, what
/// between them, and whether the supply holds. Pure and deterministic.</summary>
public static class BenchPlanner
{
    private const int MostRemedies = 2,
        MostLeftOut = 6,
        MostConflicts = 10;

    /// <summary>The plan of a node. Always returns one; what cannot be served is named by a stop finding and left out.</summary>
    /// <param name="around">What its spot does to electronics; indoors and dry when left out.</param>
    /// <param name="budget">How much work it may take; a node that takes more is named by a finding. Without bound when left out.</param>
    public static BenchPlan Plan(NodeDesign node, HardwareCatalogue catalogue, Surroundings? around = null, WorkBudget? budget = null)
    {
        try
        {
            return Plan(node, catalogue, around ?? Surroundings.Indoors, trial: false, budget ?? WorkBudget.Unbounded);
        }
        catch (WorkBudgetException)
        {
            return TooMuch(node);
        }
    }

    /// <summary>What is said of a node whose plan takes more work than it may. Whether it would
    /// do with one part less is not known without planning that.</summary>
    private static BenchPlan TooMuch(NodeDesign node) =>
        BenchPlan.Empty(
            node.Key,
            new Finding(
                "BENCH-TOO-MUCH",
                Severity.Stop,
                new("bench", node.Key),
                $"{node.Label} is too much to plan: its {node.Parts.Count} parts can be connected in more ways than are gone through.",
                "The search is exact, and stops before it holds up the rest of the site. The other nodes are planned.",
                [],
                "Split the parts over two nodes, choose the interface of parts that have several, or hold their wires on pins.",
                "planner: budget of its search"
            )
        );

    /// <summary>The plan of a change that is only tried: findings without remedies.</summary>
    internal static BenchPlan Trial(NodeDesign node, HardwareCatalogue catalogue, Surroundings around, WorkBudget budget) =>
        Plan(node, catalogue, around, trial: true, budget);

    private static BenchPlan Plan(NodeDesign node, HardwareCatalogue catalogue, Surroundings around, bool trial, WorkBudget budget) =>
        catalogue.Board(node.Board) is { } board
            ? Plan(new BenchCase(node, board, NodeSupply.Of(board, node.Power, catalogue), catalogue, around, trial, budget))
            : WithoutBoard(node, catalogue);

    private static BenchPlan WithoutBoard(NodeDesign node, HardwareCatalogue catalogue) =>
        BenchPlan.Empty(
            node.Key,
            new Finding(
                "BENCH-NO-BOARD",
                Severity.Stop,
                new("bench", node.Key),
                $"The catalogue has no board \"{node.Board}\".",
                "Without its pin table nothing can be planned.",
                [.. catalogue.Boards.Select(b => new Remedy($"Use the {b.Label}", [SetNodes.WithBoard(node, b.Id)]))],
                null,
                "catalogue"
            )
        );

    private static BenchPlan Plan(BenchCase bench)
    {
        var (node, findings) = (bench.Node, bench.Findings);
        SupplyFindings(node, bench.Board, bench.Supply, findings);
        LinkFinding(node, bench.Board, bench.Catalogue, findings);
        var parts = Known(node, bench.Catalogue, findings);
        var solver = new PinSolver(bench.Board, node, bench.Supply, bench.Catalogue, bench.Budget);
        var solution = solver.Solve(parts);
        var served = parts;
        if (solution is null && node.MeasuresSupply && !solver.Fresh().Serves([]))
        {
            return WithoutSupplySense(bench);
        }
        if (solution is null)
        {
            (solution, served) = WithoutConflict(bench, parts, solver);
        }
        if (solution is null)
        {
            return BenchPlan.Empty(node.Key, findings);
        }
        var plan = Describe(bench, solver.TableOf(solution.Structure), solution, served);
        if (bench.Trial)
        {
            return plan;
        }
        var tried = new Dictionary<object, BenchPlan>();
        return plan with { Findings = [.. plan.Findings.Select(f => f.Remedies.Count == 0 ? f : f with { Remedies = Holding(bench, plan, f, tried) })] };
    }

    /// <summary>What every pin of the board could do for one line of the node; empty when the line is not planned.</summary>
    public static IReadOnlyList<PinOffer> Offers(NodeDesign node, HardwareCatalogue catalogue, string part, string line, WorkBudget? budget = null)
    {
        if (
            Solved(node, catalogue, budget) is not { } solved
            || solved.Solution.List.Demands.FirstOrDefault(d => d.Wires.Any(w => w.Part == part && w.Line == line)) is not { } demand
        )
        {
            return [];
        }
        var takenBy = solved
            .Solution.List.Demands.Zip(solved.Solution.Pins)
            .Where(p => p.First != demand)
            .ToDictionary(p => p.Second.Id, p => PinSolver.Name(p.First));
        var table = solved.Solver.TableOf(solved.Solution.Structure);
        var row = table.RowOf(demand.Needs);
        var lines = table.Columns.Select((p, at) => (p.Id, Fit: row.Fits[at])).ToDictionary(p => p.Id, p => p.Fit);
        return
        [
            .. solved
                .Board.Pins.Concat(table.Columns.Where(HelperPins.IsHelper))
                .Select(pin =>
                {
                    var fit = lines.GetValueOrDefault(pin.Id) ?? PinFit.Judge(pin, demand.Needs, node.UsesWifi, node.Sleeps);
                    return new PinOffer(pin.Id, fit.Fits, fit.Refusals, fit.HazardPoints, fit.Adds, takenBy.GetValueOrDefault(pin.Id));
                }),
        ];
    }

    /// <summary>What it would be to hold a line on a pin: why it cannot be, or which other wires would
    /// go elsewhere and what the plan would cost. Nothing is changed.</summary>
    public static WireTrial Try(NodeDesign node, HardwareCatalogue catalogue, string part, string line, string pin, WorkBudget? budget = null)
    {
        var now = Solved(node, catalogue, budget);
        var key = $"{part}.{line}";
        if (now is not { } solved || solved.Solution.List.Demands.FirstOrDefault(d => d.Wires.Any(w => w.Key == key)) is not { } demand)
        {
            return new(false, ["The plan has no such wire."], default, default, []);
        }
        var table = solved.Solver.TableOf(solved.Solution.Structure);
        var fit =
            table.IndexOf(pin) is var at and >= 0 ? table.RowOf(demand.Needs).Fits[at]
            : solved.Board.Pins.FirstOrDefault(p => p.Id == pin) is { } other ? PinFit.Judge(other, demand.Needs, node.UsesWifi, node.Sleeps)
            : null;
        if (fit is not { Fits: true })
        {
            return new(false, fit?.Refusals ?? [$"There is no pin {pin}."], solved.Solution.Cost, default, []);
        }
        var held = node with
        {
            Wires = [.. node.Wires.Where(w => w.Key != key && (w.Pin != pin || w.Hold != WireHold.Locked)), new WireDesign(part, line, pin, WireHold.Locked)],
        };
        if (Solved(held, catalogue, budget) is not { } tried)
        {
            return new(false, ["With this wire there the others cannot each have a pin."], solved.Solution.Cost, default, []);
        }
        var before = solved
            .Solution.List.Demands.Zip(solved.Solution.Pins)
            .SelectMany(p => p.First.Wires.Select(w => (w, p.Second)))
            .ToDictionary(p => p.w.Key, p => p.Second);
        var moves = tried
            .Solution.List.Demands.Zip(tried.Solution.Pins)
            .SelectMany(p => p.First.Wires.Select(w => (Wire: w, To: p.Second)))
            .Where(p => before.TryGetValue(p.Wire.Key, out var was) && was.Id != p.To.Id && p.Wire.Key != key)
            .Select(p => new TrialMove(
                $"{p.Wire.PartLabel} {p.Wire.Line}",
                before[p.Wire.Key].Label,
                p.To.Label,
                node.Wires.Any(w => w.Key == p.Wire.Key && w.Hold == WireHold.Soldered)
            ))
            .ToList();
        return new(true, [], solved.Solution.Cost, tried.Solution.Cost, moves);
    }

    /// <summary>The best plan with a line kept off the pin it has: what the choice was worth. Null when there is no other.</summary>
    public static PlanCost? RunnerUp(NodeDesign node, HardwareCatalogue catalogue, string part, string line, out string? pin, WorkBudget? budget = null)
    {
        pin = null;
        if (
            Solved(node, catalogue, budget) is not { } solved
            || solved.Solution.List.Demands.FirstOrDefault(d => d.Wires.Any(w => w.Part == part && w.Line == line)) is not { } demand
        )
        {
            return null;
        }
        var second = solved.Solver.Solve(solved.Parts, ($"{part}.{line}", solved.Solution.PinOf(demand).Id));
        pin = second?.List.Demands.FirstOrDefault(d => d.Wires.Any(w => w.Part == part && w.Line == line)) is { } there ? second.PinOf(there).Id : null;
        return second?.Cost;
    }

    private static (Board Board, PinSolver Solver, PinSolution Solution, IReadOnlyList<(PartInstance, Part)> Parts)? Solved(
        NodeDesign node,
        HardwareCatalogue catalogue,
        WorkBudget? budget
    )
    {
        if (catalogue.Board(node.Board) is not { } board)
        {
            return null;
        }
        var solver = new PinSolver(board, node, NodeSupply.Of(board, node.Power, catalogue), catalogue, budget ?? WorkBudget.Unbounded);
        var parts = Known(node, catalogue, []);
        return solver.Solve(parts) is { } solution ? (board, solver, solution, parts) : null;
    }

    private static List<(PartInstance Instance, Part Part)> Known(NodeDesign node, HardwareCatalogue catalogue, List<Finding> findings)
    {
        var known = new List<(PartInstance, Part)>();
        foreach (var instance in node.Parts)
        {
            if (catalogue.Part(instance.Part) is { } part)
            {
                known.Add(
                    (instance, InterruptLines.WithHeld(FittedPart.Of(part, instance, catalogue.Board(node.Board)?.LogicVolts ?? 3.3), instance.Key, node))
                );
                continue;
            }
            findings.Add(
                new(
                    "BENCH-NO-PART",
                    Severity.Stop,
                    new("bench", node.Key, instance.Key),
                    $"The catalogue has no part \"{instance.Part}\", which {instance.Label} is.",
                    "It is left out of the plan.",
                    [new($"Remove {instance.Label}", [new RemovePart(node.Key, instance.Key)])],
                    null,
                    "catalogue"
                )
            );
        }
        return known;
    }

    private static void SupplyFindings(NodeDesign node, Board board, NodeSupply supply, List<Finding> findings)
    {
        if (node.Power.Kind == PowerKind.Cells && supply.Cell is null)
        {
            findings.Add(
                new(
                    "BENCH-NO-CELL",
                    Severity.Stop,
                    new("bench", node.Key, "supply"),
                    $"The catalogue has no cell \"{node.Power.Cell}\".",
                    "Neither rails nor battery life can be planned.",
                    [new("Feed it over USB for now", [SetNodes.WithPower(node, new PowerDesign(PowerKind.Usb))])],
                    null,
                    "catalogue"
                )
            );
        }
        else if (supply is { Input: null, Cell: { } cell })
        {
            var inputs = string.Join("; ", board.Supplies.Where(s => s.Pin is not null).Select(s => $"{s.Label} {s.MinVolts} to {s.MaxVolts} V"));
            findings.Add(
                new(
                    "BENCH-SUPPLY-UNFIT",
                    Severity.Stop,
                    new("bench", node.Key, "supply"),
                    $"{cell.Label} gives {cell.EmptyVolts} to {cell.FullVolts} V, which no input of the {board.Label} takes ({inputs}).",
                    "Too much destroys the chip; too little resets it when the radio sends.",
                    [
                        node.Power.StepUp
                            ? new("Take the step-up converter off", [SetNodes.WithPower(node, node.Power with { StepUp = false })])
                            : new("Add a step-up converter to 5 V", [SetNodes.WithPower(node, node.Power with { StepUp = true })]),
                    ],
                    "Another cell, or another board.",
                    "board data in the catalogue"
                )
            );
        }
        foreach (var caution in supply.Cell?.Cautions ?? [])
        {
            findings.Add(
                new(
                    "BENCH-CAUTION",
                    Severity.Note,
                    new("bench", node.Key, "supply"),
                    caution,
                    "Lithium and other cells can burn or leak when misused.",
                    [],
                    null,
                    supply.Cell!.Source
                )
            );
        }
    }

    /// <summary>A node that is to send over what its board has not.</summary>
    private static void LinkFinding(NodeDesign node, Board board, HardwareCatalogue catalogue, List<Finding> findings)
    {
        if (board.Sends(node.Link))
        {
            return;
        }
        var other =
            node.Link != LinkKind.Wifi && board.Sends(LinkKind.Wifi)
                ? new[] { new Remedy("Send over the Wi-Fi of the board", [SetNodes.As(node) with { Link = LinkKind.Wifi, Via = null, Relays = false }]) }
                : [];
        findings.Add(
            new(
                "BENCH-NO-LINK",
                Severity.Stop,
                new("bench", node.Key, "link"),
                $"The {board.Label} has no {node.Link.Name()}, over which {node.Label} is to send.",
                "Nothing it reads would ever arrive.",
                [
                    .. other,
                    .. catalogue
                        .Boards.Where(b => b.Sends(node.Link))
                        .OrderBy(b => Math.Abs(b.Pins.Count - board.Pins.Count))
                        .ThenBy(b => b.Id, StringComparer.Ordinal)
                        .Take(2)
                        .Select(b => new Remedy($"Use the {b.Label}", [SetNodes.WithBoard(node, b.Id)])),
                ],
                "Or give it a radio module, and let it send over that.",
                "board data in the catalogue"
            )
        );
    }

    /// <summary>No pin can measure the supply, with parts or without: the rest is planned.</summary>
    private static BenchPlan WithoutSupplySense(BenchCase bench)
    {
        var (node, board, catalogue, budget) = (bench.Node, bench.Board, bench.Catalogue, bench.Budget);
        var without = node with { MeasuresSupply = false };
        var remedies = new List<Remedy>();
        if (!bench.Trial)
        {
            var adding = new Remedy("Let the planner add a converter", [SetNodes.As(node) with { AddsModules = true }]);
            remedies.AddRange(!node.AddsModules && Served(node, catalogue, adding, budget) is not null ? [adding] : []);
            remedies.Add(new("Do not measure the supply", [SetNodes.As(node) with { MeasuresSupply = false }]));
        }
        var plan = Plan(without, catalogue, bench.Around, bench.Trial, budget);
        var finding = new Finding(
            "BENCH-SUPPLY-SENSE",
            Severity.Stop,
            new("bench", node.Key, "supply"),
            $"No pin of the {board.Label} can measure the supply of {node.Label}.",
            board.Converter is null ? "The board has no converter." : "Its converter stops beside Wi-Fi, or none of its pins is free.",
            remedies,
            remedies.Count > 0 ? null : "Feed it from a supply that need not be watched.",
            "board data in the catalogue"
        );
        // What is offered besides leaves the wish to measure it alone.
        IReadOnlyList<Remedy> Measuring(Finding f) =>
            [.. f.Remedies.Select(r => r with { Edits = [.. r.Edits.Select(e => e is SetNode set ? set with { MeasuresSupply = true } : e)] })];
        return plan with { Complete = false, Findings = [finding, .. plan.Findings.Select(f => f with { Remedies = Measuring(f) })] };
    }

    private static (PinSolution?, List<(PartInstance Instance, Part Part)>) WithoutConflict(
        BenchCase bench,
        List<(PartInstance Instance, Part Part)> parts,
        PinSolver solver
    )
    {
        var conflict = Conflict(parts, left => !solver.Fresh().Serves(left));
        var members = string.Join(", ", conflict.Select(c => c.Instance.Label));
        var remedies = bench.Trial ? [] : ConflictRemedies(bench, conflict);
        var left = MostServed(parts, conflict, solver);
        var leftOut = string.Join(", ", parts.Where(p => !left.Contains(p)).Select(p => p.Instance.Label));
        bench.Findings.Add(
            new(
                "BENCH-CONFLICT",
                Severity.Stop,
                new("bench", bench.Node.Key, conflict[0].Instance.Key),
                conflict.Count == 1
                    ? $"The {bench.Board.Label} cannot serve {members}."
                    : $"The {bench.Board.Label} cannot serve these together: {members}. Without any one of them the others fit.",
                $"{string.Join(" ", ReasonsOf(solver.Fresh(), conflict))} Left out of the plan: {leftOut}.",
                remedies,
                remedies.Count > 0 ? null : "Split the parts over two nodes.",
                "planner: exact search, no plan exists"
            )
        );
        return (left.Count == 0 ? solver.Fresh().Solve([]) : solver.Solve(left), left);
    }

    /// <summary>
    /// The parts that can be served together, as many as there can be: of every conflict that is found one member
    /// is left out, as few in all as do, of as many the later ones (implicit hitting
    /// sets; Chandrasekaran, Karp, Moreno-Centeno and Vempala 2011). After some conflicts it takes the last member of each that remains.
    /// </summary>
    private static List<(PartInstance Instance, Part Part)> MostServed(
        List<(PartInstance Instance, Part Part)> parts,
        List<(PartInstance Instance, Part Part)> first,
        PinSolver solver
    )
    {
        var conflicts = new List<List<(PartInstance Instance, Part Part)>> { first };
        var left = parts;
        while (true)
        {
            var without = conflicts.Count <= MostConflicts ? Fewest(parts, conflicts) : null;
            left = without is null ? [.. left.Where(p => p != conflicts[^1][^1])] : [.. parts.Where(p => !without.Contains(p))];
            if (left.Count == 0 || solver.Fresh().Serves(left))
            {
                return left;
            }
            conflicts.Add(Conflict(left, some => !solver.Fresh().Serves(some)));
        }
    }

    /// <summary>The fewest parts of which every conflict has one, the later parts first; null where that takes more than a few.</summary>
    private static List<(PartInstance Instance, Part Part)>? Fewest(
        List<(PartInstance Instance, Part Part)> parts,
        List<List<(PartInstance Instance, Part Part)>> conflicts
    )
    {
        var members = parts.Where(p => conflicts.Any(c => c.Contains(p))).Reverse().ToList();
        for (var count = 1; count <= MostLeftOut; count++)
        {
            if (Hitting(members, conflicts, count) is { } found)
            {
                return found;
            }
        }
        return null;
    }

    private static List<(PartInstance Instance, Part Part)>? Hitting(
        List<(PartInstance Instance, Part Part)> members,
        List<List<(PartInstance Instance, Part Part)>> conflicts,
        int count
    )
    {
        if (conflicts.Count == 0)
        {
            return [];
        }
        if (count == 0)
        {
            return null;
        }
        // One member of the first conflict must be among them.
        foreach (var member in members.Where(conflicts[0].Contains))
        {
            if (Hitting(members, [.. conflicts.Where(c => !c.Contains(member))], count - 1) is { } rest)
            {
                return [member, .. rest];
            }
        }
        return null;
    }

    private static List<Remedy> ConflictRemedies(BenchCase bench, IReadOnlyList<(PartInstance Instance, Part Part)> conflict)
    {
        var (node, board, catalogue, budget) = (bench.Node, bench.Board, bench.Catalogue, bench.Budget);
        var remedies = new List<Remedy>();
        if (!node.AddsModules)
        {
            remedies.Add(new("Let the planner add a module", [SetNodes.As(node) with { AddsModules = true }]));
        }
        remedies.AddRange(conflict.Take(MostRemedies).Select(c => new Remedy($"Remove {c.Instance.Label}", [new RemovePart(node.Key, c.Instance.Key)])));
        remedies = [.. remedies.Where(r => Helps(node, catalogue, r, budget))];
        // Other boards: those with the same radio first, the smaller before the bigger.
        remedies.AddRange(
            catalogue
                .Boards.Where(b => b.Id != board.Id && b.Pins.Count(p => p.Kind == PinKind.Gpio) >= 8)
                .OrderBy(b => b.Radios.Any(r => r.Kind == RadioKind.Wifi) == board.Radios.Any(r => r.Kind == RadioKind.Wifi) ? 0 : 1)
                .ThenBy(b => b.Pins.Count)
                .ThenBy(b => b.Id, StringComparer.Ordinal)
                .Select(b => new Remedy($"Use the {b.Label}", [SetNodes.WithBoard(node, b.Id)]))
                .Where(r => Helps(node, catalogue, r, budget))
                .Take(2)
        );
        return remedies;
    }

    /// <summary>An irreducible set: infeasible itself, feasible without any one member (deletion filter; Chinneck and Dravnieks 1991).</summary>
    private static List<(PartInstance Instance, Part Part)> Conflict(
        IReadOnlyList<(PartInstance Instance, Part Part)> parts,
        Func<IReadOnlyList<(PartInstance, Part)>, bool> infeasible
    )
    {
        var core = parts.ToList();
        foreach (var part in parts)
        {
            var without = core.Where(c => c != part).ToList();
            if (infeasible(without))
            {
                core = without;
            }
        }
        return core;
    }

    private static IEnumerable<string> ReasonsOf(PinSolver solver, IReadOnlyList<(PartInstance, Part)> conflict)
    {
        solver.Solve(conflict);
        return solver.Reasons.Take(3);
    }

    private static bool Helps(NodeDesign node, HardwareCatalogue catalogue, Remedy remedy, WorkBudget budget) =>
        // Another board can add a stop, by its rails or by pins that a held wire names; removals are judged when the rest is planned.
        remedy.Edits.All(e => e is RemovePart)
            ? Served(node, catalogue, remedy, budget) is not null
            : Tried(node, catalogue, remedy, budget) is not null;

    /// <summary>The plan with a remedy, where all parts have one and nothing stops it; else null.</summary>
    private static BenchPlan? Tried(NodeDesign node, HardwareCatalogue catalogue, Remedy remedy, WorkBudget budget) =>
        Served(node, catalogue, remedy, budget) is { } changed
        && Plan(changed, catalogue, Surroundings.Indoors, trial: true, budget) is var plan
        && plan.Findings.All(f => f.Severity != Severity.Stop)
            ? plan
            : null;

    /// <summary>The node with a remedy, where all its parts have a plan then; else null.</summary>
    private static NodeDesign? Served(NodeDesign node, HardwareCatalogue catalogue, Remedy remedy, WorkBudget budget)
    {
        var alone = SiteDesign.Empty("trial") with { Nodes = [node with { Spot = null }] };
        var edits = remedy.Edits.Select(e => e is SetNode s ? s with { Spot = null } : e).ToList();
        return
            EditBatch.Apply(alone, edits).TryGet(out var applied)
            && applied.After.Nodes[0] is var changed
            && catalogue.Board(changed.Board) is { } board
            && new PinSolver(board, changed, NodeSupply.Of(board, changed.Power, catalogue), catalogue, budget).Serves(Known(changed, catalogue, []))
            ? changed
            : null;
    }

    /// <summary>The remedies of a finding that remove it and add no stop: a part that is served again once another is gone
    /// can bring one of its own, another supply can leave a load without its rail.</summary>
    /// <param name="tried">Plans of changes that were tried for this node already.</param>
    private static IReadOnlyList<Remedy> Holding(BenchCase bench, BenchPlan plan, Finding finding, Dictionary<object, BenchPlan> tried)
    {
        BenchPlan After(NodeDesign changed) => Plan(changed, bench.Catalogue, bench.Around, trial: true, bench.Budget);
        return
        [
            .. finding.Remedies.Where(remedy =>
            {
                if (Changed(bench.Node, remedy) is not { } changed)
                {
                    return true;
                }
                var edit = remedy.Edits[0];
                return Holds(tried.TryGetValue(edit, out var after) ? after : tried[edit] = After(changed), plan, finding);
            }),
        ];
    }

    private static bool Holds(BenchPlan after, BenchPlan before, Finding finding)
    {
        static int Stops(BenchPlan p) => p.Findings.Count(f => f.Severity == Severity.Stop);
        return Stops(after) <= Stops(before) && after.Findings.All(f => f.Code != finding.Code || f.Subject != finding.Subject || f.What != finding.What);
    }

    /// <summary>The node with a remedy that changes what can be planned of it: its settings, or
    /// a part that is gone. Null for others, which do what they say.</summary>
    private static NodeDesign? Changed(NodeDesign node, Remedy remedy) =>
        remedy.Edits switch
        {
            [RemovePart removal] => node with
            {
                Parts = [.. node.Parts.Where(p => p.Key != removal.Key)],
                Wires = [.. node.Wires.Where(w => w.Part != removal.Key)],
                Readings = [.. node.Readings.Where(r => r.Part != removal.Key)],
            },
            [SetNode set] when !OnlyGuards(node, set) => EditBatch
                .Apply(SiteDesign.Empty("trial") with { Nodes = [node with { Spot = null, Via = null }] }, [set with { Spot = null, Via = null }])
                .TryGet(out var applied)
                ? applied.After.Nodes[0]
                : null,
            _ => null,
        };

    /// <summary>True for an edit that changes nothing but what protects the supply and how it is wired: no rail and no pin hangs on that.</summary>
    private static bool OnlyGuards(NodeDesign node, SetNode set) =>
        SetNodes.As(node) != set
        && SetNodes.As(node) with { Power = set.Power } == set
        && set.Power with
        {
            FuseAmps = node.Power.FuseAmps,
            ReverseGuard = node.Power.ReverseGuard,
            SurgeGuard = node.Power.SurgeGuard,
            LeadAwg = node.Power.LeadAwg,
            AlsoUsb = node.Power.AlsoUsb,
            BackfeedGuard = node.Power.BackfeedGuard,
            Charger = node.Power.Charger,
            ChargerMeasuresCell = node.Power.ChargerMeasuresCell,
            CellCutOff = node.Power.CellCutOff,
            RatedAmps = node.Power.RatedAmps,
        } == node.Power;

    private static BenchPlan Describe(BenchCase bench, PinTable table, PinSolution solution, IReadOnlyList<(PartInstance Instance, Part Part)> served)
    {
        var (node, board, supply, catalogue, around) = (bench.Node, bench.Board, bench.Supply, bench.Catalogue, bench.Around);
        var findings = bench.Findings;
        WireFindings.Add(node, board, solution, findings);
        WireFindings.Loads(node, board, supply, solution, findings);
        var loads = Loads(node, board, supply, catalogue, solution, findings);
        var additions = AdditionList.Of(board, node, supply, solution).ToList();
        var buses = BusCheck.Buses(board, node, supply, solution, additions, findings);
        var rails = RailCheck.Rails(node, board, supply, catalogue, loads, findings);
        var power = PowerCheck.Check(node, board, supply, loads, catalogue, around, findings);
        MountingCheck.Check(node, board, served, loads, around, findings);
        // A converter needs an address and two pins on the bus: offered only where they are to be had.
        var analog = AnalogCheck.Check(node, board, supply, solution, catalogue, findings, remedy =>
            bench.Trial ? null : Tried(node, catalogue, remedy, bench.Budget)
        );
        var circuit = CircuitBuilder.Of(board, node, supply, catalogue, solution, additions);
        Sound(bench, solution, circuit);
        var lines = Wiring.Lines(circuit, board, node, supply, table, solution);
        var wires = Wiring.Of(circuit, board, node, additions, lines);
        var moves = WireFindings.Moves(node, board, solution, lines, wires);
        Tell(node, catalogue, solution, served, moves, findings);
        return new(
            node.Key,
            served.Count == node.Parts.Count,
            lines,
            wires,
            circuit,
            Parts(board, supply, solution),
            buses,
            additions,
            rails,
            moves,
            solution.Cost,
            loads,
            findings,
            power,
            analog,
            Helpers(solution),
            Wiring.Splices(wires)
        );
    }

    /// <summary>What hands are to know: wires to move, modules that were added, cautions of the parts.</summary>
    private static void Tell(
        NodeDesign node,
        HardwareCatalogue catalogue,
        PinSolution solution,
        IReadOnlyList<(PartInstance Instance, Part Part)> served,
        IReadOnlyList<WireMove> moves,
        List<Finding> findings
    )
    {
        foreach (var move in moves)
        {
            var label = node.Part(move.Part)?.Label ?? move.Part;
            findings.Add(move.To is { } to ? WireMoved(node, move, label, to) : WireUndone(node, move, label));
        }
        foreach (var module in solution.Structure.Added)
        {
            findings.Add(ModuleAdded(node, catalogue, module));
        }
        foreach (var (instance, part) in served.DistinctBy(s => s.Part.Id))
        {
            findings.AddRange(
                part.Cautions.Select(c => new Finding(
                    "BENCH-CAUTION",
                    Severity.Note,
                    new("bench", node.Key, instance.Key),
                    c,
                    $"{part.Label}.",
                    [],
                    null,
                    part.Source
                ))
            );
        }
    }

    private static Finding WireMoved(NodeDesign node, WireMove move, string label, string to) =>
        new(
            "BENCH-WIRE-MOVED",
            Severity.Risk,
            new("bench", node.Key, $"{move.Part}.{move.Line}"),
            $"The soldered wire {label} {move.Line} must go from {move.FromLabel} to {move.ToLabel}.",
            move.Why,
            [new("I have moved the wire", [new PutWire(node.Key, new WireDesign(move.Part, move.Line, to, WireHold.Soldered))])],
            $"Unsolder it at {move.FromLabel} and solder it to {move.ToLabel}, with the supply off.",
            "planner: the plan with the fewest moved wires"
        );

    private static Finding WireUndone(NodeDesign node, WireMove move, string label) =>
        new(
            "BENCH-WIRE-MOVED",
            Severity.Risk,
            new("bench", node.Key, $"{move.Part}.{move.Line}"),
            $"The soldered wire {label} {move.Line} at {move.FromLabel} is not in the plan any more.",
            move.Why,
            [new("I have taken the wire off", [new RemoveWire(node.Key, move.Part, move.Line)])],
            $"Unsolder it at {move.FromLabel}, with the supply off.",
            "planner: the plan with the fewest moved wires"
        );

    private static Finding ModuleAdded(NodeDesign node, HardwareCatalogue catalogue, PartInstance module) =>
        new(
            "BENCH-MODULE-ADDED",
            Severity.Note,
            new("bench", node.Key, module.Key),
            $"The planner adds a {catalogue.Part(module.Part)!.Label}: there is no plan as good without.",
            "It is on the wiring table and the parts list, and not yet among the parts.",
            [new("Make it one of the parts", [new PutPart(node.Key, module with { Label = module.Label.Split(" (", 2)[0] })])],
            null,
            "planner"
        );

    /// <summary>A rail of its own for a part that no rail suits: in the middle of what it takes, rounded to a fifth
    /// of a volt, from a module that some rail can feed. Null when there is none.</summary>
    private static RailDesign? FurtherRail(NodeDesign node, NodeSupply supply, HardwareCatalogue catalogue, Part part)
    {
        var volts = Math.Round((part.SupplyMinVolts!.Value + Math.Min(part.SupplyMaxVolts!.Value, 12)) / 2 * 5) / 5;
        return node.Power.Rails?.Any(r => r.Volts == volts) == true || volts < part.SupplyMinVolts || volts > part.SupplyMaxVolts
            ? null
            : catalogue
                .Supplies.OrderBy(m => m.Id, StringComparer.Ordinal)
                .Where(m => m.Kind is SupplyModuleKind.StepDown or SupplyModuleKind.StepUp && supply.FeedOf(m, volts) is not null)
                .Select(m => new RailDesign(volts, m.Id))
                .FirstOrDefault();
    }

    /// <summary>The circuit walked by a checker of its own, where the supply is whole: a plan that it would not solder stops.</summary>
    private static void Sound(BenchCase bench, PinSolution solution, Circuit circuit)
    {
        if (bench.Supply.Input is null || bench.Findings.Any(f => f.Severity == Severity.Stop))
        {
            return;
        }
        foreach (var fault in CircuitCheck.Faults(circuit, bench.Board, Parts(bench.Board, bench.Supply, solution), bench.Catalogue))
        {
            bench.Findings.Add(
                new(
                    "BENCH-CIRCUIT",
                    Severity.Stop,
                    new("bench", bench.Node.Key, $"{fault.Component}.{fault.Terminal}"),
                    fault.What,
                    "The circuit was checked joint by joint before it is shown.",
                    [],
                    "Do not solder this part of the table. Look at the part's data in the catalogue: a level or a supply of it may be recorded wrongly.",
                    "circuit check"
                )
            );
        }
    }

    private static IReadOnlyList<PlannedPart> Parts(Board board, NodeSupply supply, PinSolution solution) =>
        [
            .. solution.Structure.Connections.Select(c => new PlannedPart(
                c.Instance.Key,
                c.Instance.Label,
                c.Interface.Kind,
                BusCheck.BusName(c),
                c.Address?.Address,
                Straps.Text(c),
                supply.For(c.Part, board)?.Id ?? "",
                c.Behind is { } m ? $"{m.Mux} channel {m.Channel}" : null,
                c.Interface.Label
            )),
        ];

    private static IReadOnlyList<PlannedHelper> Helpers(PinSolution solution) =>
        [
            .. solution
                .Structure.Connections.Where(c => c.Part.Helper is not null)
                .Select(c => new PlannedHelper(
                    c.Instance.Key,
                    c.Instance.Label,
                    c.Part.Id,
                    c.Part.Helper!.Kind,
                    solution.Structure.Added.Any(a => a.Key == c.Instance.Key),
                    [
                        .. c.Part.Helper.Kind == HelperKind.Mux
                            ? c.Part.Helper.Lines.SelectMany((l, at) => new[] { l.Name, $"SC{at}" })
                            : c.Part.Helper.Lines.Select(l => l.Name),
                    ]
                )),
        ];

    private static IReadOnlyList<LoadProfile> Loads(
        NodeDesign node,
        Board board,
        NodeSupply supply,
        HardwareCatalogue catalogue,
        PinSolution solution,
        List<Finding> findings
    )
    {
        var loads = new List<LoadProfile>();
        foreach (var connection in solution.Structure.Connections)
        {
            var (instance, part) = (connection.Instance, connection.Part);
            var rail = supply.For(part, board);
            if (rail is null && supply.Input is not null && part.SupplyPin is not null)
            {
                var remedies = new List<Remedy>();
                if (part.SupplyMinVolts <= 12 && part.SupplyMaxVolts >= 12 && !node.Power.TwelveVoltStepUp && supply.Rails.Any(r => r.Volts is > 4.5 and < 6))
                {
                    remedies.Add(new("Add a step-up module to 12 V", [SetNodes.WithPower(node, node.Power with { TwelveVoltStepUp = true })]));
                }
                if (part.SupplyMinVolts <= 5 && part.SupplyMaxVolts >= 5 && node.Power is { Kind: PowerKind.Cells, StepUp: false })
                {
                    remedies.Add(new("Add a step-up converter to 5 V", [SetNodes.WithPower(node, node.Power with { StepUp = true })]));
                }
                if (FurtherRail(node, supply, catalogue, part) is { } further)
                {
                    remedies.Add(
                        new(
                            $"Add a rail of {further.Volts:0.##} V with a {catalogue.Supply(further.Module)!.Label}",
                            [SetNodes.WithPower(node, node.Power with { Rails = [.. node.Power.Rails ?? [], further] })]
                        )
                    );
                }
                findings.Add(NoRail(node, supply, instance, part, remedies));
            }
            var conversion =
                instance.Bits is { } bits && part.ConversionByBits?.GetValueOrDefault($"{bits}") is > 0 and var ms
                    ? Fact.Of(ms, $"{part.Source} At {bits} bits.")
                    : part.ConversionMs;
            loads.Add(
                new(
                    instance.Key,
                    instance.Label,
                    rail?.Id ?? "",
                    rail?.Volts ?? part.SupplyMinVolts ?? board.LogicVolts,
                    part.SleepMicroamps,
                    part.ActiveMilliamps,
                    part.PeakMilliamps,
                    part.WarmUpMs,
                    conversion,
                    part.StaysOn,
                    instance.SwitchSupply
                )
            );
        }
        return loads;
    }

    private static Finding NoRail(NodeDesign node, NodeSupply supply, PartInstance instance, Part part, List<Remedy> remedies) =>
        new(
            "BENCH-NO-RAIL",
            Severity.Stop,
            new("bench", node.Key, instance.Key),
            $"{instance.Label} needs {part.SupplyMinVolts} to {part.SupplyMaxVolts} V, and this supply gives no such rail "
                + $"({string.Join(", ", supply.Rails.Select(r => $"{r.Label} {r.Volts} V"))}).",
            "Below its range it does not work, or works wrongly.",
            remedies,
            remedies.Count > 0 ? null : "Choose a part for this voltage, or another supply.",
            part.Source
        );
}
