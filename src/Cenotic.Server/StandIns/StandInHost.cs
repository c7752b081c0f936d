using System.Collections.Concurrent;
using System.Net;
using Cenotic.Core.BringUp;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Rehearsal;
using Cenotic.Server.BringUp;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;

namespace Cenotic.Server.StandIns;

/// <summary>
/// Plays the nodes of the demo site on site time, on the schedule that Rhythm computed: as MQTT clients, through
/// the gateway, and one through a radio bridge on a serial line. Only in demo mode.
/// </summary>
public sealed class StandInHost(
    StandInPlan plan,
    SiteBook book,
    SiteClock clock,
    NodeKeys keys,
    Calibrations calibrations,
    BrokerAddress broker,
    TimeProvider system,
    ILogger<StandInHost> log
) : BackgroundService
{
    /// <summary>However fast the time of the site goes, they are played no more often than this.</summary>
    private static readonly TimeSpan ShortestStep = TimeSpan.FromMilliseconds(200),
        RestlessStep = TimeSpan.FromSeconds(1),
        LongestStep = TimeSpan.FromMinutes(1);
    private readonly WakeSignal _wake = new(system);
    private readonly ConcurrentDictionary<string, StandInControl> _controls = [];
    private readonly ConcurrentDictionary<string, double> _newCells = [];
    private readonly ConcurrentDictionary<string, Cast> _cast = [];

    /// <summary>Transmissions of the node behind the bridge that are lost, %, as its way is planned.</summary>
    private double _lostToBridge;

    /// <summary>What they are like.</summary>
    public StandInPlan Plan => plan;

    /// <summary>A node that is played, and what it was made from.</summary>
    private sealed record Cast(StandInNode Player, NodeDesign Design, long? SlotMs, IStandInLink Link);

    public StandInControl Control(string node) =>
        _controls.TryGetValue(node, out var set)
            ? set
            : StandInControl.Calm with
            {
                LossPercent = node == plan.Bridge.Node ? _lostToBridge : plan.LossOf(book.Find(plan.Site)?.Design.Node(node)),
            };

    public void Set(string node, StandInControl control)
    {
        _controls[node] = control;
        _wake.Wake();
    }

    /// <summary>What is left of a node's cells, 0..1; null without.</summary>
    public double? CellShare(string node) => _newCells.TryGetValue(node, out var set) ? set : _cast.GetValueOrDefault(node)?.Player.CellShare;

    /// <summary>Sets what is left of a node's cells, 0..1, at its next turn: only there its charge is touched. Nothing for a node without.</summary>
    public void SetCells(string node, double share)
    {
        if (book.Find(plan.Site)?.Design.Node(node)?.Power.Kind is PowerKind.Cells)
        {
            _newCells[node] = share;
            _wake.Wake();
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var address = (await broker.Ready.WaitAsync(stoppingToken)).Plain;
        using var bridge = new RadioBridge(plan);
        await book.ApplyAsync(plan.Site, book.Find(plan.Site)!.Revision, [new PutLine(bridge.Start(stoppingToken))], "stand-ins");
        book.Changed += _ => _wake.Wake();
        clock.Changed += _wake.Wake;
        SiteState? known = null;
        try
        {
            while (!stoppingToken.IsCancellationRequested)
            {
                if (book.Find(plan.Site) is { } state && !ReferenceEquals(known, state))
                {
                    await RecastAsync(state, address, bridge);
                    known = state;
                }
                var rest = LongestStep;
                foreach (var cast in _cast.Values)
                {
                    if (_newCells.TryRemove(cast.Player.Node, out var share))
                    {
                        cast.Player.SetCells(share);
                    }
                    var control = Control(cast.Player.Node);
                    var next = await cast.Player.PlayAsync(clock.Now(plan.Site), control, stoppingToken) is { } at ? clock.Until(plan.Site, at) : LongestStep;
                    next = cast.Player.IsRestless(control) && next > RestlessStep ? RestlessStep : next;
                    rest = next < rest ? next : rest;
                }
                await _wake.WaitAsync(rest > ShortestStep ? rest : ShortestStep, stoppingToken);
            }
        }
        finally
        {
            foreach (var cast in _cast.Values)
            {
                (cast.Link as IDisposable)?.Dispose();
            }
        }
    }

    private double LostToBridge(SiteDesign design, SitePlan planned)
    {
        var route = planned.Reach.Relays.Routes.FirstOrDefault(r => r.Node == plan.Bridge.Node);
        var delivered = route is { Over.Count: > 1 }
            ? route.Delivered.Value
            : planned.Reach.Links.FirstOrDefault(l => l.Node == plan.Bridge.Node)?.Delivered.Value;
        return design.Node(plan.Bridge.Node) is { } node && delivered is { } percent
            ? 100 * Math.Pow(1 - percent / 100, 1.0 / SendDesign.Of(node).MostSent)
            : 0;
    }

    private async Task RecastAsync(SiteState state, IPEndPoint address, RadioBridge bridge)
    {
        var planned = await book.PlanAsync(state);
        _lostToBridge = LostToBridge(state.Design, planned);
        var gone = _cast.Where(c => state.Design.Node(c.Key) is not { } node || node.Via != c.Value.Design.Via).Select(c => c.Key).ToHashSet();
        while (
            _cast.Where(c => c.Value.Design.Via is { } via && gone.Contains(via) && !gone.Contains(c.Key)).Select(c => c.Key).ToList() is { Count: > 0 } more
        )
        {
            gone.UnionWith(more);
        }
        foreach (var key in gone)
        {
            _cast.TryRemove(key, out var cast);
            (cast!.Link as IDisposable)?.Dispose();
        }
        // Those that are heard through another come after it.
        foreach (var node in state.Design.Nodes.OrderBy(n => state.Design.HeardThrough(n).Count))
        {
            var (rhythm, slot) = (planned.Node(node.Key)!.Rhythm, planned.SlotOf(node.Key));
            // It is flashed with what is in force now: a calibration that is made later wants flashing anew.
            var inForce = calibrations.InForce(state, node.Key, clock.Now(plan.Site));
            var settings = NodeSettings.Of(node, planned.Node(node.Key)!.Bench, rhythm, state.Catalogue, slot, inForce, state.Design).Hash;
            NodeBehaviour Start(int boot, long now) =>
                new(node, rhythm, state.Catalogue, plan.Seed, boot, now, slot)
                {
                    Settings = settings,
                    Corrections = node.CorrectsItself ? inForce : new Dictionary<string, Calibration>(),
                };
            string Scan(StandInControl control, long now) =>
                StandInScan.Of(node, planned.Node(node.Key)!.Bench, plan.Seed, control, now, clock.Speed(plan.Site));
            if (_cast.TryGetValue(node.Key, out var cast))
            {
                cast.Player.Scan = Scan;
                if (!ReferenceEquals(cast.Design, node) || cast.SlotMs != slot)
                {
                    cast.Player.Start = Start;
                    _cast[node.Key] = cast with { Design = node, SlotMs = slot };
                }
                continue;
            }
            IStandInLink link =
                node.Key == plan.Bridge.Node ? bridge
                : node.Via is { } via && _cast.TryGetValue(via, out var gateway) ? new PassedOn(gateway.Link)
                : new StandInClient(plan, node.Key, await keys.IssueAsync(plan.Site, node.Key), address, _wake.Wake);
            _cast[node.Key] = new(new(node.Key, Start, link, SendDesign.Of(node).MostSent, plan.Seed + node.Key.Length, log) { Scan = Scan }, node, slot, link);
        }
    }
}
