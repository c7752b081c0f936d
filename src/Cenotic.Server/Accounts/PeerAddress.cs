using System.Net;

namespace Cenotic.Server.Accounts;

/// <summary>The address by which somebody is counted: one machine, however many addresses it gives itself.</summary>
public static class PeerAddress
{
    private const int PrefixBytes = 8;

    /// <summary>An IPv4 address as it is, an IPv6 address as its network of 64 bits (RFC 4291, 2.5.4: all of it is one link).</summary>
    public static IPAddress Of(IPAddress? address)
    {
        if (address is null)
        {
            return IPAddress.None;
        }
        if (address.IsIPv4MappedToIPv6)
        {
            return address.MapToIPv4();
        }
        if (address.AddressFamily != System.Net.Sockets.AddressFamily.InterNetworkV6 || IPAddress.IsLoopback(address))
        {
            return address;
        }
        var bytes = address.GetAddressBytes();
        bytes.AsSpan(PrefixBytes).Clear();
        return new(bytes);
    }
}
