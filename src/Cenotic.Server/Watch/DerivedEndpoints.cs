using System.Text.Json;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Watch;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.Watch;

/// <summary>A reading that is worked out, as it stands.</summary>
/// <param name="Now">Its newest value with its working.</param>
/// <param name="Work">Its past, while that is worked out; else null.</param>
/// <param name="MissedMs">Time through which a sum did not run for want of values, ms.</param>
public sealed record DerivedView(DerivedDesign Derived, Figure Now, DerivedWork? Work, long MissedMs);

/// <param name="From">How it would be worked out.</param>
public sealed record DerivedTrial(DerivedFrom? From = null);

/// <param name="Now">What it would be with the newest values; null where it cannot be.</param>
/// <param name="Reasons">Why it cannot be, or what to mind.</param>
public sealed record DerivedTrialView(Figure? Now, IReadOnlyList<string> Reasons);

/// <summary>What can be worked out on a site.</summary>
/// <param name="OfNodes">What nodes show by themselves and is not worked out yet.</param>
/// <param name="Pulses">The usual pulses of meters.</param>
public sealed record DerivedChoicesView(IReadOnlyList<DerivedChoice> Kinds, IReadOnlyList<OfferedDerived> OfNodes, IReadOnlyList<PulsesDesign> Pulses);

/// <param name="Unit">The unit it would come in.</param>
public sealed record OfferedDerived(DerivedDesign Derived, string Unit);

/// <summary>Readings that are worked out: how they stand, a look before one is added, and working them out anew.</summary>
public static class DerivedEndpoints
{
    public static void Map(IEndpointRouteBuilder routes)
    {
        var reading = SiteRoutes.Reading(routes);
        reading.MapGet("/derived", ListAsync).WithName("GetDerived");
        reading.MapGet("/derived/choices", Choices).WithName("GetDerivedChoices");
        var writing = SiteRoutes.Writing(routes);
        writing.MapPost("/derived/look", LookAsync).WithName("LookAtDerived");
        writing.MapPost("/derived/{key}/again", Again).WithName("DeriveAgain");
    }

    private static DerivedChoicesView Choices(string site, SiteBook book)
    {
        var (design, catalogue) = (book.Find(site)!.Design, book.Find(site)!.Catalogue);
        return new(
            DerivedChoices.Of(design, catalogue),
            [.. DerivedChoices.OfNodes(design).Select(d => new OfferedDerived(d, DerivedFacts.Quantity(design, catalogue, d.From).Unit))],
            DerivedChoices.Pulses
        );
    }

    private static async Task<List<DerivedView>> ListAsync(string site, SiteBook book, CenoticStore store, Deriver deriver)
    {
        var state = book.Find(site)!;
        var newest = await SeriesReader.NewestAsync(store, site);
        var missed = await MissedAsync(store, state);
        return
        [
            .. state.Design.Derived.Select(d => new DerivedView(
                d,
                FigureOf(state, d, newest, missed),
                deriver.WorkOf(site, d.Key),
                missed.GetValueOrDefault(d.Key)
            )),
        ];
    }

    /// <summary>Of each sum of a site the time, ms, through which it did not run for want of values.</summary>
    internal static async Task<IReadOnlyDictionary<string, long>> MissedAsync(CenoticStore store, SiteState state)
    {
        var sums = state.Design.Derived.Where(d => d.From.IsTotal).Select(d => d.Key).ToList();
        var kept = sums.Count == 0 ? [] : await store.DerivedStates.AsNoTracking().Where(d => d.Site == state.Site && sums.Contains(d.Key)).ToListAsync();
        return kept.ToDictionary(d => d.Key, d => JsonSerializer.Deserialize<DerivedState>(d.State, CenoticJson.Options)!.MissedMs);
    }

    /// <summary>Its figure, by the newest values of its inputs.</summary>
    internal static Figure FigureOf(
        SiteState state,
        DerivedDesign derived,
        Dictionary<int, (long T, double Value, int Flags)> newest,
        IReadOnlyDictionary<string, long>? missed = null
    )
    {
        double? Newest(ReadingRef r) =>
            state.Readings.TryGetValue((r.Node, r.Reading), out var row) && newest.TryGetValue(row.Id, out var sample) ? sample.Value : null;
        return DerivedFacts.Figure(
            state.Design,
            state.Catalogue,
            derived,
            [.. derived.From.Inputs.Select(Newest)],
            Newest(new(DerivedDesign.Node, derived.Key)),
            missed?.GetValueOrDefault(derived.Key)
        );
    }

    private static async Task<DerivedTrialView> LookAsync(string site, DerivedTrial request, SiteBook book, CenoticStore store)
    {
        var state = book.Find(site)!;
        if (request.From is not { } from)
        {
            return new(null, ["Say how it is worked out."]);
        }
        // A form that is half filled is no fault of anybody: it is answered, not refused.
        var derived = new DerivedDesign("look", "Now", from, 2);
        var applied = EditBatch.Apply(state.Design, [new PutDerived(derived)]);
        if (!applied.Ok)
        {
            return new(null, applied.Reasons);
        }
        var reasons = DerivedFindings.Of(applied.Value.After with { Derived = [derived] }, state.Catalogue).Select(f => f.What).ToList();
        return new(reasons.Count > 0 ? null : FigureOf(state, derived, await SeriesReader.NewestAsync(store, site)), reasons);
    }

    private static Results<NoContent, ProblemHttpResult> Again(string site, string key, SiteBook book, Deriver deriver)
    {
        if (book.Find(site)!.Design.Derived.All(d => d.Key != key))
        {
            return TypedResults.Problem($"There is no reading \"{key}\" that is worked out.", statusCode: 404);
        }
        deriver.Again(site, key);
        return TypedResults.NoContent();
    }
}
