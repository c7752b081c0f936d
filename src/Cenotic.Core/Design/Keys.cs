using System.Globalization;
using System.Text;

namespace Cenotic.Core.Design;

/// <summary>Keys of documents, made of names.</summary>
public static class Keys
{
    private const int LongestMade = 24;

    /// <summary>A key made of a name that is free among others: small letters, digits and hyphens, with a number behind where it is taken.</summary>
    /// <param name="taken">Keys that are in use.</param>
    public static string Free(string name, IReadOnlyCollection<string> taken)
    {
        var plain = name.ToLowerInvariant()
            .Normalize(NormalizationForm.FormD)
            .Where(c => CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark);
        var words = string.Concat(plain.Select(c => c is >= 'a' and <= 'z' or >= '0' and <= '9' ? c : '-')).Split('-', StringSplitOptions.RemoveEmptyEntries);
        var key = string.Join('-', words).TrimStart('0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '-');
        key = key.Length == 0 ? "item" : key[..Math.Min(LongestMade, key.Length)].TrimEnd('-');
        return taken.Contains(key) ? Enumerable.Range(2, taken.Count + 1).Select(n => $"{key}-{n}").First(k => !taken.Contains(k)) : key;
    }
}
