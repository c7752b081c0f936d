using System.Globalization;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>What feeds the node, as components: source, fuse, guards, clamp, converters, charger
/// and cells, from the source to the input of the board.</summary>
internal sealed class SupplyChain
{
    /// <summary>From this length of cable on, plugging in makes the voltage at a converter's own
    /// ceramic capacitors swing up: common practice, no source.</summary>
    private const double RingingMetres = 0.5;

    /// <summary>What damps it, µF.</summary>
    private const double DampingMicrofarads = 100;

    private const string Raw = "source",
        Return = "source/return",
        Cell = "cell",
        CellAlone = "cell/alone",
        CellReturn = "cell/return",
        Cable = "cable",
        CableReturn = "cable/return",
        Light = "light";

    private readonly PowerDesign _power;
    private readonly NodeSupply _supply;
    private readonly HardwareCatalogue _catalogue;
    private readonly string? _input;
    private readonly List<Component> _components = [];
    private readonly List<Net> _nets = [];

    private SupplyChain(Board board, PowerDesign power, NodeSupply supply, HardwareCatalogue catalogue) =>
        (_power, _supply, _catalogue, _input) = (power, supply, catalogue, InputNet(board, supply));

    /// <summary>The components before the board, and the nets that only they are on.</summary>
    internal static (IReadOnlyList<Component> Components, IReadOnlyList<Net> Nets) Of(
        Board board,
        PowerDesign power,
        NodeSupply supply,
        HardwareCatalogue catalogue
    )
    {
        var chain = new SupplyChain(board, power, supply, catalogue);
        chain.Build();
        return (chain._components, chain._nets);
    }

    /// <summary>Key of the net of the input that is used: a pin of the board or its USB socket. Null where none fits.</summary>
    internal static string? InputNet(Board board, NodeSupply supply) =>
        supply.Input switch
        {
            null => null,
            { Pin: null } => "usb",
            // A source that the board takes by itself is the rail that parts can have of it.
            _ when supply is { SourceVolts: 12 or 24, BoardRatio: 1 } => Circuit.Rail(NodeSupply.SourceRail),
            { Pin: { } pin } input => Circuit.Rail(board.Pin(pin).Rail ?? input.Id),
        };

    /// <summary>Key of the net of the cells, where they are measured.</summary>
    internal static string CellNet(Board board, PowerDesign power, NodeSupply supply) =>
        power is { Kind: PowerKind.Cells, StepUp: true } ? Cell : InputNet(board, supply) ?? Cell;

    /// <summary>Where a clamp starts to conduct: above what the source gives at its highest. A 12
    /// V vehicle is charged with up to 14.8 V, a 24 V one with 29.6 V.</summary>
    internal static double ClampVolts(double sourceVolts) =>
        sourceVolts switch
        {
            <= 5 => 6,
            <= 12 => 18,
            <= 24 => 33,
            _ => 58,
        };

    private void Build()
    {
        switch (_power.Kind)
        {
            case PowerKind.Usb:
                Source("USB supply", 5, "usb", Circuit.Ground);
                break;
            case PowerKind.FiveVolt when _input is not null:
                External(5, _input);
                break;
            case PowerKind.TwelveVolt or PowerKind.TwentyFourVolt:
                External(_supply.SourceVolts!.Value, Circuit.Rail(NodeSupply.SourceRail), _supply.HighestSourceVolts);
                StepDown();
                break;
            case PowerKind.OverCable when _input is not null:
                OverCable(_input);
                break;
            case PowerKind.Cells:
                Cells();
                break;
            case PowerKind.Capacitor when _input is not null:
                Storage(_input);
                break;
        }
        if (_power.AlsoUsb && _power.Kind != PowerKind.Usb)
        {
            Add(new("supply/usb", ComponentKind.Source, "USB supply", "5 V", [new("+", "usb"), new("-", Circuit.Ground)]) { Volts = 5 });
        }
        if (_supply.Supplied.FirstOrDefault(s => s.Rail.Id == NodeSupply.StepUpRail) is { } boosted)
        {
            Converter(Circuit.LoadStepUpKey, boosted.Module!, boosted.Rail.Volts, Circuit.Rail(boosted.Rail.FedFrom), Circuit.Rail(boosted.Rail.Id));
        }
        foreach (var further in _power.Rails ?? [])
        {
            if (_supply.Supplied.FirstOrDefault(s => s.Rail.Id == NodeSupply.FurtherRail(further.Volts)) is { } rail)
            {
                Converter(Circuit.FurtherRailKey + rail.Rail.Id, rail.Module!, rail.Rail.Volts, Circuit.Rail(rail.Rail.FedFrom), Circuit.Rail(rail.Rail.Id));
            }
        }
    }

    /// <summary>A source at the end of a cable: fuse, cable, guard against a reversed supply, guard against USB beside it, clamp.</summary>
    private void External(double volts, string to, double? highest = null)
    {
        var most = highest ?? volts;
        var steps = Steps(to);
        var at = steps.Count == 0 ? to : Raw;
        Source(_power.Vehicle ? $"{volts:0} V vehicle battery" : $"{volts:0} V supply", most, at, _power.LeadMetres > 0 ? Return : Circuit.Ground);
        for (var i = 0; i < steps.Count; i++)
        {
            var next = i == steps.Count - 1 ? to : $"{Raw}/{i + 1}";
            Between(at, i == 0 ? "supply, at its source" : $"supply, after its {After(_components[^1].Kind)}", most);
            Add(steps[i](at, next));
            at = next;
        }
        if (_power.LeadMetres > 0)
        {
            _nets.Add(new(Return, "supply, minus at its source", WireKind.Ground, 0, 0, null, "The far end of the cable's minus.", []));
        }
        if (_power.SurgeGuard)
        {
            Add(Pieces.Clamp("supply", "clamp", ClampVolts(volts), to, Circuit.Ground) with { Addition = null });
        }
    }

    /// <summary>What stands in the plus of a source, one after the other: the fuse at the source, since it guards the cable too.</summary>
    private List<Func<string, string, Component>> Steps(string to)
    {
        var steps = new List<Func<string, string, Component>>();
        if (_power.FuseAmps is { } amps)
        {
            var value = string.Create(CultureInfo.InvariantCulture, $"{amps} A");
            steps.Add((from, next) => new("supply/fuse", ComponentKind.Fuse, $"fuse, {value}", value, [new("1", from), new("2", next)]));
        }
        if (_power.LeadMetres > 0)
        {
            var size = string.Create(CultureInfo.InvariantCulture, $"{_power.LeadMetres:0.##} m, AWG {_power.LeadAwg ?? PowerCheck.UsualAwg}");
            steps.Add(
                (from, next) =>
                    new(
                        Circuit.CableKey,
                        ComponentKind.Cable,
                        $"two-wire cable, {size}",
                        size,
                        [new("+1", from), new("+2", next), new("-1", Return), new("-2", Circuit.Ground)]
                    )
            );
        }
        if (_power.ReverseGuard)
        {
            steps.Add((from, next) => new("supply/reverse-guard", ComponentKind.Diode, "1N5822 type diode", "1N5822 type", [new("A", from), new("K", next)]));
        }
        if (_power is { AlsoUsb: true, BackfeedGuard: true } && to == _input)
        {
            steps.Add((from, next) => Guard(from, next));
        }
        return steps;
    }

    private static string After(ComponentKind step) =>
        step switch
        {
            ComponentKind.Fuse => "fuse",
            ComponentKind.Cable => "cable",
            _ => "guard",
        };

    private void StepDown()
    {
        if (_power.Module is { } id && _catalogue.Supply(id) is { } module && _input is not null)
        {
            var from = Circuit.Rail(NodeSupply.SourceRail);
            Converter(Circuit.ModuleKey, module, 5, from, Guarded(_input, 5));
            if (_power.LeadMetres >= RingingMetres)
            {
                Add(Damping(from, _supply.HighestSourceVolts ?? _supply.SourceVolts!.Value));
            }
        }
    }

    /// <summary>An electrolytic capacitor at the input of a converter: it damps what a long cable
    /// and small ceramic capacitors do when they are plugged in.</summary>
    private static Component Damping(string at, double highest)
    {
        var rated = Array.Find([16.0, 25, 35, 50, 63, 100], v => v >= 1.4 * highest);
        var capacitor = Pieces.Capacitor("supply", "input-capacitor", DampingMicrofarads, at, Circuit.Ground);
        return capacitor with { Addition = null, Label = $"{capacitor.Value} electrolytic capacitor, {rated:0} V", Value = $"{capacitor.Value}, {rated:0} V" };
    }

    private void OverCable(string input)
    {
        var module = _catalogue.Supply(_power.Module ?? "poe-pd-module")!;
        Source("network cable with power", 57, Cable, CableReturn);
        Between(Cable, "cable, plus", 57);
        _nets.Add(new(CableReturn, "cable, minus", WireKind.Ground, 0, 0, null, "Apart from ground: the module's transformer parts the two.", []));
        Add(
            new(
                Circuit.ModuleKey,
                ComponentKind.Converter,
                module.Label,
                module.Label,
                [new("IN+", Cable), new("IN-", CableReturn), new("OUT+", Guarded(input, 5)), new("OUT-", Circuit.Ground)]
            )
            {
                CatalogueId = module.Id,
                Volts = 5,
            }
        );
    }

    private void Cells()
    {
        if (_supply.Cell is not { } cell || _input is not { } input)
        {
            return;
        }
        var charger = _power.Charger is { } id ? _catalogue.Supply(id) : null;
        var at = _power.StepUp ? Cell : Guarded(input, cell.FullVolts);
        var count = _power.Series * _power.Parallel;
        Add(
            new(
                Circuit.CellsKey,
                ComponentKind.Cells,
                cell.Label,
                count == 1 ? "1" : $"{_power.Series} in series, {_power.Parallel} side by side",
                [new("+", charger is null ? at : CellAlone), new("-", charger is null ? Circuit.Ground : CellReturn)]
            )
            {
                CatalogueId = _power.Cell,
                Volts = cell.FullVolts,
            }
        );
        if (charger is not null)
        {
            Charger(charger, cell, at);
        }
        if (_power.Harvest is not null)
        {
            LightCell();
            if (charger is null)
            {
                Harvester(at);
            }
        }
        if (_power.StepUp && _catalogue.Supply("boost-mt3608") is { } boost)
        {
            Between(Cell, "cells", cell.FullVolts);
            Converter(Circuit.StepUpKey, boost, 5, Cell, Guarded(input, 5));
        }
    }

    private void Charger(SupplyModule charger, Cell cell, string at)
    {
        Add(
            new(
                "supply/charger",
                ComponentKind.Charger,
                charger.Label,
                charger.Label,
                [
                    new("IN+", _power.Harvest is null ? null : Light),
                    new("IN-", _power.Harvest is null ? null : Circuit.Ground),
                    new("B+", CellAlone),
                    new("B-", CellReturn),
                    new("OUT+", at),
                    new("OUT-", Circuit.Ground),
                ]
            )
            {
                CatalogueId = charger.Id,
                Volts = cell.FullVolts,
            }
        );
        Between(CellAlone, "cell, plus", cell.FullVolts);
        _nets.Add(new(CellReturn, "cell, minus", WireKind.Ground, 0, 0, null, "The charger's protection cuts the cell's minus off: it is not ground.", []));
    }

    private void Storage(string input)
    {
        var harvest = _power.Harvest!;
        LightCell();
        Harvester(input);
        Add(
            Pieces.Capacitor("supply", "store", harvest.CapacitorMicrofarads!.Value, input, Circuit.Ground) with
            {
                Addition = null,
                Volts = harvest.StartVolts,
            }
        );
    }

    private void LightCell()
    {
        Add(
            new("supply/light", ComponentKind.LightCell, "light cell", $"{_power.Harvest!.AreaSquareCm:0.##} cm²", [new("+", Light), new("-", Circuit.Ground)])
            {
                CatalogueId = "solar-cell",
                Volts = 5,
            }
        );
        Between(Light, "light cell", 5);
    }

    private void Harvester(string store)
    {
        var module = _catalogue.Supply("harvester-bq25570")!;
        Add(
            new("supply/harvester", ComponentKind.Harvester, module.Label, module.Label, [new("VIN", Light), new("GND", Circuit.Ground), new("VBAT", store)])
            {
                CatalogueId = module.Id,
                Volts = _supply.Cell?.FullVolts,
            }
        );
    }

    /// <summary>The net before the diode that keeps USB and this supply apart, where there is one; else the input itself.</summary>
    private string Guarded(string input, double volts)
    {
        if (_power is not { AlsoUsb: true, BackfeedGuard: true })
        {
            return input;
        }
        var before = $"{input}/before guard";
        Add(Guard(before, input));
        Between(before, "supply, before its guard", volts);
        return before;
    }

    private static Component Guard(string from, string to) =>
        new("supply/backfeed-guard", ComponentKind.Diode, "1N5819 type diode", "1N5819 type", [new("A", from), new("K", to)]);

    private void Source(string label, double volts, string plus, string minus) =>
        Add(
            new(
                Circuit.SourceKey,
                ComponentKind.Source,
                label,
                string.Create(CultureInfo.InvariantCulture, $"{volts:0.#} V"),
                [new("+", plus), new("-", minus)]
            )
            {
                Volts = volts,
            }
        );

    private void Converter(string key, SupplyModule module, double volts, string from, string to) =>
        Add(
            new(
                key,
                ComponentKind.Converter,
                module.Label,
                string.Create(CultureInfo.InvariantCulture, $"set to {volts:0.##} V"),
                [new("IN+", from), new("IN-", Circuit.Ground), new("OUT+", to), new("OUT-", Circuit.Ground)]
            )
            {
                CatalogueId = module.Id,
                Volts = volts,
            }
        );

    /// <summary>Describes a net that only the chain is on.</summary>
    private void Between(string key, string label, double volts) =>
        _nets.Add(new(key, label, WireKind.Supply, 0, volts, null, "On the way from the source to the board.", []));

    private void Add(Component component) => _components.Add(component);
}
