using System.Text.RegularExpressions;
using Cenotic.Core.Planning;
using Cenotic.Tests;

namespace Cenotic.Core.Tests;

/// <summary>The floors of the architecture: a folder uses the floors below and earlier stations, never later ones, and Core keeps to its packages.</summary>
public class FloorsTests
{
    private static readonly System.Reflection.Assembly Core = typeof(SitePlanner).Assembly;

    [Fact]
    public void No_room_uses_a_later_one() => Assert.Empty(Floors.Upwards(Core, Floors.Order("Core")));

    [Fact]
    public void What_is_used_only_inside_a_method_is_seen()
    {
        var order = Floors.Order("Core").ToList();
        (order[order.IndexOf("Rhythm")], order[order.IndexOf("Planning")]) = ("Planning", "Rhythm");
        // SitePlanner has no member of this type.
        Assert.Contains("Cenotic.Core.Planning.SitePlanner uses Cenotic.Core.Rhythm.RhythmPlanner", Floors.Upwards(Core, order));
    }

    [Fact]
    public void Every_folder_is_a_room_of_its_name()
    {
        var core = Path.Combine(Floors.Root, "src", "Cenotic.Core");
        var folders = Directory.GetDirectories(core).Select(f => Path.GetFileName(f)!).Where(f => f is not ("bin" or "obj")).ToList();
        Assert.Empty(folders.Except(Floors.Order("Core")));
        foreach (var file in folders.SelectMany(f => Directory.GetFiles(Path.Combine(core, f), "*.cs", SearchOption.AllDirectories)))
        {
            Assert.Contains($"namespace Cenotic.Core.{Path.GetRelativePath(core, file).Split('/')[0]}", File.ReadAllText(file));
        }
    }

    [Fact]
    public void Core_references_only_what_it_may()
    {
        string[] allowed = ["MathNet.Numerics", "NetTopologySuite", "CsvHelper", "Ical.Net", "NodaTime", "System.Formats.Cbor", "NJsonSchema"];
        var project = File.ReadAllText(Path.Combine(Floors.Root, "src", "Cenotic.Core", "Cenotic.Core.csproj"));
        Assert.All(Regex.Matches(project, "PackageReference Include=\"([^\"]+)\"").Select(m => m.Groups[1].Value), p => Assert.Contains(p, allowed));
    }

    [Fact]
    public void Core_reads_no_clock_and_no_file()
    {
        foreach (
            var file in Directory.GetFiles(Path.Combine(Floors.Root, "src", "Cenotic.Core"), "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("obj"))
        )
        {
            Assert.DoesNotMatch(@"DateTime(Offset)?\.(Utc)?Now|File\.(Read|Write|Open)|new Random\(\)|HttpClient|Environment\.", File.ReadAllText(file));
        }
    }
}
