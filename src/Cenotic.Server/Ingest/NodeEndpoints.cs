using System.Globalization;
using System.Net;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Ingest;

/// <summary>A value of a message.</summary>
/// <param name="Flags">Bits as <see cref="SampleFlags"/>.</param>
public sealed record ArrivedValue(string Reading, long T, double Value, int Flags);

/// <param name="Rssi">Signal strength as the node tells it (sys/rssi), dBm.</param>
/// <param name="Battery">As the node tells it (sys/bat), volts.</param>
/// <param name="ClockMs">How far ahead its newest time lay, ms; null when it sends no time.</param>
/// <param name="CorrectionMs">What was taken off its times, ms; null for nothing.</param>
/// <param name="Values">What it said, as it was stored; what repeated an older sample is not among them.</param>
/// <param name="Hex">Its first bytes; null when it came before the server started.</param>
/// <param name="Text">The same bytes as text, where they are text.</param>
public sealed record ArrivalView(
    long ReceivedMs,
    long? Number,
    long? Boot,
    int Bytes,
    double? Rssi,
    double? Battery,
    long? ClockMs,
    long? CorrectionMs,
    IReadOnlyList<ArrivedValue> Values,
    string? Hex,
    string? Text
);

/// <summary>The node about itself.</summary>
/// <param name="Connected">True while it is connected to the broker here.</param>
/// <param name="Up">The last it said (sys/up): there, or by its last will gone. Null when it never did.</param>
/// <param name="CorrectionMs">What is taken off its times now, ms, and since when.</param>
/// <param name="Via">The node it is heard through.</param>
/// <param name="Repeats">Messages that came again, known by their numbers: acknowledged, not stored twice.</param>
/// <param name="LifeMs">When its counts last began anew: another board, or its flash erased. Null for never.</param>
public sealed record NodeStatus(
    bool Connected,
    bool? Up,
    long? UpMs,
    long? CorrectionMs,
    long? CorrectionAtMs,
    string? Via,
    long Repeats,
    long? RepeatMs,
    long? LifeMs
);

/// <param name="Count">How many this one stands for: it is the newest of them.</param>
public sealed record RefusalView(long AtMs, string Reason, string Excerpt, long Count)
{
    /// <summary>How many were refused for the same reason in the minute before it.</summary>
    public long More => Count - 1;
}

/// <summary>What a node would have to send, and to where.</summary>
/// <param name="BrokerTls">The broker with TLS; null when no certificate is set.</param>
/// <param name="WebSocket">The broker over WebSocket.</param>
/// <param name="Address">Where it posts over HTTP.</param>
/// <param name="CborBytes">The same message in SenML CBOR, bytes.</param>
/// <param name="FlatExample">The same values as a flat JSON object.</param>
public sealed record HowToSend(
    string Broker,
    string? BrokerTls,
    string WebSocket,
    string Address,
    string UserName,
    string Topic,
    string ExamplePayload,
    int ExampleBytes,
    int CborBytes,
    string FlatExample,
    bool HasKey,
    IReadOnlyList<Snippet> Snippets
);

/// <summary>A node's page.</summary>
/// <param name="Lost">Messages missing between the numbers that came; null when it sends no numbers, so that loss cannot be seen.</param>
public sealed record NodeView(
    IReadOnlyList<ArrivalView> Arrivals,
    IReadOnlyList<RefusalView> Refusals,
    long? Lost,
    long Received,
    NodeStatus Status,
    HowToSend Send
);

public sealed record NewKey(string Key);

/// <summary>What came from a node, what was refused and why, and its key.</summary>
public static class NodeEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/messages", ViewAsync).WithName("GetNodeMessages");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/key", IssueAsync).WithName("IssueNodeKey");
    }

    private static async Task<Results<Ok<NodeView>, ProblemHttpResult>> ViewAsync(
        string site,
        string node,
        SiteBook book,
        CenoticStore store,
        NodeKeys keys,
        BrokerAddress broker,
        LastMessages last,
        HttpContext http,
        SiteClock clock
    )
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is null)
        {
            return SiteRoutes.NoNode(node);
        }
        var arrivals = await ArrivalsAsync(state, node, store, last);
        var known = await store.NodeStatuses.AsNoTracking().FirstOrDefaultAsync(s => s.Site == site && s.Node == node);
        var status = new NodeStatus(
            http.RequestServices.GetRequiredService<Broker>().IsConnected(site, node),
            known?.Up,
            known?.UpMs,
            known?.CorrectionMs,
            known?.CorrectionAtMs,
            state.Design.Node(node)!.Via,
            known?.Repeats ?? 0,
            known?.RepeatMs,
            await store
                .NodeLives.AsNoTracking()
                .Where(l => l.Site == site && l.Node == node)
                .OrderByDescending(l => l.Id)
                .Select(l => (long?)l.AtMs)
                .FirstOrDefaultAsync()
        );
        var refusals = await RefusalsAsync(site, node, store);
        var received = await store.Arrivals.LongCountAsync(a => a.Site == site && a.Node == node);
        var lost = await LostAsync(site, node, store);
        return TypedResults.Ok(
            new NodeView(arrivals, refusals, lost, received, status, How(state, await book.PlanAsync(state), node, keys, await broker.Ready, http, clock))
        );
    }

    private static async Task<List<RefusalView>> RefusalsAsync(string site, string node, CenoticStore store)
    {
        var refusals = await store
            .Refusals.AsNoTracking()
            .Where(r => r.Site == site && r.Node == node)
            .OrderByDescending(r => r.Id)
            .Take(20)
            .Select(r => new RefusalView(r.AtMs, r.Reason, r.Excerpt, r.Count))
            .ToListAsync();
        return refusals;
    }

    /// <summary>Messages that were lost, by the gaps of their numbers; null where none is numbered.</summary>
    private static async Task<long?> LostAsync(string site, string node, CenoticStore store)
    {
        var runs = await store
            .Arrivals.Where(a => a.Site == site && a.Node == node && a.Number != null)
            .GroupBy(a => new
            {
                a.Life,
                a.Boot,
                Run = a.Number / MessageNumbers.RunLength,
            })
            .Select(g => new
            {
                First = g.Min(a => a.Number)!.Value,
                Last = g.Max(a => a.Number)!.Value,
                Count = g.LongCount(),
            })
            .ToListAsync();
        var lost = runs.Count == 0 ? (long?)null : runs.Sum(r => MessageNumbers.Lost(r.First, r.Last, r.Count));
        return lost;
    }

    private static async Task<List<ArrivalView>> ArrivalsAsync(SiteState state, string node, CenoticStore store, LastMessages last)
    {
        const int shown = 20;
        var rows = await store
            .Arrivals.AsNoTracking()
            .Where(a => a.Site == state.Site && a.Node == node)
            .OrderByDescending(a => a.Id)
            .Take(shown)
            .ToListAsync();
        var names = state.Readings.Where(r => r.Key.Node == node).ToDictionary(r => r.Value.Id, r => r.Key.Key);
        var values = new List<(long Arrival, ArrivedValue Value)>();
        if (rows.Count > 0)
        {
            await store.Database.OpenConnectionAsync();
            await using var command = store.Database.GetDbConnection().CreateCommand();
            command.CommandText =
                "SELECT arrival_id, reading_id, t, value, flags FROM samples INDEXED BY samples_by_arrival WHERE arrival_id IN "
                + $"({string.Join(',', rows.Select(r => r.Id))}) ORDER BY t";
            await using var samples = await command.ExecuteReaderAsync();
            while (await samples.ReadAsync())
            {
                values.Add(
                    (
                        samples.GetInt64(0),
                        new(
                            names.GetValueOrDefault(samples.GetInt32(1), "a reading that is gone"),
                            samples.GetInt64(2),
                            samples.GetDouble(3),
                            samples.GetInt32(4)
                        )
                    )
                );
            }
        }
        var of = values.ToLookup(v => v.Arrival, v => v.Value);
        var bytes = last.Of(state.Site, node);
        return
        [
            .. rows.Select(a => new ArrivalView(
                a.ReceivedMs,
                a.Number,
                a.Boot,
                a.Bytes,
                a.Rssi,
                a.Battery,
                a.ClockMs,
                a.CorrectionMs,
                [.. of[a.Id]],
                bytes.TryGetValue(a.Id, out var kept) ? Convert.ToHexString(kept) : null,
                kept is null ? null : AsText(kept)
            )),
        ];
    }

    /// <summary>Bytes as text, when they are nothing but printable text.</summary>
    private static string? AsText(byte[] bytes) =>
        bytes.All(b => b is >= 0x20 and < 0x7F or (byte)'\n' or (byte)'\r' or (byte)'\t') ? Encoding.ASCII.GetString(bytes) : null;

    private static HowToSend How(SiteState state, SitePlan plan, string node, NodeKeys keys, BrokerAt broker, HttpContext http, SiteClock clock)
    {
        List<SenmlValue> values = [.. (plan.Node(node)?.Rhythm.Readings ?? []).Select(r => new SenmlValue(r.Reading, Unit.ToSenml(r.Unit), 1))];
        List<SenmlValue> records = [.. values, new("sys/boot", null, 1), new("sys/seq", null, 1)];
        var seconds = clock.Now(state.Site) / 1000.0;
        var example = Encoding.UTF8.GetString(Senml.Write(seconds, records));
        var flat = $"{{{string.Join(",", records.Select(r => $"\"{r.Name}\":{r.Value.ToString(CultureInfo.InvariantCulture)}"))}}}";
        var web = new SendTo(http.Request.Host.Host, http.Request.Host.Port ?? (http.Request.IsHttps ? 443 : 80), http.Request.IsHttps);
        // A broker that listens everywhere is reached where the page is.
        SendTo From(IPEndPoint listens, bool tls) =>
            new(listens.Address.Equals(IPAddress.Any) || listens.Address.Equals(IPAddress.IPv6Any) ? web.Host : listens.Address.ToString(), listens.Port, tls);
        var at = From(broker.Plain, tls: false);
        SendTo? secure = broker.Tls is null ? null : From(broker.Tls, tls: true);
        var body = Encoding.UTF8.GetString(Senml.Write(null, values));
        return new(
            $"{at.Host}:{at.Port}",
            secure is { } over ? $"{over.Host}:{over.Port}" : null,
            $"{(web.Tls ? "wss" : "ws")}://{http.Request.Host}{RelayEndpoints.WebSocket}",
            $"{http.Request.Scheme}://{http.Request.Host}/api/intake/{state.Site}/{node}",
            Broker.UserName(state.Site, node),
            Topics.Data(state.Site, node),
            example,
            Encoding.UTF8.GetByteCount(example),
            Senml.WriteCbor(seconds, records).Length,
            flat,
            keys.Has(state.Site, node),
            Snippets.Of(state.Site, node, web, secure ?? at, body[1..^1])
        );
    }

    private static async Task<Results<Ok<NewKey>, ProblemHttpResult>> IssueAsync(string site, string node, SiteBook book, NodeKeys keys) =>
        book.Find(site)!.Design.Node(node) is null ? SiteRoutes.NoNode(node) : TypedResults.Ok(new NewKey(await keys.IssueAsync(site, node)));
}
