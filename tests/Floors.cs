using System.Text.RegularExpressions;
using ArchUnitNET.Loader;

namespace Cenotic.Tests;

/// <summary>The order of rooms in docs/architecture.md, and who does not keep to it by the compiled references of an assembly.</summary>
internal static partial class Floors
{
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

    /// <summary>The rooms of a project, the lowest first, as docs/architecture.md lists them.</summary>
    /// <param name="project">Core or Server.</param>
    internal static IReadOnlyList<string> Order(string project)
    {
        var page = File.ReadAllText(Path.Combine(Root, "docs", "architecture.md"));
        var line = Regex.Match(page, $"^{project}: (.+)$", RegexOptions.Multiline).Groups[1].Value;
        return line.Split(" ‹ ", StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
    }

    /// <summary>Types of a room that use a later one, or one that is not in the order: base types, members, bodies of methods, attributes.</summary>
    /// <param name="order">Rooms that may be used, the lowest first. What stands in no room may use all and be used by none.</param>
    internal static IReadOnlyList<string> Upwards(System.Reflection.Assembly assembly, IReadOnlyList<string> order)
    {
        var name = assembly.GetName().Name!;
        string? Room(string? space) =>
            space == name ? ""
            : space?.StartsWith(name + ".", StringComparison.Ordinal) == true ? space.Split('.')[2]
            : null;
        int Floor(string room) => room.Length == 0 ? int.MaxValue : order.ToList().IndexOf(room);
        return
        [
            .. new ArchLoader()
                .LoadAssembly(assembly)
                .Build()
                .Types.Where(t => Room(t.Namespace.FullName) is not null)
                .SelectMany(t => t.Dependencies.Select(d => (From: t, To: d.Target)))
                .Where(d => Room(d.To.Namespace?.FullName) is { } to && Floor(Room(d.From.Namespace.FullName)!) is var from && (Floor(to) > from || from < 0))
                .Select(d => $"{d.From.FullName} uses {d.To.FullName}")
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];
    }
}
