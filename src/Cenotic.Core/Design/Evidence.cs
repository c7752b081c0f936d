using System.Text.Json.Serialization;

namespace Cenotic.Core.Design;

/// <summary>The state of a node in which a current was measured.</summary>
public enum PowerState
{
    /// <summary>Between wakes.</summary>
    Asleep,

    /// <summary>Awake, with the radio off.</summary>
    Active,
}

/// <summary>A current the maker measured on a node; replaces the catalogue's value.</summary>
public sealed record MeasuredCurrent(string Node, PowerState State, double Milliamps, string How, long AtMs);

/// <summary>How a node was heard at a spot while somebody carried it round.</summary>
/// <param name="Node">Key of the node.</param>
/// <param name="Receiver">Key of the node that heard it; null where it sends for itself.</param>
/// <param name="Spot">Key of the spot.</param>
/// <param name="AtMs">When the walk left the spot, UTC ms of site time.</param>
/// <param name="Who">Who walked.</param>
/// <param name="Heard">Messages that came.</param>
/// <param name="Lost">Messages that are missing between the numbers that came; 0 where the node counts none.</param>
/// <param name="MedianDbm">Median of the signal, dBm; null where nobody tells it.</param>
/// <param name="LowDbm">Weakest signal, dBm.</param>
/// <param name="Radio">With what it was sent and heard then; null where that is not known: it counts as it is set now.</param>
public sealed record SpotWalk(
    string Node,
    string? Receiver,
    string Spot,
    long AtMs,
    string Who,
    int Heard,
    int Lost,
    double? MedianDbm,
    double? LowDbm,
    WalkRadio? Radio = null
);

/// <summary>With what a signal was sent and heard.</summary>
/// <param name="RadiatedDbm">Of the sender with its antenna, dBm e.i.r.p.</param>
/// <param name="GainDbi">Of the antenna that hears it, dBi.</param>
public sealed record WalkRadio(double RadiatedDbm, double GainDbi);

/// <summary>How the messages of a node came through in everyday use.</summary>
/// <param name="Node">Key of the node.</param>
/// <param name="Link">By which link they came.</param>
/// <param name="Heard">Numbered messages that came.</param>
/// <param name="Sent">Messages that the node numbered in the same time.</param>
/// <param name="MedianDbm">Median of the signal, dBm; null where nobody tells it.</param>
public sealed record LinkHistory(string Node, LinkKind Link, long Heard, long Sent, double? MedianDbm = null)
{
    /// <summary>Fewer messages say nothing of a link (common practice, no source).</summary>
    public const int FewestSent = 50;
}

/// <summary>What was measured or found, and changes a plan.</summary>
public sealed record Evidence(IReadOnlyList<MeasuredCurrent> Currents)
{
    /// <summary>Nothing was measured.</summary>
    public static readonly Evidence None = new([]);

    /// <summary>The newest walk of each node at each spot.</summary>
    public IReadOnlyList<SpotWalk> Walks { get; init; } = [];

    /// <summary>How messages came through, at most once for each node.</summary>
    public IReadOnlyList<LinkHistory> Links { get; init; } = [];

    /// <summary>Ways by which notices leave the house, as this program is set; null where that is not known. It is no part of a site's file.</summary>
    [JsonIgnore]
    public IReadOnlyCollection<WayKind>? WaysOut { get; init; }

    /// <summary>The latest measured current of a node in a state, or null.</summary>
    public MeasuredCurrent? Current(string node, PowerState state) =>
        Currents.Where(c => c.Node == node && c.State == state).OrderByDescending(c => c.AtMs).FirstOrDefault();

    /// <summary>How the messages of a node came through, or null where nobody counted.</summary>
    public LinkHistory? Link(string node) => Links.FirstOrDefault(l => l.Node == node);
}
