using System.Text.Json;
using Cenotic.Core.Common;

namespace Cenotic.Core.Catalogue;

/// <summary>All boards, parts and cells that plans may use. Immutable; <see cref="BuiltIn"/> is what ships.</summary>
public sealed class HardwareCatalogue
{
    private static readonly Lazy<HardwareCatalogue> Shipped = new(LoadBuiltIn);
    private readonly Dictionary<string, Board> _boards;
    private readonly Dictionary<string, Part> _parts;
    private readonly Dictionary<string, Cell> _cells;
    private readonly Dictionary<string, SupplyModule> _supplies;

    /// <summary>A catalogue of these.</summary>
    public HardwareCatalogue(IEnumerable<Board> boards, IEnumerable<Part> parts, IEnumerable<Cell> cells, IEnumerable<SupplyModule> supplies)
    {
        _boards = boards.ToDictionary(b => b.Id);
        _parts = parts.ToDictionary(p => p.Id);
        _cells = cells.ToDictionary(c => c.Id);
        _supplies = supplies.ToDictionary(s => s.Id);
    }

    /// <summary>The records that ship with the product.</summary>
    public static HardwareCatalogue BuiltIn => Shipped.Value;

    /// <summary>All boards.</summary>
    public IReadOnlyCollection<Board> Boards => _boards.Values;

    /// <summary>All parts.</summary>
    public IReadOnlyCollection<Part> Parts => _parts.Values;

    /// <summary>All cells.</summary>
    public IReadOnlyCollection<Cell> Cells => _cells.Values;

    /// <summary>All supply modules.</summary>
    public IReadOnlyCollection<SupplyModule> Supplies => _supplies.Values;

    /// <summary>The board with an id, or null.</summary>
    public Board? Board(string id) => _boards.GetValueOrDefault(id);

    /// <summary>The part with an id, or null.</summary>
    public Part? Part(string id) => _parts.GetValueOrDefault(id);

    /// <summary>The cell with an id, or null.</summary>
    public Cell? Cell(string id) => _cells.GetValueOrDefault(id);

    /// <summary>The supply module with an id, or null.</summary>
    public SupplyModule? Supply(string id) => _supplies.GetValueOrDefault(id);

    /// <summary>This catalogue with a maker's own boards, parts and cells; one with an id that is taken stands in place of it.</summary>
    public HardwareCatalogue With(IReadOnlyCollection<Board> boards, IReadOnlyCollection<Part> parts, IReadOnlyCollection<Cell> cells) =>
        boards.Count == 0 && parts.Count == 0 && cells.Count == 0
            ? this
            : new(
                Boards.Where(b => boards.All(o => o.Id != b.Id)).Concat(boards),
                Parts.Where(p => parts.All(o => o.Id != p.Id)).Concat(parts),
                Cells.Where(c => cells.All(o => o.Id != c.Id)).Concat(cells),
                Supplies
            );

    private static HardwareCatalogue LoadBuiltIn() => new(Read<Board>("board/"), Read<Part>("part/"), Read<Cell>("cell/"), Read<SupplyModule>("supply/"));

    private static List<T> Read<T>(string folder)
    {
        var assembly = typeof(HardwareCatalogue).Assembly;
        var records = new List<T>();
        foreach (var name in assembly.GetManifestResourceNames().Where(n => n.StartsWith(folder, StringComparison.Ordinal)).Order(StringComparer.Ordinal))
        {
            using var stream = assembly.GetManifestResourceStream(name)!;
            try
            {
                records.Add(JsonSerializer.Deserialize<T>(stream, CenoticJson.Options)!);
            }
            catch (JsonException fault)
            {
                throw new InvalidOperationException($"The catalogue file {name} is broken: {fault.Message}", fault);
            }
        }
        return records;
    }
}
