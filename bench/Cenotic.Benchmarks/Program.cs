using Cenotic.Benchmarks;

if (args is ["bare", var address])
{
    await IdleBench.ServeNothingAsync(address);
    return;
}

// Each figure is printed beside a bare baseline of the same run: the ratio travels between machines, the seconds do not.
var wanted =
    args.Length == 0
        ? ["planning", "rhythm", "reach", "writing", "load", "askers", "year", "import", "calibration", "live", "page", "restart", "idle", "rules", "view"]
        : args;
Console.WriteLine($"{Environment.ProcessorCount} processors, {System.Runtime.InteropServices.RuntimeInformation.OSDescription}, .NET {Environment.Version}");
if (wanted.Contains("planning"))
{
    PlanningBench.Run();
}
if (wanted.Contains("planning") || wanted.Contains("nodes"))
{
    RandomNodes.Run();
}
if (wanted.Contains("against"))
{
    AgainstBench.Run();
}
if (wanted.Contains("rhythm"))
{
    RhythmBench.Run();
}
if (wanted.Contains("reach"))
{
    ReachBench.Run();
}
if (wanted.Contains("writing"))
{
    await WritingBench.RunAsync();
}
if (wanted.Contains("load"))
{
    await LoadBench.RunAsync();
}
if (wanted.Contains("askers"))
{
    await AskersBench.RunAsync();
}
if (wanted.Contains("year"))
{
    await YearBench.RunAsync();
}
if (wanted.Contains("import"))
{
    await ImportBench.RunAsync();
}
if (wanted.Contains("calibration"))
{
    await CalibrationBench.RunAsync();
}
if (wanted.Contains("live"))
{
    await LiveBench.RunAsync();
}
if (wanted.Contains("page"))
{
    await PageBench.RunAsync();
}
if (wanted.Contains("restart"))
{
    await RestartBench.RunAsync();
}
if (wanted.Contains("idle"))
{
    await IdleBench.RunAsync();
}
if (wanted.Contains("rules") || wanted.Contains("trial"))
{
    RuleBench.Run();
}
if (wanted.Contains("rules"))
{
    await RuleLoadBench.RunAsync();
}
if (wanted.Contains("view"))
{
    await ViewBench.RunAsync();
}
