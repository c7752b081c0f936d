using System.Text.Json;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Sites;

/// <summary>Puts a design into documents and back.</summary>
public static class SiteDocuments
{
    /// <summary>The documents of a design by key, in order.</summary>
    public static IReadOnlyList<(string Key, string Body)> Of(SiteDesign design) =>
        [
            ("site", Json(design.Settings)),
            ("place", Json(design.Place)),
            .. design.Nodes.Select(n => ("node:" + n.Key, Json(n))),
            .. design.Rules.Select(r => ("rule:" + r.Key, Json(r))),
            .. design.Lines.Select(l => ("line:" + l.Key, Json(l))),
            .. design.OwnBoards.Select(b => ("board:" + b.Id, Json(b))),
            .. design.OwnParts.Select(p => ("part:" + p.Id, Json(p))),
            .. design.OwnCells.Select(c => ("cell:" + c.Id, Json(c))),
            .. design.Stock.Select(i => ("stock:" + i.Id, Json(i))),
            .. design.People.Select(p => ("person:" + p.Key, Json(p))),
            .. design.Zones.Select(z => ("zone:" + z.Key, Json(z))),
            .. design.Views.Select(v => ("view:" + v.Key, Json(v))),
            .. design.Derived.Select(d => ("derived:" + d.Key, Json(d))),
        ];

    /// <summary>Reads the design of a site.</summary>
    /// <exception cref="IOException">A document is missing or cannot be read.</exception>
    public static async Task<SiteDesign> ReadAsync(CenoticStore store, string site)
    {
        var rows = await store.Documents.AsNoTracking().Where(d => d.Site == site).OrderBy(d => d.Position).ThenBy(d => d.Key).ToListAsync();
        T One<T>(string key) =>
            From<T>(
                site,
                rows.SingleOrDefault(r => r.Key == key)
                    ?? throw new IOException(
                        $"The document \"{key}\" of the site \"{site}\" is missing in the database. Put a backup back: ./run restore FOLDER."
                    )
            );
        IReadOnlyList<T> Many<T>(string kind) => [.. rows.Where(r => r.Key.StartsWith(kind, StringComparison.Ordinal)).Select(r => From<T>(site, r))];
        return new(One<SiteSettings>("site"), One<PlaceDesign>("place"), Many<NodeDesign>("node:"), Many<RuleDesign>("rule:"))
        {
            OwnBoards = Many<Board>("board:"),
            OwnParts = Many<Part>("part:"),
            OwnCells = Many<Cell>("cell:"),
            Stock = Many<StockItem>("stock:"),
            Lines = Many<SerialLineDesign>("line:"),
            People = Many<PersonDesign>("person:"),
            Zones = Many<ZoneDesign>("zone:"),
            Views = Many<ViewDesign>("view:"),
            Derived = Many<DerivedDesign>("derived:"),
        };
    }

    /// <summary>Writes the documents of a design that differ from what is stored, and removes those that are gone.</summary>
    public static async Task WriteAsync(CenoticStore store, string site, SiteDesign design)
    {
        var rows = await store.Documents.Where(d => d.Site == site).ToDictionaryAsync(d => d.Key);
        var position = 0;
        foreach (var (key, body) in Of(design))
        {
            if (rows.Remove(key, out var row))
            {
                (row.Body, row.Position, row.FormatVersion) = (body, position, SiteDesign.FormatVersion);
            }
            else
            {
                store.Documents.Add(
                    new()
                    {
                        Site = site,
                        Key = key,
                        Body = body,
                        Position = position,
                        FormatVersion = SiteDesign.FormatVersion,
                    }
                );
            }
            position++;
        }
        store.Documents.RemoveRange(rows.Values);
    }

    private static string Json<T>(T document) => JsonSerializer.Serialize(document, CenoticJson.Options);

    /// <exception cref="IOException">The document is not what it was written as.</exception>
    private static T From<T>(string site, DocumentRow row)
    {
        try
        {
            return JsonSerializer.Deserialize<T>(row.Body, CenoticJson.Options) ?? throw new JsonException("it is empty");
        }
        catch (Exception fault) when (fault is JsonException or NotSupportedException)
        {
            throw new IOException(
                $"The document \"{row.Key}\" of the site \"{site}\" in the database cannot be read ({fault.Message.TrimEnd('.')}). Put a backup back: "
                    + "./run restore FOLDER.",
                fault
            );
        }
    }
}
