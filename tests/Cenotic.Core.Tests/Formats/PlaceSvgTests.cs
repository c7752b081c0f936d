using System.Globalization;
using System.Xml.Linq;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Core.Tests.Formats;

/// <summary>The plan as a drawing to scale.</summary>
public class PlaceSvgTests
{
    private static readonly XNamespace Svg = "http://www.w3.org/2000/svg";

    private static double Number(XElement of, string name) =>
        double.Parse(of.Attribute(name)!.Value.Replace("mm", "", StringComparison.Ordinal), CultureInfo.InvariantCulture);

    /// <summary>1 : 50 is 20 mm a metre, over the whole page alike, and all lies on it.</summary>
    [Theory]
    [InlineData(null, 8)]
    [InlineData("upstairs", 3)]
    public void A_drawing_holds_what_stands_on_its_floor_to_scale(string? floor, int rooms)
    {
        var whole = Samples.Fernhollow().Design.Place;
        var svg = XDocument.Parse(PlaceSvg.Write(whole, floor)).Root!;
        var place = whole with
        {
            Rooms = [.. whole.Rooms.Where(r => r.Floor == floor)],
            Walls = [.. whole.Walls.Where(w => w.Floor == floor)],
            Spots = [.. whole.Spots.Where(s => whole.FloorOf(s)?.Key == floor)],
        };
        Assert.Equal(rooms, place.Rooms.Count);
        var box = svg.Attribute("viewBox")!.Value.Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture)).ToList();
        Assert.Equal(box[2] * 20, Number(svg, "width"), 0.05);
        Assert.Equal(box[3] * 20, Number(svg, "height"), 0.05);
        Assert.Equal(place.Rooms.Count, svg.Elements(Svg + "polygon").Count());
        Assert.Equal(place.Spots.Count, svg.Elements(Svg + "circle").Count());
        Assert.All(svg.Elements(Svg + "circle"), c =>
        {
            Assert.InRange(Number(c, "cx"), box[0], box[0] + box[2]);
            Assert.InRange(Number(c, "cy"), box[1], box[1] + box[3]);
        });
        // A wall, a gap for each of its openings, and a line in each but a passage; a line for each heater; the bar beside.
        var openings = place.Walls.SelectMany(w => w.Openings).ToList();
        var heaters = whole.HeatSources.Count(h => h.Floor == floor);
        Assert.Equal(place.Walls.Count + openings.Count + openings.Count(o => o.Kind != OpeningKind.Passage) + heaters + 1, svg.Elements(Svg + "line").Count());
    }

    [Fact]
    public void Names_are_text_and_nothing_else_and_floors_are_apart()
    {
        var place = new PlaceDesign([new("r", "<script>&\"", [new(0, 0), new(4, 0), new(4, 3)], [], "up")], [], []) { Floors = [new("up", "Up", 3)] };
        Assert.Equal("<script>&\"", XDocument.Parse(PlaceSvg.Write(place, "up")).Root!.Elements(Svg + "text").First().Value);
        Assert.Empty(XDocument.Parse(PlaceSvg.Write(place, null)).Root!.Elements(Svg + "polygon"));
    }
}
