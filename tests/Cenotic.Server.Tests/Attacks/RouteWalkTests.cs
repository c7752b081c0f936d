using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json.Nodes;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using Cenotic.Server.Watch;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>Every route, taken from the list that the program serves by and from its own description, so that a new one is in these walks by itself.</summary>
public class RouteWalkTests
{
    private const string OfSite = "/api/sites/{site}";

    private static bool IsOpen(RouteEndpoint endpoint) => endpoint.Metadata.GetMetadata<IAllowAnonymous>() is not null;

    /// <summary>Routes that end the sign-in that walks.</summary>
    private static bool EndsTheWalk(string method, RouteEndpoint endpoint) =>
        endpoint.RoutePattern.RawText is "/api/session" or "/api/sessions" && method == "DELETE"
        || endpoint.RoutePattern.RawText is "/live" or "/mqtt"
        || endpoint.RoutePattern.RawText!.StartsWith("/live/", StringComparison.Ordinal);

    private static async Task<HttpResponseMessage> SendAsync(HttpClient client, string method, string path, string? body)
    {
        using var request = new HttpRequestMessage(new HttpMethod(method), path)
        {
            Content = method is "GET" or "HEAD" ? null : new StringContent(body ?? "{}", Encoding.UTF8, "application/json"),
        };
        return await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead);
    }

    /// <summary>A body of each route that its description says is right in shape.</summary>
    private static async Task<(JsonObject Document, HttpClient Client)> DocumentAsync(RunningServer server)
    {
        var client = await server.ClientAsync();
        return (JsonNode.Parse(await client.GetStringAsync("/openapi/v1.json"))!.AsObject(), client);
    }

    [Fact]
    public async Task Nobody_gets_in_with_what_is_not_theirs()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        // A maker, and owner, of another site.
        var id = await server.QueryAsync(s => s.Users.Where(u => u.UserName == "stranger").Select(u => u.Id).SingleAsync());
        await server.Book.CreateAsync("shed", SiteDesign.Empty("Shed"), id, Evidence.None);
        var stranger = await server.ClientAsync("stranger");
        var guest = await server.ClientAsync();
        var link = (
            await (
                await owner.PostAsync("/api/sites/home/shares", RunningServer.Body(new ShareRequest("house", "Neighbour", 7)))
            ).Content.ReadFromJsonAsync<MadeShare>(CenoticJson.Options)
        )!;
        Assert.Equal(HttpStatusCode.NoContent, (await guest.PostAsync("/api/shared", RunningServer.Body(new ShareToken(link.Path.Split('#')[1])))).StatusCode);
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        var node = await server.ClientAsync();
        node.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Basic", Convert.ToBase64String(Encoding.UTF8.GetBytes($"home/hall:{key}")));
        var (signedOut, forger) = (await server.ClientAsync(), await server.ClientAsync("owner", withToken: false));
        var walked = 0;
        foreach (var (endpoint, method) in Routes.Of(server).Where(r => !IsOpen(r.Endpoint) && !EndsTheWalk(r.Method, r.Endpoint)))
        {
            var (route, path) = (endpoint.RoutePattern.RawText!, Routes.Path(endpoint));
            async Task ExpectAsync(string who, HttpClient client, params HttpStatusCode[] wanted)
            {
                var status = (await SendAsync(client, method, path, null)).StatusCode;
                Assert.True(wanted.Contains(status), $"{who}: {method} {route} answered {status}");
                walked++;
            }
            await ExpectAsync("signed out", signedOut, HttpStatusCode.Unauthorized);
            await ExpectAsync("node key", node, HttpStatusCode.Unauthorized);
            if (!route.StartsWith("/api/shared", StringComparison.Ordinal))
            {
                await ExpectAsync("guest", guest, HttpStatusCode.Unauthorized);
            }
            if (route.StartsWith(OfSite, StringComparison.Ordinal))
            {
                // The site does not exist for them; a body that cannot be read is refused before that is asked.
                await ExpectAsync("maker of another site", stranger, HttpStatusCode.NotFound, HttpStatusCode.BadRequest);
                if (method is not ("GET" or "HEAD"))
                {
                    await ExpectAsync("without the page's token", forger, HttpStatusCode.BadRequest);
                }
            }
        }
        Assert.True(walked > 300, $"only {walked} requests");
        Assert.Equal(1, server.Book.Find("home")!.Revision);
    }

    private static readonly string[] Numbers =
    [
        "0",
        "-1",
        "9223372036854775807",
        "-9223372036854775808",
        "1e308",
        "-1e308",
        "99999999999999999999",
        "NaN",
        "x",
        "",
    ];
    private static readonly string[] Texts = ["", "%00", "..%2F..%2Fetc", "%F0%9F%8C%8D", "'--", "{}", "<b>"];

    [Fact]
    public async Task Extreme_values_in_every_path_and_query_are_answered_and_break_nothing()
    {
        await using var server = await RunningServer.StartAsync();
        var (document, _) = await DocumentAsync(server);
        var owner = await server.ClientAsync("owner");
        var walked = 0;
        foreach (var (path, item) in document["paths"]!.AsObject())
        {
            foreach (var (method, operation) in item!.AsObject().Where(o => o.Key is "get"))
            {
                var parameters = operation!
                    ["parameters"]
                    ?.AsArray()
                    .Select(p =>
                        (
                            Name: (string)p!["name"]!,
                            In: (string)p["in"]!,
                            IsNumber: p["schema"]!.ToJsonString().Contains("int", StringComparison.Ordinal)
                                || p["schema"]!.ToJsonString().Contains("number", StringComparison.Ordinal)
                        )
                    )
                    .ToList()
                    ?? [];
                foreach (var tried in parameters.Where(p => p.Name != "site"))
                {
                    foreach (var value in (tried.IsNumber ? Numbers : [.. Texts, new string('a', 3_000)]).Select(v => v))
                    {
                        string Of((string Name, string In, bool IsNumber) p) =>
                            p.Name == tried.Name ? value
                            : p.IsNumber ? "1"
                            : p.Name switch
                            {
                                "site" => "home",
                                "node" => "hall",
                                "reading" => "temp",
                                "part" => "air",
                                "line" => "SDA",
                                "quantity" => "temperature",
                                "view" => "house",
                                _ => "x",
                            };
                        var at = parameters
                            .Where(p => p.In == "path")
                            .Aggregate(path, (text, p) => text.Replace($"{{{p.Name}}}", Of(p).Length == 0 ? "%20" : Of(p), StringComparison.Ordinal))
                            .Replace("{site}", "home", StringComparison.Ordinal);
                        var query = string.Join("&", parameters.Where(p => p.In == "query").Select(p => $"{p.Name}={Of(p)}"));
                        var answer = await SendAsync(owner, "GET", query.Length == 0 ? at : $"{at}?{query}", null);
                        Assert.True((int)answer.StatusCode < 500, $"GET {at}?{(query.Length > 200 ? query[..200] : query)} answered {answer.StatusCode}");
                        walked++;
                    }
                }
            }
        }
        Assert.True(walked > 400, $"only {walked} requests");
        Assert.Equal(HttpStatusCode.OK, (await owner.GetAsync("/health")).StatusCode);
    }

    /// <summary>Values that fit a schema, one of each kind of extreme.</summary>
    private static JsonNode? Sample(JsonObject document, JsonNode? schema, string kind, int depth = 0)
    {
        if (schema is null || depth > 6)
        {
            return null;
        }
        if ((string?)schema["$ref"] is { } reference)
        {
            return Sample(document, document["components"]!["schemas"]![reference.Split('/')[^1]], kind, depth + 1);
        }
        if ((schema["oneOf"] ?? schema["anyOf"]) is JsonArray choices)
        {
            return Sample(document, choices.FirstOrDefault(c => c!["type"]?.ToString() != "null"), kind, depth + 1);
        }
        if (schema["enum"] is JsonArray words)
        {
            return words[0]?.DeepClone();
        }
        var type = schema["type"] is JsonArray types ? (string?)types.FirstOrDefault(t => (string?)t != "null") : (string?)schema["type"];
        return type switch
        {
            "object" => new JsonObject(
                (schema["properties"]?.AsObject() ?? []).Select(p => KeyValuePair.Create(p.Key, Sample(document, p.Value, kind, depth + 1)))
            ),
            "array" => kind switch
            {
                "null elements" => new JsonArray(null, null),
                "empty" => [],
                "many" => new JsonArray([.. Enumerable.Range(0, 5_000).Select(_ => Sample(document, schema["items"], "usual", depth + 1))]),
                _ => new JsonArray(Sample(document, schema["items"], kind, depth + 1)),
            },
            "integer" => kind == "extreme" ? JsonValue.Create(long.MaxValue)
            : kind == "low" ? JsonValue.Create(long.MinValue)
            : JsonValue.Create(1),
            "number" => kind == "extreme" ? JsonValue.Create(1.7e308)
            : kind == "low" ? JsonValue.Create(-1.7e308)
            : JsonValue.Create(1.0),
            "boolean" => JsonValue.Create(kind == "extreme"),
            "string" => JsonValue.Create(
                kind switch
                {
                    "extreme" => new string('x', 200_000),
                    "low" => "\u0001\u202e<b>",
                    "empty" => "",
                    _ => "hall",
                }
            ),
            _ => null,
        };
    }

    [Fact]
    public async Task Extreme_bodies_of_every_write_are_answered_and_nothing_without_measure_is_kept()
    {
        await using var server = await RunningServer.StartAsync();
        var (document, _) = await DocumentAsync(server);
        var walked = 0;
        var owner = await server.ClientAsync("owner");
        foreach (var (path, item) in document["paths"]!.AsObject())
        {
            foreach (var (method, operation) in item!.AsObject().Where(o => o.Key is "post" or "put" or "delete" or "patch"))
            {
                if (path is "/api/session" or "/api/sessions" && method == "delete")
                {
                    continue;
                }
                var schema = operation!["requestBody"]?["content"]?["application/json"]?["schema"];
                var at = System.Text.RegularExpressions.Regex.Replace(path, @"\{([a-zA-Z]+)\}", m => m.Groups[1].Value switch
                    {
                        "site" => "home",
                        "node" => "hall",
                        "reading" => "temp",
                        "zone" => "house",
                        "name" => "viewer",
                        "person" => "ann",
                        "output" => "light",
                        _ => "1",
                    });
                string?[] bodies = schema is null
                    ? ["{}", "null", "[]", "x"]
                    :
                    [
                        .. new[] { "usual", "extreme", "low", "empty", "many", "null elements" }.Select(k =>
                            Sample(document, schema, k)?.ToJsonString() ?? "null"
                        ),
                        "null",
                        "[]",
                        "{",
                        "\"x\"",
                        "{\"nobody\": 1}",
                        """{"revision": 1, "edits": [null]}""",
                        """{"revision": 1, "edits": [{}]}""",
                        """{"revision": 1, "edits": [{"kind": "putDerived", "derived": {"key": "a", "label": "A", "from": {}, "decimals": 1}}]}""",
                    ];
                foreach (var body in bodies)
                {
                    var answer = await SendAsync(owner, method.ToUpperInvariant(), at, body);
                    Assert.True(
                        (int)answer.StatusCode < 500,
                        $"{method} {at} with {(body!.Length > 300 ? body[..300] : body)} answered {answer.StatusCode}: "
                            + $"{await answer.Content.ReadAsStringAsync()}"
                    );
                    walked++;
                }
            }
        }
        Assert.True(walked > 300, $"only {walked} requests");
        // The owner's own role and sign-in stand, and no text without measure is in any table.
        using var database = new SqliteConnection($"Data Source={server.Settings.Database};Pooling=False");
        database.Open();
        List<(string Table, string Column)> columns = [];
        using (
            var list = new SqliteCommand(
                "SELECT m.name, p.name FROM sqlite_master m JOIN pragma_table_info(m.name) p WHERE m.type = 'table' AND p.type = 'TEXT' AND m.name "
                    + "NOT LIKE 'sqlite%'",
                database
            )
        )
        using (var rows = list.ExecuteReader())
        {
            while (rows.Read())
            {
                columns.Add((rows.GetString(0), rows.GetString(1)));
            }
        }
        Assert.True(columns.Count > 50, $"only {columns.Count} columns");
        foreach (var (table, column) in columns)
        {
            using var longest = new SqliteCommand($"SELECT coalesce(max(length(\"{column}\")), 0) FROM \"{table}\"", database);
            Assert.True((long)longest.ExecuteScalar()! < 100_000, $"{table}.{column} holds a text of {longest.ExecuteScalar()} characters");
        }
    }

    [Fact]
    public async Task An_element_that_is_missing_or_of_no_kind_is_unprocessable()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        foreach (
            var edits in new[]
            {
                "[null]",
                "[{}]",
                """[{"kind": "putPerson", "person": {"key": "a", "name": "A", "ways": [null]}}]""",
                """[{"kind": "putDerived", "derived": {"key": "a", "label": "A", "from": {"label": "x"}, "decimals": 1}}]""",
                """[{"kind": "putRoom", "room": {"key": "a", "label": "A", "corners": [null, null, null], "tags": []}}]""",
            }
        )
        {
            var answer = await SendAsync(owner, "POST", "/api/sites/home/edits", $$"""{"revision": 1, "edits": {{edits}}}""");
            Assert.True(
                answer.StatusCode == HttpStatusCode.UnprocessableEntity,
                $"{edits} answered {answer.StatusCode}: {await answer.Content.ReadAsStringAsync()}"
            );
        }
    }
}
