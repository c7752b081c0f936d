using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Core.Tests;

/// <summary>Small designs that tests start from.</summary>
internal static class Samples
{
    internal const string Esp32 = "esp32-dev-38",
        Rp2040 = "rp2040-wifi-40";

    internal static readonly HardwareCatalogue Catalogue = HardwareCatalogue.BuiltIn;

    internal static Board Board(string id = Esp32) => Catalogue.Board(id)!;

    internal static PartInstance Part(string key, string part) => new(key, key, part);

    internal static NodeDesign Node(params (string Key, string Part)[] parts) =>
        new("n", "Node", null, Esp32, new PowerDesign(PowerKind.Usb), LinkKind.Wifi, false, false, [.. parts.Select(p => Part(p.Key, p.Part))], [], []);

    internal static ReadingDesign Every(string key, string part, string quantity, long intervalMs) => new(key, key, part, quantity, intervalMs, null, 1);

    internal static ReadingDesign OnChange(string key, string part, string quantity, long? heartbeatMs = null) =>
        new(key, key, part, quantity, null, heartbeatMs, 0);

    internal static BenchPlan Plan(NodeDesign node) => BenchPlanner.Plan(node, Catalogue);

    internal static SiteDesign Site(NodeDesign node, params RuleDesign[] rules) => SiteDesign.Empty("Test site") with { Nodes = [node], Rules = rules };

    internal static SiteFile Fernhollow() => SiteFiles.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "fernhollow.json"))).Value;

    internal static int Gpio(BenchPlan plan, string part, string line, string board = Esp32) => Board(board).Pin(plan.Line(part, line)!.Pin).Gpio!.Value;
}
