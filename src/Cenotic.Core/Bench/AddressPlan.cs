using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>Addresses on one I2C bus: all different, with the fewest bridges changed.</summary>
internal static class AddressPlan
{
    private const long Bridge = 1 << 10;

    /// <summary>The address of each member and the weight of what must be bridged or written, or null when they cannot all have one.</summary>
    /// <remarks>A part behind a multiplexer keeps the address it comes with (or the one its maker
    /// strapped), and nobody before the multiplexer may have that one.</remarks>
    internal static (StrapAddress[] Addresses, int Weight)? Of(IReadOnlyList<Connection> bus)
    {
        var blocked = new HashSet<int>();
        foreach (var member in bus)
        {
            foreach (var also in member.Interface.AlsoAddresses ?? [])
            {
                if (member.Behind is null && !blocked.Add(also))
                {
                    return null;
                }
            }
        }
        var result = new StrapAddress[bus.Count];
        var behind = new HashSet<int>();
        foreach (var (member, at) in bus.Select((m, at) => (m, at)).Where(p => p.m.Behind is not null))
        {
            if (Choices(member).FirstOrDefault() is not { } own)
            {
                return null;
            }
            result[at] = own;
            behind.Add(own.Address);
        }
        var direct = Enumerable.Range(0, bus.Count).Where(i => bus[i].Behind is null).ToArray();
        if (direct.Any(i => bus[i].Interface.StartAddress is { } start && (behind.Contains(start) || blocked.Contains(start))))
        {
            return null;
        }
        var addresses = direct.SelectMany(i => Choices(bus[i])).Select(a => a.Address).Distinct().Order().ToArray();
        var starts = bus.Where(m => m.Behind is null && m.Interface.StartAddress is not null).Select(m => m.Interface.StartAddress!.Value).ToHashSet();
        var cost = new long[direct.Length][];
        for (var row = 0; row < direct.Length; row++)
        {
            var member = bus[direct[row]];
            cost[row] = new long[addresses.Length];
            Array.Fill(cost[row], Assignment.Forbidden);
            var all = member.Interface.Addresses!;
            for (var i = 0; i < all.Count; i++)
            {
                var free = !blocked.Contains(all[i].Address) && !behind.Contains(all[i].Address) && !starts.Contains(all[i].Address);
                if (free && (member.Instance.Address is null || member.Instance.Address == all[i].Address))
                {
                    cost[row][Array.IndexOf(addresses, all[i].Address)] = (i > 0 && member.Interface.StartAddress is null ? Bridge : 0) + i;
                }
            }
        }
        if (Assignment.Solve(cost, addresses.Length) is not { } answer)
        {
            return null;
        }
        var weight = 0;
        for (var row = 0; row < direct.Length; row++)
        {
            var member = bus[direct[row]];
            result[direct[row]] = member.Interface.Addresses!.First(a => a.Address == addresses[answer[row]]);
            weight += WeightOf(member, result[direct[row]]);
        }
        return (result, weight);
    }

    /// <summary>What an address costs: a bridge, or a line of the program.</summary>
    private static int WeightOf(Connection member, StrapAddress address) =>
        member.Interface.StartAddress is not null ? Weights.WrittenAddress
        : address != member.Interface.Addresses![0] ? Weights.Piece
        : 0;

    private static IEnumerable<StrapAddress> Choices(Connection member) =>
        member.Interface.Addresses!.Where(a => member.Instance.Address is null || member.Instance.Address == a.Address);
}
