using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;

namespace Cenotic.Core.BringUp;

/// <summary>A way to send, for one board.</summary>
/// <param name="BoardCan">False where the board lacks the radio or the socket for it. What a part does, every board can.</param>
/// <param name="ClientSends">Whether the client that comes with the settings of a node sends so by itself: it speaks MQTT over sockets. For all others it makes
/// the messages and repeats them until they are answered, and the maker's program hands them to the radio.</param>
public sealed record WayToSend(LinkKind Link, bool BoardCan, bool ClientSends);

/// <summary>The ways to send of a board.</summary>
public sealed record WaysToSend(string Board, IReadOnlyList<WayToSend> Ways)
{
    /// <summary>All ways there are, in their order. Pure.</summary>
    public static WaysToSend Of(Board board) => new(board.Id, [.. Enum.GetValues<LinkKind>().Select(l => Of(board, l))]);

    private static WayToSend Of(Board board, LinkKind link)
    {
        // Nobody here knows how a board without a time to connect gets onto a network.
        var can = board.Sends(link) && (link != LinkKind.Wifi || board.ConnectMs is not null);
        return new(link, can, can && link is (LinkKind.Wifi or LinkKind.Cable));
    }
}
