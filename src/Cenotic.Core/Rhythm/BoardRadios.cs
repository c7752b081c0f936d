using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Rhythm;

/// <summary>The radios of boards that send message by message: what the standards say of their packets, with what the board says of its radio.</summary>
internal static class BoardRadios
{
    /// <summary>What a standard says of the packets of a radio.</summary>
    /// <param name="OverheadBytes">All besides the message, as bytes at the rate of the message.</param>
    private sealed record Format(double BitsPerSecond, int OverheadBytes, int LargestBytes, int Copies, double? AnswerMs, double Megahertz);

    /// <summary>802.11b at 1 Mbit/s: long preamble and header 192 µs (24 bytes), MAC header 24, category and vendor element 15, check 4; the answer is 14 bytes
    /// after 192 µs and a gap of 10 µs. Source: IEEE 802.11; the element of 15 bytes and 250 of payload from memory.</summary>
    private static readonly Format Frames = new(1e6, 24 + 24 + 15 + 4, 250, 1, 0.010 + 0.192 + 14 * 8 / 1000.0, 2442);

    /// <summary>Advertising at 1 Mbit/s: preamble 1, access address 4, header 2, address 6, check 3, and of 31 bytes of data 4 for length, type and company;
    /// each goes out on three channels. Source: Bluetooth Core Specification, volume 6 part B, 2.1 and 2.3, volume 3 part C, 11.</summary>
    private static readonly Format Advertising = new(1e6, 1 + 4 + 2 + 6 + 3 + 4, 27, 3, null, 2440);

    /// <summary>Extended advertising, coded at 125 kbit/s: a packet of n bytes takes 592 + 64 n µs (preamble 80, access address 256, coding 16 and 24, check
    /// 192, end 24). One of 9 bytes on each of three channels tells where the fourth is, which has 12 bytes and 4 of length, type and company before the
    /// message: 3 · 1168 + 592 + 16 · 64 = 5120 µs, as long as 80 bytes. At most 241 bytes go into it. Source: Bluetooth Core Specification, volume 6 part B,
    /// 2.2 and 2.3.4.</summary>
    private static readonly Format Coded = new(125e3, 80, 241, 1, null, 2440);

    /// <summary>250 kbit/s: preamble 4, start 1, length 1, frame control 2, number 1, network and two short addresses 6, check 2, of 127 bytes at most;
    /// the answer is 11 bytes after 12 symbols of 16 µs. Source: IEEE 802.15.4, 2.4 GHz O-QPSK.</summary>
    private static readonly Format LowRate = new(250e3, 6 + 2 + 1 + 6 + 2, 127 - 11, 1, 12 * 0.016 + 11 * 8 / 250.0, 2440);

    /// <summary>The radio of a board by which it sends so; null where it has none, or nobody here knows.</summary>
    /// <param name="set">How the node sets it.</param>
    internal static NodeRadio? Of(Board board, LinkKind link, RadioDesign? set)
    {
        if (!LinkKinds.OfBoards.Contains(link) || board.Radios.FirstOrDefault(r => r.Kind == link.RadioOf() && r.Sends(link))?.Packets is not { } packets)
        {
            return null;
        }
        var modem = Modem(FormatOf(link), packets, board.Currents) with { SensitivityDbm = SensitivityOf(link, packets), ListensFirst = link.ListensFirst() };
        return new(link, null, link.Name(), IdOf(link), link.Name(), modem, modem, Receiving(packets, board.Currents), set, packets.StartMs);
    }

    /// <summary>What it is called in settings and tables: frames, advertising, ieee802154.</summary>
    internal static string IdOf(LinkKind link) => link.ToString().ToLowerInvariant();

    private static Format FormatOf(LinkKind link) =>
        link switch
        {
            LinkKind.Frames => Frames,
            LinkKind.Advertising => Advertising,
            LinkKind.CodedAdvertising => Coded,
            _ => LowRate,
        };

    private static Fact SensitivityOf(LinkKind link, BoardPackets packets) =>
        link == LinkKind.CodedAdvertising ? packets.CodedSensitivityDbm! : packets.SensitivityDbm;

    private static Fact Receiving(BoardPackets packets, BoardCurrents currents) =>
        packets.ReceiveMilliamps ?? currents.WifiReceiveMilliamps ?? currents.ActiveMilliamps;

    private static RadioModem Modem(Format format, BoardPackets packets, BoardCurrents currents) =>
        new(
            0,
            0,
            0,
            0,
            packets.TransmitMilliamps ?? currents.WifiTransmitPeakMilliamps ?? currents.ActiveMilliamps,
            Receiving(packets, currents),
            format.BitsPerSecond,
            format.OverheadBytes,
            format.Megahertz,
            packets.PowerDbm,
            null,
            format.LargestBytes,
            format.Copies,
            format.AnswerMs
        );
}
