using System.Text;
using Cenotic.Core.Formats;
using CsCheck;

namespace Cenotic.Core.Tests.Formats;

/// <summary>Tables of storage cards and spreadsheets: separators, decimal commas, times, torn rows, runs without a clock.</summary>
public class CsvImportTests
{
    private static readonly CsvLayout Plain = new(',', false, true, 0, CsvTime.Iso8601, "Europe/London", [new(1, "hall", "temp"), new(2, "hall", "rh")]);

    private static List<CsvValues> Read(string text, CsvLayout layout) => [.. CsvImport.Read(() => new MemoryStream(Encoding.UTF8.GetBytes(text)), layout)];

    private static CsvGuess Guess(string text) => CsvImport.Guess(new MemoryStream(Encoding.UTF8.GetBytes(text)));

    private static long Utc(int year, int month, int day, int hour = 0, int minute = 0, int second = 0) =>
        new DateTimeOffset(year, month, day, hour, minute, second, TimeSpan.Zero).ToUnixTimeMilliseconds();

    [Fact]
    public void A_plain_table_is_read_and_its_gaps_are_gaps()
    {
        var rows = Read("time,temp,rh\n2026-01-05 10:00:00,21.5,55\n2026-01-05 10:01:00,,56\n2026-01-05T10:02:00Z,-3e0,x\n", Plain);
        Assert.Equal([Utc(2026, 1, 5, 10), Utc(2026, 1, 5, 10, 1), Utc(2026, 1, 5, 10, 2)], rows.Select(r => r.T));
        Assert.Equal([(0, 21.5), (1, 55)], rows[0].Values);
        Assert.Equal([(1, 56)], rows[1].Values);
        Assert.Equal(["Row 3: \"x\" is no number of rh."], rows[2].Refusals);
        Assert.Equal([(0, -3)], rows[2].Values);
    }

    [Fact]
    public void A_decimal_comma_and_a_semicolon_are_seen_and_read()
    {
        const string table = "Zeit;Temperatur;Feuchte\r\n25.11.2026 14:30;21,5;55,25\r\n25.11.2026 14:31;21,75;\r\n";
        var guess = Guess(table);
        Assert.Equal((';', true, true, 0, CsvTime.DayMonthYear), (guess.Separator, guess.DecimalComma, guess.HasHeader, guess.TimeColumn, guess.Time));
        Assert.Equal(["Zeit", "Temperatur", "Feuchte"], guess.Headers);
        var rows = Read(table, Plain with { Separator = ';', DecimalComma = true, Time = CsvTime.DayMonthYear, TimeZone = "Europe/Berlin" });
        Assert.Equal((Utc(2026, 11, 25, 13, 30), 21.5, 55.25), (rows[0].T, rows[0].Values[0].Value, rows[0].Values[1].Value));
        Assert.Single(rows[1].Values);
    }

    [Theory]
    [InlineData("2026-11-25 14:30:05", CsvTime.Iso8601, 14)]
    [InlineData("2026-11-25T14:30:05+02:00", CsvTime.Iso8601, 12)]
    [InlineData("25.11.2026 14:30:05", CsvTime.DayMonthYear, 14)]
    [InlineData("25/11/2026 14:30:05", CsvTime.DayMonthYear, 14)]
    [InlineData("11/25/2026 14:30:05", CsvTime.MonthDayYear, 14)]
    [InlineData("1795617005", CsvTime.UnixSeconds, 14)]
    [InlineData("1795617005000", CsvTime.UnixMilliseconds, 14)]
    public void Each_way_to_write_a_time_is_seen_and_read(string text, CsvTime form, int hourUtc)
    {
        var table = $"when;v\n{text};1\n";
        var guess = Guess(table);
        Assert.Equal((0, form), (guess.TimeColumn, guess.Time));
        Assert.Equal(Utc(2026, 11, 25, hourUtc, 30, 5), Read(table, new(';', false, true, 0, form, "Etc/UTC", [new(1, "n", "v")])).Single().T);
    }

    /// <summary>The clocks of Europe/London went forward on 29 March 2026 at 01:00 UTC and back
    /// on 25 October 2026 at 01:00 UTC (IANA time zone database).</summary>
    [Fact]
    public void An_hour_that_was_skipped_is_refused_and_one_that_came_twice_is_its_first()
    {
        var rows = Read("t,a,b\n2026-03-29 01:30:00,1,2\n2026-07-01 12:00:00,1,2\n2026-10-25 01:30:00,1,2\n", Plain);
        Assert.Equal(["Row 1: \"2026-03-29 01:30:00\" is no time of that form, or one that the clocks skipped."], rows[0].Refusals);
        Assert.Equal([Utc(2026, 7, 1, 11), Utc(2026, 10, 25, 0, 30)], rows.Skip(1).Select(r => r.T));
    }

    [Fact]
    public void A_last_row_without_an_end_is_left_out_and_told()
    {
        var rows = Read("t,a,b\n2026-01-05 10:00:00,21.5,55\n2026-01-05 10:01:00,21.5,5", Plain);
        Assert.Equal(2, rows.Count);
        Assert.Empty(rows[1].Values);
        Assert.Contains("the power went in it", rows[1].Refusals.Single());
    }

    [Fact]
    public void Runs_without_a_clock_are_placed_backwards_from_the_end()
    {
        // Two starts: 0, 10, 20 s and then 0, 10 s; the card was taken out at the last row. The torn row is no part of it.
        var end = Utc(2026, 6, 1, 12);
        var rows = Read("s,a\n0,1\n10,2\n20,3\n0,4\n10,5\n2", new(',', false, true, 0, CsvTime.SecondsSinceStart, "Etc/UTC", [new(1, "n", "v")], end));
        Assert.Equal([end - 30_000, end - 20_000, end - 10_000, end - 10_000, end], rows.SkipLast(1).Select(r => r.T));
        Assert.All(rows.SkipLast(1), r => Assert.True(r.Estimated));
        Assert.Equal(CsvTime.SecondsSinceStart, Guess("time s,a\n0,1\n10,2\n").Time);
        Assert.Equal(CsvTime.MillisecondsSinceStart, Guess("millis,a\n0,1\n10,2\n").Time);
        Assert.Throws<ArgumentException>(() => Read("s,a\n", new(',', false, true, 0, CsvTime.SecondsSinceStart, "Etc/UTC", [])));
        Assert.Throws<ArgumentException>(() => Read("s,a\n", Plain with { TimeZone = "Nowhere/Land" }));
    }

    [Fact]
    public void A_table_without_a_heading_or_a_time_is_seen()
    {
        var guess = Guess("1,2\n3,4\n");
        Assert.Equal((false, null, null), (guess.HasHeader, guess.TimeColumn, guess.Time));
        Assert.Equal(["Column 1", "Column 2"], guess.Headers);
        Assert.Empty(Guess("").Rows);
    }

    [Fact]
    public void Ten_thousand_damaged_tables_are_read_without_a_fault_and_what_is_taken_stands_in_them()
    {
        var lines = Enumerable.Range(0, 6).Select(i => $"2026-01-05 10:0{i}:00,{i}.5,{50 + i}").ToList();
        var table = Encoding.UTF8.GetBytes("t,a,b\n" + string.Join('\n', lines) + "\n");
        Gen.Select(Gen.Int[0, 10_000].Array[1, 4], Gen.Byte.Array[4], Gen.Int[0, 2])
            .Sample(
                (places, octets, kind) =>
                {
                    var bytes = table.ToList();
                    for (var i = 0; i < places.Length; i++)
                    {
                        var at = places[i] % bytes.Count;
                        switch (kind)
                        {
                            case 0:
                                bytes[at] = octets[i];
                                break;
                            case 1:
                                bytes.Insert(at, octets[i]);
                                break;
                            default:
                                bytes.RemoveAt(at);
                                break;
                        }
                    }
                    byte[] damaged = [.. bytes];
                    CsvImport.Guess(new MemoryStream(damaged));
                    var rows = CsvImport.Read(() => new MemoryStream(damaged), Plain).ToList();
                    // A second reading of the rows that are still as they were: each must have been taken as it stands, whatever became of the others.
                    var text = Encoding.Latin1.GetString(damaged).Split('\n');
                    var quoted = damaged.Contains((byte)'"') || damaged.Contains((byte)'\r');
                    foreach (var (line, i) in lines.Select((l, i) => (l, i)))
                    {
                        if (!quoted && text.SkipLast(1).Skip(1).Contains(line))
                        {
                            Assert.Contains(rows, r => r.T == Utc(2026, 1, 5, 10, i) && r.Values.SequenceEqual([(0, i + 0.5), (1, 50 + i)]));
                        }
                    }
                    Assert.All(rows.SelectMany(r => r.Values), v => Assert.True(double.IsFinite(v.Value)));
                },
                iter: 10_000
            );
    }

    [Theory]
    [InlineData("Zeit s;Temp\n0;20,5\n10;20,6\n20;20,7\n", CsvTime.SecondsSinceStart)]
    [InlineData("seconds,temp\n0,20.5\n10,20.6\n", CsvTime.SecondsSinceStart)]
    [InlineData("uptime (ms),temp\n0,20.5\n10000,20.6\n", CsvTime.MillisecondsSinceStart)]
    [InlineData("millis,temp\n0,20.5\n10000,20.6\n", CsvTime.MillisecondsSinceStart)]
    [InlineData("0,20.5\n10,20.6\n20,20.4\n30,20.4\n40,20.1\n", CsvTime.SecondsSinceStart)]
    [InlineData("0,20.5\n10000,20.6\n20010,20.4\n30003,20.4\n40001,20.1\n", CsvTime.MillisecondsSinceStart)]
    // The node started anew in between.
    [InlineData(
        "0,20\n10,20\n20,20\n30,20\n40,20\n50,20\n0,20\n10,20\n20,20\n30,20\n40,20\n50,20\n60,20\n70,20\n80,20\n90,20\n100,20\n",
        CsvTime.SecondsSinceStart
    )]
    public void A_time_since_a_start_is_guessed_by_its_heading_or_by_how_it_counts(string table, CsvTime expected)
    {
        var guess = CsvImport.Guess(new MemoryStream(Encoding.UTF8.GetBytes(table)));
        Assert.Equal((0, expected), (guess.TimeColumn, guess.Time));
    }

    [Theory]
    [InlineData("20.5,55\n20.6,54\n20.4,56\n20.7,55\n")]
    [InlineData("items,temp\n0,20.5\n10,20.6\n20,20\n30,20\n")]
    [InlineData("1,55\n2,54\n40,56\n900,55\n901,53\n")]
    public void What_does_not_count_time_is_none(string table) => Assert.Null(CsvImport.Guess(new MemoryStream(Encoding.UTF8.GetBytes(table))).TimeColumn);
}
