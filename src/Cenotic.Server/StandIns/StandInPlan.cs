using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Server.StandIns;

/// <summary>The node that is heard over the radio bridge.</summary>
/// <param name="LongestNoiseBytes">Noise between its frames.</param>
/// <param name="CutOneIn">Of so many frames one is cut.</param>
public sealed record BridgePlan(string Node, int LongestNoiseBytes, int CutOneIn);

/// <summary>The node whose logger had a storage card.</summary>
public sealed record CardPlan(string Node, string File);

/// <summary>What the stand-ins of the demo site are like; invented, in a file beside that of the site.</summary>
/// <param name="Seed">Of its made-up world.</param>
/// <param name="LossPercent">Single transmissions that are lost until somebody sets it otherwise, by link.</param>
/// <param name="SignalDbm">How strong its gateway hears a node, dBm.</param>
/// <param name="MailFrom">Address that its notices are sent from.</param>
public sealed record StandInPlan(
    string Site,
    int Seed,
    IReadOnlyDictionary<LinkKind, double> LossPercent,
    IReadOnlyDictionary<string, double> SignalDbm,
    BridgePlan Bridge,
    CardPlan Card,
    string MailFrom
)
{
    private const double UsualDbm = -105;
    private const int SignalSpreadDb = 5;

    /// <summary>The plan that ships.</summary>
    public static StandInPlan Read() =>
        JsonSerializer.Deserialize<StandInPlan>(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "fernhollow.stand-ins.json")), CenoticJson.Options)!;

    /// <summary>Transmissions of a node that are lost, %, of those that are not heard over the bridge.</summary>
    internal double LossOf(NodeDesign? node) => node is null ? 0 : LossPercent.GetValueOrDefault(node.Link);

    /// <summary>How strong its gateway hears a message of a node, dBm.</summary>
    internal double SignalOf(string node, int bytes) => SignalDbm.GetValueOrDefault(node, UsualDbm) - bytes % SignalSpreadDb;
}
