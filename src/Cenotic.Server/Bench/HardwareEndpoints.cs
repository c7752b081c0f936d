using System.Text;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Bench;

/// <summary>Boards, parts, cells and supplies that plans of a site may use, the maker's own among them.</summary>
public sealed record CatalogueView(
    IReadOnlyList<Board> Boards,
    IReadOnlyList<Part> Parts,
    IReadOnlyList<Cell> Cells,
    IReadOnlyList<SupplyModule> Supplies,
    IReadOnlyList<string> Own,
    IReadOnlyList<WaysToSend> Ways
);

/// <summary>A board, part or cell file to be looked at.</summary>
public sealed record HardwareText(string Json);

/// <summary>What a file holds: a board, a part, a cell, or faults.</summary>
public sealed record HardwareReading(Board? Board, Part? Part, Cell? Cell, IReadOnlyList<FileFault> Faults);

/// <summary>The catalogue, files of boards, parts and cells, and their schemas.</summary>
public static class HardwareEndpoints
{
    private const int LargestText = 400_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/catalogue", View).WithName("GetCatalogue");
        reading.MapGet("/hardware/{kind}/{id}", File).WithName("ExportHardware");
        routes.MapGet("/api/schemas/{kind}", Schema).WithName("GetHardwareSchema");
        SiteRoutes.Writing(routes).MapPost("/hardware/check", Check).WithName("CheckHardware");
    }

    private static CatalogueView View(string site, SiteBook book)
    {
        var state = book.Find(site)!;
        var c = state.Catalogue;
        var own = state.Design;
        return new(
            [.. c.Boards],
            [.. c.Parts],
            [.. c.Cells],
            [.. c.Supplies],
            [.. own.OwnBoards.Select(b => b.Id), .. own.OwnParts.Select(p => p.Id), .. own.OwnCells.Select(o => o.Id)],
            [.. c.Boards.Select(WaysToSend.Of)]
        );
    }

    private static Results<FileContentHttpResult, ProblemHttpResult> File(string site, string kind, string id, SiteBook book)
    {
        var catalogue = book.Find(site)!.Catalogue;
        var json = kind switch
        {
            "board" when catalogue.Board(id) is { } board => HardwareFiles.Write(board),
            "part" when catalogue.Part(id) is { } part => HardwareFiles.Write(part),
            "cell" when catalogue.Cell(id) is { } cell => HardwareFiles.Write(cell),
            _ => null,
        };
        return json is null
            ? TypedResults.Problem($"There is no {kind} \"{id}\".", statusCode: 404)
            : TypedResults.File(Encoding.UTF8.GetBytes(json), "application/json", $"{id}.json");
    }

    private static Results<ContentHttpResult, ProblemHttpResult> Schema(string kind) =>
        kind switch
        {
            "board.json" => TypedResults.Content(HardwareFiles.SchemaOf<Board>(), "application/schema+json"),
            "part.json" => TypedResults.Content(HardwareFiles.SchemaOf<Part>(), "application/schema+json"),
            "cell.json" => TypedResults.Content(HardwareFiles.SchemaOf<Cell>(), "application/schema+json"),
            _ => TypedResults.Problem("There are the schemas board.json, part.json and cell.json.", statusCode: 404),
        };

    /// <summary>Reads a file without keeping it; the interface sends what it reads through the edits door.</summary>
    private static Results<Ok<HardwareReading>, ProblemHttpResult> Check(string site, HardwareText text)
    {
        if (text.Json.Length > LargestText)
        {
            return TypedResults.Problem($"The file is longer than {LargestText / 1000} kB.", statusCode: 413);
        }
        // A board has rails, a cell a chemistry, a part interfaces.
        if (text.Json.Contains("\"rails\"", StringComparison.Ordinal))
        {
            var (board, faults) = HardwareFiles.ReadBoard(text.Json);
            return TypedResults.Ok(new HardwareReading(board, null, null, faults));
        }
        if (text.Json.Contains("\"chemistry\"", StringComparison.Ordinal))
        {
            var (cell, faults) = HardwareFiles.ReadCell(text.Json);
            return TypedResults.Ok(new HardwareReading(null, null, cell, faults));
        }
        var (part, found) = HardwareFiles.ReadPart(text.Json);
        return TypedResults.Ok(new HardwareReading(null, part, null, found));
    }
}
