using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Reach;

/// <summary>Slots and collisions on radios that do not listen before they send. Wi-Fi and IEEE 802.15.4 listen, and cables have no such
/// trouble. Radios of one frequency and rate share a channel, whatever their part.</summary>
internal static class Channels
{
    /// <summary>Below this part of clear sends a finding is raised: one message in ten meets another.</summary>
    private const double ClearEnough = 0.9;

    /// <summary>Most arcs that a ring is drawn with.</summary>
    private const long MostArcs = 400;
    private static readonly long[] Resyncs = [3_600_000, 900_000, 300_000, 60_000];

    internal static (IReadOnlyList<ChannelPlan> Plans, IReadOnlyList<Finding> Findings) Of(IReadOnlyList<PlacedRhythm> nodes)
    {
        var findings = new List<Finding>();
        var plans = new List<ChannelPlan>();
        foreach (var shared in nodes.Select(n => (Node: n, Radio: RadioOf(n))).Where(p => p.Radio is not null).GroupBy(p => p.Radio!.Channel))
        {
            var on = shared.Select(p => p.Node).ToList();
            var senders = SendersOf(on);
            if (senders.Count > 0)
            {
                var plan = Plan(new(shared.Key, LabelOf([.. shared.Select(p => p.Radio!)], [.. nodes.Select(RadioOf).OfType<NodeRadio>()])), senders);
                plans.Add(plan);
                Findings(plan, on, findings);
            }
        }
        return (plans, findings);
    }

    private static NodeRadio? RadioOf(PlacedRhythm placed) =>
        Sending.RadioOf(placed.Node, placed.Setting.Catalogue) is { Modem.ListensFirst: false } radio ? radio : null;

    /// <summary>The parts on a channel by name, with the channel where the same part is on another too.</summary>
    private static string LabelOf(List<NodeRadio> on, List<NodeRadio> all)
    {
        var parts = string.Join(" and ", on.Select(r => r.Label).Distinct());
        return all.Any(a => a.Channel != on[0].Channel && on.Any(r => r.Id == a.Id)) ? $"{parts} ({on[0].Channel})" : parts;
    }

    private static List<Sender> SendersOf(IReadOnlyList<PlacedRhythm> on) => [.. on.SelectMany(n => SendersOf(n).Concat(PassedOn(n, on)))];

    /// <summary>What a relay sends on for others, one sender for each of them. What falls into the slot of the node whose message it is counts there.</summary>
    private static IEnumerable<Sender> PassedOn(PlacedRhythm relay, IReadOnlyList<PlacedRhythm> on)
    {
        bool InSlot(RelayedMessages m) => m.ByClock && on.Any(n => n.Node.Key == m.From && SendDesign.Of(n.Node).HearsTime);
        foreach (var heard in relay.Setting.Relayed.ForOthers.Where(m => relay.Node.Hears && !InSlot(m)).GroupBy(m => (m.From, m.Label)))
        {
            var (perDay, bytes) = (heard.Sum(m => m.PerDay), heard.Max(m => m.Bytes));
            var air = Sending.AirMs(RadioOf(relay)!.Modem, bytes);
            var all = Sending.LongestMs(relay.Node, relay.Setting.Catalogue, bytes);
            var every = Schedule.DayMs / perDay;
            yield return new(relay.Node, $"{relay.Node.Label}, for {heard.Key.Label}", (long)every, every, air, all, false)
            {
                For = heard.Key.From,
                Tries = TriesOf(relay),
                Hops = RadioOf(relay)!.Modem.HopChannels ?? 1,
            };
        }
    }

    /// <summary>Transmissions of a message on average, by what is assumed of its link.</summary>
    private static double TriesOf(PlacedRhythm placed) => placed.Setting.LinkOf(placed.Node).Tries(SendDesign.Of(placed.Node));

    private static IEnumerable<Sender> SendersOf(PlacedRhythm placed)
    {
        var modem = RadioOf(placed)!.Modem;
        var send = SendDesign.Of(placed.Node);
        var byClock = placed.Rhythm.Wakes.Where(w => w is { Share: > 0, Sends.Count: > 0 }).ToList();
        if (byClock.Count > 0)
        {
            var (air, all) = Longest(placed, modem, byClock);
            yield return new(placed.Node, placed.Node.Label, SlotPeriod(placed), Schedule.DayMs / byClock.Sum(w => w.PerDay), air, all, send.HearsTime)
            {
                OnwardMs = placed.Setting.Relayed.OnwardMs?.High ?? 0,
                Tries = TriesOf(placed),
                Hops = modem.HopChannels ?? 1,
            };
        }
        var byEvent = placed.Rhythm.Wakes.Where(w => w is { Share: 0, Sends.Count: > 0 }).ToList();
        if (byEvent.Sum(w => w.PerDay) is > 0 and var perDay)
        {
            var (air, all) = Longest(placed, modem, byEvent);
            var every = Schedule.DayMs / perDay;
            yield return new(placed.Node, $"{placed.Node.Label}, on change", (long)every, every, air, all, false)
            {
                Tries = TriesOf(placed),
                Hops = modem.HopChannels ?? 1,
            };
        }
    }

    /// <summary>The longest message of these wakes: one try on the air, and all tries with their answers until it has reached the gateway, ms.</summary>
    private static (double Air, double All) Longest(PlacedRhythm placed, RadioModem modem, List<WakeKind> wakes)
    {
        var sent = wakes.Select(w => placed.Node.Readings.Where(r => w.Sends.Contains(r.Key)).ToList()).MaxBy(Sending.Values)!;
        var onward = placed.Setting.Relayed.OnwardMs?.High ?? 0;
        return (Sending.AirMs(modem, Sending.Bytes(Sending.Values(sent))), Sending.LongestMs(placed.Node, placed.Setting.Catalogue, sent) + onward);
    }

    /// <summary>A period that every send of the timetable falls into: the greatest common divisor of the turns, in wakes.</summary>
    private static long SlotPeriod(PlacedRhythm placed)
    {
        var turns = Schedule.Of(placed.Node).Turns;
        var wakes = turns.Select(Schedule.SendEvery).Aggregate(0L, PeriodicSends.Gcd);
        foreach (var every in turns.Select(t => t.Every).Distinct().ToList() is { Count: > 1 } different ? different : [])
        {
            wakes = PeriodicSends.Gcd(wakes, every);
        }
        return Math.Max(1, wakes) * placed.Rhythm.PeriodMs;
    }

    private static ChannelPlan Plan(Channel channel, List<Sender> senders)
    {
        var slotted = senders.Where(s => s.Keeps).ToList();
        var requests = slotted.Select(s => new SlotRequest(s.PeriodMs, s.SlotMs)).ToList();
        var answer = SlotPlanner.Place(requests);
        var sends = requests.Zip(answer.Offsets).Select(p => new PeriodicSend(p.First.Period, p.Second, p.First.Duration)).ToList();
        var slots = slotted
            .Select(
                (s, at) =>
                    new PlannedSlot(
                        s.Node.Key,
                        s.Label,
                        s.PeriodMs,
                        sends[at].Offset,
                        s.SlotMs,
                        OnAirWithAllTries(s),
                        s.Guard(),
                        LongestResync(slotted, sends, at),
                        ClearOf(s, [.. senders.Where(o => !o.Keeps && Apart(s, o))])
                    )
            )
            .ToList();
        var free = senders
            .Where(s => !s.Keeps)
            .Select(s => new FreeSender(
                s.Node.Key,
                s.Label,
                SendsEvery(s),
                (long)(Spread(s.Label) * s.PeriodMs),
                ClearOf(s, [.. senders.Where(o => o != s && Apart(s, o))])
            ))
            .ToList();
        var busy = TimeOnAir(senders);
        Figure? overlap = slots.Count == 0 ? null : SlotsMet(sends, slots);
        return new(
            channel.Key,
            channel.Label,
            slots.Count == 0 ? null : answer.Verdict,
            slots.Count == 0 ? "No node here receives a time reference: all send when they will." : answer.How,
            Ring(requests),
            slots,
            free,
            busy,
            overlap
        );
    }

    /// <summary>A relay sends a message on after it was sent: the two never meet.</summary>
    private static bool Apart(Sender one, Sender other) => one.For != other.Node.Key && other.For != one.Node.Key;

    private static Figure OnAirWithAllTries(Sender s) =>
        Figure.Exact(
            "On the air, with all tries",
            s.AllMs,
            Unit.Millisecond,
            new Working(
                s.OnwardMs > 0 ? "t = tries · (time on air + answer) + relays" : "t = tries · (time on air + answer)",
                [
                    new("tries", SendDesign.Of(s.Node).MostSent, "", "design"),
                    new("time on air", s.AirMs, Unit.Millisecond, "bytes of the message"),
                    .. s.OnwardMs > 0 ? [new("relays", s.OnwardMs, Unit.Millisecond, "each sends it on with all its tries")] : Array.Empty<WorkingInput>(),
                ],
                "SX1276 data sheet, LoRa modem time on air; bits over the rate"
            )
        );

    private static Figure SendsEvery(Sender s) =>
        Figure.Exact(
            "Sends every",
            s.EveryMs / 1000,
            Unit.Second,
            new Working("T = day / messages a day", [new("messages a day", 86_400_000 / s.EveryMs, "", "timetable, or events expected")], "counting")
        );

    private static Figure TimeOnAir(List<Sender> senders) =>
        Figure.Exact(
            "On the air",
            senders.Sum(s => s.AirMs / s.OnAirEveryMs) * 100,
            Unit.Percent,
            new Working(
                "Σ tries · time on air / period",
                [.. senders.Select(s => new WorkingInput(s.Label, s.AirMs / s.OnAirEveryMs * 100, Unit.Percent, $"{s.Tries:0.##} tries of a message"))],
                "arithmetic"
            )
        );

    private static Figure SlotsMet(List<PeriodicSend> sends, List<PlannedSlot> slots) =>
        Figure.Exact(
            "Slotted sends that meet another slot",
            Meeting(sends) * 100,
            Unit.Percent,
            new Working(
                "share of meeting phases modulo the gcd of the periods",
                [.. slots.Select(s => new WorkingInput(s.Label, s.OffsetMs, Unit.Millisecond, "offset"))],
                "Korst, Aarts, Lenstra, Wessels 1991, from memory"
            )
        );

    /// <summary>Part of the sends that meet another, each node's share weighted by how often it sends.</summary>
    private static double Meeting(List<PeriodicSend> sends)
    {
        double weight = sends.Sum(s => 1.0 / s.Period),
            sum = 0;
        for (var j = 0; j < sends.Count; j++)
        {
            sum +=
                1.0
                / sends[j].Period
                * (
                    1
                    - Enumerable.Range(0, sends.Count).Where(i => i != j).Aggregate(1.0, (clear, i) => clear * (1 - PeriodicSends.Meeting(sends[i], sends[j])))
                );
        }
        return sum / weight;
    }

    /// <summary>Who hops over channels meets only those who are on the same one: so much less often.</summary>
    private static Figure ClearOf(Sender sender, List<Sender> others)
    {
        var clear = Aloha.Clear(sender.AirMs, others.Select(o => (o.AirMs, o.OnAirEveryMs * sender.Hops)));
        return Figure.Exact(
            "Sends that meet no other",
            clear * 100,
            Unit.Percent,
            new Working(
                sender.Hops > 1 ? "Π (1 − (d + di) / (n Ti))" : "Π (1 − (d + di) / Ti)",
                [
                    .. sender.Hops > 1 ? [new("n", sender.Hops, "", "channels that all hop over, each by itself")] : Array.Empty<WorkingInput>(),
                    new("d", sender.AirMs, Unit.Millisecond, "time on air"),
                    .. others.SelectMany(o =>
                        new WorkingInput[]
                        {
                            new($"d of {o.Label}", o.AirMs, Unit.Millisecond, "time on air"),
                            new($"T of {o.Label}", o.OnAirEveryMs / 1000, Unit.Second, $"timetable, or events expected; {o.Tries:0.##} tries of a message"),
                        }
                    ),
                ],
                "Abramson 1970 (pure ALOHA), with periods as they are"
            )
        );
    }

    private static Figure LongestResync(List<Sender> slotted, List<PeriodicSend> sends, int at)
    {
        var send = SendDesign.Of(slotted[at].Node);
        var spare = double.MaxValue;
        for (var other = 0; other < sends.Count; other++)
        {
            if (other != at)
            {
                var g = PeriodicSends.Gcd(sends[at].Period, sends[other].Period);
                var between = PeriodicSends.Mod(sends[other].Offset - sends[at].Offset, g);
                var slack = Math.Min(between - sends[at].Duration, g - between - sends[other].Duration);
                spare = Math.Min(spare, ClockDrift.LongestResyncSeconds(send.ClockPpm, SendDesign.Of(slotted[other].Node).ClockPpm, slack) ?? double.MaxValue);
            }
        }
        return spare > 1e9
            ? Figure.Unknown("Time reference at least every", Unit.Second, "a neighbour to meet, or a clock that drifts")
            : Figure.Exact(
                "Time reference at least every",
                Math.Max(0, send.ResyncMs / 1000.0 + spare),
                Unit.Second,
                new Working(
                    "T = Tplanned + slack / (ppmA + ppmB)",
                    [
                        new("Tplanned", send.ResyncMs / 1000.0, Unit.Second, "design"),
                        new("more by the slack to the nearest slot", spare, Unit.Second, "offsets"),
                    ],
                    "worst-case sum of two clocks"
                )
            );
    }

    private static long Ring(List<SlotRequest> requests)
    {
        if (requests.Count == 0)
        {
            return 0;
        }
        var (shortest, longest) = (requests.Min(r => r.Period), requests.Max(r => r.Period));
        var ring = 1L;
        foreach (var request in requests)
        {
            ring = ring / PeriodicSends.Gcd(ring, request.Period) * request.Period;
            if (ring / shortest > MostArcs)
            {
                return longest;
            }
        }
        return ring;
    }

    /// <summary>A part of 1 from a name, always the same: spreads senders without a slot.</summary>
    private static double Spread(string name)
    {
        var hash = name.Aggregate(2166136261u, (h, c) => (h ^ c) * 16777619u);
        return hash / (double)uint.MaxValue;
    }

    private static void Findings(ChannelPlan plan, List<PlacedRhythm> nodes, List<Finding> findings)
    {
        if (plan.Verdict is SlotVerdict.Impossible or SlotVerdict.BestEffort && plan.Overlap!.Value > 0)
        {
            findings.Add(
                new(
                    "RHYTHM-SLOTS-OVERLAP",
                    Severity.Risk,
                    new("rhythm", plan.Slots[0].Node, plan.Key),
                    $"The slots of {plan.Slots.Count} nodes on {plan.Label} overlap: {plan.Overlap.Value:0.##} % of their sends meet another.",
                    plan.How,
                    [.. SlotRemedies(plan, nodes)],
                    "Fewer tries, shorter messages or another channel also make room.",
                    "Korst, Aarts, Lenstra, Wessels 1991, from memory"
                )
            );
        }
        var hearing = nodes.Select(n => n with { Node = n.Node with { Sending = SendDesign.Of(n.Node) with { HearsTime = true } } }).ToList();
        Lazy<bool> helps = new(() =>
            plan.Free.Any(f => nodes.Any(n => n.Node.Key == f.Node && !SendDesign.Of(n.Node).HearsTime))
            && HasRoom(nodes, hearing)
            && Crowded(Plan(new(plan.Key, plan.Label), Changed(nodes, hearing))).Count == 0
        );
        foreach (var (node, label, clear) in Crowded(plan))
        {
            findings.Add(
                new(
                    "RHYTHM-COLLIDES",
                    Severity.Risk,
                    new("rhythm", node, plan.Key),
                    $"{100 - clear:0} % of the messages of {label} meet another on {plan.Label}.",
                    "They send without listening first; two at once destroy each other.",
                    helps.Value
                        ?
                        [
                            new(
                                $"Let all {nodes.Count} nodes receive a time reference and keep slots",
                                [.. hearing.Zip(nodes).SelectMany(p => NodeEdits.Between(p.Second.Node, p.First.Node))]
                            ),
                        ]
                        : [],
                    "Send less often, make messages shorter, or use another channel.",
                    "Abramson 1970"
                )
            );
        }
    }

    /// <summary>Nodes of whose messages too many meet another.</summary>
    private static List<(string Node, string Label, double ClearPercent)> Crowded(ChannelPlan plan) =>
        [
            .. plan
                .Free.Select(f => (f.Node, f.Label, f.Clear.Value!.Value))
                .Concat(plan.Slots.Select(s => (s.Node, s.Label, s.Clear.Value!.Value)))
                .Where(s => s.Item3 < ClearEnough * 100)
                .DistinctBy(s => s.Node),
        ];

    private static IEnumerable<Remedy> SlotRemedies(ChannelPlan plan, List<PlacedRhythm> nodes)
    {
        var slotted = nodes.Where(n => plan.Slots.Any(s => s.Node == n.Node.Key)).ToList();
        var step = slotted.Min(n => n.Rhythm.PeriodMs);
        // Multiples of the shortest interval leave the most room: the common divisor is that interval.
        var harmonic = slotted.Select(n => Rounded(n, step)).OfType<PlacedRhythm>().ToList();
        if (harmonic.Count == slotted.Count && HasRoom(nodes, harmonic))
        {
            yield return new(
                $"Make all intervals multiples of {Lateness.Say(step / 1000.0)}",
                [.. harmonic.Zip(slotted).SelectMany(p => NodeEdits.Between(p.Second.Node, p.First.Node))]
            );
        }
        foreach (var resync in Resyncs)
        {
            var sooner = slotted
                .Select(n =>
                    n with
                    {
                        Node = n.Node with { Sending = SendDesign.Of(n.Node) with { ResyncMs = Math.Min(resync, SendDesign.Of(n.Node).ResyncMs) } },
                    }
                )
                .ToList();
            if (sooner.Zip(slotted).Any(p => p.First.Node.Sending != p.Second.Node.Sending) && HasRoom(nodes, sooner))
            {
                yield return new(
                    $"Give the time every {Lateness.Say(resync / 1000.0)}",
                    [.. sooner.Zip(slotted).SelectMany(p => NodeEdits.Between(p.Second.Node, p.First.Node))]
                );
                yield break;
            }
        }
    }

    private static PlacedRhythm? Rounded(PlacedRhythm placed, long step)
    {
        long Up(long ms) => (ms + step - 1) / step * step;
        var node = placed.Node with
        {
            Readings =
            [
                .. placed.Node.Readings.Select(r =>
                    r with
                    {
                        IntervalMs = r.IntervalMs is { } i ? Up(i) : null,
                        HeartbeatMs = r.IntervalMs is null && r.HeartbeatMs is { } h ? Up(h) : r.HeartbeatMs,
                    }
                ),
            ],
        };
        return placed.Setting.Again(node, placed.Node, placed.Bench) is { } again ? placed with { Node = node, Rhythm = again.Plan } : null;
    }

    private static List<Sender> Changed(List<PlacedRhythm> nodes, List<PlacedRhythm> changed)
    {
        var byKey = changed.ToDictionary(c => c.Node.Key);
        return SendersOf([.. nodes.Select(n => byKey.GetValueOrDefault(n.Node.Key, n))]);
    }

    /// <summary>True when all slots of a changed channel stay clear of each other.</summary>
    private static bool HasRoom(List<PlacedRhythm> nodes, List<PlacedRhythm> changed) =>
        SlotPlanner.HasRoom([.. Changed(nodes, changed).Where(s => s.Keeps).Select(s => new SlotRequest(s.PeriodMs, s.SlotMs))]);

    private sealed record Channel(string Key, string Label);

    /// <param name="EveryMs">Between sends on average; <paramref name="PeriodMs"/> is what every send by the clock falls into.</param>
    private sealed record Sender(NodeDesign Node, string Label, long PeriodMs, double EveryMs, double AirMs, double AllMs, bool Keeps)
    {
        /// <summary>Transmissions of a message, on average.</summary>
        internal double Tries { get; init; } = 1;

        /// <summary>Channels that it hops over, as all of them do; 1 for none.</summary>
        internal int Hops { get; init; } = 1;

        /// <summary>Between transmissions on average, ms.</summary>
        internal double OnAirEveryMs => EveryMs / Tries;

        /// <summary>Key of the node whose messages these are, where they are passed on; null for messages of its own.</summary>
        internal string? For { get; init; }

        /// <summary>Time that relays take until the gateway has it, ms; part of <see cref="AllMs"/>.</summary>
        internal double OnwardMs { get; init; }

        internal long SlotMs => (long)Math.Ceiling(AllMs + GuardMs);

        private double GuardMs =>
            ClockDrift.GuardMs(SendDesign.Of(Node).ClockPpm, SendDesign.Of(Node).ClockPpm, SendDesign.Of(Node).ResyncMs / 1000.0)
            + SendDesign.Of(Node).JitterMs;

        internal Figure Guard() =>
            Figure.Exact(
                "Guard",
                GuardMs,
                Unit.Millisecond,
                new Working(
                    "guard = 2 · drift · Tresync + jitter",
                    [
                        new("drift", SendDesign.Of(Node).ClockPpm, "ppm", "design"),
                        new("Tresync", SendDesign.Of(Node).ResyncMs / 1000.0, Unit.Second, "design"),
                        new("jitter", SendDesign.Of(Node).JitterMs, Unit.Millisecond, "design"),
                    ],
                    "worst-case sum of two clocks"
                )
            );
    }
}
