using Cenotic.Core.Common;

namespace Cenotic.Core.Tests.Common;

public class FigureTests
{
    private static readonly Working None = new("", [], "");

    [Theory]
    [InlineData(double.NaN)]
    [InlineData(double.PositiveInfinity)]
    public void A_figure_is_finite(double value) => Assert.Throws<ArgumentException>(() => Figure.Exact("x", value, "V", None));

    [Fact]
    public void A_band_holds_its_value()
    {
        Assert.Throws<ArgumentException>(() => new Figure("x", 5, 6, 7, "V", None));
        Assert.Equal(5, new Figure("x", 5, 5, 7, "V", None).Value);
    }

    [Fact]
    public void What_is_unknown_names_the_missing_fact() => Assert.Contains("transmit peak", Figure.Unknown("x", "mA", "transmit peak").Working.Formula);

    [Fact]
    public void A_fact_with_one_end_plans_with_it()
    {
        Assert.Equal(2000, new Fact(null, null, 2000, "", Confidence.DataSheet).Likely);
        Assert.Equal(7.5, new Fact(5, null, 10, "", Confidence.Typical).Likely);
        Assert.Throws<InvalidOperationException>(() => new Fact(null, null, null, "", Confidence.Typical).Likely);
    }

    [Fact]
    public void A_refusal_has_a_reason_and_no_value()
    {
        var refused = Outcome<int>.Refused("no");
        Assert.False(refused.TryGet(out _));
        Assert.Throws<InvalidOperationException>(() => refused.Value);
        Assert.Throws<ArgumentException>(() => Outcome<int>.Refused());
    }

    [Theory]
    [InlineData(Unit.Celsius, "Cel")] // RFC 8428 section 12.1
    [InlineData(Unit.RelativeHumidity, "%RH")]
    [InlineData(Unit.Lux, "lx")]
    [InlineData(Unit.Metre, "m")]
    public void Units_have_their_senml_names(string unit, string senml) => Assert.Equal(senml, Unit.ToSenml(unit));
}
