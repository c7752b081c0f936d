using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.RegularExpressions;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Cenotic.Server.Tests.Samples;
using Cenotic.Tests;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Attacks;

/// <summary>
/// A kill says nothing of a power cut: what the program asked of the system does. A trace of its system calls shows that the log of the database was flushed to
/// the disk after the sample was written to it and before the acknowledgement left, for every way in.
/// </summary>
public partial class FlushedFirstTests
{
    /// <summary>How SQLite writes a number in a record: IEEE 754, the most significant byte first (sqlite.org, Record Format).</summary>
    private static string Marker(double value) => string.Concat(BitConverter.GetBytes(value).Reverse().Select(b => $"\\x{b:x2}"));

    private static string Hex(string text) => string.Concat(Encoding.ASCII.GetBytes(text).Select(b => $"\\x{b:x2}"));

    /// <summary>The log of the database, as the trace writes its name.</summary>
    private static readonly string Log = Hex("cenotic.db-wal");

    /// <summary>The line of the trace at which the value was in the log, the first flush of the log that ended after it, and the acknowledgement.</summary>
    private static (int Written, int Flushed, int Acknowledged) Order(string[] trace, double value, string acknowledgement)
    {
        var written = Array.FindIndex(trace, l =>
            l.Contains("pwrite64(", StringComparison.Ordinal)
            && l.Contains(Log, StringComparison.Ordinal)
            && l.Contains(Marker(value), StringComparison.Ordinal)
        );
        var flushed = -1;
        var begun = new HashSet<string>();
        for (var i = Math.Max(0, written); i < trace.Length && flushed < 0; i++)
        {
            var process = trace[i].Split(' ')[0];
            if (Sync().IsMatch(trace[i]) && trace[i].Contains(Log, StringComparison.Ordinal))
            {
                // A flush that began before the value was written proves nothing of it.
                flushed = trace[i].Contains("= 0", StringComparison.Ordinal) ? i : -1;
                begun.Add(process);
            }
            else if (begun.Contains(process) && Resumed().IsMatch(trace[i]))
            {
                flushed = i;
            }
        }
        var acknowledged = Array.FindIndex(trace, Math.Max(0, written), l => Send().IsMatch(l) && l.Contains(acknowledgement, StringComparison.Ordinal));
        return (written, flushed, acknowledged);
    }

    [Fact]
    public async Task The_log_is_flushed_before_the_acknowledgement_leaves()
    {
        var folder = RunningServer.NewFolder();
        string key;
        await using (var server = await RunningServer.StartAsync(folder))
        {
            key = await server.Services.GetRequiredService<NodeKeys>().IssueAsync("home", "hall");
        }
        var (web, broker) = Ports.Free();
        var log = Path.Combine(folder, "trace");
        using (
            var process = KillTests.Start(
                folder,
                web,
                broker,
                ["strace", "-f", "-y", "-xx", "-s", "8192", "-e", "trace=fsync,fdatasync,pwrite64,write,writev,sendto,sendmsg", "-o", log]
            )
        )
        {
            var owner = await RunningServer.SignedInAsync(new($"http://127.0.0.1:{web}"), "owner");
            // By the broker: the acknowledgement is the PUBACK with this number.
            using (var socket = new System.Net.Sockets.TcpClient("127.0.0.1", broker))
            {
                await socket.GetStream().WriteAsync(MqttBytes.Connect("traced", "home/hall", key));
                await MqttBytes.ReadAsync(socket.GetStream(), 60);
                await socket.GetStream().WriteAsync(MqttBytes.Publish(Topics.Data("home", "hall"), "{\"temp\": 21.40625123}", 0x4A4B));
                Assert.Equal([0x40, 2, 0x4A, 0x4B], await MqttBytes.ReadAsync(socket.GetStream(), 60));
            }
            // Over HTTP: the answer to the message.
            using (var node = new HttpClient { BaseAddress = owner.BaseAddress })
            {
                node.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
                    "Basic",
                    Convert.ToBase64String(Encoding.UTF8.GetBytes($"home/hall:{key}"))
                );
                Assert.Contains(
                    "\"samples\":1",
                    await (await node.PostAsync("/api/intake/home/hall", new StringContent("{\"temp\": 22.40625123}"))).Content.ReadAsStringAsync()
                );
            }
            // A table: the answer that says that it is done.
            var table = new StringContent(
                $"time,hall/temp\n{DateTimeOffset.UtcNow.AddHours(-1).ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture)},23.40625123\n",
                Encoding.UTF8,
                "text/csv"
            );
            var taken = await owner.PostAsync("/api/sites/home/imports?name=table.csv", table);
            Assert.True(taken.IsSuccessStatusCode, await taken.Content.ReadAsStringAsync());
            var view = System.Text.Json.JsonSerializer.Deserialize<ImportView>(await taken.Content.ReadAsStringAsync(), CenoticJson.Options)!;
            var begun = await owner.PostAsync(
                $"/api/sites/home/imports/{view.Id}/begin",
                RunningServer.Body(new CsvLayout(',', false, true, 0, CsvTime.Iso8601, "Etc/UTC", [new(1, "hall", "temp")]))
            );
            Assert.True(begun.IsSuccessStatusCode, await begun.Content.ReadAsStringAsync());
            await RunningServer.UntilAsync(
                async () => (await owner.GetStringAsync($"/api/sites/home/imports/{view.Id}")).Contains("\"new\":1", StringComparison.Ordinal),
                "the table is imported"
            );
            process.Kill(entireProcessTree: true);
            await process.WaitForExitAsync();
        }
        var trace = await File.ReadAllLinesAsync(log);
        foreach (
            var (way, value, acknowledgement) in new[]
            {
                ("broker", 21.40625123, "\\x40\\x02\\x4a\\x4b"),
                ("HTTP", 22.40625123, Hex("\"samples\":1")),
                ("import", 23.40625123, Hex("\"new\":1")),
            }
        )
        {
            var (written, flushed, acknowledged) = Order(trace, value, acknowledgement);
            Assert.True(written >= 0 && acknowledged >= 0, $"{way}: written at line {written}, acknowledged at line {acknowledged} of {trace.Length}");
            Assert.True(
                written < flushed && flushed < acknowledged,
                $"{way}: written at line {written}, flushed at line {flushed}, acknowledged at line {acknowledged}"
            );
        }
        Directory.Delete(folder, recursive: true);
    }

    [GeneratedRegex(@"^\d+ +f(data)?sync\(")]
    private static partial Regex Sync();

    [GeneratedRegex(@"<\.\.\. f(data)?sync resumed>\) += 0")]
    private static partial Regex Resumed();

    [GeneratedRegex(@"^\d+ +(write|writev|sendto|sendmsg)\(")]
    private static partial Regex Send();
}
