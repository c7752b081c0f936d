using Cenotic.Core.Common;

namespace Cenotic.Core.Reach;

/// <summary>Over whom messages reach their gateways.</summary>
/// <param name="Routes">The way of each node that sends by a radio module to who hears it.</param>
/// <param name="Relays">Nodes that pass on what others send.</param>
public sealed record RelayPlan(IReadOnlyList<PlannedRoute> Routes, IReadOnlyList<PlannedRelay> Relays);

/// <summary>The way of a node's messages, as it is decided, and the best there is.</summary>
/// <param name="Over">Who passes them on, in order; the last is the gateway.</param>
/// <param name="Arrives">Whether it ends at a gateway.</param>
/// <param name="Transmissions">Expected until a message is there and each hop knows so.</param>
/// <param name="Delivered">Part of messages that arrive over all hops, %.</param>
/// <param name="Best">The way with the fewest transmissions; empty where none reaches a gateway.</param>
/// <param name="BestTransmissions">Of that way.</param>
public sealed record PlannedRoute(
    string Node,
    string Label,
    IReadOnlyList<RouteStop> Over,
    bool Arrives,
    Figure Transmissions,
    Figure Delivered,
    IReadOnlyList<RouteStop> Best,
    Figure BestTransmissions
)
{
    /// <summary>Whether the decided way costs no more than the best.</summary>
    public bool IsBest => Transmissions.Value is { } now && !(BestTransmissions.Value < now - 1e-9);
}

/// <summary>One that passes messages on.</summary>
public sealed record RouteStop(string Node, string Label);

/// <summary>A node that passes on what others send.</summary>
/// <param name="PassesOn">Whose messages go over it.</param>
/// <param name="OnlyWayOf">Those of them that reach no gateway without it.</param>
/// <param name="PerDay">Messages that it passes on.</param>
/// <param name="Life">How long its cells last; null for one that is fed for ever.</param>
/// <param name="LifeAlone">How long they would last if it passed nothing on; null likewise.</param>
public sealed record PlannedRelay(
    string Node,
    string Label,
    IReadOnlyList<RouteStop> PassesOn,
    IReadOnlyList<RouteStop> OnlyWayOf,
    Figure PerDay,
    Figure? Life,
    Figure? LifeAlone
);
