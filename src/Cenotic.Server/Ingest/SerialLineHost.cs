using System.Collections.Concurrent;
using System.IO.Ports;
using System.Net.Sockets;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Ingest;

/// <summary>How a serial line fares.</summary>
/// <param name="Fault">Why it is not open; null while it is.</param>
/// <param name="Skipped">Bytes that belonged to no frame.</param>
public sealed record SerialLineState(string Key, bool Open, string? Fault, long Bytes, long Frames, long Refused, long Skipped, long? LastFrameMs);

/// <summary>Keeps the serial lines of all sites open and stores what their frames hold.</summary>
public sealed class SerialLineHost(
    IDbContextFactory<CenoticStore> stores,
    SiteBook book,
    SiteClock clock,
    Intake intake,
    SampleWriter writer,
    TimeProvider system,
    ILogger<SerialLineHost> log
) : BackgroundService
{
    private readonly ConcurrentDictionary<(string Site, string Line), SerialLineState> _states = [];

    /// <summary>How the lines of a site fare.</summary>
    public IReadOnlyList<SerialLineState> States(string site) =>
        [
            .. book.Find(site)!
                .Design.Lines.Select(l => _states.GetValueOrDefault((site, l.Key)) ?? new(l.Key, false, l.Open ? "not opened yet" : null, 0, 0, 0, 0, null)),
        ];

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var changed = new WakeSignal(system);
        book.Changed += _ => changed.Wake();
        var running = new Dictionary<(string Site, string Line), (SerialLineDesign Design, CancellationTokenSource Stop, Task Work)>();
        try
        {
            while (!stoppingToken.IsCancellationRequested)
            {
                var wanted = book
                    .Sites.SelectMany(s => book.Find(s)!.Design.Lines.Where(l => l.Open).Select(l => (Key: (s, l.Key), Line: l)))
                    .ToDictionary(w => w.Key, w => w.Line);
                foreach (var (key, work) in running.Where(r => !wanted.TryGetValue(r.Key, out var line) || !ReferenceEquals(line, r.Value.Design)).ToList())
                {
                    await EndAsync(work.Stop, work.Work);
                    running.Remove(key);
                    _states.TryRemove(key, out _);
                }
                foreach (var (key, line) in wanted.Where(w => !running.ContainsKey(w.Key)))
                {
                    var stop = CancellationTokenSource.CreateLinkedTokenSource(stoppingToken);
                    running[key] = (line, stop, Task.Run(() => KeepOpenAsync(key.Item1, line, stop.Token), CancellationToken.None));
                }
                await changed.WaitAsync(null, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // The end.
        }
        foreach (var (_, stop, work) in running.Values)
        {
            await EndAsync(stop, work);
        }
    }

    private static async Task EndAsync(CancellationTokenSource stop, Task work)
    {
        await stop.CancelAsync();
        await work;
        stop.Dispose();
    }

    private async Task KeepOpenAsync(string site, SerialLineDesign line, CancellationToken stop)
    {
        var state = new SerialLineState(line.Key, false, null, 0, 0, 0, 0, null);
        await Connecting.KeepAsync(async ended => await OpenAsync(site, line, ended), UseAsync, Ended, system, stop);

        async Task UseAsync(Stream stream)
        {
            await using var _ = stream;
            _states[(site, line.Key)] = state = state with { Open = true, Fault = null };
            await foreach (var next in ReadAsync(site, line, stream, state, stop))
            {
                _states[(site, line.Key)] = state = next;
            }
            throw new IOException("The other side closed the line.");
        }

        void Ended(Exception fault)
        {
            _states[(site, line.Key)] = state = state with { Open = false, Fault = fault.Message };
            log.LogWarning("Serial line {Line} of {Site}: {Reason} It is tried again.", line.Key, site, fault.Message);
        }
    }

    private async IAsyncEnumerable<SerialLineState> ReadAsync(
        string site,
        SerialLineDesign line,
        Stream stream,
        SerialLineState state,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken stop
    )
    {
        var decoder = new FrameDecoder(line.Format);
        var before = state.Skipped;
        var bytes = new byte[4096];
        while (await stream.ReadAsync(bytes, stop) is var count and > 0)
        {
            var frames = decoder.Push(bytes.AsSpan(0, count));
            foreach (var frame in frames)
            {
                await StoreAsync(site, line, frame, stop);
            }
            var taken = frames.Count(f => f.Refusal is null);
            yield return state = state with
            {
                Bytes = state.Bytes + count,
                Frames = state.Frames + taken,
                Refused = state.Refused + frames.Count - taken,
                Skipped = before + decoder.Skipped,
                LastFrameMs = taken > 0 ? clock.Now(site) : state.LastFrameMs,
            };
        }
    }

    private async Task StoreAsync(string site, SerialLineDesign line, Frame frame, CancellationToken stop)
    {
        if (frame.Refusal is not null)
        {
            // It cannot be said whose frame it was: it shows with every node of the line.
            foreach (var node in Nodes(line))
            {
                await writer.StoreAsync(
                    new(
                        site,
                        node,
                        clock.Now(site),
                        frame.Bytes.Length,
                        null,
                        null,
                        null,
                        null,
                        [],
                        [$"{line.Label}: {frame.Refusal}"],
                        Intake.Excerpt(frame.Bytes)
                    ),
                    stop
                );
            }
            return;
        }
        foreach (var ofNode in frame.Values.GroupBy(v => v.Node))
        {
            var records = ofNode.Select(v => new SenmlRecord(v.Reading, null, v.Time, v.HasTime, v.Value, null, null, Senml.Version)).ToList();
            await writer.StoreAsync(intake.Decode(site, ofNode.Key, frame.Bytes, records, @unchecked: !line.Format.Checked), stop);
        }
    }

    private static IEnumerable<string> Nodes(SerialLineDesign line) =>
        line.Format.Fields.Select(f => f.Node).Append(line.Format.Node).OfType<string>().Distinct();

    /// <summary>Opens a device, or a line that comes over the network (tcp://HOST:PORT).</summary>
    private async Task<Stream> OpenAsync(string site, SerialLineDesign line, CancellationToken stop)
    {
        if (Uri.TryCreate(line.Port, UriKind.Absolute, out var at) && at.Scheme == "tcp")
        {
            // What a maker types here is called by this machine, which can reach what they cannot: the same guard as before webhooks.
            await using var store = await stores.CreateDbContextAsync(stop);
            var home = await store.NoticeSettings.AsNoTracking().Where(s => s.Site == site).Select(s => s.HomeNetworks).FirstOrDefaultAsync(stop) ?? "";
            var allowed = await AddressGuard.ResolveAsync(at.Host, AddressGuard.Read(home, out _), stop);
            var client = new TcpClient();
            try
            {
                await client.ConnectAsync(allowed, at.Port, stop);
            }
            catch
            {
                client.Dispose();
                throw;
            }
            return client.GetStream();
        }
        var port = new SerialPort(line.Port, line.Baud);
        port.Open();
        return port.BaseStream;
    }
}
