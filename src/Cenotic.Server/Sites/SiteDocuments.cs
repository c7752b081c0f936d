using System.Text.Json;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Sites;

/// <summary>Puts a design into documents and back.</summary>
public static class SiteDocuments
{
    /// <summary>The documents of a design by key, in order.</summary>
    public static IReadOnlyList<(string Key, string Body)> Of(SiteDesign design) =>
    [
        ("site", Json(design.Settings)), ("place", Json(design.Place)),
        .. design.Nodes.Select(n => ("node:" + n.Key, Json(n))), .. design.Rules.Select(r => ("rule:" + r.Key, Json(r))), .. design.Lines.Select(l => ("line:" + l.Key, Json(l))),
        .. design.OwnBoards.Select(b => ("board:" + b.Id, Json(b))), .. design.OwnParts.Select(p => ("part:" + p.Id, Json(p))), .. design.Stock.Select(i => ("stock:" + i.Id, Json(i))),
        .. design.People.Select(p => ("person:" + p.Key, Json(p))), .. design.Zones.Select(z => ("zone:" + z.Key, Json(z))), .. design.Views.Select(v => ("view:" + v.Key, Json(v))), .. design.Derived.Select(d => ("derived:" + d.Key, Json(d))),
    ];

    /// <summary>Reads the design of a site.</summary>
    public static async Task<SiteDesign> ReadAsync(CenoticStore store, string site)
    {
        var rows = await store.Documents.AsNoTracking().Where(d => d.Site == site).OrderBy(d => d.Position).ThenBy(d => d.Key).ToListAsync();
        T One<T>(string key) => From<T>(rows.Single(r => r.Key == key).Body);
        IReadOnlyList<T> Many<T>(string kind) => [.. rows.Where(r => r.Key.StartsWith(kind, StringComparison.Ordinal)).Select(r => From<T>(r.Body))];
        return new(One<SiteSettings>("site"), One<PlaceDesign>("place"), Many<NodeDesign>("node:"), Many<RuleDesign>("rule:"))
        {
            OwnBoards = Many<Board>("board:"), OwnParts = Many<Part>("part:"), Stock = Many<StockItem>("stock:"), Lines = Many<SerialLineDesign>("line:"),
            People = Many<PersonDesign>("person:"), Zones = Many<ZoneDesign>("zone:"), Views = Many<ViewDesign>("view:"), Derived = Many<DerivedDesign>("derived:"),
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
                store.Documents.Add(new() { Site = site, Key = key, Body = body, Position = position, FormatVersion = SiteDesign.FormatVersion });
            }
            position++;
        }
        store.Documents.RemoveRange(rows.Values);
    }

    private static string Json<T>(T document) => JsonSerializer.Serialize(document, CenoticJson.Options);

    private static T From<T>(string body) => JsonSerializer.Deserialize<T>(body, CenoticJson.Options) ?? throw new InvalidOperationException("An empty document.");
}
