namespace Cenotic.Core.Electrical;

/// <summary>Steps and volts of an analog-to-digital converter. Source: the ideal converter (2^n steps); ADS1115 data sheet for the bipolar form.</summary>
public static class ConverterReading
{
    /// <summary>One step in µV of a unipolar converter: FS / 2^n.</summary>
    public static double StepMicrovolts(double fullScaleVolts, int bits) => fullScaleVolts / Math.Pow(2, bits) * 1e6;

    /// <summary>Volts of a count.</summary>
    public static double Volts(double counts, double fullScaleVolts, int bits) => counts * fullScaleVolts / Math.Pow(2, bits);

    /// <summary>One step in µV of a bipolar converter with a range of ± FS: FS / 2^(n-1).</summary>
    public static double BipolarStepMicrovolts(double fullScaleVolts, int bits) => StepMicrovolts(fullScaleVolts, bits - 1);

    /// <summary>Volts of a signed count of a bipolar converter.</summary>
    public static double BipolarVolts(double counts, double fullScaleVolts, int bits) => Volts(counts, fullScaleVolts, bits - 1);

    /// <summary>The converter's error in the unit of the quantity: error of full scale, times the span of the quantity, over the span of the voltage.</summary>
    public static double ErrorInUnit(double errorPercent, double fullScaleVolts, double quantitySpan, double voltsSpan) =>
        errorPercent / 100 * fullScaleVolts * quantitySpan / Math.Abs(voltsSpan);
}
