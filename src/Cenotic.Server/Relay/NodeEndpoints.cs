using System.Globalization;
using System.Net;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Server.Accounts;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Relay;

/// <param name="Rssi">Signal strength as the node tells it (sys/rssi), dBm.</param>
/// <param name="Battery">As the node tells it (sys/bat), volts.</param>
public sealed record ArrivalView(long ReceivedMs, long? Number, long? Boot, int Bytes, double? Rssi, double? Battery);

public sealed record RefusalView(long AtMs, string Reason, string Excerpt);

/// <summary>What a node would have to send, and to where.</summary>
/// <param name="BrokerTls">The broker with TLS; null when no certificate is set.</param>
/// <param name="WebSocket">The broker over WebSocket.</param>
/// <param name="Address">Where it posts over HTTP.</param>
/// <param name="CborBytes">The same message in SenML CBOR, bytes.</param>
/// <param name="FlatExample">The same values as a flat JSON object.</param>
public sealed record HowToSend(string Broker, string? BrokerTls, string WebSocket, string Address, string UserName, string Topic, string ExamplePayload, int ExampleBytes, int CborBytes, string FlatExample, bool HasKey, IReadOnlyList<Snippet> Snippets);

/// <summary>A node's page.</summary>
/// <param name="Lost">Messages missing between the numbers that came; null when it sends no numbers, so that loss cannot be seen.</param>
public sealed record NodeView(IReadOnlyList<ArrivalView> Arrivals, IReadOnlyList<RefusalView> Refusals, long? Lost, long Received, HowToSend Send);

public sealed record NewKey(string Key);

/// <summary>What came from a node, what was refused and why, and its key.</summary>
public static class NodeEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/messages", ViewAsync).WithName("GetNodeMessages");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/key", IssueAsync).WithName("IssueNodeKey");
    }

    private static async Task<Results<Ok<NodeView>, ProblemHttpResult>> ViewAsync(string site, string node, SiteBook book, CenoticStore store, NodeKeys keys, BrokerAddress broker, HttpContext http, SiteClock clock)
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is null)
        {
            return TypedResults.Problem($"There is no node \"{node}\".", statusCode: 404);
        }
        var arrivals = await store.Arrivals.AsNoTracking().Where(a => a.Site == site && a.Node == node).OrderByDescending(a => a.Id).Take(20).Select(a => new ArrivalView(a.ReceivedMs, a.Number, a.Boot, a.Bytes, a.Rssi, a.Battery)).ToListAsync();
        var refusals = await store.Refusals.AsNoTracking().Where(r => r.Site == site && r.Node == node).OrderByDescending(r => r.Id).Take(20).Select(r => new RefusalView(r.AtMs, r.Reason, r.Excerpt)).ToListAsync();
        var received = await store.Arrivals.LongCountAsync(a => a.Site == site && a.Node == node);
        var runs = await store.Arrivals.Where(a => a.Site == site && a.Node == node && a.Number != null).GroupBy(a => a.Boot).Select(g => new { First = g.Min(a => a.Number), Last = g.Max(a => a.Number), Count = g.LongCount() }).ToListAsync();
        var lost = runs.Count == 0 ? null : runs.Sum(r => r.Last - r.First + 1 - r.Count);
        return TypedResults.Ok(new NodeView(arrivals, refusals, lost, received, How(state, book.Plan(state), node, keys, await broker.Ready, http, clock)));
    }

    private static HowToSend How(SiteState state, SitePlan plan, string node, NodeKeys keys, BrokerAt broker, HttpContext http, SiteClock clock)
    {
        List<SenmlValue> records = [.. (plan.Node(node)?.Rhythm.Readings ?? []).Select(r => new SenmlValue(r.Reading, Unit.ToSenml(r.Unit), 1)), new("sys/boot", null, 1), new("sys/seq", null, 1)];
        var seconds = clock.Now(state.Site) / 1000.0;
        var example = Encoding.UTF8.GetString(Senml.Write(seconds, records));
        var flat = $"{{{string.Join(",", records.Select(r => $"\"{r.Name}\":{r.Value.ToString(CultureInfo.InvariantCulture)}"))}}}";
        var web = (http.Request.Host.Host, http.Request.Host.Port ?? 80);
        // A broker that listens everywhere is reached where the page is.
        (string Host, int Port) From(IPEndPoint listens) => (listens.Address.Equals(IPAddress.Any) || listens.Address.Equals(IPAddress.IPv6Any) ? web.Host : listens.Address.ToString(), listens.Port);
        var at = From(broker.Plain);
        var tls = broker.Tls is null ? null : $"{From(broker.Tls).Host}:{broker.Tls.Port}";
        return new($"{at.Host}:{at.Port}", tls, $"{(http.Request.IsHttps ? "wss" : "ws")}://{http.Request.Host}{RelayEndpoints.WebSocket}", $"{http.Request.Scheme}://{http.Request.Host}/api/intake/{state.Site}/{node}", Broker.UserName(state.Site, node), Topics.Data(state.Site, node), example, Encoding.UTF8.GetByteCount(example),
            Senml.WriteCbor(seconds, records).Length, flat, keys.Has(state.Site, node), Snippets.Of(state.Site, node, web, at, example));
    }

    private static async Task<Results<Ok<NewKey>, ProblemHttpResult>> IssueAsync(string site, string node, SiteBook book, NodeKeys keys) =>
        book.Find(site)!.Design.Node(node) is null ? TypedResults.Problem($"There is no node \"{node}\".", statusCode: 404) : TypedResults.Ok(new NewKey(await keys.IssueAsync(site, node)));
}
