using System.Collections;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;

namespace Cenotic.Core.Common;

/// <summary>The one way records are written as JSON: camel case, enums as words, strict numbers, unknown members refused.</summary>
public static class CenoticJson
{
    // One object for all options: options that are alike share what the serializer has learned of the types.
    private static readonly JsonStringEnumConverter EnumsAsWords = new(JsonNamingPolicy.CamelCase, allowIntegerValues: false);

    private static readonly DefaultJsonTypeInfoResolver Types = new() { Modifiers = { RefuseMissingElements } };

    /// <summary>For documents, edits, the catalogue and the wire.</summary>
    public static readonly JsonSerializerOptions Options = Configure(new JsonSerializerOptions());

    /// <summary>As <see cref="Options"/>, indented: for files a person reads.</summary>
    public static readonly JsonSerializerOptions Indented = new(Options) { WriteIndented = true };

    /// <summary>Sets the house's choices on options that somebody else made (the web host's).</summary>
    public static JsonSerializerOptions Configure(JsonSerializerOptions options)
    {
        options.PropertyNamingPolicy = JsonNamingPolicy.CamelCase;
        options.DictionaryKeyPolicy = null;
        options.PropertyNameCaseInsensitive = false;
        options.NumberHandling = JsonNumberHandling.Strict;
        options.AllowOutOfOrderMetadataProperties = true;
        options.UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow;
        options.RespectNullableAnnotations = true;
        options.RespectRequiredConstructorParameters = true;
        options.TypeInfoResolver = Types;
        options.Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping;
        if (!options.Converters.Any(c => c is JsonStringEnumConverter))
        {
            options.Converters.Add(EnumsAsWords);
        }
        return options;
    }

    /// <summary>Lists of records and texts hold no null: what reads them need not ask.</summary>
    private static void RefuseMissingElements(JsonTypeInfo type)
    {
        if (type is { Kind: JsonTypeInfoKind.Enumerable, ElementType.IsValueType: false })
        {
            type.OnDeserialized = list =>
            {
                var at = 0;
                foreach (var item in (IEnumerable)list)
                {
                    at++;
                    if (item is null)
                    {
                        throw new MissingElementException($"A list has nothing at place {at}.");
                    }
                }
            };
        }
    }
}

/// <summary>A list that was read has an element that is null.</summary>
public sealed class MissingElementException(string message) : NotSupportedException(message);
