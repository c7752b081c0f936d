using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using CsCheck;

namespace Cenotic.Core.Tests.Bench;

/// <summary>Random nodes of one to fourteen parts of the whole catalogue on every board, over Wi-Fi or not, asleep or not, with and without modules of the planner's own.</summary>
internal static class EveryBoard
{
    private static readonly string[] Boards = [.. Samples.Catalogue.Boards.Select(b => b.Id)], Parts = [.. Samples.Catalogue.Parts.Where(p => p.Interfaces.Count > 0).Select(p => p.Id)];

    internal static readonly Gen<NodeDesign> Node = Gen.Select(Gen.Int[0, Boards.Length - 1].Select(i => Boards[i]), Gen.Int[0, Parts.Length - 1].Select(i => Parts[i]).Array[1, 14], Gen.Bool, Gen.Bool, Gen.Bool).Select((board, parts, wifi, sleeps, adds) =>
    {
        var instances = parts.Select((p, i) => Samples.Part($"p{i}", p)).ToList();
        var readings = instances.Where(i => Samples.Catalogue.Part(i.Part)!.Quantities.Count > 0).Select(i => (i, q: Samples.Catalogue.Part(i.Part)!.Quantities[0]))
            .Select(x => x.q.Kind == ReadingKind.Gauge ? Samples.Every("r" + x.i.Key, x.i.Key, x.q.Quantity, 60_000) : Samples.OnChange("r" + x.i.Key, x.i.Key, x.q.Quantity)).ToList();
        return new NodeDesign("n", "Node", null, board, new(board == "esp32-eth-rmii-26" ? PowerKind.FiveVolt : PowerKind.Usb), wifi ? LinkKind.Wifi : LinkKind.LongRange, sleeps, false, instances, [], readings, adds);
    });
}
