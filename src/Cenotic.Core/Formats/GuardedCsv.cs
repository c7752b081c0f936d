using System.Globalization;
using CsvHelper;

namespace Cenotic.Core.Formats;

/// <summary>Tables as CSV (RFC 4180) that no spreadsheet takes formulas from.</summary>
internal static class GuardedCsv
{
    /// <summary>A table with a heading; a cell that a spreadsheet would take for a formula gets an apostrophe before it.</summary>
    internal static string Of(IReadOnlyList<string> head, IEnumerable<IReadOnlyList<string>> rows)
    {
        using var text = new StringWriter(CultureInfo.InvariantCulture);
        using (var csv = CsvWriter.Create(text, CsvWriterOptions.Default with { Injection = CsvInjection.Escape }, true))
        {
            foreach (var row in rows.Prepend(head))
            {
                csv.WriteRecord([.. row]);
            }
        }
        return text.ToString();
    }

    /// <summary>One cell as <see cref="Of"/> writes it, for tables that are written row by row.
    /// What is letters and digits only needs no look by the writer.</summary>
    internal static string Cell(string text) => text.All(char.IsLetterOrDigit) ? text : Of([text], []).TrimEnd();
}
