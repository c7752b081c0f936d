using System.Collections.Concurrent;

namespace Cenotic.Server.Samples;

/// <summary>The newest messages of each node as bytes, since the server started: the database keeps what they said.</summary>
public sealed class LastMessages
{
    private const int Most = 20,
        MostBytes = 2_048;
    private readonly ConcurrentDictionary<(string Site, string Node), ConcurrentQueue<(long Arrival, byte[] Bytes)>> _kept = [];

    public void Keep(long arrival, DecodedMessage message)
    {
        var queue = _kept.GetOrAdd((message.Site, message.Node), _ => []);
        queue.Enqueue((arrival, message.Payload[..Math.Min(MostBytes, message.Payload.Length)].ToArray()));
        while (queue.Count > Most)
        {
            queue.TryDequeue(out _);
        }
    }

    /// <summary>The first bytes of the messages that are kept, by number of arrival.</summary>
    public IReadOnlyDictionary<long, byte[]> Of(string site, string node) =>
        _kept.TryGetValue((site, node), out var queue) ? queue.ToDictionary(k => k.Arrival, k => k.Bytes) : new Dictionary<long, byte[]>();
}
