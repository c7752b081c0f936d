using Cenotic.Core.Common;

namespace Cenotic.Core.Design;

/// <summary>What a finding is about.</summary>
/// <param name="Station">place, bench, rhythm, reach, bring-up, watch, alerts or log.</param>
/// <param name="Item">A part, wire, reading, rail or rule key within the node, or null.</param>
public sealed record Subject(string Station, string? Node, string? Item = null);

/// <summary>A labelled list of edits that puts a finding right: one click and one undo. Applied, it removes its finding and adds no stop.</summary>
public sealed record Remedy(string Label, IReadOnlyList<DesignEdit> Edits);

/// <summary>The result of a check: every check of every station speaks this type.</summary>
/// <param name="Code">Stable, listed in docs/formulas.md.</param>
/// <param name="What">What is so, in a maker's words.</param>
/// <param name="Why">What follows from it.</param>
/// <param name="Advice">What a person must do with their hands, or null.</param>
/// <param name="Source">Where the rule comes from.</param>
public sealed record Finding(
    string Code,
    Severity Severity,
    Subject Subject,
    string What,
    string Why,
    IReadOnlyList<Remedy> Remedies,
    string? Advice,
    string Source
);
