using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Tests;
using MathNet.Numerics.Distributions;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>What is found out with one's hands: a probe that is warmed, a contact that is opened, a node that is carried round, a label on the lid.</summary>
public class HandsOnTests
{
    private const long Start = 1_790_000_000_000;

    /// <summary>Four probes in a room for a minute, one of them in a hand from the tenth second on.</summary>
    private static List<ProbeReading> Minute(int seed, int? held, int seconds = 60)
    {
        var random = new Random(seed);
        return
        [
            .. from t in Enumerable.Range(0, seconds)
            from p in Enumerable.Range(0, 4)
            select new ProbeReading(
                Start + t * 1000,
                $"28-{p}",
                Math.Round((20 + p * 0.2 + Normal.Sample(random, 0, 0.05) + 0.003 * t + (p == held && t > 10 ? 7 * (1 - Math.Exp(-(t - 10) / 15.0)) : 0)) * 16)
                    / 16
            ),
        ];
    }

    [Fact]
    public void The_probe_in_the_hand_is_told_from_the_others_and_none_when_none_is_held()
    {
        for (var seed = 0; seed < 100; seed++)
        {
            var held = seed % 4;
            Assert.Equal($"28-{held}", ProbeWarming.Warmed(ProbeWarming.Of(Minute(seed, held)))?.Rom);
            // Never another one, however early it is asked.
            Assert.All(Enumerable.Range(1, 60), seconds =>
                Assert.Contains(ProbeWarming.Warmed(ProbeWarming.Of(Minute(seed, held, seconds)))?.Rom, new[] { null, $"28-{held}" })
            );
            Assert.Null(ProbeWarming.Warmed(ProbeWarming.Of(Minute(seed, null))));
        }
    }

    [Fact]
    public void Two_that_rise_together_are_not_guessed_at()
    {
        Assert.Null(ProbeWarming.Warmed([new("a", 25, 5), new("b", 24, 4)]));
        Assert.Equal("a", ProbeWarming.Warmed([new("a", 25, 5), new("b", 24, 1)])?.Rom);
        Assert.Null(ProbeWarming.Warmed([]));
    }

    private static ProofVerdict Prove(string part, string quantity, double? rest, double[] values, bool over = false)
    {
        var node = Samples.Node(("p", part)) with { Readings = [Samples.OnChange("r", "p", quantity)] };
        return LevelProof.Judge(node, node.Readings[0], rest, [.. values.Select((v, i) => new FirstValue(Start + i * 1000, v))], over);
    }

    [Theory]
    [InlineData("reed-contact", "contact", 1.0, new[] { 0.0, 1.0 })]
    [InlineData("pir-hc-sr501", "motion", 0.0, new[] { 1.0, 0.0 })]
    [InlineData("float-switch", "level", 0.0, new[] { 1.0, 1.0, 0.0 })]
    [InlineData("pir-hc-sr501", "motion", null, new[] { 1.0, 0.0 })]
    public void A_state_is_proven_when_it_goes_there_and_back(string part, string quantity, double? rest, double[] values)
    {
        var verdict = Prove(part, quantity, rest, values);
        Assert.True(verdict.Proven, verdict.Finding?.What);
        Assert.Null(verdict.Finding);
        Assert.False(Prove(part, quantity, rest, values[..1]).Proven);
    }

    [Theory]
    [InlineData("FIRST-UPSIDE-DOWN", "reed-contact", "contact", 0.0, new[] { 1.0 })]
    [InlineData("FIRST-UPSIDE-DOWN", "float-switch", "level", 1.0, new[] { 0.0, 1.0 })]
    [InlineData("FIRST-NOT-MOVED", "reed-contact", "contact", 1.0, new double[0])]
    [InlineData("FIRST-CHATTER", "reed-contact", "contact", 1.0, new[] { 0.0, 1, 0, 1, 0, 1, 0, 1 })]
    public void What_goes_wrong_with_a_state_is_named(string code, string part, string quantity, double? rest, double[] values)
    {
        Assert.Equal(code, Prove(part, quantity, rest, values, over: true).Finding?.Code);
        Assert.Contains(code, File.ReadAllText(Path.Combine(Floors.Root, "docs", "formulas.md")));
        // While there is time left, what has not moved may still.
        Assert.Equal(code == "FIRST-NOT-MOVED" ? null : code, Prove(part, quantity, rest, values).Finding?.Code);
    }

    [Fact]
    public void Only_states_of_sensors_are_proven_by_doing()
    {
        PartQuantity Of(string part, string quantity) => Samples.Catalogue.Part(part)!.Quantities.First(q => q.Quantity == quantity);
        Assert.True(LevelProof.Applies(Samples.OnChange("r", "p", "contact"), Of("reed-contact", "contact")));
        Assert.False(LevelProof.Applies(Samples.Every("r", "p", "temperature", 1000), Of("ds18b20", "temperature")));
        Assert.False(LevelProof.Applies(Samples.OnChange("r", "p", "relay") with { Output = new(OutputLoad.Fan, 60_000) }, Of("relay-5v-1ch", "relay")));
    }

    [Fact]
    public void A_walk_counts_what_was_lost_by_its_numbers_over_a_restart_too()
    {
        // 1, 2, 4, 5 of one start and 1, 3 of the next: two of eight are missing.
        WalkMessage[] messages =
        [
            .. new[] { (7, 1), (7, 2), (7, 4), (7, 5), (8, 1), (8, 3) }.Select((m, i) => new WalkMessage(Start + i * 1000, m.Item1, m.Item2, -80 - i)),
        ];
        var summary = RangeWalk.Of(messages);
        Assert.Equal((6, 2, -82.5, -85.0), (summary.Count, summary.Lost, summary.RssiMedian, summary.RssiLow));
        Assert.Equal(75, summary.Heard.Value);
        var silent = RangeWalk.Of([new(Start, null, null, null)]);
        Assert.Equal((1, null, null, null), (silent.Count, silent.Lost, silent.Heard.Value, silent.RssiMedian));
        Assert.Null(RangeWalk.Of([]).Lost);
    }

    /// <summary>
    /// Newcombe 1998, Two-sided confidence intervals for the single proportion, Statistics in Medicine 17, table I, method 3 (Wilson without continuity
    /// correction), from memory: 81/263 gives 0.2553 to 0.3662, 15/148 0.0624 to 0.1605.
    /// </summary>
    [Theory]
    [InlineData(81, 263, 0.2553, 0.3662)]
    [InlineData(15, 148, 0.0624, 0.1605)]
    public void The_band_of_a_share_is_that_of_the_literature(int heard, int sent, double low, double high)
    {
        // The first and the last number are heard, so that the whole span is known.
        var share = RangeWalk.Of([.. Enumerable.Range(1, heard - 1).Append(sent).Select(n => new WalkMessage(n, 1, n, null))]).Heard;
        Assert.Equal(low, share.Low!.Value / 100, 0.0001);
        Assert.Equal(high, share.High!.Value / 100, 0.0001);
    }

    [Fact]
    public void The_label_says_what_a_person_needs_who_opens_the_lid()
    {
        var design = Samples.Fernhollow().Design;
        var cistern = NodeLabel.Of(design.Node("cistern")!, Samples.Catalogue, "fernhollow", "1a2b");
        Assert.Equal("Cistern level", cistern.Name);
        Assert.Equal("2 × Li-ion cell 18650, side by side", cistern.Facts[0]);
        Assert.Contains("fernhollow/cistern, settings 1a2b", cistern.Facts);
        Assert.Contains("Charge to 3.65 V only", NodeLabel.Of(design.Node("rain")!, Samples.Catalogue, "f", "h").Facts);
        Assert.StartsWith(
            "12 V, fuse 1 A",
            NodeLabel.Of(design.Node("hall")! with { Power = new(PowerKind.TwelveVolt, FuseAmps: 1) }, Samples.Catalogue, "f", "h").Facts[0]
        );
    }
}
