using Cenotic.Tests;
using Microsoft.Data.Sqlite;

namespace Cenotic.Server.Tests.Storage;

/// <summary>A data folder as it was left by the program of the day before the twelve steps became one: twelve-steps.sql is the
/// text of its database, with a site of two nodes, twenty messages, an episode and two notices.</summary>
internal static class TwelveSteps
{
    internal static string NewFolder()
    {
        var folder = RunningServer.NewFolder();
        Directory.CreateDirectory(folder);
        using var connection = new SqliteConnection($"Data Source={Path.Combine(folder, "cenotic.db")};Pooling=False;Foreign Keys=False");
        connection.Open();
        using var command = connection.CreateCommand();
        command.CommandText = File.ReadAllText(Path.Combine(Floors.Root, "tests", "Cenotic.Server.Tests", "Storage", "twelve-steps.sql"));
        command.ExecuteNonQuery();
        return folder;
    }
}
