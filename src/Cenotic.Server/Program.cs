using System.Reflection;
using System.Text.Json;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Formats;
using Cenotic.Core.Planning;
using Cenotic.Server;

if (args is ["plan", var file])
{
    return PlanFile(file);
}

// The build asks for the API document with all routes in it; nothing is opened then.
var describing = Assembly.GetEntryAssembly()?.GetName().Name == "GetDocument.Insider";
var configuration = new ConfigurationBuilder().AddEnvironmentVariables("CENOTIC_").AddCommandLine(args).Build();
var settings = Settings.Read(configuration);
if (describing)
{
    await App.Build(settings with { Demo = true }, args, describing: true).RunAsync();
    return 0;
}
var app = App.Build(settings, args);
foreach (var line in (await App.StartAsync(app, settings)).Lines)
{
    Console.WriteLine(line);
}
await app.WaitForShutdownAsync();
return 0;

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
