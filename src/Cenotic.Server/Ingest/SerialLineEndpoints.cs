using Cenotic.Core.Design;
using Cenotic.Core.Formats;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Cenotic.Server.Ingest;

/// <summary>A frame format and bytes to try it on.</summary>
/// <param name="Bytes">Hexadecimal digits, or text with <paramref name="AsText"/>.</param>
public sealed record FrameTrial(FrameFormat Format, string Bytes, bool AsText);

/// <param name="Unit">Of the reading; empty when there is no such reading.</param>
public sealed record TriedValue(string Node, string Reading, double Value, string Unit);

public sealed record TriedFrame(string Hex, string Text, IReadOnlyList<TriedValue> Values, string? Refusal);

/// <summary>What a format makes of bytes.</summary>
/// <param name="Skipped">Bytes that belonged to no frame.</param>
/// <param name="Waiting">Bytes at the end that are the beginning of a frame.</param>
/// <param name="Checked">True when a frame carries a check against noise.</param>
public sealed record TriedFrames(IReadOnlyList<TriedFrame> Frames, long Skipped, int Waiting, int LongestFrame, bool Checked);

/// <summary>The serial lines of a site, and a format tried on pasted bytes.</summary>
public static class SerialLineEndpoints
{
    private const int MostBytes = 20_000;

    public static void Map(IEndpointRouteBuilder routes)
    {
        SiteRoutes.Reading(routes).MapGet("/lines", (string site, SerialLineHost lines) => lines.States(site)).WithName("GetLines");
        SiteRoutes.Writing(routes).MapPost("/lines/try", Try).WithName("TryFrames");
    }

    private static Results<Ok<TriedFrames>, UnprocessableEntity<EditRefused>> Try(string site, FrameTrial request, SiteBook book)
    {
        // The same checks as when the line is kept; only the frames matter here.
        var put = new PutLine(new("trial", "Trial", "/dev/ttyUSB0", 9600, request.Format));
        var faults = EditChecks.Faults(book.Find(site)!.Design, put);
        if (faults.Count > 0)
        {
            return TypedResults.UnprocessableEntity(EditRefused.Of(faults));
        }
        if (BytesOf(request) is not { } bytes)
        {
            return TypedResults.UnprocessableEntity(new EditRefused([$"Paste up to {MostBytes} bytes, as text or as pairs of hexadecimal digits."]));
        }
        var decoder = new FrameDecoder(request.Format, midStream: false);
        var frames = decoder.Push(bytes);
        return TypedResults.Ok(
            new TriedFrames(
                [
                    .. frames.Select(f => new TriedFrame(
                        Convert.ToHexString(f.Bytes),
                        Printable(f.Bytes),
                        [.. f.Values.Select(v => new TriedValue(v.Node, v.Reading, v.Value, book.Find(site)!.Quantity(v.Node, v.Reading)?.Unit ?? ""))],
                        f.Refusal
                    )),
                ],
                decoder.Skipped,
                decoder.Waiting,
                FrameDecoder.LongestFrame(request.Format),
                request.Format.Checked
            )
        );
    }

    private static byte[]? BytesOf(FrameTrial request)
    {
        if (request.Bytes.Length > MostBytes * 3)
        {
            return null;
        }
        if (request.AsText)
        {
            // What is pasted has mostly lost the end of its last line.
            var text = request.Bytes.ReplaceLineEndings("\n");
            var lines = request.Format.Kind is FrameKind.ValuePerLine or FrameKind.SeparatedValues;
            return System.Text.Encoding.UTF8.GetBytes(lines && !text.EndsWith('\n') ? text + "\n" : text);
        }
        var digits = string.Concat(request.Bytes.Where(c => !char.IsWhiteSpace(c) && c is not (':' or '-' or ',')));
        try
        {
            return Convert.FromHexString(digits);
        }
        catch (FormatException)
        {
            return null;
        }
    }

    private static string Printable(byte[] bytes) =>
        string.Concat(
            bytes.Select(b =>
                b is >= 0x20 and < 0x7F ? (char)b
                : b == '\n' ? '⏎'
                : '·'
            )
        );
}
