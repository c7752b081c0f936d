using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using System.Text;

namespace Cenotic.Server.StandIns;

/// <summary>A mail or text message that would have gone out.</summary>
public sealed record SunkMessage(DateTimeOffset At, string To, string From, string Text);

/// <summary>Takes mail by SMTP (RFC 5321) at a port of this machine and keeps it for looking at: nothing goes out. Only in demo mode.</summary>
public sealed class MailSink(TimeProvider system, ILogger<MailSink> log) : BackgroundService
{
    private const int Most = 50,
        MostLines = 5_000,
        LongestLine = 1_000,
        MostAtOnce = 8;
    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly ConcurrentQueue<SunkMessage> _mails = [];
    private readonly SemaphoreSlim _room = new(MostAtOnce, MostAtOnce);

    /// <summary>Where it listens.</summary>
    public IPEndPoint Address => (IPEndPoint)_listener.LocalEndpoint;

    /// <summary>What came, the newest first.</summary>
    public IReadOnlyList<SunkMessage> Mails => [.. _mails.Reverse()];

    public override Task StartAsync(CancellationToken cancellationToken)
    {
        _listener.Start();
        return base.StartAsync(cancellationToken);
    }

    public override void Dispose()
    {
        _listener.Dispose();
        _room.Dispose();
        base.Dispose();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            await _room.WaitAsync(stoppingToken);
            var client = await _listener.AcceptTcpClientAsync(stoppingToken);
            _ = Task.Run(
                async () =>
                {
                    try
                    {
                        using (client)
                        {
                            using var patience = CancellationTokenSource.CreateLinkedTokenSource(stoppingToken);
                            patience.CancelAfter(TimeSpan.FromMinutes(1));
                            await TalkAsync(client.GetStream(), patience.Token);
                        }
                    }
                    catch (Exception fault) when (fault is IOException or OperationCanceledException)
                    {
                        log.LogDebug("A mail was broken off: {Reason}", fault.Message);
                    }
                    finally
                    {
                        _room.Release();
                    }
                },
                CancellationToken.None
            );
        }
    }

    private async Task TalkAsync(Stream stream, CancellationToken stop)
    {
        using var reader = new StreamReader(stream, Encoding.UTF8);
        Task SayAsync(string text) => stream.WriteAsync(Encoding.ASCII.GetBytes(text + "\r\n"), stop).AsTask();
        await SayAsync("220 stand-in");
        var (from, to) = ("", new List<string>());
        while (await reader.ReadLineAsync(stop) is { Length: <= LongestLine } line)
        {
            switch (line.Split(' ', ':')[0].ToUpperInvariant())
            {
                case "HELO" or "EHLO":
                    await SayAsync("250 stand-in");
                    break;
                case "MAIL":
                    (from, to) = (AddressIn(line), []);
                    await SayAsync("250 OK");
                    break;
                case "RCPT" when from.Length > 0:
                    to.Add(AddressIn(line));
                    await SayAsync("250 OK");
                    break;
                case "DATA" when to.Count > 0:
                    await SayAsync("354 end with a dot");
                    if (await TextAsync(reader, stop) is not { } text)
                    {
                        await SayAsync("552 too long");
                        return;
                    }
                    Keep(new(system.GetUtcNow(), string.Join(", ", to), from, Readable(text)));
                    (from, to) = ("", []);
                    await SayAsync("250 kept, not sent");
                    break;
                case "RSET":
                    (from, to) = ("", []);
                    await SayAsync("250 OK");
                    break;
                // It speaks no TLS, so it takes no password (RFC 4954, 4: 538).
                case "AUTH":
                    await SayAsync("538 5.7.11 no password without TLS");
                    break;
                case "NOOP":
                    await SayAsync("250 OK");
                    break;
                case "QUIT":
                    await SayAsync("221 bye");
                    return;
                case "MAIL" or "RCPT" or "DATA":
                    await SayAsync("503 not now");
                    break;
                default:
                    await SayAsync("502 not known");
                    break;
            }
        }
    }

    /// <summary>The lines up to the one with a dot alone, dots at line starts undone (RFC 5321 section 4.5.2); null when there are too many.</summary>
    private static async Task<string?> TextAsync(StreamReader reader, CancellationToken stop)
    {
        var text = new StringBuilder();
        for (var lines = 0; lines < MostLines; lines++)
        {
            if (await reader.ReadLineAsync(stop) is not { } line || line == ".")
            {
                return text.ToString();
            }
            text.Append(line.StartsWith('.') ? line[1..] : line).Append('\n');
        }
        return null;
    }

    /// <summary>Subject, name and text of a mail as a person reads them (RFC 5322, RFC 2045); the lines as they came where it is none.</summary>
    private static string Readable(string text)
    {
        try
        {
            using var mail = MimeKit.MimeMessage.Load(new MemoryStream(Encoding.UTF8.GetBytes(text)));
            return mail.TextBody is { } body ? $"Subject: {mail.Subject}\nMessage-ID: {mail.MessageId}\n\n{body.ReplaceLineEndings("\n")}" : text;
        }
        catch (FormatException)
        {
            return text;
        }
    }

    private void Keep(SunkMessage mail)
    {
        _mails.Enqueue(mail);
        while (_mails.Count > Most)
        {
            _mails.TryDequeue(out _);
        }
    }

    /// <summary>The address in angle brackets of a MAIL or RCPT line.</summary>
    private static string AddressIn(string line) =>
        line.IndexOf('<') is >= 0 and var open && line.IndexOf('>', open) is >= 0 and var close ? line[(open + 1)..close] : "";
}

/// <summary>Takes text messages as a gateway would, and keeps them for looking at. Only in demo mode.</summary>
public sealed class TextSink(TimeProvider system)
{
    private const int Most = 50;
    private readonly ConcurrentQueue<SunkMessage> _texts = [];

    /// <summary>What came, the newest first.</summary>
    public IReadOnlyList<SunkMessage> Texts => [.. _texts.Reverse()];

    public void Take(string to, string text)
    {
        _texts.Enqueue(new(system.GetUtcNow(), to, "", text));
        while (_texts.Count > Most)
        {
            _texts.TryDequeue(out _);
        }
    }
}
