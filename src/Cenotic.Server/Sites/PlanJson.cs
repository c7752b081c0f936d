using System.Text.Json;
using System.Text.Json.Serialization.Metadata;
using Cenotic.Core.Common;
using Cenotic.Core.Planning;

namespace Cenotic.Server.Sites;

/// <summary>A plan on the wire: figures without their workings, which are nine tenths of it, and each working by the address of its figure.</summary>
public static class PlanJson
{
    /// <summary>As everywhere, with figures that leave out their working.</summary>
    public static readonly JsonSerializerOptions WithoutWorkings = new(CenoticJson.Options)
    {
        TypeInfoResolver = new DefaultJsonTypeInfoResolver().WithAddedModifier(type =>
        {
            if (type.Type == typeof(Figure) && type.Properties.FirstOrDefault(p => p.Name == "working") is { } working)
            {
                type.Properties.Remove(working);
            }
        }),
    };

    /// <summary>The figure at an address in the plan, or null when there is none.</summary>
    /// <param name="pointer">A JSON Pointer (RFC 6901), such as /nodes/2/rhythm/life.</param>
    public static JsonElement? FigureAt(SitePlan plan, string pointer)
    {
        var at = JsonSerializer.SerializeToElement(plan, CenoticJson.Options);
        foreach (
            var step in pointer.Split('/').Skip(1).Select(s => s.Replace("~1", "/", StringComparison.Ordinal).Replace("~0", "~", StringComparison.Ordinal))
        )
        {
            if (at.ValueKind == JsonValueKind.Object && at.TryGetProperty(step, out var member))
            {
                at = member;
            }
            else if (at.ValueKind == JsonValueKind.Array && int.TryParse(step, out var index) && index >= 0 && index < at.GetArrayLength())
            {
                at = at[index];
            }
            else
            {
                return null;
            }
        }
        return at.ValueKind == JsonValueKind.Object && at.TryGetProperty("working", out _) ? at : null;
    }
}
