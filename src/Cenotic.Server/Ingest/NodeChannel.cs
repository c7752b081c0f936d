using System.Collections.Concurrent;
using System.Net;
using System.Security.Cryptography.X509Certificates;
using MQTTnet.Adapter;
using MQTTnet.AspNetCore;
using MQTTnet.Diagnostics.Logger;
using MQTTnet.Exceptions;
using MQTTnet.Formatter;
using MQTTnet.Packets;
using MQTTnet.Protocol;
using MQTTnet.Server;

namespace Cenotic.Server.Ingest;

/// <summary>
/// A session of the broker belongs to a node: its name is SITE/NODE/CLIENT, of the name a client signs in with and the client id it gives. So a client id that
/// another node uses too names another session, in every version of the protocol, and whose a message is follows from the session it came in.
/// </summary>
internal static class NodeSession
{
    public static string Name(string userName, string client) => $"{userName}/{client}";

    /// <summary>Whose a session is; null for the program's own.</summary>
    public static (string Site, string Node)? Owner(string session) => session.Split('/', 3) is [var site, var node, _] ? (site, node) : null;
}

/// <summary>Hands connections to the broker, each as the channel of a node, and keeps which are open.</summary>
public sealed class NodeChannels(MqttConnectionHandler inner, DuplicateMessages duplicates) : IMqttServerAdapter
{
    private readonly ConcurrentDictionary<NodeChannel, byte> _open = [];

    public Func<IMqttChannelAdapter, Task>? ClientHandler { get; set; }

    /// <summary>How many connections are open, signed in or not.</summary>
    internal int Open => _open.Count;

    /// <summary>The channels that are signed in.</summary>
    internal IEnumerable<NodeChannel> SignedIn => _open.Keys.Where(c => c.Node is not null);

    public Task StartAsync(MqttServerOptions options, IMqttNetLogger logger)
    {
        inner.ClientHandler = HandleAsync;
        return inner.StartAsync(options, logger);
    }

    public Task StopAsync() => inner.StopAsync();

    public void Dispose() => inner.Dispose();

    private async Task HandleAsync(IMqttChannelAdapter connection)
    {
        var channel = new NodeChannel(connection, duplicates);
        _open[channel] = 0;
        try
        {
            await (ClientHandler?.Invoke(channel) ?? Task.CompletedTask);
        }
        finally
        {
            _open.TryRemove(channel, out _);
        }
    }
}

/// <summary>One connection. It names the session after the node (<see cref="NodeSession"/>), gives a client
/// without an id one, and takes no topic aliases and no long topics.</summary>
public sealed class NodeChannel(IMqttChannelAdapter inner, DuplicateMessages duplicates) : IMqttChannelAdapter
{
    /// <summary>Longest topic that is taken, characters: that of a reading has at most about 100.</summary>
    public const int LongestTopic = 256;

    private string? _assigned;

    /// <summary>Whose this connection is to be, if the broker takes it.</summary>
    public (string Site, string Node)? SigningIn { get; set; }

    /// <summary>Whose this connection is, once it is signed in: the broker has said so.</summary>
    public (string Site, string Node)? Node { get; private set; }

    /// <summary>The session it belongs to, once it has said CONNECT.</summary>
    public string? Session { get; private set; }

    public long BytesReceived => inner.BytesReceived;

    public long BytesSent => inner.BytesSent;

    public X509Certificate2? ClientCertificate => inner.ClientCertificate;

    public bool IsSecureConnection => inner.IsSecureConnection;

    public EndPoint? LocalEndPoint => inner.LocalEndPoint;

    public EndPoint? RemoteEndPoint => inner.RemoteEndPoint;

    public MqttPacketFormatterAdapter PacketFormatterAdapter => inner.PacketFormatterAdapter;

    public Task ConnectAsync(CancellationToken cancellationToken) => inner.ConnectAsync(cancellationToken);

    public Task DisconnectAsync(CancellationToken cancellationToken) => inner.DisconnectAsync(cancellationToken);

    public void ResetStatistics() => inner.ResetStatistics();

    public void Dispose() => inner.Dispose();

    public async Task<MqttPacket?> ReceivePacketAsync(CancellationToken cancellationToken)
    {
        var packet = await inner.ReceivePacketAsync(cancellationToken);
        while (
            packet is MqttPublishPacket { QualityOfServiceLevel: MqttQualityOfServiceLevel.ExactlyOnce } twice
            && Session is { } session
            && await duplicates.IsStoredAsync(session, twice, cancellationToken)
        )
        {
            await inner.SendPacketAsync(
                new MqttPubRecPacket { PacketIdentifier = twice.PacketIdentifier, ReasonCode = MqttPubRecReasonCode.Success },
                cancellationToken
            );
            packet = await inner.ReceivePacketAsync(cancellationToken);
        }
        switch (packet)
        {
            case MqttConnectPacket connect:
                Name(connect);
                break;
            case MqttPubRelPacket release when Session is not null:
                duplicates.Release(Session, release.PacketIdentifier);
                break;
            case MqttPublishPacket { TopicAlias: > 0 }:
                // MQTT 5, 3.3.2.3.4: none were offered.
                throw new MqttProtocolViolationException("A topic alias was used; none are offered.");
            case MqttPublishPacket { Topic.Length: > LongestTopic }:
                throw new MqttProtocolViolationException($"A topic has more than {LongestTopic} characters.");
        }
        return packet;
    }

    public Task SendPacketAsync(MqttPacket packet, CancellationToken cancellationToken)
    {
        if (packet is MqttConnAckPacket answer)
        {
            Node = answer.ReasonCode == MqttConnectReasonCode.Success ? SigningIn : null;
            (answer.TopicAliasMaximum, answer.MaximumPacketSize) = (0, PacketGuard.LongestPacket);
            answer.AssignedClientIdentifier = answer.ReasonCode == MqttConnectReasonCode.Success ? _assigned : null;
        }
        return inner.SendPacketAsync(packet, cancellationToken);
    }

    private void Name(MqttConnectPacket connect)
    {
        var client = connect.ClientId;
        if (string.IsNullOrEmpty(client))
        {
            client = _assigned = Guid.NewGuid().ToString("N");
        }
        connect.ClientId = Session = NodeSession.Name(connect.Username ?? "", client);
    }
}
