using System.Text.Json;
using Cenotic.Core.BringUp;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Server.Sites;
using Cenotic.Server.Storage;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace Cenotic.Server.BringUp;

/// <param name="ReferenceError">How good the reference is, ± in the unit.</param>
/// <param name="Against">What it was held against.</param>
/// <param name="FromMs">From when on it holds; null for from now on.</param>
/// <param name="DueMonths">After how many months it is to be done again; null for never.</param>
public sealed record CalibrationRequest(
    string Reading,
    CalibrationKind Kind,
    IReadOnlyList<CalibrationPoint> Points,
    double ReferenceError,
    string Against = "",
    long? FromMs = null,
    int? DueMonths = null
);

/// <summary>A correction, and how it reads.</summary>
public sealed record CalibrationTrial(Calibration Calibration, string Formula);

/// <param name="InForce">True for the one that corrects what comes now.</param>
public sealed record CalibrationView(
    long Id,
    long FromMs,
    long? UntilMs,
    long AtMs,
    string Who,
    Calibration Calibration,
    string Formula,
    string Against,
    long? DueMs,
    bool Due,
    bool InForce,
    long? UndoneMs,
    string? UndoneBy
);

/// <summary>A reading that can be calibrated, with its calibrations, the newest first.</summary>
/// <param name="Kinds">That make sense for it.</param>
public sealed record CalibratedReading(
    string Reading,
    string Label,
    string Unit,
    int Decimals,
    IReadOnlyList<CalibrationKind> Kinds,
    IReadOnlyList<CalibrationView> History
);

/// <param name="Work">The recompute that runs or ran last; null when there was none.</param>
public sealed record CalibrationsView(IReadOnlyList<CalibratedReading> Readings, RecomputeView? Work);

/// <summary>What a sensor shows now, and whether it has settled.</summary>
/// <param name="NewestMs">When it last came; null when it never did.</param>
/// <param name="Raw">The newest value before any calibration.</param>
public sealed record SteadyView(long? NewestMs, double? Raw, Steadiness? Steadiness);

/// <summary>Calibrations of a node's readings: tried, put in force, taken back.</summary>
public static class CalibrationEndpoints
{
    private const int LongestText = 200,
        MostMonths = 120,
        Stretches = 120;
    private const long QuickMs = 400;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/calibrations", ListAsync).WithName("GetCalibrations");
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/readings/{reading}/steadiness", SteadyAsync).WithName("GetSteadiness");
        SiteRoutes.Reading(routes).MapGet("/nodes/{node}/readings/{reading}/side-by-side", BesideAsync).WithName("GetSideBySide");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/calibrations/try", Try).WithName("TryCalibration");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/calibrations", PutAsync).WithName("PutCalibration");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/calibrations/{id:long}/undo", UndoAsync).WithName("UndoCalibration");
        SiteRoutes.Writing(routes).MapPost("/nodes/{node}/calibrations/stop", Stop).WithName("StopRecompute");
    }

    private static async Task<Results<Ok<CalibrationsView>, ProblemHttpResult>> ListAsync(
        string site,
        string node,
        SiteBook book,
        SiteClock clock,
        Calibrations calibrations,
        CenoticStore store
    )
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design)
        {
            return SiteRoutes.NoNode(node);
        }
        var rows = (await store.Calibrations.AsNoTracking().Where(c => c.Site == site && c.Node == node).OrderByDescending(c => c.Id).ToListAsync()).ToLookup(
            c => c.Reading
        );
        var now = clock.Now(site);
        var readings = new List<CalibratedReading>();
        foreach (var reading in design.Readings)
        {
            if (state.Quantity(node, reading.Key) is { Kind: ReadingKind.Gauge or ReadingKind.Counter } quantity)
            {
                readings.Add(
                    new(reading.Key, reading.Label, quantity.Unit, reading.Decimals, Kinds(quantity), View([.. rows[reading.Key]], quantity.Unit, now))
                );
            }
        }
        return TypedResults.Ok(new CalibrationsView(readings, calibrations.Work(site, node)));
    }

    private static List<CalibrationView> View(List<CalibrationRow> rows, string unit, long now)
    {
        var latest = rows.Where(r => r.UndoneMs is null && r.FromMs <= now).OrderBy(r => r.FromMs).ThenBy(r => r.Id).LastOrDefault();
        return
        [
            .. rows.Select(r =>
            {
                var calibration = JsonSerializer.Deserialize<Calibration>(r.Body, CenoticJson.Options)!;
                var inForce = ReferenceEquals(r, latest) && r.UntilMs is null;
                return new CalibrationView(
                    r.Id,
                    r.FromMs,
                    r.UntilMs,
                    r.AtMs,
                    r.Who,
                    calibration,
                    calibration.Formula(unit),
                    r.Against,
                    r.DueMs,
                    inForce && r.DueMs < now,
                    inForce,
                    r.UndoneMs,
                    r.UndoneBy
                );
            }),
        ];
    }

    private static IReadOnlyList<CalibrationKind> Kinds(PartQuantity quantity) =>
        quantity.Kind == ReadingKind.Counter ? [CalibrationKind.Scale]
        : quantity.Quantity == "conductivity" ? [CalibrationKind.Standard, CalibrationKind.Offset, CalibrationKind.TwoPoints]
        : [CalibrationKind.Offset, CalibrationKind.TwoPoints, CalibrationKind.Line, CalibrationKind.Table];

    /// <param name="since">Values that came before are left out, UTC ms: when the last point was taken.</param>
    /// <param name="raw">Of each point that was taken already what was shown.</param>
    /// <param name="spread">And how much it scattered.</param>
    private static async Task<Results<Ok<SteadyView>, ProblemHttpResult>> SteadyAsync(
        string site,
        string node,
        string reading,
        SiteBook book,
        CenoticStore store,
        long? since = null,
        double[]? raw = null,
        double[]? spread = null
    )
    {
        var state = book.Find(site)!;
        if (!state.Readings.TryGetValue((node, reading), out var row))
        {
            return TypedResults.Problem($"There is no reading \"{reading}\" of a node \"{node}\".", statusCode: 404);
        }
        var values = await store
            .Database.SqlQuery<Row>(
                $"""
                SELECT t AS T, raw AS Raw FROM samples WHERE reading_id = {row.Id} AND t > {since ?? 0} AND flags & 40 = 0 ORDER BY t DESC, n DESC
                    LIMIT {Steadiness.Longest}
                """
            )
            .ToListAsync();
        values.Reverse();
        var quantity = state.Quantity(node, reading);
        return TypedResults.Ok(
            new SteadyView(
                values.LastOrDefault()?.T,
                values.LastOrDefault()?.Raw,
                Steadiness.Of(
                    [.. values.Select(v => new FirstValue(v.T, v.Raw))],
                    quantity?.Error,
                    quantity?.Resolution,
                    [.. (raw ?? []).Select((r, i) => new CalibrationPoint(r, 0, spread?.ElementAtOrDefault(i) ?? 0))]
                )
            )
        );
    }

    /// <summary>A reading beside a trusted one of another node, over the newest hours.</summary>
    /// <param name="other">"node/reading" of the trusted one.</param>
    private static async Task<Results<Ok<SideResult>, UnprocessableEntity<EditRefused>>> BesideAsync(
        string site,
        string node,
        string reading,
        string other,
        double hours,
        SiteBook book,
        SiteClock clock,
        CenoticStore store
    )
    {
        var state = book.Find(site)!;
        if (
            other.Split('/') is not [var trustedNode, var trustedKey]
            || state.Quantity(node, reading) is not { } own
            || state.Quantity(trustedNode, trustedKey) is not { } trusted
            || own.Quantity != trusted.Quantity
            || hours is not (> 0 and <= 24 * 31)
            || (trustedNode, trustedKey) == (node, reading)
        )
        {
            return TypedResults.UnprocessableEntity(new EditRefused(["Choose a reading of the same quantity, and a stretch of up to 31 days."]));
        }
        var (now, length) = (clock.Now(site), (long)(hours * 3_600_000));
        var (from, bucket) = (now - length, Math.Max(60_000, length / Stretches));
        var (a, b) = (state.Readings[(node, reading)].Id, state.Readings[(trustedNode, trustedKey)].Id);
        var rows = await store
            .Database.SqlQuery<Beside>(
                $"""
                SELECT a.n * {bucket} AS T, a.v AS Raw, b.v AS Trusted, coalesce(l.c, 0) * 60000.0 / {bucket} AS Load FROM
                    (SELECT t / {bucket} AS n, avg(raw) AS v FROM samples WHERE reading_id = {a} AND t >= {from} AND flags & 40 = 0 GROUP BY t / {bucket}) a
                    JOIN (SELECT t / {bucket} AS n, avg(value) AS v FROM samples WHERE reading_id = {b} AND t >= {from} AND flags & 40 = 0
                        GROUP BY t / {bucket}) b ON a.n = b.n
                    LEFT JOIN (SELECT ReceivedMs / {bucket} AS n, count(*) AS c FROM arrivals WHERE Site = {site} AND Node = {node} AND ReceivedMs >= {from}
                        GROUP BY ReceivedMs / {bucket}) l ON a.n = l.n
                ORDER BY 1
                """
            )
            .ToListAsync();
        // The first and the last stretch are cut off.
        var result = SideBySide.Of([.. rows.Skip(1).SkipLast(1).Select(r => new SideMoment(r.T, r.Raw, r.Trusted, r.Load))], own.Unit, own.Resolution);
        return result.Ok ? TypedResults.Ok(result.Value) : TypedResults.UnprocessableEntity(new EditRefused(result.Reasons));
    }

    /// <summary>Why a request makes no calibration, or the calibration with what it is of.</summary>
    private static Outcome<(Calibration Calibration, PartQuantity Quantity, ReadingDesign Reading)> Made(
        SiteState state,
        string node,
        CalibrationRequest request
    )
    {
        if (state.Design.Node(node)?.Reading(request.Reading) is not { } reading || state.Quantity(node, request.Reading) is not { } quantity)
        {
            return Outcome<(Calibration, PartQuantity, ReadingDesign)>.Refused($"There is no reading \"{request.Reading}\" of a node \"{node}\".");
        }
        if (!Kinds(quantity).Contains(request.Kind))
        {
            return Outcome<(Calibration, PartQuantity, ReadingDesign)>.Refused($"{reading.Label} cannot be calibrated like that.");
        }
        var made = Calibration.Fit(request.Kind, request.Points, request.ReferenceError);
        return made.Ok
            ? Outcome<(Calibration, PartQuantity, ReadingDesign)>.Of((made.Value, quantity, reading))
            : Outcome<(Calibration, PartQuantity, ReadingDesign)>.Refused(made.Reasons[0]);
    }

    private static Results<Ok<CalibrationTrial>, UnprocessableEntity<EditRefused>> Try(string site, string node, CalibrationRequest request, SiteBook book)
    {
        var made = Made(book.Find(site)!, node, request);
        return made.Ok
            ? TypedResults.Ok(new CalibrationTrial(made.Value.Calibration, made.Value.Calibration.Formula(made.Value.Quantity.Unit)))
            : TypedResults.UnprocessableEntity(new EditRefused(made.Reasons));
    }

    private static async Task<Results<Ok<RecomputeView>, UnprocessableEntity<EditRefused>>> PutAsync(
        string site,
        string node,
        CalibrationRequest request,
        SiteBook book,
        SiteClock clock,
        Calibrations calibrations,
        HttpContext http
    )
    {
        var state = book.Find(site)!;
        var made = Made(state, node, request);
        var now = clock.Now(site);
        var reasons = made.Reasons.ToList();
        if (request.FromMs is { } earlier && earlier < now && state.Design.Node(node)!.CorrectsItself)
        {
            reasons.Add("Its program corrects its values: a calibration holds from now on, and once it was flashed.");
        }
        if (request.FromMs is { } start && (start > now || start < 0))
        {
            reasons.Add("It can hold from now on or from an earlier time, not from a later one.");
        }
        if (request.Against.Length > LongestText || request.DueMonths is < 1 or > MostMonths)
        {
            reasons.Add($"What it was held against has at most {LongestText} characters; it is due after 1 to {MostMonths} months, or never.");
        }
        if (reasons.Count > 0)
        {
            return TypedResults.UnprocessableEntity(new EditRefused(reasons));
        }
        var fault = calibrations.Begin(
            new()
            {
                Site = site,
                Node = node,
                Reading = request.Reading,
                FromMs = request.FromMs ?? now,
                AtMs = now,
                Who = http.User.Identity!.Name!,
                Body = JsonSerializer.Serialize(made.Value.Calibration, CenoticJson.Options),
                Against = request.Against,
                Fitted = Calibrations.Fitted(state.Design.Node(node)!.Part(made.Value.Reading.Part)),
                DueMs = request.DueMonths is { } months ? DateTimeOffset.FromUnixTimeMilliseconds(now).AddMonths(months).ToUnixTimeMilliseconds() : null,
            }
        );
        return await BegunAsync(site, node, fault, calibrations);
    }

    private static async Task<Results<Ok<RecomputeView>, UnprocessableEntity<EditRefused>>> UndoAsync(
        string site,
        string node,
        long id,
        Calibrations calibrations,
        CenoticStore store,
        HttpContext http
    )
    {
        var row = await store.Calibrations.AsNoTracking().FirstOrDefaultAsync(c => c.Id == id && c.Site == site && c.Node == node && c.UndoneMs == null);
        return await BegunAsync(
            site,
            node,
            row is null ? "There is no such calibration, or it was taken back already." : calibrations.BeginUndo(row, http.User.Identity!.Name!),
            calibrations
        );
    }

    /// <summary>What is worked through quickly is done when the answer comes; a longer one is asked after.</summary>
    private static async Task<Results<Ok<RecomputeView>, UnprocessableEntity<EditRefused>>> BegunAsync(
        string site,
        string node,
        string? fault,
        Calibrations calibrations
    )
    {
        if (fault is not null)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([fault]));
        }
        for (var until = Environment.TickCount64 + QuickMs; calibrations.Work(site, node) is { Running: true } && Environment.TickCount64 < until; )
        {
            await Task.Delay(10);
        }
        return TypedResults.Ok(calibrations.Work(site, node)!);
    }

    private static NoContent Stop(string site, string node, Calibrations calibrations)
    {
        calibrations.Cancel(site, node);
        return TypedResults.NoContent();
    }

    private sealed record Row(long T, double Raw);

    private sealed record Beside(long T, double Raw, double Trusted, double Load);
}
