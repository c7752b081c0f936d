using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Commands;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <summary>Test mode of a node: it reads and sends every second and lights the lamp of its board.</summary>
/// <param name="UntilMs">Until when it is wanted; null when it is not.</param>
/// <param name="Taken">Whether the node obeyed; null while it has not answered.</param>
/// <param name="Why">Why it cannot be had now; null when it can.</param>
public sealed record TestMode(long? UntilMs, bool? Taken, string? Why);

/// <param name="Provable">Keys of the states that are proven by doing them.</param>
/// <param name="Proven">When they were, by key.</param>
public sealed record FirstReadingsView(
    IReadOnlyList<FirstVerdict> Verdicts,
    TestMode Test,
    IReadOnlyList<string> Provable,
    IReadOnlyDictionary<string, long> Proven,
    long NowMs
);

/// <param name="On">False ends it.</param>
public sealed record TestRequest(bool On = false);

/// <summary>The first readings of a node, judged as they come; states proven by doing them; its test mode.</summary>
public static class FirstReadingEndpoints
{
    private const int Newest = 12,
        MostOfProof = 100;
    private const long FreshMs = 3_600_000,
        ProofMs = 20_000;
    private const string Proof = "prove:";

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/first-readings", JudgeAsync).WithName("GetFirstReadings");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/test-mode", TestAsync).WithName("SetTestMode");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/readings/{reading}/proof", ProveAsync).WithName("ProveLevel");
    }

    private static async Task<Results<Ok<FirstReadingsView>, ProblemHttpResult>> JudgeAsync(
        string site,
        string node,
        SiteBook book,
        SiteClock clock,
        OutputLeases outputs,
        CenoticStore store
    )
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design)
        {
            return SiteRoutes.NoNode(node);
        }
        var now = clock.Now(site);
        var started = await store
            .NodeReports.Where(r => r.Site == site && r.Node == node && r.Reset != null)
            .OrderByDescending(r => r.Id)
            .Select(r => (long?)r.AtMs)
            .FirstOrDefaultAsync();
        var verdicts = await VerdictsAsync(node, store, state, design, now, started);
        var proven = (await store.BuildTicks.AsNoTracking().Where(t => t.Site == site && t.Node == node && t.Step.StartsWith(Proof)).ToListAsync())
            .GroupBy(t => t.Step[Proof.Length..])
            .ToDictionary(g => g.Key, g => g.Max(t => t.AtMs));
        var last = await store
            .Commands.AsNoTracking()
            .Where(c => c.Site == site && c.Node == node && c.Output == OutputCommand.Test)
            .OrderByDescending(c => c.Id)
            .FirstOrDefaultAsync();
        var on = last is { On: true, EndedMs: null } && last.UntilMs > now;
        return TypedResults.Ok(
            new FirstReadingsView(
                verdicts,
                new(
                    on ? last!.UntilMs : null,
                    on ? last!.Taken : null,
                    outputs.Unswitchable(site, node, OutputCommand.Test) ?? (outputs.Listens(site, node) ? null : $"{design.Label} is not connected.")
                ),
                [.. design.Readings.Where(r => state.Quantity(node, r.Key) is { } q && LevelProof.Applies(r, q)).Select(r => r.Key)],
                proven,
                now
            )
        );
    }

    private static async Task<List<FirstVerdict>> VerdictsAsync(string node, CenoticStore store, SiteState state, NodeDesign design, long now, long? started)
    {
        var verdicts = new List<FirstVerdict>();
        foreach (var reading in design.Readings)
        {
            if (state.Catalogue.Part(design.Part(reading.Part)?.Part ?? "") is not { } part || part.Quantities.All(q => q.Quantity != reading.Quantity))
            {
                continue;
            }
            verdicts.Add(
                FirstReadings.Judge(
                    design,
                    reading,
                    part,
                    await ValuesAsync(store, state.Readings[(node, reading.Key)].Id, Newest),
                    await NeighboursAsync(state, design, reading, now, store),
                    started,
                    now
                )
            );
        }
        return verdicts;
    }

    private static async Task<Results<NoContent, UnprocessableEntity<EditRefused>>> TestAsync(
        string site,
        string node,
        TestRequest request,
        OutputLeases outputs,
        HttpContext http
    )
    {
        var done = await outputs.SwitchAsync(site, node, OutputCommand.Test, request.On, null, http.User.Identity!.Name!);
        return done.Ok ? TypedResults.NoContent() : TypedResults.UnprocessableEntity(new EditRefused(done.Reasons));
    }

    /// <summary>Asked again and again while it is done: keeps that it was proven as soon as it is.</summary>
    /// <param name="since">When the deed was asked for, UTC ms of site time; null to be told what to do and the time.</param>
    private static async Task<Results<Ok<ProofView>, UnprocessableEntity<EditRefused>>> ProveAsync(
        string site,
        string node,
        string reading,
        long? since,
        SiteBook book,
        SiteClock clock,
        CenoticStore store,
        WriteGate gate,
        HttpContext http
    )
    {
        var state = book.Find(site)!;
        if (
            state.Design.Node(node) is not { } design
            || design.Reading(reading) is not { } of
            || state.Quantity(node, reading) is not { } quantity
            || !LevelProof.Applies(of, quantity)
        )
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["That reading is not proven like this."]));
        }
        var (id, now) = (state.Readings[(node, reading)].Id, clock.Now(site));
        var from = since ?? now;
        var rest = await store
            .Database.SqlQuery<Row>($"SELECT t AS T, value AS Value FROM samples WHERE reading_id = {id} AND t <= {from} ORDER BY t DESC, n DESC LIMIT 1")
            .ToListAsync();
        var values = await store
            .Database.SqlQuery<Row>($"SELECT t AS T, value AS Value FROM samples WHERE reading_id = {id} AND t > {from} ORDER BY t, n LIMIT {MostOfProof}")
            .ToListAsync();
        // Site time may run faster than the hands of the maker.
        var verdict = LevelProof.Judge(
            design,
            of,
            rest.Count > 0 ? rest[0].Value : null,
            [.. values.Select(v => new FirstValue(v.T, v.Value))],
            now - from > ProofMs * clock.Speed(site)
        );
        if (verdict.Proven && !await store.BuildTicks.AnyAsync(t => t.Site == site && t.Node == node && t.Step == Proof + reading && t.AtMs >= from))
        {
            await gate.WriteAsync(writing =>
            {
                writing.BuildTicks.Add(
                    new()
                    {
                        Site = site,
                        Node = node,
                        Step = Proof + reading,
                        Title = $"{of.Label} proven by doing it",
                        AtMs = now,
                        Who = http.User.Identity!.Name!,
                        Done = true,
                    }
                );
                return Task.CompletedTask;
            });
        }
        return TypedResults.Ok(new ProofView(verdict, from));
    }

    private static async Task<List<FirstValue>> ValuesAsync(CenoticStore store, int reading, int count)
    {
        var values = await store
            .Database.SqlQuery<Row>($"SELECT t AS T, value AS Value FROM samples WHERE reading_id = {reading} ORDER BY t DESC, n DESC LIMIT {count}")
            .ToListAsync();
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
        foreach (
            var (other, same) in from n in state.Design.Nodes
            where n.Key != node.Key && RoomOf(n) == room
            from r in n.Readings
            where r.Quantity == reading.Quantity
            select (n, r)
        )
        {
            if ((await ValuesAsync(store, state.Readings[(other.Key, same.Key)].Id, 1)).FirstOrDefault() is { T: > 0 } value && now - value.T < FreshMs)
            {
                neighbours.Add(new($"{other.Label}: {same.Label}", value.Value, state.Quantity(other.Key, same.Key)?.Error));
            }
        }
        return neighbours;
    }

    private sealed record Row(long T, double Value);
}

/// <param name="SinceMs">Send it with the next question.</param>
public sealed record ProofView(ProofVerdict Verdict, long SinceMs);
