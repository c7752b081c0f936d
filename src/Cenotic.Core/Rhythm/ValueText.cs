using System.Globalization;
using Cenotic.Core.Catalogue;

namespace Cenotic.Core.Rhythm;

/// <summary>How long the text of a value gets.</summary>
internal static class ValueText
{
    /// <summary>For a quantity whose range is not known.</summary>
    private const double UnknownRange = 99_999;

    /// <summary>The value in the range of a quantity whose text is longest: just inside the ends, so that its decimals show.</summary>
    internal static double Longest(PartQuantity? quantity, int decimals)
    {
        if (quantity is { Kind: ReadingKind.State or ReadingKind.Event })
        {
            return 1;
        }
        var step = Math.Pow(10, -decimals);
        double[] ends = [(quantity?.Min ?? 0) + step, (quantity?.Max ?? UnknownRange) - step];
        return ends.Select(v => Math.Round(v, decimals)).MaxBy(v => Text(v).Length);
    }

    internal static string Text(double value) => value.ToString("R", CultureInfo.InvariantCulture);
}
