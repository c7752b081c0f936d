using System.Diagnostics;
using System.Reflection;
using System.Runtime.Loader;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Benchmarks;

/// <summary>
/// Planning by this core against that of an earlier commit, site by site in turn in one process: `./run bench against COMMIT`. The earlier core is built by the
/// script, loaded beside this one, and spoken to by names that have not changed since; each reads the same site files.
/// </summary>
public static class AgainstBench
{
    private const int Warm = 15,
        Rounds = 31;

    public static void Run()
    {
        var before = Environment.GetEnvironmentVariable("CENOTIC_BEFORE")
            ?? throw new InvalidOperationException("Say against which commit: ./run bench against COMMIT.");
        var (now, then) = (Planner(typeof(SiteFiles).Assembly), Planner(new Beside(before).LoadFromAssemblyPath(before)));
        var demo = SiteFiles.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "fernhollow.json"))).Value.Design;
        Compare("the demo site", demo, now, then);
        Compare($"{RhythmBench.Nodes} nodes", RhythmBench.Site(), now, then);
    }

    private static void Compare(string what, SiteDesign site, Func<string, Action> now, Func<string, Action> then)
    {
        var file = SiteFiles.Write(site, Evidence.None);
        var (planNow, planThen) = (now(file), then(file));
        var (ratios, times) = (new List<double>(), new List<double>());
        for (var round = 0; round < Warm + Rounds; round++)
        {
            // In turn, and each first every other time: what else runs on the machine meets both alike.
            var (first, second) = round % 2 == 0 ? (planNow, planThen) : (planThen, planNow);
            var (a, b) = (Milliseconds(first), Milliseconds(second));
            var (ofNow, ofThen) = round % 2 == 0 ? (a, b) : (b, a);
            if (round >= Warm)
            {
                ratios.Add(ofNow / ofThen);
                times.Add(ofNow);
            }
        }
        ratios.Sort();
        times.Sort();
        var half = $"middle half {ratios[Rounds / 4]:0.00} to {ratios[3 * Rounds / 4]:0.00}";
        Console.WriteLine($"{what}, planned whole: {ratios[Rounds / 2]:0.00} of the time before ({half}); {times[Rounds / 2]:0.0} ms");
    }

    private static double Milliseconds(Action act)
    {
        var watch = Stopwatch.StartNew();
        act();
        return watch.Elapsed.TotalMilliseconds;
    }

    /// <summary>Gives for a site file what plans it, anew each time.</summary>
    private static Func<string, Action> Planner(Assembly core)
    {
        Type Of(string name) => core.GetType("Cenotic.Core." + name) ?? throw new InvalidOperationException($"The core of that commit has no {name}.");
        object? Property(object of, string name) => of.GetType().GetProperty(name)!.GetValue(of);
        var read = Of("Formats.SiteFiles").GetMethod("Read", [typeof(string)])!;
        var plan = Of("Planning.SitePlanner").GetMethod("Plan")!;
        var catalogue = Of("Catalogue.HardwareCatalogue").GetProperty("BuiltIn")!.GetValue(null);
        var evidence = (Of("Design.Evidence").GetProperty("None")?.GetValue(null) ?? Of("Design.Evidence").GetField("None")?.GetValue(null))!;
        return file =>
        {
            var design = Property(Property(read.Invoke(null, [file])!, "Value")!, "Design");
            object?[] arguments =
            [
                design,
                catalogue,
                evidence,
                .. plan.GetParameters().Skip(3).Select(p => p.HasDefaultValue && p.DefaultValue is string text ? text : null),
            ];
            return () => plan.Invoke(null, arguments);
        };
    }

    /// <summary>An assembly with what lies beside it, apart from those of this program.</summary>
    private sealed class Beside(string path) : AssemblyLoadContext("before")
    {
        private readonly AssemblyDependencyResolver _resolver = new(path);

        protected override Assembly? Load(AssemblyName name) => _resolver.ResolveAssemblyToPath(name) is { } found ? LoadFromAssemblyPath(found) : null;
    }
}
