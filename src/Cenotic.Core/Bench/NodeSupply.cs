using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Bench;

/// <summary>A rail as this node has it: what makes it, and what a load on it takes from where it comes.</summary>
/// <param name="CurrentRatio">Current taken from the rail or source that feeds it for each mA given:
/// 1 through a linear regulator, Vout / (Vin · η) through a converter.</param>
public sealed record SuppliedRail(Rail Rail, SupplyModule? Module, double CurrentRatio);

/// <summary>What feeds the node, and the rails that parts can have then.</summary>
/// <param name="input">The board's input that is used; null when none fits the supply.</param>
/// <param name="supplied">Rails with a voltage under this supply.</param>
/// <param name="sourceVolts">Voltage of the source where it is higher than 5 V; null otherwise.</param>
/// <param name="highestSourceVolts">What it rises to while a vehicle charges it; null: no higher than <paramref name="sourceVolts"/>.</param>
/// <param name="boardRatio">Current taken of the source for each mA at the board's input: 1, or through a module by power.</param>
public sealed class NodeSupply(
    SupplyInput? input,
    IReadOnlyList<SuppliedRail> supplied,
    Cell? cell,
    double? sourceVolts = null,
    double? highestSourceVolts = null,
    double boardRatio = 1
)
{
    /// <summary>The board's input that is used; null when none fits the supply.</summary>
    public SupplyInput? Input => input;

    /// <summary>Rails with a voltage under this supply.</summary>
    public IReadOnlyList<SuppliedRail> Supplied => supplied;

    /// <summary>The cell, all in series taken together; null for other supplies.</summary>
    public Cell? Cell => cell;

    /// <summary>Voltage of a source above 5 V; null otherwise.</summary>
    public double? SourceVolts => sourceVolts;

    /// <summary>The most that the source rises to, volts.</summary>
    public double? HighestSourceVolts => highestSourceVolts ?? sourceVolts;

    /// <summary>Current taken of the source for each mA at the board's input.</summary>
    public double BoardRatio => boardRatio;

    /// <summary>Ids of the rails that a higher supply or a step-up adds.</summary>
    public const string SourceRail = "source",
        StepUpRail = "step-up";

    /// <summary>What a 5 V supply leaves for parts beside a board with Wi-Fi, mA.</summary>
    private static Fact FiveVoltSupply(PowerDesign power) =>
        Fact.Of(
            Math.Max(0, (power.RatedAmps ?? 1) * 1000 - BoardShare),
            string.Create(System.Globalization.CultureInfo.InvariantCulture, $"a 5 V supply of {power.RatedAmps ?? 1:0.##} A, less the board"),
            Confidence.Prudent
        );

    private static Fact SourceBudget(PowerDesign power) =>
        Fact.Of(
            (power.RatedAmps ?? 2) * 1000,
            power.RatedAmps is null ? "planning value for a small 12 or 24 V supply" : "rating of the supply",
            Confidence.Prudent
        );

    /// <summary>What the board and its radio take of a 5 V module, mA.</summary>
    private const double BoardShare = 300;

    /// <summary>The rails that parts can have.</summary>
    public IReadOnlyList<Rail> Rails { get; } = [.. supplied.Select(s => s.Rail)];

    /// <summary>Works out the input and the rails.</summary>
    public static NodeSupply Of(Board board, PowerDesign power, HardwareCatalogue catalogue)
    {
        var supply = Plain(board, power, catalogue);
        var all = supply.Supplied.ToList();
        if (power.TwelveVoltStepUp && catalogue.Supply("boost-mt3608") is { } boost && all.FirstOrDefault(s => s.Rail.Volts is > 4.5 and < 6) is { } five)
        {
            all.Add(StepUp(boost, five.Rail));
        }
        foreach (var rail in power.Rails ?? [])
        {
            if (catalogue.Supply(rail.Module) is { } module && supply.FeedOf(module, rail.Volts) is { } from)
            {
                all.Add(Further(rail.Volts, module, from));
            }
        }
        return new(supply.Input, all, supply.Cell, supply.SourceVolts, supply.HighestSourceVolts, supply.BoardRatio);
    }

    private static SuppliedRail Further(double volts, SupplyModule module, Rail from)
    {
        const double lowestOfSet = 0.97;
        var rail = new Rail(FurtherRail(volts), $"{volts:0.##} V, {module.Label}", volts, volts * lowestOfSet, module.OutputMilliamps, from.Id);
        return new(rail, module, volts / (from.Volts * (module.Efficiency?.Likely ?? 1)));
    }

    /// <summary>Id of a rail that the maker adds.</summary>
    internal static string FurtherRail(double volts) => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{volts:0.##} V");

    /// <summary>What a vehicle's battery is charged with at most, volts: 14.8 V for 12 V; common practice, no source.</summary>
    internal static double VehicleVolts(double nominal) => nominal / 12 * 14.8;

    /// <summary>The rail that can feed a converter: of those that suit it the highest, so that the least current is drawn of it. Null when none does.</summary>
    internal Rail? FeedOf(SupplyModule module, double volts)
    {
        var room = module.Kind == SupplyModuleKind.StepUp ? double.MinValue : volts + (module.DropoutVolts?.High ?? 1.5);
        return supplied
            .Select(s => s.Rail)
            .Where(r =>
                r.LowVolts >= Math.Max(module.InputMinVolts, room)
                && (r.Id == SourceRail ? highestSourceVolts ?? r.Volts : r.Volts) <= module.InputMaxVolts
                && (module.Kind != SupplyModuleKind.StepUp || r.Volts < volts)
                && volts >= module.OutputMinVolts
                && volts <= module.OutputMaxVolts
            )
            .MaxBy(r => r.Volts);
    }

    /// <summary>The remedy "a 5 V supply in place of what feeds it now", where the board has an input for it and no load loses its rail.</summary>
    internal static IReadOnlyList<Remedy> FiveVoltRemedy(NodeDesign node, Board board, HardwareCatalogue catalogue)
    {
        var power = node.Power with { Kind = PowerKind.FiveVolt, Cell = null, Parallel = 1, StepUp = false, Charger = null, RatedAmps = null, Vehicle = false };
        var (now, then) = (Of(board, node.Power, catalogue), Of(board, power, catalogue));
        var same = node.Parts.Select(p => catalogue.Part(p.Part)).OfType<Part>().All(p => now.For(p, board) is null || then.For(p, board) is not null);
        return then.Input is not null && same ? [new Remedy("Feed the node from a 5 V supply of 1 A", [SetNodes.WithPower(node, power)])] : [];
    }

    /// <summary>The rail for a part: the logic rail where its supply range allows, else the nearest
    /// that does; an output the highest; null when none fits.</summary>
    public Rail? For(Part part, Board board)
    {
        Rail? best = null;
        foreach (var rail in Rails)
        {
            var fits = part.SupplyPin is null
                ? Math.Abs(rail.Volts - board.LogicVolts) < 0.01
                : rail.Volts >= part.SupplyMinVolts && (rail.Id == SourceRail ? highestSourceVolts ?? rail.Volts : rail.Volts) <= part.SupplyMaxVolts;
            // An output takes the highest rail it stands: its load stays off the small regulator of the logic rail.
            if (
                fits
                && (
                    best is null
                    || (
                        part.Kind == PartKind.Output
                            ? rail.Volts > best.Volts
                            : Math.Abs(rail.Volts - board.LogicVolts) < Math.Abs(best.Volts - board.LogicVolts)
                    )
                )
            )
            {
                best = rail;
            }
        }
        return best;
    }

    private static NodeSupply Plain(Board board, PowerDesign power, HardwareCatalogue catalogue)
    {
        var cell =
            power.Kind == PowerKind.Capacitor ? Capacitor(power.Harvest!)
            : power.Cell is { } id ? catalogue.Cell(id)?.InSeries(power.Series)
            : null;
        switch (power.Kind)
        {
            case PowerKind.Usb:
                return new(board.Supplies.FirstOrDefault(s => s.Pin is null), [.. board.Rails.Select(r => Linear(board, r, catalogue))], null);
            case PowerKind.TwelveVolt or PowerKind.TwentyFourVolt:
                return Higher(board, power, power.Kind == PowerKind.TwelveVolt ? 12 : 24, power.Module is { } m ? catalogue.Supply(m) : null, catalogue);
            case PowerKind.OverCable:
                return catalogue.Supply(power.Module ?? "poe-pd-module") is { } device
                    ? FiveVolts(
                        board,
                        Fact.Of(device.OutputMilliamps.Likely - BoardShare, device.Label + ", less the board", device.OutputMilliamps.Confidence),
                        device,
                        null,
                        catalogue,
                        48,
                        48
                    )
                    : new(null, [], null);
            case PowerKind.FiveVolt:
                return FiveVolts(board, FiveVoltSupply(power), null, null, catalogue);
            default:
                if (power.StepUp)
                {
                    return FiveVolts(
                        board,
                        FiveVoltSupply(power with { RatedAmps = null }),
                        catalogue.Supply("boost-mt3608"),
                        cell,
                        catalogue,
                        null,
                        cell?.NominalVolts
                    );
                }
                var direct = cell is null
                    ? null
                    : board.Supplies.FirstOrDefault(s => s.Pin is not null && s.MinVolts <= cell.EmptyVolts && s.MaxVolts >= cell.FullVolts);
                var rails = board.Rails.Where(r => !r.UsbOnly && (direct is null || r.Volts <= Math.Max(board.LogicVolts, cell!.NominalVolts)));
                return new(direct, [.. rails.Select(r => Linear(board, r, catalogue))], cell);
        }
    }

    private static NodeSupply Higher(Board board, PowerDesign power, double volts, SupplyModule? module, HardwareCatalogue catalogue)
    {
        var highest = power.Vehicle ? VehicleVolts(volts) : volts;
        var source = new SuppliedRail(new Rail(SourceRail, $"{volts:0} V source", volts, volts * 0.9, SourceBudget(power), "source"), null, 1);
        if (module is null)
        {
            // Only a board that takes the source by itself: through its own linear regulator.
            var input = board.Supplies.FirstOrDefault(s => s.Pin is not null && s.MinVolts <= volts * 0.9 && s.MaxVolts >= highest);
            var own = board
                .Rails.Where(r => !r.UsbOnly)
                .Select(r => Linear(board, r with { FedFrom = r.FedFrom == "usb" ? SourceRail : r.FedFrom }, catalogue));
            return new(input, [source, .. own], null, volts, highest);
        }
        var five = FiveVolts(
            board,
            Fact.Of(Math.Max(0, module.OutputMilliamps.Likely - BoardShare), module.Label + ", less the board", module.OutputMilliamps.Confidence),
            module,
            null,
            catalogue,
            before: volts
        );
        var rails = five.Supplied.Select(s => s.Module == module ? s with { Rail = s.Rail with { FedFrom = SourceRail } } : s);
        return new(five.Input, [source, .. rails], null, volts, highest, five.BoardRatio);
    }

    /// <summary>The board fed with 5 V at its pin, from a supply or a module.</summary>
    /// <param name="before">Volts before the module, so that what it draws there follows from the power; null without a module.</param>
    private static NodeSupply FiveVolts(
        Board board,
        Fact budget,
        SupplyModule? module,
        Cell? cell,
        HardwareCatalogue catalogue,
        double? sourceVolts = null,
        double? before = null
    )
    {
        var ratio = before is { } volts ? 5 / (volts * (module?.Efficiency?.Likely ?? 1)) : 1;
        var input = board.Supplies.FirstOrDefault(s => s.Pin is not null && s.MinVolts <= 5 && s.MaxVolts >= 5);
        var rails = board
            .Rails.Where(r => !r.UsbOnly)
            .Select(r =>
                r.FedFrom == "usb" || r.Id == input?.Id ? new SuppliedRail(r with { BudgetMilliamps = budget }, module, ratio) : Linear(board, r, catalogue)
            )
            .ToList();
        if (input?.Pin is { } pin && rails.All(r => r.Rail.Id != input.Id))
        {
            // A board whose input pin carries no rail of its own: the 5 V supply is shared before the board.
            rails.Insert(0, new(new Rail(input.Id, board.Pin(pin).Label, 5, 4.75, budget, "source"), module, ratio));
        }
        return new(input, rails, cell, sourceVolts, boardRatio: ratio);
    }

    /// <summary>A storage capacitor as the board sees it: a cell that runs from the starting to the stopping voltage.</summary>
    private static Cell Capacitor(HarvestDesign harvest)
    {
        const string Why = "storage capacitor of the design";
        var charge = Fact.Of(harvest.CapacitorMicrofarads!.Value * (harvest.StartVolts - harvest.StopVolts) / 3.6e6, Why, Confidence.Prudent);
        return new(
            "capacitor",
            "Storage capacitor",
            "capacitor",
            (harvest.StartVolts + harvest.StopVolts) / 2,
            harvest.StartVolts,
            harvest.StopVolts,
            charge,
            Fact.Of(1, Why),
            Fact.Of(0, Why),
            Fact.Of(1, Why),
            Fact.Of(1000, Why),
            [],
            Why,
            Fact.Of(0, Why),
            false
        );
    }

    private static SuppliedRail StepUp(SupplyModule boost, Rail from) =>
        new(new Rail(StepUpRail, "12 V step-up", 12, 11.5, boost.OutputMilliamps, from.Id), boost, 12 / (from.Volts * boost.Efficiency!.Likely));

    private static SuppliedRail Linear(Board board, Rail rail, HardwareCatalogue catalogue) =>
        new(rail, Math.Abs(rail.Volts - board.LogicVolts) < 0.01 && board.Regulator is { } regulator ? catalogue.Supply(regulator) : null, 1);
}
