using Cenotic.Core.Alerts;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Samples;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>What is usual for the readings that rules ask about, learnt once for each day of
/// the site from what is stored. Not for several threads at once.</summary>
internal sealed class UsualReader
{
    /// <summary>Marks of values from which nothing is learnt: those that came late, so that
    /// a trial learns what was learnt live, and those of a fault.</summary>
    internal const int Unlearnt = (int)(SampleFlags.Late | SampleFlags.LeftOut);

    private const int MostValues = 1_000_000,
        KeptDays = 3;
    private readonly Dictionary<(int Reading, DateOnly Day), IReadOnlyList<UsualBand?>> _days = [];

    /// <summary>The band at a time, UTC ms.</summary>
    internal UsualBand? At(CenoticStore store, SiteState site, ReadingRef reading, long t)
    {
        var zone = TimeZoneInfo.FindSystemTimeZoneById(site.Design.Settings.TimeZone);
        var (day, hour) = UsualBands.When(t, zone);
        var id = site.Readings[(reading.Node, reading.Reading)].Id;
        if (!_days.TryGetValue((id, day), out var bands))
        {
            foreach (var old in _days.Keys.Where(k => k.Reading == id && k.Day.AddDays(KeptDays) < day).ToList())
            {
                _days.Remove(old);
            }
            var history = new UsualBands();
            foreach (var (at, value) in Values(store, id, t))
            {
                history.Add(UsualBands.When(at, zone), value);
            }
            _days[(id, day)] = bands = history.Of(day);
        }
        return bands[hour];
    }

    /// <summary>The values of the weeks before a time.</summary>
    private static IEnumerable<(long T, double Value)> Values(CenoticStore store, int reading, long before)
    {
        using var command = (SqliteCommand)store.Database.GetDbConnection().CreateCommand();
        command.Transaction = store.Database.CurrentTransaction is { } transaction
            ? (SqliteTransaction)Microsoft.EntityFrameworkCore.Storage.DbContextTransactionExtensions.GetDbTransaction(transaction)
            : null;
        command.CommandText =
            $"SELECT t, value FROM samples WHERE reading_id = $reading AND t >= $from AND t < $to AND flags & {Unlearnt} = 0 ORDER BY t DESC LIMIT "
            + $"{MostValues}";
        command.Parameters.AddWithValue("$reading", reading);
        // A day more on both sides: where the day begins is a matter of the site's clock.
        command.Parameters.AddWithValue("$from", before - (UsualBands.Days + 2) * 86_400_000L);
        command.Parameters.AddWithValue("$to", before);
        using var rows = command.ExecuteReader();
        while (rows.Read())
        {
            yield return (rows.GetInt64(0), rows.GetDouble(1));
        }
    }
}
