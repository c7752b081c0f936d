using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.Place;

/// <summary>Light barriers of two halves: the pair of the catalogue reaches 0.25 m, or 0.5 m with the larger type.</summary>
public class LightBarrierTests
{
    private static SiteDesign Site(Spot emitter, Spot receiver, params Wall[] walls) =>
        Samples.Site(Samples.Node() with { Spot = "receiver", Parts = [Samples.Part("beam", "ir-break-beam") with { EmitterSpot = "emitter" }] }) with
        {
            Place = new([], walls, [emitter, receiver]),
        };

    private static Spot At(string key, double x, double y, double height = 1) => new(key, key, null, x, y, height, 0);

    private static Finding? Found(SiteDesign site) =>
        SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Findings.SingleOrDefault(f => f.Code.StartsWith("PLACE-BARRIER", StringComparison.Ordinal));

    [Theory]
    [InlineData(0.24, null)]
    [InlineData(0.26, Severity.Risk)]
    [InlineData(0.49, Severity.Risk)]
    [InlineData(0.51, Severity.Stop)]
    [InlineData(0.9, Severity.Stop)]
    public void It_is_told_when_the_halves_hang_too_far_apart_and_mended_by_hanging_one_nearer(double metres, Severity? severity)
    {
        var site = Site(At("emitter", 1, 1 + metres), At("receiver", 1, 1));
        var found = Found(site);
        Assert.Equal(severity, found?.Severity);
        if (found is not null)
        {
            Assert.Equal("PLACE-BARRIER-FAR", found.Code);
            Assert.Null(Found(EditBatch.Apply(site, found.Remedies.Single().Edits).Value.After));
        }
        var sight = SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Place.Coverage.Sights.Single();
        Assert.Equal(metres, sight.Sees.Value!.Value, 1e-9);
    }

    /// <summary>A wall with a passage of 0.8 m, met or not: the light is followed millimetre by millimetre.</summary>
    [Fact]
    public void It_is_told_exactly_where_a_wall_stands_in_the_light()
    {
        var random = new Random(5);
        var blocked = 0;
        for (var round = 0; round < 300; round++)
        {
            double Of(double most) => Math.Round(random.NextDouble() * most, 2);
            var (emitter, receiver) = (At("emitter", Of(0.5), Of(0.5)), At("receiver", Of(0.5), Of(0.5)));
            Wall wall = new("w", new(Of(0.5), -1), new(Of(0.5), 2), WallMaterial.Brick, 0.1)
            {
                Openings = [new(OpeningKind.Passage, 0.2 + Of(1.5), 0.8, 0, 2)],
            };
            if (IsClear(emitter, receiver, wall) is { } clear)
            {
                blocked += clear ? 0 : 1;
                Assert.Equal(!clear, Found(Site(emitter, receiver, wall))?.Code == "PLACE-BARRIER-BLOCKED");
            }
        }
        Assert.InRange(blocked, 20, 200);
    }

    /// <summary>Null where a millimetre decides it.</summary>
    private static bool? IsClear(Spot from, Spot to, Wall wall)
    {
        var (wx, wy) = (wall.To.X - wall.From.X, wall.To.Y - wall.From.Y);
        var length = Math.Sqrt(wx * wx + wy * wy);
        double Side(double part) => (from.X + part * (to.X - from.X) - wall.From.X) * wy - (from.Y + part * (to.Y - from.Y) - wall.From.Y) * wx;
        if (Math.Abs(Side(0)) < 0.002 || Math.Abs(Side(1)) < 0.002)
        {
            return null;
        }
        const int steps = 2000;
        for (var i = 0; i < steps; i++)
        {
            if (Side(i / (double)steps) * Side((i + 1) / (double)steps) <= 0)
            {
                var part = (i + 0.5) / steps;
                var (x, y) = (from.X + part * (to.X - from.X) - wall.From.X, from.Y + part * (to.Y - from.Y) - wall.From.Y);
                var along = (x * wx + y * wy) / length;
                var passage = wall.Openings[0];
                var inside = Math.Min(along - passage.AtMetres, passage.AtMetres + passage.WidthMetres - along);
                return Math.Abs(inside) < 0.002 ? null : inside > 0;
            }
        }
        return true;
    }

    [Fact]
    public void An_emitter_that_hangs_with_another_node_is_not_moved_and_only_light_barriers_have_one()
    {
        var site = Site(At("emitter", 1, 1.9), At("receiver", 1, 1));
        var shared = site with { Nodes = [.. site.Nodes, Samples.Node() with { Key = "other", Spot = "emitter" }] };
        Assert.Empty(Found(shared)!.Remedies);
        Assert.Null(Found(site with { Nodes = [site.Nodes[0] with { Parts = [Samples.Part("pir", "pir-am312") with { EmitterSpot = "emitter" }] }] }));
    }

    [Fact]
    public void A_floor_and_a_closed_door_are_in_the_way()
    {
        var door = new Wall("w", new(0, 1.1), new(2, 1.1), WallMaterial.Brick, 0.1) { Openings = [new(OpeningKind.Door, 0.6, 0.9, 0, 2)] };
        Assert.Contains("a door 0.10 m from the emitter, when it is closed", Found(Site(At("emitter", 1, 1.2), At("receiver", 1, 1), door))!.What);
        var floors = Site(At("emitter", 1, 1, 2.8), At("receiver", 1, 1, 2.6));
        floors = floors with { Place = floors.Place with { Floors = [new("up", "Upstairs", 2.7, 2.4, null, null)] } };
        Assert.Contains("stands a floor", Found(floors)!.What);
    }

    [Fact]
    public void A_hedge_is_in_the_way_where_the_light_goes_through_it()
    {
        SiteDesign Grown(double from, double to)
        {
            var site = Site(At("emitter", 1, 1.2), At("receiver", 1, 1));
            Room hedge = new("hedge", "Hedge", [new(0, from), new(2, from), new(2, to), new(0, to)], [RoomTag.Outdoor, RoomTag.Trees]);
            return site with { Place = site.Place with { Rooms = [.. site.Place.Rooms, hedge] } };
        }
        Assert.Contains("stands a tree or a hedge", Found(Grown(1.05, 1.1))!.What);
        Assert.Null(Found(Grown(2, 3)));
    }
}
