using System.Text.RegularExpressions;

namespace Cenotic.Core.Design;

/// <summary>Nonsense in people, telling, acts, zones and views.</summary>
public static partial class EditChecks
{
    private const int MostTiles = 40,
        MostReadings = 8;

    private static void Person(FaultList faults, PersonDesign person)
    {
        faults.Key(person.Key);
        faults.Text("The person's name", person.Name);
        if (person.Ways.Count is 0 or > 6)
        {
            faults.Add("A person is told over 1 to 6 ways; give at least one.", "ways");
        }
        for (var i = 0; i < person.Ways.Count; i++)
        {
            var way = person.Ways[i];
            var good = way.Kind switch
            {
                WayKind.Mail => way.Address.Length <= 254 && Mailbox().IsMatch(way.Address),
                WayKind.Text => Telephone().IsMatch(way.Address),
                _ => way.Address.Length <= 500
                    && Uri.TryCreate(way.Address, UriKind.Absolute, out var uri)
                    && uri.Scheme is "http" or "https"
                    && uri.UserInfo.Length == 0,
            };
            if (!good)
            {
                faults.Add(
                    way.Kind switch
                    {
                        WayKind.Mail => $"\"{way.Address}\" is no mail address.",
                        WayKind.Text => $"\"{way.Address}\" is no telephone number; write it with its country code, like +441632960123.",
                        _ => $"\"{way.Address}\" is no address of a webhook; write it with http:// or https://.",
                    },
                    $"ways.{i}.address"
                );
            }
        }
        Quiet(faults.Under("quiet"), person.Quiet);
    }

    private static void Quiet(FaultList faults, QuietDesign? quiet)
    {
        if (quiet is null)
        {
            return;
        }
        faults.Within("The begin of the stretch", quiet.FromMinute, 0, 1439, "min");
        faults.Within("The end of the stretch", quiet.ToMinute, 0, 1439, "min");
        if (quiet.FromMinute == quiet.ToMinute)
        {
            faults.Add("The stretch ends when it begins; give it a length.", "toMinute");
        }
        if (quiet.Days.Count == 0)
        {
            faults.Add("The stretch is on no day; choose at least one.", "days");
        }
    }

    private static void Tell(FaultList faults, TellDesign? tell)
    {
        if (tell is null)
        {
            return;
        }
        if (tell.Steps.Count is 0 or > 8)
        {
            faults.Add("It tells 1 to 8 people; choose whom.", "steps");
        }
        faults.Within("The time between reminders", (tell.RemindEveryMs ?? 60_000) / 1000.0, 60, 30 * DayMs / 1000.0, "s");
        for (var i = 0; i < tell.Steps.Count; i++)
        {
            var step = tell.Steps[i];
            faults.Under($"steps.{i}").Within("The wait for an acknowledgement", step.AfterMs / 1000.0, 0, 7 * DayMs / 1000.0, "s");
        }
        if (tell.Steps.GroupBy(s => s.Person).Any(g => g.Count() > 1))
        {
            faults.Add("A person is told once in the order of telling.", "steps");
        }
    }

    private static void Acts(FaultList faults, IReadOnlyList<ActDesign> acts)
    {
        if (acts.Count > 8)
        {
            faults.Add("A rule switches at most 8 outputs.");
        }
        for (var i = 0; i < acts.Count; i++)
        {
            var act = acts[i];
            faults.Under($"{i}").Within("The time on", (act.ForMs ?? 1000) / 1000.0, 1, DayMs / 1000.0, "s");
        }
    }

    private static void Zone(FaultList faults, ZoneDesign zone)
    {
        faults.Key(zone.Key);
        faults.Text("The zone's name", zone.Label);
        if (zone.Sensors.Count is 0 or > 64)
        {
            faults.Add("A zone watches 1 to 64 sensors; choose at least one.", "sensors");
        }
        if (zone.Sensors.GroupBy(s => (s.Node, s.Reading)).Any(g => g.Count() > 1))
        {
            faults.Add("A sensor is named twice.", "sensors");
        }
        if (zone.Sounders.Count > 8)
        {
            faults.Add("A zone sounds at most 8 outputs.", "sounders");
        }
        faults.Within("The time to leave", zone.ExitMs / 1000.0, 0, 600, "s");
        faults.Within("The time to disarm", zone.EntryMs / 1000.0, 0, 600, "s");
        faults.Within("The number of triggers", zone.Triggers, 1, 20, "");
        faults.Within("The time they come in", zone.WithinMs / 1000.0, zone.Triggers > 1 ? 1 : 0, 3600, "s");
        faults.Within("The time of sounding", zone.SoundMs / 1000.0, 1, 900, "s");
        faults.Within("The time until it sounds", zone.SoundAfterMs / 1000.0, zone.SoundOnceTold ? 1 : 0, 900, "s");
        faults.Within("The hold-off", zone.HoldOffMs / 1000.0, 0, DayMs / 1000.0, "s");
        faults.Within("The time away", (zone.Presence?.AwayMs ?? 60_000) / 1000.0, 10, DayMs / 1000.0, "s");
        if (zone.Note.Length > 500)
        {
            faults.Add("The note is longer than 500 characters; shorten it.", "note");
        }
        Quiet(faults.Under("schedule.armed"), zone.Schedule?.Armed);
        Tell(faults.Under("tell"), zone.Tell);
    }

    private static void View(FaultList faults, ViewDesign view)
    {
        faults.Key(view.Key);
        faults.Text("The view's name", view.Label);
        if (view.Tiles.Count > MostTiles)
        {
            faults.Add($"A view has at most {MostTiles} tiles.", "tiles");
        }
        Unique(faults, "tile", view.Tiles.Select(t => t.Key));
        for (var i = 0; i < view.Tiles.Count; i++)
        {
            Tile(faults.Under($"tiles.{i}"), view.Tiles[i]);
        }
    }

    private static void Tile(FaultList faults, TileDesign tile)
    {
        faults.Key(tile.Key);
        if (tile.Label is { } label)
        {
            faults.Text("The tile's title", label);
        }
        faults.Within("The width", tile.Width, 1, 4, "columns");
        faults.Within("The height", tile.Height, 1, 4, "rows");
        var content = faults.Under("content");
        switch (tile.Content)
        {
            case LineTile or LanesTile when tile.Content.Readings.Count is 0 or > MostReadings:
                content.Add($"A tile shows 1 to {MostReadings} readings; choose at least one.");
                break;
            case PlanTile { Of.Count: > 64 }:
                content.Add("A plan shows at most 64 readings.");
                break;
            case NoteTile note when note.Text.Length is 0 or > 2_000:
                content.Add("A note has 1 to 2000 characters.");
                break;
            case SequenceTile sequence:
                content.Within("The time between the two", sequence.WithinMs / 1000.0, 0.1, 3_600, "s");
                content.Text("What both mean", sequence.Both);
                content.Text("What the first alone means", sequence.FirstAlone);
                content.Text("What the second alone means", sequence.SecondAlone);
                if (sequence.First == sequence.Second)
                {
                    content.Add("The two readings are one and the same; choose another.");
                }
                break;
            case VesselTile vessel:
                Vessel(content, vessel);
                break;
        }
    }

    private static void Vessel(FaultList faults, VesselTile vessel)
    {
        faults.Within("The inner width", vessel.WidthCm, 1, 2_000, "cm");
        if (vessel.Shape != VesselShape.Upright)
        {
            faults.Within("The length", vessel.LengthCm, 1, 5_000, "cm");
        }
        if (vessel.Shape != VesselShape.Lying)
        {
            faults.Within("The inner height", vessel.HeightCm, 1, 5_000, "cm");
        }
        if (vessel.Down)
        {
            faults.Within("The height of the sensor above the bottom", vessel.SensorCm, 1, 6_000, "cm");
        }
    }

    private static void Derived(FaultList faults, SiteDesign design, DerivedDesign derived)
    {
        faults.Key(derived.Key);
        faults.Text("The reading's name", derived.Label);
        faults.Within("The number of digits", derived.Decimals, 0, 6, "");
        var inputs = derived.From.Inputs;
        if (derived.From.About is null && inputs.Count is 0 or > MostReadings)
        {
            faults.Add($"It is worked out of 1 to {MostReadings} readings; choose at least one.", "from");
        }
        if (inputs.Distinct().Count() < inputs.Count)
        {
            faults.Add("A reading is named twice; choose another.", "from");
        }
        if (Reaches(design, inputs, derived.Key, []))
        {
            faults.Add("It would be worked out of itself; choose another reading.", "from");
        }
        else if (Depth(design with { Derived = [.. design.Derived.Where(d => d.Key != derived.Key), derived] }) > DesignLimits.DerivedDepth)
        {
            faults.Add(
                $"At most {DesignLimits.DerivedDepth} readings that are worked out may rest on each other; take what this one rests on instead.",
                "from"
            );
        }
        var from = faults.Under("from");
        switch (derived.From)
        {
            case ConductivityAt25Of f:
                from.Within("The rise with temperature", f.PercentPerKelvin, 0, 10, "% a °C");
                break;
            case DissolvedSolidsOf f:
                from.Within("The rise with temperature", f.PercentPerKelvin, 0, 10, "% a °C");
                from.Within("The factor", f.Factor, 0.3, 1, "mg/L for each µS/cm");
                break;
            case VesselOf f:
                Vessel(faults.Under("from.vessel"), f.Vessel);
                break;
            case RateOf f:
                from.Within("The stretch", f.WithinMs / 1000.0, f.Pulses is null ? 10 : 1, 7 * DayMs / 1000.0, "s");
                from.Within("The number of pulses", f.Pulses?.Each ?? 1, 0.001, 1_000_000, "");
                break;
            case RunningHoursOf f:
                from.Within("The value above which it runs", f.Above, -1e9, 1e9, "");
                break;
            case DegreeDaysOf f:
                from.Within("The base", f.BaseCelsius, -50, 100, "°C");
                break;
            case SumOf f:
                from.Within("What is added", f.Plus, -1e9, 1e9, "");
                for (var i = 0; i < f.Terms.Count; i++)
                {
                    var term = f.Terms[i];
                    from.Under($"terms.{i}").Within("The factor", term.Factor, -1e6, 1e6, "");
                }
                break;
            case PresenceOf f:
                from.Within("The time of quiet", f.HoldMs / 1000.0, 0, DayMs / 1000.0, "s");
                break;
            case LostShareOf f:
                from.Within("The stretch", f.WithinMs / 1000.0, 600, 30 * DayMs / 1000.0, "s");
                break;
        }
    }

    /// <summary>Whether a reading that is worked out is among what these are worked out of.</summary>
    private static bool Reaches(SiteDesign design, IReadOnlyList<ReadingRef> inputs, string key, HashSet<string> seen) =>
        inputs
            .Where(i => i.Node == DerivedDesign.Node)
            .Any(i =>
                i.Reading == key
                || (seen.Add(i.Reading) && design.Derived.FirstOrDefault(d => d.Key == i.Reading) is { } next && Reaches(design, next.From.Inputs, key, seen))
            );

    /// <summary>How many readings that are worked out rest on each other at most. Each is looked at once.</summary>
    private static int Depth(SiteDesign design)
    {
        var byKey = design.Derived.DistinctBy(d => d.Key).ToDictionary(d => d.Key);
        var depths = new Dictionary<string, int>();
        int Of(string key)
        {
            if (!byKey.TryGetValue(key, out var derived))
            {
                return 0;
            }
            if (!depths.TryGetValue(key, out var depth))
            {
                // A ring, which an edit cannot make, would end here.
                depths[key] = 0;
                depths[key] = depth = 1 + derived.From.Inputs.Where(i => i.Node == DerivedDesign.Node).Select(i => Of(i.Reading)).DefaultIfEmpty(0).Max();
            }
            return depth;
        }
        return byKey.Keys.Select(Of).DefaultIfEmpty(0).Max();
    }

    /// <summary>RFC 5321, 4.1.2: a dot-string before the at sign, a domain of labels behind it. Quoted strings and address literals are not taken.</summary>
    [GeneratedRegex(
        @"\A(?!.{65,}@)[A-Za-z0-9!#$%&'*+/=?^_`{|}~-]+(\.[A-Za-z0-9!#$%&'*+/=?^_`{|}~-]+)*"
            + @"@[A-Za-z0-9]([A-Za-z0-9-]{0,61}[A-Za-z0-9])?(\.[A-Za-z0-9]([A-Za-z0-9-]{0,61}[A-Za-z0-9])?)*\z",
        RegexOptions.CultureInvariant
    )]
    private static partial Regex Mailbox();

    [GeneratedRegex(@"^\+[1-9][0-9]{5,14}$")]
    private static partial Regex Telephone();
}
