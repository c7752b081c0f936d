using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Core.Tests.Bench;
using CsCheck;

namespace Cenotic.Core.Tests.Planning;

/// <summary>Remedies on random nodes: each, applied, removes its finding and adds no stop.</summary>
public class RemediesTests
{
    private static SitePlan Plan(SiteDesign site) => SitePlanner.Plan(site, Samples.Catalogue, Evidence.None);

    [Fact]
    public void Every_remedy_of_a_bench_holds_on_any_node_and_supply() =>
        Gen.OneOf(EveryBoard.Node, EveryBoard.Powered, EveryBoard.Powered)
            .Sample(
                node =>
                {
                    var site = Samples.Site(node);
                    var plan = Plan(site);
                    foreach (var finding in plan.Findings.Where(f => f.Code.StartsWith("BENCH-", StringComparison.Ordinal)))
                    {
                        foreach (var remedy in finding.Remedies)
                        {
                            var after = Plan(EditBatch.Apply(site, remedy.Edits).Value.After);
                            Assert.DoesNotContain(after.Findings, f => f.Code == finding.Code && f.Subject == finding.Subject && f.What == finding.What);
                            int Stops(SitePlan p) =>
                                p.Findings.Count(f => f.Severity == Severity.Stop && f.Code.StartsWith("BENCH-", StringComparison.Ordinal));
                            Assert.True(
                                Stops(after) <= Stops(plan),
                                $"{finding.Code}: \"{remedy.Label}\" adds "
                                    + $"{string.Join(" ", after.Findings.Where(f => f.Severity == Severity.Stop).Select(f => f.What))}"
                            );
                        }
                    }
                },
                iter: 200,
                seed: "0000KFfPTcd5"
            );

    [Fact]
    public void A_converter_is_offered_only_to_the_readings_that_get_one_of_its_inputs()
    {
        var site = Samples.Site(
            Samples.Node(("a", "gp2y0a21"), ("b", "hall-linear"), ("c", "soil-capacitive"), ("d", "temt6000"), ("e", "tds-analog")) with
            {
                Link = LinkKind.LongRange,
                AddsModules = false,
            }
        );
        var offers = Plan(site)
            .Findings.SelectMany(f => f.Remedies.Select(r => (f, r)))
            .Where(o => o.r.Label.StartsWith("Read it through", StringComparison.Ordinal))
            .ToList();
        Assert.NotEmpty(offers);
        Assert.All(offers, o =>
            Assert.DoesNotContain(Plan(EditBatch.Apply(site, o.r.Edits).Value.After).Findings, f => f.Code == o.f.Code && f.Subject == o.f.Subject)
        );
        Assert.True(offers.Count <= 4);
    }
}
