using System.Net;
using System.Net.Sockets;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Server.StandIns;

/// <summary>
/// Plays a radio bridge: what a node sends by radio comes out of it on a serial line (over the network of this machine), with noise between the frames
/// and a frame cut now and then. A cut frame fails its check and is lost: the message numbers show it.
/// </summary>
internal sealed class RadioBridge(StandInPlan plan) : IStandInLink, IDisposable
{
    private readonly FrameFormat _format = new(FrameKind.LengthPrefixed, [], Start: "7E", Check: FrameCheck.CcittFalse, LengthBytes: 2, Node: plan.Bridge.Node);

    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly Random _chance = new(plan.Seed);
    private Socket? _reader;

    /// <summary>Begins to listen; the line as a maker would set it up.</summary>
    public SerialLineDesign Start(CancellationToken stop)
    {
        _listener.Start();
        _ = AcceptAsync(stop);
        return new("mast-bridge", "Mast bridge", $"tcp://127.0.0.1:{((IPEndPoint)_listener.LocalEndpoint).Port}", 9600, _format);
    }

    public bool Connected => _reader is not null;

    public Task KeepAsync(bool wanted, CancellationToken stop) => Task.CompletedTask;

    public bool TryHear(out OutputCommand command)
    {
        command = null!;
        return false;
    }

    /// <summary>Sends a message as a frame. Without a reader it is lost, as on a real line.</summary>
    public async Task SendAsync(string node, byte[] message, CancellationToken stop)
    {
        byte[] covered = [(byte)(message.Length >> 8), (byte)message.Length, .. message];
        var crc = Crc16.Of(_format.Check, covered);
        byte[] frame = [.. Convert.FromHexString(_format.Start), .. covered, (byte)(crc >> 8), (byte)crc];
        var noise = new byte[_chance.Next(plan.Bridge.LongestNoiseBytes + 1)];
        _chance.NextBytes(noise);
        var cut = _chance.Next(plan.Bridge.CutOneIn) == 0 ? _chance.Next(1, frame.Length) : frame.Length;
        if (_reader is { } reader)
        {
            await reader.SendAsync((byte[])[.. noise, .. frame[..cut]], stop);
        }
    }

    public void Dispose()
    {
        _listener.Dispose();
        _reader?.Dispose();
    }

    private async Task AcceptAsync(CancellationToken stop)
    {
        try
        {
            while (true)
            {
                var next = await _listener.AcceptSocketAsync(stop);
                Interlocked.Exchange(ref _reader, next)?.Dispose();
            }
        }
        catch (Exception fault) when (fault is OperationCanceledException or SocketException or ObjectDisposedException)
        {
            // The demo ends.
        }
    }
}
