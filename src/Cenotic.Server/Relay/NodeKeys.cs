using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Server.Accounts;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Relay;

/// <summary>Keys of nodes: 160 random bits, shown once, kept as SHA-256. A key speaks for its node only.</summary>
public sealed class NodeKeys(WriteGate gate, IDbContextFactory<CenoticStore> stores, TimeProvider system)
{
    private readonly ConcurrentDictionary<(string Site, string Node), string> _hashes = [];

    /// <summary>Called when a node has a new key, with site and node: shows out who signed in with the old one.</summary>
    public Func<string, string, Task> Renewed { get; set; } = (_, _) => Task.CompletedTask;

    public async Task LoadAsync()
    {
        await using var store = await stores.CreateDbContextAsync();
        foreach (var row in await store.NodeKeys.AsNoTracking().ToListAsync())
        {
            _hashes[(row.Site, row.Node)] = row.Hash;
        }
    }

    /// <summary>Makes a new key; the old one ends at once.</summary>
    public async Task<string> IssueAsync(string site, string node)
    {
        var key = SecretToken.New();
        await gate.WriteAsync(async store =>
        {
            var row = await store.NodeKeys.FindAsync(site, node);
            if (row is null)
            {
                store.NodeKeys.Add(row = new() { Site = site, Node = node, Hash = "" });
            }
            (row.Hash, row.CreatedMs) = (SecretToken.Hash(key), system.GetUtcNow().ToUnixTimeMilliseconds());
        });
        _hashes[(site, node)] = SecretToken.Hash(key);
        await Renewed(site, node);
        return key;
    }

    public bool Has(string site, string node) => _hashes.ContainsKey((site, node));

    /// <summary>Whether a key is the node's, compared in constant time.</summary>
    public bool Fits(string site, string node, string? key) =>
        key is not null && _hashes.TryGetValue((site, node), out var hash)
        && CryptographicOperations.FixedTimeEquals(Encoding.ASCII.GetBytes(SecretToken.Hash(key)), Encoding.ASCII.GetBytes(hash));
}
