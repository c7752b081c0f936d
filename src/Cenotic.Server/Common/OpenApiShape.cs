using System.Text.Json.Serialization.Metadata;
using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;

namespace Cenotic.Server.Common;

/// <summary>What the description of the interface leaves out by itself, and the pages' types need.</summary>
public static class OpenApiShape
{
    /// <summary>Marks what every answer has: the discriminator, by which types are told apart, and members that are worked out.</summary>
    public static OpenApiOptions RequireWhatIsAlwaysThere(this OpenApiOptions options) =>
        options.AddDocumentTransformer((document, _, _) => Done(Discriminators(document))).AddSchemaTransformer((schema, of, _) => Done(Computed(schema, of)));

    private static IEnumerable<(OpenApiSchema Schema, string Member)> Discriminators(OpenApiDocument document) =>
        (document.Components?.Schemas?.Values ?? [])
            .OfType<OpenApiSchema>()
            .Where(s => s.Properties?.TryGetValue("kind", out var kind) == true && kind.Enum?.Count == 1)
            .Select(s => (s, "kind"));

    private static IEnumerable<(OpenApiSchema Schema, string Member)> Computed(OpenApiSchema schema, OpenApiSchemaTransformerContext of) =>
        of.JsonTypeInfo.Kind == JsonTypeInfoKind.Object
            ? of.JsonTypeInfo.Properties.Where(p => p.Set is null && schema.Properties?.ContainsKey(p.Name) == true).Select(p => (schema, p.Name))
            : [];

    private static Task Done(IEnumerable<(OpenApiSchema Schema, string Member)> always)
    {
        foreach (var (schema, member) in always.ToList())
        {
            (schema.Required ??= new HashSet<string>()).Add(member);
        }
        return Task.CompletedTask;
    }
}
