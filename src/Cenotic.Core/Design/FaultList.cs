using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using Cenotic.Core.Common;

namespace Cenotic.Core.Design;

/// <summary>What is wrong with an edit, as it is gathered. Each sentence has the field of the edit that it is about: the
/// checks take it from the expression that they are given.</summary>
internal sealed partial class FaultList
{
    /// <summary>The most characters of a name.</summary>
    internal const int LongestText = 60;

    private readonly List<Reason> _all;
    private readonly string _under;

    internal FaultList()
        : this([], "") { }

    private FaultList(List<Reason> all, string under) => (_all, _under) = (all, under);

    /// <summary>Everything that was found.</summary>
    internal IReadOnlyList<Reason> All => _all;

    /// <summary>The same list for what lies under a field: paths of what is added begin with it.</summary>
    /// <param name="field">A JSON path from here, like "power.harvest".</param>
    internal FaultList Under(string field) => new(_all, $"{_under}{field}.");

    /// <param name="field">The JSON path from here of what it is about; null where it is about all of it.</param>
    internal void Add(string says, string? field = null) => _all.Add(new(says, field is null ? Whole() : _under + field));

    /// <summary>Adds what is about the whole.</summary>
    internal void AddRange(IEnumerable<string> sentences)
    {
        foreach (var says in sentences)
        {
            Add(says);
        }
    }

    /// <summary>A name or another short text.</summary>
    internal void Text(string what, string text, [CallerArgumentExpression(nameof(text))] string at = "")
    {
        if (string.IsNullOrWhiteSpace(text) || text.Length > LongestText || text.Any(char.IsControl))
        {
            Add($"{what} needs 1 to {LongestText} characters on one line.", Path(at));
        }
    }

    /// <summary>The key of a document.</summary>
    internal void Key(string key, [CallerArgumentExpression(nameof(key))] string at = "")
    {
        if (!KeyForm().IsMatch(key))
        {
            Add($"\"{key}\" cannot be a key; use 1 to 32 small letters, digits and hyphens, starting with a letter.", Path(at));
        }
    }

    /// <summary>A number that lies within two ends.</summary>
    internal void Within(string what, double value, double low, double high, string unit, [CallerArgumentExpression(nameof(value))] string at = "")
    {
        if (!(value >= low && value <= high))
        {
            Add($"{what} is {value} {unit}".TrimEnd() + $"; it must be from {low} to {high} {unit}".TrimEnd() + ".", Path(at));
        }
    }

    private string? Whole() => _under.Length == 0 ? null : _under.TrimEnd('.');

    /// <summary>The JSON path that a C# expression reads: "(zone.Presence?.AwayMs ?? 60_000) / 1000.0" reads presence.awayMs of a zone.</summary>
    private static string Path(string expression)
    {
        var names = Member().Match(expression).Value.Replace("?", "", StringComparison.Ordinal).Replace("!", "", StringComparison.Ordinal).Split('.');
        return string.Join('.', (names.Length > 1 ? names[1..] : names).Select(n => char.ToLowerInvariant(n[0]) + n[1..]));
    }

    [GeneratedRegex(@"[A-Za-z_]\w*(?:[?!]?\.\w+)*")]
    private static partial Regex Member();

    [GeneratedRegex("^[a-z][a-z0-9-]{0,31}$")]
    private static partial Regex KeyForm();
}
