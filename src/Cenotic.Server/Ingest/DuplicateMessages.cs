using System.Collections.Concurrent;
using System.Globalization;
using MQTTnet.Packets;

namespace Cenotic.Server.Ingest;

/// <summary>
/// Messages of quality of service 2 that were received and not yet released, by session and packet identifier: the same one again is answered and not stored
/// again, also when the link broke in between (MQTT 5, 4.3.3). Kept in memory: after a start of the program the
/// session is not present, and equal samples are known by their node's numbers or times.
/// </summary>
public sealed class DuplicateMessages
{
    private const string Mark = "cenotic-packet";
    private const int MostSessions = 5_000,
        MostOfSession = 1_000;

    private readonly ConcurrentDictionary<string, ConcurrentDictionary<ushort, TaskCompletionSource<bool>>> _received = [];

    /// <summary>True when a message was received before and is stored: it is to be answered only. Else it is new, and <see cref="Done"/> ends it.</summary>
    /// <param name="stop">The connection ends.</param>
    public async Task<bool> IsStoredAsync(string session, MqttPublishPacket publish, CancellationToken stop)
    {
        while (true)
        {
            var of = _received.GetOrAdd(session, _ => []);
            var mine = new TaskCompletionSource<bool>(TaskCreationOptions.RunContinuationsAsynchronously);
            var known = of.GetOrAdd(publish.PacketIdentifier, mine);
            if (ReferenceEquals(known, mine))
            {
                if (of.Count > MostOfSession || _received.Count > MostSessions)
                {
                    Forget(session, of);
                }
                // The hook that stores it reads its number here; what the client wrote there is dropped.
                publish.UserProperties = [new(Mark, System.Text.Encoding.UTF8.GetBytes(publish.PacketIdentifier.ToString(CultureInfo.InvariantCulture)))];
                return false;
            }
            if (await known.Task.WaitAsync(stop))
            {
                return true;
            }
        }
    }

    /// <summary>Ends the storing of a message, if it is one of quality of service 2.</summary>
    /// <param name="stored">False when it is not stored and may come again.</param>
    public void Done(string session, IEnumerable<MqttUserProperty>? properties, bool stored)
    {
        if (
            properties?.FirstOrDefault(p => p.Name == Mark) is { } mark
            && ushort.TryParse(mark.ReadValueAsString(), CultureInfo.InvariantCulture, out var packet)
            && _received.TryGetValue(session, out var of)
            && of.TryGetValue(packet, out var known)
        )
        {
            if (!stored)
            {
                of.TryRemove(packet, out _);
            }
            known.TrySetResult(stored);
        }
    }

    /// <summary>The client has heard that it was received: its number is free.</summary>
    public void Release(string session, ushort packet)
    {
        if (_received.TryGetValue(session, out var of) && of.TryRemove(packet, out _) && of.IsEmpty)
        {
            _received.TryRemove(new(session, of));
        }
    }

    /// <summary>The client begins anew.</summary>
    public void Forget(string session) => _received.TryRemove(session, out _);

    /// <summary>Too much is unreleased: the oldest are forgotten, which may store a repeat twice and loses nothing.</summary>
    private void Forget(string session, ConcurrentDictionary<ushort, TaskCompletionSource<bool>> of)
    {
        foreach (var done in of.Where(p => p.Value.Task.IsCompleted).Select(p => p.Key).ToList())
        {
            of.TryRemove(done, out _);
        }
        foreach (var other in _received.Keys.Where(k => k != session).Take(Math.Max(0, _received.Count - MostSessions)).ToList())
        {
            _received.TryRemove(other, out _);
        }
    }
}
