using System.Net;

namespace Cenotic.Server;

/// <summary>What the host is told: environment variables with the prefix CENOTIC_, or the same names on the command line.</summary>
/// <param name="Web">Where the pages are served.</param>
/// <param name="Broker">Where nodes connect.</param>
/// <param name="Data">The folder that holds everything that lasts.</param>
/// <param name="Demo">True for the demo site with its stand-ins.</param>
public sealed record Settings(IPEndPoint Web, IPEndPoint Broker, string Data, bool Demo, string? DemoPassword)
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
        return new(web, broker, Path.GetFullPath(configuration["DATA"] ?? "data"), demo, configuration["DEMO_PASSWORD"]);
    }

    private static IPEndPoint Address(string text, string name)
    {
        var bare = text.Replace("http://", "", StringComparison.OrdinalIgnoreCase).TrimEnd('/').Replace("localhost", "127.0.0.1", StringComparison.OrdinalIgnoreCase);
        return IPEndPoint.TryParse(bare, out var point) && bare.Contains(':') ? point : throw new ArgumentException($"{name} is \"{text}\"; write it like 127.0.0.1:5080.");
    }
}
