using System.Buffers;
using System.Collections.Concurrent;
using System.IO.Pipelines;
using System.Net;
using Microsoft.AspNetCore.Connections;

namespace Cenotic.Server.Relay;

/// <summary>
/// Stands before the broker: closes a connection from the fixed header of a packet that is too long, before its bytes are kept; wants the first packet within a few
/// seconds; and caps the connections of one address. Source: OASIS MQTT 3.1.1, 2.2 (fixed header) and 3.1.
/// </summary>
public sealed class PacketGuard(TimeProvider time, ILogger<PacketGuard> log, IHostApplicationLifetime life)
{
    public const int LongestConnect = 4 * 1024, LongestPacket = 64 * 1024 + 512, MostConnectionsOfOneAddress = 300;
    public static readonly TimeSpan ConnectWithin = TimeSpan.FromSeconds(5);

    private readonly ConcurrentDictionary<IPAddress, int> _open = [];

    /// <summary>Puts the guard before what handles the connections.</summary>
    public void StandBefore(IConnectionBuilder connections) => connections.Use(next => connection => RunAsync(connection, next));

    private async Task RunAsync(ConnectionContext connection, ConnectionDelegate next)
    {
        var address = (connection.RemoteEndPoint as IPEndPoint)?.Address ?? IPAddress.None;
        try
        {
            if (_open.AddOrUpdate(address, 1, (_, n) => n + 1) > MostConnectionsOfOneAddress)
            {
                log.LogWarning("Refused a connection from {Address}: it has {Most} already.", address, MostConnectionsOfOneAddress);
                return;
            }
            var reader = new GuardedReader(connection.Transport.Input, reason =>
            {
                log.LogWarning("Closed a connection from {Address}: {Reason}", address, reason);
                connection.Abort(new ConnectionAbortedException(reason));
            });
            await using var late = time.CreateTimer(_ => reader.MustHaveStarted(), null, ConnectWithin, Timeout.InfiniteTimeSpan);
            // A node stays connected for ever: without this the program would wait for it until its patience for stopping is over.
            using var stopping = life.ApplicationStopping.Register(() => connection.Abort(new ConnectionAbortedException("The program stops.")));
            connection.Transport = new Pair(reader, connection.Transport.Output);
            await next(connection);
        }
        finally
        {
            _open.AddOrUpdate(address, 0, (_, n) => n - 1);
        }
    }

    private sealed record Pair(PipeReader Input, PipeWriter Output) : IDuplexPipe;

    /// <summary>Follows the packet boundaries in what is read, without changing it.</summary>
    internal sealed class GuardedReader(PipeReader inner, Action<string> close) : PipeReader
    {
        private ReadOnlySequence<byte> _last;
        private long _scanned;
        private long _skip;
        private int _header;
        private long _length;
        private bool _first = true;
        private volatile bool _closed;

        public void MustHaveStarted()
        {
            if (_first)
            {
                Refuse($"no CONNECT within {ConnectWithin.TotalSeconds:0} s");
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
            _scanned -= _last.Slice(0, consumed).Length;
            inner.AdvanceTo(consumed, examined);
        }

        public override void CancelPendingRead() => inner.CancelPendingRead();

        public override void Complete(Exception? exception = null) => inner.Complete(exception);

        private ReadResult Look(ReadResult result)
        {
            _last = result.Buffer;
            foreach (var memory in result.Buffer.Slice(Math.Clamp(_scanned, 0, result.Buffer.Length)))
            {
                Scan(memory.Span);
            }
            _scanned = result.Buffer.Length;
            return _closed ? new ReadResult(default, isCanceled: true, isCompleted: true) : result;
        }

        private void Scan(ReadOnlySpan<byte> bytes)
        {
            for (var i = 0; i < bytes.Length && !_closed;)
            {
                if (_skip > 0)
                {
                    var step = (int)Math.Min(_skip, bytes.Length - i);
                    _skip -= step;
                    i += step;
                    continue;
                }
                var octet = bytes[i++];
                if (_header == 0)
                {
                    (_header, _length) = (1, 0);
                    if (_first && octet >> 4 != 1)
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
                var longest = _first ? LongestConnect : LongestPacket;
                if (_length > longest)
                {
                    Refuse($"a packet of {_length} bytes; at most {longest} are taken");
                }
                (_skip, _header, _first) = (_length, 0, false);
            }
        }

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
