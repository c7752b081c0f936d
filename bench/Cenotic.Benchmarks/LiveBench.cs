using System.Diagnostics;
using System.Net.Http.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Server;
using Cenotic.Server.Accounts;
using Cenotic.Server.Ingest;
using Cenotic.Server.Live;
using Microsoft.AspNetCore.Http.Connections;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;
using MQTTnet.Protocol;

namespace Cenotic.Benchmarks;

/// <summary>From a node's publish to the sample at a page's live connection, beside the bare acknowledged round trip of the same message.</summary>
internal static class LiveBench
{
    private const int Rounds = 200;

    public static async Task RunAsync()
    {
        await using var host = await Host.StartAsync();
        var key = await host.App.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        using var node = new MqttClientFactory().CreateMqttClient();
        await node.ConnectAsync(new MqttClientOptionsBuilder().WithTcpServer("127.0.0.1", host.Started.Broker.Port).WithCredentials("home/hall", key).Build());
        await using var signedIn = await SignedInAsync(host);
        var heard = new Dictionary<double, double>();
        var watch = Stopwatch.StartNew();
        signedIn.On<string, LiveSample[]>("samples", (_, samples) =>
        {
            lock (heard)
            {
                foreach (var s in samples)
                {
                    heard[s.Value] = watch.Elapsed.TotalMilliseconds;
                }
            }
        });
        await signedIn.StartAsync();
        var (sent, acknowledged) = (new double[Rounds], new double[Rounds]);
        for (var i = 0; i < Rounds; i++)
        {
            sent[i] = watch.Elapsed.TotalMilliseconds;
            await node.PublishAsync(
                new MqttApplicationMessageBuilder()
                    .WithTopic(Topics.Data("home", "hall"))
                    .WithPayload($$"""[{"n":"temp","v":{{i}}}]""")
                    .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                    .Build()
            );
            acknowledged[i] = watch.Elapsed.TotalMilliseconds - sent[i];
            await Task.Delay(10);
        }
        await Task.Delay(500);
        double[] live = [.. Enumerable.Range(0, Rounds).Where(i => heard.ContainsKey(i)).Select(i => heard[i] - sent[i]).Order()];
        Array.Sort(acknowledged);
        Console.WriteLine(
            $"live: publish to page, median {live[live.Length / 2]:0.0} ms, 99th of 100 {live[live.Length * 99 / 100]:0.0} ms, {live.Length} of "
                + $"{Rounds} heard; publish to acknowledgement, median {acknowledged[Rounds / 2]:0.0} ms; ratio "
                + $"{live[live.Length / 2] / acknowledged[Rounds / 2]:0.00}"
        );
    }

    /// <summary>A client that is signed in as the owner.</summary>
    internal static async Task<HttpClient> ClientAsync(Host host)
    {
        var client = new HttpClient(new HttpClientHandler { UseCookies = false }) { BaseAddress = host.Started.Web };
        var answer = await client.PostAsJsonAsync("/api/session", new SignIn("owner", Host.Password), CenoticJson.Options);
        client.DefaultRequestHeaders.Add("Cookie", answer.Headers.GetValues("Set-Cookie").First().Split(';')[0]);
        return client;
    }

    private static async Task<HubConnection> SignedInAsync(Host host)
    {
        using var client = await ClientAsync(host);
        var cookie = client.DefaultRequestHeaders.GetValues("Cookie").Single();
        return new HubConnectionBuilder()
            .AddJsonProtocol(o => CenoticJson.Configure(o.PayloadSerializerOptions))
            .WithUrl(new Uri(host.Started.Web, "/live"), o =>
            {
                o.Transports = HttpTransportType.WebSockets;
                o.Headers.Add("Cookie", cookie);
            })
            .Build();
    }
}
