using System.Globalization;
using System.Text;
using System.Text.Json;
using Cenotic.Core.Bench;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Formats;

/// <summary>A bench plan for other tools: tables as CSV (RFC 4180), pins as a C header and as JSON.</summary>
public static class BenchExports
{
    /// <summary>The wiring table in soldering order: every joint.</summary>
    public static string WiringCsv(BenchPlan plan) =>
        GuardedCsv.Of(
            ["order", "kind", "form", "net", "from", "from terminal", "to", "to pin", "insulation", "length m", "for", "held"],
            plan.Wires.Select(w =>
                new[]
                {
                    $"{w.Order}",
                    Word(w.Kind),
                    Word(w.Form),
                    w.Net,
                    w.PartLabel,
                    w.Line,
                    w.PinLabel,
                    w.Pin,
                    w.Colour,
                    w.Form == WireForm.Wire ? w.LengthMetres.ToString("0.##", CultureInfo.InvariantCulture) : "",
                    w.Serves ?? "",
                    w.Hold is { } h ? Word(h) : "",
                }
            )
        );

    /// <summary>The netlist: every terminal that is joined, with its net and what its component is.
    /// Components without a joint stand with their open terminals.</summary>
    public static string NetlistCsv(BenchPlan plan) =>
        GuardedCsv.Of(
            ["component", "what", "value", "terminal", "net", "net label"],
            plan.Circuit.Components.SelectMany(c =>
                c.Terminals.Where(t => t.Net is not null || c.Kind == ComponentKind.Part)
                    .Select(t => new[] { c.Key, Word(c.Kind), c.Value, t.Name, t.Net ?? "", plan.Circuit.Net(t.Net)?.Label ?? "" })
            )
        );

    /// <summary>Pins and addresses as a C header.</summary>
    public static string CHeader(NodeDesign node, BenchPlan plan, Board board)
    {
        var guard = CText.Name(node.Key) + "_PINS_H";
        var text = new StringBuilder();
        text.Append(
            CultureInfo.InvariantCulture,
            $"/* Pins and addresses of node {CText.Comment(node.Label)} on {CText.Comment(board.Label)}. */\n#ifndef {guard}\n#define {guard}\n\n"
        );
        foreach (
            var line in CText
                .Pins(NodeSettings.PinsOf(plan, board))
                .Concat(plan.Parts.Where(p => p.Address is not null).Select(p => CText.Address(p.Part, p.Address!.Value, p.Bus, p.Behind)))
        )
        {
            text.Append(line).Append('\n');
        }
        return text.Append(CultureInfo.InvariantCulture, $"\n#endif /* {guard} */\n").ToString();
    }

    /// <summary>Pins, buses and addresses as JSON.</summary>
    public static string PinsJson(NodeDesign node, BenchPlan plan) =>
        JsonSerializer.Serialize(
            new
            {
                Node = node.Key,
                node.Board,
                Pins = plan.Lines.Select(w => new
                {
                    w.Part,
                    w.Line,
                    w.Pin,
                    w.PinLabel,
                    w.PinName,
                }),
                Buses = plan.Buses.Select(b => new
                {
                    b.Name,
                    b.Kind,
                    b.ClockKilohertz,
                    b.Parts,
                }),
                Addresses = plan
                    .Parts.Where(p => p.Address is not null)
                    .Select(p => new
                    {
                        p.Part,
                        p.Bus,
                        p.Address,
                        p.Strap,
                        p.Behind,
                    }),
            },
            CenoticJson.Indented
        );

    private static string Word<T>(T value)
        where T : struct, Enum => value.ToString().ToLowerInvariant();
}
