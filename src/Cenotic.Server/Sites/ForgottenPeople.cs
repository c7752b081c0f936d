using System.Text.Json;
using System.Text.Json.Nodes;
using Cenotic.Core.Design;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Sites;

/// <summary>A person who is removed is forgotten: name, telephone number and addresses go out of every revision
/// and of what was to be sent. One that is brought back is entered anew.</summary>
internal static class ForgottenPeople
{
    private const string Gone = "(removed)";

    private static readonly JsonSerializerOptions Plain = new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Forgets who is in a design no more; in the transaction of the edit.</summary>
    public static async Task ForgetAsync(CenoticStore store, string site, SiteDesign before, SiteDesign after, long now)
    {
        foreach (var person in before.People.Where(p => after.People.All(a => a.Key != p.Key)))
        {
            var document = "person:" + person.Key;
            foreach (
                var revision in await store.Revisions.Where(r => r.Site == site && ("\n" + r.Documents + "\n").Contains("\n" + document + "\n")).ToListAsync()
            )
            {
                (revision.Edits, revision.Inverse, revision.DocumentsAfter) = (
                    Without(revision.Edits, person.Key),
                    Without(revision.Inverse, person.Key),
                    WithoutDocument(revision.DocumentsAfter, document)
                );
            }
            foreach (var notice in await store.Outbox.Where(o => o.Site == site && o.Person == person.Key).ToListAsync())
            {
                notice.Address = "";
                if (notice.DoneMs is null)
                {
                    (notice.DoneMs, notice.Result) = (now, "The person was removed.");
                }
            }
        }
        await store.SaveChangesAsync();
    }

    /// <summary>JSON without what it says of a person: every object of a person with this key.</summary>
    private static string Without(string json, string key)
    {
        var root = JsonNode.Parse(json);
        Scrub(root, key);
        return root?.ToJsonString(Plain) ?? json;
    }

    private static string WithoutDocument(string json, string document)
    {
        var documents = JsonNode.Parse(json)!.AsObject();
        documents.Remove(document);
        return documents.ToJsonString(Plain);
    }

    private static void Scrub(JsonNode? node, string key)
    {
        switch (node)
        {
            case JsonArray list:
                foreach (var item in list)
                {
                    Scrub(item, key);
                }
                break;
            case JsonObject person when person.ContainsKey("ways") && person["key"] is JsonValue its && its.TryGetValue<string>(out var found) && found == key:
                (person["name"], person["ways"]) = (Gone, new JsonArray());
                break;
            case JsonObject item:
                foreach (var (_, inner) in item.ToList())
                {
                    Scrub(inner, key);
                }
                break;
        }
    }
}
