using System.Text;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Core.Rehearsal;

namespace Cenotic.Core.Tests.Rehearsal;

public class NodeBehaviourTests
{
    private const long Start = 1_790_000_000_000;

    private static NodeBehaviour Behaviour(string node, int seed = 1)
    {
        var file = Samples.Fernhollow();
        return new(
            file.Design.Node(node)!,
            SitePlanner.Plan(file.Design, Samples.Catalogue, file.Evidence).Node(node)!.Rhythm,
            Samples.Catalogue,
            seed,
            7,
            Start
        );
    }

    private static List<NodeMessage> Play(NodeBehaviour behaviour, long forMs, long stepMs, WorldControl? control = null)
    {
        var messages = new List<NodeMessage>();
        for (var t = Start; t < Start + forMs; t += stepMs)
        {
            messages.AddRange(behaviour.Advance(t, control ?? WorldControl.Calm));
        }
        return messages;
    }

    [Fact]
    public void It_keeps_the_schedule_that_rhythm_computed()
    {
        var messages = Play(Behaviour("drying"), 600_000, 1_000);
        var names = messages.SelectMany(m => Senml.Read(m.Payload).Value).GroupBy(r => r.Name).ToDictionary(g => g.Key, g => g.Count());
        Assert.Equal(60, names["temp"]);
        Assert.Equal(10, names["pressure"]);
        Assert.Equal(60, names["rack4"]);
        Assert.Equal(messages.Count, names["sys/seq"]);
        Assert.Equal(Enumerable.Range(1, messages.Count).Select(n => (long)n), messages.Select(m => m.Number));
    }

    /// <summary>Asked also in between at any time, a node has nothing to send but at the moments that it names.</summary>
    [Theory]
    [InlineData("hall")]
    [InlineData("drying")]
    [InlineData("cistern")]
    [InlineData("parcel")]
    [InlineData("gateway")]
    public void Nothing_happens_before_the_moment_that_it_names(string node)
    {
        var (asked, waits, chance) = (Behaviour(node), Behaviour(node), new Random(1));
        var (messages, looks, between) = (0, 0, 0);
        for (long t = Start, next; t < Start + 26 * 3_600_000; t = next, looks++)
        {
            var sent = waits.Advance(t, WorldControl.Calm);
            Assert.Equal(sent.Select(m => m.Payload), asked.Advance(t, WorldControl.Calm).Select(m => m.Payload));
            messages += sent.Count;
            next = waits.NextAt(t, WorldControl.Calm);
            for (var at = t + chance.NextInt64(1 + (next - t) / 4); at < next; at += 1 + chance.NextInt64(1 + (next - t) / 4), between++)
            {
                Assert.Empty(asked.Advance(at, WorldControl.Calm));
            }
        }
        Assert.True(messages > 2 && between > 2 * looks, $"{messages} messages, asked {between} times between {looks} looks");
        Assert.True(looks <= 3 * messages + 20, $"{looks} looks for {messages} messages");
    }

    [Fact]
    public void The_same_seed_plays_the_same_and_another_does_not()
    {
        string Text(int seed) => string.Join("\n", Play(Behaviour("hall", seed), 900_000, 500).Select(m => Encoding.UTF8.GetString(m.Payload)));
        Assert.Equal(Text(1), Text(1));
        Assert.NotEqual(Text(1), Text(2));
    }

    [Fact]
    public void A_trip_is_sent_at_once_and_heat_shows()
    {
        var quiet = Behaviour("hall");
        Play(quiet, 5_000, 500);
        var tripped = quiet.Advance(Start + 5_500, new(0, Start + 60_000));
        Assert.Contains(tripped.SelectMany(m => Senml.Read(m.Payload).Value), r => r is { Name: "motion", Value: 1 });
        double Air(double heat) => World.Value(1, "drying", "air", "temperature", Start, new(heat, 0));
        Assert.Equal(10, Air(10) - Air(0), 1e-9);
    }

    [Fact]
    public void A_node_that_slept_through_its_wakes_sends_the_newest_only()
    {
        var node = Behaviour("cistern");
        node.Advance(Start, WorldControl.Calm);
        Assert.Single(node.Advance(Start + 10 * 900_000, WorldControl.Calm));
    }

    [Fact]
    public void Values_stay_in_the_range_of_the_sensor()
    {
        foreach (var t in Enumerable.Range(0, 500).Select(i => Start + i * 777_777L))
        {
            Assert.InRange(World.Value(3, "cistern", "echo", "distance", t, WorldControl.Calm), 0.02, 4);
            Assert.InRange(World.Value(3, "drying", "air", "humidity", t, WorldControl.Calm), 0, 100);
        }
    }

    [Fact]
    public void In_test_mode_it_sends_every_second_until_its_time_is_up_or_the_link_is_lost()
    {
        var node = Behaviour("drying");
        Play(node, 2_000, 500);
        int Sent(long from, long forMs)
        {
            var count = 0;
            for (var t = from; t < from + forMs; t += 250)
            {
                count += node.Advance(Start + t, WorldControl.Calm).Count(m => Senml.Read(m.Payload).Value.Any(r => r.Name == "pressure"));
            }
            return count;
        }
        node.Hear(new(5, OutputCommand.Test, true, Start + 60_000, 30_000), Start + 2_000, Start + 2_000);
        Assert.True(node.IsOn(OutputCommand.Test));
        Assert.Equal(20, Sent(2_000, 20_000));
        // 30 s at most, however long the lease: then pressure comes once a minute again.
        Assert.InRange(Sent(22_000, 100_000), 11, 13);
        Assert.False(node.IsOn(OutputCommand.Test));
        node.Hear(new(6, OutputCommand.Test, true, Start + 300_000, 100_000), Start + 130_000, Start + 130_000);
        node.LinkLost();
        Assert.False(node.IsOn(OutputCommand.Test));
    }
}
