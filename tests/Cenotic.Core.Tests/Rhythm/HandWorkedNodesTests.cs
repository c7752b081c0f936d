using Cenotic.Core.Bench;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Rhythm;

namespace Cenotic.Core.Tests.Rhythm;

/// <summary>
/// Nodes worked by hand from the figures of the data sheets as they stand in the catalogue: seconds times milliamperes of each stretch of a wake, sleep for the
/// rest. The arithmetic stands beside each; bits on the buses, far below
/// a thousandth of a wake, are left out. The plan must be within its own band of it, and its likely number within 1 %.
/// </summary>
public class HandWorkedNodesTests
{
    private const string C3 = "esp32-c3-mini-16",
        Small = "nrf52840-module-24",
        Pico = "rp2040-40";

    private static NodeDesign Node(string board, LinkKind link, PowerDesign power, string[] parts, params ReadingDesign[] readings) =>
        Samples.Node([.. parts.Select(p => (p, p))]) with
        {
            Board = board,
            Link = link,
            Power = power,
            Sleeps = true,
            Readings = readings,
        };

    private static RhythmPlan Plan(NodeDesign node) => RhythmPlanner.Plan(node, BenchPlanner.Plan(node, Samples.Catalogue), Samples.Catalogue, Evidence.None);

    private static PowerDesign On(string cell, bool stepUp = false, int parallel = 1) => new(PowerKind.Cells, cell, parallel, stepUp);

    private static void Holds(double byHand, Cenotic.Core.Common.Figure figure)
    {
        Assert.InRange(byHand, figure.Low!.Value, figure.High!.Value);
        Assert.InRange(figure.Value!.Value, byHand * 0.99, byHand * 1.01);
    }

    private static void Check(NodeDesign node, double average, double? life = null)
    {
        var plan = Plan(node);
        Holds(average, plan.Average);
        if (life is { } days)
        {
            Holds(days, plan.Life!);
        }
    }

    /// <summary>
    /// Start 0.3 s · 30 mA = 9; measuring 8 ms · 30.47 = 0.244; connecting 0.5 s · 90 = 45; sending 50 ms
    /// · (90 + 350) / 2 = 11; shutting down 3 ms · 30 = 0.09: 65.33 mA·s in 0.861 s.
    /// Asleep 599.139 s · 0.6501 = 389.50. Together 454.83 / 600 s = 0.7581 mA. Li-ion: 2600 · 0.85
    /// / (0.7581 + 2600 · 0.24 / 8766) / 24 = 2210 / 0.8293 / 24 = 111.0 d.
    /// </summary>
    [Fact]
    public void Air_every_ten_minutes_over_wifi_on_a_lithium_ion_cell() =>
        Check(Node(C3, LinkKind.Wifi, On("cell-18650"), ["bme280"], Samples.Every("t", "bme280", "temperature", 600_000)), 0.7581, 111.0);

    /// <summary>
    /// 9 + 0.244 + writing 100 characters of 10 bits at 115 200 Bd, 9 ms · 30 = 0.27 + 0.09: 9.604 mA·s in 0.32 s; asleep 599.68 · 0.6501 = 389.85. 399.46 /
    /// 600 s = 0.6658 mA; 2210 / (0.6658 + 0.0712) / 24 = 124.9 d.
    /// </summary>
    [Fact]
    public void Air_every_ten_minutes_over_a_serial_cable() =>
        Check(Node(C3, LinkKind.SerialCable, On("cell-18650"), ["bme280"], Samples.Every("t", "bme280", "temperature", 600_000)), 0.6658, 124.9);

    /// <summary>
    /// 9 + 0.12 · 30.12 = 3.614 + 45 + 11 + 0.09 = 68.70 mA·s in 0.973 s; asleep 299.027 · 0.65001 = 194.37. 263.07 / 300 = 0.8769 mA.
    /// Flat cell: 1000 · 0.85 / (0.8769 + 1000 · 0.24 / 8766) / 24 = 850 / 0.9043 / 24 = 39.17 d.
    /// </summary>
    [Fact]
    public void Light_every_five_minutes_over_wifi_on_a_polymer_cell() =>
        Check(Node(C3, LinkKind.Wifi, On("cell-lipo-flat"), ["bh1750"], Samples.Every("l", "bh1750", "illuminance", 300_000)), 0.8769, 39.17);

    /// <summary>
    /// 12 bits take 0.75 s at 31 mA = 23.25; 9 + 23.25 + 45 + 11 + 0.09 = 88.34 mA·s in 1.603
    /// s; asleep 1798.397 · 0.65075 = 1170.31. 1258.65 / 1800 = 0.6992 mA.
    /// LiFePO4: 1500 · 0.9 / (0.6992 + 1500 · 0.3 / 8766) / 24 = 1350 / 0.7506 / 24 = 74.94 d.
    /// </summary>
    [Fact]
    public void A_probe_every_half_hour_over_wifi_on_an_iron_phosphate_cell() =>
        Check(Node(C3, LinkKind.Wifi, On("lifepo4-18650"), ["ds18b20"], Samples.Every("t", "ds18b20", "temperature", 1_800_000)), 0.6992, 74.94);

    /// <summary>
    /// 12 bytes at SF9: 35.25 symbols of 4.096 ms = 144.38 ms; 1.11 tries = 160.27 ms at 6 + 87 = 14.905. Answer of 8 bytes:
    /// 30.25 symbols = 123.90 ms, 20 to turn round, 1.11 times = 159.73 ms at 6 + 11.5 = 2.795.
    /// Start 50 ms · 6 = 0.3; measuring 8 ms · 6.47 = 0.052; shutting down 0.018: 18.070 mA·s in
    /// 0.381 s. Asleep 899.619 · 0.0303 = 27.258. 45.328 / 900 = 0.05036 mA.
    /// LiSOCl2: 2500 · 0.9 / (0.05036 + 2500 · 0.01 / 8766) / 24 = 2250 / 0.05321 / 24 = 1761.8 d.
    /// </summary>
    [Fact]
    public void Air_every_quarter_hour_by_lora_on_a_thionyl_chloride_cell() =>
        Check(
            Node(Small, LinkKind.LongRange, On("cell-lisocl2-aa"), ["bme280", "lora-sx1276"], Samples.Every("t", "bme280", "temperature", 900_000)),
            0.05036,
            1761.8
        );

    /// <summary>
    /// 22 bytes with their overhead at 250 kbit/s: 0.704 ms, 1.11 times at 17.3 = 0.01352. Answer: 0.576 + 20 ms, 1.11 times = 22.84 ms at 19.05 = 0.4351.
    /// Start 0.3, measuring 120 ms · 6.12 = 0.7344, 0.018:
    /// 1.5010 mA·s in 0.1966 s. Asleep 59.803 · 0.03091 = 1.8485. 3.3495 / 60 = 0.05583 mA. CR2032: 225
    /// · 0.7 / (0.05583 + 225 · 0.01 / 8766) / 24 = 157.5 / 0.05609 / 24 = 117.0 d.
    /// </summary>
    [Fact]
    public void Light_every_minute_by_a_packet_radio_on_a_coin_cell() =>
        Check(Node(Small, LinkKind.LongRange, On("cr2032"), ["bh1750", "nrf24l01p"], Samples.Every("l", "bh1750", "illuminance", 60_000)), 0.05583, 117.0);

    /// <summary>
    /// Not acknowledged: 144.38 ms once at 93 = 13.428, no answer. Start 0.3, measuring 12.5 ms · 6.6 = 0.0825, 0.018:
    /// 13.828 mA·s in 0.2099 s. Asleep 599.790 · 0.0304 = 18.234. 32.062 / 600 = 0.05344 mA.
    /// Alkaline: 2400 · 0.7 / (0.05344 + 2400 · 0.025 / 8766) / 24 = 1680 / 0.06028 / 24 = 1161.2 d.
    /// </summary>
    [Fact]
    public void Air_by_lora_without_an_answer_on_alkaline_cells() =>
        Check(
            Node(Small, LinkKind.LongRange, On("alkaline-aa-x2"), ["sht31", "lora-sx1276"], Samples.Every("t", "sht31", "temperature", 600_000)) with
            {
                Sending = new(Acknowledged: false),
            },
            0.05344,
            1161.2
        );

    /// <summary>
    /// Four values in one message of 24 bytes: 8 + ⌈(192 + 8) / 36⌉ · 5 = 38 and 12.25 symbols = 205.82 ms, 1.11 times = 228.46 ms at 93 = 21.247; the answer
    /// 2.795. Reading alone: 0.3 + 0.0518 + 0.018 = 0.3698 in 0.061 s.
    /// Four wakes: 4 · 0.3698 + 21.247 + 2.795 = 25.521 mA·s in 0.632 s. Asleep 1199.368 · 0.0303 = 36.341.
    /// 61.862 / 1200 = 0.05155 mA. 1680 / (0.05155 + 0.00684) / 24 = 1198.8 d.
    /// </summary>
    [Fact]
    public void Four_values_in_a_message_on_alkaline_cells() =>
        Check(
            Node(
                Small,
                LinkKind.LongRange,
                On("alkaline-aa-x2"),
                ["bme280", "lora-sx1276"],
                Samples.Every("t", "bme280", "temperature", 300_000) with
                {
                    BatchOf = 4,
                }
            ),
            0.05155,
            1198.8
        );

    /// <summary>
    /// Two readings, six of each in a message: 8 + 4 · 12 = 56 bytes: 8 + ⌈456 / 36⌉ · 5 = 73 and 12.25 symbols = 349.18
    /// ms, 1.11 times = 387.59 ms at 93 = 36.046; the answer 2.795. Six wakes of 0.3698 = 2.219.
    /// 41.060 mA·s in 0.913 s. Asleep 3599.087 · 0.0303 = 109.052. 150.112 / 3600 = 0.04170 mA. LiSOCl2: 2250 / (0.04170 + 0.00285) / 24 = 2104.4 d.
    /// </summary>
    [Fact]
    public void Twelve_values_in_a_message_once_an_hour() =>
        Check(
            Node(
                Small,
                LinkKind.LongRange,
                On("cell-lisocl2-aa"),
                ["bme280", "lora-sx1276"],
                Samples.Every("t", "bme280", "temperature", 600_000) with
                {
                    BatchOf = 6,
                },
                Samples.Every("p", "bme280", "pressure", 600_000) with
                {
                    BatchOf = 6,
                }
            ),
            0.04170,
            2104.4
        );

    /// <summary>
    /// 23 bytes at 38.4 kbit/s: 4.792 ms, 1.11 times = 5.319 ms at 27 + 30 = 0.3032. Answer 3.958 + 20 ms, 1.11 times = 26.594
    /// ms at 27 + 15.85 = 1.1396. Start 0.25 s · 27 = 6.75, measuring 0.75 · 28 = 21, 0.081:
    /// 29.274 mA·s in 1.0349 s. Asleep 598.965 · 0.80095 = 479.741. 509.015 / 600 = 0.8484 mA. 2210 / (0.8484 + 0.0712) / 24 = 100.1 d.
    /// </summary>
    [Fact]
    public void A_probe_by_a_sub_gigahertz_radio_on_a_lithium_ion_cell() =>
        Check(Node(Pico, LinkKind.LongRange, On("cell-18650"), ["ds18b20", "cc1101"], Samples.Every("t", "ds18b20", "temperature", 600_000)), 0.8484, 100.1);

    /// <summary>
    /// Behind a step-up converter a cell gives power. Its mean voltage over the 0.7 that is used, by trapezia: (0.155 + 0.1485 + 0.286 + 0.275 + 0.266 + 0.258
    /// + 0.25 + 0.242) / 0.7 = 1.8805 / 0.7 = 2.6864 V. The node of the first
    /// case at 5 V draws 0.7581 mA; at the cells 0.7581 · 5 / (2.6864 · 0.89) + 1 mA of the converter
    /// = 1.5854 + 1 = 2.5854 mA. 1680 / (2.5854 + 0.00684) / 24 = 27.00 d.
    /// </summary>
    [Fact]
    public void Wifi_behind_a_step_up_converter_on_two_alkaline_cells() =>
        Check(Node(C3, LinkKind.Wifi, On("alkaline-aa-x2", stepUp: true), ["bme280"], Samples.Every("t", "bme280", "temperature", 600_000)), 2.5854, 27.00);

    /// <summary>Two flat cells side by side hold 2000 mAh and lose twice as much: 1700 / (0.8769 + 0.05476) / 24 = 76.03 d.</summary>
    [Fact]
    public void Two_polymer_cells_side_by_side() =>
        Check(Node(C3, LinkKind.Wifi, On("cell-lipo-flat", parallel: 2), ["bh1750"], Samples.Every("l", "bh1750", "illuminance", 300_000)), 0.8769, 76.03);

    /// <summary>
    /// A contact that opens or closes 20 times a day, and tells that it lives four times: 24 wakes of 9 + 45 + 11 + 0.09 = 65.09 mA·s in 0.853 s, less what
    /// sleep would have taken, 0.853 · 0.6533 = 0.557: 24 · 64.533 / 86,400 = 0.01793.
    /// Asleep 0.65 + 0.0033 of its pull-up. 0.6712 mA. Alkaline without a converter: 1680 / (0.6712 + 0.00684) / 24 = 103.2 d.
    /// </summary>
    [Fact]
    public void A_door_contact_that_wakes_the_node() =>
        Check(
            Node(
                C3,
                LinkKind.Wifi,
                On("alkaline-aa-x2"),
                ["reed-contact"],
                Samples.OnChange("open", "reed-contact", "contact", 21_600_000) with
                {
                    PerDay = 20,
                }
            ),
            0.6712,
            103.2
        );

    /// <summary>
    /// Once an hour: start 6.75, reading the counter 30 ms · 27 = 0.81, sending 12 bytes 0.3032, the answer 1.1396, 0.081: 9.084 mA·s in 0.315 s; asleep
    /// 3599.685 · 0.8332 = 2999.26. 3008.34 / 3600 = 0.83565. 300 pulses a day of
    /// 5 ms · (27 − 0.833) = 0.1308 mA·s: 39.25 / 86,400 = 0.00045. 0.8361 mA. 2210 / (0.8361 + 0.0712) / 24 = 101.5 d.
    /// </summary>
    [Fact]
    public void A_rain_gauge_that_counts_between_its_messages() =>
        Check(
            Node(
                Pico,
                LinkKind.LongRange,
                On("cell-18650"),
                ["rain-gauge-tipping", "cc1101"],
                Samples.Every("mm", "rain-gauge-tipping", "rain", 3_600_000) with
                {
                    PerDay = 300,
                }
            ),
            0.8361,
            101.5
        );

    /// <summary>
    /// A board that stays awake listens by Wi-Fi at 90 mA: once a minute 50 ms at 220 in place of 90 = 6.5 mA·s and
    /// 8 ms of the sensor: 90 + 6.5 / 60 = 90.108 mA. 2210 / (90.108 + 0.0712) / 24 = 1.021 d.
    /// </summary>
    [Fact]
    public void A_node_that_never_sleeps_empties_its_cell_in_a_day() =>
        Check(
            Node(C3, LinkKind.Wifi, On("cell-18650"), ["bme280"], Samples.Every("t", "bme280", "temperature", 60_000)) with
            {
                Sleeps = false,
            },
            90.108,
            1.021
        );

    /// <summary>
    /// Two receivers that stay on, a remote-control receiver for radio at 5 mA and one for infrared at 0.925 mA, on a board awake at 27 mA: 32.925 mA. Once a
    /// minute a message: 160.27 ms · 87 = 13.943 and 159.73 ms · 11.5 = 1.837 on top: 15.780 / 60 = 0.263; 33.188 mA.
    /// </summary>
    [Fact]
    public void A_gateway_with_two_receivers_of_remote_controls() =>
        Check(
            Node(
                Pico,
                LinkKind.LongRange,
                new(PowerKind.Usb),
                ["ook-rx-433", "ir-receiver-38k", "bme280", "lora-sx1276"],
                Samples.Every("t", "bme280", "temperature", 60_000)
            ) with
            {
                Sleeps = false,
            },
            33.188
        );

    private static NodeDesign Dark(string board, PowerDesign power, double microfarads, double start, double stop) =>
        Node(
            board,
            LinkKind.LongRange,
            power with
            {
                Harvest = new(20, 10, LightKind.Lamp, Lux: 500, HoursPerDay: 10, CapacitorMicrofarads: microfarads, StartVolts: start, StopVolts: stop),
            },
            ["bh1750", "nrf24l01p"],
            Samples.Every("l", "bh1750", "illuminance", 60_000)
        );

    /// <summary>
    /// The node of the coin cell: 1.5010 mA·s a wake, 0.05583 mA on average. 1 F from 3.6 to 2.25 V holds 1350 mA·s: ⌊1350 / 1.5019⌋ = 898 wakes (1.5019 with
    /// 0.145 ms on the bus); (1350 − 1.50) / 0.05583 / 3600 = 6.709 h in the dark.
    /// </summary>
    [Fact]
    public void One_farad_in_the_dark()
    {
        var plan = Plan(Dark(Small, new(PowerKind.Capacitor), 1_000_000, 3.6, 2.25));
        Holds(0.05583, plan.Average);
        Holds(6.709, plan.Harvest!.Dark!);
        Holds(898, plan.Harvest.Bursts!);
    }

    /// <summary>
    /// Behind a converter energy counts: 0.47 F from 4.5 to 2 V holds 0.47 · (20.25 − 4) / 2 = 3.819 J, at the middle of 3.25 V 1175.0 mA·s. At 5 V and 0.89
    /// the wake takes 5 / (3.25 · 0.89) = 1.7286 times as much, and the converter 1 mA: the
    /// board RP2040: start 6.75, 120 ms · 27.12 = 3.254, sending 0.782 ms · 38.3 = 0.030, listening 22.84 ms · 40.05 = 0.915, 0.081: 11.030 in 0.3966 s; 1.7286
    /// · 11.030 + 0.397 = 19.463 mA·s. Asleep 59.603 s · (1.7286 · 0.80091 + 1) = 142.12.
    /// 161.58 / 60 = 2.693 mA. (1175.0 − 19.5) / 2.693 / 3600 = 0.1192 h; ⌊1175.0 / 19.463⌋ = 60 wakes.
    /// </summary>
    [Fact]
    public void Half_a_farad_behind_a_converter_in_the_dark()
    {
        var plan = Plan(Dark(Pico, new(PowerKind.Capacitor, StepUp: true), 470_000, 4.5, 2));
        Holds(2.693, plan.Average);
        Holds(0.1192, plan.Harvest!.Dark!);
        Holds(60, plan.Harvest.Bursts!);
    }

    /// <summary>
    /// 100 mF from 3.6 to 2.25 V, a reading every 10 s: 1.5010 mA·s a wake, (1.5010 + 9.803 · 0.03091) / 10 = 0.1804 mA.
    /// (135 − 1.50) / 0.1804 / 3600 = 0.2056 h. By its sleep current alone it would be 1.2 h.
    /// </summary>
    [Fact]
    public void A_tenth_of_a_farad_that_is_read_every_ten_seconds()
    {
        var node = Dark(Small, new(PowerKind.Capacitor), 100_000, 3.6, 2.25);
        var plan = Plan(node with { Readings = [node.Readings[0] with { IntervalMs = 10_000 }] });
        Holds(0.1804, plan.Average);
        Holds(0.2056, plan.Harvest!.Dark!);
    }

    /// <summary>
    /// 60 cm² at 15 % under 500 lx, 8 h a day: 500 / 300 lm/W · 8 h = 13.333 Wh/m² · 0.006 m² · 0.15 · 0.85 / 3.65 V = 2.795
    /// mAh a day, of the 0.7581 · 24 = 18.194 that the node uses: 15.40 short in every month.
    /// </summary>
    [Fact]
    public void A_lamp_that_does_not_carry_a_node()
    {
        var plan = Plan(
            Node(
                C3,
                LinkKind.Wifi,
                On("cell-18650") with
                {
                    Harvest = new(60, 15, LightKind.Lamp, Lux: 500, HoursPerDay: 8),
                },
                ["bme280"],
                Samples.Every("t", "bme280", "temperature", 600_000)
            )
        );
        Assert.All(plan.Harvest!.Months, m => Holds(2.795, m.Gathered));
        Assert.All(plan.Harvest.Months, m => Assert.Equal(-15.40, m.Left, 0.02));
        Assert.Equal(12, plan.Harvest.ShortMonths.Count);
    }

    /// <summary>
    /// 40 cm² at 18 %, a table that says 500 Wh/m² in December and 5000 in June: 500 · 0.004 · 0.18 · 0.85 / 3.2 V = 95.63 mAh
    /// and 956.3 mAh a day, of 0.05036 mA · 24 = 1.209 (the LoRa node on LiFePO4): it is carried.
    /// </summary>
    [Fact]
    public void A_table_of_the_sun_that_carries_a_lora_node()
    {
        double[] table = [700, 1200, 2200, 3500, 4500, 5000, 4900, 4100, 2900, 1700, 900, 500];
        var plan = Plan(
            Node(
                Small,
                LinkKind.LongRange,
                On("lifepo4-18650") with
                {
                    Harvest = new(40, 18, LightKind.Table, WattHoursPerSquareMetre: table),
                },
                ["bme280", "lora-sx1276"],
                Samples.Every("t", "bme280", "temperature", 900_000)
            )
        );
        Holds(95.63, plan.Harvest!.Months[11].Gathered);
        Holds(956.3, plan.Harvest.Months[5].Gathered);
        Holds(1.209, plan.Harvest.Use);
        Assert.Empty(plan.Harvest.ShortMonths);
    }
}
