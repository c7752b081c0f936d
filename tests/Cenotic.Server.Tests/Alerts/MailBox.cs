using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using System.Text;
using MimeKit;

namespace Cenotic.Server.Tests.Alerts;

/// <summary>A mail server in miniature that this test can break at any moment.</summary>
internal sealed class MailBox : IDisposable
{
    private readonly TcpListener _listener;
    private readonly CancellationTokenSource _stop = new();

    public MailBox(int port = 0)
    {
        _listener = new(IPAddress.Loopback, port);
        _listener.Start();
        _ = Task.Run(ServeAsync);
    }

    public int Port => ((IPEndPoint)_listener.LocalEndpoint).Port;

    public ConcurrentQueue<MimeMessage> Mails { get; } = [];

    /// <summary>Every line that came outside of a mail, also the bytes of a handshake that it does not understand.</summary>
    public ConcurrentQueue<string> Lines { get; } = [];

    /// <summary>Called with a mail that is here whole, before it is answered; what it gives is the answer.</summary>
    public Func<MimeMessage, string> Answer { get; set; } = _ => "250 kept";

    public void Dispose()
    {
        _stop.Cancel();
        _listener.Dispose();
        _stop.Dispose();
    }

    private async Task ServeAsync()
    {
        while (!_stop.IsCancellationRequested)
        {
            var client = await _listener.AcceptTcpClientAsync(_stop.Token);
            _ = Task.Run(async () =>
            {
                using (client)
                {
                    await TalkAsync(client.GetStream());
                }
            });
        }
    }

    private async Task TalkAsync(NetworkStream stream)
    {
        using var reader = new StreamReader(stream, Encoding.Latin1);
        Task Say(string line) => stream.WriteAsync(Encoding.ASCII.GetBytes(line + "\r\n")).AsTask();
        await Say("220 here");
        while (await reader.ReadLineAsync() is { } line)
        {
            Lines.Enqueue(line);
            if (line.StartsWith("DATA", StringComparison.OrdinalIgnoreCase))
            {
                await Say("354 go on");
                var text = new StringBuilder();
                while (await reader.ReadLineAsync() is { } part && part != ".")
                {
                    text.Append(part.StartsWith('.') ? part[1..] : part).Append("\r\n");
                }
                var mail = await MimeMessage.LoadAsync(new MemoryStream(Encoding.Latin1.GetBytes(text.ToString())));
                Mails.Enqueue(mail);
                await Say(Answer(mail));
            }
            else if (line.StartsWith("EHLO", StringComparison.OrdinalIgnoreCase))
            {
                // It would take a password in clear, and offers no TLS.
                await Say("250-here\r\n250 AUTH PLAIN LOGIN");
            }
            else
            {
                await Say(line.StartsWith("QUIT", StringComparison.OrdinalIgnoreCase) ? "221 bye" : "250 OK");
            }
        }
    }
}
