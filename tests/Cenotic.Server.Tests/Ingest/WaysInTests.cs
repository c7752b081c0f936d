using System.Net;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using MQTTnet;
using MQTTnet.Protocol;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>MQTT with TLS and over WebSocket, and what is said when a way in is not to be had.</summary>
public class WaysInTests
{
    private static readonly IPEndPoint Free = new(IPAddress.Loopback, 0);

    /// <summary>A certificate of its own authority for this machine, and its PEM text.</summary>
    private static X509Certificate2 Certificate(DateTimeOffset from, DateTimeOffset to)
    {
        using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
        var request = new CertificateRequest("CN=localhost", key, HashAlgorithmName.SHA256);
        var names = new SubjectAlternativeNameBuilder();
        names.AddIpAddress(IPAddress.Loopback);
        request.CertificateExtensions.Add(names.Build());
        request.CertificateExtensions.Add(new X509BasicConstraintsExtension(true, false, 0, true));
        return request.CreateSelfSigned(from, to);
    }

    private static async Task<(int Exit, string Said)> PublishAsync(RunningServer server, string key, X509Certificate2 trusted, string payload)
    {
        var authority = Path.Combine(server.Settings.Data, "authority.pem");
        await File.WriteAllTextAsync(authority, trusted.ExportCertificatePem());
        return await PeersTests.RunAsync(
            "mosquitto_pub",
            [
                "-h",
                "127.0.0.1",
                "-p",
                $"{server.Started.BrokerTls!.Port}",
                "--cafile",
                authority,
                "-i",
                "bench-tool",
                "-u",
                "home/hall",
                "-P",
                key,
                "-q",
                "1",
                "-t",
                Topics.Data("home", "hall"),
                "-m",
                payload,
            ]
        );
    }

    [Fact]
    public async Task A_client_of_another_make_publishes_with_tls_and_trusts_only_the_right_certificate()
    {
        var now = DateTimeOffset.UtcNow;
        using var certificate = Certificate(now.AddDays(-1), now.AddDays(1));
        using var other = Certificate(now.AddDays(-1), now.AddDays(1));
        await using var server = await RunningServer.StartAsync(with: s => s with { BrokerTls = Free, Certificate = certificate });
        Assert.Contains(server.Started.Lines, l => l.Contains("MQTT with TLS", StringComparison.Ordinal));
        Assert.Equal("https", server.Started.Web.Scheme);
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        var (exit, said) = await PublishAsync(server, key, certificate, "{\"temp\": 16.25}");
        Assert.True(exit == 0, said);
        Assert.Equal([16.25], await PeersTests.ValuesAsync(server));
        Assert.NotEqual(0, (await PublishAsync(server, key, other, "{\"temp\": 1}")).Exit);
        // What does not speak TLS is closed, and nothing is taken from it.
        var plain = await PeersTests.RunAsync(
            "mosquitto_pub",
            [
                "-h",
                "127.0.0.1",
                "-p",
                $"{server.Started.BrokerTls!.Port}",
                "-i",
                "plain",
                "-u",
                "home/hall",
                "-P",
                key,
                "-q",
                "1",
                "-t",
                Topics.Data("home", "hall"),
                "-m",
                "{\"temp\": 2}",
            ]
        );
        Assert.NotEqual(0, plain.Exit);
        Assert.Equal([16.25], await PeersTests.ValuesAsync(server));
    }

    [Fact]
    public async Task An_ended_certificate_is_told_at_the_start_and_other_ways_go_on()
    {
        var now = DateTimeOffset.UtcNow;
        using var certificate = Certificate(now.AddDays(-9), now.AddDays(-2));
        await using var server = await RunningServer.StartAsync(with: s => s with { BrokerTls = Free, Certificate = certificate });
        Assert.Contains(server.Started.Lines, l =>
            l == $"The certificate ended on {now.AddDays(-2):yyyy-MM-dd}: nodes that check it refuse to connect. Renew it and start again."
        );
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        Assert.NotEqual(0, (await PublishAsync(server, key, certificate, "{\"temp\": 3}")).Exit);
        using var node = await server.NodeAsync("hall");
        Assert.Equal(MqttClientPublishReasonCode.Success, (await RunningServer.PublishAsync(node, "hall", "{\"temp\": 4}")).ReasonCode);
        Assert.Equal([4], await PeersTests.ValuesAsync(server));
    }

    [Fact]
    public async Task A_node_publishes_over_websocket_behind_the_same_guard()
    {
        await using var server = await RunningServer.StartAsync();
        var key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        MqttClientOptions Options(string password) =>
            new MqttClientOptionsBuilder()
                .WithWebSocketServer(o => o.WithUri($"ws://{server.Started.Web.Authority}{RelayEndpoints.WebSocket}"))
                .WithClientId("page")
                .WithCredentials(Broker.UserName("home", "hall"), password)
                .WithTimeout(TimeSpan.FromSeconds(10))
                .Build();
        using var client = new MqttClientFactory().CreateMqttClient();
        await client.ConnectAsync(Options(key));
        Assert.Equal(MqttClientPublishReasonCode.Success, (await RunningServer.PublishAsync(client, "hall", "{\"temp\": 19.5}")).ReasonCode);
        Assert.Equal([19.5], await PeersTests.ValuesAsync(server));
        var ended = new TaskCompletionSource();
        client.DisconnectedAsync += _ =>
        {
            ended.TrySetResult();
            return Task.CompletedTask;
        };
        await Assert.ThrowsAnyAsync<Exception>(() => RunningServer.PublishAsync(client, "hall", new string('1', PacketGuard.LongestPacket + 1)));
        await ended.Task.WaitAsync(TimeSpan.FromSeconds(20));
        using var stranger = new MqttClientFactory().CreateMqttClient();
        await Assert.ThrowsAnyAsync<Exception>(async () =>
            Assert.Equal(MqttClientConnectResultCode.Success, (await stranger.ConnectAsync(Options(key + "x"))).ResultCode)
        );
        Assert.Equal([19.5], await PeersTests.ValuesAsync(server));
    }

    [Fact]
    public async Task A_taken_port_is_named()
    {
        using var other = new TcpListener(IPAddress.Loopback, 0);
        other.Start();
        var fault = await Assert.ThrowsAsync<IOException>(() => RunningServer.StartAsync(with: s => s with { Broker = (IPEndPoint)other.LocalEndpoint }));
        Assert.Contains($"127.0.0.1:{((IPEndPoint)other.LocalEndpoint).Port}", fault.Message);
        Assert.Contains("stop it, or set CENOTIC_BROKER to another address.", fault.Message);
    }

    [Fact]
    public void A_certificate_is_read_from_pem_files_or_refused_with_a_sentence()
    {
        var folder = Directory.CreateTempSubdirectory("cenotic-certificate").FullName;
        using var certificate = Certificate(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddDays(1));
        var (file, both) = (Path.Combine(folder, "server.pem"), Path.Combine(folder, "both.pem"));
        File.WriteAllText(file, certificate.ExportCertificatePem());
        File.WriteAllText(both, certificate.ExportCertificatePem() + "\n" + certificate.GetECDsaPrivateKey()!.ExportECPrivateKeyPem());
        Settings Read(params (string, string)[] set) =>
            Settings.Read(new ConfigurationBuilder().AddInMemoryCollection(set.ToDictionary(s => s.Item1, s => (string?)s.Item2)).Build());
        var settings = Read(("CERTIFICATE", both), ("BROKER_TLS", "127.0.0.1:8883"));
        Assert.Equal(certificate.Thumbprint, settings.Certificate!.Thumbprint);
        Assert.Equal(8883, settings.BrokerTls!.Port);
        Assert.Null(settings.CertificateFault(DateTimeOffset.UtcNow));
        Assert.Contains("begins on", settings.CertificateFault(DateTimeOffset.UtcNow.AddDays(-5)));
        Assert.Contains("cannot be used", Assert.Throws<ArgumentException>(() => Read(("CERTIFICATE", file))).Message);
        Assert.Contains("cannot be used", Assert.Throws<ArgumentException>(() => Read(("CERTIFICATE", Path.Combine(folder, "none.pem")))).Message);
        Assert.Contains("CENOTIC_CERTIFICATE", Assert.Throws<ArgumentException>(() => Read(("BROKER_TLS", "127.0.0.1:8883"))).Message);
        Directory.Delete(folder, recursive: true);
    }
}
