#pragma warning disable CA1416 // The program is for Linux.
namespace Cenotic.Server.Storage;

/// <summary>Files that only the user who runs the program may read: readings of a house, hashes of keys and passwords.</summary>
internal static class OwnFolder
{
    private const UnixFileMode FolderMode = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute,
        FileMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    /// <summary>Makes a folder, and closes it to others also where it was open. What its user may not do stays so.</summary>
    public static void Make(string folder)
    {
        var made = Directory.CreateDirectory(folder, FolderMode);
        if ((made.UnixFileMode & ~FolderMode) != 0)
        {
            Change(() => made.UnixFileMode &= FolderMode);
        }
    }

    /// <summary>Closes a database, and what SQLite keeps beside it, to others.</summary>
    public static void Close(string database)
    {
        foreach (var file in new[] { database, database + "-wal", database + "-shm" }.Where(File.Exists))
        {
            Change(() => File.SetUnixFileMode(file, File.GetUnixFileMode(file) & FileMode));
        }
    }

    private static void Change(Action change)
    {
        try
        {
            change();
        }
        catch (Exception fault) when (fault is UnauthorizedAccessException or IOException)
        {
            // A folder of somebody else's, or a disk that knows no modes: whether it may be written to is asked next.
        }
    }
}
