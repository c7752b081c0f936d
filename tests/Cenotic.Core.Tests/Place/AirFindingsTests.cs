using Cenotic.Core.Design;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.Place;

/// <summary>Thermometers beside what warms the air, against distances to many points of it.</summary>
public class AirFindingsTests
{
    private static SiteDesign Site(Spot spot, HeatSource heat, Opening window) =>
        Samples.Site(Samples.Node(("air", "bme280")) with { Spot = "s", Readings = [Samples.Every("t", "air", "temperature", 60_000)] }) with
        {
            Place = new(
                [new("room", "Room", [new(0, 0), new(6, 0), new(6, 5), new(0, 5)], [])],
                [new Wall("n", new(0, 0), new(6, 0), WallMaterial.Brick, 0.2) { Openings = [window] }, new("s", new(6, 5), new(0, 5), WallMaterial.Brick, 0.2)],
                [spot]
            )
            {
                HeatSources = [heat],
            },
        };

    private static Finding? Found(SiteDesign site) =>
        SitePlanner.Plan(site, Samples.Catalogue, Evidence.None).Findings.FirstOrDefault(f => f.Code == "PLACE-AIR-NEAR");

    [Fact]
    public void Found_exactly_where_a_tape_measure_says_so_and_the_remedy_is_far_enough()
    {
        var random = new Random(11);
        var (found, mended) = (0, 0);
        for (var round = 0; round < 400; round++)
        {
            double Of(double most) => Math.Round(random.NextDouble() * most, 2);
            var window = new Opening(OpeningKind.Window, Of(4), 1.2, 0.9, 1.2);
            var heat = new HeatSource("h", "Radiator", HeatSourceKind.Heater, Of(6), Of(5));
            var spot = new Spot("s", "Spot", "room", Of(6), Math.Round(0.12 + random.NextDouble() * 4.7, 2), Math.Round(0.4 + random.NextDouble() * 2, 2), 0);
            var site = Site(spot, heat, window);
            var beside = Beside(spot, heat, window);
            if (beside is null)
            {
                continue;
            }
            var finding = Found(site);
            Assert.True(beside == (finding is not null), $"{spot}, {heat}, {window}: {finding?.What}");
            found += finding is null ? 0 : 1;
            foreach (var remedy in finding?.Remedies ?? [])
            {
                mended++;
                Assert.Null(Found(EditBatch.Apply(site, remedy.Edits).Value.After));
            }
        }
        Assert.True(found > 15 && mended > 15, $"{found} found, {mended} mended");
    }

    /// <summary>Within 1 m of the heater, or within 0.5 m of some point of the window at its height; null where it is a matter of a centimetre.</summary>
    private static bool? Beside(Spot spot, HeatSource heat, Opening window)
    {
        var toHeat = Math.Sqrt(Math.Pow(spot.X - heat.X, 2) + Math.Pow(spot.Y - heat.Y, 2));
        var toWindow = Enumerable.Range(0, 1201).Min(i => Math.Sqrt(Math.Pow(spot.X - window.AtMetres - i / 1000.0, 2) + Math.Pow(spot.Y, 2)));
        var level = spot.HeightMetres > 0.6 && spot.HeightMetres < 2.4;
        return Math.Abs(toHeat - 1) < 0.02 || Math.Abs(toWindow - 0.5) < 0.02 ? null : toHeat < 1 || (level && toWindow < 0.5);
    }

    [Fact]
    public void A_probe_on_a_long_lead_and_what_hangs_outdoors_are_not_judged()
    {
        var near = Site(new("s", "Spot", "room", 3, 3, 1.5, 0), new("h", "Radiator", HeatSourceKind.Heater, 3.3, 3), new(OpeningKind.Window, 1, 1.2, 0.9, 1.2));
        Assert.Contains("0.3 m from Radiator", Found(near)!.What);
        Assert.Null(Found(near with { Nodes = [near.Nodes[0] with { Parts = [near.Nodes[0].Parts[0] with { LeadMetres = 2 }] }] }));
        Assert.Null(Found(near with { Place = near.Place with { Rooms = [near.Place.Rooms[0] with { Tags = [RoomTag.Outdoor] }] } }));
    }
}
