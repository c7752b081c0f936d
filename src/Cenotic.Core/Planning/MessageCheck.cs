using System.Text;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Formats;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Planning;

/// <summary>The longest message of a node over MQTT, counted byte by byte as it is written, against the buffer of its client.</summary>
internal static class MessageCheck
{
    /// <summary>What small MQTT clients hold unless told otherwise (common practice, no source).</summary>
    private const int UsualBuffer = 256;

    /// <summary>A moment of this century, to the millisecond: as long as a base time gets.</summary>
    private const double LongTime = 1_799_999_999.123;
    private const double LongNumber = 4_294_967_295;

    internal static RhythmPlan With(RhythmPlan plan, NodeDesign node, string site, HardwareCatalogue catalogue)
    {
        if (!node.IsOnNetwork || plan.Wakes.Where(w => w.Sends.Count > 0).ToList() is not { Count: > 0 } sending)
        {
            return plan;
        }
        var topic = Topics.Data(site, node.Key);
        var payload = sending.Select(w => Longest(node, w, plan, catalogue)).MaxBy(p => p.Length)!;
        var size = Size("Longest message", topic, payload.Length, "SenML text with the longest values");
        var flat = Flat(node, sending, catalogue) is { } text
            ? Size("Longest message, flat", topic, Encoding.UTF8.GetByteCount(text), "an object of readings and numbers with the longest values")
            : null;
        return plan with
        {
            Figures = [.. plan.Figures, size, .. flat is null ? Array.Empty<Figure>() : [flat]],
            Findings = [.. plan.Findings, .. Findings(node, (int)size.Value!.Value, (int?)flat?.Value)],
        };
    }

    private static Figure Size(string label, string topic, int payload, string what)
    {
        var name = Encoding.UTF8.GetByteCount(topic);
        var bytes = MqttPacket.PublishBytes(name, payload, 1);
        return Figure.Exact(
            label,
            bytes,
            Unit.Byte,
            new Working(
                "1 + length field + 2 + topic + 2 + payload",
                [
                    new("topic", name, Unit.Byte, topic),
                    new("payload", payload, Unit.Byte, what),
                    new("length field", MqttPacket.LengthFieldBytes(bytes - 2), Unit.Byte, "7 bits a byte"),
                ],
                "OASIS MQTT 3.1.1, 2.2.3 and 3.3"
            )
        );
    }

    /// <summary>The longest message written as an object of readings and numbers; null where a message holds several times, which that form cannot.</summary>
    private static string? Flat(NodeDesign node, List<WakeKind> sending, HardwareCatalogue catalogue)
    {
        string Of(WakeKind wake) =>
            "{"
            + string.Join(
                ",",
                node.Readings.Where(r => wake.Sends.Contains(r.Key))
                    .Select(r => (r.Key, Value: ValueText.Longest(Quantity(node, r, catalogue), r.Decimals)))
                    .Append(("sys/boot", LongNumber))
                    .Append(("sys/seq", LongNumber))
                    .Select(r => $"\"{r.Item1}\":{ValueText.Text(r.Item2)}")
            )
            + "}";
        return node.Readings.Any(r => r.IntervalMs is not null && r.BatchOf > 1) ? null : sending.Select(Of).MaxBy(t => t.Length);
    }

    private static PartQuantity? Quantity(NodeDesign node, ReadingDesign reading, HardwareCatalogue catalogue) =>
        catalogue.Part(node.Part(reading.Part)?.Part ?? "")?.Quantities.FirstOrDefault(q => q.Quantity == reading.Quantity);

    private static IEnumerable<Finding> Findings(NodeDesign node, int bytes, int? flat)
    {
        var send = node.Sending ?? new SendDesign();
        var holds = (bytes + 127) / 128 * 128;
        if (bytes <= (send.BufferBytes ?? UsualBuffer))
        {
            yield break;
        }
        var larger = new Remedy($"Its client holds {holds} bytes", [SetNodes.WithSending(node, send with { BufferBytes = holds })]);
        var held = send.BufferBytes ?? UsualBuffer;
        var shorter = flat <= held ? $" Written flat, as one object of readings and numbers, it has {flat} bytes and fits." : "";
        const string Source = "OASIS MQTT 3.1.1, 2.2.3 and 3.3";
        yield return send.BufferBytes is { } buffer
            ? new(
                "RHYTHM-MESSAGE-BIG",
                Severity.Risk,
                new("rhythm", node.Key),
                $"The longest message of {node.Label} has {bytes} bytes; its client holds {buffer}.",
                "The client drops it, mostly without a word.",
                [larger],
                "Or shorter names, and fewer readings in a message." + shorter,
                Source
            )
            : new(
                "RHYTHM-MESSAGE-BIG",
                Severity.Note,
                new("rhythm", node.Key),
                $"The longest message of {node.Label} has {bytes} bytes; many small clients hold {UsualBuffer} unless told otherwise.",
                "A client drops what does not fit, mostly without a word.",
                [larger],
                $"Set the buffer of the client to {holds} bytes." + shorter,
                Source + "; the 256 bytes are common practice, no source"
            );
    }

    private static byte[] Longest(NodeDesign node, WakeKind wake, RhythmPlan plan, HardwareCatalogue catalogue)
    {
        var records = new List<SenmlValue>();
        foreach (var reading in node.Readings.Where(r => wake.Sends.Contains(r.Key)))
        {
            var quantity = Quantity(node, reading, catalogue);
            var every = plan.Readings.First(r => r.Reading == reading.Key).IntervalMs ?? 0;
            for (var back = every > 0 ? Math.Max(1, reading.BatchOf) - 1 : 0; back >= 0; back--)
            {
                records.Add(new(reading.Key, Unit.ToSenml(quantity?.Unit ?? ""), ValueText.Longest(quantity, reading.Decimals), -back * every / 1000.0));
            }
        }
        records.Add(new("sys/boot", null, LongNumber));
        records.Add(new("sys/seq", null, LongNumber));
        return Senml.Write(LongTime, records);
    }
}
