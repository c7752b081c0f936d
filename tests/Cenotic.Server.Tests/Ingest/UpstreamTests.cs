using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Server.Commands;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Samples;
using Cenotic.Server.Storage;
using Cenotic.Server.Tests.Samples;
using Cenotic.Tests;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>As a client of a broker of another make, with TLS and a password.</summary>
public class UpstreamTests
{
    private const string User = "cenotic",
        Password = "a-long-secret";

    [Fact]
    public async Task Messages_come_over_a_broker_of_another_make_and_are_acknowledged_to_it_when_they_are_stored()
    {
        using var broker = await OtherBroker.StartAsync();
        var folder = RunningServer.NewFolder();
        await using (var server = await RunningServer.StartAsync(folder, with: s => s with { Upstream = broker.Upstream }))
        {
            await ConnectedAsync(server);
            await broker.PublishAsync(Topics.Data("home", "hall"), "{\"temp\": 18.5}");
            await broker.PublishAsync(Topics.Data("home", "hall", "light"), "210");
            await broker.PublishAsync(Topics.Data("home", "nobody"), "{\"temp\": 1}");
            await RunningServer.UntilAsync(async () => (await PeersTests.ValuesAsync(server)).Order().SequenceEqual([18.5, 210]), "they are stored");
            await RunningServer.UntilAsync(
                () => Task.FromResult(server.Services.GetRequiredService<UpstreamBroker>().State!.Unknown == 1),
                "the foreign one is counted"
            );
            var client = await server.ClientAsync("owner");
            var state = (await client.GetFromJsonAsync<RelayState>("/api/sites/home/relay", CenoticJson.Options))!.Upstream!;
            Assert.Equal((true, 3L, 1L), (state.Connected, state.Messages, state.Unknown));
        }
        // What comes while this program is off waits in the session that the broker keeps.
        for (var i = 1; i <= 20; i++)
        {
            await broker.PublishAsync(Topics.Data("home", "hall"), $"{{\"temp\": {i}}}");
        }
        await using (var server = await RunningServer.StartAsync(folder, with: s => s with { Upstream = broker.Upstream }))
        {
            await RunningServer.UntilAsync(
                async () => Enumerable.Range(1, 20).All((await PeersTests.ValuesAsync(server)).Select(v => (int)v).Contains),
                "all that waited came"
            );
        }
        Directory.Delete(folder, recursive: true);
    }

    /// <summary>A store that refuses: nothing is acknowledged, and it comes again when the store takes it.</summary>
    [Fact]
    public async Task What_is_not_stored_is_not_acknowledged_and_comes_again()
    {
        using var broker = await OtherBroker.StartAsync();
        await using var server = await RunningServer.StartAsync(with: s => s with { Upstream = broker.Upstream });
        await ConnectedAsync(server);
        await server.QueryAsync(async s =>
            await Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.ExecuteSqlRawAsync(s.Database, "ALTER TABLE refusals RENAME TO elsewhere")
        );
        await broker.PublishAsync(Topics.Data("home", "hall"), "{\"temp\": 7}");
        await RunningServer.UntilAsync(
            () => Task.FromResult(server.Services.GetRequiredService<RelayMeter>().Read().Failing is not null),
            "it is told that nothing is stored"
        );
        Assert.Empty(await PeersTests.ValuesAsync(server));
        await server.QueryAsync(async s =>
            await Microsoft.EntityFrameworkCore.RelationalDatabaseFacadeExtensions.ExecuteSqlRawAsync(s.Database, "ALTER TABLE elsewhere RENAME TO refusals")
        );
        await RunningServer.UntilAsync(async () => (await PeersTests.ValuesAsync(server)).SequenceEqual([7]), "it came again");
    }

    [Fact]
    public async Task A_wrong_password_and_a_certificate_of_somebody_else_are_told()
    {
        using var broker = await OtherBroker.StartAsync();
        await using var server = await RunningServer.StartAsync(with: s => s with { Upstream = broker.Upstream with { Password = "wrong" } });
        using var other = OtherBroker.Certificate();
        await using var second = await RunningServer.StartAsync(with: s =>
            s with
            {
                Upstream = broker.Upstream with { Authority = other, ClientId = "second" },
            }
        );
        foreach (var one in new[] { server, second })
        {
            await RunningServer.UntilAsync(
                () => Task.FromResult(one.Services.GetRequiredService<UpstreamBroker>().State is { Connected: false, Fault: not "not connected yet" }),
                "the reason is told"
            );
        }
        Assert.Contains("certificate", second.Services.GetRequiredService<UpstreamBroker>().State!.Fault, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task An_output_is_switched_over_it()
    {
        using var broker = await OtherBroker.StartAsync();
        await using var server = await RunningServer.StartAsync(with: s => s with { Upstream = broker.Upstream });
        await ConnectedAsync(server);
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        using var listener = await broker.ListenAsync(Topics.Command("home", "drying"), patience.Token);
        var client = await server.ClientAsync("owner");
        Assert.Equal(
            HttpStatusCode.OK,
            (await client.PostAsync("/api/sites/home/outputs/drying/fan", RunningServer.Body(new SwitchRequest(true, 60_000)))).StatusCode
        );
        string line;
        do
        {
            line = (await listener.StandardOutput.ReadLineAsync(patience.Token))!;
        } while (line == OtherBroker.Listening);
        var heard = OutputCommand.Read(System.Text.Encoding.UTF8.GetBytes(line)).Value;
        Assert.Equal(("fan", true), (heard.Output, heard.On));
        await broker.PublishAsync(Topics.Data("home", "drying"), $$"""[{"n":"fan","v":1},{"n":"sys/ack","v":{{heard.Id}}}]""");
        await RunningServer.UntilAsync(
            async () => (await client.GetFromJsonAsync<OutputsView>("/api/sites/home/outputs", CenoticJson.Options))!.Log[0].Taken == true,
            "the answer is kept"
        );
        listener.Kill();
    }

    private static Task ConnectedAsync(RunningServer server) =>
        RunningServer.UntilAsync(() => Task.FromResult(server.Services.GetRequiredService<UpstreamBroker>().State!.Connected), "it is connected");

    /// <summary>Debian's mosquitto with TLS and one account.</summary>
    private sealed class OtherBroker : IDisposable
    {
        private readonly Process _process;
        private readonly string _folder;
        private readonly int _port;

        private OtherBroker(Process process, string folder, int port, Upstream upstream) =>
            (_process, _folder, _port, Upstream) = (process, folder, port, upstream);

        public Upstream Upstream { get; }

        public static X509Certificate2 Certificate()
        {
            using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
            var request = new CertificateRequest("CN=127.0.0.1", key, HashAlgorithmName.SHA256);
            var names = new SubjectAlternativeNameBuilder();
            names.AddIpAddress(IPAddress.Loopback);
            request.CertificateExtensions.Add(names.Build());
            request.CertificateExtensions.Add(new X509BasicConstraintsExtension(true, false, 0, true));
            return request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddDays(1));
        }

        public static async Task<OtherBroker> StartAsync()
        {
            var folder = Directory.CreateTempSubdirectory("other-broker").FullName;
            using var certificate = Certificate();
            await File.WriteAllTextAsync($"{folder}/cert.pem", certificate.ExportCertificatePem());
            await File.WriteAllTextAsync($"{folder}/key.pem", certificate.GetECDsaPrivateKey()!.ExportPkcs8PrivateKeyPem());
            Assert.Equal(0, (await PeersTests.RunAsync("mosquitto_passwd", ["-b", "-c", $"{folder}/accounts", User, Password])).Exit);
            var (port, _) = Ports.Free();
            await File.WriteAllTextAsync(
                $"{folder}/broker.conf",
                $"listener {port} 127.0.0.1\ncertfile {folder}/cert.pem\nkeyfile {folder}/key.pem\npassword_file {folder}/accounts\nallow_anonymous "
                    + "false\nmax_queued_messages 1000\nuser root\n"
            );
            var process = Process.Start(
                new ProcessStartInfo("mosquitto", ["-c", $"{folder}/broker.conf"]) { RedirectStandardError = true, RedirectStandardOutput = true }
            )!;
            var broker = new OtherBroker(
                process,
                folder,
                port,
                new(
                    new($"mqtts://127.0.0.1:{port}"),
                    User,
                    Password,
                    X509Certificate2.CreateFromPem(await File.ReadAllTextAsync($"{folder}/cert.pem")),
                    "cenotic"
                )
            );
            for (var i = 0; i < 50 && (await PeersTests.RunAsync("mosquitto_pub", broker.Client("-t", "ready", "-m", "1"))).Exit != 0; i++)
            {
                await Task.Delay(100);
            }
            return broker;
        }

        public async Task PublishAsync(string topic, string payload)
        {
            var (exit, said) = await PeersTests.RunAsync("mosquitto_pub", Client("-q", "1", "-t", topic, "-m", payload));
            Assert.True(exit == 0, said);
        }

        /// <summary>What is sent until the listener hears it; some may come once more after that.</summary>
        internal const string Listening = "listening";

        /// <summary>A listener that has heard something already: it is subscribed.</summary>
        public async Task<Process> ListenAsync(string topic, CancellationToken patience)
        {
            var start = new ProcessStartInfo("stdbuf", ["-oL", "mosquitto_sub", .. Client("-q", "1", "-t", topic)]) { RedirectStandardOutput = true };
            var listener = Process.Start(start)!;
            var first = listener.StandardOutput.ReadLineAsync(patience).AsTask();
            while (!first.IsCompleted)
            {
                await PublishAsync(topic, Listening);
            }
            Assert.Equal(Listening, await first);
            return listener;
        }

        public void Dispose()
        {
            _process.Kill();
            _process.Dispose();
            Directory.Delete(_folder, recursive: true);
        }

        private string[] Client(params string[] more) =>
            ["-h", "127.0.0.1", "-p", $"{_port}", "--cafile", $"{_folder}/cert.pem", "-u", User, "-P", Password, .. more];
    }
}
