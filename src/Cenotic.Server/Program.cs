using System.Reflection;
using System.Text.Json;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Server;
using Cenotic.Server.Accounts;
using Cenotic.Server.Common;
using Cenotic.Server.Storage;

if (args is ["plan", var file])
{
    return PlanFile(file);
}

// The build asks for the API document with all routes in it; nothing is opened then.
var describing = Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";
var configuration = new ConfigurationBuilder().AddEnvironmentVariables("CENOTIC_").AddCommandLine(args).Build();
Settings settings;
try
{
    settings = Settings.Read(configuration);
}
catch (ArgumentException fault)
{
    Console.Error.WriteLine(fault.Message);
    return 2;
}
if (describing)
{
    await App.Build(settings with { Demo = true }, args, describing: true).RunAsync();
    return 0;
}
if (args is ["backup" or "restore", ..])
{
    return Copy(args, settings);
}
if (args is ["reset-password", ..])
{
    return await ResetPasswordAsync(args, settings);
}
await using var app = App.Build(settings, args);
try
{
    foreach (var line in (await App.StartAsync(app, settings)).Lines)
    {
        Console.WriteLine(line);
    }
}
catch (Exception fault) when (fault is IOException or ArgumentException or UnauthorizedAccessException or Microsoft.Data.Sqlite.SqliteException)
{
    Console.Error.WriteLine($"It could not start: {fault.Message}");
    return 1;
}
await app.WaitForShutdownAsync();
return 0;

// Makes a copy of the data folder, or puts one in its place; 1 with a sentence when it cannot be.
static int Copy(string[] args, Settings settings)
{
    try
    {
        var now = TimeProvider.System.GetUtcNow();
        if (args is ["restore", var from])
        {
            var kept = Backup.Restore(settings, now, from);
            Console.WriteLine($"{settings.Data} is as it was in {from}.{(kept is null ? "" : $" What was there is kept in {kept}.")}");
            return 0;
        }
        if (args is ["backup"] or ["backup", _])
        {
            Console.WriteLine($"Backup made and checked: {Backup.Make(settings, now, args.ElementAtOrDefault(1))}");
            return 0;
        }
        Console.Error.WriteLine("backup [FOLDER] makes a copy; restore FOLDER puts one in its place.");
        return 2;
    }
    catch (Exception fault) when (fault is IOException or UnauthorizedAccessException or Microsoft.Data.Sqlite.SqliteException)
    {
        Console.Error.WriteLine(fault.Message);
        return 1;
    }
}

// Gives an account a new password and prints it; 1 with a sentence when it cannot.
static async Task<int> ResetPasswordAsync(string[] args, Settings settings)
{
    if (args is not [_, var name, ..])
    {
        Console.Error.WriteLine("reset-password NAME gives the account a new password.");
        return 2;
    }
    try
    {
        Console.WriteLine($"The password of \"{name}\" is now: {await Passwords.ResetAsync(settings, name)}");
        Console.WriteLine("Every sign-in of this account has ended. Change the password after signing in.");
        return 0;
    }
    catch (Exception fault) when (fault is IOException or UnauthorizedAccessException or Microsoft.Data.Sqlite.SqliteException)
    {
        Console.Error.WriteLine(fault.Message);
        return 1;
    }
}

// Prints the plan of a site file; 1 when something stops it, 2 when it is no site file.
static int PlanFile(string path)
{
    if (!File.Exists(path))
    {
        Console.Error.WriteLine($"There is no file {path}.");
        return 2;
    }
    var read = SiteFiles.Read(File.ReadAllText(path));
    if (!read.TryGet(out var site))
    {
        Console.Error.WriteLine(string.Join(Environment.NewLine, read.Reasons));
        return 2;
    }
    var plan = SitePlanner.Plan(site.Design, HardwareCatalogue.BuiltIn, site.Evidence);
    Console.WriteLine(JsonSerializer.Serialize(plan, CenoticJson.Indented));
    return plan.Sound ? 0 : 1;
}
