using System.Buffers;
using System.Security.Cryptography.X509Certificates;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using MQTTnet;
using MQTTnet.Packets;
using MQTTnet.Protocol;

namespace Cenotic.Server.Ingest;

/// <summary>
/// Hears nodes over the maker's own broker: a client with a session that the broker keeps, which acknowledges a message
/// only after its commit. Whose a message is says its topic; that is trusted to that broker.
/// </summary>
public sealed class UpstreamBroker(Settings settings, SiteBook book, Intake intake, SampleWriter writer, TimeProvider system, ILogger<UpstreamBroker> log)
    : BackgroundService
{
    private const uint SessionSeconds = 7 * 86_400;
    private const ushort MostWaiting = 500;
    private readonly IMqttClient _client = new MqttClientFactory().CreateMqttClient();
    private UpstreamState? _state = settings.Upstream is { } at ? new(at.Address.ToString(), false, "not connected yet", 0, 0) : null;

    /// <summary>Null when no broker of the maker's own is set.</summary>
    public UpstreamState? State => _state;

    /// <summary>Called when the connection is there, and when it is lost.</summary>
    public event Action? ConnectedChanged;

    public bool Connected => settings.Upstream is not null && _client.IsConnected;

    /// <summary>Hands a command to the broker; false when there is no connection.</summary>
    public async Task<bool> SendAsync(string site, string node, OutputCommand command, TimeSpan good)
    {
        if (!Connected)
        {
            return false;
        }
        var message = new MqttApplicationMessageBuilder()
            .WithTopic(Topics.Command(site, node))
            .WithPayload(command.Write())
            .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
            .WithMessageExpiryInterval((uint)Math.Max(1, Math.Ceiling(good.TotalSeconds)))
            .Build();
        await _client.PublishAsync(message);
        return true;
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (settings.Upstream is not { } at)
        {
            return;
        }
        var lost = new TaskCompletionSource<string>();
        _client.ApplicationMessageReceivedAsync += TakeAsync;
        _client.DisconnectedAsync += e => Task.FromResult(lost.TrySetResult(e.Exception?.Message ?? e.ReasonString ?? $"{e.Reason}"));
        await Connecting.KeepAsync(OpenAsync, UseAsync, Ended, system, stoppingToken);
        if (_client.IsConnected)
        {
            await _client.DisconnectAsync(new MqttClientDisconnectOptionsBuilder().Build(), CancellationToken.None);
        }

        async ValueTask<Task<string>> OpenAsync(CancellationToken stop)
        {
            lost = new(TaskCreationOptions.RunContinuationsAsynchronously);
            await _client.ConnectAsync(Options(at), stop);
            await _client.SubscribeAsync(
                new()
                {
                    TopicFilters =
                    [
                        .. Topics.AllData.Select(t => new MqttTopicFilter { Topic = t, QualityOfServiceLevel = MqttQualityOfServiceLevel.AtLeastOnce }),
                    ],
                },
                stop
            );
            return lost.Task;
        }

        async Task UseAsync(Task<string> ends)
        {
            _state = _state! with { Connected = true, Fault = null };
            ConnectedChanged?.Invoke();
            throw new IOException($"The connection ended: {await ends.WaitAsync(stoppingToken)}");
        }

        void Ended(Exception fault)
        {
            var reason = fault.GetBaseException().Message;
            _state = _state! with { Connected = false, Fault = reason };
            ConnectedChanged?.Invoke();
            log.LogWarning("The broker {Address}: {Reason} It is tried again.", at.Address, reason);
        }
    }

    public override void Dispose()
    {
        _client.Dispose();
        base.Dispose();
    }

    private static MqttClientOptions Options(Upstream at)
    {
        var options = new MqttClientOptionsBuilder()
            .WithTcpServer(at.Address.Host, at.Address.Port)
            .WithClientId(at.ClientId)
            .WithCleanStart(false)
            .WithSessionExpiryInterval(SessionSeconds)
            .WithReceiveMaximum(MostWaiting)
            .WithProtocolVersion(MQTTnet.Formatter.MqttProtocolVersion.V500)
            .WithTimeout(TimeSpan.FromSeconds(10))
            .WithKeepAlivePeriod(TimeSpan.FromSeconds(20));
        if (at.User is { } user)
        {
            options = options.WithCredentials(user, at.Password ?? "");
        }
        if (at.Address.Scheme == "mqtts")
        {
            options = options.WithTlsOptions(tls =>
            {
                tls.UseTls().WithTargetHost(at.Address.Host);
                if (at.Authority is { } authority)
                {
                    tls.WithTrustChain([authority]).WithRevocationMode(X509RevocationMode.NoCheck);
                }
            });
        }
        return options.Build();
    }

    private Task TakeAsync(MqttApplicationMessageReceivedEventArgs e)
    {
        _state = _state! with { Messages = _state.Messages + 1 };
        if (Topics.OfData(e.ApplicationMessage.Topic) is not { } of || book.Find(of.Site)?.Design.Node(of.Node) is null)
        {
            // Acknowledged, so that it is not sent for ever.
            _state = _state with { Unknown = _state.Unknown + 1 };
            return Task.CompletedTask;
        }
        // The next message is not held up by this one's commit; how many wait at most says the receive maximum.
        e.AutoAcknowledge = false;
        var message = intake.Decode(of.Site, of.Node, e.ApplicationMessage.Payload.ToArray(), of.Reading);
        _ = AcknowledgeAsync(e, writer.StoreAsync(message), message);
        return Task.CompletedTask;
    }

    private async Task AcknowledgeAsync(MqttApplicationMessageReceivedEventArgs e, Task stored, DecodedMessage message)
    {
        try
        {
            await stored;
            await e.AcknowledgeAsync(CancellationToken.None);
        }
        catch (Exception fault)
        {
            // Not acknowledged: the broker sends it again when the session goes on.
            log.LogError(fault, "A message of {Site}/{Node} from the broker was not stored, or not acknowledged.", message.Site, message.Node);
            if (_client.IsConnected)
            {
                await _client.DisconnectAsync(new MqttClientDisconnectOptionsBuilder().Build(), CancellationToken.None);
            }
        }
    }
}
