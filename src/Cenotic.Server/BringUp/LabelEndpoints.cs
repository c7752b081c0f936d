using Cenotic.Core.BringUp;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;
using QRCoder;

namespace Cenotic.Server.BringUp;

/// <param name="Address">Of its page, as this page was asked for.</param>
/// <param name="Code">The same as a QR code (ISO/IEC 18004, level M): rows of 1 for dark and 0 for light, the quiet zone of four left out.</param>
public sealed record LabelView(string Name, IReadOnlyList<string> Facts, string Address, IReadOnlyList<string> Code);

/// <summary>The printable label of a node.</summary>
public static class LabelEndpoints
{
    private const int QuietZone = 4;

    public static void Map(IEndpointRouteBuilder routes) => SiteRoutes.Reading(routes).MapGet("/nodes/{node}/label", Of).WithName("GetNodeLabel");

    private static async Task<Results<Ok<LabelView>, ProblemHttpResult>> Of(
        string site,
        string node,
        SiteBook book,
        Calibrations calibrations,
        SiteClock clock,
        HttpContext http
    )
    {
        var state = book.Find(site)!;
        if (state.Design.Node(node) is not { } design || await NodeProgramEndpoints.SettingsAsync(state, book, calibrations, clock, node) is not { } settings)
        {
            return SiteRoutes.NoNode(node);
        }
        var label = NodeLabel.Of(design, state.Catalogue, site, settings.Hash);
        var address = $"{http.Request.Scheme}://{http.Request.Host}/{site}/bring-up/{node}";
        using var code = QRCodeGenerator.GenerateQrCode(address, QRCodeGenerator.ECCLevel.M);
        var rows = code.ModuleMatrix;
        return TypedResults.Ok(
            new LabelView(
                label.Name,
                label.Facts,
                address,
                [
                    .. rows.Skip(QuietZone)
                        .Take(rows.Count - 2 * QuietZone)
                        .Select(r => string.Concat(Enumerable.Range(QuietZone, r.Count - 2 * QuietZone).Select(x => r[x] ? '1' : '0'))),
                ]
            )
        );
    }
}
