using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Google.OrTools.Sat;

namespace Cenotic.Core.Tests.Bench;

/// <summary>
/// The planning problem of a node as an integer model for a general solver (CP-SAT): interfaces, buses, addresses, multiplexers, helper modules and pins
/// together. It shares the rules of single lines and pins with the planner, and nothing of its search, its bounds or its assignment.
/// </summary>
internal sealed class BenchModel
{
    private sealed record Way(int Part, PartInterface By, int? Controller, int? Mux, BoolVar Chosen);

    private readonly CpModel _model = new();
    private readonly Board _board;
    private readonly NodeDesign _node;
    private readonly NodeSupply _supply;
    private readonly List<(PartInstance Instance, Part Part, BoolVar Used, bool Added)> _parts = [];
    private readonly List<Pin> _columns = [];
    private readonly List<List<BoolVar>> _onColumn = [];
    private readonly List<BoolVar?> _columnNeeds = [];
    private readonly List<Way> _ways = [];
    private readonly LinearExprBuilder _moved = LinearExpr.NewBuilder(),
        _components = LinearExpr.NewBuilder(),
        _hazard = LinearExpr.NewBuilder(),
        _splices = LinearExpr.NewBuilder(),
        _distance = LinearExpr.NewBuilder(),
        _versatility = LinearExpr.NewBuilder();

    internal BenchModel(NodeDesign node, HardwareCatalogue catalogue)
    {
        (_node, _board) = (node, catalogue.Board(node.Board)!);
        _supply = NodeSupply.Of(_board, node.Power, catalogue);
        var yes = _model.NewBoolVar("yes");
        _model.Add(yes == 1);
        _parts.AddRange(node.Parts.Select(p => (p, InterruptLines.WithHeld(catalogue.Part(p.Part)!, p.Key, node), yes, false)));
        if (node.AddsModules)
        {
            foreach (var (id, count) in new[] { ("mcp23017", 2), ("tca9548a", 1), ("ads1115", 1) })
            {
                BoolVar? before = null;
                for (var n = 1; n <= count; n++)
                {
                    var used = _model.NewBoolVar($"use {id} {n}");
                    var module = PinSolver.Added(catalogue.Part(id)!, n);
                    _parts.Add((module, InterruptLines.WithHeld(catalogue.Part(id)!, module.Key, node), used, true));
                    _components.AddTerm(used, Weights.AddedModule);
                    if (before is not null)
                    {
                        _model.AddImplication(used, before);
                    }
                    before = used;
                }
            }
        }
        Columns();
        Ways();
        OwnLines();
        SharedLines();
        I2cBuses();
        OtherBuses();
        Moves();
        foreach (var (users, at) in _onColumn.Select((u, at) => (u, at)))
        {
            _model.AddAtMostOne(users);
            foreach (var user in users.Where(_ => _columnNeeds[at] is not null))
            {
                _model.AddImplication(user, _columnNeeds[at]!);
            }
        }
    }

    /// <summary>False when the time ran out before the solver had proved its optimum: then only bounds of it are known.</summary>
    internal bool Proved { get; private set; } = true;

    /// <summary>What the solver is allowed for each of its two steps. Now and then a node takes minutes.</summary>
    private const string Settings = "num_workers:1,max_time_in_seconds:120,linearization_level:2";

    /// <summary>The optimum in the planner's order, or null when there is no plan.</summary>
    /// <exception cref="Xunit.Sdk.XunitException">It was not proved in the time allowed.</exception>
    internal PlanCost? Optimum()
    {
        var found = Solve(null);
        Assert.True(Proved, "The solver ran out of time.");
        return found;
    }

    /// <summary>
    /// Holds a plan's cost against the optimum. Where the solver runs out of time (<see cref="Proved"/>), the cost
    /// must lie between the bound that no plan goes below and the best plan it has found.
    /// </summary>
    /// <param name="cost">What the planner says, or null when it has no complete plan.</param>
    /// <returns>True when there is a plan.</returns>
    internal bool Check(PlanCost? cost)
    {
        var least = Solve(cost);
        if (Proved)
        {
            Assert.Equal(least, cost);
        }
        return cost is not null;
    }

    private PlanCost? Solve(PlanCost? claimed)
    {
        var solver = new CpSolver { StringParameters = Settings };
        // Two steps keep the numbers small: first what weighs most, then the rest with that held.
        var first = LinearExpr.NewBuilder().AddTerm(_moved, 1_000_000).AddTerm(_components, 1_000).Add(_hazard);
        if (!Minimum(first, claimed is { } c ? c.MovedWires * 1_000_000L + c.Components * 1_000L + c.HazardPoints : null))
        {
            return null;
        }
        _model.Add(first == (long)Math.Round(solver.ObjectiveValue));
        if (
            !Minimum(
                LinearExpr.NewBuilder().AddTerm(_splices, 10_000_000_000L).AddTerm(_versatility, 100_000).Add(_distance),
                claimed is { } d ? d.Splices * 10_000_000_000L + d.Versatility * 100_000L + d.Distance : null
            )
        )
        {
            return null;
        }
        int V(LinearExprBuilder e) => (int)solver.Value(e);
        return new(V(_moved), V(_components), V(_hazard), V(_splices), V(_versatility), V(_distance));

        // False when there is no plan, or when time ran out; then the claim is held against what is known.
        bool Minimum(LinearExprBuilder objective, long? claim)
        {
            _model.Minimize(objective);
            var status = solver.Solve(_model);
            Proved = status is CpSolverStatus.Optimal or CpSolverStatus.Infeasible;
            if (!Proved && claim is { } value)
            {
                Assert.True(value >= solver.BestObjectiveBound - 0.5, $"The plan claims {value}, and no plan is below {solver.BestObjectiveBound}.");
            }
            if (status == CpSolverStatus.Feasible)
            {
                Assert.True(claim <= solver.ObjectiveValue + 0.5, $"The plan claims {claim}, and one of {solver.ObjectiveValue} was found.");
            }
            return status == CpSolverStatus.Optimal;
        }
    }

    private void Columns()
    {
        foreach (var pin in _board.Pins)
        {
            Column(pin, null);
        }
        foreach (var (instance, part, used, _) in _parts.Where(p => p.Part.Helper is { Kind: not HelperKind.Mux }))
        {
            foreach (var pin in HelperPins.Of(new(instance, part, part.Interfaces[0], null, null), _board, _supply))
            {
                Column(pin, used);
            }
        }

        void Column(Pin pin, BoolVar? needs)
        {
            _columns.Add(pin);
            _onColumn.Add([]);
            _columnNeeds.Add(needs);
        }
    }

    private void Ways()
    {
        for (var p = 0; p < _parts.Count; p++)
        {
            var (instance, part, used, _) = _parts[p];
            var wanted = _node.Readings.Where(r => r.Part == instance.Key).Select(r => r.Quantity).ToList();
            foreach (
                var by in part.Interfaces.Where(i =>
                    (instance.Interface is null || i.Kind == instance.Interface) && (i.Quantities is null || wanted.All(i.Quantities.Contains))
                )
            )
            {
                IEnumerable<int?> controllers = by.Kind switch
                {
                    InterfaceKind.I2c => _board.Controllers.I2c.Select(n => (int?)n),
                    InterfaceKind.Spi => _board.Controllers.Spi.Select(n => (int?)n),
                    InterfaceKind.Uart => _board
                        .Controllers.Uart.Concat(by.Baud <= 9600 && !_board.Id.StartsWith("linux", StringComparison.Ordinal) ? [LineRules.SoftwareSerial] : [])
                        .Select(n => (int?)n),
                    InterfaceKind.OneWire => Enumerable.Range(0, _node.Parts.Count(i => i.Part == part.Id)).Select(n => (int?)n),
                    _ => [null],
                };
                _ways.AddRange(controllers.Select(c => new Way(p, by, c, null, _model.NewBoolVar($"{instance.Key} {by.Label} {c}"))));
                if (by is { Kind: InterfaceKind.I2c, StartAddress: null } && part.Helper is null)
                {
                    _ways.AddRange(
                        Enumerable
                            .Range(0, _parts.Count)
                            .Where(m => _parts[m].Part.Helper?.Kind == HelperKind.Mux)
                            .Select(m => new Way(p, by, null, m, _model.NewBoolVar($"{instance.Key} {by.Label} behind {m}")))
                    );
                }
            }
            _model.Add(LinearExpr.Sum(_ways.Where(w => w.Part == p).Select(w => w.Chosen)) == used);
            if (instance.SwitchSupply)
            {
                _components.Add(Weights.SupplySwitch);
                Line($"{instance.Key}.PWR", [(DemandList.SwitchNeeds, used)], used, DemandList.PositionOf(_board, _node, instance.Key));
            }
        }
        if (_node.MeasuresSupply && _supply.Cell is not null)
        {
            _components.Add(Weights.Divider);
            var always = _parts.First(p => !p.Added).Used;
            Line("board.SUPPLY", [(new(LineRole.Analog, null, RestLevel.High) { Input = true, Analog = true }, always)], always, null);
        }
        for (var m = 0; m < _parts.Count; m++)
        {
            if (_parts[m].Part.Helper?.Kind == HelperKind.Mux)
            {
                var behind = _ways.Where(w => w.Mux == m).Select(w => w.Chosen).ToList();
                _model.Add(LinearExpr.Sum(behind) <= _parts[m].Part.Helper!.Lines.Count);
                behind.ForEach(b => _model.AddImplication(b, _parts[m].Used));
            }
        }
    }

    private Connection As(Way way) =>
        new(_parts[way.Part].Instance, _parts[way.Part].Part, way.By, way.Controller, null, way.Mux is { } m ? new(_parts[m].Instance.Key, 0) : null);

    private void OwnLines()
    {
        foreach (var byInterface in _ways.GroupBy(w => (w.Part, w.By)))
        {
            var (p, by) = byInterface.Key;
            var position = DemandList.PositionOf(_board, _node, _parts[p].Instance.Key);
            var chosen = _model.NewBoolVar("");
            _model.Add(LinearExpr.Sum(byInterface.Select(w => w.Chosen)) == chosen);
            foreach (var line in by.Lines.Where(l => !l.Optional))
            {
                _components.AddTerm(chosen, LineRules.Weight(LineRules.Of(line, As(byInterface.First()), _board, _supply)));
                if (DemandList.SharedKey(As(byInterface.First()), line) is not null)
                {
                    continue;
                }
                var needs = byInterface.Select(w => (Needs: DemandList.NeedsOf(_board, _node, _supply, As(w), line), w.Chosen)).ToList();
                _components.AddTerm(chosen, needs[0].Needs is { Role: LineRole.Contact, Wake: true } ? 1 : 0);
                Line($"{_parts[p].Instance.Key}.{line.Name}", needs, chosen, position);
            }
        }
    }

    /// <summary>A soldered wire whose line is not in the plan, or not where it is soldered, is moved.</summary>
    private void Moves()
    {
        foreach (var wire in _node.Wires.Where(w => w.Hold == WireHold.Soldered && _node.Part(w.Part) is not null))
        {
            _moved.Add(1);
            foreach (var kept in _kept.Where(k => k.Wire == wire.Key && k.Pin == wire.Pin))
            {
                _moved.AddTerm(kept.At, -1);
            }
        }
    }

    private readonly List<(string Wire, string Pin, BoolVar At)> _kept = [];

    /// <summary>A line of its own: on one column when it is there.</summary>
    private void Line(string key, IReadOnlyList<(PinNeeds Needs, BoolVar When)> needs, BoolVar there, int? position)
    {
        var choices = new List<BoolVar>();
        for (var c = 0; c < _columns.Count; c++)
        {
            var fits = needs.Select(n => (Fit: Judge(_columns[c], n.Needs), n.When)).Where(f => f.Fit.Fits).ToList();
            if (fits.Count == 0)
            {
                continue;
            }
            var at = _model.NewBoolVar($"{key} at {_columns[c].Id}");
            _model.Add(at <= LinearExpr.Sum(fits.Select(f => f.When)));
            Cost(at, _columns[c], fits[0].Fit, position is null ? [] : [(position.Value, at)]);
            _onColumn[c].Add(at);
            choices.Add(at);
            _kept.Add((key, _columns[c].Id, at));
        }
        _model.AddExactlyOne(choices.Cast<ILiteral>().Append(there.Not()));
    }

    private void Cost(BoolVar at, Pin pin, PinFit fit, IReadOnlyList<(int Position, BoolVar When)> wires)
    {
        _components.AddTerm(at, fit.Adds.Count);
        _hazard.AddTerm(at, fit.HazardPoints);
        _versatility.AddTerm(at, fit.Versatility);
        foreach (var (position, when) in wires.Where(_ => !HelperPins.IsHelper(pin)))
        {
            _distance.AddTerm(when, Math.Abs(2 * pin.Position + 1 - position));
        }
    }

    private PinFit Judge(Pin pin, PinNeeds needs)
    {
        var fit = PinFit.Judge(pin, needs, _node.Link == LinkKind.Wifi, _node.Sleeps);
        var earlier = pin.Pwm is null or "any"
            ? null
            : _columns.FirstOrDefault(c =>
                c.Pwm == pin.Pwm
                && PinFit.Judge(c, new(LineRole.DigitalToBoard, null, RestLevel.Floating), false, false).Refusals.All(r => !r.Contains("flash"))
            );
        return needs.Pwm && earlier is not null && earlier.Id != pin.Id ? fit with { Refusals = ["shares a channel"] } : fit;
    }

    private void SharedLines()
    {
        var members = _ways
            .Where(w => w.Mux is null)
            .SelectMany(w => w.By.Lines.Where(l => !l.Optional).Select(l => (Way: w, Line: l, Key: DemandList.SharedKey(As(w), l))))
            .Where(m => m.Key is not null)
            .GroupBy(m => m.Key!);
        foreach (var bus in members)
        {
            var used = _model.NewBoolVar($"{bus.Key} used");
            _model.AddMaxEquality(used, bus.Select(m => m.Way.Chosen));
            _splices.AddTerm(used, -1);
            foreach (var member in bus)
            {
                _splices.AddTerm(member.Way.Chosen, 1);
            }
            var choices = new List<BoolVar>();
            var (role, controller) = (bus.First().Line.Role, bus.First().Way.Controller);
            for (var c = 0; c < _columns.Count; c++)
            {
                var idle = Judge(_columns[c], DemandList.SharedNeeds(role, controller, RestLevel.Floating));
                var high = Judge(_columns[c], DemandList.SharedNeeds(role, controller, RestLevel.High));
                if (!idle.Fits)
                {
                    continue;
                }
                var at = _model.NewBoolVar($"{bus.Key} at {_columns[c].Id}");
                var wires = new List<(int, BoolVar)>();
                foreach (var (way, line, _) in bus)
                {
                    if (line.AtStart == RestLevel.High && !high.Fits)
                    {
                        _model.AddBoolOr([at.Not(), way.Chosen.Not()]);
                    }
                    var both = _model.NewBoolVar("");
                    _model.AddMultiplicationEquality(both, at, way.Chosen);
                    _kept.Add(($"{_parts[way.Part].Instance.Key}.{line.Name}", _columns[c].Id, both));
                    if (DemandList.PositionOf(_board, _node, _parts[way.Part].Instance.Key) is { } position)
                    {
                        wires.Add((position, both));
                    }
                }
                Cost(at, _columns[c], idle, wires);
                _onColumn[c].Add(at);
                choices.Add(at);
            }
            _model.AddExactlyOne(choices.Cast<ILiteral>().Append(used.Not()));
        }
    }

    private void I2cBuses()
    {
        var anyBus = new List<BoolVar>();
        foreach (var c in _board.Controllers.I2c)
        {
            var direct = _ways.Where(w => w.By.Kind == InterfaceKind.I2c && w.Controller == c).ToList();
            if (direct.Count == 0)
            {
                continue;
            }
            var used = _model.NewBoolVar($"I2C {c}");
            _model.AddMaxEquality(used, direct.Select(w => w.Chosen));
            anyBus.Add(used);
            _components.AddTerm(used, Weights.SecondI2cBus);
            // No module with pull-ups: a pair is added.
            var bare = _model.NewBoolVar("");
            _model.Add(
                bare >= used - LinearExpr.Sum(direct.Where(w => _parts[w.Part].Part.PullUpOhms is not null).Select(w => w.Chosen).DefaultIfEmpty(Never()))
            );
            _components.AddTerm(bare, Weights.PullUpPair);
            var shifted = direct.Where(w => LineRules.NeedsShifter(As(w), _board, _supply)).ToList();
            if (shifted.Count > 0)
            {
                var shifter = _model.NewBoolVar("");
                _model.AddMaxEquality(shifter, shifted.Select(w => w.Chosen));
                _components.AddTerm(shifter, Weights.Shifter);
            }
            // What hangs behind a multiplexer on this bus.
            var behind = new List<(Way Way, BoolVar Here)>();
            foreach (var way in _ways.Where(w => w.Mux is not null))
            {
                var here = _model.NewBoolVar("");
                _model.AddMultiplicationEquality(here, way.Chosen, direct.Single(w => w.Part == way.Mux).Chosen);
                behind.Add((way, here));
            }
            Addresses(direct, behind);
            Traffic(direct, behind);
        }
        if (anyBus.Count > 0)
        {
            var any = _model.NewBoolVar("");
            _model.AddMaxEquality(any, anyBus);
            _components.AddTerm(any, -Weights.SecondI2cBus);
        }
        foreach (var way in _ways.Where(w => w.Mux is not null))
        {
            _components.AddTerm(way.Chosen, Weights.MuxChannel + (_parts[way.Part].Part.PullUpOhms is null ? Weights.PullUpPair : 0));
        }
    }

    private BoolVar Never()
    {
        var never = _model.NewBoolVar("never");
        _model.Add(never == 0);
        return never;
    }

    private void Addresses(List<Way> direct, List<(Way Way, BoolVar Here)> behind)
    {
        var at = new Dictionary<int, List<BoolVar>>();
        List<BoolVar> Slot(int address) => at.TryGetValue(address, out var list) ? list : at[address] = [];
        foreach (var way in direct)
        {
            var instance = _parts[way.Part].Instance;
            var choices = new List<BoolVar>();
            for (var k = 0; k < way.By.Addresses!.Count; k++)
            {
                if (instance.Address is { } wanted && wanted != way.By.Addresses[k].Address)
                {
                    continue;
                }
                var taken = _model.NewBoolVar("");
                Slot(way.By.Addresses[k].Address).Add(taken);
                choices.Add(taken);
                _components.AddTerm(
                    taken,
                    way.By.StartAddress is not null ? Weights.WrittenAddress
                        : k > 0 ? Weights.Piece
                        : 0
                );
            }
            _model.Add(LinearExpr.Sum(choices) == way.Chosen);
            foreach (var also in way.By.AlsoAddresses ?? [])
            {
                Slot(also).Add(way.Chosen);
            }
        }
        foreach (var slot in at.Values)
        {
            _model.AddAtMostOne(slot);
        }
        foreach (var (way, here) in behind)
        {
            var own = _parts[way.Part].Instance.Address ?? way.By.Addresses![0].Address;
            foreach (var other in at.GetValueOrDefault(own) ?? [])
            {
                _model.AddBoolOr([here.Not(), other.Not()]);
            }
            foreach (var written in direct.Where(w => w.By.StartAddress == own))
            {
                _model.AddBoolOr([here.Not(), written.Chosen.Not()]);
            }
        }
        foreach (var written in direct.Where(w => w.By.StartAddress is not null))
        {
            foreach (var other in at.GetValueOrDefault(written.By.StartAddress!.Value) ?? [])
            {
                _model.AddBoolOr([written.Chosen.Not(), other.Not()]);
            }
        }
    }

    private void Traffic(List<Way> direct, List<(Way Way, BoolVar Here)> behind)
    {
        var members = direct.Select(w => (Way: w, Here: w.Chosen)).Concat(behind).ToList();
        var bits = LinearExpr.NewBuilder();
        foreach (var (way, here) in members)
        {
            bits.AddTerm(here, (long)Math.Round(1000 * BusLoad.BitsPerSecond(_node, _parts[way.Part].Instance, _parts[way.Part].Part, way.By)));
        }
        const long slow = 80_000_000,
            fast = 320_000_000,
            faster = 800_000_000,
            far = 4_000_000_000;
        _model.Add(bits <= (_board.Id.StartsWith("rp2040", StringComparison.Ordinal) ? faster : fast));
        foreach (var (way, here) in members.Where(m => (m.Way.By.MaxKilohertz ?? 100) is >= 400 and < 1000))
        {
            _model.Add(LinearExpr.NewBuilder().Add(bits).AddTerm(here, far) <= fast + far);
        }
        foreach (var (way, here) in members.Where(m => (m.Way.By.MaxKilohertz ?? 100) < 400))
        {
            _model.Add(LinearExpr.NewBuilder().Add(bits).AddTerm(here, far) <= slow + far);
        }
    }

    private void OtherBuses()
    {
        foreach (var c in _board.Controllers.Spi)
        {
            var on = _ways.Where(w => w.By.Kind == InterfaceKind.Spi && w.Controller == c).ToList();
            if (on.Count > 0)
            {
                Used(on, Weights.SpiBus);
                foreach (var exclusive in on.Where(w => w.By.ExclusiveBus))
                {
                    on.Where(w => w.Part != exclusive.Part).ToList().ForEach(w => _model.AddBoolOr([exclusive.Chosen.Not(), w.Chosen.Not()]));
                }
            }
        }
        _ways
            .Where(w => w is { By.Kind: InterfaceKind.Uart, Controller: LineRules.SoftwareSerial })
            .ToList()
            .ForEach(w => _components.AddTerm(w.Chosen, Weights.SoftwareSerial));
        foreach (var c in _board.Controllers.Uart.Append(LineRules.SoftwareSerial))
        {
            _model.AddAtMostOne(_ways.Where(w => w.By.Kind == InterfaceKind.Uart && w.Controller == c).Select(w => w.Chosen));
        }
        foreach (var line in _ways.Where(w => w.By.Kind == InterfaceKind.OneWire).GroupBy(w => w.Controller))
        {
            Used([.. line], Weights.Piece);
        }

        void Used(List<Way> on, int weight)
        {
            var used = _model.NewBoolVar("");
            _model.AddMaxEquality(used, on.Select(w => w.Chosen));
            _components.AddTerm(used, weight);
        }
    }
}
