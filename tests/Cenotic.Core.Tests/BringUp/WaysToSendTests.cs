using Cenotic.Core.BringUp;
using Cenotic.Core.Design;

namespace Cenotic.Core.Tests.BringUp;

/// <summary>Which boards send how, and what the client does of it: by what the data sheets of the chips say of their radios.</summary>
public class WaysToSendTests
{
    [Theory]
    [InlineData("esp8266-dev-30", "wifi frames")]
    [InlineData("esp32-dev-38", "wifi frames advertising")]
    [InlineData("esp32-eth-rmii-26", "wifi cable frames advertising")]
    [InlineData("rp2040-40", "")]
    [InlineData("atmega328p-5v-mini-30", "")]
    [InlineData("nrf52840-module-24", "advertising codedAdvertising ieee802154")]
    public void A_board_sends_by_the_radios_of_its_chip(string board, string ways)
    {
        LinkKind[] ofParts = [LinkKind.LongRange, LinkKind.Card, LinkKind.SerialCable, LinkKind.OnOffKeyed, LinkKind.TextMessage];
        var can = WaysToSend.Of(Samples.Board(board)).Ways.Where(w => w.BoardCan).Select(w => w.Link).ToList();
        Assert.Equal(ofParts, can.Intersect(ofParts));
        Assert.Equal(
            ways.Split(' ', StringSplitOptions.RemoveEmptyEntries).Order(),
            can.Except(ofParts).Select(l => char.ToLowerInvariant($"{l}"[0]) + $"{l}"[1..]).Order()
        );
    }

    /// <summary>Its transport is MQTT over sockets: nothing else, and not where the board has no network.</summary>
    [Fact]
    public void The_client_sends_over_networks_only() =>
        Assert.All(Samples.Catalogue.Boards.SelectMany(b => WaysToSend.Of(b).Ways), w =>
            Assert.Equal(w.BoardCan && w.Link is LinkKind.Wifi or LinkKind.Cable && w.BoardCan, w.ClientSends)
        );
}
