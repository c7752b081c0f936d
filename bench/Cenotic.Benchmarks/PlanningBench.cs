using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.NoEmit;
using Cenotic.Core.Bench;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Design;
using Cenotic.Core.Formats;

namespace Cenotic.Benchmarks;

/// <summary>Planning time of the densest demo node, beside one bare assignment of the same size; and of the whole demo site.</summary>
[MemoryDiagnoser]
public class PlanningBench
{
    private static readonly SiteDesign Site = SiteFiles.Read(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "fernhollow.json"))).Value.Design;
    private readonly NodeDesign _densest = Site.Nodes.MaxBy(n => n.Parts.Count)!;
    private readonly long[][] _square = Square(8, 26);

    public static void Run() =>
        BenchmarkRunner.Run<PlanningBench>(
            ManualConfig
                .Create(DefaultConfig.Instance)
                .AddJob(Job.ShortRun.WithToolchain(InProcessNoEmitToolchain.Instance))
                .WithOption(ConfigOptions.DisableLogFile, true)
        );

    [Benchmark(Baseline = true, Description = "one bare assignment, 8 lines on 26 pins")]
    public int[]? Bare() => Assignment.Solve(_square, 26);

    [Benchmark(Description = "the densest demo node, planned whole")]
    public BenchPlan Densest() => BenchPlanner.Plan(_densest, HardwareCatalogue.BuiltIn);

    [Benchmark(Description = "the demo site, planned whole")]
    public object Whole() => Core.Planning.SitePlanner.Plan(Site, HardwareCatalogue.BuiltIn, Evidence.None);

    internal static long[][] Square(int rows, int columns)
    {
        var random = new Random(1);
        var cost = Enumerable.Range(0, rows).Select(_ => new long[columns]).ToArray();
        for (var r = 0; r < rows; r++)
        {
            for (var c = 0; c < columns; c++)
            {
                cost[r][c] = random.Next(5) == 0 ? Assignment.Forbidden : random.Next(1000);
            }
        }
        return cost;
    }
}
