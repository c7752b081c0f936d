using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Schema;
using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>What is wrong in a board, part or cell file: the line, the member, and the rule it breaks.</summary>
/// <param name="Line">Counted from 1; 0 when the whole file is meant.</param>
/// <param name="Member">Path of the member, as $.pins[3].adc.</param>
public sealed record FileFault(int Line, string Member, string Rule)
{
    /// <inheritdoc/>
    public override string ToString() => Line > 0 ? $"Line {Line}, {Member}: {Rule}" : $"{Member}: {Rule}";
}

/// <summary>Boards, parts and cells as files a maker writes, sends and reads. Described by a JSON Schema (draft 2020-12).</summary>
public static class HardwareFiles
{
    private const string Draft = "https://json-schema.org/draft/2020-12/schema";

    /// <summary>The schema of a file.</summary>
    /// <typeparam name="T"><see cref="Board"/>, <see cref="Part"/> or <see cref="Cell"/>.</typeparam>
    public static string SchemaOf<T>()
    {
        var exporter = new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true };
        var node = CenoticJson.Options.GetJsonSchemaAsNode(typeof(T), exporter).AsObject();
        var schema = new JsonObject { ["$schema"] = Draft, ["title"] = typeof(T).Name.ToLowerInvariant() };
        foreach (var (name, value) in node.ToList())
        {
            node.Remove(name);
            schema[name] = value;
        }
        schema["additionalProperties"] ??= false;
        return schema.ToJsonString(CenoticJson.Indented);
    }

    /// <summary>Writes a board, part or cell.</summary>
    public static string Write<T>(T hardware) => JsonSerializer.Serialize(hardware, CenoticJson.Indented);

    /// <summary>Reads and checks a board file.</summary>
    public static (Board? Board, IReadOnlyList<FileFault> Faults) ReadBoard(string json) => Read<Board>(json, HardwareRules.Faults);

    /// <summary>Reads and checks a part file.</summary>
    public static (Part? Part, IReadOnlyList<FileFault> Faults) ReadPart(string json) => Read<Part>(json, HardwareRules.Faults);

    /// <summary>Reads and checks a cell file.</summary>
    public static (Cell? Cell, IReadOnlyList<FileFault> Faults) ReadCell(string json) => Read<Cell>(json, HardwareRules.Faults);

    private static (T? Hardware, IReadOnlyList<FileFault> Faults) Read<T>(string json, Func<T, IReadOnlyList<(string Member, string Rule)>> rules)
        where T : class
    {
        T? hardware;
        try
        {
            hardware = JsonSerializer.Deserialize<T>(json, CenoticJson.Options);
        }
        catch (JsonException fault)
        {
            return (null, [new((int)(fault.LineNumber ?? 0) + 1, fault.Path ?? "$", Sentence(fault.Message))]);
        }
        if (hardware is null)
        {
            return (null, [new(1, "$", "The file is empty.")]);
        }
        var lines = LinesOf(json);
        var faults = rules(hardware).Select(f => new FileFault(lines.GetValueOrDefault(f.Member), f.Member, f.Rule)).ToList();
        return (faults.Count == 0 ? hardware : null, faults);
    }

    private static string Sentence(string message)
    {
        var end = message.IndexOf(" Path:", StringComparison.Ordinal);
        return end > 0 ? message[..end] : message;
    }

    /// <summary>The line of each member of a JSON text, by its path.</summary>
    private static Dictionary<string, int> LinesOf(string json)
    {
        var bytes = Encoding.UTF8.GetBytes(json);
        var lines = new Dictionary<string, int> { ["$"] = 1 };
        var reader = new Utf8JsonReader(bytes);
        var path = new Stack<(string Name, int Index)>();
        var (name, line, at) = ("$", 1, 0L);
        while (reader.Read())
        {
            for (; at < reader.TokenStartIndex; at++)
            {
                line += bytes[at] == '\n' ? 1 : 0;
            }
            switch (reader.TokenType)
            {
                case JsonTokenType.PropertyName:
                    name = $"{path.Peek().Name}.{reader.GetString()}";
                    lines[name] = line;
                    continue;
                case JsonTokenType.EndObject or JsonTokenType.EndArray:
                    path.Pop();
                    break;
                default:
                    if (path.Count > 0 && path.Peek().Index >= 0)
                    {
                        var (array, index) = path.Pop();
                        path.Push((array, index + 1));
                        name = $"{array}[{index}]";
                        lines[name] = line;
                    }
                    if (reader.TokenType is JsonTokenType.StartObject or JsonTokenType.StartArray)
                    {
                        path.Push((name, reader.TokenType == JsonTokenType.StartArray ? 0 : -1));
                    }
                    break;
            }
        }
        return lines;
    }
}
