using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Tests.Catalogue;

public class PossibleValueTests
{
    private static readonly PartQuantity Air = Samples.Catalogue.Part("bme280")!.Quantities.Single(q => q.Quantity == "temperature");

    [Theory]
    [InlineData(21.5, null)]
    [InlineData(-127, null)] // a fault signature is looked at, not refused
    [InlineData(999, null)]
    [InlineData(-273.15, null)]
    [InlineData(-273.16, "below absolute zero")]
    [InlineData(29415, "Is it sent in another unit?")] // 294.15 K in hundredths
    [InlineData(1e15 + 1, "beyond")]
    [InlineData(-1.7e308, "beyond")]
    [InlineData(double.NaN, "beyond")]
    [InlineData(double.PositiveInfinity, "beyond")]
    public void A_temperature_is_refused_where_nothing_measures_it(double value, string? says)
    {
        var refusal = PossibleValue.Refusal(value, Air);
        Assert.True(says is null ? refusal is null : refusal!.Contains(says), refusal);
    }

    [Fact]
    public void Every_fault_signature_and_both_ends_of_every_range_can_be()
    {
        foreach (var part in Samples.Catalogue.Parts)
        {
            foreach (var quantity in part.Quantities)
            {
                Assert.All([quantity.Min ?? 0, quantity.Max ?? 1e9, .. part.Faults.Where(f => f.Quantity == quantity.Quantity).Select(f => f.Value)], v =>
                    Assert.Null(PossibleValue.Refusal(v, quantity))
                );
            }
        }
    }

    [Fact]
    public void Sums_of_what_is_taken_stay_finite() => Assert.True(double.IsFinite(PossibleValue.Most * long.MaxValue));
}
