using Cenotic.Core.Electrical;
using CsCheck;

namespace Cenotic.Core.Tests.Electrical;

/// <summary>Loss on the way, walls, sensitivity and delivery against published values and values worked out apart from this program.</summary>
public class RadioFormulasTests
{
    private static readonly string[] Materials = ["concrete", "brick", "plasterboard", "wood", "glass", "chipboard"];

    /// <summary>ITU-R P.525; the last row is Rappaport's worked example of 50 W at 900 MHz over 100 m: 46.99 dBm less the loss is −24.5 dBm.</summary>
    [Theory]
    [InlineData(868, 1000, 91.2182)]
    [InlineData(2440, 10, 60.1956)]
    [InlineData(433.92, 100, 65.196)]
    [InlineData(915, 1, 31.6762)]
    [InlineData(900, 100, 46.99 + 24.5)]
    public void Free_space(double megahertz, double metres, double db) => Assert.Equal(db, PathLoss.FreeSpaceDb(megahertz, metres), 0.06);

    /// <summary>The first row is Rappaport's worked example: 4.4 from 100 m.</summary>
    [Theory]
    [InlineData(0, 100, 4.4, 2000, 57.24)]
    [InlineData(31.2, 1, 2.7, 50, 77.0722)]
    [InlineData(91.2, 1000, 3.5, 4000, 112.2721)]
    public void Log_distance(double reference, double at, double exponent, double metres, double db) =>
        Assert.Equal(db, PathLoss.LogDistanceDb(reference, at, exponent, metres), 0.05);

    /// <summary>ITU-R P.1238 in its older editions: home, office over a floor, office over two, home over two.</summary>
    [Theory]
    [InlineData(2400, 10, 28, 0, 67.6042)]
    [InlineData(2400, 20, 30, 14, 92.6351)]
    [InlineData(900, 20, 33, 19, 93.0188)]
    [InlineData(1900, 15, 28, 8, 78.5056)]
    public void Indoors_without_a_plan(double megahertz, double metres, double coefficient, double floors, double db) =>
        Assert.Equal(db, PathLoss.IndoorDb(megahertz, metres, coefficient, floors), 0.05);

    /// <summary>COST 231, 4.7: 18.3, 33.52 and 43.59 dB; with 3.4 dB a light and 6.9 dB a heavy wall the published sums.</summary>
    [Theory]
    [InlineData(1800, 10, 2, 1, 0, 71.2532)]
    [InlineData(1800, 10, 0, 0, 1, 75.8532)]
    [InlineData(868, 15, 3, 1, 2, 105.3636)]
    [InlineData(2440, 12, 1, 2, 3, 122.5682)]
    public void Floors_cost_less_the_more_there_are(double megahertz, double metres, int light, int heavy, int floors, double db)
    {
        Assert.Equal([0, 18.3, 33.52, 43.59], Enumerable.Range(0, 4).Select(f => Math.Round(PathLoss.FloorsDb(f), 2)));
        Assert.Equal(db, PathLoss.FreeSpaceDb(megahertz, metres) + 3.4 * light + 6.9 * heavy + PathLoss.FloorsDb(floors), 0.06);
    }

    /// <summary>Two heights of 2 and 1.5 m at 868 MHz: 34.7 m, and 82.5 dB at 200 m; Weissberger at 10 and 50 m.</summary>
    [Fact]
    public void Outdoors()
    {
        Assert.Equal(34.7, PathLoss.BreakPointMetres(868, 2, 1.5), 0.1);
        Assert.Equal(82.5, PathLoss.OverGroundDb(868, 200, 2, 1.5), 0.1);
        Assert.Equal(PathLoss.FreeSpaceDb(868, 20), PathLoss.OverGroundDb(868, 20, 2, 1.5));
        Assert.Equal(
            [4.32, 5.80, 12.75, 17.09],
            new[] { (868, 10), (2440, 10), (868, 50), (2440, 50) }.Select(r => Math.Round(PathLoss.FoliageDb(r.Item1, r.Item2), 2))
        );
        Assert.Equal(PathLoss.FoliageDb(868, 400), PathLoss.FoliageDb(868, 900));
        Assert.Equal(2.94, PathLoss.FresnelRadiusMetres(868, 100), 0.01);
    }

    /// <summary>ITU-R P.2040-1 slabs at 433.9, 868.3 and 2440 MHz, worked out by a program apart from this one.</summary>
    [Theory]
    [InlineData("concrete", 0.10, 3.08, 4.07, 6.19)]
    [InlineData("concrete", 0.20, 4.34, 5.80, 11.15)]
    [InlineData("brick", 0.115, 4.63, 4.84, 4.86)]
    [InlineData("brick", 0.24, 8.70, 8.61, 8.76)]
    [InlineData("plasterboard", 0.025, 0.44, 0.96, 1.28)]
    [InlineData("wood", 0.04, 0.24, 0.58, 0.61)]
    [InlineData("glass", 0.004, 0.05, 0.18, 1.08)]
    [InlineData("glass", 0.006, 0.10, 0.37, 1.93)]
    [InlineData("chipboard", 0.018, 0.39, 0.76, 1.67)]
    public void Slabs_straight_through(string material, double metres, params double[] db) =>
        Assert.All(new[] { 433.9, 868.3, 2440 }.Zip(db), r => Assert.Equal(r.Second, WallLoss.SlabDb(Material(material), metres, r.First), 0.05));

    [Theory]
    [InlineData("concrete", 0.20, 868.3, 9.82)]
    [InlineData("concrete", 0.20, 2440, 14.19)]
    [InlineData("brick", 0.115, 868.3, 6.96)]
    [InlineData("brick", 0.115, 2440, 7.38)]
    public void Slabs_at_sixty_degrees(string material, double metres, double megahertz, double db) =>
        Assert.Equal(db, WallLoss.SlabDb(Material(material), metres, megahertz, 60), 0.05);

    [Theory]
    [InlineData(433.9, 4.03)]
    [InlineData(868.3, 5.59)]
    [InlineData(2440, 10.85)]
    public void A_wall_of_about_a_thickness_has_the_mean_of_the_ripple_and_its_ends(double megahertz, double mean)
    {
        var (low, middle, high) = WallLoss.Db(BuildingMaterial.Concrete, 0.20, megahertz);
        Assert.Equal(mean, middle, 0.06);
        Assert.InRange(WallLoss.SlabDb(BuildingMaterial.Concrete, 0.20, megahertz), low, high);
        Assert.True(low < middle && middle < high);
    }

    /// <summary>A slab passes no more than it is given, and one of no thickness takes nothing.</summary>
    [Fact]
    public void No_wall_amplifies() =>
        Gen.Select(Gen.Int[0, Materials.Length - 1], Gen.Double[0, 0.5], Gen.Double[300, 6000], Gen.Double[0, 89])
            .Sample(
                (m, metres, megahertz, degrees) =>
                    WallLoss.SlabDb(Material(Materials[m]), metres, megahertz, degrees) > -1e-9
                    && Math.Abs(WallLoss.SlabDb(Material(Materials[m]), 0, megahertz, degrees)) < 1e-9
            );

    [Theory]
    [InlineData(7, 125, -124.5309)]
    [InlineData(9, 125, -129.5309)]
    [InlineData(12, 125, -137.0309)]
    [InlineData(7, 500, -118.5103)]
    [InlineData(12, 62.5, -140.0412)]
    public void Sensitivity_of_lora(int factor, double kilohertz, double dbm)
    {
        Assert.Equal(dbm, LinkBudget.LoraSensitivityDbm(factor, kilohertz), 0.05);
    }

    [Theory]
    [InlineData(1, 0, 0, -174)]
    [InlineData(20_000_000, 6, 5, -89.9897)]
    [InlineData(100_000, 6, 10, -108)]
    public void Sensitivity_of_any_receiver(double hertz, double noiseFigure, double snr, double dbm) =>
        Assert.Equal(dbm, LinkBudget.SensitivityDbm(hertz, noiseFigure, snr), 0.05);

    /// <summary>The normal table; 2.76 dB at 6.17 dB is Rappaport's worked example.</summary>
    [Theory]
    [InlineData(8, 8, 0.8413)]
    [InlineData(0, 6, 0.5)]
    [InlineData(12, 6, 0.9772)]
    [InlineData(2.76, 6.17, 0.674)]
    [InlineData(-4, 8, 0.308538)]
    [InlineData(10, 7, 0.923436)]
    public void Shadowing(double margin, double sigma, double part) => Assert.Equal(part, LinkBudget.PlacesHeard(margin, sigma), 0.002);

    [Theory]
    [InlineData(0.9, 8, 10.2524)]
    [InlineData(0.99, 6, 13.9581)]
    public void Margin_for_a_wanted_part(double part, double sigma, double db) => Assert.Equal(db, LinkBudget.MarginFor(part, sigma), 0.01);

    /// <summary>Places are drawn, tries at each, and the answers to those that came: what is worked out is what they come to.</summary>
    [Theory]
    [InlineData(0, 0.0, 6, 1)]
    [InlineData(0, 3.0, 6, 3)]
    [InlineData(10, 4.0, 7, 3)]
    [InlineData(-5, 10.0, 4, 5)]
    [InlineData(15, 15.0, 0, 2)]
    [InlineData(12, -6.0, 8, 7)]
    [InlineData(8, null, 6, 1)]
    [InlineData(3, null, 5, 5)]
    [InlineData(6, null, 7, 3, 0.5)]
    [InlineData(9, 5.0, 4, 4, 0.25)]
    public void An_exchange_is_what_drawn_places_tries_and_answers_come_to(double margin, double? back, double sigma, int tries, double listens = 1)
    {
        var random = new Random(5);
        double Gaussian() => Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        // A power that is exponential about its mean: a sum of two squared normal draws.
        bool Arrives(double mean) => Gaussian() is var a && Gaussian() is var b && mean + 10 * Math.Log10((a * a + b * b) / 2) >= 0;
        const int Places = 100_000;
        var (first, came, known, sent) = (0, 0, 0, 0);
        for (var place = 0; place < Places; place++)
        {
            var (shadow, arrived, answered) = (sigma * Gaussian(), false, false);
            for (var i = 0; i < tries && !answered; i++)
            {
                sent++;
                var now = random.NextDouble() < listens && Arrives(margin + shadow);
                first += now && i == 0 ? 1 : 0;
                arrived |= now;
                answered = now && back is { } answer && Arrives(answer + shadow);
            }
            came += arrived ? 1 : 0;
            known += answered ? 1 : 0;
        }
        var found = LinkBudget.Exchange(margin, back, sigma, tries, listens);
        Assert.Equal(first / (double)Places, found.Single, 0.006);
        Assert.Equal(came / (double)Places, found.Delivered, 0.006);
        Assert.Equal(known / (double)Places, found.Acknowledged, 0.006);
        Assert.Equal(sent / (double)Places, found.Tries, 0.02);
    }

    /// <summary>Where a place is shadowed all its tries are: three tries deliver less than three that knew nothing of each other.</summary>
    [Fact]
    public void Tries_do_not_help_where_a_place_is_shadowed()
    {
        var found = LinkBudget.Exchange(3, 3, 8, 3);
        Assert.True(found.Delivered < 1 - Math.Pow(1 - found.Single, 3) - 0.05);
        Assert.Equal(1 - Math.Pow(1 - LinkBudget.OneTry(3), 3), LinkBudget.Exchange(3, 3, 0, 3).Delivered, 1e-12);
    }

    private static BuildingMaterial Material(string name) =>
        name switch
        {
            "concrete" => BuildingMaterial.Concrete,
            "brick" => BuildingMaterial.Brick,
            "plasterboard" => BuildingMaterial.Plasterboard,
            "wood" => BuildingMaterial.Wood,
            "glass" => BuildingMaterial.Glass,
            _ => BuildingMaterial.Chipboard,
        };
}
