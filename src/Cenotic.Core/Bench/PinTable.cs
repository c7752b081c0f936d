using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>The pins of a board and of its helpers, and what each is worth for a line; judged once for lines with equal needs.</summary>
internal sealed class PinTable
{
    /// <summary>Judgements of a board's own pins: a function of the board, the radio, sleep and the needs, worked out once for all plans.</summary>
    private static readonly ConditionalWeakTable<Board, BoardPins> Boards = [];

    private readonly Dictionary<PinNeeds, PinRow> _rows = [];
    private readonly Dictionary<string, int> _index = [];
    private readonly BoardPins _own;
    private readonly bool _wifiOn,
        _sleeps;

    internal PinTable(Board board, NodeDesign node, NodeSupply supply, IEnumerable<Connection> helpers)
    {
        _own = Boards.GetValue(board, b => new(b));
        Columns = [.. _own.Pins, .. helpers.SelectMany(h => HelperPins.Of(h, board, supply))];
        (_wifiOn, _sleeps) = (node.UsesWifi, node.Sleeps);
        for (var c = 0; c < Columns.Count; c++)
        {
            _index[Columns[c].Id] = c;
        }
    }

    internal IReadOnlyList<Pin> Columns { get; }

    internal UInt128 MaskOf(PinNeeds needs) => RowOf(needs).Mask;

    /// <summary>The column of a pin, or -1.</summary>
    internal int IndexOf(string pin) => _index.GetValueOrDefault(pin, -1);

    internal PinRow RowOf(PinNeeds needs)
    {
        if (_rows.TryGetValue(needs, out var row))
        {
            return row;
        }
        PinFit[] fits = [.. _own.Judge(needs, _wifiOn, _sleeps), .. Columns.Skip(_own.Pins.Count).Select(p => PinFit.Judge(p, needs, _wifiOn, _sleeps))];
        var mask = UInt128.Zero;
        var costs = new PlanCost[fits.Length];
        for (var c = 0; c < fits.Length; c++)
        {
            mask |= fits[c].Fits ? UInt128.One << c : UInt128.Zero;
            costs[c] = new(0, fits[c].Adds.Count, fits[c].HazardPoints, 0, fits[c].Versatility, 0);
        }
        return _rows[needs] = new(fits, costs, mask);
    }

    /// <summary>The pins of a board that could carry a signal, and what each is worth for a line.</summary>
    private sealed class BoardPins
    {
        private readonly ConcurrentDictionary<(PinNeeds Needs, bool WifiOn, bool Sleeps), PinFit[]> _judged = [];
        private readonly HashSet<string> _sharedPwm = [];

        internal BoardPins(Board board)
        {
            Pins =
            [
                .. board.Pins.Where(p =>
                    (p.Kind == PinKind.Gpio && !p.Has(Hazard.Flash) && !p.Has(Hazard.Taken)) || (p.Kind == PinKind.Analog && p.Adc is not null)
                ),
            ];
            var channels = new HashSet<string>();
            foreach (var pin in Pins)
            {
                // Two pins on one PWM channel cannot carry different signals: only the first of them is offered.
                if (pin.Pwm is { } pwm && pwm != "any" && !channels.Add(pwm))
                {
                    _sharedPwm.Add(pin.Id);
                }
            }
        }

        internal IReadOnlyList<Pin> Pins { get; }

        internal PinFit[] Judge(PinNeeds needs, bool wifiOn, bool sleeps) => _judged.GetOrAdd((needs, wifiOn, sleeps), _ => [
                    .. Pins.Select(pin =>
                    {
                        var fit = PinFit.Judge(pin, needs, wifiOn, sleeps);
                        return needs.Pwm && _sharedPwm.Contains(pin.Id)
                            ? fit with
                            {
                                Refusals = [.. fit.Refusals, $"{pin.Name} shares its PWM channel {pin.Pwm} with another pin."],
                            }
                            : fit;
                    }),
                ]);
    }
}

/// <summary>The judgement of every pin for one kind of need.</summary>
internal sealed record PinRow(PinFit[] Fits, PlanCost[] Costs, UInt128 Mask);
