using System.Text.Json;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Place;

namespace Cenotic.Core.Tests.Formats;

/// <summary>The plan as GeoJSON, out and in.</summary>
public class PlaceGeoJsonTests
{
    private static readonly PlaceDesign Fernhollow = Samples.Fernhollow().Design.Place with { Anchor = new(52.1, -1.9, 20) };

    private static SiteDesign Site(PlaceDesign place) => SiteDesign.Empty("Test site") with { Place = place };

    private static PlaceDesign After(PlaceDesign place, PlaceImport import) => EditBatch.Apply(Site(place), import.Edits).Value.After.Place;

    private static readonly PlaceDesign Empty = new([], [], []);

    /// <summary>All that stands comes back to the millimetre, whichever way rooms were drawn; what has its key replaces it.</summary>
    [Fact]
    public void What_is_written_is_read_again()
    {
        var import = PlaceGeoJson.Read(PlaceGeoJson.Write(Fernhollow).Value, Empty with { Anchor = Fernhollow.Anchor, Floors = Fernhollow.Floors }).Value;
        Assert.Equal((Fernhollow.Rooms.Count, Fernhollow.Walls.Count, Fernhollow.Spots.Count), (import.Rooms, import.Walls, import.Spots));
        foreach (var back in new[] { After(Empty with { Anchor = Fernhollow.Anchor, Floors = Fernhollow.Floors }, import), After(Fernhollow, import) })
        {
            Assert.Equal(Fernhollow.Rooms.Select(r => (r.Key, r.Label, r.Floor)), back.Rooms.Select(r => (r.Key, r.Label, r.Floor)));
            Assert.All(Fernhollow.Rooms.Zip(back.Rooms), r =>
            {
                Assert.Equal(r.First.Tags, r.Second.Tags);
                // The same corners, perhaps the other way round.
                Assert.All(r.First.Corners, c => Assert.Contains(r.Second.Corners, b => Near(b, c)));
                Assert.Equal(r.First.Corners.Count, r.Second.Corners.Count);
            });
            Assert.All(Fernhollow.Walls.Zip(back.Walls), w =>
            {
                Assert.True(Near(w.First.From, w.Second.From) && Near(w.First.To, w.Second.To));
                Assert.Equal(
                    (w.First.Key, w.First.Material, w.First.ThicknessMetres, w.First.Floor),
                    (w.Second.Key, w.Second.Material, w.Second.ThicknessMetres, w.Second.Floor)
                );
                Assert.Equal(w.First.Openings, w.Second.Openings);
            });
            Assert.All(Fernhollow.Spots.Zip(back.Spots), s =>
            {
                Assert.True(Near(new(s.First.X, s.First.Y), new(s.Second.X, s.Second.Y)));
                Assert.Equal(s.First with { X = 0, Y = 0 }, s.Second with { X = 0, Y = 0 });
            });
        }
        static bool Near(Point a, Point b) => Math.Abs(a.X - b.X) < 0.002 && Math.Abs(a.Y - b.Y) < 0.002;
    }

    /// <summary>RFC 7946, 3.1.6: the outer ring is closed and counterclockwise; 3.1.1: longitude comes first.</summary>
    [Fact]
    public void Rings_are_closed_and_counterclockwise_with_longitude_first()
    {
        using var document = JsonDocument.Parse(PlaceGeoJson.Write(Fernhollow).Value);
        var features = document.RootElement.GetProperty("features").EnumerateArray().Select(f => f.GetProperty("geometry")).ToList();
        var rings = features.Where(g => g.GetProperty("type").GetString() == "Polygon").Select(g => g.GetProperty("coordinates")[0]).ToList();
        Assert.Equal(Fernhollow.Rooms.Count, rings.Count);
        Assert.All(rings, ring =>
        {
            var at = ring.EnumerateArray().Select(p => (X: p[0].GetDouble(), Y: p[1].GetDouble())).ToList();
            Assert.Equal(at[0], at[^1]);
            Assert.True(at.Zip(at.Skip(1)).Sum(s => (s.First.X + 1.9) * (s.Second.Y - 52.1) - (s.Second.X + 1.9) * (s.First.Y - 52.1)) > 0);
            Assert.All(at, p => Assert.True(Math.Abs(p.X + 1.9) < 0.001 && Math.Abs(p.Y - 52.1) < 0.001));
        });
    }

    private static string Collection(string geometry, string properties = "null") =>
        $$"""{"type": "FeatureCollection", "features": [{"type": "Feature", "geometry": {{geometry}}, "properties": {{properties}}}]}""";

    /// <summary>A house of 12 m by 9 m as another program draws it, at 50° north: 1 m is 0.000008990° of latitude and 0.00001395° of longitude.</summary>
    [Fact]
    public void A_file_of_another_program_begins_a_plan()
    {
        const string House = """[[[8.0, 50.0], [8.00016741, 50.0], [8.00016741, 50.00008091], [8.0, 50.00008091], [8.0, 50.0]]]""";
        var import = PlaceGeoJson
            .Read(Collection($$"""{"type": "Polygon", "coordinates": {{House}}}""", """{"name": "Grandma's house", "roof": 3}"""), Empty)
            .Value;
        var place = After(Empty, import);
        Assert.Equal(new SiteAnchor(50.00008091, 8), place.Anchor);
        var room = Assert.Single(place.Rooms);
        Assert.Equal(("grandma-s-house", "Grandma's house"), (room.Key, room.Label));
        Assert.Equal(
            (0, 0, 12, 9),
            (room.Corners.Min(c => c.X), room.Corners.Min(c => c.Y), Math.Round(room.Corners.Max(c => c.X), 1), Math.Round(room.Corners.Max(c => c.Y), 1))
        );
    }

    [Fact]
    public void A_line_is_a_wall_from_corner_to_corner_and_a_point_a_spot_in_its_room()
    {
        const string Line = """{"type": "MultiLineString", "coordinates": [[[8, 50], [8.0001, 50], [8.0001, 50.0001]]]}""";
        var anchored = Empty with { Anchor = new(50, 8), Rooms = [new("hall", "Hall", [new(-5, -20), new(20, -20), new(20, 5), new(-5, 5)], [])] };
        var walls = After(anchored, PlaceGeoJson.Read(Collection(Line, """{"material": "concrete"}"""), anchored).Value).Walls;
        Assert.Equal(["wall", "wall-2"], walls.Select(w => w.Key));
        Assert.All(walls, w => Assert.Equal(WallMaterial.Concrete, w.Material));
        Assert.Equal(walls[0].To, walls[1].From);
        var spot = Assert
            .Single(PlaceGeoJson.Read(Collection("""{"type": "Point", "coordinates": [8.00002, 50.00002]}"""), anchored).Value.Edits.OfType<PutSpot>())
            .Spot;
        Assert.Equal("hall", spot.Room);
    }

    [Theory]
    [InlineData("[1, 2", "This is no JSON")]
    [InlineData("{}", "must be a FeatureCollection")]
    [InlineData("""{"type": "FeatureCollection", "features": 3}""", "must be a FeatureCollection")]
    [InlineData("""{"type": "FeatureCollection", "features": [5]}""", "Feature 1 has no geometry")]
    public void What_is_no_plan_is_refused(string json, string says) => Assert.Contains(says, Assert.Single(PlaceGeoJson.Read(json, Fernhollow).Reasons));

    [Theory]
    [InlineData("""{"type": "Point", "coordinates": [-1.9, 51.1]}""", "Feature 1 lies 111 km from the plan's corner")]
    [InlineData("""{"type": "Point", "coordinates": [52.1, -1.9]}""", "Longitude comes first")]
    [InlineData("""{"type": "Point", "coordinates": [-1.9, 52.106]}""", "Feature 1 lies 6")]
    [InlineData("""{"type": "Point", "coordinates": [500, 52.1]}""", "is longitude, then latitude")]
    [InlineData("""{"type": "Point", "coordinates": "here"}""", "is longitude, then latitude")]
    [InlineData("""{"type": "Point"}""", "is longitude, then latitude")]
    [InlineData("""{"type": "Polygon", "coordinates": [[[-1.9, 52.1], [-1.9, 52.1001]]]}""", "needs four positions")]
    [InlineData("""{"type": "Polygon", "coordinates": [[[-1.9, 52.1], [-1.8999, 52.1], [-1.8999, 52.1], [-1.9, 52.1]], [[-1.9, 52.1]]]}""", "has a hole")]
    [InlineData("""{"type": "LineString", "coordinates": [[-1.9, 52.1]]}""", "needs two positions")]
    [InlineData("""{"type": "GeometryCollection", "geometries": []}""", "Feature 1 is a GeometryCollection")]
    [InlineData("""{"coordinates": []}""", "geometry without a type")]
    public void What_does_not_fit_is_told_where_it_stands(string geometry, string says) =>
        Assert.Contains(PlaceGeoJson.Read(Collection(geometry), Fernhollow).Reasons, r => r.Contains(says, StringComparison.Ordinal));

    [Fact]
    public void A_material_that_is_none_is_told_and_a_plan_without_an_anchor_asks_for_it()
    {
        const string Line = """{"type": "LineString", "coordinates": [[-1.9, 52.1], [-1.9, 52.1001]]}""";
        Assert.Contains(
            "\"material\" is \"gingerbread\"; it must be one of plasterboard, brick, concrete, timber, glass, metal.",
            Assert.Single(PlaceGeoJson.Read(Collection(Line, """{"material": "gingerbread"}"""), Fernhollow).Reasons)
        );
        Assert.Contains("Say first where", Assert.Single(PlaceGeoJson.Read(Collection(Line), Fernhollow with { Anchor = null }).Reasons));
        Assert.Contains("Say first where", Assert.Single(PlaceGeoJson.Write(Fernhollow with { Anchor = null }).Reasons));
    }

    /// <summary>Rooms lie above each other: a spot is in the one of its floor.</summary>
    [Theory]
    [InlineData("""{"floor": "upstairs"}""", "landing")]
    [InlineData("{}", "stair")]
    public void A_spot_is_in_the_room_of_its_floor(string properties, string room)
    {
        var place = Samples.Fernhollow().Design.Place with { Anchor = new(52.1, -1.9) };
        var (latitude, longitude) = new EarthFrame(place.Anchor).OnEarth(new(2, 3.4));
        var at = FormattableString.Invariant($$"""{"type": "Point", "coordinates": [{{longitude}}, {{latitude}}]}""");
        var spot = Assert.IsType<PutSpot>(Assert.Single(PlaceGeoJson.Read(Collection(at, properties), place).Value.Edits)).Spot;
        Assert.Equal((room, 2, 3.4), (spot.Room, Math.Round(spot.X, 2), Math.Round(spot.Y, 2)));
    }

    /// <summary>A room whose outline crosses itself is refused by the edit, and nothing of the file is taken.</summary>
    [Fact]
    public void What_the_plan_does_not_take_is_refused_as_a_whole()
    {
        const string Bow = """{"type": "Polygon", "coordinates": [[[-1.9, 52.1], [-1.8999, 52.1001], [-1.8999, 52.1], [-1.9, 52.1001], [-1.9, 52.1]]]}""";
        var import = PlaceGeoJson.Read(Collection(Bow), Fernhollow).Value;
        Assert.Contains("crosses itself", Assert.Single(EditBatch.Apply(Site(Fernhollow), import.Edits).Reasons));
    }
}
