using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;
using Cenotic.Core.Rhythm;
using CsCheck;

namespace Cenotic.Core.Tests.Rhythm;

/// <summary>The average current of the plan against a node that is played for a week in whole microseconds,
/// event by event, straight from the catalogue's facts.</summary>
public class EnergyOracleTests
{
    private const long WeekUs = 7L * 86_400_000_000;

    private static readonly (string Part, string Quantity)[] Sensors =
    [
        ("bme280", "temperature"),
        ("bme280", "pressure"),
        ("bh1750", "illuminance"),
        ("ds18b20", "temperature"),
        ("dht22", "humidity"),
        ("sht31", "temperature"),
        ("vl53l0x", "distance"),
    ];

    /// <summary>Nodes whose pattern of wakes fits a whole number of times into the week.</summary>
    internal static readonly Gen<NodeDesign> Nodes =
        from board in Gen.Int[0, 2]
        from baseMs in Gen.Int[0, 3].Select(i => new[] { 60_000L, 120_000, 600_000, 1_800_000 }[i])
        from sensors in Gen.Select(
            Gen.Int[0, Sensors.Length - 1],
            Gen.Int[0, 4].Select(i => new[] { 1, 2, 4, 6, 12 }[i]),
            Gen.Int[0, 3].Select(i => new[] { 1, 2, 4, 7 }[i])
        ).Array[1, 4]
        from link in Gen.Int[0, 2]
        from switched in Gen.Bool
        from sleeps in Gen.Int[0, 3].Select(i => i > 0)
        from cell in Gen.Int[0, 2]
        from opens in Gen.Int[0, 40]
        from pulses in Gen.Int[0, 300]
        select Build(board, baseMs, sensors, link, switched, sleeps, cell, opens, pulses);

    private static NodeDesign Build(
        int board,
        long baseMs,
        (int Sensor, int Every, int Batch)[] sensors,
        int link,
        bool switched,
        bool sleeps,
        int cell,
        int opens,
        int pulses
    )
    {
        var parts = sensors
            .Select(s => Sensors[s.Sensor].Part)
            .Distinct()
            .Select(p => Samples.Part(p, p) with { SwitchSupply = switched && p is "dht22" or "ds18b20" && switched })
            .ToList();
        var readings = sensors
            .Select(
                (s, i) => Samples.Every($"r{i}", Sensors[s.Sensor].Part, Sensors[s.Sensor].Quantity, baseMs * (i == 0 ? 1 : s.Every)) with { BatchOf = s.Batch }
            )
            .ToList();
        if (opens > 0)
        {
            parts.Add(Samples.Part("door", "reed-contact"));
            readings.Add(Samples.OnChange("open", "door", "contact", baseMs * 12) with { PerDay = opens });
        }
        if (pulses > 0)
        {
            parts.Add(Samples.Part("rain", "rain-gauge-tipping"));
            readings.Add(Samples.Every("mm", "rain", "rain", baseMs * 6) with { PerDay = pulses });
        }
        if (link > 0)
        {
            parts.Add(Samples.Part("radio", link == 1 ? "lora-sx1276" : "nrf24l01p"));
        }
        var power = cell switch
        {
            0 => new PowerDesign(PowerKind.Cells, "cell-18650", StepUp: true),
            1 => new PowerDesign(PowerKind.Cells, "alkaline-aa-x2", StepUp: true, Series: 2),
            _ => new PowerDesign(PowerKind.Usb),
        };
        return Samples.Node() with
        {
            Board = new[] { Samples.Esp32, Samples.Rp2040, "esp32-c3-mini-16" }[board],
            Sleeps = sleeps,
            Link = link == 0 ? LinkKind.Wifi : LinkKind.LongRange,
            Power = power,
            Parts = parts,
            Readings = readings,
        };
    }

    [Fact]
    public void The_analytic_sum_equals_a_week_played_in_microseconds() =>
        Nodes.Sample(
            node =>
            {
                var bench = BenchPlanner.Plan(node, Samples.Catalogue);
                var plan = RhythmPlanner.Plan(node, bench, Samples.Catalogue, Evidence.None);
                var played = new Week(node, bench).AverageMilliamps();
                Assert.True(Math.Abs(plan.Average.Value!.Value - played) <= 0.001 * played, $"{plan.Average.Value} mA by the sum, {played} mA played");
            },
            iter: 150
        );

    /// <summary>One node for one week. Keeps its own clock, counters and batches.</summary>
    private sealed class Week(NodeDesign node, BenchPlan bench)
    {
        private readonly Board _board = Samples.Catalogue.Board(node.Board)!;
        private readonly Dictionary<string, int> _toRead = node.Readings.ToDictionary(r => r.Key, _ => 0);
        private readonly Dictionary<string, int> _kept = node.Readings.ToDictionary(r => r.Key, _ => 0);
        private Int128 _nanoampMicroseconds;
        private long _nowUs;

        internal double AverageMilliamps()
        {
            var period = node.Readings.Min(r => (r.IntervalMs ?? r.HeartbeatMs)!.Value) * 1000;
            var events = new PriorityQueue<(string Kind, string? Reading), long>();
            for (long at = 0; at < WeekUs; at += period)
            {
                events.Enqueue(("clock", null), at);
            }
            foreach (var reading in node.Readings.Where(r => r.PerDay > 0))
            {
                var kind = reading.IntervalMs is null ? "change" : "pulse";
                for (var i = 0; i < reading.PerDay * 7; i++)
                {
                    events.Enqueue((kind, reading.Key), (long)((i + 0.37) * 86_400e6 / reading.PerDay!.Value));
                }
            }
            while (events.TryDequeue(out var what, out var at))
            {
                Rest(Math.Max(0, at - _nowUs));
                switch (what.Kind)
                {
                    case "clock":
                        Clock();
                        break;
                    case "change":
                        Wake([], [node.Readings.First(r => r.Key == what.Reading)], 1);
                        break;
                    default:
                        if (node.Sleeps)
                        {
                            Draw(5, BoardAwake + AlwaysOn);
                        }
                        break;
                }
            }
            Rest(Math.Max(0, WeekUs - _nowUs));
            var average = (double)_nanoampMicroseconds / _nowUs * 1e-6;
            var boost = Samples.Catalogue.Supply("boost-mt3608")!;
            return node.Power.StepUp
                ? average * 5 / (Over(Samples.Catalogue.Cell(node.Power.Cell!)!) * node.Power.Series * boost.Efficiency!.Likely)
                    + boost.QuiescentMilliamps!.Likely
                : average;
        }

        private double BoardAwake =>
            !node.Sleeps && node.Link == LinkKind.Wifi ? _board.Currents.WifiReceiveMilliamps!.Likely : _board.Currents.ActiveMilliamps.Likely;

        private double AlwaysOn => bench.Loads.Where(l => l.StaysOn).Sum(l => l.ActiveMilliamps?.Likely ?? 0);

        private double Resting => bench.Loads.Where(l => !l.StaysOn && !l.Switched).Sum(l => (l.SleepMicroamps?.Likely ?? 0) / 1000);

        private void Rest(long us) => DrawUs(us, (node.Sleeps ? _board.Currents.DeepSleepMilliamps!.Likely : BoardAwake) + AlwaysOn + Resting);

        private void Clock()
        {
            var shortest = node.Readings.Min(r => (r.IntervalMs ?? r.HeartbeatMs)!.Value);
            var (read, sent, values) = (new List<ReadingDesign>(), new List<ReadingDesign>(), 0);
            foreach (var reading in node.Readings)
            {
                if (--_toRead[reading.Key] > 0)
                {
                    continue;
                }
                _toRead[reading.Key] = (int)((reading.IntervalMs ?? reading.HeartbeatMs)!.Value / shortest);
                if (reading.IntervalMs is not null)
                {
                    read.Add(reading);
                }
                if (reading.IntervalMs is null || ++_kept[reading.Key] == reading.BatchOf)
                {
                    values += reading.IntervalMs is null ? 1 : reading.BatchOf;
                    _kept[reading.Key] = 0;
                    sent.Add(reading);
                }
            }
            Wake(read, sent, values);
        }

        private void Wake(List<ReadingDesign> read, List<ReadingDesign> sent, int values)
        {
            var ground = BoardAwake + AlwaysOn + (node.Sleeps ? 0 : Resting);
            if (node.Sleeps)
            {
                Draw(_board.BootMs.Likely, ground);
            }
            var parts = bench.Loads.Where(l => !l.StaysOn && read.Any(r => r.Part == l.Part)).ToList();
            if (node.Sleeps)
            {
                Together(parts.Where(p => p.Switched && p.WarmUpMs is not null).Select(p => (p.WarmUpMs!.Likely, p.ActiveMilliamps?.Likely ?? 0)), ground);
            }
            Together(parts.Where(p => p.ConversionMs is not null).Select(p => (Conversion(p), p.ActiveMilliamps?.Likely ?? 0)), ground);
            foreach (var planned in bench.Parts.Where(p => parts.Any(l => l.Part == p.Part)))
            {
                var bits = PartOf(planned.Part).Interfaces.First(i => i.Kind == planned.Interface).BitsPerReading ?? 0;
                if (bench.Buses.FirstOrDefault(b => b.Name == planned.Bus)?.ClockKilohertz is > 0 and var kilohertz)
                {
                    Draw(bits / kilohertz, ground);
                }
            }
            if (sent.Count > 0)
            {
                Send(values, ground);
            }
            if (node.Sleeps)
            {
                Draw(3, ground);
            }
        }

        private Part PartOf(string instance) => Samples.Catalogue.Part(node.Part(instance)!.Part)!;

        private double Conversion(LoadProfile load)
        {
            var part = PartOf(load.Part);
            var between = Math.Max(load.ConversionMs!.Likely, part.MinIntervalMs?.Likely ?? 0);
            return load.ConversionMs.Likely + (load.Switched ? part.DiscardReadings * between : 0);
        }

        private void Send(int values, double ground)
        {
            if (node.Link == LinkKind.Wifi)
            {
                var receive = _board.Currents.WifiReceiveMilliamps!.Likely;
                var others = ground - BoardAwake;
                if (node.Sleeps)
                {
                    Draw(_board.ConnectMs!.Likely, receive + others);
                }
                Draw(50, (_board.Currents.WifiTransmitPeakMilliamps is { } peak ? (receive + peak.Likely) / 2 : receive) + others);
                return;
            }
            var radio = Samples.Catalogue.Part(node.Part("radio")!.Part)!;
            var (modem, bytes) = (radio.Modem!, 8 + 4 * values);
            double Packet(int length) =>
                modem.BitsPerSecond is { } rate
                    ? (modem.OverheadBytes + length) * 8 / rate * 1000
                    : Airtime.LoraMs(modem.SpreadingFactor, modem.BandwidthKilohertz, modem.CodingRate, modem.PreambleSymbols, length);
            const double Tries = 1 + 0.1 + 0.01;
            var most = modem.BitsPerSecond is null ? 255 : 32;
            for (var left = bytes; left > 0; left -= most)
            {
                Draw(Packet(Math.Min(left, most)) * Tries, ground + modem.TransmitMilliamps.Likely);
            }
            Draw((20 + Packet(8)) * Tries, ground + radio.ActiveMilliamps!.Likely);
        }

        /// <summary>Parts side by side, each for its own time, while the board waits for the slowest.</summary>
        private void Together(IEnumerable<(double Ms, double Milliamps)> parts, double ground)
        {
            var list = parts.ToList();
            foreach (var (ms, milliamps) in list)
            {
                _nanoampMicroseconds += (Int128)Math.Round(milliamps * 1e6) * (long)Math.Round(ms * 1000);
            }
            Draw(list.Select(p => p.Ms).DefaultIfEmpty(0).Max(), ground);
        }

        private void Draw(double ms, double milliamps) => DrawUs((long)Math.Round(ms * 1000), milliamps);

        private void DrawUs(long us, double milliamps)
        {
            _nanoampMicroseconds += (Int128)Math.Round(milliamps * 1e6) * us;
            _nowUs += us;
        }
    }

    /// <summary>The voltage of a cell on average over the charge it gives, taken out in small steps.</summary>
    private static double Over(Cell cell)
    {
        const int steps = 5_000;
        double At(double used)
        {
            var (after, before) = (cell.Curve!.First(p => p.Used >= used), cell.Curve!.Last(p => p.Used <= used));
            return after.Used == before.Used ? before.Volts : before.Volts + (after.Volts - before.Volts) * (used - before.Used) / (after.Used - before.Used);
        }
        return cell.Curve is null ? cell.NominalVolts : Enumerable.Range(0, steps).Average(i => At((i + 0.5) / steps * cell.UsableFraction.Likely));
    }
}
