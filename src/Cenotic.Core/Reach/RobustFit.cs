using MathNet.Numerics.Distributions;
using MathNet.Numerics.LinearAlgebra;
using MathNet.Numerics.Statistics;

namespace Cenotic.Core.Reach;

/// <summary>
/// Least squares with a prior about 0 for each coefficient (ridge), in which what lies far from the rest counts less (Huber's weights). Source: Hoerl and
/// Kennard 1970; Huber, Robust Statistics, 1981, 7.6.
/// </summary>
internal sealed class RobustFit
{
    private const double HuberAt = 1.345,
        FarAway = 3,
        MadToSigma = 1.4826;
    private const int Rounds = 50;

    /// <param name="rows">A row of factors for each measurement, all of one length.</param>
    /// <param name="values">What was measured.</param>
    /// <param name="priors">How far each coefficient usually lies from 0.</param>
    /// <param name="usualSigma">Spread that is usual.</param>
    /// <param name="usualWeight">For how many measurements that counts.</param>
    internal RobustFit(IReadOnlyList<double[]> rows, IReadOnlyList<double> values, IReadOnlyList<double> priors, double usualSigma, double usualWeight)
    {
        var x = Matrix<double>.Build.DenseOfRowArrays(rows);
        var y = Vector<double>.Build.DenseOfEnumerable(values);
        var prior = Matrix<double>.Build.DiagonalOfDiagonalArray([.. priors.Select(p => 1 / (p * p))]);
        var weights = Vector<double>.Build.Dense(y.Count, 1);
        var (coefficients, sigma) = (Vector<double>.Build.Dense(priors.Count), usualSigma);
        Matrix<double> precision = prior;
        for (var round = 0; round < Rounds; round++)
        {
            var weighted = x.Transpose() * Matrix<double>.Build.DiagonalOfDiagonalVector(weights) / (sigma * sigma);
            precision = weighted * x + prior;
            coefficients = precision.Solve(weighted * y);
            var residuals = y - x * coefficients;
            var free = Math.Max(1, y.Count - (precision.Inverse() * (weighted * x)).Trace());
            var spread = MadToSigma * residuals.PointwiseAbs().Median() * Math.Sqrt(y.Count / free);
            sigma = Math.Sqrt((free * spread * spread + usualWeight * usualSigma * usualSigma) / (free + usualWeight));
            weights = residuals.Map(r => Math.Min(1, HuberAt * sigma / Math.Max(1e-12, Math.Abs(r))));
        }
        (Coefficients, Sigma) = (coefficients, sigma);
        Residuals = y - x * coefficients;
        Stands = [.. Residuals.Select(r => Math.Abs(r) <= FarAway * sigma)];
        Free = Math.Max(1, y.Count - priors.Count + usualWeight);
        Covariance = precision.Inverse();
        Halves = Bands(prior);
    }

    internal Vector<double> Coefficients { get; }

    /// <summary>Half of the band that holds the true coefficient 95 times of 100: the spread of the fit, and how far the prior may have drawn it.</summary>
    internal IReadOnlyList<double> Halves { get; }

    internal double Sigma { get; }

    /// <summary>Of the coefficients.</summary>
    internal Matrix<double> Covariance { get; }

    internal Vector<double> Residuals { get; }

    /// <summary>False for a measurement far from all others.</summary>
    internal IReadOnlyList<bool> Stands { get; }

    private double Free { get; }

    private double[] Bands(Matrix<double> prior)
    {
        var drawn = Covariance * (prior * Coefficients);
        var t = StudentT.InvCDF(0, 1, Free, 0.975);
        return [.. Coefficients.Select((_, j) => t * Math.Sqrt(Covariance[j, j] + drawn[j] * drawn[j]))];
    }
}
