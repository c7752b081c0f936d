using System.IO.Compression;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.StaticFiles;
using Microsoft.Net.Http.Headers;

namespace Cenotic.Server.Common;

/// <summary>
/// How pages and answers get to the browser: files of the front end as they were packed at build (Brotli, RFC 7932), those with a hash in their name kept
/// for good; answers packed as they are sent.
/// </summary>
internal static class Delivery
{
    private const string Packed = ".br",
        KeptForGood = "public, max-age=31536000, immutable";

    /// <summary>How a file of the front end is served.</summary>
    public static StaticFileOptions Files { get; } = new() { ContentTypeProvider = new PackedTypes(), OnPrepareResponse = Prepare };

    /// <summary>Answers are packed over plain HTTP only: over TLS their length would tell something of what they hold.</summary>
    public static IServiceCollection AddDelivery(this IServiceCollection services) =>
        services
            .Configure<BrotliCompressionProviderOptions>(o => o.Level = CompressionLevel.Optimal)
            .Configure<GzipCompressionProviderOptions>(o => o.Level = CompressionLevel.Optimal)
            .AddResponseCompression(o =>
            {
                o.Providers.Add<BrotliCompressionProvider>();
                o.Providers.Add<GzipCompressionProvider>();
                o.MimeTypes = ["application/json", "application/problem+json", "application/geo+json", "text/csv", "text/html", "image/svg+xml"];
            });

    /// <summary>Serves the front end, and packs what comes after it.</summary>
    public static void UseDelivery(this WebApplication app)
    {
        app.UseResponseCompression();
        app.UseDefaultFiles();
        app.Use(
            (http, next) =>
            {
                ChoosePacked(http.Request, app.Environment);
                return next(http);
            }
        );
        app.UseStaticFiles(Files);
    }

    /// <summary>Leads to the packed file where there is one and the browser takes it.</summary>
    private static void ChoosePacked(HttpRequest request, IWebHostEnvironment environment)
    {
        if (
            request.Path.Value is { Length: > 1 } path
            && !path.EndsWith(Packed, StringComparison.Ordinal)
            && HttpMethods.IsGet(request.Method)
            && Takes(request, "br")
            && environment.WebRootFileProvider.GetFileInfo(path + Packed).Exists
        )
        {
            request.Path = path + Packed;
        }
    }

    /// <summary>True when the browser names an encoding and does not forbid it (RFC 9110, 12.5.3).</summary>
    private static bool Takes(HttpRequest request, string encoding) =>
        request.GetTypedHeaders().AcceptEncoding.Any(a => a.Value.Equals(encoding, StringComparison.OrdinalIgnoreCase) && a.Quality != 0);

    private static void Prepare(StaticFileResponseContext served)
    {
        var (headers, path) = (served.Context.Response.Headers, served.Context.Request.Path);
        headers.CacheControl = path.StartsWithSegments("/assets") ? KeptForGood : "no-cache";
        headers.Append(HeaderNames.Vary, HeaderNames.AcceptEncoding);
        if (served.File.Name.EndsWith(Packed, StringComparison.Ordinal))
        {
            headers.ContentEncoding = "br";
        }
    }

    /// <summary>A packed file is of the type that it is unpacked.</summary>
    private sealed class PackedTypes : IContentTypeProvider
    {
        private readonly FileExtensionContentTypeProvider _types = new();

        public bool TryGetContentType(string subpath, out string contentType) =>
            _types.TryGetContentType(subpath.EndsWith(Packed, StringComparison.Ordinal) ? subpath[..^Packed.Length] : subpath, out contentType!);
    }
}
