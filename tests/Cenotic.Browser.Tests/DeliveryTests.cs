using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;

namespace Cenotic.Browser.Tests;

/// <summary>How much goes over the wire, and what a browser keeps.</summary>
public sealed class DeliveryTests(Demo demo) : IClassFixture<Demo>
{
    /// <summary>A client that unpacks nothing by itself.</summary>
    private HttpClient Client(string? encodings)
    {
        var client = new HttpClient(new HttpClientHandler { AutomaticDecompression = DecompressionMethods.None }) { BaseAddress = new Uri(demo.Address) };
        if (encodings is not null)
        {
            client.DefaultRequestHeaders.Add("Accept-Encoding", encodings);
        }
        return client;
    }

    private static async Task<byte[]> UnpackedAsync(HttpContent content)
    {
        using var into = new MemoryStream();
        await using var from = new BrotliStream(await content.ReadAsStreamAsync(), CompressionMode.Decompress);
        await from.CopyToAsync(into);
        return into.ToArray();
    }

    [Fact]
    public async Task Every_script_and_style_is_packed_for_who_takes_it_and_unpacks_to_the_same()
    {
        using var packed = Client("gzip, br");
        using var plain = Client(null);
        using var refused = Client("br;q=0, gzip");
        var assets = Directory
            .GetFiles(Path.Combine(Demo.Root, ".run", "program", "wwwroot", "assets"))
            .Select(Path.GetFileName)
            .Where(f => f!.EndsWith(".js", StringComparison.Ordinal) || f.EndsWith(".css", StringComparison.Ordinal))
            .ToList();
        var squeezed = 0;
        foreach (var asset in assets)
        {
            var (small, whole) = (await packed.GetAsync($"/assets/{asset}"), await plain.GetAsync($"/assets/{asset}"));
            Assert.Equal((HttpStatusCode.OK, HttpStatusCode.OK), (small.StatusCode, whole.StatusCode));
            Assert.Equal(whole.Content.Headers.ContentType, small.Content.Headers.ContentType);
            Assert.Equal(TimeSpan.FromDays(365), small.Headers.CacheControl!.MaxAge);
            Assert.Contains("Accept-Encoding", small.Headers.Vary);
            Assert.Empty(whole.Content.Headers.ContentEncoding);
            Assert.Empty((await refused.GetAsync($"/assets/{asset}")).Content.Headers.ContentEncoding);
            var bytes = await whole.Content.ReadAsByteArrayAsync();
            if (small.Content.Headers.ContentEncoding.Contains("br"))
            {
                squeezed++;
                Assert.True(small.Content.Headers.ContentLength < bytes.Length);
                Assert.Equal(bytes, await UnpackedAsync(small.Content));
            }
        }
        Assert.True(squeezed > assets.Count / 2, $"{squeezed} of {assets.Count} files are packed");
    }

    /// <summary>The page itself is asked for each time: it names the scripts of the day.</summary>
    [Fact]
    public async Task A_page_is_not_kept_and_a_file_that_is_gone_is_no_page()
    {
        using var client = Client("br");
        foreach (var page in new[] { "/", "/fernhollow/bench" })
        {
            var answer = await client.GetAsync(page);
            Assert.True(answer.Headers.CacheControl!.NoCache, page);
            Assert.Equal(new MediaTypeHeaderValue("text/html"), answer.Content.Headers.ContentType);
        }
        foreach (var none in new[] { "/assets/gone.js", "/assets/gone.js.br", "/..%2f..%2fCenotic.Server.dll" })
        {
            Assert.False((await client.GetAsync(none)).IsSuccessStatusCode, none);
        }
    }

    /// <summary>As the browser counts what it received, with headers: the first view of the Bench with all that it asks for, in an empty browser.</summary>
    [Fact]
    public void The_first_load_of_a_station_is_under_400_kilobytes_over_the_wire()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Driver.ExecuteCdpCommand("Network.clearBrowserCache", []);
        page.Go("bench");
        page.UntilSees("Supply");
        var sent = Convert.ToInt64(
            page.Driver.ExecuteScript(
                """
                return performance.getEntriesByType("resource").concat(performance.getEntriesByType("navigation")).reduce((sum, e) => sum + e.transferSize, 0);
                """
            ),
            System.Globalization.CultureInfo.InvariantCulture
        );
        Assert.InRange(sent, 50_000, 400_000);
    }
}
