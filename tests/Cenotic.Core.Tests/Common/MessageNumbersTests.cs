using Cenotic.Core.BringUp;
using Cenotic.Core.Common;

namespace Cenotic.Core.Tests.Common;

/// <summary>Counts of starts and messages: what is a repeat, what is new, and what is lost.</summary>
public class MessageNumbersTests
{
    private const long Hour = 3_600_000,
        Day = 24 * Hour;

    private static Numbering Judge(
        (long Boot, long Number, long Digest, long At) message,
        (long? Digest, long At)? same,
        (long Boot, long Number)? newest,
        bool reset = false
    ) =>
        MessageNumbers.Judge(
            new(new(message.Boot, message.Number), message.Digest, message.At),
            same is { } s ? new NumberedMessage(new(message.Boot, message.Number), s.Digest, s.At) : null,
            newest is { } n ? new MessagePlace(n.Boot, n.Number) : null,
            reset
        );

    [Fact]
    public void The_same_numbers_with_the_same_words_are_a_repeat_and_with_others_a_new_life()
    {
        Assert.Equal(Numbering.Fresh, Judge((1, 1, 7, 0), null, null));
        Assert.Equal(Numbering.Repeat, Judge((5, 9, 7, Hour), (7, 0), (5, 9)));
        Assert.Equal(Numbering.NewLife, Judge((5, 9, 8, Hour), (7, 0), (5, 9)));
        // A message stored before anybody noted what it said is taken for the same.
        Assert.Equal(Numbering.Repeat, Judge((5, 9, 8, Hour), (null, 0), (5, 9)));
    }

    [Fact]
    public void A_queue_of_an_earlier_start_is_new_and_numbers_far_below_repeat_for_a_day_only()
    {
        Assert.Equal(Numbering.Fresh, Judge((56, 3, 7, Hour), null, (57, 1)));
        Assert.Equal(Numbering.Fresh, Judge((1, 3, 7, Hour), null, (57, 1)));
        Assert.Equal(Numbering.Repeat, Judge((1, 1, 7, Hour), (7, 0), (57, 1)));
        Assert.Equal(Numbering.NewLife, Judge((1, 1, 7, 2 * Day), (7, 0), (57, 1)));
        // A link that was down for two days: its numbers are the newest.
        Assert.Equal(Numbering.Repeat, Judge((57, 1, 7, 2 * Day), (7, 0), (57, 1)));
        Assert.Equal(Numbering.NewLife, Judge((1, 0, 7, Hour), null, (57, 1), reset: true));
        Assert.Equal(Numbering.Fresh, Judge((58, 0, 7, Hour), null, (57, 1), reset: true));
    }

    [Fact]
    public void A_counter_of_32_bits_that_goes_round_is_no_loss_of_four_thousand_million()
    {
        var around = new long[] { 4_294_967_293, 4_294_967_294, 4_294_967_295, 0, 1, 3 };
        Assert.Equal(1, RangeWalk.Of([.. around.Select((n, i) => new WalkMessage(i, 1, n, null))]).Lost);
    }
}
