namespace Cenotic.Server.Tests;

/// <summary>The clock of this machine, which somebody can set; its timers go on.</summary>
internal sealed class AdjustedClock : TimeProvider
{
    public TimeSpan By { get; set; }

    public override DateTimeOffset GetUtcNow() => System.GetUtcNow() + By;
}
