using System.Text.Json;
using Cenotic.Core.Alerts;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Common;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Alerts;

/// <summary>Puts what is due to be told into the outbox, within the transaction that judged it.</summary>
internal static class NoticeStep
{
    /// <summary>A notice waits this long for others to go with it, ms of system time.</summary>
    private const long TogetherMs = 2_000;

    /// <summary>After a message to a person the next one waits this long, and takes with it what falls due meanwhile. Urgent ones wait for nothing.</summary>
    private const long BetweenMs = 20_000;

    /// <returns>When something may be due next, UTC ms of site time, null for never; and whether something was put.</returns>
    public static async Task<(long? DueAt, bool HasPut)> RunAsync(CenoticStore store, SiteState site, long now, long systemNow)
    {
        await store.SaveChangesAsync();
        var zone = TimeZoneInfo.FindSystemTimeZoneById(site.Design.Settings.TimeZone);
        var (next, put) = ((long?)null, false);
        foreach (var episode in await store.Episodes.Where(e => e.Site == site.Site && !e.ToldAll).OrderBy(e => e.Id).ToListAsync())
        {
            var tell = TellOf(site.Design, episode.Rule);
            var standing = new Standing(episode.RaisedMs, episode.ClearedMs, episode.AcknowledgedMs, episode.Damped);
            if (tell is null)
            {
                episode.ToldAll = episode.ClearedMs is not null;
                continue;
            }
            var due = NoticeSchedule.Due(tell, site.Design.People, standing, zone, episode.ToldUntilMs, now);
            foreach (var notice in due)
            {
                await PutAsync(store, site, episode, notice, tell.ThroughQuiet, systemNow);
                put = true;
            }
            episode.ToldUntilMs = due.Count > 0 ? now : episode.ToldUntilMs;
            // An over in quiet hours is due after them.
            episode.ToldAll = NoticeSchedule.IsDone(tell, site.Design.People, standing, zone, Math.Max(episode.ToldUntilMs, now));
            if (!episode.ToldAll && NoticeSchedule.NextAt(tell, site.Design.People, standing, zone, Math.Max(episode.ToldUntilMs, now)) is { } at)
            {
                next = next <= at ? next : at;
            }
        }
        return (next, put);
    }

    /// <summary>A message that shows a person how they are told.</summary>
    public static void PutTest(CenoticStore store, SiteState site, PersonDesign person, string who, long now, long systemNow)
    {
        foreach (var way in person.Ways)
        {
            var facts = new NoticeFacts(
                new(NoticeKind.Raised, 0, person.Key, now),
                $"A test by {who}",
                site.Design.Settings.Name,
                "",
                "Nothing: this is how you are told.",
                now,
                null,
                false,
                false
            );
            store.Outbox.Add(Row(site, person, way, NoticeText.Id(site.Site, -systemNow, "test", person.Key, way), [facts], systemNow, systemNow));
        }
    }

    private static TellDesign? TellOf(SiteDesign design, string rule) =>
        rule.StartsWith("zone:", StringComparison.Ordinal) ? design.Zones.FirstOrDefault(z => "zone:" + z.Key == rule)?.Tell : design.Rule(rule)?.Tell;

    private static async Task PutAsync(CenoticStore store, SiteState site, EpisodeRow episode, DueNotice notice, bool urgent, long systemNow)
    {
        var person = site.Design.People.First(p => p.Key == notice.Person);
        var facts = FactsOf(site, episode, notice);
        foreach (var way in person.Ways)
        {
            await store.SaveChangesAsync();
            var others = store.Outbox.Where(o => o.Site == site.Site && o.Person == person.Key && o.Way == way.Kind && o.Address == way.Address);
            var row = urgent
                ? null
                : await others.Where(o => o.DoneMs == null && o.Tries == 0 && o.NotBeforeMs > systemNow).OrderByDescending(o => o.Id).FirstOrDefaultAsync();
            if (row is not null)
            {
                var known = JsonSerializer.Deserialize<List<NoticeFacts>>(row.Notices, CenoticJson.Options)!;
                row.Notices = JsonSerializer.Serialize<IReadOnlyList<NoticeFacts>>([.. known, facts], CenoticJson.Options);
            }
            else
            {
                var last = await others.MaxAsync(o => (long?)o.CreatedMs) ?? 0;
                row = Row(
                    site,
                    person,
                    way,
                    NoticeText.Id(site.Site, episode.Id, notice.Step, person.Key, way),
                    [facts],
                    systemNow,
                    urgent ? systemNow : Math.Max(systemNow + TogetherMs, last + BetweenMs)
                );
                store.Outbox.Add(row);
                await store.SaveChangesAsync();
            }
            store.OutboxEpisodes.Add(
                new()
                {
                    Outbox = row.Id,
                    Episode = episode.Id,
                    Step = notice.Step,
                }
            );
        }
    }

    private static OutboxRow Row(
        SiteState site,
        PersonDesign person,
        WayDesign way,
        string id,
        IReadOnlyList<NoticeFacts> facts,
        long systemNow,
        long notBefore
    ) =>
        new()
        {
            Site = site.Site,
            Person = person.Key,
            Way = way.Kind,
            Address = way.Address,
            MessageId = id,
            Notices = JsonSerializer.Serialize(facts, CenoticJson.Options),
            CreatedMs = systemNow,
            NotBeforeMs = notBefore,
        };

    private static NoticeFacts FactsOf(SiteState site, EpisodeRow episode, DueNotice notice)
    {
        var design = site.Design;
        if (design.Rule(episode.Rule) is { } rule)
        {
            var quantity = site.Quantity(rule.Node, rule.Reading);
            return new(
                notice,
                episode.Label,
                WhereIs(design, rule.Node),
                rule.Also.Count > 0 && rule.Join == RuleJoin.Any
                    ? ""
                    : NoticeText.HowFar(rule.Condition, episode.Value, quantity?.Unit ?? "", design.Reading(new(rule.Node, rule.Reading))?.Decimals ?? 1),
                rule.Note,
                episode.RaisedMs,
                episode.ClearedMs,
                episode.Late,
                episode.Damped
            );
        }
        var zone = design.Zones.FirstOrDefault(z => "zone:" + z.Key == episode.Rule);
        return new(
            notice,
            episode.Label,
            design.Settings.Name,
            Named(design, episode.Cause ?? ""),
            zone?.Note ?? "",
            episode.RaisedMs,
            episode.ClearedMs,
            episode.Late,
            episode.Damped
        );
    }

    /// <summary>The node and the room it stands in.</summary>
    private static string WhereIs(SiteDesign design, string node)
    {
        var of = design.Node(node);
        var spot = design.Place.Spots.FirstOrDefault(s => s.Key == of?.Spot);
        var room = design.Place.Rooms.FirstOrDefault(r => r.Key == spot?.Room);
        return (design.NodeLabel(node) ?? node) + (room is not null ? $" ({room.Label})" : "");
    }

    /// <summary>Names of sensors in place of their keys.</summary>
    internal static string Named(SiteDesign design, string cause) =>
        string.Join(
            ", ",
            cause
                .Split(", ")
                .Select(c =>
                    c.Split(' ')[0].Split('/') is [var node, var key] && design.Reading(new(node, key)) is { } r
                        ? $"{r.Label} ({design.NodeLabel(node)}){c[(node.Length + key.Length + 1)..]}"
                        : c
                )
        );
}
