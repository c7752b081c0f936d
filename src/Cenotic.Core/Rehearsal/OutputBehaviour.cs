using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Core.Rehearsal;

/// <summary>
/// How a node keeps one output: off unless a lease that has not expired holds it on, and never longer than the time it counts itself. Off on a reset, a lost
/// link or a sensor fault, and off it stays until it is told anew.
/// </summary>
/// <param name="design">What it switches, and when it acts by itself.</param>
public sealed class OutputBehaviour(OutputDesign design)
{
    private long _heard;
    private bool _told;
    private long _last;
    private long _since;
    private long _until;

    /// <summary>True while the output is energised.</summary>
    public bool On { get; private set; }

    /// <summary>The uptime at which it switches by itself, ms; null for never.</summary>
    internal long? NextAt =>
        On ? _until
        : design.ServerSilentMs is { } silent && !_told ? _heard + silent
        : null;

    /// <summary>Obeys a command, or refuses one that has expired or is older than the last.</summary>
    /// <param name="clock">What the node takes for the time of day, UTC ms.</param>
    /// <param name="uptime">Time since it started, ms: leases are counted on it, so that a clock that is set cannot lengthen one.</param>
    /// <returns>True when it was obeyed.</returns>
    public bool Hear(OutputCommand command, long clock, long uptime)
    {
        Advance(uptime);
        // The same number again renews a lease; one that ended by itself is not begun again by it.
        var renews = command.Id == _last;
        if (clock >= command.ExpiresMs || command.Id < _last || (renews && command.On && !On))
        {
            return false;
        }
        _since = On && renews ? _since : uptime;
        (_last, On) = (command.Id, command.On);
        _until = Math.Min(uptime + command.ExpiresMs - clock, _since + Math.Min(command.MaxOnMs, design.MaxOnMs));
        Advance(uptime);
        return true;
    }

    /// <summary>Lets time pass: an ended lease switches off, and a server unheard for too long switches a watchdog's output on, once.</summary>
    public void Advance(long uptime)
    {
        On = On && uptime < _until;
        if (design.ServerSilentMs is { } silent && !_told && uptime - _heard >= silent)
        {
            (On, _told, _until) = (true, true, uptime + design.MaxOnMs);
        }
    }

    /// <summary>The server was heard: what a watchdog began ends.</summary>
    public void ServerHeard(long uptime)
    {
        On = On && !_told;
        (_heard, _told) = (uptime, false);
    }

    /// <summary>Goes to the safe state: reset, lost link, sensor fault.</summary>
    public void Safe() => On = false;
}
