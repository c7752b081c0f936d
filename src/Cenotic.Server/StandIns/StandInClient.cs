using System.Collections.Concurrent;
using System.Globalization;
using System.Net;
using System.Text;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using MQTTnet;
using MQTTnet.Protocol;

namespace Cenotic.Server.StandIns;

/// <summary>How a stand-in is on the network.</summary>
internal interface IStandInLink
{
    bool Connected { get; }

    /// <summary>Looks after the connection: makes it, or breaks it off without a word as a pulled plug does.</summary>
    Task KeepAsync(bool wanted, CancellationToken stop);

    Task SendAsync(string node, byte[] payload, CancellationToken stop);

    /// <summary>Tells what it finds on its buses, where its way in has a place for that.</summary>
    Task ScanAsync(string text, CancellationToken stop) => Task.CompletedTask;

    /// <summary>A command that came since the last call.</summary>
    bool TryHear(out OutputCommand command);
}

/// <summary>A node over Wi-Fi or a cable: an MQTT client with a last will, which hears its commands
/// and says when it is there. As a gateway it sends for others too.</summary>
internal sealed class StandInClient(StandInPlan plan, string node, string key, IPEndPoint broker, Action happened) : IStandInLink, IDisposable
{
    private static readonly TimeSpan Retry = TimeSpan.FromSeconds(1);
    private readonly ConcurrentQueue<OutputCommand> _commands = [];
    private readonly MqttClientOptions _options = new MqttClientOptionsBuilder()
        .WithTcpServer(broker.Address.ToString(), broker.Port)
        .WithClientId($"stand-in-{node}")
        .WithCredentials(Broker.UserName(plan.Site, node), key)
        .WithCleanSession()
        .WithTimeout(TimeSpan.FromSeconds(5))
        // Within one machine the end of a connection is seen at once; the client would look several times a second whether it is time to ask.
        .WithNoKeepAlive()
        .WithWillTopic(Topics.Data(plan.Site, node))
        .WithWillPayload(Up(false))
        .WithWillQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
        .Build();
    private IMqttClient? _client;
    private long _tried;

    public bool Connected => _client is { IsConnected: true };

    public async Task KeepAsync(bool wanted, CancellationToken stop)
    {
        if (Connected == wanted || (wanted && Environment.TickCount64 - _tried < Retry.TotalMilliseconds))
        {
            return;
        }
        // Disposed without a goodbye: the broker sends the last will.
        _client?.Dispose();
        _client = null;
        if (!wanted)
        {
            return;
        }
        _tried = Environment.TickCount64;
        var client = new MqttClientFactory().CreateMqttClient();
        client.ApplicationMessageReceivedAsync += e =>
        {
            if (OutputCommand.Read(System.Buffers.BuffersExtensions.ToArray(e.ApplicationMessage.Payload)).TryGet(out var command))
            {
                _commands.Enqueue(command);
                happened();
            }
            return Task.CompletedTask;
        };
        client.DisconnectedAsync += _ =>
        {
            happened();
            return Task.CompletedTask;
        };
        try
        {
            await client.ConnectAsync(_options, stop);
            await client.SubscribeAsync(Topics.Command(plan.Site, node), MqttQualityOfServiceLevel.AtLeastOnce, stop);
            _client = client;
            await SendAsync(node, Up(true), stop);
        }
        catch
        {
            _client = null;
            client.Dispose();
            throw;
        }
    }

    public Task SendAsync(string of, byte[] payload, CancellationToken stop) =>
        _client is { } client
            ? client.PublishAsync(
                new MqttApplicationMessageBuilder()
                    .WithTopic(Topics.Data(plan.Site, of))
                    .WithPayload(of == node ? payload : WithSignal(plan, of, payload))
                    .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                    .Build(),
                stop
            )
            : throw new IOException("not connected");

    public Task ScanAsync(string text, CancellationToken stop) =>
        _client is { } client
            ? client.PublishAsync(
                new MqttApplicationMessageBuilder()
                    .WithTopic(Topics.Scan(plan.Site, node))
                    .WithPayload(text)
                    .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
                    .Build(),
                stop
            )
            : Task.CompletedTask;

    public bool TryHear(out OutputCommand command) => _commands.TryDequeue(out command!);

    public void Dispose() => _client?.Dispose();

    /// <summary>A gateway says how strong it heard the node: a record more at the end of the pack.</summary>
    internal static byte[] WithSignal(StandInPlan plan, string node, byte[] pack)
    {
        var dbm = plan.SignalOf(node, pack.Length);
        return [.. pack[..^1], .. Encoding.ASCII.GetBytes(string.Create(CultureInfo.InvariantCulture, $",{{\"n\":\"sys/rssi\",\"v\":{dbm}}}]"))];
    }

    private static byte[] Up(bool up) => Senml.Write(null, [("sys/up", null, up ? 1 : 0)]);
}

/// <summary>A node that is heard through another's connection: that of a gateway, or of a relay that is heard through one.</summary>
internal sealed class PassedOn(IStandInLink through) : IStandInLink
{
    private bool _up = true;

    public bool Connected => _up && through.Connected;

    public Task KeepAsync(bool wanted, CancellationToken stop)
    {
        _up = wanted;
        return Task.CompletedTask;
    }

    public Task SendAsync(string node, byte[] payload, CancellationToken stop) => through.SendAsync(node, payload, stop);

    public bool TryHear(out OutputCommand command)
    {
        command = null!;
        return false;
    }
}
