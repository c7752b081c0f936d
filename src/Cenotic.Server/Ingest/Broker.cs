using System.Buffers;
using System.Collections.Concurrent;
using System.Net;
using Cenotic.Core.Formats;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using MQTTnet;
using MQTTnet.Protocol;
using MQTTnet.Server;

namespace Cenotic.Server.Ingest;

/// <summary>The embedded MQTT broker: a key for each node, its own topics only, and an acknowledgement only after the commit.</summary>
public sealed class Broker(
    SiteBook book,
    NodeKeys keys,
    NodeChannels channels,
    DuplicateMessages duplicates,
    Intake intake,
    SampleWriter writer,
    IScanKeeper scans,
    SiteClock clock,
    PacketGuard guard,
    IHostApplicationLifetime life,
    ILogger<Broker> log
)
{
    /// <summary>The session of what this program says itself; those of nodes have a name of three parts.</summary>
    private const string Own = "cenotic";

    private MqttServer? _server;

    /// <summary>When it was last told that connections of a node wait for too many wrong keys.</summary>
    private readonly ConcurrentDictionary<(string Site, string Node), long> _toldOfWait = [];

    /// <summary>Sessions that hear the commands of their node.</summary>
    private readonly ConcurrentDictionary<string, bool> _listening = [];

    /// <summary>Called when a session begins to hear the commands of its node, and when it ends to.</summary>
    public event Action? ListeningChanged;

    /// <summary>The name a node connects with; its key is the password.</summary>
    public static string UserName(string site, string node) => $"{site}/{node}";

    /// <summary>Hooks the rules into the server.</summary>
    public void Attach(MqttServer server)
    {
        _server = server;
        guard.LackedClientId += user => _ = TellLackedClientIdAsync(user);
        server.ValidatingConnectionAsync += ValidateAsync;
        server.InterceptingPublishAsync += PublishAsync;
        server.InterceptingSubscriptionAsync += SubscribeAsync;
        server.ClientSubscribedTopicAsync += Listen;
        server.ClientUnsubscribedTopicAsync += e => Forget(e.ClientId);
        server.SessionDeletedAsync += e => Forget(e.Id);
        book.Changed += state => _ = keys.RevokeAsync(state.Site, [.. state.Design.Nodes.Select(n => n.Key)]);
        keys.Ended = async (site, node) =>
        {
            foreach (var session in Of(site, node).Select(c => c.Session!).Distinct().ToList())
            {
                try
                {
                    await server.DisconnectClientAsync(session, MqttDisconnectReasonCode.NotAuthorized);
                }
                catch (InvalidOperationException)
                {
                    // It has just left by itself.
                }
            }
        };
    }

    /// <summary>True once a minute for a node: who guesses keys writes nothing by it.</summary>
    private bool MayTellOfWait((string Site, string Node) node)
    {
        var now = Environment.TickCount64;
        var told = _toldOfWait.GetValueOrDefault(node, long.MinValue / 2);
        return now - told > 60_000 && (told < 0 ? _toldOfWait.TryAdd(node, now) : _toldOfWait.TryUpdate(node, now, told));
    }

    private async Task TellLackedClientIdAsync(string user)
    {
        try
        {
            if (user.Split('/') is [var site, var node] && book.Find(site)?.Design.Node(node) is not null)
            {
                await RefuseAsync(
                    site,
                    node,
                    "A connection was refused: it wants its session to be kept (clean session off) and gives no client id. Give it one, or a clean session.",
                    []
                );
            }
        }
        catch (IOException fault)
        {
            log.LogWarning(fault, "A refused connection of {User} was not noted.", user);
        }
    }

    /// <summary>Once the subscription stands: what is sent before would be lost.</summary>
    private Task Listen(ClientSubscribedTopicEventArgs e)
    {
        _listening[e.ClientId] = true;
        ListeningChanged?.Invoke();
        return Task.CompletedTask;
    }

    private Task Forget(string client)
    {
        _listening.TryRemove(client, out _);
        ListeningChanged?.Invoke();
        return Task.CompletedTask;
    }

    private async Task ValidateAsync(ValidatingConnectionEventArgs e)
    {
        var name = (e.UserName ?? "").Split('/');
        var answer =
            name is [var s, var n] && book.Find(s)?.Design.Node(n) is not null
                ? keys.Try(s, n, e.Password, (e.RemoteEndPoint as IPEndPoint)?.Address)
                : KeyAnswer.Wrong;
        if (answer == KeyAnswer.Fits && name is [var site, var node])
        {
            var channel = (NodeChannel)e.ChannelAdapter;
            channel.SigningIn = (site, node);
            if (e.CleanSession != false && channel.Session is { } session)
            {
                duplicates.Forget(session);
            }
            return;
        }
        if (answer == KeyAnswer.Wait)
        {
            (e.ReasonCode, e.ReasonString) = (MqttConnectReasonCode.ServerBusy, "Too many wrong keys for this name from here; wait a minute.");
            if (name is [var busy, var waits] && book.Find(busy)?.Design.Node(waits) is not null && MayTellOfWait((busy, waits)))
            {
                await RefuseAsync(
                    busy,
                    waits,
                    "A connection was refused without looking at its key: too many wrong ones came from its address. It may try again in a minute.",
                    []
                );
            }
            return;
        }
        e.ReasonCode = MqttConnectReasonCode.BadUserNameOrPassword;
        e.ReasonString = "The name is SITE/NODE and the password is the node's key.";
        log.LogWarning("Refused a connection from {Address}: no node has that name and key.", e.RemoteEndPoint);
        if (name is [var at, var of] && book.Find(at)?.Design.Node(of) is not null)
        {
            await RefuseAsync(at, of, "A connection with a wrong key was refused.", []);
        }
    }

    private async Task PublishAsync(InterceptingPublishEventArgs e)
    {
        if (e.ClientId == Own)
        {
            return;
        }
        // Nothing is handed on to other clients: readings go to the store.
        e.ProcessPublish = false;
        if (life.ApplicationStopping.IsCancellationRequested)
        {
            // The wills of connections that end because the program does tell nothing of their nodes.
            e.CloseConnection = true;
            return;
        }
        if (NodeSession.Owner(e.ClientId) is not var (site, node) || book.Find(site)?.Design.Node(node) is null)
        {
            e.CloseConnection = true;
            return;
        }
        var stored = false;
        try
        {
            await TakeAsync(e, site, node);
            stored = e.Response.ReasonCode == MqttPubAckReasonCode.Success;
        }
        catch (Exception fault)
        {
            // No acknowledgement for what is not stored: the node sends it again.
            log.LogError(fault, "A message of {Site}/{Node} was not stored.", site, node);
            e.CloseConnection = true;
            throw;
        }
        finally
        {
            duplicates.Done(e.ClientId, e.ApplicationMessage.UserProperties, stored);
        }
    }

    /// <summary>Stores a message of a node, or answers with the reason why not.</summary>
    private async Task TakeAsync(InterceptingPublishEventArgs e, string site, string node)
    {
        var payload = e.ApplicationMessage.Payload.ToArray();
        var (topic, own) = (e.ApplicationMessage.Topic, Topics.Data(site, node));
        if (topic == Topics.Scan(site, node))
        {
            if (await scans.KeepAsync(site, node, System.Text.Encoding.UTF8.GetString(payload)) is { } unreadable)
            {
                await RefuseAsync(site, node, $"A scan: {unreadable}", payload);
                e.Response.ReasonCode = MqttPubAckReasonCode.PayloadFormatInvalid;
            }
            return;
        }
        if (Topics.OfData(topic) is not { } of || of.Site != site || book.Find(site)?.Design.SpeaksFor(node, of.Node) != true)
        {
            await RefuseAsync(site, node, $"It published to \"{Shorten(topic)}\"; its topic is {own}, or {own}/READING for a single number.", payload);
            e.Response.ReasonCode = MqttPubAckReasonCode.NotAuthorized;
            return;
        }
        var message = intake.Decode(site, of.Node, payload, of.Reading);
        var result = await writer.StoreAsync(message);
        if ((result.Refusal ?? (message.Samples.Count == 0 ? message.Refusals.FirstOrDefault() : null)) is { } reason)
        {
            (e.Response.ReasonCode, e.Response.ReasonString) = (MqttPubAckReasonCode.PayloadFormatInvalid, reason);
        }
    }

    /// <summary>Hands a command to a node that listens for it; false when it does not.</summary>
    public async Task<bool> SendAsync(string site, string node, OutputCommand command, TimeSpan good)
    {
        if (_server is not { } server || !Listens(site, node))
        {
            return false;
        }
        var message = new MqttApplicationMessageBuilder()
            .WithTopic(Topics.Command(site, node))
            .WithPayload(command.Write())
            .WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce)
            .WithMessageExpiryInterval((uint)Math.Max(1, Math.Ceiling(good.TotalSeconds)))
            .Build();
        await server.InjectApplicationMessage(new InjectedMqttApplicationMessage(message) { SenderClientId = Own });
        return true;
    }

    /// <summary>True while a client of the node is connected here.</summary>
    public bool IsConnected(string site, string node) => Of(site, node).Any();

    /// <summary>True when the node is connected and has asked for its commands.</summary>
    public bool Listens(string site, string node) => Of(site, node).Any(c => _listening.ContainsKey(c.Session!));

    private IEnumerable<NodeChannel> Of(string site, string node) => channels.SignedIn.Where(c => c.Node == (site, node));

    private async Task SubscribeAsync(InterceptingSubscriptionEventArgs e)
    {
        var owner = NodeSession.Owner(e.ClientId);
        if (owner is var (site, node) && e.TopicFilter.Topic == Topics.Command(site, node))
        {
            return;
        }
        e.ProcessSubscription = false;
        e.Response.ReasonCode = MqttSubscribeReasonCode.NotAuthorized;
        if (owner is var (s, n))
        {
            await RefuseAsync(s, n, $"It asked to hear \"{Shorten(e.TopicFilter.Topic)}\"; it may hear {Topics.Command(s, n)} only.", []);
        }
    }

    private Task RefuseAsync(string site, string node, string reason, byte[] payload) =>
        writer.StoreAsync(
            new(
                site,
                node,
                clock.Now(site),
                payload.Length,
                null,
                null,
                null,
                null,
                [],
                [reason],
                Convert.ToHexString(payload.AsSpan(0, Math.Min(48, payload.Length)))
            )
        );

    private static string Shorten(string text) => text.Length > 60 ? text[..60] + "…" : text;
}
