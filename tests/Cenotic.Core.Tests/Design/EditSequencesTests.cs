using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Design;

/// <summary>Random sequences of edits: whatever is carried out can be undone to the letter,
/// in one batch or step by step, and a refusal leaves no trace.</summary>
public class EditSequencesTests
{
    private static readonly SiteDesign Start = Samples.Fernhollow().Design;
    private static readonly string[] Nodes = ["hall", "drying", "cistern", "new-node"];
    private static readonly string[] Parts = ["radar", "air", "rack1", "echo", "float", "extra"];
    private static readonly string[] Rooms = ["hall", "kitchen", "garden", "shed"];

    private static readonly Gen<DesignEdit> AnyEdit = Gen.Select(Gen.Int[0, 13], Gen.Int[0, 3], Gen.Int[0, 5], Gen.Int[0, 3])
        .Select(
            (kind, n, p, r) =>
                (DesignEdit)(
                    kind switch
                    {
                        0 => new PutRoom(new(Rooms[r], $"Room {p}", [new(0, 0), new(p + 1, 0), new(0, 2)], [])),
                        1 => new RemoveRoom(Rooms[r]),
                        2 => new PutSpot(new($"spot-{p}", "Spot", null, p, r, 1, 0)),
                        3 => new RemoveSpot(p % 2 == 0 ? $"spot-{p}" : "hall-wall"),
                        4 => new PutNode(Samples.Node() with { Key = Nodes[n], Label = $"Node {p}" }),
                        5 => new RemoveNode(Nodes[n]),
                        6 => new PutPart(Nodes[n], Samples.Part(Parts[p], "bme280")),
                        7 => new RemovePart(Nodes[n], Parts[p]),
                        8 => new PutWire(Nodes[n], new(Parts[p], "SDA", $"R{r + 2}", WireHold.Soldered)),
                        9 => new RemoveWire(Nodes[n], Parts[p], "SDA"),
                        10 => new PutReading(Nodes[n], Samples.Every($"read-{r}", Parts[p], "temperature", 1000 * (p + 1))),
                        11 => new RemoveReading(Nodes[n], $"read-{r}"),
                        12 => new RemoveRule(p % 2 == 0 ? "hall-silent" : "drying-damp"),
                        _ => new SetSite(new($"Site {p}", "Europe/London", RadioRegion.Europe868)),
                    }
                )
        );

    private static string Json(SiteDesign design) => JsonSerializer.Serialize(design, CenoticJson.Options);

    [Fact]
    public void Step_by_step_undo_leads_back_to_the_letter() =>
        AnyEdit
            .Array[1, 30]
            .Sample(
                edits =>
                {
                    var (site, undo) = (Start, new Stack<IReadOnlyList<DesignEdit>>());
                    foreach (var edit in edits)
                    {
                        if (EditBatch.Apply(site, [edit]).TryGet(out var done))
                        {
                            undo.Push(done.Inverse);
                            site = done.After;
                        }
                    }
                    while (undo.TryPop(out var back))
                    {
                        site = EditBatch.Apply(site, back).Value.After;
                    }
                    return Json(site) == Json(Start);
                },
                iter: 300
            );

    [Fact]
    public void A_whole_batch_is_undone_by_its_inverse_and_touches_what_it_says() =>
        AnyEdit
            .Array[1, 12]
            .Sample(
                edits =>
                {
                    var batch = EditBatch.Apply(Start, edits);
                    if (!batch.TryGet(out var done))
                    {
                        return batch.Reasons.Count > 0;
                    }
                    var (before, after) = (Documents(Start), Documents(done.After));
                    var changed = before.Keys.Union(after.Keys).Where(k => before.GetValueOrDefault(k) != after.GetValueOrDefault(k));
                    return changed.All(done.Documents.Contains) && Json(EditBatch.Apply(done.After, done.Inverse).Value.After) == Json(Start);
                },
                iter: 300
            );

    private static Dictionary<string, string> Documents(SiteDesign site) =>
        new([
            new("site", JsonSerializer.Serialize(site.Settings, CenoticJson.Options)),
            new("place", JsonSerializer.Serialize(site.Place, CenoticJson.Options)),
            .. site.Nodes.Select(n => new KeyValuePair<string, string>("node:" + n.Key, JsonSerializer.Serialize(n, CenoticJson.Options))),
            .. site.Rules.Select(r => new KeyValuePair<string, string>("rule:" + r.Key, JsonSerializer.Serialize(r, CenoticJson.Options))),
        ]);
}
