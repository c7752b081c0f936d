using System.Buffers;
using System.IO.Pipelines;
using Cenotic.Server.Ingest;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>The guard follows packet boundaries however the bytes are cut, changes nothing, and refuses
/// from the header alone. Source of the form: OASIS MQTT 3.1.1, 2.2.</summary>
public class PacketGuardTests
{
    /// <summary>A packet with a payload of this many bytes, its length written as the standard says.</summary>
    private static byte[] Packet(int type, int length)
    {
        var header = new List<byte> { (byte)(type << 4) };
        var left = length;
        do
        {
            header.Add((byte)((left & 0x7F) | (left > 0x7F ? 0x80 : 0)));
            left >>= 7;
        } while (left > 0);
        return [.. header, .. Enumerable.Range(0, length).Select(i => (byte)i)];
    }

    /// <summary>Feeds bytes in pieces and reads them as a consumer does that takes some and looks at all.</summary>
    private static async Task<(byte[] Read, string? Refused)> RunAsync(byte[] bytes, int piece, int take)
    {
        var pipe = new Pipe();
        string? refused = null;
        var reader = new PacketGuard.GuardedReader(pipe.Reader, reason => refused ??= reason);
        var read = new List<byte>();
        var writing = Task.Run(async () =>
        {
            for (var at = 0; at < bytes.Length; at += piece)
            {
                await pipe.Writer.WriteAsync(bytes.AsMemory(at, Math.Min(piece, bytes.Length - at)));
            }
            await pipe.Writer.CompleteAsync();
        });
        while (true)
        {
            var result = await reader.ReadAsync();
            if (result.IsCanceled)
            {
                break;
            }
            var taken = result.Buffer.Slice(0, result.IsCompleted ? result.Buffer.Length : Math.Min(take, result.Buffer.Length));
            read.AddRange(taken.ToArray());
            reader.AdvanceTo(taken.End, result.Buffer.End);
            if (result.IsCompleted)
            {
                break;
            }
        }
        pipe.Reader.Complete();
        await writing;
        return ([.. read], refused);
    }

    [Theory]
    [InlineData(1, 1)]
    [InlineData(3, 2)]
    [InlineData(7, 100)]
    [InlineData(1000, 5)]
    [InlineData(100_000, 100_000)]
    public async Task Good_packets_pass_unchanged_however_they_are_cut(int piece, int take)
    {
        byte[] stream = [.. Packet(1, 60), .. Packet(12, 0), .. Packet(3, 127), .. Packet(3, 128), .. Packet(3, 20_000), .. Packet(14, 0)];
        var (read, refused) = await RunAsync(stream, piece, take);
        Assert.Null(refused);
        Assert.Equal(stream, read);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(4)]
    [InlineData(64)]
    public async Task The_limits_are_exact(int piece)
    {
        Assert.Null((await RunAsync(Packet(1, PacketGuard.LongestConnect), piece, 1000)).Refused);
        Assert.Contains("at most 4096", (await RunAsync(Packet(1, PacketGuard.LongestConnect + 1), piece, 1000)).Refused);
        Assert.Null((await RunAsync([.. Packet(1, 20), .. Packet(3, PacketGuard.LongestPacket)], 4096, 100_000)).Refused);
        Assert.Contains("at most 66048", (await RunAsync([.. Packet(1, 20), .. Packet(3, PacketGuard.LongestPacket + 1)], 4096, 100_000)).Refused);
    }

    [Fact]
    public async Task A_refusal_needs_the_header_only()
    {
        Assert.Contains("200000000 bytes", (await RunAsync([0x10, 0x80, 0x84, 0xAF, 0x5F], 1, 1)).Refused);
        Assert.Contains("not a CONNECT", (await RunAsync([0x30], 1, 1)).Refused);
        Assert.Contains("four bytes", (await RunAsync([0x10, 0xFF, 0xFF, 0xFF, 0xFF], 1, 1)).Refused);
    }

    [Fact]
    public void Who_says_nothing_is_refused_and_who_said_something_is_not()
    {
        string? refused = null;
        var reader = new PacketGuard.GuardedReader(new Pipe().Reader, reason => refused = reason);
        reader.MustHaveConnected();
        Assert.Contains("no whole CONNECT within 5 s", refused);
    }
}
