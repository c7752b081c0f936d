using System.Buffers.Binary;
using System.Net.Sockets;
using System.Text;
using Cenotic.Server.Ingest;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>MQTT 3.1.1 packets as bytes, written by the standard (OASIS MQTT 3.1.1, 2.2 and 3.1 to 3.12) and not by the library that the server uses.</summary>
internal static class MqttBytes
{
    public static byte[] Packet(byte first, params byte[][] parts)
    {
        byte[] body = [.. parts.SelectMany(p => p)];
        return [first, .. Length(body.Length), .. body];
    }

    public static byte[] Length(int length)
    {
        var bytes = new List<byte>();
        do
        {
            bytes.Add((byte)((length & 0x7F) | (length > 0x7F ? 0x80 : 0)));
            length >>= 7;
        } while (length > 0);
        return [.. bytes];
    }

    public static byte[] Text(string text) => [.. Number((ushort)Encoding.UTF8.GetByteCount(text)), .. Encoding.UTF8.GetBytes(text)];

    public static byte[] Number(ushort number)
    {
        var bytes = new byte[2];
        BinaryPrimitives.WriteUInt16BigEndian(bytes, number);
        return bytes;
    }

    public static byte[] Connect(string client, string user, string key, bool clean = true) =>
        Packet(0x10, Text("MQTT"), [4, (byte)(0xC0 | (clean ? 2 : 0))], Number(60), Text(client), Text(user), Text(key));

    /// <param name="id">Packet identifier; for quality of service 1 and 2.</param>
    public static byte[] Publish(string topic, string payload, ushort id, int quality = 1, bool again = false) =>
        Packet((byte)(0x30 | (quality << 1) | (again ? 8 : 0)), Text(topic), quality > 0 ? Number(id) : [], Encoding.UTF8.GetBytes(payload));

    public static byte[] Subscribe(string topic, ushort id) => Packet(0x82, Number(id), Text(topic), [1]);

    public static readonly byte[] Ping = [0xC0, 0];

    /// <summary>Reads one packet; null when the other side closed, or said nothing for the time given.</summary>
    public static async Task<byte[]?> ReadAsync(NetworkStream from, int seconds = 20)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(seconds));
        try
        {
            var header = new byte[2];
            await from.ReadExactlyAsync(header, limit.Token);
            // The answers of the server are short: their length is one byte.
            var body = new byte[header[1] & 0x7F];
            await from.ReadExactlyAsync(body, limit.Token);
            return [.. header, .. body];
        }
        catch (Exception fault) when (fault is IOException or OperationCanceledException)
        {
            return null;
        }
    }

    public static async Task<TcpClient> OpenAsync(RunningServer server)
    {
        var socket = new TcpClient();
        await socket.ConnectAsync(server.Started.Broker);
        return socket;
    }

    /// <summary>A connection that is signed in as a node.</summary>
    public static async Task<TcpClient> SignedInAsync(RunningServer server, string client, string user, string key, bool clean = true)
    {
        var socket = await OpenAsync(server);
        await socket.GetStream().WriteAsync(Connect(client, user, key, clean));
        Assert.Equal([0x20, 2], (await ReadAsync(socket.GetStream()))![..2]);
        return socket;
    }
}
