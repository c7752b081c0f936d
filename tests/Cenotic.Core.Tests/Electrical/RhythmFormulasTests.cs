using Cenotic.Core.Electrical;

namespace Cenotic.Core.Tests.Electrical;

/// <summary>Published and worked values for time on air, contention, drift, packet sizes, storage capacitors and sunlight.</summary>
public class RhythmFormulasTests
{
    [Theory]
    [InlineData(5 + 3 + 1 + 2, 20, 50_000, 4.96)] // LoRaWAN Regional Parameters, FSK framing
    [InlineData(5 + 3 + 1 + 2, 64, 50_000, 12)]
    [InlineData(4 + 2 + 1 + 2, 16, 4_800, 41.66667)]
    public void Fixed_rate_packet(int overhead, int payload, double rate, double ms) => Assert.Equal(ms, Airtime.PacketMs(rate, overhead, payload), 0.001);

    [Theory]
    [InlineData(0.5, 0.1839397)] // Abramson 1970: maximum 1/(2e) at G = 0.5
    [InlineData(0.1, 0.0818731)]
    [InlineData(1, 0.1353353)]
    public void Pure_aloha_throughput(double load, double throughput) => Assert.Equal(throughput, Aloha.Throughput(load), 1e-5);

    [Theory]
    [InlineData(0.05, 0.9048374)]
    [InlineData(0.5, 0.3678794)]
    public void Pure_aloha_success(double load, double success) => Assert.Equal(success, Aloha.Success(load), 1e-5);

    [Theory]
    [InlineData(100, 56.576, 600, 0.981318)] // N senders at random instants
    [InlineData(200, 1318.912, 3600, 0.8636862)]
    public void Aloha_from_a_node_count(int nodes, double airMs, double seconds, double success) =>
        Assert.Equal(success, Aloha.Success(nodes * airMs / 1000 / seconds), 1e-5);

    [Theory]
    [InlineData(2, 500, 10, 0.9)] // geometric probability, equal periods with random phases
    [InlineData(100, 56.576, 600, 0.9815014)]
    public void Clear_share_of_periodic_senders(int nodes, double airMs, double seconds, double clear) =>
        Assert.Equal(clear, Aloha.Clear(airMs, Enumerable.Repeat((airMs, seconds * 1000), nodes - 1)), 1e-5);

    [Theory]
    [InlineData(20, 86_400, 1.728)]
    [InlineData(1, 31_557_600, 31.5576)]
    [InlineData(100, 3_600, 0.36)]
    public void Drift(double ppm, double seconds, double drift) => Assert.Equal(drift, ClockDrift.Seconds(ppm, seconds), 1e-9);

    [Theory]
    [InlineData(20, 20, 3_600, 144)]
    [InlineData(20, 2, 86_400, 1900.8)]
    public void Guard(double a, double b, double seconds, double ms) => Assert.Equal(ms, ClockDrift.GuardMs(a, b, seconds), 0.01);

    [Theory]
    [InlineData(20, 20, 100, 2500)]
    [InlineData(50, 10, 30, 500)]
    public void Longest_resync(double a, double b, double guardMs, double seconds) =>
        Assert.Equal(seconds, ClockDrift.LongestResyncSeconds(a, b, guardMs)!.Value, 0.05);

    [Fact]
    public void Clocks_that_do_not_drift_need_no_time_reference() => Assert.Null(ClockDrift.LongestResyncSeconds(0, 0, 100));

    [Theory]
    [InlineData(-10, -41.65)] // 32.768 kHz crystal data sheets, parabolic coefficient
    [InlineData(60, -41.65)]
    public void Crystal(double celsius, double ppm) => Assert.Equal(ppm, ClockDrift.CrystalPpm(celsius), 0.001);

    [Theory]
    [InlineData(true, 10, 0, 2, 15, 2, 3)] // Korst, Aarts, Lenstra, Wessels 1991 (recalled); brute force over the hyperperiod
    [InlineData(false, 10, 0, 2, 15, 1, 3)]
    [InlineData(true, 60, 0, 5, 60, 5, 5, 90, 10, 5)]
    [InlineData(false, 60, 0, 5, 60, 5, 5, 90, 32, 5)]
    [InlineData(false, 7, 0, 1, 5, 2, 1)]
    [InlineData(true, 20, 17, 4, 30, 2, 3, 20, 5, 2)]
    [InlineData(true, 8, 0, 4, 8, 4, 4)]
    public void Periodic_sends_meet_or_not(bool clear, params int[] tasks) =>
        Assert.Equal(clear, PeriodicSends.Clear([.. tasks.Chunk(3).Select(t => new PeriodicSend(t[0], t[1], t[2]))]));

    [Theory]
    [InlineData(127, 1)] // OASIS MQTT 3.1.1, table 2.4
    [InlineData(128, 2)]
    [InlineData(321, 2)]
    [InlineData(16_383, 2)]
    [InlineData(16_384, 3)]
    [InlineData(2_097_151, 3)]
    [InlineData(2_097_152, 4)]
    public void Remaining_length_field(int length, int bytes) => Assert.Equal(bytes, MqttPacket.LengthFieldBytes(length));

    [Theory]
    [InlineData(7, 4, 0, 15)]
    [InlineData(7, 4, 1, 17)]
    [InlineData(25, 100, 0, 129)]
    [InlineData(25, 101, 0, 131)]
    [InlineData(25, 99, 2, 131)]
    [InlineData(20, 16_362, 0, 16_388)]
    public void Publish_size(int topic, int payload, int quality, int bytes) => Assert.Equal(bytes, MqttPacket.PublishBytes(topic, payload, quality));

    [Theory]
    [InlineData("home/kitchen/t", "21.5", 0, 22)]
    [InlineData("home/küche/t", "21.5 °C", 1, 27)]
    public void Publish_size_counts_bytes(string topic, string payload, int quality, int bytes) =>
        Assert.Equal(bytes, MqttPacket.PublishBytes(topic, payload, quality));

    [Fact]
    public void Lengths_beyond_the_standard_are_refused()
    {
        Assert.Throws<ArgumentOutOfRangeException>(() => MqttPacket.LengthFieldBytes(-1));
        Assert.Throws<ArgumentOutOfRangeException>(() => MqttPacket.LengthFieldBytes(268_435_456));
    }

    [Theory]
    [InlineData(50, 3.6, 2.25, 37.03704)] // capacitor charge
    [InlineData(22_000, 3.3, 2.0, 16_923.08)]
    [InlineData(6_840, 5, 3.0, 3_420)]
    public void Capacitor_from_charge(double microcoulombs, double from, double to, double microfarads) =>
        Assert.Equal(microfarads, StorageCapacitor.FromCharge(microcoulombs, from, to), microfarads * 1e-4);

    [Theory]
    [InlineData(1_000, 3.6, 2.25, 253.2447)] // capacitor energy
    [InlineData(72_600, 5, 2.7, 8_198.758)]
    public void Capacitor_from_energy(double microjoules, double from, double to, double microfarads) =>
        Assert.Equal(microfarads, StorageCapacitor.FromEnergy(microjoules, from, to), microfarads * 1e-4);

    [Fact]
    public void Bursts_of_a_capacitor_over_its_tolerance()
    {
        // 50 µC from 3.6 to 2.25 V: 100 µF carries 2, and 1 to 3 over −50..+20 %.
        Assert.Equal([2, 1, 3], new[] { 100.0, 50, 120 }.Select(c => StorageCapacitor.Bursts(c, 50, 3.6, 2.25)));
        Assert.Equal(2, StorageCapacitor.BurstsOfEnergy(510, 1_000, 3.6, 2.25));
        Assert.Equal(10, StorageCapacitor.Bursts(100, 10, 2, 1));
    }

    [Theory]
    [InlineData(50, 5, 0, 10.0)]
    [InlineData(22_000, 100, 12, 250.0)]
    [InlineData(6_840, 20, 1, 360.0)]
    [InlineData(50, 5, 5, null)]
    public void Time_to_gather_a_charge(double charge, double harvest, double drain, double? seconds) =>
        Assert.Equal(seconds, StorageCapacitor.HarvestSeconds(charge, harvest, drain));

    [Fact]
    public void Sunlight_above_the_air()
    {
        // FAO Irrigation and Drainage Paper 56, example 8: 20° south on 3 September (day 246), 32.2 MJ/m² a day; example 9: 11.7 hours of daylight there.
        Assert.Equal(32.2, SunLight.WattHoursAboveAir(-20, 246) * 3.6 / 1000, 0.05);
        Assert.Equal(11.7, SunLight.LitHours(-20, 246), 0.05);
        Assert.Equal(0, SunLight.WattHoursAboveAir(80, 355));
        Assert.Equal(24, SunLight.LitHours(80, 172), 1e-9);
    }
}
