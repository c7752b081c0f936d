using System.Text.RegularExpressions;

namespace Cenotic.Core.Tests;

/// <summary>The floors of the architecture: a folder uses the floors above and earlier stations, never later ones, and Core keeps to its packages.</summary>
public partial class FloorsTests
{
    private static readonly string[] Order =
    [
        "Common",
        "Catalogue",
        "Electrical",
        "Design",
        "Place",
        "Bench",
        "Rhythm",
        "Reach",
        "BringUp",
        "Watch",
        "Alerts",
        "Log",
        "Formats",
        "Planning",
        "Rehearsal",
    ];

    /// <summary>The repository.</summary>
    internal static string Root
    {
        get
        {
            var at = new DirectoryInfo(AppContext.BaseDirectory);
            while (!File.Exists(Path.Combine(at!.FullName, "Cenotic.slnx")))
            {
                at = at.Parent;
            }
            return at.FullName;
        }
    }

    [Fact]
    public void No_folder_uses_a_later_one()
    {
        var core = Path.Combine(Root, "src", "Cenotic.Core");
        foreach (var folder in Directory.GetDirectories(core).Select(Path.GetFileName).Where(f => f is not ("bin" or "obj")))
        {
            Assert.Contains(folder, Order);
            foreach (var file in Directory.GetFiles(Path.Combine(core, folder!), "*.cs", SearchOption.AllDirectories))
            {
                foreach (Match used in Used().Matches(File.ReadAllText(file)))
                {
                    Assert.True(Array.IndexOf(Order, used.Groups[1].Value) <= Array.IndexOf(Order, folder), $"{file} uses {used.Groups[1].Value}");
                }
            }
        }
    }

    [Fact]
    public void Core_references_only_what_it_may()
    {
        string[] allowed = ["MathNet.Numerics", "CsvHelper", "Ical.Net", "System.Formats.Cbor", "NJsonSchema"];
        var project = File.ReadAllText(Path.Combine(Root, "src", "Cenotic.Core", "Cenotic.Core.csproj"));
        Assert.All(Regex.Matches(project, "PackageReference Include=\"([^\"]+)\"").Select(m => m.Groups[1].Value), p => Assert.Contains(p, allowed));
    }

    [Fact]
    public void Core_reads_no_clock_and_no_file()
    {
        foreach (var file in Directory.GetFiles(Path.Combine(Root, "src", "Cenotic.Core"), "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("obj")))
        {
            Assert.DoesNotMatch(@"DateTime(Offset)?\.(Utc)?Now|File\.(Read|Write|Open)|new Random\(\)|HttpClient|Environment\.", File.ReadAllText(file));
        }
    }

    [GeneratedRegex(@"Cenotic\.Core\.([A-Z]\w+)")]
    private static partial Regex Used();
}
