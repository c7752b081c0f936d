using System.Collections.Concurrent;
using System.Net;
using System.Security.Cryptography;
using System.Text;
using Cenotic.Server.Accounts;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Ingest;

/// <summary>What is said to a key.</summary>
public enum KeyAnswer
{
    Fits,
    Wrong,

    /// <summary>It was not looked at: too many wrong ones came from there.</summary>
    Wait,
}

/// <summary>Keys of nodes: 160 random bits, shown once, kept as SHA-256. A key speaks for its node only.</summary>
public sealed class NodeKeys(WriteGate gate, IDbContextFactory<CenoticStore> stores, TimeProvider system)
{
    private readonly ConcurrentDictionary<(string Site, string Node), string> _hashes = [];

    /// <summary>A key cannot be guessed: this keeps a node with an old one from being work. It comes in within
    /// the minute once it has the right one, at once when a new one was made.</summary>
    private readonly GuessThrottle _wrong = new(system, 10, TimeSpan.FromSeconds(5), TimeSpan.FromMinutes(1));

    /// <summary>Called when a node's key has ended, with site and node: shows out who signed in with it.</summary>
    public Func<string, string, Task> Ended { get; set; } = (_, _) => Task.CompletedTask;

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
                store.NodeKeys.Add(
                    row = new()
                    {
                        Site = site,
                        Node = node,
                        Hash = "",
                    }
                );
            }
            (row.Hash, row.CreatedMs) = (SecretToken.Hash(key), system.GetUtcNow().ToUnixTimeMilliseconds());
        });
        _hashes[(site, node)] = SecretToken.Hash(key);
        _wrong.Forget($"{site}/{node}");
        await Ended(site, node);
        return key;
    }

    /// <summary>Ends the keys of nodes that are no more. A node of the same name that comes later needs a new one.</summary>
    public async Task RevokeAsync(string site, IReadOnlyCollection<string> nodes)
    {
        foreach (var gone in _hashes.Keys.Where(k => k.Site == site && !nodes.Contains(k.Node)).ToList())
        {
            _hashes.TryRemove(gone, out _);
            await Ended(gone.Site, gone.Node);
        }
    }

    public bool Has(string site, string node) => _hashes.ContainsKey((site, node));

    /// <summary>Whether a key is the node's, compared in constant time. After some wrong ones from an address it is not looked at there for a while.</summary>
    /// <param name="from">Where it comes from.</param>
    public KeyAnswer Try(string site, string node, string? key, IPAddress? from)
    {
        var name = $"{site}/{node}";
        if (_wrong.Wait(from, name) is not null)
        {
            return KeyAnswer.Wait;
        }
        if (Fits(site, node, key))
        {
            _wrong.Succeeded(from, name);
            return KeyAnswer.Fits;
        }
        _wrong.Failed(from, name);
        return KeyAnswer.Wrong;
    }

    private bool Fits(string site, string node, string? key) =>
        key is not null
        && _hashes.TryGetValue((site, node), out var hash)
        && CryptographicOperations.FixedTimeEquals(Encoding.ASCII.GetBytes(SecretToken.Hash(key)), Encoding.ASCII.GetBytes(hash));
}
