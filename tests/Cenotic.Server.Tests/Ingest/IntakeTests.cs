using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;
using MQTTnet.Protocol;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>Every payload over HTTP and MQTT: stored when answered, and refused with a sentence.</summary>
public class IntakeTests
{
    private static async Task<HttpClient> NodeAsync(RunningServer server, string node, string? key = null)
    {
        key ??= await server.Services.GetRequiredService<NodeKeys>().IssueAsync(RunningServer.Site, node);
        var client = new HttpClient { BaseAddress = server.Started.Web };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
            "Basic",
            Convert.ToBase64String(Encoding.UTF8.GetBytes($"{Broker.UserName(RunningServer.Site, node)}:{key}"))
        );
        return client;
    }

    private static async Task<(HttpStatusCode Status, Taken Taken)> PostAsync(HttpClient client, string path, byte[] body)
    {
        var answer = await client.PostAsync($"/api/intake/{path}", new ByteArrayContent(body));
        return (answer.StatusCode, (await answer.Content.ReadFromJsonAsync<Taken>(CenoticJson.Options))!);
    }

    [Fact]
    public async Task What_is_posted_is_stored_when_it_is_answered()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await NodeAsync(server, "hall");
        byte[][] bodies =
        [
            """[{"n":"temp","v":20},{"n":"sys/boot","v":1},{"n":"sys/seq","v":1}]"""u8.ToArray(),
            Senml.WriteCbor(null, [new("temp", "Cel", 21)]),
            """{"temp": 22, "light": 100}"""u8.ToArray(),
        ];
        foreach (var (body, n) in bodies.Select((b, n) => (b, n + 1)))
        {
            Assert.Equal(
                (HttpStatusCode.OK, n == 3 ? 2 : 1),
                await PostAsync(node, "home/hall", body) is var (status, taken) ? (status, taken.Samples) : default
            );
        }
        var (single, one) = await PostAsync(node, "home/hall/temp", "23.5"u8.ToArray());
        Assert.Equal((HttpStatusCode.OK, 1), (single, one.Samples));
        Assert.Equal(
            [20, 21, 22, 23.5],
            await server.QueryAsync(s =>
                s.Database.SqlQuery<double>(
                        $"SELECT raw AS Value FROM samples WHERE reading_id = (SELECT Id FROM readings WHERE Node = 'hall' AND Key = 'temp') ORDER BY raw"
                    )
                    .ToListAsync()
            )
        );
    }

    [Fact]
    public async Task What_cannot_be_taken_says_why_and_stands_on_the_nodes_page()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await NodeAsync(server, "hall");
        var (status, taken) = await PostAsync(node, "home/hall", """{"cellar": 1}"""u8.ToArray());
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("is not a reading of this node", Assert.Single(taken.Refusals));
        Assert.Equal(taken.Refusals, await server.RefusalsAsync("hall"));
        // What is right in a message is kept.
        (status, taken) = await PostAsync(node, "home/hall", """{"cellar": 1, "temp": 20}"""u8.ToArray());
        Assert.Equal((HttpStatusCode.OK, 1, 1), (status, taken.Samples, taken.Refusals.Count));
        Assert.Equal(
            HttpStatusCode.RequestEntityTooLarge,
            (await node.PostAsync("/api/intake/home/hall", new ByteArrayContent(new byte[IntakeEndpoints.MostBytes + 1]))).StatusCode
        );
    }

    [Fact]
    public async Task A_key_speaks_for_its_node_only()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync(RunningServer.Site, "hall");
        using var hall = await NodeAsync(server, "hall", key);
        using var wrong = await NodeAsync(server, "hall", key + "0");
        using var foreign = await NodeAsync(server, "drying", key);
        using var nobody = new HttpClient { BaseAddress = server.Started.Web };
        foreach (
            var (client, path) in new[] { (hall, "home/drying"), (wrong, "home/hall"), (foreign, "home/drying"), (nobody, "home/hall"), (hall, "nowhere/hall") }
        )
        {
            Assert.Equal(HttpStatusCode.Unauthorized, (await client.PostAsync($"/api/intake/{path}", new StringContent("{\"temp\":1}"))).StatusCode);
        }
        var owner = await server.ClientAsync("owner");
        Assert.Equal(HttpStatusCode.Unauthorized, (await owner.PostAsync("/api/intake/home/hall", new StringContent("{\"temp\":1}"))).StatusCode);
        // A new key ends the old one at once.
        await server.Services.GetRequiredService<NodeKeys>().IssueAsync(RunningServer.Site, "hall");
        Assert.Equal(HttpStatusCode.Unauthorized, (await hall.PostAsync("/api/intake/home/hall", new StringContent("{\"temp\":1}"))).StatusCode);
        Assert.Equal(0, await server.CountAsync($"SELECT count(*) AS Value FROM samples"));
    }

    [Fact]
    public async Task A_flood_is_slowed_and_told_so()
    {
        await using var server = await RunningServer.StartAsync();
        using var nobody = new HttpClient { BaseAddress = server.Started.Web };
        var answers = await Task.WhenAll(Enumerable.Range(0, 4000).Select(_ => nobody.PostAsync("/api/intake/home/hall", null)));
        Assert.Contains(answers, a => a.StatusCode == HttpStatusCode.TooManyRequests);
        Assert.All(answers, a => Assert.True(a.StatusCode is HttpStatusCode.Unauthorized or HttpStatusCode.TooManyRequests));
    }

    [Fact]
    public async Task Cbor_objects_and_single_numbers_come_over_the_broker_too()
    {
        await using var server = await RunningServer.StartAsync();
        using var node = await server.NodeAsync("hall");
        async Task SendAsync(string topic, byte[] payload) =>
            Assert.True(
                (
                    await node.PublishAsync(
                        new MqttApplicationMessageBuilder()
                            .WithTopic(topic)
                            .WithPayload(payload)
                            .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                            .Build()
                    )
                ).IsSuccess
            );
        await SendAsync(Topics.Data("home", "hall"), Senml.WriteCbor(null, [new("temp", "Cel", 18.25)]));
        await SendAsync(Topics.Data("home", "hall"), """{"light": 7}"""u8.ToArray());
        await SendAsync(Topics.Data("home", "hall", "temp"), "19.5"u8.ToArray());
        Assert.Equal(
            [7, 18.25, 19.5],
            await server.QueryAsync(s => s.Database.SqlQuery<double>($"SELECT raw AS Value FROM samples ORDER BY raw").ToListAsync())
        );
    }
}
