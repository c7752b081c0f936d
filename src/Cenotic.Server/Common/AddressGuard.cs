using System.Net;
using System.Net.Sockets;

namespace Cenotic.Server.Common;

/// <summary>Which addresses this program may call for somebody (a webhook, a serial line over the network): those of the wide world, and networks of the house
/// that the owner names. Ranges: IANA special-purpose address registries (RFC 6890) and multicast.</summary>
public static class AddressGuard
{
    private static readonly IPNetwork[] Special =
    [
        .. new[]
        {
            "0.0.0.0/8",
            "10.0.0.0/8",
            "100.64.0.0/10",
            "127.0.0.0/8",
            "169.254.0.0/16",
            "172.16.0.0/12",
            "192.0.0.0/24",
            "192.0.2.0/24",
            "192.88.99.0/24",
            "192.168.0.0/16",
            "198.18.0.0/15",
            "198.51.100.0/24",
            "203.0.113.0/24",
            "224.0.0.0/4",
            "240.0.0.0/4",
            "::/128",
            "::1/128",
            "::/96",
            "64:ff9b::/96",
            "64:ff9b:1::/48",
            "100::/64",
            "2001::/23",
            "2001:db8::/32",
            "2002::/16",
            "fc00::/7",
            "fe80::/10",
            "fec0::/10",
            "ff00::/8",
        }.Select(IPNetwork.Parse),
    ];

    /// <summary>True when an address may be called.</summary>
    /// <param name="home">Networks of the house that the owner allows.</param>
    public static bool Allows(IPAddress address, IReadOnlyList<IPNetwork> home)
    {
        var plain = address.IsIPv4MappedToIPv6 ? address.MapToIPv4() : address;
        return home.Any(n => n.Contains(plain)) || !Special.Any(n => n.Contains(plain));
    }

    /// <summary>Networks from lines of text; a line that is none is named in <paramref name="bad"/>.</summary>
    public static IReadOnlyList<IPNetwork> Read(string lines, out IReadOnlyList<string> bad)
    {
        var (good, faults) = (new List<IPNetwork>(), new List<string>());
        foreach (var line in lines.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            if (IPNetwork.TryParse(line, out var network))
            {
                good.Add(network);
            }
            else if (IPAddress.TryParse(line, out var single))
            {
                good.Add(new(single, single.AddressFamily == AddressFamily.InterNetwork ? 32 : 128));
            }
            else
            {
                faults.Add(line);
            }
        }
        bad = faults;
        return good;
    }

    /// <summary>The addresses of a name that may be called, looked up now: a name that changes is checked again each time.</summary>
    /// <exception cref="ForbiddenAddressException">None may.</exception>
    public static async Task<IPAddress[]> ResolveAsync(string host, IReadOnlyList<IPNetwork> home, CancellationToken stop)
    {
        var addresses = await Dns.GetHostAddressesAsync(host, stop);
        var allowed = addresses.Where(a => Allows(a, home)).ToArray();
        return allowed.Length > 0
            ? allowed
            : throw new ForbiddenAddressException(
                $"{host} is {string.Join(", ", addresses.Select(a => a.ToString()))}, in a network of the house that the owner has not named in the "
                    + "settings of notices."
            );
    }
}

/// <summary>An address lies where it may not be called.</summary>
public sealed class ForbiddenAddressException(string message) : Exception(message);
