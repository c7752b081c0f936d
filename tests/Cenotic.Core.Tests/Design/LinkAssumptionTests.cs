using Cenotic.Core.Design;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.Design;

public class LinkAssumptionTests
{
    private static readonly NodeDesign Sender = Samples.Node(("air", "bme280"), ("radio", "lora-sx1276")) with { Link = LinkKind.LongRange, Via = "gateway" };

    private static Evidence Heard(long heard, long sent) => Evidence.None with { Links = [new(Sender.Key, LinkKind.LongRange, heard, sent)] };

    [Fact]
    public void The_makers_own_figure_counts_most_then_what_was_heard_then_what_is_usual()
    {
        var own = Sender with { Sending = new(DeliveredShare: 0.42) };
        Assert.Equal(0.42, LinkAssumption.Of(own, Heard(100, 100)).Delivered);
        Assert.Equal(LinkAssumption.UsualOfModule, LinkAssumption.Of(Sender, Evidence.None).Delivered);
        Assert.Equal(LinkAssumption.UsualOfModule, LinkAssumption.Of(Sender, Heard(10, LinkHistory.FewestSent - 1)).Delivered);
        var planned = new LinkAssumption(Sender.Key, "gateway", 0.7, 0.6, 0.8, "plan");
        Assert.Equal(planned, LinkAssumption.Of(Sender, Evidence.None, planned));
        Assert.Equal(1, LinkAssumption.Of(Sender, Heard(100, 100), planned).Delivered);
        Assert.Equal(0.42, LinkAssumption.Of(own, Evidence.None, planned).Delivered);
        Assert.Equal("gateway", LinkAssumption.Of(Sender, Evidence.None).Receiver);
        // What was heard by one link says nothing of another.
        Assert.Equal(1, LinkAssumption.Of(Sender with { Link = LinkKind.Wifi }, Heard(20, 100)).Delivered);
    }

    /// <summary>Of a link that lets one try in so many through, messages of three tries are counted; one that is not acknowledged is sent once.</summary>
    [Theory]
    [InlineData(0.5, true)]
    [InlineData(0.8, true)]
    [InlineData(0.8, false)]
    public void What_was_heard_of_whole_messages_gives_the_share_of_single_tries(double single, bool acknowledged)
    {
        var (chance, heard, sent) = (new Random(3), 0, 20_000);
        for (var message = 0; message < sent; message++)
        {
            heard += Enumerable.Range(0, acknowledged ? 3 : 1).Any(_ => chance.NextDouble() < single) ? 1 : 0;
        }
        var node = Sender with { Sending = new(Acknowledged: acknowledged, MostTries: 3) };
        Assert.Equal(single, LinkAssumption.Of(node, Heard(heard, sent)).Delivered, 0.02);
    }

    [Fact]
    public void A_link_that_is_heard_badly_costs_current()
    {
        var node = Sender with { Readings = [Samples.Every("t", "air", "temperature", 60_000)] };
        double Draws(Evidence evidence) => SitePlanner.Plan(Samples.Site(node), Samples.Catalogue, evidence).Node(node.Key)!.Rhythm.Average.Value!.Value;
        Assert.True(Draws(Heard(500, 1_000)) > Draws(Heard(999, 1_000)));
    }
}
