using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;

namespace Cenotic.Tests;

/// <summary>Ports for programs that are started by tests.</summary>
public static class Ports
{
    /// <summary>Below those that the system gives to connections and to whoever asks for any: nobody takes one between the look and the use.
    /// Source: Linux, ip_local_port_range, 32768 to 60999 unless set otherwise.</summary>
    private const int Lowest = 20_000,
        Highest = 32_000;

    private static readonly ConcurrentDictionary<int, bool> Given = [];

    /// <summary>Two that are free and that no other test of this process has.</summary>
    public static (int Web, int Broker) Free() => (One(), One());

    private static int One()
    {
        while (true)
        {
            var port = Random.Shared.Next(Lowest, Highest);
            if (Given.TryAdd(port, true) && IsFree(port))
            {
                return port;
            }
        }
    }

    private static bool IsFree(int port)
    {
        try
        {
            using var listener = new TcpListener(IPAddress.Loopback, port);
            listener.Start();
            return true;
        }
        catch (SocketException)
        {
            return false;
        }
    }
}
