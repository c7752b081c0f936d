using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.Watch;

/// <summary>How many readings a role takes.</summary>
public enum RoleCount
{
    /// <summary>Exactly one.</summary>
    One,

    /// <summary>One or none.</summary>
    AtMostOne,

    /// <summary>One or more.</summary>
    Many,
}

/// <summary>What a reading is for in a formula.</summary>
/// <param name="Label">What it is, in words.</param>
/// <param name="Units">Units it may come in; empty where any is right.</param>
/// <param name="Suits">Readings of the site that may be taken, the likeliest first.</param>
public sealed record DerivedRole(string Label, RoleCount Count, IReadOnlyList<string> Units, IReadOnlyList<ReadingRef> Suits);

/// <summary>A kind of reading that can be worked out on a site.</summary>
/// <param name="Label">What it is, in words.</param>
/// <param name="Name">The name it gets unless another is written.</param>
/// <param name="Decimals">Digits it is shown with unless others are written.</param>
/// <param name="Usual">It with its usual numbers; the readings are blank.</param>
/// <param name="Roles">The readings it takes, in their order.</param>
/// <param name="Nodes">Keys of the nodes it may be about; empty for what is worked out of readings.</param>
public sealed record DerivedChoice(string Label, string Name, int Decimals, DerivedFrom Usual, IReadOnlyList<DerivedRole> Roles, IReadOnlyList<string> Nodes);

/// <summary>What can be worked out on a site, with the usual numbers of each formula (common practice, no source).</summary>
public static class DerivedChoices
{
    /// <summary>Pulses that meters usually give: small flow meters 450 a litre, one magnet a turn, energy meters 1000 a kilowatt hour,
    /// tipping buckets one for 0.2794 mm of rain.</summary>
    public static readonly IReadOnlyList<PulsesDesign> Pulses =
    [
        new(PulsesOf.Litre, 450),
        new(PulsesOf.Revolution, 1),
        new(PulsesOf.KilowattHour, 1000),
        new(PulsesOf.MillimetreOfRain, 3.579),
    ];

    private const long HourMs = 3_600_000;
    private static readonly ReadingRef Blank = new("", "");

    /// <summary>What tells of somebody before all else does.</summary>
    private static readonly string[] TellOfSomebody = ["presence", "motion"];

    /// <summary>Every kind, in the order in which it is offered.</summary>
    public static IReadOnlyList<DerivedChoice> Of(SiteDesign site, HardwareCatalogue catalogue)
    {
        var readings = Readings(site, catalogue).ToList();
        DerivedChoice Choice(string label, string name, int decimals, DerivedFrom usual, params string[] roles) =>
            new(label, name, decimals, usual, [.. roles.Select((r, i) => One(readings, usual, r, i))], []);
        DerivedChoice About(string label, string name, DerivedFrom usual, IEnumerable<NodeDesign> nodes) =>
            new(label, name, 0, usual, [], [.. nodes.Select(n => n.Key)]);
        DerivedChoice OfMany(string label, string name, int decimals, DerivedFrom usual, DerivedRole role) => new(label, name, decimals, usual, [role], []);

        return
        [
            OfMany("sum or difference", "Difference", 1, new SumOf([new(Blank, 1), new(Blank, -1)]), Many("Reading", readings.Where(MayBeTaken))),
            Choice("dew point", "Dew point", 1, new DewPointOf(Blank, Blank), "Temperature", "Humidity"),
            Choice("water in the air", "Water in the air", 1, new WaterInAirOf(Blank, Blank), "Temperature", "Humidity"),
            Choice(
                "mould index of a surface",
                "Mould index",
                2,
                new MouldIndexOf(Blank, Blank, Blank, MouldGround.Wood),
                "Temperature",
                "Humidity",
                "Temperature of the surface"
            ),
            Choice("how fast it rises, or flow and speed from pulses", "Rate", 2, new RateOf(Blank, HourMs), "Reading"),
            Choice("running hours", "Running hours", 2, new RunningHoursOf(Blank), "Runs while"),
            Choice("degree days", "Degree days", 1, new DegreeDaysOf(Blank, 18, LimitSide.Below), "Temperature"),
            OfMany("presence of several sensors", "Somebody there", 0, new PresenceOf([], 300_000), Many("Sensors", Sensors(site, readings))),
            Choice("level or volume of a vessel", "Volume", 0, new VesselOf(UsualDesign.Values.Vessel, VesselMeasure.Litres), "Distance or height"),
            Choice("conductivity at 25 °C", "Conductivity at 25 °C", 0, new ConductivityAt25Of(Blank, Blank), "Conductivity", "Temperature of the water"),
            Choice("dissolved solids", "Dissolved solids", 0, new DissolvedSolidsOf(Blank, Blank), "Conductivity", "Temperature of the water"),
            About("lost messages of a node", "Lost messages", new LostShareOf("", HourMs), site.Nodes),
            About("days left on the cells of a node", "Days left", new DaysLeftOf(""), OnCells(site)),
        ];
    }

    /// <summary>What nodes show by themselves and is not worked out yet: a rule may want it like any reading.</summary>
    public static IReadOnlyList<DerivedDesign> OfNodes(SiteDesign site)
    {
        bool Stands(DerivedFrom from) => site.Derived.Any(d => d.From.GetType() == from.GetType() && d.From.About == from.About);
        var taken = site.Derived.Select(d => d.Key).ToList();
        DerivedDesign Made(string key, string label, NodeDesign node, DerivedFrom from)
        {
            // Long keys are cut: what is offered beside must not have the same.
            taken.Add(Keys.Free($"{key}-{node.Key}", taken));
            return new(taken[^1], Cut($"{label}, {node.Label}"), from, 0);
        }
        return
        [
            .. site
                .Nodes.Select(n => Made("lost", "Lost messages", n, new LostShareOf(n.Key, HourMs)))
                .Concat(OnCells(site).Select(n => Made("left", "Days left", n, new DaysLeftOf(n.Key))))
                .Where(d => !Stands(d.From)),
        ];
    }

    private static IEnumerable<NodeDesign> OnCells(SiteDesign site) => site.Nodes.Where(n => n.Power.Kind == PowerKind.Cells);

    private static string Cut(string label) => label.Length > FaultList.LongestText ? label[..FaultList.LongestText] : label;

    private static IEnumerable<(ReadingRef Reading, PartQuantity Quantity)> Readings(SiteDesign site, HardwareCatalogue catalogue) =>
        site
            .Nodes.SelectMany(n => n.Readings.Select(r => new ReadingRef(n.Key, r.Key)))
            .Concat(site.Derived.Select(d => new ReadingRef(DerivedDesign.Node, d.Key)))
            .Select(r => (r, DerivedFacts.Quantity(site, catalogue, r)!))
            .Where(r => r.Item2 is not null);

    private static bool MayBeTaken((ReadingRef Reading, PartQuantity Quantity) reading) => reading.Quantity.Kind != ReadingKind.Event;

    private static DerivedRole One(IEnumerable<(ReadingRef Reading, PartQuantity Quantity)> readings, DerivedFrom usual, string label, int at)
    {
        var units = DerivedFacts.Wanted(usual, at);
        var suits = readings.Where(r => units.Count > 0 ? units.Contains(r.Quantity.Unit) : MayBeTaken(r));
        return new(label, (usual, at) is (MouldIndexOf, 2) ? RoleCount.AtMostOne : RoleCount.One, units, [.. suits.Select(r => r.Reading)]);
    }

    private static DerivedRole Many(string label, IEnumerable<(ReadingRef Reading, PartQuantity Quantity)> readings) =>
        new(label, RoleCount.Many, [], [.. readings.Select(r => r.Reading)]);

    /// <summary>What may tell of somebody; an output tells of nobody.</summary>
    private static IEnumerable<(ReadingRef Reading, PartQuantity Quantity)> Sensors(
        SiteDesign site,
        IEnumerable<(ReadingRef Reading, PartQuantity Quantity)> readings
    ) =>
        readings
            .Where(r => r.Quantity.Kind is ReadingKind.State or ReadingKind.Event && site.Node(r.Reading.Node)?.Reading(r.Reading.Reading)?.Output is null)
            .OrderByDescending(r => TellOfSomebody.Contains(r.Quantity.Quantity));
}
