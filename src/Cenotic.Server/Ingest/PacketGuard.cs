using System.Buffers;
using System.Collections.Concurrent;
using System.IO.Pipelines;
using System.Net;
using Cenotic.Server.Accounts;
using Microsoft.AspNetCore.Connections;
using Microsoft.AspNetCore.Http.Connections;

namespace Cenotic.Server.Ingest;

/// <summary>
/// Stands before the broker: closes a connection from the fixed header of a packet that is too long, before its bytes are kept; wants the first packet, whole,
/// within a few seconds; hands on whole packets only once the other side has closed; and caps the connections
/// of one address. Source: OASIS MQTT 3.1.1, 2.2 (fixed header) and 3.1.
/// </summary>
public sealed class PacketGuard(TimeProvider time, ILogger<PacketGuard> log, IHostApplicationLifetime life)
{
    public const int LongestConnect = 4 * 1024,
        LongestPacket = 64 * 1024 + 512,
        MostConnectionsOfOneAddress = 300;
    public static readonly TimeSpan ConnectWithin = TimeSpan.FromSeconds(5);

    private readonly ConcurrentDictionary<IPAddress, int> _open = [];
    private long _reads;

    /// <summary>How often a connection was read since the start: a few times for each packet, however the connection ends.</summary>
    internal long Reads => Interlocked.Read(ref _reads);

    /// <summary>Called with the name of who wanted its session to be kept and gave no client id for it; it was refused.</summary>
    internal event Action<string>? LackedClientId;

    /// <summary>Puts the guard before what handles the connections.</summary>
    public void StandBefore(IConnectionBuilder connections) => connections.Use(next => connection => RunAsync(connection, next));

    private async Task RunAsync(ConnectionContext connection, ConnectionDelegate next)
    {
        // A WebSocket has its address at the request that opened it.
        var address = PeerAddress.Of((connection.RemoteEndPoint as IPEndPoint)?.Address ?? connection.GetHttpContext()?.Connection.RemoteIpAddress);
        try
        {
            if (_open.AddOrUpdate(address, 1, (_, n) => n + 1) > MostConnectionsOfOneAddress)
            {
                log.LogWarning("Refused a connection from {Address}: it has {Most} already.", address, MostConnectionsOfOneAddress);
                return;
            }
            var reader = new GuardedReader(
                connection.Transport.Input,
                reason =>
                {
                    log.LogWarning("Closed a connection from {Address}: {Reason}", address, reason);
                    connection.Abort(new ConnectionAbortedException(reason));
                },
                () => Interlocked.Increment(ref _reads),
                connect =>
                {
                    if (ConnectBytes.LacksClientId(connect, out var user))
                    {
                        // MQTT 3.1.1, 3.1.3.1: answered with 0x02 and closed. The library behind would close without a word.
                        connection.Transport.Output.Write<byte>([0x20, 2, 0, 2]);
                        connection.Transport.Output.Complete();
                        LackedClientId?.Invoke(user);
                        return "it wants its session to be kept and gives no client id";
                    }
                    return null;
                }
            );
            await using var late = time.CreateTimer(_ => reader.MustHaveConnected(), null, ConnectWithin, Timeout.InfiniteTimeSpan);
            // A node stays connected for ever: without this the program would wait for it until its patience for stopping is over.
            using var stopping = life.ApplicationStopping.Register(() => connection.Abort(new ConnectionAbortedException("The program stops.")));
            connection.Transport = new Pair(reader, connection.Transport.Output);
            await next(connection);
        }
        finally
        {
            if (_open.AddOrUpdate(address, 0, (_, n) => n - 1) == 0)
            {
                _open.TryRemove(new(address, 0));
            }
        }
    }

    private sealed record Pair(PipeReader Input, PipeWriter Output) : IDuplexPipe;

    /// <summary>Follows the packet boundaries in what is read, without changing it.</summary>
    /// <param name="close">Closes the connection, for the reason given.</param>
    /// <param name="counted">Called at each read.</param>
    /// <param name="first">Looks at the first packet, whole: the reason to refuse it, or null.</param>
    internal sealed class GuardedReader(PipeReader inner, Action<string> close, Action? counted = null, Func<byte[], string?>? first = null) : PipeReader
    {
        private bool _looked;
        private ReadOnlySequence<byte> _last;

        /// <summary>Bytes of the buffer that were looked at, and those of them that are whole packets.</summary>
        private long _scanned,
            _whole;

        /// <summary>Bytes of the packet that are still to come, once its header is read.</summary>
        private long _skip;
        private int _header;
        private long _length;
        private volatile bool _connected;
        private volatile bool _closed;

        public void MustHaveConnected()
        {
            if (!_connected)
            {
                Refuse($"no whole CONNECT within {ConnectWithin.TotalSeconds:0} s");
            }
        }

        public override async ValueTask<ReadResult> ReadAsync(CancellationToken cancellationToken = default) => Look(await inner.ReadAsync(cancellationToken));

        public override bool TryRead(out ReadResult result)
        {
            var any = inner.TryRead(out result);
            if (any)
            {
                result = Look(result);
            }
            return any;
        }

        public override void AdvanceTo(SequencePosition consumed) => AdvanceTo(consumed, consumed);

        public override void AdvanceTo(SequencePosition consumed, SequencePosition examined)
        {
            if (_closed)
            {
                // What was handed out last may not be of this buffer, and nothing of it is wanted any more.
                inner.AdvanceTo(_last.End);
                return;
            }
            var taken = _last.Slice(0, consumed).Length;
            (_scanned, _whole) = (_scanned - taken, _whole - taken);
            inner.AdvanceTo(consumed, examined);
        }

        public override void CancelPendingRead() => inner.CancelPendingRead();

        public override void Complete(Exception? exception = null) => inner.Complete(exception);

        private ReadResult Look(ReadResult result)
        {
            counted?.Invoke();
            _last = result.Buffer;
            var at = Math.Clamp(_scanned, 0, result.Buffer.Length);
            foreach (var memory in result.Buffer.Slice(at))
            {
                Scan(memory.Span, at);
                at += memory.Length;
            }
            _scanned = result.Buffer.Length;
            if (_connected && !_looked && !_closed)
            {
                _looked = true;
                if (first?.Invoke(result.Buffer.Slice(0, _whole).ToArray()) is not null)
                {
                    _closed = true;
                }
            }
            if (result.IsCompleted && !_closed && _whole < _scanned)
            {
                // The rest of this packet never comes. What came whole before it still counts.
                if (_whole <= 0)
                {
                    Refuse("it ended inside a packet");
                }
                else
                {
                    return new ReadResult(result.Buffer.Slice(0, _whole), result.IsCanceled, isCompleted: true);
                }
            }
            return _closed ? new ReadResult(default, isCanceled: true, isCompleted: true) : result;
        }

        /// <param name="from">Where in the buffer the bytes begin.</param>
        private void Scan(ReadOnlySpan<byte> bytes, long from)
        {
            for (var i = 0; i < bytes.Length && !_closed; )
            {
                if (_skip > 0)
                {
                    var step = (int)Math.Min(_skip, bytes.Length - i);
                    _skip -= step;
                    i += step;
                    if (_skip == 0)
                    {
                        Whole(from + i);
                    }
                    continue;
                }
                var octet = bytes[i++];
                if (_header == 0)
                {
                    (_header, _length) = (1, 0);
                    if (!_connected && octet >> 4 != 1)
                    {
                        Refuse("the first packet is not a CONNECT");
                    }
                    continue;
                }
                _length |= (long)(octet & 0x7F) << 7 * (_header - 1);
                if ((octet & 0x80) != 0)
                {
                    if (++_header > 4)
                    {
                        Refuse("the length of a packet has more than four bytes");
                    }
                    continue;
                }
                var longest = _connected ? LongestPacket : LongestConnect;
                if (_length > longest)
                {
                    Refuse($"a packet of {_length} bytes; at most {longest} are taken");
                }
                (_skip, _header) = (_length, 0);
                if (_skip == 0)
                {
                    Whole(from + i);
                }
            }
        }

        private void Whole(long end) => (_whole, _connected) = (end, true);

        private void Refuse(string reason)
        {
            if (!_closed)
            {
                _closed = true;
                close(reason);
            }
        }
    }
}
