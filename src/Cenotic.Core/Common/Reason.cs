namespace Cenotic.Core.Common;

/// <summary>Why something is refused.</summary>
/// <param name="Says">One sentence: what is wrong, and what would be right.</param>
/// <param name="Field">The member of the request that it is about, as a path of JSON names ("zone.exitMs", "rule.also.0.condition.clear");
/// null where it is about no single one.</param>
public sealed record Reason(string Says, string? Field = null);
