using System.Collections.Concurrent;
using System.Net;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Rehearsal;
using Cenotic.Server.Relay;
using Cenotic.Server.Sites;
using MQTTnet;
using MQTTnet.Protocol;

namespace Cenotic.Server.StandIns;

/// <summary>What the control sheet does to a stand-in.</summary>
public sealed record StandInControl(bool Silenced, double HeatCelsius, long TrippedUntil)
{
    public static readonly StandInControl Calm = new(false, 0, 0);
}

/// <summary>Plays the nodes of the demo site on site time, on the schedule that Rhythm computed: as MQTT clients, and one through a radio bridge on a serial line. Only in demo mode.</summary>
public sealed class StandInHost(SiteBook book, SiteClock clock, NodeKeys keys, BrokerAddress broker, ILogger<StandInHost> log) : BackgroundService
{
    /// <summary>The demo site.</summary>
    public const string Site = "fernhollow";

    public const int Seed = 20261;
    private static readonly TimeSpan Step = TimeSpan.FromMilliseconds(200);
    private readonly ConcurrentDictionary<string, StandInControl> _controls = [];

    public StandInControl Control(string node) => _controls.GetValueOrDefault(node, StandInControl.Calm);

    public void Set(string node, StandInControl control) => _controls[node] = control;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var address = (await broker.Ready.WaitAsync(stoppingToken)).Plain;
        using var bridge = new RadioBridge();
        await book.ApplyAsync(Site, book.Find(Site)!.Revision, [new PutLine(bridge.Start(stoppingToken))], "stand-ins");
        var players = new Dictionary<string, Player>();
        SiteState? known = null;
        while (!stoppingToken.IsCancellationRequested)
        {
            if (book.Find(Site) is { } state)
            {
                if (!ReferenceEquals(known, state))
                {
                    await RecastAsync(state, players, address, bridge);
                    known = state;
                }
                foreach (var player in players.Values)
                {
                    await player.PlayAsync(clock.Now(Site), Control(player.Node), stoppingToken);
                }
            }
            await Task.Delay(Step, stoppingToken);
        }
        foreach (var player in players.Values)
        {
            player.Dispose();
        }
    }

    private async Task RecastAsync(SiteState state, Dictionary<string, Player> players, IPEndPoint address, RadioBridge bridge)
    {
        var plan = book.Plan(state);
        var now = clock.Now(Site);
        var boot = (int)(DateTimeOffset.UtcNow.ToUnixTimeSeconds() - 1_700_000_000);
        foreach (var gone in players.Keys.Where(k => state.Design.Node(k) is null).ToList())
        {
            players.Remove(gone, out var player);
            player!.Dispose();
        }
        foreach (var node in state.Design.Nodes)
        {
            var behaviour = new NodeBehaviour(node, plan.Node(node.Key)!.Rhythm, state.Catalogue, Seed, boot, now, plan.SlotOf(node.Key));
            if (players.TryGetValue(node.Key, out var player))
            {
                player.Behaviour = behaviour;
                continue;
            }
            players[node.Key] = node.Key == RadioBridge.Node
                ? new Player(node.Key, behaviour, bridge.SendAsync, null, log)
                : Connected(node.Key, behaviour, await keys.IssueAsync(Site, node.Key), address);
        }
    }

    private Player Connected(string node, NodeBehaviour behaviour, string key, IPEndPoint address)
    {
        var client = new Client(node, key, address);
        return new(node, behaviour, client.SendAsync, client, log);
    }

    /// <summary>A node over Wi-Fi.</summary>
    private sealed class Client(string node, string key, IPEndPoint address) : IDisposable
    {
        private readonly IMqttClient _client = new MqttClientFactory().CreateMqttClient();
        private readonly MqttClientOptions _options = new MqttClientOptionsBuilder()
            .WithTcpServer(address.Address.ToString(), address.Port).WithClientId($"stand-in-{node}").WithCredentials(Broker.UserName(Site, node), key).WithCleanSession().Build();

        public async Task SendAsync(byte[] payload, CancellationToken stop)
        {
            if (!_client.IsConnected)
            {
                await _client.ConnectAsync(_options, stop);
            }
            await _client.PublishAsync(new MqttApplicationMessageBuilder().WithTopic(Topics.Data(Site, node)).WithPayload(payload).WithQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce).Build(), stop);
        }

        public void Dispose() => _client.Dispose();
    }

    /// <param name="holds">What it sends by, let go with it; null for what others use too.</param>
    private sealed class Player(string node, NodeBehaviour behaviour, Func<byte[], CancellationToken, Task> send, IDisposable? holds, ILogger log) : IDisposable
    {
        public string Node => node;

        public NodeBehaviour Behaviour { get; set; } = behaviour;

        public async Task PlayAsync(long now, StandInControl control, CancellationToken stop)
        {
            if (control.Silenced)
            {
                return;
            }
            foreach (var message in Behaviour.Advance(now, new(control.HeatCelsius, control.TrippedUntil)))
            {
                try
                {
                    await send(message.Payload, stop);
                }
                catch (Exception fault) when (fault is not OperationCanceledException)
                {
                    log.LogWarning("Stand-in {Node} could not send: {Reason}", node, fault.Message);
                }
            }
        }

        public void Dispose() => holds?.Dispose();
    }
}
