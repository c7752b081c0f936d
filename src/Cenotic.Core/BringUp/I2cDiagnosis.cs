using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>A node as it is planned.</summary>
internal sealed record Planned(NodeDesign Node, BenchPlan Plan, HardwareCatalogue Catalogue)
{
    internal string Name(string part) => Catalogue.Part(part)?.Label ?? part;
}

/// <summary>What answers on I2C against what is planned there.</summary>
internal sealed class I2cDiagnosis(Planned planned, IReadOnlyList<ScannedDevice> devices, List<ScanLine> lines, List<Finding> findings)
{
    private const int FirstAddress = 0x08,
        LastAddress = 0x77,
        ManyAnswers = 60;
    private const string Practice = "common practice, no source",
        Manual = "UM10204";

    private sealed record Expected(PlannedPart Plan, PartInstance Instance, Part Part, PartInterface Interface, int Address);

    private readonly List<Expected> _expected = Expect(planned);
    private readonly List<(Expected, int Address)> _moved = [];
    private IReadOnlyList<ScannedDevice> _devices = devices;
    private HashSet<int> _answered = [.. devices.Select(d => d.Address)];
    private List<Expected> _found = [];

    internal static void Of(Planned planned, IReadOnlyList<ScannedDevice> devices, List<ScanLine> lines, List<Finding> findings) =>
        new I2cDiagnosis(planned, devices, lines, findings).Compare();

    private void Compare()
    {
        if (_devices.Count >= ManyAnswers)
        {
            EveryAnswer();
            return;
        }
        if (EightBit(_expected, _answered, _devices) is { } doubled)
        {
            findings.Add(doubled);
            _devices = [.. _devices.Select(d => d with { Address = d.Address >> 1 }).DistinctBy(d => d.Address)];
            _answered = [.. _devices.Select(d => d.Address)];
        }
        _found = [.. _expected.Where(Answers)];
        var known = _expected.SelectMany(e => (e.Interface.AlsoAddresses ?? []).Append(e.Address)).ToHashSet();
        var unexpected = _devices.Where(d => !known.Contains(d.Address)).ToList();
        Tabulate(unexpected);
        InUse();
        var direct = _expected.Where(e => e.Plan.Behind is null).ToList();
        if (direct.Count > 0 && _devices.Count == 0)
        {
            Silent(direct);
            return;
        }
        Unpowered(BehindMux(SameAddress(Strapped([.. _expected.Where(e => !Answers(e))], unexpected)))).ForEach(Missing);
        Identity([.. _found.Select(e => (e, e.Address)), .. _moved]);
        unexpected.ForEach(Foreign);
    }

    /// <summary>Behind a multiplexer a part is on the bus only while its channel is open; at an address that another has as well it cannot be told.</summary>
    private bool Answers(Expected e) => _answered.Contains(e.Address) && (e.Plan.Behind is null || _expected.Count(other => other.Address == e.Address) == 1);

    private void EveryAnswer()
    {
        lines.AddRange(_expected.Select(e => new ScanLine(ScanVerdict.Missing, e.Instance.Key, e.Instance.Label, Hex(e.Address), e.Plan.Bus)));
        findings.Add(
            Say(
                "SCAN-EVERY-ANSWER",
                Severity.Stop,
                null,
                $"{_devices.Count} addresses answered: that is a line held low, not {_devices.Count} parts.",
                "While SDA is low every address looks acknowledged.",
                "Unplug the parts one by one until it ends: the last one holds the line. With all off, look for SDA touching ground, or a "
                    + "pull-up that is missing. With the supply off, SDA to ground must read above 1 kΩ.",
                Manual
            )
        );
    }

    private void Tabulate(List<ScannedDevice> unexpected)
    {
        foreach (var e in _expected)
        {
            var verdict =
                Answers(e) ? ScanVerdict.Found
                : e.Plan.Behind is not null ? ScanVerdict.NotSeenFromHere
                : ScanVerdict.Missing;
            lines.Add(new(verdict, e.Instance.Key, e.Instance.Label, Hex(e.Address), e.Plan.Bus));
        }
        lines.AddRange(
            unexpected.Select(d => new ScanLine(
                ScanVerdict.Unexpected,
                null,
                d.InUse ? "in use by a driver of the operating system" : "an answer",
                Hex(d.Address),
                null
            ))
        );
    }

    private void InUse()
    {
        foreach (var e in _found.Where(f => _devices.Any(d => d.Address == f.Address && d.InUse)))
        {
            findings.Add(
                Say(
                    "SCAN-IN-USE",
                    Severity.Risk,
                    e.Instance.Key,
                    $"{e.Instance.Label} at {Hex(e.Address)} is held by a driver of the operating system: it was not asked whether it answers.",
                    "Two programs on one part disturb each other; the node's program cannot open it.",
                    $"Read it through that driver, or take the driver off it (its overlay or device tree entry) and scan again.",
                    Practice
                )
            );
        }
    }

    private void Missing(Expected e)
    {
        var strap = e.Interface.Strap is { } s ? $" {s}: without it the chip may not listen on I2C." : "";
        findings.Add(
            Say(
                "SCAN-MISSING",
                Severity.Stop,
                e.Instance.Key,
                $"{e.Instance.Label} does not answer at {Hex(e.Address)}; others on its bus do.",
                "The bus itself works: it is this part or its wires.",
                (
                    $"Measure its supply at its own pins. Look for SDA and SCL swapped on it, and a broken lead.{strap} "
                    + $"{(e.Plan.Strap is { } how ? $"Its address: {how}." : "")}"
                ).Trim(),
                Practice
            )
        );
    }

    private Finding Say(string code, Severity severity, string? item, string what, string why, string advice, string source, params Remedy[] remedies) =>
        ScanComparison.Say(planned.Node, code, severity, item, what, why, advice, source, remedies);

    private void Silent(List<Expected> parts)
    {
        foreach (var bus in parts.GroupBy(p => p.Plan.Bus))
        {
            var volts = planned.Catalogue.Board(planned.Node.Board)?.LogicVolts;
            var pulled =
                parts.Any(p => p.Part.PullUpOhms is not null)
                || planned.Plan.Additions.Any(c =>
                    c.What.Contains("pull-up", StringComparison.OrdinalIgnoreCase) || c.Key.Contains("pull", StringComparison.OrdinalIgnoreCase)
                );
            findings.Add(
                Say(
                    "SCAN-BUS-SILENT",
                    Severity.Stop,
                    null,
                    $"Nothing answered on {bus.Key}; {string.Join(" and ", bus.Select(b => b.Instance.Label))} should.",
                    "A fault of one part leaves the others: this one is common to all.",
                    $"In this order: the supply at the pins of a part; SDA and SCL swapped (plan: {Wires(bus.First())}); SDA and SCL idle at "
                        + $"{volts} V, else a pull-up is missing{(pulled ? "" : ", and no part here brings one")}; the pins in the program.",
                    Manual
                )
            );
        }
    }

    private string Wires(Expected e) =>
        string.Join(
            ", ",
            planned.Plan.Lines.Where(w => w.Part == e.Instance.Key && w.Line is "SDA" or "SCL").DistinctBy(w => w.Line).Select(w => $"{w.Line} at {w.PinLabel}")
        );

    /// <summary>A part that answers at another address of its own: its strap, or a chip bought with another.</summary>
    private List<Expected> Strapped(List<Expected> list, List<ScannedDevice> strange)
    {
        var left = new List<Expected>();
        foreach (var e in list)
        {
            if (e.Interface.StartAddress is { } start && _answered.Contains(start))
            {
                strange.RemoveAll(d => d.Address == start);
                findings.Add(
                    Say(
                        "SCAN-ADDRESS-UNWRITTEN",
                        Severity.Risk,
                        e.Instance.Key,
                        $"{e.Instance.Label} is silent at {Hex(e.Address)} and {Hex(start)}, where it starts, answers: its address was not written yet.",
                        "Its address is written by the program at each start.",
                        "Let the program hold the others of its kind in reset, write the address, and scan again.",
                        e.Part.Source
                    )
                );
            }
            else if (e.Interface.Addresses?.FirstOrDefault(a => strange.Any(d => d.Address == a.Address)) is { } other)
            {
                strange.RemoveAll(d => d.Address == other.Address);
                _moved.Add((e, other.Address));
                findings.Add(
                    Say(
                        "SCAN-STRAP",
                        Severity.Stop,
                        e.Instance.Key,
                        $"{e.Instance.Label} answers at {Hex(other.Address)}; the plan has it at {Hex(e.Address)}.",
                        "Its address is chosen by a strap on the module.",
                        $"For {Hex(e.Address)}: {e.Interface.Addresses!.FirstOrDefault(a => a.Address == e.Address)?.Strap ?? "see the module"}. "
                            + $"As it is: {other.Strap}. Change the strap with the supply off, or plan with the address it has.",
                        e.Part.Source,
                        new Remedy(
                            $"Plan {e.Instance.Label} at {Hex(other.Address)}",
                            [new PutPart(planned.Node.Key, e.Instance with { Address = other.Address })]
                        )
                    )
                );
            }
            else
            {
                left.Add(e);
            }
        }
        return left;
    }

    /// <summary>Two of a kind of which one address answers: both straps say the same.</summary>
    private List<Expected> SameAddress(List<Expected> list)
    {
        var left = new List<Expected>();
        foreach (var e in list)
        {
            if (
                _found.FirstOrDefault(f => f.Instance.Part == e.Instance.Part && f.Plan.Bus == e.Plan.Bus && f.Plan.Behind == e.Plan.Behind) is { } twin
                && e.Interface.Addresses is { Count: > 1 }
            )
            {
                findings.Add(
                    Say(
                        "SCAN-TWO-AT-ONE",
                        Severity.Stop,
                        e.Instance.Key,
                        $"{e.Instance.Label} and {twin.Instance.Label} seem to share {Hex(twin.Address)}: {Hex(e.Address)} is silent.",
                        "Two at one address answer at once; values are nonsense and look like one part.",
                        $"Unplug {twin.Instance.Label} and scan again: when {Hex(twin.Address)} still answers, both straps are the same. For "
                            + $"{Hex(e.Address)}: {e.Interface.Addresses.FirstOrDefault(a => a.Address == e.Address)?.Strap}.",
                        e.Part.Source
                    )
                );
            }
            else
            {
                left.Add(e);
            }
        }
        return left;
    }

    private List<Expected> BehindMux(List<Expected> list)
    {
        var hidden = list.Where(e => e.Plan.Behind is not null).ToList();
        var muxes = list.Where(e => e.Part.Helper is { Kind: HelperKind.Mux }).ToList();
        foreach (var mux in muxes)
        {
            findings.Add(
                Say(
                    "SCAN-MUX-MISSING",
                    Severity.Stop,
                    mux.Instance.Key,
                    $"The multiplexer {mux.Instance.Label} does not answer at {Hex(mux.Address)}; nothing behind it can.",
                    "What hangs on it is cut off with it.",
                    $"Its supply, its RESET line high, and its address pins ({mux.Plan.Strap ?? "see the module"}).",
                    mux.Part.Source
                )
            );
        }
        return [.. list.Except(hidden).Except(muxes)];
    }

    /// <summary>All of one supply are silent and others are not: the supply.</summary>
    private List<Expected> Unpowered(List<Expected> list)
    {
        foreach (var rail in list.GroupBy(e => e.Plan.Rail).Where(g => g.Count() > 1 && _found.All(f => f.Plan.Rail != g.Key) && _found.Count > 0).ToList())
        {
            findings.Add(
                Say(
                    "SCAN-RAIL-DEAD",
                    Severity.Stop,
                    null,
                    $"{string.Join(" and ", rail.Select(e => e.Instance.Label))} are silent and all hang on {rail.Key}; parts on other supplies answer.",
                    "What they have in common is the supply.",
                    $"Measure {rail.Key} at their pins, and the ground they share.",
                    Practice
                )
            );
            list = [.. list.Except(rail)];
        }
        return list;
    }

    private void Identity(IReadOnlyList<(Expected Expected, int Address)> answering)
    {
        foreach (var (e, address) in answering)
        {
            if (_devices.First(d => d.Address == address).Identity is not { } value || Identities.Of(e.Part.Id) is not { } own || own.Value == value)
            {
                continue;
            }
            var looks = Identities.With(own.Register, value).ToList();
            var lacks =
                looks.Count == 0
                    ? []
                    : e.Part.Quantities.Select(q => q.Quantity).Except(planned.Catalogue.Part(looks[0])?.Quantities.Select(q => q.Quantity) ?? []).ToList();
            findings.Add(
                Say(
                    "SCAN-OTHER-CHIP",
                    Severity.Stop,
                    e.Instance.Key,
                    $"{e.Instance.Label} says identity {Hex(value)}; a {planned.Name(e.Part.Id)} says {Hex(own.Value)}.",
                    looks.Count > 0
                        ? $"It is a {planned.Name(looks[0])}{(lacks.Count > 0 ? $", which has no {string.Join(" and no ", lacks)}" : "")}."
                        : "It is another chip than was planned, or the reading was disturbed.",
                    looks.Count > 0
                        ? "Modules of both look alike and are sold under each other's name. Plan with what it is, or change it for the right one."
                        : "Read its identity again; when it stays so, look at the print on the chip.",
                    "data sheets of the parts, from memory",
                    [
                        .. looks
                            .Take(1)
                            .Select(l => new Remedy(
                                $"It is a {planned.Name(l)}",
                                [
                                    new PutPart(planned.Node.Key, e.Instance with { Part = l }),
                                    .. planned
                                        .Node.Readings.Where(r => r.Part == e.Instance.Key && lacks.Contains(r.Quantity))
                                        .Select(r => new RemoveReading(planned.Node.Key, r.Key)),
                                ]
                            )),
                    ]
                )
            );
        }
    }

    private void Foreign(ScannedDevice device)
    {
        if (device.Address is < FirstAddress or > LastAddress)
        {
            findings.Add(
                Say(
                    "SCAN-RESERVED",
                    Severity.Risk,
                    null,
                    $"{Hex(device.Address)} answered; no part may have a reserved address.",
                    "The specification keeps 0x00 to 0x07 and 0x78 to 0x7F.",
                    "Often noise or a slow edge: lower the clock, shorten the leads, check the pull-ups. Some chips answer a general call at "
                        + "0x00; that is in order.",
                    Manual
                )
            );
            return;
        }
        var could = planned
            .Catalogue.Parts.Where(p =>
                p.Interfaces.Any(i =>
                    i.Kind == InterfaceKind.I2c
                    && ((i.Addresses ?? []).Any(a => a.Address == device.Address) || (i.AlsoAddresses ?? []).Contains(device.Address))
                )
            )
            .Select(p => p.Label)
            .Distinct()
            .ToList();
        var other = planned.Plan.Parts.FirstOrDefault(p => p.Address == device.Address && p.Interface == InterfaceKind.I2c);
        findings.Add(
            Say(
                "SCAN-UNKNOWN",
                Severity.Risk,
                null,
                $"{Hex(device.Address)} answered and is not in the plan.",
                could.Count > 0
                    ? $"Of the parts in the catalogue it could be: {string.Join("; ", could.Take(6))}."
                    : "No part in the catalogue has that address.",
                other is not null
                    ? $"{other.Label} has it on {other.Bus}: is that the bus that was scanned?"
                    : "Modules can bring a second chip (a memory beside a clock). Unplug parts one by one to see whose it is.",
                "part data"
            )
        );
    }

    /// <summary>Every planned address doubled: the program prints the address with the direction bit.</summary>
    private static Finding? EightBit(List<Expected> expected, HashSet<int> answered, IReadOnlyList<ScannedDevice> devices)
    {
        var doubled =
            expected.Count > 0
            && expected.All(e => !answered.Contains(e.Address))
            && devices.Count > 0
            && devices.All(d => expected.Any(e => e.Address == d.Address >> 1));
        return doubled
            ? new(
                "SCAN-EIGHT-BIT",
                Severity.Note,
                new("bring-up", null),
                $"The addresses are written with the direction bit: {Hex(devices[0].Address)} is {Hex(devices[0].Address >> 1)}.",
                "Some programs print eight bits, data sheets and this plan seven.",
                [],
                "They are compared as seven bits here.",
                Manual
            )
            : null;
    }

    private static List<Expected> Expect(Planned planned) =>
        [
            .. from p in planned.Plan.Parts
            where p.Interface == InterfaceKind.I2c && p.Address is not null
            let instance = planned.Node.Part(p.Part) ?? Added(planned, p)
            where instance is not null
            let part = planned.Catalogue.Part(instance.Part)
            where part is not null
            select new Expected(
                p,
                instance,
                part,
                part.Interfaces.First(i => i.Kind == InterfaceKind.I2c && ((i.Addresses ?? []).Any(a => a.Address == p.Address) || i.StartAddress is not null)),
                p.Address!.Value
            ),
        ];

    /// <summary>A module that the planner added.</summary>
    private static PartInstance? Added(Planned planned, PlannedPart part) =>
        planned.Plan.Helpers.FirstOrDefault(h => h.Part == part.Part) is { } helper ? new(helper.Part, helper.Label, helper.CatalogueId) : null;

    internal static string Hex(int value) => $"0x{value:X2}";
}
