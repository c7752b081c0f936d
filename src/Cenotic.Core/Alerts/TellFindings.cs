using Cenotic.Core.Common;
using Cenotic.Core.Design;

namespace Cenotic.Core.Alerts;

/// <summary>Checks of whom a rule or a zone tells: whether they are there still, and whether anything leads out of the house to them.</summary>
/// <param name="waysOut">Ways that lead out as this program is set; null where that is not known: then it is not judged.</param>
internal sealed class TellFindings(SiteDesign site, IReadOnlyCollection<WayKind>? waysOut)
{
    private const int MostOffered = 3;

    /// <summary>Findings of one rule or zone.</summary>
    /// <param name="label">Its name.</param>
    /// <param name="acts">True where it switches or sounds something, too.</param>
    /// <param name="edit">The edit that makes it tell others; null for nobody.</param>
    public IEnumerable<Finding> Of(string label, TellDesign? tell, bool acts, Subject subject, Func<TellDesign?, DesignEdit> edit)
    {
        if (tell is null)
        {
            yield break;
        }
        var (there, gone) = (tell.Steps.Where(s => Person(s) is not null).ToList(), tell.Steps.Where(s => Person(s) is null).Select(s => s.Person).ToList());
        if (gone.Count > 0)
        {
            yield return new(
                "ALERT-NOBODY",
                there.Count == 0 ? Severity.Stop : Severity.Risk,
                subject,
                $"\"{label}\" tells {string.Join(", ", gone)}, who {(gone.Count == 1 ? "is" : "are")} gone.",
                there.Count == 0 ? "Nobody is told." : "They are not told.",
                [new("Tell those who are left", [edit(there.Count == 0 ? null : tell with { Steps = there })])],
                null,
                "design"
            );
        }
        if (there.Where(s => !IsReached(Person(s)!)).Select(s => Person(s)!).ToList() is { Count: > 0 } missed)
        {
            yield return OutOfReach(label, tell, acts, [.. there.Where(s => IsReached(Person(s)!))], missed, subject, edit);
        }
    }

    private PersonDesign? Person(TellStep step) => site.People.FirstOrDefault(p => p.Key == step.Person);

    private bool IsReached(PersonDesign person) => person.Ways.Any(w => waysOut?.Contains(w.Kind) ?? true);

    private Finding OutOfReach(
        string label,
        TellDesign tell,
        bool acts,
        List<TellStep> left,
        List<PersonDesign> missed,
        Subject subject,
        Func<TellDesign?, DesignEdit> edit
    )
    {
        var ways = missed.SelectMany(p => p.Ways).Select(w => w.Kind).Distinct().Order().ToList();
        var lacks = ways.Select(w => w == WayKind.Mail ? "no mail server is set" : "no gateway of text messages is set").ToList();
        var names = string.Join(" and ", missed.Select(p => p.Name));
        var others = site.People.Where(p => IsReached(p) && tell.Steps.All(s => s.Person != p.Key)).Take(MostOffered);
        return new(
            "ALERT-NO-WAY-OUT",
            left.Count == 0 ? Severity.Stop : Severity.Risk,
            subject,
            lacks.Count == 0
                ? $"\"{label}\" tells {names}, and there is no way to reach them."
                : $"\"{label}\" tells {names}, and {string.Join(" and ", lacks)}.",
            left.Count == 0
                ? $"Nobody is told{(acts ? "" : ": only open pages and the wall show it")}."
                : $"{names} {(missed.Count == 1 ? "is" : "are")} not told.",
            left.Count > 0
                ? [new("Tell the others only", [edit(tell with { Steps = left })])]
                : [.. others.Select(p => new Remedy($"Tell {p.Name}", [edit(tell with { Steps = [new(p.Key)] })])), new("Show it on pages only", [edit(null)])],
            lacks.Count == 0 ? "Give them a way under Alerts, People." : "Set it under Alerts, People, Ways out.",
            "settings of this program"
        );
    }
}
