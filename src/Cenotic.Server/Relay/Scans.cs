using Cenotic.Core.BringUp;
using Cenotic.Core.Common;
using Cenotic.Server.Live;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Relay;

/// <summary>Keeps bus scans, pasted or sent by the node, each as it was told.</summary>
public sealed class Scans(SiteBook book, SiteClock clock, WriteGate gate, LiveFeed live)
{
    /// <summary>Keeps a scan; refused is a text that is none.</summary>
    /// <param name="who">Who pasted it; null when the node sent it.</param>
    public async Task<Outcome<BusScan>> KeepAsync(string site, string node, string text, string? who)
    {
        if (book.Find(site)?.Design.Node(node) is null)
        {
            return Outcome<BusScan>.Refused($"There is no node \"{node}\".");
        }
        var read = ScanText.Read(text);
        if (read.Ok)
        {
            await gate.WriteAsync(store =>
            {
                store.Scans.Add(new() { Site = site, Node = node, AtMs = clock.Now(site), Who = who, Text = text });
                return Task.CompletedTask;
            });
            await live.ScannedAsync(site);
        }
        return read;
    }
}
