using System.Globalization;
using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Cenotic.Server.Ingest;
using Cenotic.Server.Storage;

namespace Cenotic.Server.Common;

/// <summary>What the host is told: environment variables with the prefix CENOTIC_, or the same names on the command line.</summary>
/// <param name="Web">Where the pages are served.</param>
/// <param name="Broker">Where nodes connect.</param>
/// <param name="Data">The folder that holds everything that lasts.</param>
/// <param name="Demo">True for the demo site with its stand-ins.</param>
/// <param name="BrokerTls">Where nodes connect with TLS; null for nowhere.</param>
/// <param name="Certificate">The server's certificate with its private key; null without TLS.</param>
/// <param name="Upstream">The maker's own broker, where nodes are heard too; null for none.</param>
/// <param name="BackupHours">Time between copies that are made by themselves; null for none.</param>
/// <param name="BackupsKept">How many of them are kept.</param>
/// <param name="MetricsToken">What a collector of metrics brings as "Authorization: Bearer TOKEN"; null where only programs on this machine ask.</param>
public sealed record Settings(
    IPEndPoint Web,
    IPEndPoint Broker,
    string Data,
    bool Demo,
    string? DemoPassword,
    double? BackupHours = null,
    int BackupsKept = 7,
    IPEndPoint? BrokerTls = null,
    X509Certificate2? Certificate = null,
    Upstream? Upstream = null,
    string? MetricsToken = null
)
{
    /// <summary>Where the data lie unless told otherwise: the user's own folder for such things (XDG Base
    /// Directory Specification), outside of the program and its sources.</summary>
    private static string DefaultData =>
        Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.LocalApplicationData, Environment.SpecialFolderOption.DoNotVerify), "cenotic");

    public string Database => Path.Combine(Data, "cenotic.db");

    /// <summary>Reads the settings.</summary>
    /// <exception cref="ArgumentException">An address cannot be read, or the demo is asked to listen beyond this machine.</exception>
    public static Settings Read(IConfiguration configuration)
    {
        var web = Address(configuration["WEB"] ?? "http://127.0.0.1:5080", "CENOTIC_WEB");
        var broker = Address(configuration["BROKER"] ?? "127.0.0.1:1883", "CENOTIC_BROKER");
        var demo = string.Equals(configuration["DEMO"], "true", StringComparison.OrdinalIgnoreCase);
        if (demo && !(IPAddress.IsLoopback(web.Address) && IPAddress.IsLoopback(broker.Address)))
        {
            throw new ArgumentException("The demo listens on this machine only; set CENOTIC_WEB and CENOTIC_BROKER to 127.0.0.1.");
        }
        var tls = configuration["BROKER_TLS"] is { Length: > 0 } text ? Address(text, "CENOTIC_BROKER_TLS") : null;
        var certificate = CertificateOf(configuration);
        if (certificate is null && configuration["WEB"]?.StartsWith("https://", StringComparison.OrdinalIgnoreCase) == true)
        {
            throw new ArgumentException("CENOTIC_WEB with https:// wants a certificate: set CENOTIC_CERTIFICATE and CENOTIC_CERTIFICATE_KEY.");
        }
        if (certificate is not null && configuration["WEB"]?.StartsWith("http://", StringComparison.OrdinalIgnoreCase) == true)
        {
            throw new ArgumentException("CENOTIC_CERTIFICATE is set, and CENOTIC_WEB begins with http://; the pages are served over TLS then: write https://.");
        }
        if (tls is not null && certificate is null)
        {
            throw new ArgumentException("CENOTIC_BROKER_TLS wants a certificate: set CENOTIC_CERTIFICATE and CENOTIC_CERTIFICATE_KEY.");
        }
        return new(
            web,
            broker,
            Path.GetFullPath(configuration["DATA"] is { Length: > 0 } folder ? folder : DefaultData),
            demo,
            configuration["DEMO_PASSWORD"],
            Number(configuration, "BACKUP_HOURS", 0.1, 8766),
            (int)(Number(configuration, "BACKUP_KEEP", 1, 1000) ?? 7),
            tls,
            certificate,
            Upstream.Read(configuration),
            configuration["METRICS_TOKEN"] is { Length: > 0 } token ? token : null
        );
    }

    /// <summary>What is wrong with the certificate at a moment; null when it is in order or there is none.</summary>
    public string? CertificateFault(DateTimeOffset now) =>
        Certificate is null ? null
        : now > Certificate.NotAfter.ToUniversalTime()
            ? $"The certificate ended on {Certificate.NotAfter.ToUniversalTime():yyyy-MM-dd}: nodes that check it refuse to connect. Renew it and start again."
        : now < Certificate.NotBefore.ToUniversalTime()
            ? $"The certificate begins on {Certificate.NotBefore.ToUniversalTime():yyyy-MM-dd} only: nodes that check it refuse to connect. Is this "
                + "machine's clock right?"
        : null;

    private static X509Certificate2? CertificateOf(IConfiguration configuration)
    {
        if (configuration["CERTIFICATE"] is not { Length: > 0 } file)
        {
            return null;
        }
        try
        {
            return X509Certificate2.CreateFromPemFile(file, configuration["CERTIFICATE_KEY"] is { Length: > 0 } key ? key : file);
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException or CryptographicException or ArgumentException)
        {
            throw new ArgumentException(
                $"CENOTIC_CERTIFICATE \"{file}\" with CENOTIC_CERTIFICATE_KEY cannot be used: {fault.Message} Both are PEM files; one file may hold both."
            );
        }
    }

    private static double? Number(IConfiguration configuration, string name, double from, double to)
    {
        if (configuration[name] is not { Length: > 0 } text)
        {
            return null;
        }
        return double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && value >= from && value <= to
            ? value
            : throw new ArgumentException(string.Create(CultureInfo.InvariantCulture, $"CENOTIC_{name} is \"{text}\"; write a number from {from} to {to}."));
    }

    private static IPEndPoint Address(string text, string name)
    {
        var bare = text.Replace("http://", "", StringComparison.OrdinalIgnoreCase)
            .Replace("https://", "", StringComparison.OrdinalIgnoreCase)
            .TrimEnd('/')
            .Replace("localhost", "127.0.0.1", StringComparison.OrdinalIgnoreCase);
        return IPEndPoint.TryParse(bare, out var point) && bare.Contains(':')
            ? point
            : throw new ArgumentException($"{name} is \"{text}\"; write it like 127.0.0.1:5080.");
    }
}
