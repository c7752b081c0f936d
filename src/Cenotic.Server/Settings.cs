using System.Globalization;
using System.Net;

namespace Cenotic.Server;

/// <summary>What the host is told: environment variables with the prefix CENOTIC_, or the same names on the command line.</summary>
/// <param name="Web">Where the pages are served.</param>
/// <param name="Broker">Where nodes connect.</param>
/// <param name="Data">The folder that holds everything that lasts.</param>
/// <param name="Demo">True for the demo site with its stand-ins.</param>
/// <param name="BackupHours">Time between copies that are made by themselves; null for none.</param>
/// <param name="BackupsKept">How many of them are kept.</param>
public sealed record Settings(IPEndPoint Web, IPEndPoint Broker, string Data, bool Demo, string? DemoPassword, double? BackupHours = null, int BackupsKept = 7)
{
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
        return new(web, broker, Path.GetFullPath(configuration["DATA"] ?? "data"), demo, configuration["DEMO_PASSWORD"], Number(configuration, "BACKUP_HOURS", 0.1, 8766), (int)(Number(configuration, "BACKUP_KEEP", 1, 1000) ?? 7));
    }

    private static double? Number(IConfiguration configuration, string name, double from, double to)
    {
        if (configuration[name] is not { Length: > 0 } text)
        {
            return null;
        }
        return double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && value >= from && value <= to
            ? value : throw new ArgumentException(string.Create(CultureInfo.InvariantCulture, $"CENOTIC_{name} is \"{text}\"; write a number from {from} to {to}."));
    }

    private static IPEndPoint Address(string text, string name)
    {
        var bare = text.Replace("http://", "", StringComparison.OrdinalIgnoreCase).TrimEnd('/').Replace("localhost", "127.0.0.1", StringComparison.OrdinalIgnoreCase);
        return IPEndPoint.TryParse(bare, out var point) && bare.Contains(':') ? point : throw new ArgumentException($"{name} is \"{text}\"; write it like 127.0.0.1:5080.");
    }
}
