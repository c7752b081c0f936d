using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Electrical;

namespace Cenotic.Core.Rhythm;

/// <summary>What a send takes: bytes on the air, time, tries and the wait for an acknowledgement.</summary>
internal static class Sending
{
    internal const int OverheadBytes = 8,
        BytesPerReading = 4,
        AcknowledgementBytes = 8;

    /// <summary>Largest payload of a packet of the LoRa radios, and of the others here (planning value).</summary>
    private const int LargestLoraBytes = 255,
        LargestPacketBytes = 32;

    internal static readonly Fact WifiSendMs = new(20, 50, 120, "planning value for one acknowledged message", Confidence.Prudent);
    private static readonly Fact TurnaroundMs = new(5, 20, 100, "planning value for a receiver to answer", Confidence.Prudent);

    /// <summary>The radio that a node sends its messages by, as the node sets it; null for one on a network or a card.</summary>
    internal static NodeRadio? RadioOf(NodeDesign node, HardwareCatalogue catalogue) => RadioFor(node, catalogue, node.Link);

    /// <summary>The radio of a node that sends so; null where it has none. Of several modules it is the first.</summary>
    internal static NodeRadio? RadioFor(NodeDesign node, HardwareCatalogue catalogue, LinkKind link) =>
        link.IsByModule() ? ModulesOf(node, catalogue).FirstOrDefault(m => m.Link == link && m.Modem.OneWay != OneWay.Hears)
        : link.IsPackets() && catalogue.Board(node.Board) is { } board ? BoardRadios.Of(board, link, SetOnBoard(node, catalogue))
        : null;

    /// <summary>Whether a part is a module or a modem that sends so.</summary>
    internal static bool SendsSo(Part? part, LinkKind link) =>
        link == LinkKind.TextMessage ? part?.Texts is not null : part?.Modem is { } modem && LinkOf(modem) == link && modem.OneWay != OneWay.Hears;

    /// <summary>The modem that a node sends or takes text messages with; null where it has none.</summary>
    internal static (PartInstance Instance, Part Part)? TextModemOf(NodeDesign node, HardwareCatalogue catalogue) =>
        node.Parts.Select(i => (Instance: i, Part: catalogue.Part(i.Part))).FirstOrDefault(p => p.Part?.Texts is not null) is { Part: { } part } modem
            ? (modem.Instance, part)
            : null;

    /// <summary>Text messages that so many bytes take.</summary>
    internal static int Texts(TextModem modem, int bytes) => (bytes + modem.LargestBytes - 1) / modem.LargestBytes;

    /// <summary>The way to send that a module is for.</summary>
    private static LinkKind LinkOf(RadioModem modem) => modem.OneWay is null ? LinkKind.LongRange : LinkKind.OnOffKeyed;

    /// <summary>All radios of a node for messages one by one: its modules in their order, those that do both first, then those of its board.</summary>
    internal static IEnumerable<NodeRadio> RadiosOf(NodeDesign node, HardwareCatalogue catalogue) =>
        ModulesOf(node, catalogue).Concat(LinkKinds.OfBoards.Select(l => RadioFor(node, catalogue, l)).OfType<NodeRadio>());

    /// <summary>The radio with which a gateway hears what is sent on a channel; where it has none on that channel, the first for that way to send.</summary>
    /// <param name="channel">Null for whichever.</param>
    internal static NodeRadio? HearsWith(NodeDesign gateway, HardwareCatalogue catalogue, LinkKind link, string? channel)
    {
        var alike = RadiosOf(gateway, catalogue).Where(r => r.Link == link && r.Modem.OneWay != OneWay.Sends).ToList();
        return alike.Find(r => r.Channel == channel) ?? alike.FirstOrDefault();
    }

    /// <summary>The radio module that a node sends by, also one that only listens with it: the first that does both, or else the first.</summary>
    internal static NodeRadio? ModuleOf(NodeDesign node, HardwareCatalogue catalogue) => ModulesOf(node, catalogue).FirstOrDefault();

    /// <summary>How the radios of the board of a node are set: as the node says, unless its first module is set so.</summary>
    internal static RadioDesign? SetOnBoard(NodeDesign node, HardwareCatalogue catalogue) =>
        ModuleOf(node, catalogue) is null or { SetOnPart: true } ? node.Radio : null;

    /// <summary>The modules of a site on a channel, also those that only hear.</summary>
    internal static IEnumerable<(NodeDesign Node, NodeRadio Radio)> OnChannel(SiteDesign site, HardwareCatalogue catalogue, string channel) =>
        site.Nodes.SelectMany(n => ModulesOf(n, catalogue).Where(r => r.Channel == channel).Select(r => (n, r)));

    /// <summary>Modules in the order of the parts, those that only send or only hear last. The settings of the node are for the first, unless it has its
    /// own.</summary>
    internal static IEnumerable<NodeRadio> ModulesOf(NodeDesign node, HardwareCatalogue catalogue)
    {
        var first = true;
        foreach (var oneWay in new[] { false, true })
        {
            foreach (var instance in node.Parts)
            {
                if (catalogue.Part(instance.Part) is { Modem: { } modem } part && modem.OneWay is not null == oneWay)
                {
                    var onPart = !first || instance.Radio is not null;
                    yield return Module(instance, part, onPart ? instance.Radio : node.Radio, onPart);
                    first = false;
                }
            }
        }
    }

    private static NodeRadio Module(PartInstance instance, Part part, RadioDesign? set, bool onPart) =>
        new(
            LinkOf(part.Modem!),
            instance.Key,
            instance.Label,
            part.Id,
            part.Label,
            AsSet(part.Modem!, set ?? new()),
            part.Modem!,
            part.ActiveMilliamps ?? part.Modem!.StandbyMilliamps,
            set
        )
        {
            SetOnPart = onPart,
        };

    /// <summary>Frequency and rate of what is keyed on and off stand fast: a resonator makes the one, both ends are built for the other.</summary>
    private static RadioModem AsSet(RadioModem modem, RadioDesign set) =>
        modem.OneWay is not null
            ? modem
            : modem with
            {
                Megahertz = set.FrequencyMegahertz ?? modem.Megahertz,
                SpreadingFactor = modem.IsLora ? set.SpreadingFactor ?? modem.SpreadingFactor : 0,
                BandwidthKilohertz = modem.IsLora ? set.BandwidthKilohertz ?? modem.BandwidthKilohertz : 0,
                CodingRate = modem.IsLora ? set.CodingRate ?? modem.CodingRate : 0,
                BitsPerSecond = modem.IsLora ? null : set.BitsPerSecond ?? modem.BitsPerSecond,
                HopChannels = set.HopChannels ?? modem.HopChannels,
            };

    /// <summary>Bytes of a radio message with so many values.</summary>
    internal static int Bytes(int values) => OverheadBytes + BytesPerReading * values;

    /// <summary>Time on air of a message, ms: in as many packets as it takes, each on as many channels as it is sent on.</summary>
    internal static double AirMs(RadioModem modem, int bytes)
    {
        var most = modem.LargestBytes ?? (modem.IsLora ? LargestLoraBytes : LargestPacketBytes);
        var packets = (bytes + most - 1) / most;
        var last = bytes - (packets - 1) * most;
        return modem.Copies * ((packets - 1) * PacketMs(modem, most) + PacketMs(modem, last));
    }

    /// <summary>Values in one send: each reading with its batch.</summary>
    internal static int Values(IReadOnlyList<ReadingDesign> sent) => sent.Sum(r => r.IntervalMs is null ? 1 : Math.Max(1, r.BatchOf));

    /// <summary>Time to listen for the answer, ms.</summary>
    internal static Fact ListenMs(RadioModem modem) =>
        modem.AnswerMs is { } own
            ? Fact.Of(own, "the radio answers at once")
            : TurnaroundMs with
            {
                Min = TurnaroundMs.Min + PacketMs(modem, AcknowledgementBytes),
                Typ = TurnaroundMs.Typ + PacketMs(modem, AcknowledgementBytes),
                Max = TurnaroundMs.Max + PacketMs(modem, AcknowledgementBytes),
                Source = $"answer of {AcknowledgementBytes} bytes and {TurnaroundMs.Source}",
            };

    /// <summary>Most time a send can take with all its tries, ms.</summary>
    internal static double LongestMs(NodeDesign node, HardwareCatalogue catalogue, IReadOnlyList<ReadingDesign> sent) =>
        LongestMs(node, catalogue, Bytes(Values(sent)));

    /// <summary>Most time a send of so many bytes can take with all its tries, ms.</summary>
    internal static double LongestMs(NodeDesign node, HardwareCatalogue catalogue, int bytes)
    {
        if (node.Link == LinkKind.Wifi)
        {
            return WifiSendMs.High;
        }
        if (RadioOf(node, catalogue) is not { Modem: var modem })
        {
            return 0;
        }
        var send = SendDesign.Of(node);
        return (AirMs(modem, bytes) + (send.Acknowledged ? ListenMs(modem).High : 0)) * send.MostSent;
    }

    /// <summary>Time on air of an answer, ms.</summary>
    internal static double AnswerMs(RadioModem modem) => modem.AnswerMs ?? AirMs(modem, AcknowledgementBytes);

    private static double PacketMs(RadioModem modem, int bytes) =>
        modem.BitsPerSecond is { } rate
            ? Airtime.PacketMs(rate, modem.OverheadBytes, bytes)
            : Airtime.LoraMs(modem.SpreadingFactor, modem.BandwidthKilohertz, modem.CodingRate, modem.PreambleSymbols, bytes);
}

/// <summary>A radio of a node with its settings.</summary>
/// <param name="Link">By what it sends.</param>
/// <param name="Key">Key of the module; null for a radio of the board.</param>
/// <param name="Name">What the maker calls the module.</param>
/// <param name="Id">Of the module in the catalogue, or of the radio of the board.</param>
/// <param name="Label">What such a radio is called.</param>
/// <param name="Modem">As the node sets it. Of a radio of the board its currents are those of the whole board.</param>
/// <param name="Usual">As it is unless told otherwise.</param>
/// <param name="ReceiveMilliamps">While it listens.</param>
/// <param name="Set">How the node sets it; null for the usual.</param>
/// <param name="StartMs">From the start of the board until it can send; null for none.</param>
internal sealed record NodeRadio(
    LinkKind Link,
    string? Key,
    string Name,
    string Id,
    string Label,
    RadioModem Modem,
    RadioModem Usual,
    Fact ReceiveMilliamps,
    RadioDesign? Set,
    Fact? StartMs = null
)
{
    internal bool IsOnBoard => Key is null;

    /// <summary>Whether its settings stand with the part, not with the node.</summary>
    internal bool SetOnPart { get; init; }

    /// <summary>The edit that sets it otherwise.</summary>
    /// <param name="node">The node that has it.</param>
    /// <param name="set">Null for as usual.</param>
    internal NodeEdit SetTo(NodeDesign node, RadioDesign? set)
    {
        set = set == new RadioDesign() ? null : set;
        return SetOnPart ? new PutPart(node.Key, node.Part(Key!)! with { Radio = set }) : SetNodes.As(node) with { Radio = set };
    }

    /// <summary>How it sends: "SF9" or "250 kbit/s".</summary>
    internal string Rate =>
        Modem.IsLora
            ? $"SF{Modem.SpreadingFactor}"
            : string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Modem.BitsPerSecond / 1000:0.##} kbit/s");

    /// <summary>Radios whose sends meet: the same frequency, bandwidth, rate and keying; of parts whose frequency is not known, the same part.</summary>
    internal string Channel
    {
        get
        {
            if (IsOnBoard)
            {
                return $"{Label}, 2.4 GHz";
            }
            var invariant = System.Globalization.CultureInfo.InvariantCulture;
            var frequency = Modem.Megahertz is { } f ? string.Create(invariant, $"{f:0.###} MHz") : Id;
            var rate = Modem.IsLora ? string.Create(invariant, $"{Rate} at {Modem.BandwidthKilohertz:0.###} kHz") : Rate;
            var hops = Modem.HopChannels is { } channels ? $", hopping over {channels} channels" : "";
            return $"{(Modem.OneWay is null ? "" : "on-off keyed, ")}{frequency}, {rate}{hops}";
        }
    }
}
