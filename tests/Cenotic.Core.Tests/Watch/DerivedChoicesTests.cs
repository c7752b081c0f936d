using Cenotic.Core.Alerts;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;

namespace Cenotic.Core.Tests.Watch;

/// <summary>What forms are offered: it can be taken as it is, and the checks have nothing against it.</summary>
public class DerivedChoicesTests
{
    private static readonly SiteDesign Site = Samples.Fernhollow().Design;
    private static readonly HardwareCatalogue Catalogue = Samples.Catalogue;

    [Fact]
    public void Every_kind_of_formula_is_offered_once()
    {
        var kinds = typeof(DerivedFrom).Assembly.GetTypes().Where(t => t.IsSubclassOf(typeof(DerivedFrom))).ToHashSet();
        var offered = DerivedChoices.Of(Site, Catalogue).Select(c => c.Usual.GetType()).ToList();
        Assert.Equal(kinds.Count, offered.Count);
        Assert.Equal(kinds, offered.ToHashSet());
    }

    [Fact]
    public void What_is_offered_for_a_role_passes_the_check_of_units_and_what_is_not_offered_does_not()
    {
        var tried = 0;
        foreach (var choice in DerivedChoices.Of(Site, Catalogue))
        {
            foreach (var (role, at) in choice.Roles.Select((r, i) => (r, i)).Where(r => r.r.Units.Count > 0))
            {
                foreach (var reading in Readings())
                {
                    var fits = DerivedFindings.Of(Alone(With(choice.Usual, at, reading)), Catalogue).All(f => f.Code != "WATCH-INPUT-UNIT");
                    Assert.True(fits == role.Suits.Contains(reading), $"{choice.Label}, {role.Label}: {reading} fits {fits}");
                    tried++;
                }
            }
        }
        Assert.True(tried > 200, $"{tried} tried");
    }

    [Fact]
    public void The_usual_numbers_are_taken_by_the_door_once_readings_are_chosen()
    {
        foreach (var choice in DerivedChoices.Of(Site, Catalogue))
        {
            var from = choice.Roles.Select((r, i) => (r, i)).Aggregate(choice.Usual, (f, role) => With(f, role.i, Readings().ElementAt(role.i)));
            from = from switch
            {
                LostShareOf f => f with { Node = choice.Nodes[0] },
                DaysLeftOf f => f with { Node = choice.Nodes[0] },
                _ => from,
            };
            var applied = EditBatch.Apply(Site, [new PutDerived(new("tried", choice.Name, from, choice.Decimals))]);
            Assert.True(applied.Ok, $"{choice.Label}: {string.Join(" ", applied.Reasons)}");
        }
    }

    [Fact]
    public void Presence_is_offered_sensors_and_no_outputs_with_those_that_tell_of_somebody_first()
    {
        var suits = DerivedChoices.Of(Site, Catalogue).Single(c => c.Usual is PresenceOf).Roles.Single().Suits;
        bool OfSomebody(ReadingRef r) => Site.Reading(r)!.Quantity is "presence" or "motion";
        Assert.Equal(suits.Count(OfSomebody), suits.TakeWhile(OfSomebody).Count());
        Assert.Contains(new("hall", "presence"), suits);
        Assert.DoesNotContain(suits, s => Site.Reading(s)!.Output is not null);
        Assert.Contains(Site.Nodes, n => n.Readings.Any(r => r.Output is not null));
    }

    [Fact]
    public void What_a_node_shows_by_itself_is_offered_until_it_is_worked_out()
    {
        var offered = DerivedChoices.OfNodes(Site with { Derived = [] });
        Assert.Equal(Site.Nodes.Count + Site.Nodes.Count(n => n.Power.Kind == PowerKind.Cells), offered.Count);
        foreach (var one in offered)
        {
            var applied = EditBatch.Apply(Site with { Derived = [] }, [new PutDerived(one)]);
            Assert.True(applied.Ok, string.Join(" ", applied.Reasons));
            Assert.Equal(offered.Count - 1, DerivedChoices.OfNodes(applied.Value.After).Count);
        }
    }

    [Fact]
    public void Nodes_whose_long_keys_begin_alike_are_offered_under_keys_of_their_own()
    {
        var nodes = Enumerable.Range(1, 3).Select(n => Site.Nodes[0] with { Key = $"greenhouse-in-the-long-garden-{n}" });
        var offered = DerivedChoices.OfNodes(Site with { Nodes = [.. nodes], Derived = [] });
        Assert.Equal(offered.Count, offered.Select(d => d.Key).Distinct().Count());
        Assert.True(offered.Count >= 3);
    }

    [Fact]
    public void A_zone_is_offered_what_triggers_and_what_sounds_and_a_contact_triggers_when_it_opens()
    {
        var choices = ZoneChoices.Of(Site);
        foreach (var node in Site.Nodes)
        {
            foreach (var reading in node.Readings)
            {
                var triggers = reading.Quantity is "motion" or "presence" or "contact" or "vibration" or "level";
                var sensor = choices.Sensors.SingleOrDefault(s => s.Node == node.Key && s.Reading == reading.Key);
                Assert.Equal(triggers, sensor is not null);
                Assert.Equal(triggers && reading.Quantity == "contact", sensor?.Inverted == true);
                Assert.Equal(reading.Output is not null, choices.Outputs.Any(o => o.Node == node.Key && o.Reading == reading.Key));
            }
        }
        Assert.NotEmpty(choices.Outputs);
        Assert.Equal(Site.Derived.Count(d => d.From is PresenceOf), choices.Presences.Count(p => p.Node == DerivedDesign.Node));
    }

    private static IEnumerable<ReadingRef> Readings() =>
        Site.Nodes.SelectMany(n => n.Readings.Select(r => new ReadingRef(n.Key, r.Key))).Where(r => DerivedFacts.Quantity(Site, Catalogue, r) is not null);

    private static SiteDesign Alone(DerivedFrom from) => Site with { Derived = [new("tried", "Tried", from, 1)] };

    /// <summary>The formula with a reading in one of its roles.</summary>
    private static DerivedFrom With(DerivedFrom from, int at, ReadingRef reading) =>
        (from, at) switch
        {
            (DewPointOf f, 0) => f with { Temperature = reading },
            (DewPointOf f, _) => f with { Humidity = reading },
            (WaterInAirOf f, 0) => f with { Temperature = reading },
            (WaterInAirOf f, _) => f with { Humidity = reading },
            (MouldIndexOf f, 0) => f with { Temperature = reading },
            (MouldIndexOf f, 1) => f with { Humidity = reading },
            (MouldIndexOf f, _) => f with { Surface = reading },
            (ConductivityAt25Of f, 0) => f with { Conductivity = reading },
            (ConductivityAt25Of f, _) => f with { Temperature = reading },
            (DissolvedSolidsOf f, 0) => f with { Conductivity = reading },
            (DissolvedSolidsOf f, _) => f with { Temperature = reading },
            (VesselOf f, _) => f with { Vessel = f.Vessel with { Reading = reading } },
            (RateOf f, _) => f with { Reading = reading },
            (RunningHoursOf f, _) => f with { Reading = reading },
            (DegreeDaysOf f, _) => f with { Temperature = reading },
            (SumOf f, _) => f with { Terms = [new(reading, 1)] },
            (PresenceOf f, _) => f with { Of = [reading] },
            _ => throw new InvalidOperationException($"{from} has no role {at}."),
        };
}
