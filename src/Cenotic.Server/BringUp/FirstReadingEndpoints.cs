using Cenotic.Core.BringUp;
using Cenotic.Core.Design;
using Cenotic.Server.Accounts;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <summary>The first readings of a node, judged as they come.</summary>
public static class FirstReadingEndpoints
{
    private const int Newest = 12;
    private const long FreshMs = 3_600_000;

    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Reading(routes).MapGet("/nodes/{node}/first-readings", JudgeAsync).WithName("GetFirstReadings");

    private static async Task<Results<Ok<List<FirstVerdict>>, ProblemHttpResult>> JudgeAsync(string site, string node, SiteBook book, SiteClock clock, CenoticStore store)
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design)
        {
            return TypedResults.Problem($"There is no node \"{node}\".", statusCode: 404);
        }
        var verdicts = new List<FirstVerdict>();
        foreach (var reading in design.Readings)
        {
            if (state.Catalogue.Part(design.Part(reading.Part)?.Part ?? "") is not { } part || part.Quantities.All(q => q.Quantity != reading.Quantity))
            {
                continue;
            }
            verdicts.Add(FirstReadings.Judge(design, reading, part, await ValuesAsync(store, state.Readings[(node, reading.Key)].Id, Newest), await NeighboursAsync(state, design, reading, clock.Now(site), store)));
        }
        return TypedResults.Ok(verdicts);
    }

    private static async Task<List<FirstValue>> ValuesAsync(CenoticStore store, int reading, int count)
    {
        var values = await store.Database.SqlQuery<Row>($"SELECT t AS T, value AS Value FROM samples WHERE reading_id = {reading} ORDER BY t DESC, n DESC LIMIT {count}").ToListAsync();
        values.Reverse();
        return [.. values.Select(v => new FirstValue(v.T, v.Value))];
    }

    /// <summary>The same quantity of other nodes whose spot is in the same room, where it came within the hour.</summary>
    private static async Task<List<Neighbour>> NeighboursAsync(SiteState state, NodeDesign node, ReadingDesign reading, long now, CenoticStore store)
    {
        string? RoomOf(NodeDesign n) => state.Design.Place.Spots.FirstOrDefault(s => s.Key == n.Spot)?.Room;
        var neighbours = new List<Neighbour>();
        if (RoomOf(node) is not { } room)
        {
            return neighbours;
        }
        foreach (var (other, same) in from n in state.Design.Nodes where n.Key != node.Key && RoomOf(n) == room from r in n.Readings where r.Quantity == reading.Quantity select (n, r))
        {
            if ((await ValuesAsync(store, state.Readings[(other.Key, same.Key)].Id, 1)).FirstOrDefault() is { T: > 0 } value && now - value.T < FreshMs)
            {
                neighbours.Add(new($"{other.Label}: {same.Label}", value.Value, Intake.Quantity(state, other.Key, same.Key)?.Error));
            }
        }
        return neighbours;
    }

    private sealed record Row(long T, double Value);
}
