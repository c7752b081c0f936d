using System.Reflection;
using System.Text.Json;
using System.Text.Json.Serialization;
using System.Text.Json.Serialization.Metadata;
using Cenotic.Core.Common;

namespace Cenotic.Server.Common;

/// <summary>
/// The members of a type in a request or an answer are looked at when the first such request or answer comes.
/// The framework asks for every type as soon as it makes the routes: without this a start reads them all.
/// </summary>
internal sealed class LazyJsonTypes : IJsonTypeInfoResolver
{
    private static readonly MethodInfo Make = typeof(LazyJsonTypes).GetMethod(nameof(OnFirstUse), BindingFlags.NonPublic | BindingFlags.Static)!;

    private readonly JsonSerializerOptions _host;
    private readonly IJsonTypeInfoResolver _ordinary;

    private LazyJsonTypes(JsonSerializerOptions host) => (_host, _ordinary) = (host, host.TypeInfoResolver!);

    /// <summary>Makes the types of these options lazy. Copies of them, such as the one that describes the interface, see all members.</summary>
    internal static void In(JsonSerializerOptions host) => host.TypeInfoResolver = new LazyJsonTypes(host);

    public JsonTypeInfo? GetTypeInfo(Type type, JsonSerializerOptions options) =>
        options != _host || IsOrdinary(type) ? _ordinary.GetTypeInfo(type, options) : (JsonTypeInfo)Make.MakeGenericMethod(type).Invoke(null, [options])!;

    /// <summary>True for what has no members, and for types whose kind is told by a member.</summary>
    private static bool IsOrdinary(Type type) => type.IsPrimitive || type == typeof(object) || type == typeof(string) || IsPolymorphic(type);

    private static bool IsPolymorphic(Type? type) =>
        type is not null && (type.IsDefined(typeof(JsonPolymorphicAttribute), inherit: false) || IsPolymorphic(type.BaseType));

    private static JsonTypeInfo OnFirstUse<T>(JsonSerializerOptions options) => JsonMetadataServices.CreateValueInfo<T>(options, new Members<T>());

    private sealed class Members<T> : JsonConverter<T>
    {
        public override T? Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            JsonSerializer.Deserialize<T>(ref reader, CenoticJson.Options);

        public override void Write(Utf8JsonWriter writer, T value, JsonSerializerOptions options) =>
            JsonSerializer.Serialize(writer, value, CenoticJson.Options);
    }
}
