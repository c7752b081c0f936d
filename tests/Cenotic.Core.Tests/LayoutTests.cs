using Cenotic.Tests;

namespace Cenotic.Core.Tests;

/// <summary>What the formatter leaves alone: long texts and comments.</summary>
public class LayoutTests
{
    private const int Columns = 160;

    [Fact]
    public void No_line_of_code_is_wider_than_160_columns()
    {
        string[] left = ["/obj/", "/bin/", "/Migrations/"];
        var files = new[] { "src", "tests", "bench" }
            .SelectMany(folder => Directory.GetFiles(Path.Combine(Floors.Root, folder), "*.cs", SearchOption.AllDirectories))
            .Where(file => !left.Any(file.Contains))
            .ToList();
        Assert.True(files.Count > 400, $"{files.Count} files");
        var lines = files.SelectMany(file => File.ReadLines(file).Select((line, at) => (line.Length, At: $"{file}:{at + 1}")));
        Assert.DoesNotContain(lines, l => l.Length > Columns);
    }
}
