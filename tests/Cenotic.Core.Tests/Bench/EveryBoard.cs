using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Random nodes of one to fourteen parts of the whole catalogue on every board, with every supply and setting,
/// over Wi-Fi or not, asleep or not, with and without modules of the planner's own.</summary>
internal static class EveryBoard
{
    private static readonly string[] Boards = [.. Samples.Catalogue.Boards.Select(b => b.Id)],
        Parts = [.. Samples.Catalogue.Parts.Where(p => p.Interfaces.Count > 0).Select(p => p.Id)],
        Cells = [.. Samples.Catalogue.Cells.Select(c => c.Id)];

    private static Gen<T> OneOf<T>(params T[] values) => Gen.Int[0, values.Length - 1].Select(i => values[i]);

    private static PowerDesign Plain(string board) => new(board == "esp32-eth-rmii-26" ? PowerKind.FiveVolt : PowerKind.Usb);

    /// <summary>On their usual 5 V.</summary>
    internal static readonly Gen<NodeDesign> Node = Gen.Select(OneOf(Boards), OneOf(Parts).Array[1, 14], Gen.Bool, Gen.Bool, Gen.Bool)
        .Select((board, parts, wifi, sleeps, adds) => Of(board, Plain(board), parts, wifi, sleeps, adds));

    private static readonly Gen<PowerDesign> Guards = Gen.Select(OneOf<double?>(null, 0.5, 1, 3), Gen.Bool, Gen.Bool, Gen.Bool, Gen.Bool, OneOf(0.0, 0.5, 8))
        .Select(
            (fuse, reverse, surge, alsoUsb, stepUp12, metres) =>
                new PowerDesign(
                    PowerKind.Usb,
                    FuseAmps: fuse,
                    ReverseGuard: reverse,
                    SurgeGuard: surge,
                    AlsoUsb: alsoUsb,
                    BackfeedGuard: alsoUsb,
                    TwelveVoltStepUp: stepUp12,
                    LeadMetres: metres
                )
        );

    /// <summary>Every kind of supply with every setting that a node may have.</summary>
    internal static readonly Gen<PowerDesign> Power = Gen.Select(
            Guards,
            Gen.Enum<PowerKind>(),
            OneOf(Cells),
            Gen.Bool,
            OneOf<string?>(null, "buck-lm2596", "buck-mp1584"),
            OneOf<string?>(null, "tp4056-charger"),
            Gen.Select(
                OneOf(1, 2),
                OneOf<double?>(null, 0.5, 2, 5),
                OneOf<RailDesign[]?>(null, [new(4, "buck-mp2315")], [new(9, "boost-mt3608"), new(1.8, "buck-mp2315")])
            ),
            Gen.Select(Gen.Bool, Gen.Bool)
        )
        .Select(
            (guards, kind, cell, stepUp, module, charger, sized, bools) =>
                (
                    guards with
                    {
                        RatedAmps = sized.Item2,
                        Rails = sized.Item3,
                    },
                    kind,
                    cell,
                    stepUp,
                    module,
                    charger,
                    parallel: sized.Item1,
                    light: bools.Item1,
                    vehicle: bools.Item2
                )
        )
        .Select(x =>
            x.kind switch
            {
                PowerKind.Cells => x.Item1 with
                {
                    Kind = x.kind,
                    Cell = x.cell,
                    StepUp = x.stepUp,
                    Parallel = x.parallel,
                    Charger = x.charger,
                    Harvest = x.light ? new HarvestDesign(60, 15, LightKind.Lamp, Lux: 500, HoursPerDay: 8) : null,
                },
                PowerKind.TwelveVolt or PowerKind.TwentyFourVolt => x.Item1 with { Kind = x.kind, Module = x.module, Vehicle = x.vehicle },
                PowerKind.Capacitor => x.Item1 with
                {
                    Kind = x.kind,
                    Harvest = new HarvestDesign(60, 15, LightKind.Lamp, Lux: 500, HoursPerDay: 8, CapacitorMicrofarads: 1_000_000),
                },
                _ => x.Item1 with { Kind = x.kind },
            }
        );

    /// <summary>On every supply, with switched supplies, leads and a measured supply.</summary>
    internal static readonly Gen<NodeDesign> Powered = UpTo(12);

    /// <summary>The same with few parts, most of which can be served together.</summary>
    internal static readonly Gen<NodeDesign> Small = UpTo(6);

    private static Gen<NodeDesign> UpTo(int most) =>
        Gen.Select(Gen.Select(OneOf(Boards), Power, OneOf(Parts).Array[1, most]), Gen.Bool, Gen.Bool, Gen.Bool, Gen.Bool, Gen.Int[0, 3], OneOf(0.1, 0.5, 5))
            .Select(
                (what, wifi, sleeps, adds, measures, switched, metres) =>
                {
                    var node = Of(what.Item1, what.Item2, what.Item3, wifi, sleeps, adds);
                    return node with
                    {
                        MeasuresSupply = measures,
                        Parts =
                        [
                            .. node.Parts.Select(
                                (p, at) => p with { LeadMetres = metres, SwitchSupply = at < switched && Samples.Catalogue.Part(p.Part)!.SupplyPin is not null }
                            ),
                        ],
                    };
                }
            );

    private static NodeDesign Of(string board, PowerDesign power, string[] parts, bool wifi, bool sleeps, bool adds)
    {
        var instances = parts.Select((p, i) => Samples.Part($"p{i}", p)).ToList();
        var readings = instances
            .Where(i => Samples.Catalogue.Part(i.Part)!.Quantities.Count > 0)
            .Select(i => (i, q: Samples.Catalogue.Part(i.Part)!.Quantities[0]))
            .Select(x =>
                x.q.Kind == ReadingKind.Gauge
                    ? Samples.Every("r" + x.i.Key, x.i.Key, x.q.Quantity, 60_000)
                    : Samples.OnChange("r" + x.i.Key, x.i.Key, x.q.Quantity)
            )
            .ToList();
        return new NodeDesign("n", "Node", null, board, power, wifi ? LinkKind.Wifi : LinkKind.LongRange, sleeps, false, instances, [], readings, adds);
    }
}
