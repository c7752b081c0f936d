using Cenotic.Tests;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace Cenotic.Core.Tests;

/// <summary>What the formatter leaves alone: long texts and comments, and long methods.</summary>
public class LayoutTests
{
    private const int Columns = 160,
        MethodLines = 60;

    /// <summary>Methods that may be longer, and why.</summary>
    private static readonly Dictionary<string, string> Long = new()
    {
        ["EditBatch.One"] = "one arm for each kind of edit",
        ["EditChecks.Faults"] = "one arm for each kind of edit",
        ["EditChecks.Condition"] = "one arm for each kind of condition",
        ["EditChecks.Derived"] = "one arm for each kind of formula",
        ["Snippets.C"] = "the text of a program",
    };

    private static List<string> Files(params string[] folders)
    {
        string[] left = ["/obj/", "/bin/", "/Migrations/"];
        return
        [
            .. folders
                .SelectMany(folder => Directory.GetFiles(Path.Combine(Floors.Root, folder), "*.cs", SearchOption.AllDirectories))
                .Where(file => !left.Any(file.Contains)),
        ];
    }

    [Fact]
    public void No_line_of_code_is_wider_than_160_columns()
    {
        var files = Files("src", "tests", "bench");
        Assert.True(files.Count > 400, $"{files.Count} files");
        var lines = files.SelectMany(file => File.ReadLines(file).Select((line, at) => (line.Length, At: $"{file}:{at + 1}")));
        Assert.DoesNotContain(lines, l => l.Length > Columns);
    }

    [Fact]
    public void No_method_is_longer_than_60_lines_but_those_that_have_a_reason()
    {
        var methods = Files("src")
            .SelectMany(file => CSharpSyntaxTree.ParseText(File.ReadAllText(file)).GetRoot().DescendantNodes().OfType<BaseMethodDeclarationSyntax>())
            .Select(m => (Name: NameOf(m), Lines: m.GetLocation().GetLineSpan()))
            .Select(m => (m.Name, Lines: m.Lines.EndLinePosition.Line - m.Lines.StartLinePosition.Line + 1))
            .ToList();
        Assert.True(methods.Count > 2000, $"{methods.Count} methods");
        Assert.Equal(Long.Keys.Order(), methods.Where(m => m.Lines > MethodLines).Select(m => m.Name).Distinct().Order());
    }

    private static string NameOf(BaseMethodDeclarationSyntax method) =>
        $"{method.Ancestors().OfType<TypeDeclarationSyntax>().First().Identifier.Text}."
        + (method is MethodDeclarationSyntax named ? named.Identifier.Text : method.Kind().ToString());
}
