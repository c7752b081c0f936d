using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Design;

/// <summary>What the ways to send have in common, and which radio of a board each takes.</summary>
public static class LinkKinds
{
    /// <summary>The ways by which a board sends message by message with a radio of its own.</summary>
    public static IReadOnlyList<LinkKind> OfBoards { get; } = [LinkKind.Frames, LinkKind.Advertising, LinkKind.CodedAdvertising, LinkKind.Ieee802154];

    /// <summary>Whether messages go one by one over a radio, to a gateway or a relay.</summary>
    public static bool IsPackets(this LinkKind link) => link is LinkKind.LongRange or LinkKind.Frames or LinkKind.Ieee802154 || link.IsAdvertised();

    /// <summary>Whether it goes out for anyone who listens, and nobody answers.</summary>
    public static bool IsAdvertised(this LinkKind link) => link is LinkKind.Advertising or LinkKind.CodedAdvertising or LinkKind.OnOffKeyed;

    /// <summary>Whether it takes a radio module or a modem among the parts.</summary>
    public static bool IsByModule(this LinkKind link) => link is LinkKind.LongRange or LinkKind.OnOffKeyed or LinkKind.TextMessage;

    /// <summary>Whether another node must hear what is sent, or the server never does.</summary>
    public static bool NeedsHearer(this LinkKind link) => link.IsPackets() || link == LinkKind.TextMessage;

    /// <summary>Whether who sends so can pass on what it hears of others: its radio hears as well.</summary>
    public static bool CanRelay(this LinkKind link) => link.IsPackets() && link != LinkKind.OnOffKeyed;

    /// <summary>Whether it sends only when it hears nobody else.</summary>
    public static bool ListensFirst(this LinkKind link) => link is LinkKind.Wifi or LinkKind.Frames or LinkKind.Ieee802154;

    /// <summary>What a board must have to send so; null where a part or nothing is needed.</summary>
    public static RadioKind? RadioOf(this LinkKind link) =>
        link switch
        {
            LinkKind.Wifi or LinkKind.Frames => RadioKind.Wifi,
            LinkKind.Advertising or LinkKind.CodedAdvertising => RadioKind.Bluetooth,
            LinkKind.Ieee802154 => RadioKind.Mesh,
            LinkKind.Cable => RadioKind.Ethernet,
            _ => null,
        };

    /// <summary>Whether a board can send so by itself, or needs nothing for it.</summary>
    public static bool Sends(this Board board, LinkKind link) =>
        link.RadioOf() is not { } kind || board.Radios.Any(r => r.Kind == kind && (!link.IsPackets() || r.Sends(link)));

    /// <summary>Whether it is known how a radio sends so; the coded rate is one of Bluetooth 5.</summary>
    public static bool Sends(this Radio radio, LinkKind link) =>
        link == LinkKind.CodedAdvertising ? radio.Packets?.CodedSensitivityDbm is not null : radio.Packets is not null;

    /// <summary>What it is called in a sentence.</summary>
    public static string Name(this LinkKind link) =>
        link switch
        {
            LinkKind.Wifi => "Wi-Fi",
            LinkKind.Frames => "Wi-Fi frames",
            LinkKind.Advertising => "Bluetooth advertising",
            LinkKind.CodedAdvertising => "coded Bluetooth advertising",
            LinkKind.Ieee802154 => "IEEE 802.15.4",
            LinkKind.Cable => "socket for a network cable",
            LinkKind.LongRange => "radio module",
            LinkKind.OnOffKeyed => "on-off keying",
            LinkKind.TextMessage => "text messages",
            LinkKind.SerialCable => "serial cable",
            _ => "storage card",
        };
}
