using Cenotic.Core.Rehearsal;

namespace Cenotic.Server.StandIns;

/// <summary>One simulated node: how it behaves, what its link does to it, and what the control sheet does to both.</summary>
/// <param name="start">Makes it anew, as after a reset: from the number of the start and the time, UTC ms of site time.</param>
/// <param name="link">How it is on the network.</param>
/// <param name="mostTries">How often it sends a message that is lost on its way.</param>
internal sealed class StandInNode(string node, Func<int, long, NodeBehaviour> start, IStandInLink link, int mostTries, int seed, ILogger log)
{
    private readonly Random _chance = new(seed);
    private NodeBehaviour? _behaviour;
    private int _boot;
    private bool _linked;

    public string Node => node;

    /// <summary>What is left of its cells, 0..1; null for a node without, and before it first runs.</summary>
    public double? CellShare => _behaviour is { } behaviour ? behaviour.CellShare : _left;

    /// <summary>How it starts next, after its plan changed: it is flashed anew.</summary>
    public Func<int, long, NodeBehaviour> Start
    {
        get => start;
        set
        {
            _left = CellShare;
            (start, _behaviour) = (value, null);
        }
    }

    private double? _left;
    private const long ScanEveryMs = 1_000;
    private long _nextScan;

    /// <summary>Whether it is to be looked after every second by the clock of this machine: it tells its scans, tries to connect, or is kept from saying
    /// anything while its outputs go on.</summary>
    public bool IsRestless(StandInControl control) => !control.Unplugged && (control.Scanning || control.Silenced || !link.Connected);

    /// <summary>What it finds on its buses.</summary>
    public required Func<StandInControl, long, string> Scan { get; set; }

    /// <summary>Takes the charge out of its cells, or puts new ones in: also while it does not run, or before it first does.</summary>
    public void SetCells(double share)
    {
        if (_behaviour is null)
        {
            _left = share;
        }
        else if (_behaviour.CellShare is not null)
        {
            _behaviour.CellShare = share;
        }
    }

    /// <summary>True while an output of it is energised.</summary>
    public bool IsOn(string output) => _behaviour?.IsOn(output) ?? false;

    /// <summary>Lets time pass until now, UTC ms of site time.</summary>
    /// <returns>When it has something to do next, unless it is told something before; null for never.</returns>
    public async Task<long?> PlayAsync(long now, StandInControl control, CancellationToken stop)
    {
        try
        {
            await link.KeepAsync(!control.Unplugged && !control.Jammed, stop);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            log.LogWarning("Stand-in {Node} could not connect: {Reason}", node, fault.Message);
        }
        if (control.Unplugged)
        {
            _left = CellShare;
            (_behaviour, _linked) = (null, false);
            return null;
        }
        var behaviour = Living(now, control);
        if (control.Scanning && !control.Silenced && Environment.TickCount64 >= _nextScan)
        {
            _nextScan = Environment.TickCount64 + ScanEveryMs;
            await link.ScanAsync(Scan(control, now), stop);
        }
        var world = new WorldControl(control.HeatCelsius, control.TrippedUntil);
        if (control.Silenced)
        {
            return null;
        }
        await SendAsync(behaviour.Advance(now, world), control, stop);
        return behaviour.NextAt(now, world);
    }

    /// <summary>The node as it runs, after what its link brought.</summary>
    private NodeBehaviour Living(long now, StandInControl control)
    {
        if (_behaviour is null)
        {
            _boot = Math.Max(_boot + 1, (int)(DateTimeOffset.UtcNow.ToUnixTimeSeconds() - 1_700_000_000));
            _behaviour = start(_boot, now);
            _behaviour.CellShare = _behaviour.CellShare is null ? null : _left ?? _behaviour.CellShare;
        }
        _behaviour.ClockOffsetMs = (long)(control.SkewSeconds * 1000);
        if (link.Connected)
        {
            _behaviour.ServerHeard(now);
        }
        else if (_linked)
        {
            _behaviour.LinkLost();
        }
        _linked = link.Connected;
        while (link.TryHear(out var command))
        {
            _behaviour.Hear(command, now, now + _behaviour.ClockOffsetMs);
        }
        _behaviour.Tick(now);
        return _behaviour;
    }

    /// <summary>Sends each again until it got through or the tries are over; its number is missed when none did.</summary>
    private async Task SendAsync(IReadOnlyList<NodeMessage> messages, StandInControl control, CancellationToken stop)
    {
        foreach (var message in messages)
        {
            if (control.Jammed || !link.Connected || Enumerable.Range(0, mostTries).All(_ => _chance.NextDouble() * 100 < control.LossPercent))
            {
                continue;
            }
            try
            {
                await link.SendAsync(node, message.Payload, stop);
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                log.LogWarning("Stand-in {Node} could not send: {Reason}", node, fault.Message);
            }
        }
    }
}
