using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Place;

namespace Cenotic.Core.Tests.Place;

public class PlaceTests
{
    private static readonly Point[] LShape = [new(0, 0), new(4, 0), new(4, 2), new(2, 2), new(2, 4), new(0, 4)];

    [Theory]
    [InlineData(1, 1, true)]
    [InlineData(3, 1, true)]
    [InlineData(3, 3, false)]
    [InlineData(2, 3, true)] // on an edge
    [InlineData(0, 0, true)] // on a corner
    [InlineData(-0.1, 1, false)]
    public void Inside_an_l_shaped_room(double x, double y, bool inside) => Assert.Equal(inside, PlacePlanner.Contains(LShape, new(x, y)));

    [Fact]
    public void Its_area_by_hand_is_twelve_square_metres()
    {
        var site = SiteDesign.Empty("x") with { Place = new([new("l", "L", LShape, [])], [], []) };
        Assert.Equal(12, PlacePlanner.Plan(site, HardwareCatalogue.BuiltIn).Areas["l"].Value);
    }

    [Fact]
    public void Outdoors_is_cold()
    {
        var site = Samples.Fernhollow().Design;
        Assert.True(Surroundings.Of(site, site.Node("cistern")!).BeyondCharging);
        Assert.False(Surroundings.Of(site, site.Node("hall")!).BeyondCharging);
    }
}
