using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;

namespace Cenotic.Core.Tests.Planning;

/// <summary>The longest message of a node, counted by hand.</summary>
public class MessageTests
{
    private static readonly NodeDesign Air = Samples.Node(("air", "bme280")) with
    {
        Readings = [Samples.Every("t", "air", "temperature", 60_000) with { Decimals = 1 }],
    };

    private static NodePlan Plan(NodeDesign node) => SitePlanner.Plan(Samples.Site(node), Samples.Catalogue, Evidence.None, "s").Node(node.Key)!;

    /// <summary>
    /// The longest temperature of the part is -39.9. Flat: { and } 2, "t":-39.9 9, "sys/boot":4294967295 21, "sys/seq":4294967295 20, two commas: 54 bytes.
    /// Before it 1 + 1 of the fixed header, 2 + topic, 2 of the packet's number.
    /// </summary>
    [Fact]
    public void The_flat_form_is_counted_beside_senml()
    {
        var figures = Plan(Air).Rhythm.Figures;
        var flat = figures.Single(f => f.Label == "Longest message, flat");
        Assert.Equal(1 + 1 + 2 + Topics.Data("s", "n").Length + 2 + 54, flat.Value);
        Assert.True(flat.Value < figures.Single(f => f.Label == "Longest message").Value);
        Assert.Contains(flat.Working.Inputs, i => i is { Name: "payload", Value: 54 });
    }

    /// <summary>Values of several times do not go into one object.</summary>
    [Fact]
    public void A_batch_has_no_flat_form() =>
        Assert.DoesNotContain(Plan(Air with { Readings = [Air.Readings[0] with { BatchOf = 2 }] }).Rhythm.Figures, f => f.Label == "Longest message, flat");

    [Fact]
    public void A_message_that_fits_when_it_is_written_flat_is_told_so()
    {
        var size = (int)Plan(Air).Rhythm.Figures.Single(f => f.Label == "Longest message, flat").Value!.Value;
        string Advice(int buffer) => Plan(Air with { Sending = new(BufferBytes: buffer) }).Rhythm.Findings.Single(f => f.Code == "RHYTHM-MESSAGE-BIG").Advice!;
        Assert.Contains($"Written flat, as one object of readings and numbers, it has {size} bytes and fits.", Advice(size));
        Assert.DoesNotContain("flat", Advice(size - 1));
    }
}
