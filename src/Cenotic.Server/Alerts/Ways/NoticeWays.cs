using System.Globalization;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using Microsoft.AspNetCore.DataProtection;
using MimeKit;

namespace Cenotic.Server.Alerts.Ways;

public enum Handover
{
    Taken,

    /// <summary>Not taken for certain; another try may be.</summary>
    Later,

    /// <summary>Nobody knows whether it was taken.</summary>
    Unknown,

    /// <summary>The other side will never take it.</summary>
    Never,
}

/// <param name="Words">What the other side said, or what went wrong, in one line.</param>
public sealed record HandoverResult(Handover Outcome, string Words);

/// <summary>A webhook's body.</summary>
/// <param name="Id">Stays the same when it is sent again.</param>
public sealed record WebhookBody(string Id, string Site, string Subject, string Text, IReadOnlyList<NoticeFacts> Notices);

/// <summary>Hands a notice over: by mail (RFC 5321, 5322), as a signed webhook, or to a gateway of text messages.</summary>
public sealed class NoticeWays(GuardedHttp http, IDataProtectionProvider protection, TimeProvider system)
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(30);
    private readonly IDataProtector _secrets = protection.CreateProtector("notices");

    /// <summary>Encrypts a secret for the database.</summary>
    public string? Hide(string? secret) => string.IsNullOrEmpty(secret) ? null : _secrets.Protect(secret);

    internal string? Show(string? hidden)
    {
        try
        {
            return hidden is null ? null : _secrets.Unprotect(hidden);
        }
        catch (CryptographicException)
        {
            // The keys are other ones: the database was brought here without them.
            return null;
        }
    }

    /// <summary>Tries once.</summary>
    public async Task<HandoverResult> HandOverAsync(OutboxRow row, string site, TimeZoneInfo zone, NoticeSettingsRow? settings, CancellationToken stop)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(stop);
        patience.CancelAfter(Patience);
        try
        {
            var notices = JsonSerializer.Deserialize<List<NoticeFacts>>(row.Notices, CenoticJson.Options)!;
            return row.Way switch
            {
                WayKind.Mail when settings is { SendsMail: true } => await MailAsync(row, site, zone, settings, notices, patience.Token),
                WayKind.Mail => new(Handover.Later, "No mail server is set; the owner sets it under Alerts."),
                WayKind.Webhook => await WebhookAsync(row, site, zone, settings, notices, patience.Token),
                _ when settings is { SendsTexts: true } => await TextAsync(row, site, zone, settings, notices, patience.Token),
                _ => new(Handover.Later, "No gateway for text messages is set; the owner sets it under Alerts."),
            };
        }
        catch (ForbiddenAddressException fault)
        {
            return new(Handover.Later, fault.Message);
        }
        catch (HttpRequestException fault) when (fault.InnerException is ForbiddenAddressException forbidden)
        {
            return new(Handover.Later, forbidden.Message);
        }
        catch (HttpRequestException fault)
            when (fault.HttpRequestError is HttpRequestError.ConnectionError or HttpRequestError.NameResolutionError or HttpRequestError.SecureConnectionError)
        {
            return new(Handover.Later, NoticeText.OneLine(fault.Message));
        }
        catch (Exception fault)
            when (fault is HttpRequestException or IOException or SocketException or OperationCanceledException && !stop.IsCancellationRequested)
        {
            return new(Handover.Unknown, fault is OperationCanceledException ? "No answer in time." : NoticeText.OneLine(fault.Message));
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            // Whatever a library makes of an address or a text: it is about this notice alone.
            return new(Handover.Later, NoticeText.OneLine($"It could not be made up: {fault.Message}"));
        }
    }

    /// <summary>True for an address that mail can be sent to or from, and nothing around it.</summary>
    internal static bool IsMailbox(string address) =>
        MailboxAddress.TryParse(address, out var mailbox)
        && mailbox.Address == address
        && string.IsNullOrEmpty(mailbox.Name)
        && address.Contains('@', StringComparison.Ordinal);

    private async Task<HandoverResult> MailAsync(
        OutboxRow row,
        string site,
        TimeZoneInfo zone,
        NoticeSettingsRow settings,
        List<NoticeFacts> notices,
        CancellationToken stop
    )
    {
        using var client = new SmtpClient { CheckCertificateRevocation = false };
        try
        {
            var user = settings.MailUser ?? "";
            await client.ConnectAsync(
                settings.MailHost!,
                settings.MailPort,
                settings.MailTls ? SecureSocketOptions.SslOnConnect
                    : user.Length > 0 ? SecureSocketOptions.StartTls
                    : SecureSocketOptions.StartTlsWhenAvailable,
                stop
            );
            if (user.Length > 0)
            {
                if (!client.IsSecure)
                {
                    return new(Handover.Later, $"{settings.MailHost}: the connection is not secure, and the password is not sent over it.");
                }
                await client.AuthenticateAsync(user, Show(settings.MailPassword) ?? "", stop);
            }
        }
        catch (NotSupportedException)
        {
            return new(Handover.Later, $"{settings.MailHost}: it offers no TLS (STARTTLS) at port {settings.MailPort}, and the password is not sent without.");
        }
        catch (Exception fault)
            when (fault
                    is SocketException
                        or IOException
                        or SslHandshakeException
                        or AuthenticationException
                        or ProtocolException
                        or CommandException
                        or ServiceNotAuthenticatedException
            )
        {
            return new(Handover.Later, NoticeText.OneLine($"{settings.MailHost}: {fault.Message}"));
        }
        using var mail = MailOf(row, site, zone, settings, notices);
        return await SendAsync(client, mail, stop);
    }

    private MimeMessage MailOf(OutboxRow row, string site, TimeZoneInfo zone, NoticeSettingsRow settings, List<NoticeFacts> notices)
    {
        var mail = new MimeMessage
        {
            Subject = NoticeText.Subject(site, notices),
            Body = new TextPart("plain") { Text = NoticeText.Body(site, notices, zone) },
            MessageId = $"{row.MessageId}@cenotic.invalid",
            Date = system.GetUtcNow(),
        };
        mail.From.Add(new MailboxAddress(NoticeText.OneLine(site), settings.MailFrom!));
        mail.To.Add(new MailboxAddress("", row.Address));
        // RFC 3834: nobody's holiday is to answer it.
        mail.Headers.Add("Auto-Submitted", "auto-generated");
        return mail;
    }

    private static async Task<HandoverResult> SendAsync(SmtpClient client, MimeMessage mail, CancellationToken stop)
    {
        try
        {
            var answer = await client.SendAsync(mail, stop);
            await client.DisconnectAsync(true, stop);
            return new(Handover.Taken, NoticeText.OneLine(answer is { Length: > 0 } ? answer : "taken"));
        }
        catch (SmtpCommandException refused)
        {
            return new((int)refused.StatusCode >= 500 ? Handover.Never : Handover.Later, NoticeText.OneLine($"{(int)refused.StatusCode} {refused.Message}"));
        }
        catch (SmtpProtocolException broken)
        {
            return new(Handover.Unknown, NoticeText.OneLine(broken.Message));
        }
    }

    private async Task<HandoverResult> WebhookAsync(
        OutboxRow row,
        string site,
        TimeZoneInfo zone,
        NoticeSettingsRow? settings,
        List<NoticeFacts> notices,
        CancellationToken stop
    )
    {
        var body = JsonSerializer.Serialize(
            new WebhookBody(row.MessageId, site, NoticeText.Subject(site, notices), NoticeText.Body(site, notices, zone), notices),
            CenoticJson.Options
        );
        using var request = new HttpRequestMessage(HttpMethod.Post, row.Address) { Content = new StringContent(body, Encoding.UTF8, "application/json") };
        var time = system.GetUtcNow().ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture);
        request.Headers.Add("Cenotic-Id", row.MessageId);
        request.Headers.Add("Cenotic-Time", time);
        if (Show(settings?.WebhookSecret) is { } secret)
        {
            request.Headers.Add("Cenotic-Signature", Sign(secret, row.MessageId, time, body));
        }
        return await SendAsync(request, settings, stop);
    }

    /// <summary>HMAC-SHA256 (RFC 2104, FIPS 180-4) over id, time and body, each ended by a full stop but the last.</summary>
    public static string Sign(string secret, string id, string time, string body) =>
        "sha256=" + Convert.ToHexStringLower(HMACSHA256.HashData(Encoding.UTF8.GetBytes(secret), Encoding.UTF8.GetBytes($"{id}.{time}.{body}")));

    private async Task<HandoverResult> TextAsync(
        OutboxRow row,
        string site,
        TimeZoneInfo zone,
        NoticeSettingsRow settings,
        List<NoticeFacts> notices,
        CancellationToken stop
    )
    {
        // Written out before it is sent, so that it has a length: gateways refuse what comes in chunks.
        var body = JsonSerializer.Serialize(new { to = row.Address, text = NoticeText.Short(site, notices, zone, row.MessageId) }, CenoticJson.Options);
        using var request = new HttpRequestMessage(HttpMethod.Post, settings.TextUrl) { Content = new StringContent(body, Encoding.UTF8, "application/json") };
        // Gateways that know the header do not send the same twice.
        request.Headers.Add("Idempotency-Key", row.MessageId);
        if (Show(settings.TextKey) is { } key)
        {
            request.Headers.Authorization = new("Bearer", key);
        }
        return await SendAsync(request, settings, stop);
    }

    private async Task<HandoverResult> SendAsync(HttpRequestMessage request, NoticeSettingsRow? settings, CancellationToken stop)
    {
        using var response = await http.SendAsync(request, AddressGuard.Read(settings?.HomeNetworks ?? "", out _), stop);
        var (code, said) = ((int)response.StatusCode, NoticeText.OneLine($"{(int)response.StatusCode} {response.ReasonPhrase}"));
        return code switch
        {
            >= 200 and < 300 => new(Handover.Taken, said),
            >= 300 and < 400 => new(Handover.Never, said + ": it wants another address; redirects are not followed."),
            408 or 425 or 429 or >= 500 => new(Handover.Later, said),
            _ => new(Handover.Never, said),
        };
    }
}
