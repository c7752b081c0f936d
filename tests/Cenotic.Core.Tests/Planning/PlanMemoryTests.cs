using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using CsCheck;

namespace Cenotic.Core.Tests.Planning;

/// <summary>A plan made with a memory is the plan made without, and only what changed is planned again.</summary>
public class PlanMemoryTests
{
    private static string Json(SitePlan plan) => JsonSerializer.Serialize(plan, CenoticJson.Options);

    private static readonly Gen<DesignEdit> AnyEdit = Gen.Select(Gen.Int[0, 15], Gen.Int[1, 40])
        .Select(
            (kind, n) =>
                (DesignEdit)(
                    kind switch
                    {
                        0 => new PutReading("cistern", Samples.Every("level", "echo", "distance", 60_000 * n)),
                        1 => new PutReading("kiln", Samples.Every("air", "air", "temperature", 5_000 * n)),
                        2 => new PutPart("hall", Samples.Part("extra", n % 2 == 0 ? "bme280" : "ds18b20")),
                        3 => new RemovePart("hall", "extra"),
                        4 => new PutRoom(new("garden", "Garden", [new(0, 4.2), new(10, 4.2), new(10, 9 + n / 10.0)], n % 2 == 0 ? [RoomTag.Outdoor] : [])),
                        5 => new RemoveOwnPart("spring-vibration"),
                        6 => new PutWall(new("w4", new(0, 4.2), new(8.4, 4.2), n % 2 == 0 ? WallMaterial.Metal : WallMaterial.Concrete, n / 100.0)),
                        7 => new PutSpot(new("gate-box", "Gate", "garden", n / 4.0, 9, 1, 180)),
                        8 => new PutAccessPoint(new("ap", "Access point", n % 2 == 0 ? "mast-top" : "kiln-wall")),
                        9 => new PutSpot(new("hall-wall", "Hall wall", "hall", 0.3 + n / 20.0, 1.3, 2, n * 9, n)),
                        10 => new PutSpot(new("kitchen-shelf", "Kitchen shelf", "kitchen", 8, n / 10.0, 1.9, 315)),
                        11 => new SetAnchor(new(50, n)),
                        12 => new PutWall(new("screen", new(n / 10.0, 0.2), new(n / 10.0 + 1, 2), WallMaterial.Timber)),
                        13 => new RemoveWall("screen"),
                        14 => new PutHeatSource(new("stove", "Stove", HeatSourceKind.Heater, n / 10.0, 1.5)),
                        _ => new SetSite(new($"Site {n}", "Europe/London", RadioRegion.Europe868)),
                    }
                )
        );

    [Fact]
    public void With_and_without_a_memory_are_the_same() =>
        AnyEdit
            .Array[1, 5]
            .Sample(
                edits =>
                {
                    var file = Samples.Fernhollow();
                    var (site, memory) = (file.Design, new PlanMemory());
                    foreach (var edit in edits)
                    {
                        site = EditBatch.Apply(site, [edit]).TryGet(out var done) ? done.After : site;
                        var evidence = edit switch
                        {
                            SetSite => file.Evidence,
                            PutWall => Evidence.None with { Links = [new("cistern", LinkKind.LongRange, 70, 100)] },
                            _ => new Evidence([new("cistern", PowerState.Asleep, 0.1, "meter", 1)]),
                        };
                        SitePlanner.Plan(site, Samples.Catalogue, evidence, "home", memory);
                        if (
                            Json(SitePlanner.Plan(site, Samples.Catalogue, evidence, "home", memory))
                            != Json(SitePlanner.Plan(site, Samples.Catalogue, evidence, "home"))
                        )
                        {
                            return false;
                        }
                    }
                    return true;
                },
                iter: 12,
                threads: 2
            );

    [Fact]
    public void One_edited_node_is_one_node_planned()
    {
        var file = Samples.Fernhollow();
        var memory = new PlanMemory();
        SitePlanner.Plan(file.Design, Samples.Catalogue, file.Evidence, memory: memory);
        Assert.Equal(file.Design.Nodes.Count, memory.Planned);
        var after = EditBatch.Apply(file.Design, [new PutReading("kiln", Samples.Every("air", "air", "temperature", 30_000))]).Value.After;
        SitePlanner.Plan(after, Samples.Catalogue, file.Evidence, memory: memory);
        Assert.Equal(file.Design.Nodes.Count + 1, memory.Planned);
        // A current measured on one node is that node's alone.
        var measured = file.Evidence with { Currents = [.. file.Evidence.Currents, new("hall", PowerState.Active, 99, "meter", 2)] };
        SitePlanner.Plan(after, Samples.Catalogue, measured, memory: memory);
        Assert.Equal(file.Design.Nodes.Count + 2, memory.Planned);
    }

    /// <summary>A wall that shuts a node in is planned anew for that node; one that stands in nobody's way is not.</summary>
    [Fact]
    public void A_wall_is_planned_anew_for_the_links_that_go_through_it()
    {
        var file = Samples.Fernhollow();
        // Without walks: a wall that one of them met changes what is fitted to it, and with it all links.
        var unwalked = file.Evidence with { Walks = [] };
        var memory = new PlanMemory();
        SiteDesign With(Wall wall) => EditBatch.Apply(file.Design, [new PutWall(wall)]).Value.After;
        SitePlanner.Plan(file.Design, Samples.Catalogue, unwalked, memory: memory);
        SitePlanner.Plan(With(new("far", new(-9, -9), new(-9, -5), WallMaterial.Metal)), Samples.Catalogue, unwalked, memory: memory);
        Assert.Equal(file.Design.Nodes.Count, memory.Planned);
        SitePlanner.Plan(With(new("gate", new(13.6, 10.1), new(14.7, 10.1), WallMaterial.Metal)), Samples.Catalogue, unwalked, memory: memory);
        Assert.Equal(file.Design.Nodes.Count + 1, memory.Planned);
    }
}
