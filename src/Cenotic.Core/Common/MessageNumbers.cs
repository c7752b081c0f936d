namespace Cenotic.Core.Common;

/// <summary>What a message is by its numbers.</summary>
public enum Numbering
{
    /// <summary>Not stored before.</summary>
    Fresh,

    /// <summary>Sent again: it is stored already.</summary>
    Repeat,

    /// <summary>The first one after the counts of its node began anew.</summary>
    NewLife,
}

/// <summary>Where a message stands in the counts of its node.</summary>
/// <param name="Boot">Count of the node's starts (sys/boot).</param>
/// <param name="Number">Count of its messages since that start (sys/seq).</param>
public readonly record struct MessagePlace(long Boot, long Number);

/// <summary>A message as it is known of.</summary>
/// <param name="Digest">Of what it says, without its times; null when nobody noted it.</param>
/// <param name="ReceivedMs">UTC ms of site time.</param>
public readonly record struct NumberedMessage(MessagePlace Place, long? Digest, long ReceivedMs);

/// <summary>
/// Reads the counts of starts and messages that nodes send. A node that had its flash erased, or another board in its
/// place, counts anew: what it says then is new, although those numbers were there before. Pure.
/// </summary>
public static class MessageNumbers
{
    /// <summary>Messages of this many starts ago may still come out of a node's queue; beyond it the counts began anew. Our own choice.</summary>
    public const long StartsOfAQueue = 8;

    /// <summary>A message is sent again within this time at the most when its numbers lie far below the newest. Our own choice.</summary>
    public const long RepeatedWithinMs = 86_400_000;

    /// <summary>Runs of numbers are cut here, so that a counter of 32 bits that goes round is no loss of four thousand million.</summary>
    public const long RunLength = 1L << 31;

    /// <summary>What a message is.</summary>
    /// <param name="same">The message of the same life with the same numbers; null when there is none.</param>
    /// <param name="newest">The highest numbers of the life so far; null when there are none.</param>
    /// <param name="saysReset">True when it says why its node started (sys/rst).</param>
    public static Numbering Judge(NumberedMessage message, NumberedMessage? same, MessagePlace? newest, bool saysReset)
    {
        var farBelow = newest is { } highest && message.Place.Boot < highest.Boot - StartsOfAQueue;
        if (same is not { } stored)
        {
            return saysReset && newest is { } last && message.Place.Boot < last.Boot ? Numbering.NewLife : Numbering.Fresh;
        }
        if (stored.Digest is { } digest && digest != message.Digest)
        {
            return Numbering.NewLife;
        }
        return farBelow && message.ReceivedMs - stored.ReceivedMs > RepeatedWithinMs ? Numbering.NewLife : Numbering.Repeat;
    }

    /// <summary>Messages that are missing between the numbers of a run that came: of one life, start and stretch of <see cref="RunLength"/>.</summary>
    /// <param name="count">How many different numbers came.</param>
    public static long Lost(long first, long last, long count) => last - first + 1 - count;
}
