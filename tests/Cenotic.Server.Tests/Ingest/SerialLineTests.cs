using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Ingest;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests.Ingest;

/// <summary>Frames from a serial device (a pseudo-terminal) and from a line over the network, and a format tried on pasted bytes.</summary>
public class SerialLineTests
{
    private static readonly FrameFormat Lines = new(FrameKind.SeparatedValues, [new("hall", "temp"), new("hall", "light")], Separator: ";");
    private static readonly FrameFormat Messages = new(FrameKind.LengthPrefixed, [], Start: "7E", Check: FrameCheck.CcittFalse, LengthBytes: 1, Node: "hall");

    private static async Task PutAsync(RunningServer server, string port, FrameFormat format, bool open = true)
    {
        var client = await server.ClientAsync("owner");
        var revision = server.Book.Find("home")!.Revision;
        var answer = await client.PostAsync(
            "/api/sites/home/edits",
            RunningServer.Body(new { revision, edits = new DesignEdit[] { new PutLine(new("bridge", "Bridge", port, 9600, format, open)) } })
        );
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
    }

    private static Task OpenAsync(RunningServer server) => RunningServer.UntilAsync(() => Task.FromResult(State(server).Open), "the line is open");

    private static SerialLineState State(RunningServer server) => server.Services.GetRequiredService<SerialLineHost>().States("home").Single();

    private static byte[] Message(string body)
    {
        byte[] covered = [(byte)body.Length, .. Encoding.ASCII.GetBytes(body)];
        var crc = Crc16.Of(FrameCheck.CcittFalse, covered);
        return [0x7E, .. covered, (byte)(crc >> 8), (byte)crc];
    }

    [Fact]
    public async Task A_serial_device_is_read_and_what_its_part_cannot_measure_is_refused()
    {
        // A pseudo-terminal: the other end of the line is a program, the device is like any serial device.
        const string terminal =
            "import os,sys,tty\nm,s=os.openpty()\ntty.setraw(s)\nprint(os.ttyname(s),flush=True)\nfor l in sys.stdin: os.write(m,l.encode())";
        using var bridge = Process.Start(new ProcessStartInfo("python3", ["-c", terminal]) { RedirectStandardInput = true, RedirectStandardOutput = true })!;
        var device = (await bridge.StandardOutput.ReadLineAsync())!;
        await using var server = await RunningServer.StartAsync();
        await PutAsync(server, device, Lines);
        await OpenAsync(server);
        // The first line may be the end of one; 999 degrees no part of the hall can measure: noise, since these frames carry no check.
        await bridge.StandardInput.WriteAsync("5;300\n21.5;310\n999;320\nrubbish\n22.5;330\n");
        await bridge.StandardInput.FlushAsync();
        // The counts of a line are told when what came over it is stored.
        await RunningServer.UntilAsync(() => Task.FromResult(State(server).Frames == 3), "the lines are stored");
        Assert.Equal([21.5, 22.5, 310, 320, 330], (await PeersTests.ValuesAsync(server)).Order());
        var refusals = await server.RefusalsAsync("hall");
        Assert.Contains(refusals, r =>
            r.Contains("\"temp\" is 999 °C", StringComparison.Ordinal) && r.Contains("Noise on a line without a check", StringComparison.Ordinal)
        );
        Assert.Contains("Bridge: It holds 1 value; the line's frames have 2.", refusals);
        Assert.Equal(1, State(server).Refused);
        // A line that is switched off is let go at once, also while nothing comes over it; then it is opened again.
        await PutAsync(server, device, Lines, open: false);
        await RunningServer.UntilAsync(() => Task.FromResult(State(server) is { Open: false, Fault: null }), "it is let go");
        await PutAsync(server, device, Lines);
        await OpenAsync(server);
        bridge.Kill();
        await RunningServer.UntilAsync(() => Task.FromResult(!State(server).Open), "a device that is gone is told");
        Assert.NotNull(State(server).Fault);
    }

    [Fact]
    public async Task A_line_over_the_network_with_noise_is_counted_by_message_numbers_and_opened_again()
    {
        using var bridge = new TcpListener(IPAddress.Loopback, 0);
        bridge.Start();
        await using var server = await RunningServer.StartAsync();
        // This machine is in a network of the house: the owner names it first.
        await PutAsync(server, $"tcp://127.0.0.1:{((IPEndPoint)bridge.LocalEndpoint).Port}", Messages);
        await RunningServer.UntilAsync(
            () => Task.FromResult(State(server).Fault?.Contains("a network of the house that the owner has not named", StringComparison.Ordinal) == true),
            "the address is refused"
        );
        Assert.False(bridge.Pending());
        // The line of before is let go before the network is named: it would be opened else, and ended while the test speaks over it.
        await PutAsync(server, "/dev/no-such-line", Messages);
        await RunningServer.UntilAsync(
            () => Task.FromResult(State(server).Fault?.Contains("no-such-line", StringComparison.Ordinal) == true),
            "the other line has its turn"
        );
        await server.NameHomeAsync(await server.ClientAsync("owner"));
        await PutAsync(server, $"tcp://127.0.0.1:{((IPEndPoint)bridge.LocalEndpoint).Port}", Messages);
        using (var first = await bridge.AcceptSocketAsync())
        {
            await first.SendAsync(
                (byte[])
                    [
                        0x13,
                        0x7E,
                        0xFF,
                        .. Message("""{"temp":20,"sys/boot":1,"sys/seq":1}"""),
                        .. Message("""{"temp":21,"sys/boot":1,"sys/seq":2}""")[..^3],
                        .. Enumerable.Repeat((byte)0, 300),
                        .. Message("""{"temp":22,"sys/boot":1,"sys/seq":3}"""),
                        .. Message("""{"temp":22,"sys/boot":1,"sys/seq":3}"""),
                    ]
            );
            await RunningServer.UntilAsync(async () => (await PeersTests.ValuesAsync(server)).Count == 2, "the whole frames are stored");
        }
        using (var again = await bridge.AcceptSocketAsync())
        {
            await again.SendAsync(Message("""{"temp":23,"sys/boot":1,"sys/seq":4}"""));
            await RunningServer.UntilAsync(async () => (await PeersTests.ValuesAsync(server)).Count == 3, "it is read again");
        }
        Assert.Equal([20, 22, 23], (await PeersTests.ValuesAsync(server)).Order());
        var page = await (await server.ClientAsync("viewer")).GetFromJsonAsync<NodeView>("/api/sites/home/nodes/hall/messages", CenoticJson.Options);
        Assert.Equal((1L, 3L), (page!.Lost, page.Received));
        Assert.True(State(server).Skipped > 300);
    }

    [Fact]
    public async Task A_format_is_tried_on_pasted_bytes_and_a_viewer_may_not()
    {
        await using var server = await RunningServer.StartAsync();
        var owner = await server.ClientAsync("owner");
        async Task<TriedFrames> TryAsync(FrameTrial trial) =>
            (
                await (await owner.PostAsync("/api/sites/home/lines/try", RunningServer.Body(trial))).Content.ReadFromJsonAsync<TriedFrames>(
                    CenoticJson.Options
                )
            )!;
        var text = await TryAsync(new(Lines, "21.5;310\nx\n19", true));
        Assert.Equal((3, 5L, 0, false), (text.Frames.Count, text.Skipped, text.Waiting, text.Checked));
        Assert.Equal(("21.5;310⏎", 21.5, "°C"), (text.Frames[0].Text, text.Frames[0].Values[0].Value, text.Frames[0].Values[0].Unit));
        Assert.Contains("1 value;", text.Frames[1].Refusal);
        var hex = await TryAsync(new(Messages, $"00 {Convert.ToHexString(Message("{\"temp\":20}"))}", false));
        Assert.Equal((1, 1L, true), (hex.Frames.Count, hex.Skipped, hex.Checked));
        foreach (var bad in new[] { new FrameTrial(Lines with { Fields = [] }, "1", true), new FrameTrial(Messages, "7", false) })
        {
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await owner.PostAsync("/api/sites/home/lines/try", RunningServer.Body(bad))).StatusCode);
        }
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await (await server.ClientAsync("viewer")).PostAsync("/api/sites/home/lines/try", RunningServer.Body(new FrameTrial(Lines, "1", true)))).StatusCode
        );
    }
}
