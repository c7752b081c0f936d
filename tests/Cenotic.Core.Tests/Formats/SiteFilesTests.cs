using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Core.Tests.Formats;

public class SiteFilesTests
{
    [Fact]
    public void A_site_written_reads_back_the_same()
    {
        var file = Samples.Fernhollow();
        var text = SiteFiles.Write(file.Design, file.Evidence);
        var again = SiteFiles.Read(text).Value;
        Assert.Equal(text, SiteFiles.Write(again.Design, again.Evidence));
    }

    [Theory]
    [InlineData("not json", "Not a site file")]
    [InlineData("{}", "Not a site file")]
    [InlineData("null", "Not a site file")]
    public void What_is_no_site_is_refused(string text, string says) => Assert.Contains(says, Assert.Single(SiteFiles.Read(text).Reasons));

    [Fact]
    public void Another_version_and_nonsense_inside_are_refused()
    {
        var file = Samples.Fernhollow();
        var text = SiteFiles.Write(file.Design, file.Evidence);
        Assert.Contains("format version 9", SiteFiles.Read(text.Replace("\"formatVersion\": 1", "\"formatVersion\": 9")).Reasons[0]);
        Assert.Contains("must be \"cenotic-site\"", SiteFiles.Read(text.Replace("cenotic-site", "other")).Reasons[0]);
        Assert.Contains("it must be from 0.05", SiteFiles.Read(text.Replace("\"intervalMs\": 900000", "\"intervalMs\": 0")).Reasons[0]);
    }

    /// <summary>Files from before floors, thickness, openings and access points: what they do not say is as usual.</summary>
    [Fact]
    public void A_file_from_before_floors_is_read()
    {
        var file = Samples.Fernhollow();
        var node = System.Text.Json.Nodes.JsonNode.Parse(SiteFiles.Write(file.Design, file.Evidence))!;
        var place = node["design"]!["place"]!.AsObject();
        Assert.True(place.Remove("floors") && place.Remove("accessPoints"));
        foreach (var part in place["walls"]!.AsArray().Concat(place["rooms"]!.AsArray()).Select(w => w!.AsObject()))
        {
            Assert.True(part.Remove("floor"));
            part.Remove("thicknessMetres");
            part.Remove("openings");
        }
        var read = SiteFiles.Read(node.ToJsonString()).Value.Design.Place;
        Assert.Equal(file.Design.Place.Rooms.Select(r => r.Key), read.Rooms.Select(r => r.Key));
        Assert.All(read.Walls, w => Assert.True(w is { ThicknessMetres: null, Floor: null, Openings.Count: 0 }));
        Assert.Empty(read.Floors);
        Assert.Empty(read.AccessPoints);
    }
}
