using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.Design;

/// <summary>One time of silence for all who wait for a reading.</summary>
public class SilenceTests
{
    [Theory]
    // Two and a half times what may pass between two messages, and five seconds.
    [InlineData(60_000L, null, 1, 155_000L)]
    // Ten values a minute apart come together each ten minutes.
    [InlineData(60_000L, null, 10, 1_505_000L)]
    [InlineData(null, 600_000L, 1, 1_505_000L)]
    [InlineData(null, null, 1, null)]
    public void A_reading_is_silent_once_two_messages_must_be_lost(long? interval, long? heartbeat, int batch, long? silent) =>
        Assert.Equal(silent, new ReadingDesign("t", "T", "air", "temperature", interval, heartbeat, 1, batch).SilentMs);
}
