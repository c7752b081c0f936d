namespace Cenotic.Core.Electrical;

/// <summary>A resistor read through a divider: the sensor to ground, a reference to the supply. Source: Ohm's law.</summary>
public static class ResistiveSender
{
    /// <summary>Resistance in ohm from the voltage across it: R = Rtop V / (Vs - V).</summary>
    public static double Ohms(double supplyVolts, double referenceOhms, double volts) => referenceOhms * volts / (supplyVolts - volts);

    /// <summary>Voltage across it, volts.</summary>
    public static double Volts(double supplyVolts, double referenceOhms, double ohms) => supplyVolts * ohms / (referenceOhms + ohms);

    /// <summary>A value by a table of (ohm, value) rows, straight between them and held at the ends.</summary>
    /// <exception cref="ArgumentException">The table has no row.</exception>
    public static double FromTable(IReadOnlyList<(double Ohms, double Value)> table, double ohms)
    {
        if (table.Count == 0)
        {
            throw new ArgumentException("At least one row.", nameof(table));
        }
        var rows = table.OrderBy(r => r.Ohms).ToList();
        if (ohms <= rows[0].Ohms)
        {
            return rows[0].Value;
        }
        for (var i = 1; i < rows.Count; i++)
        {
            if (ohms <= rows[i].Ohms)
            {
                return rows[i - 1].Value + (rows[i].Value - rows[i - 1].Value) * (ohms - rows[i - 1].Ohms) / (rows[i].Ohms - rows[i - 1].Ohms);
            }
        }
        return rows[^1].Value;
    }
}
