using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>A load that draws for a whole step.</summary>
internal sealed record Load(string Label, Fact Milliamps);

/// <summary>One stretch of a wake with what draws in it.</summary>
internal sealed record Step(string Key, string Label, Fact Ms, IReadOnlyList<Load> Loads);

/// <summary>The steps of a wake, from the times of the board and its parts.</summary>
internal sealed class WakeCycle
{
    private static readonly Fact ShutDownMs = new(1, 3, 10, "planning value for tidying up before sleep", Confidence.Prudent);
    private static readonly Fact CableSendMs = new(1, 5, 20, "planning value for one acknowledged message", Confidence.Prudent);
    private static readonly Fact SerialSendMs = new(3, 9, 105, "some 100 characters of 10 bits, at 115 200 Bd; at 9 600 at the high end", Confidence.Prudent);
    private static readonly Fact PulseMs = new(1, 5, 20, "planning value for a wake that only counts", Confidence.Prudent);

    private readonly NodeDesign _node;
    private readonly Board _board;
    private readonly BenchPlan _bench;
    private readonly RhythmSetting _setting;
    private readonly Load _awake;
    private readonly Load _asleep;
    private readonly List<Load> _always;

    /// <summary>The radio of a node that hears others at any time; none for the others.</summary>
    private readonly List<Load> _listening;
    private readonly List<Load> _resting;

    /// <summary>Steps that many sorts of wake share, made once: their figures are then worked out once too.</summary>
    private readonly Dictionary<string, IReadOnlyList<Step>> _shared = [];

    internal WakeCycle(NodeDesign node, Board board, BenchPlan bench, RhythmSetting setting)
    {
        (_node, _board, _bench, _setting) = (node, board, bench, setting);
        List<NodeRadio> listeners =
        [
            .. setting.Relayed.Listeners(node).Select(l => Sending.HearsWith(node, setting.Catalogue, l.Link, l.Channel)).OfType<NodeRadio>(),
        ];
        var alwaysOn = bench.Loads.Where(l => l.StaysOn).Select(l => l.Part).ToHashSet();
        var modules = listeners.Where(r => r.Key is { } key && !alwaysOn.Contains(key)).DistinctBy(r => r.Key).ToList();
        var ofBoard = listeners.Find(r => r.IsOnBoard);
        _awake = new(
            board.Label,
            setting.Evidence.Current(node.Key, PowerState.Active) is { } active ? Measured(active)
                : !node.Sleeps && node.Link == LinkKind.Wifi ? board.Currents.WifiReceiveMilliamps ?? board.Currents.ActiveMilliamps
                : !node.Sleeps && ofBoard is not null ? ofBoard.ReceiveMilliamps
                : board.Currents.ActiveMilliamps
        );
        _asleep = new(
            ofBoard is not null ? $"{board.Label}, its radio listening" : $"{board.Label} asleep",
            setting.Evidence.Current(node.Key, PowerState.Asleep) is { } sleep ? Measured(sleep)
                : ofBoard is not null ? ofBoard.ReceiveMilliamps
                : board.Currents.DeepSleepMilliamps ?? board.Currents.ActiveMilliamps
        );
        _always = [.. bench.Loads.Where(l => l is { StaysOn: true, ActiveMilliamps: not null }).Select(l => new Load(l.Label, l.ActiveMilliamps!))];
        _listening = [.. modules.Select(m => new Load($"{m.Name}, listening", m.ReceiveMilliamps))];
        _resting =
        [
            .. bench
                .Loads.Where(l => !l.StaysOn && !l.Switched && l.SleepMicroamps is not null && !modules.Exists(m => m.Key == l.Part))
                .Select(l => new Load($"{l.Label} asleep", l.SleepMicroamps!.Times(0.001))),
        ];
    }

    /// <summary>What draws between wakes.</summary>
    internal Step Rest(long periodMs) =>
        _node.Sleeps
            ? new("sleep", "Sleep", Fact.Of(periodMs, "rest of the cycle"), [_asleep, .. _resting, .. _always, .. _listening])
            : new("wait", "Awake, listening", Fact.Of(periodMs, "rest of the cycle"), [_awake, .. _always, .. _resting, .. _listening]);

    /// <summary>The steps of a wake in which these readings are due and these are sent.</summary>
    internal List<Step> Steps(IReadOnlyList<ReadingDesign> due, IReadOnlyList<ReadingDesign> sent)
    {
        var read = due.Where(r => r.IntervalMs is not null).Select(r => r.Part).Distinct().ToList();
        return
        [
            .. Boot(),
            .. Shared($"read {string.Join(' ', read)}", () => [.. Reading([.. read], [.. Ground, .. _listening])]),
            .. sent.Count > 0 ? Shared($"send {Sending.Values(sent)}", () => [.. Send(sent, Ground)]) : [],
            .. ShutDown(),
        ];
    }

    /// <summary>The steps of a message of another node that is passed on by radio; none for a gateway: it is awake, and passes on over the network.</summary>
    internal List<Step> PassOn(int bytes)
    {
        if (Sending.RadioOf(_node, _setting.Catalogue) is not { } radio || !_node.Hears)
        {
            return [];
        }
        var answer = Fact.Of(Sending.AnswerMs(radio.Modem), "time on air of an answer");
        return
        [
            .. Boot(),
            .. Shared("answer", () => [new("answer", "Answer who sent it", answer, Radiating(radio, radio.Modem.TransmitMilliamps, Ground))]),
            .. Shared($"pass on {bytes}", () => [.. SendByRadio(radio, bytes, Ground)]),
            .. ShutDown(),
        ];
    }

    /// <summary>What draws in every step of a wake, whatever else does. While the radio sends or waits for an answer it does not listen besides.</summary>
    private List<Load> Ground => _node.Sleeps ? [_awake, .. _always] : [_awake, .. _always, .. _resting];

    private IReadOnlyList<Step> Boot() =>
        _node.Sleeps ? Shared("boot", () => [new("boot", "Start of the board", _board.BootMs, [.. Ground, .. _listening])]) : [];

    private IReadOnlyList<Step> ShutDown() =>
        _node.Sleeps ? Shared("shut-down", () => [new("shut-down", "Shutting down", ShutDownMs, [.. Ground, .. _listening])]) : [];

    /// <summary>What draws while a radio sends or listens: a module besides all else, the radio of a board with the board as a whole.</summary>
    private List<Load> Radiating(NodeRadio radio, Fact milliamps, List<Load> ground) =>
        radio.IsOnBoard ? [new($"{_board.Label}, {radio.Label}", milliamps), .. ground.Skip(1)] : [.. ground, new(radio.Name, milliamps)];

    private IReadOnlyList<Step> Shared(string key, Func<IReadOnlyList<Step>> make) => _shared.TryGetValue(key, out var steps) ? steps : _shared[key] = make();

    /// <summary>Warm-up, measuring and bus time of these parts.</summary>
    private IEnumerable<Step> Reading(HashSet<string> read, List<Load> ground)
    {
        var loads = _bench.Loads.Where(l => !l.StaysOn && read.Contains(l.Part)).ToList();
        // A part whose supply stays on has warmed up once for all; the others are switched on so that all are ready together.
        if (_node.Sleeps && loads.Where(l => l is { Switched: true, WarmUpMs: not null }).ToList() is { Count: > 0 } warming)
        {
            var slowest = warming.MaxBy(l => l.WarmUpMs!.Likely)!;
            yield return new("warm-up", $"Warm-up ({slowest.Label})", slowest.WarmUpMs!, [.. ground, .. Side(warming, l => l.WarmUpMs!, slowest.WarmUpMs!)]);
        }
        if (loads.Where(l => l.ConversionMs is not null).ToList() is { Count: > 0 } converting)
        {
            var longest = converting.MaxBy(l => Conversion(l).Likely)!;
            var ms = Conversion(longest);
            yield return new("measure", $"Measuring ({longest.Label} longest)", ms, [.. ground, .. Side(converting, Conversion, ms)]);
        }
        if (BusMs(read) is { Likely: > 0 } bus)
        {
            yield return new("bus", "Reading the buses", bus, ground);
        }
    }

    /// <summary>The steps of a wake by a pulse that is only counted.</summary>
    internal List<Step> Pulse() => _node.Sleeps ? [new("pulse", "Counting a pulse", PulseMs, [_awake, .. _always])] : [];

    /// <summary>Time for the words of these parts on their buses, ms.</summary>
    internal Fact? BusMs(IReadOnlySet<string> parts)
    {
        double sum = 0;
        foreach (var planned in _bench.Parts.Where(p => parts.Contains(p.Part)))
        {
            if (
                _bench.Buses.FirstOrDefault(b => b.Name == planned.Bus) is { ClockKilohertz: > 0 } bus
                && _setting.Catalogue.Part(_node.Part(planned.Part)?.Part ?? "")?.Interfaces.FirstOrDefault(i => i.Kind == planned.Interface)
                    is { BitsPerReading: { } bits }
            )
            {
                sum += bits / bus.ClockKilohertz.Value;
            }
        }
        return sum > 0 ? Fact.Of(sum, "bits of the readings over the clock of their bus") : null;
    }

    /// <summary>The time of a measurement, with the first readings that do not count when the supply was off.</summary>
    internal Fact Conversion(LoadProfile load)
    {
        var part = _setting.Catalogue.Part(_node.Part(load.Part)?.Part ?? "");
        var once = load.ConversionMs!;
        if (!load.Switched || part is not { DiscardReadings: > 0 })
        {
            return once;
        }
        var between = Math.Max(once.Likely, part.MinIntervalMs?.Likely ?? 0);
        return once with
        {
            Min = once.Low + part.DiscardReadings * between,
            Typ = once.Likely + part.DiscardReadings * between,
            Max = once.High + part.DiscardReadings * between,
            Source = $"{once.Source}; {part.DiscardReadings} discarded first",
        };
    }

    private IEnumerable<Step> Send(IReadOnlyList<ReadingDesign> sent, List<Load> ground)
    {
        if (_node.Link == LinkKind.Wifi && _board.ConnectMs is { } connect)
        {
            foreach (var step in SendByWifi(connect, ground))
            {
                yield return step;
            }
        }
        else if (_node.Link == LinkKind.Cable)
        {
            yield return new("send", "Send over the cable", CableSendMs, ground);
        }
        else if (_node.Link == LinkKind.SerialCable)
        {
            yield return new("send", "Write to the serial line", SerialSendMs, ground);
        }
        else if (
            _node.Link == LinkKind.Card
            && _node.Parts.Select(p => (p, Part: _setting.Catalogue.Part(p.Part))).FirstOrDefault(p => p.Part?.Kind == PartKind.Storage)
                is { Part: { ConversionMs: { } writing } } card
        )
        {
            yield return new(
                "write",
                "Write to the card",
                writing,
                [.. ground, .. card.Part.ActiveMilliamps is { } active ? [new Load(card.p.Label, active)] : Array.Empty<Load>()]
            );
        }
        else if (_node.Link == LinkKind.TextMessage && Sending.TextModemOf(_node, _setting.Catalogue) is { } modem)
        {
            foreach (var step in SendAsTexts(modem.Instance, modem.Part, Sending.Bytes(Sending.Values(sent)), ground))
            {
                yield return step;
            }
        }
        else if (Sending.RadioOf(_node, _setting.Catalogue) is { } radio)
        {
            foreach (var step in SendByRadio(radio, Sending.Bytes(Sending.Values(sent)), ground))
            {
                yield return step;
            }
        }
    }

    private IEnumerable<Step> SendByWifi(Fact connect, List<Load> ground)
    {
        var receive = _board.Currents.WifiReceiveMilliamps ?? _board.Currents.ActiveMilliamps;
        var peak = _board.Currents.WifiTransmitPeakMilliamps;
        List<Load> others = [.. ground.Skip(1)];
        if (_node.Sleeps)
        {
            yield return new("connect", "Wi-Fi connect", connect, [new Load($"{_board.Label} with Wi-Fi", receive), .. others]);
        }
        var sending = new Fact(
            receive.Low,
            peak is null ? receive.Likely : (receive.Likely + peak.Likely) / 2,
            peak?.High ?? receive.High,
            peak is null ? receive.Source + "; transmit peak not known" : "half listening, half transmitting: planning value",
            Confidence.Prudent
        );
        yield return new("send", "Send", Sending.WifiSendMs, [new Load($"{_board.Label} with Wi-Fi", sending), .. others]);
    }

    /// <summary>A modem without supply between wakes has to find its network first; one that only sleeps is still known there.</summary>
    private IEnumerable<Step> SendAsTexts(PartInstance instance, Part modem, int bytes, List<Load> ground)
    {
        List<Load> loads = [.. ground, .. !modem.StaysOn && modem.ActiveMilliamps is { } active ? [new Load(instance.Label, active)] : Array.Empty<Load>()];
        if (_node.Sleeps && instance.SwitchSupply && modem.WarmUpMs is { } register)
        {
            yield return new("register", "Join the mobile network", register, loads);
        }
        var texts = Sending.Texts(modem.Texts!, bytes);
        yield return new("send", texts == 1 ? "Send a text message" : $"Send {texts} text messages", modem.Texts!.SendMs.Times(texts), loads);
    }

    private IEnumerable<Step> SendByRadio(NodeRadio radio, int bytes, List<Load> ground)
    {
        var modem = radio.Modem;
        var send = SendDesign.Of(_node);
        var link = _setting.LinkOf(_node);
        var tries = link.Tries(send);
        var air = Sending.AirMs(modem, bytes);
        var source =
            (modem.IsLora ? "time on air: SX1276 data sheet, LoRa modem time on air" : "bits over the rate")
            + (modem.Copies > 1 ? $", on {modem.Copies} channels" : "")
            + (
                tries <= 1 ? ""
                : send.Acknowledged ? $"; {tries:0.##} tries on average, since {link.Delivered * 100:0.#} % of single ones arrive ({link.Source})"
                : $"; sent {tries:0} times, since nobody answers"
            );
        if (_node.Sleeps && radio.StartMs is { } start)
        {
            yield return new("radio", "Start of the radio", start, Radiating(radio, radio.ReceiveMilliamps, ground));
        }
        yield return new(
            "send",
            $"Send {bytes} bytes, {radio.Rate}",
            new(air, air * tries, air * send.MostSent, source, Confidence.Typical),
            Radiating(radio, modem.TransmitMilliamps, ground)
        );
        if (send.Acknowledged)
        {
            var listen = Sending.ListenMs(modem);
            yield return new(
                "listen",
                "Listen for the answer",
                listen with
                {
                    Typ = listen.Likely * tries,
                    Max = listen.High * send.MostTries,
                },
                Radiating(radio, radio.ReceiveMilliamps, ground)
            );
        }
    }

    /// <summary>Loads side by side in a step as long as the longest: each draws for its own time.</summary>
    private static IEnumerable<Load> Side(IEnumerable<LoadProfile> loads, Func<LoadProfile, Fact> time, Fact longest) =>
        loads
            .Where(l => l.ActiveMilliamps is not null)
            .Select(l => new Load(l.Label, l.ActiveMilliamps!.Times(longest.Likely > 0 ? time(l).Likely / longest.Likely : 1)));

    private static Fact Measured(MeasuredCurrent current) => Fact.Of(current.Milliamps, $"measured: {current.How}", Confidence.Measured);
}
