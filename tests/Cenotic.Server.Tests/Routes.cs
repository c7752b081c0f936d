using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace Cenotic.Server.Tests;

/// <summary>Every route of the program, from the list that it serves by.</summary>
internal static partial class Routes
{
    /// <summary>What stands for a part of a path: something that is there in the demo's design.</summary>
    private static readonly Dictionary<string, string> Parts = new()
    {
        ["site"] = "home",
        ["node"] = "hall",
        ["reading"] = "temp",
        ["output"] = "light",
        ["zone"] = "house",
        ["person"] = "ann",
        ["name"] = "viewer",
        ["view"] = "house",
        ["id"] = "1",
        ["kind"] = "part",
        ["documentName"] = "v1",
        ["token"] = "none",
        ["key"] = "none",
    };

    public static IEnumerable<(RouteEndpoint Endpoint, string Method)> Of(RunningServer server) =>
        server
            .Services.GetRequiredService<EndpointDataSource>()
            .Endpoints.OfType<RouteEndpoint>()
            .SelectMany(e => (e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? ["GET"]).Select(m => (e, m)));

    /// <summary>The path of a route with its parts filled in.</summary>
    public static string Path(RouteEndpoint endpoint) => Part().Replace(endpoint.RoutePattern.RawText!, m => Parts.GetValueOrDefault(m.Groups[1].Value, "1"));

    [GeneratedRegex(@"\{\*{0,2}([a-zA-Z]+)[^}]*\}")]
    private static partial Regex Part();
}
