using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Bench;

/// <summary>The lines of expanders and converters as pins: what the assignment sees beside the pins of the board.</summary>
internal static class HelperPins
{
    /// <summary>A pin of a chip stands its supply and a little more, volts: data sheets, from memory.</summary>
    private const double AboveSupplyVolts = 0.3;

    /// <summary>The pins a helper lends; ids are "part:LINE".</summary>
    internal static IEnumerable<Pin> Of(Connection helper, Board board, NodeSupply supply) =>
        helper.Part.Helper!.Lines.Select(
            (line, at) =>
                new Pin(
                    $"{helper.Instance.Key}:{line.Name}",
                    line.Name,
                    helper.Part.Helper.Kind == HelperKind.Converter ? PinKind.Analog : PinKind.Gpio,
                    null,
                    at < helper.Part.Helper.Lines.Count / 2 ? HeaderSide.Left : HeaderSide.Right,
                    at,
                    PinUse.Free,
                    line.Input,
                    line.Output,
                    PullUp: helper.Part.Helper.Kind == HelperKind.Expander,
                    PullDown: false,
                    Adc: helper.Part.Helper.Kind == HelperKind.Converter ? $"{helper.Instance.Key}.{at}" : null,
                    Dac: null,
                    Touch: null,
                    Pwm: null,
                    I2c: [],
                    Spi: [],
                    Uart: [],
                    Wakes: false,
                    Interrupt: false,
                    Hazards: line.WeakHigh ? [new PinHazard(Hazard.WeakHigh, "Its high gives about 0.1 mA only.")]
                        : line.ContactOnly ? [new PinHazard(Hazard.ContactOnly, "An optocoupler's LED hangs on it.")]
                        : [],
                    Rail: null,
                    MaxVolts: (supply.For(helper.Part, board)?.Volts ?? board.LogicVolts) + AboveSupplyVolts
                )
        );

    /// <summary>True for a line of a helper.</summary>
    internal static bool IsHelper(Pin pin) => pin.Id.Contains(':', StringComparison.Ordinal);
}
