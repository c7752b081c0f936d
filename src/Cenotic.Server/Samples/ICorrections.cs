namespace Cenotic.Server.Samples;

/// <summary>What turns the raw values of readings into true ones as they are written.</summary>
public interface ICorrections
{
    /// <summary>The true value to a raw one of a reading at a time.</summary>
    /// <param name="t">UTC ms of site time.</param>
    double Value(int reading, long t, double raw);

    /// <summary>Whether a raw value lies beyond the ends of the table that corrects it.</summary>
    /// <param name="t">UTC ms of site time.</param>
    bool IsBeyond(int reading, long t, double raw);
}
