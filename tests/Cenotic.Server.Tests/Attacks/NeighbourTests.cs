using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Net.WebSockets;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Sites;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>Nodes, viewers and pages that try to get or do more than is theirs.</summary>
public class NeighbourTests
{
    private static async Task EditAsync(RunningServer server, params DesignEdit[] edits) =>
        Assert.IsType<BatchResult.Done>(await server.Book.ApplyAsync("home", server.Book.Find("home")!.Revision, edits, "test"));

    [Fact]
    public async Task A_removed_nodes_key_is_dead_also_when_the_node_comes_back()
    {
        await using var server = await RunningServer.StartAsync();
        var keys = server.Services.GetRequiredService<NodeKeys>();
        var hall = server.Book.Find("home")!.Design.Node("hall")!;
        using var node = await server.NodeAsync("hall");
        var key = await keys.IssueAsync("home", "drying");
        var drying = server.Book.Find("home")!.Design.Node("drying")!;
        await EditAsync(server, new RemoveNode("hall"));
        await RunningServer.UntilAsync(() => Task.FromResult(!node.IsConnected), "who is connected with it is shown out");
        await EditAsync(server, new PutNode(hall), new RemoveNode("drying"), new PutNode(drying));
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM node_keys WHERE Node = 'hall'"));
        Assert.False(keys.Has("home", "hall"));
        // One that is taken out and put back in one step was not removed.
        Assert.Equal(KeyAnswer.Fits, keys.Try("home", "drying", key, IPAddress.Loopback));
    }

    [Fact]
    public async Task A_repeat_of_quality_two_is_stored_once_also_over_a_broken_link()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        Task<long> StoredAsync() => server.CountAsync($"SELECT count(*) AS Value FROM samples");
        // Without a time of its own a message stored twice is two samples.
        var (first, again) = (
            MqttBytes.Publish(Topics.Data("home", "hall"), "{\"temp\": 21}", 7, quality: 2),
            MqttBytes.Publish(Topics.Data("home", "hall"), "{\"temp\": 21}", 7, quality: 2, again: true)
        );
        using (var socket = await MqttBytes.SignedInAsync(server, "twice", "home/hall", key, clean: false))
        {
            await socket.GetStream().WriteAsync(first);
            Assert.Equal([0x50, 2, 0, 7], await MqttBytes.ReadAsync(socket.GetStream()));
            await socket.GetStream().WriteAsync(again);
            Assert.Equal([0x50, 2, 0, 7], await MqttBytes.ReadAsync(socket.GetStream()));
        }
        Assert.Equal(1, await StoredAsync());
        using (var socket = await MqttBytes.SignedInAsync(server, "twice", "home/hall", key, clean: false))
        {
            await socket.GetStream().WriteAsync(again);
            Assert.Equal([0x50, 2, 0, 7], await MqttBytes.ReadAsync(socket.GetStream()));
            Assert.Equal(1, await StoredAsync());
            // Released, the number is free: what comes under it now is another message.
            await socket.GetStream().WriteAsync(MqttBytes.Packet(0x62, MqttBytes.Number(7)));
            Assert.Equal([0x70, 2, 0, 7], await MqttBytes.ReadAsync(socket.GetStream()));
            await socket.GetStream().WriteAsync(first);
            Assert.Equal([0x50, 2, 0, 7], await MqttBytes.ReadAsync(socket.GetStream()));
        }
        Assert.Equal(2, await StoredAsync());
        // Another client id of the same node, and a clean start, have numbers of their own.
        using (var socket = await MqttBytes.SignedInAsync(server, "other", "home/hall", key))
        {
            await socket.GetStream().WriteAsync(first);
            Assert.NotNull(await MqttBytes.ReadAsync(socket.GetStream()));
        }
        Assert.Equal(3, await StoredAsync());
    }

    [Theory]
    [InlineData("/live")]
    [InlineData("/mqtt")]
    public async Task A_page_of_another_origin_opens_no_socket(string path)
    {
        await using var server = await RunningServer.StartAsync();
        async Task<HttpStatusCode> OpenAsync(string? origin)
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, new Uri(server.Started.Web, path));
            request.Headers.Connection.Add("Upgrade");
            request.Headers.Upgrade.Add(new("websocket"));
            request.Headers.Add("Sec-WebSocket-Version", "13");
            request.Headers.Add("Sec-WebSocket-Key", Convert.ToBase64String(new byte[16]));
            request.Headers.Add("Sec-WebSocket-Protocol", "mqtt");
            if (origin is not null)
            {
                request.Headers.Add("Origin", origin);
            }
            using var client = new HttpClient();
            return (await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead)).StatusCode;
        }
        Assert.Equal(HttpStatusCode.Forbidden, await OpenAsync("http://evil.example"));
        Assert.Equal(HttpStatusCode.Forbidden, await OpenAsync($"http://127.0.0.1:{server.Started.Web.Port + 1}"));
        Assert.Equal(HttpStatusCode.Forbidden, await OpenAsync("null"));
        // Its own pages, and programs, which send no origin, are let through to what then asks who they are.
        Assert.NotEqual(HttpStatusCode.Forbidden, await OpenAsync(server.Started.Web.GetLeftPart(UriPartial.Authority)));
        Assert.NotEqual(HttpStatusCode.Forbidden, await OpenAsync(null));
    }

    /// <summary>Sockets over the web are counted by the address that opened each: who fills the measure of one address shuts nobody else out.</summary>
    [Fact]
    public async Task Sockets_over_the_web_are_counted_by_the_address_that_opened_them()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync(RunningServer.Site, "drying");
        var open = new System.Collections.Concurrent.ConcurrentBag<ClientWebSocket>();
        // Answers whether the broker let the connection in: a whole CONNECT with a good key, and a byte of CONNACK.
        async Task<bool> OpenAsync(string from, string client)
        {
            using var handler = new SocketsHttpHandler
            {
                ConnectCallback = async (context, stop) =>
                {
                    var socket = new Socket(AddressFamily.InterNetwork, SocketType.Stream, ProtocolType.Tcp);
                    socket.Bind(new IPEndPoint(IPAddress.Parse(from), 0));
                    await socket.ConnectAsync(context.DnsEndPoint, stop);
                    return new NetworkStream(socket, ownsSocket: true);
                },
            };
            using var invoker = new HttpMessageInvoker(handler, disposeHandler: false);
            var web = new ClientWebSocket();
            open.Add(web);
            web.Options.AddSubProtocol("mqtt");
            await web.ConnectAsync(new UriBuilder(server.Started.Web) { Scheme = "ws", Path = RelayEndpoints.WebSocket }.Uri, invoker, CancellationToken.None);
            try
            {
                await web.SendAsync(MqttBytes.Connect(client, $"{RunningServer.Site}/drying", key), WebSocketMessageType.Binary, true, CancellationToken.None);
                return (await web.ReceiveAsync(new byte[16], CancellationToken.None)).MessageType == WebSocketMessageType.Binary;
            }
            catch (WebSocketException)
            {
                return false;
            }
        }
        var let = await Task.WhenAll(Enumerable.Range(0, PacketGuard.MostConnectionsOfOneAddress).Select(n => OpenAsync("127.0.0.1", $"c{n}")));
        Assert.All(let, Assert.True);
        Assert.False(await OpenAsync("127.0.0.1", "one-more"));
        Assert.True(await OpenAsync("127.0.0.2", "neighbour"));
        foreach (var socket in open)
        {
            socket.Dispose();
        }
    }

    [Fact]
    public async Task Refusals_are_counted_by_node_and_minute_and_not_hoarded()
    {
        var clock = new AdjustedClock();
        await using var server = await RunningServer.StartAsync(system: clock);
        using var node = await server.NodeAsync("hall");
        for (var i = 0; i < 40; i++)
        {
            await RunningServer.PublishAsync(node, "hall", $$"""[{"n":"nothing-{{i}}","v":1}]""");
        }
        var rows = await server.QueryAsync(s => s.Refusals.AsNoTracking().Where(r => r.Node == "hall").OrderBy(r => r.Id).ToListAsync());
        // A minute may have ended in between.
        Assert.InRange(rows.Count, 5, 10);
        Assert.Equal(40, rows.Sum(r => r.Count));
        Assert.Contains("nothing-39", rows[^1].Reason);
        var page = await (await server.ClientAsync("viewer")).GetFromJsonAsync<NodeView>("/api/sites/home/nodes/hall/messages", CenoticJson.Options);
        Assert.Equal(40, page!.Refusals.Sum(r => r.Count));
        clock.By = TimeSpan.FromMinutes(2);
        await RunningServer.PublishAsync(node, "hall", """[{"n":"nothing","v":1}]""");
        Assert.Equal(rows.Count + 1, await server.CountAsync($"SELECT count(*) AS Value FROM refusals WHERE Node = 'hall'"));
    }

    [Fact]
    public async Task A_hundred_unknown_names_of_one_message_are_one_sentence()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        await RunningServer.PublishAsync(
            node,
            "hall",
            "[" + string.Join(",", Enumerable.Range(0, 100).Select(i => $$"""{"n":"{{new string('x', 200)}}{{i}}","v":1}""")) + "]"
        );
        var said = Assert.Single(await server.RefusalsAsync("hall"));
        Assert.Contains("and 95 more are not readings of this node. It has: ", said);
        Assert.InRange(said.Length, 100, 1_500);
    }

    [Fact]
    public async Task Wrong_keys_are_made_slower_by_address_and_a_new_key_ends_the_wait()
    {
        await using var server = await RunningServer.StartAsync();
        var keys = server.Services.GetRequiredService<NodeKeys>();
        var right = await keys.IssueAsync("home", "hall");
        async Task<HttpStatusCode> PostAsync(string key)
        {
            using var client = new HttpClient { BaseAddress = server.Started.Web };
            client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
                "Basic",
                Convert.ToBase64String(Encoding.UTF8.GetBytes($"home/hall:{key}"))
            );
            return (await client.PostAsync("/api/intake/home/hall", new StringContent("{\"temp\": 1}"))).StatusCode;
        }
        for (var i = 0; i < 10; i++)
        {
            Assert.Equal(HttpStatusCode.Unauthorized, await PostAsync($"wrong{i}"));
        }
        Assert.Equal(HttpStatusCode.TooManyRequests, await PostAsync(right));
        // The broker counts with it, says so once a minute on the node's page, and keeps no row for each.
        var before = (await server.RefusalsAsync("hall")).Count;
        for (var i = 0; i < 5; i++)
        {
            using var socket = await MqttBytes.OpenAsync(server);
            await socket.GetStream().WriteAsync(MqttBytes.Connect("x", "home/hall", "wrong"));
            Assert.NotEqual([0x20, 2, 0, 0], await MqttBytes.ReadAsync(socket.GetStream()) ?? []);
        }
        Assert.Equal(before + 1, (await server.RefusalsAsync("hall")).Count);
        // Another address is not held up by that one; here a new key begins anew.
        Assert.Equal(KeyAnswer.Fits, keys.Try("home", "hall", right, IPAddress.Parse("192.0.2.9")));
        Assert.Equal(HttpStatusCode.OK, await PostAsync(await keys.IssueAsync("home", "hall")));
    }

    [Fact]
    public async Task Topic_aliases_are_not_offered_and_long_topics_end_the_connection()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        using var node = new MQTTnet.MqttClientFactory().CreateMqttClient();
        var offered = await node.ConnectAsync(server.Options("hall", key));
        Assert.Equal(0, offered.TopicAliasMaximum);
        Assert.Equal(PacketGuard.LongestPacket, (int)offered.MaximumPacketSize!);
        foreach (var topic in new[] { Topics.Data("home", "hall") + "/" + new string('t', 300), new string('t', 60_000) })
        {
            using var socket = await MqttBytes.SignedInAsync(server, "long", "home/hall", key);
            await socket.GetStream().WriteAsync(MqttBytes.Publish(topic, "1", 3));
            Assert.Null(await MqttBytes.ReadAsync(socket.GetStream()));
        }
        Assert.True(node.IsConnected);
    }

    [Fact]
    public async Task Who_only_looks_never_reads_how_people_are_reached_and_who_is_removed_is_forgotten()
    {
        await using var server = await RunningServer.StartAsync();
        await EditAsync(
            server,
            new PutPerson(
                new(
                    "ada",
                    "Ada Example",
                    [new(WayKind.Mail, "ada@secret.example"), new(WayKind.Text, "+441632960777"), new(WayKind.Webhook, "https://hook.secret.example/ada")]
                )
            )
        );
        await EditAsync(server, new PutPerson(new("ada", "Ada Example", [new(WayKind.Mail, "ada2@secret.example")])));
        string[] secrets = ["secret.example", "+441632960777"];
        var viewer = await server.ClientAsync("viewer");
        foreach (
            var (endpoint, _) in Routes
                .Of(server)
                .Where(r => r.Method == "GET" && r.Endpoint.RoutePattern.RawText!.StartsWith("/api/sites/{site}", StringComparison.Ordinal))
        )
        {
            var said = await (await viewer.GetAsync(Routes.Path(endpoint))).Content.ReadAsStringAsync();
            Assert.DoesNotContain(secrets, s => said.Contains(s, StringComparison.Ordinal));
        }
        Assert.Contains("Ada Example", await viewer.GetStringAsync("/api/sites/home"));
        var owner = await server.ClientAsync("owner");
        Assert.Contains("ada2@secret.example", await owner.GetStringAsync("/api/sites/home"));
        await EditAsync(server, new RemovePerson("ada"));
        foreach (var path in new[] { "", "/export", "/log", "/revisions", "/notices" })
        {
            Assert.DoesNotContain("Ada Example", await owner.GetStringAsync("/api/sites/home" + path));
        }
        Assert.Equal(
            0,
            await server.CountAsync(
                $"""
                SELECT count(*) AS Value FROM revisions WHERE Edits || Inverse || DocumentsAfter LIKE '%Ada Example%' OR Edits || Inverse ||
                    DocumentsAfter LIKE '%secret.example%' OR Edits || Inverse || DocumentsAfter LIKE '%441632960777%'
                """
            )
        );
    }

    [Fact]
    public async Task Metrics_over_a_proxy_want_the_token()
    {
        async Task<HttpStatusCode> AskAsync(RunningServer server, params (string Name, string Value)[] headers)
        {
            using var client = new HttpClient { BaseAddress = server.Started.Web };
            foreach (var (name, value) in headers)
            {
                client.DefaultRequestHeaders.TryAddWithoutValidation(name, value);
            }
            return (await client.GetAsync("/metrics")).StatusCode;
        }
        await using (var open = await RunningServer.StartAsync())
        {
            Assert.Equal(HttpStatusCode.OK, await AskAsync(open));
            Assert.Equal(HttpStatusCode.Unauthorized, await AskAsync(open, ("X-Forwarded-For", "203.0.113.9")));
            Assert.Equal(HttpStatusCode.Unauthorized, await AskAsync(open, ("Forwarded", "for=203.0.113.9"), ("Authorization", "Bearer ")));
        }
        await using var closed = await RunningServer.StartAsync(with: s => s with { MetricsToken = "collect-1" });
        Assert.Equal(HttpStatusCode.Unauthorized, await AskAsync(closed));
        Assert.Equal(HttpStatusCode.Unauthorized, await AskAsync(closed, ("Authorization", "Bearer collect-2")));
        Assert.Equal(HttpStatusCode.OK, await AskAsync(closed, ("X-Forwarded-For", "203.0.113.9"), ("Authorization", "Bearer collect-1")));
    }

    [Fact]
    public async Task Tables_that_a_killed_import_left_are_removed_at_the_next_start()
    {
        var folder = RunningServer.NewFolder();
        Directory.CreateDirectory(Path.Combine(folder, "imports"));
        await File.WriteAllTextAsync(Path.Combine(folder, "imports", "left.csv"), "time,temp\n");
        await using (await RunningServer.StartAsync(folder))
        {
            Assert.False(Directory.Exists(Path.Combine(folder, "imports")));
        }
        Directory.Delete(folder, recursive: true);
    }
}
