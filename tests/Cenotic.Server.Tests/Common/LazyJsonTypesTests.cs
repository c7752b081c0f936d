using System.Text.Json;
using Cenotic.Core.Catalogue;
using Cenotic.Core.Common;
using Cenotic.Core.Design;
using Cenotic.Core.Planning;
using Cenotic.Server.Sites;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Options;

namespace Cenotic.Server.Tests.Common;

/// <summary>Types of requests and answers are looked at when they are first used, and read and written as ever.</summary>
public class LazyJsonTypesTests
{
    [Fact]
    public async Task A_started_server_has_read_no_member_of_its_answers()
    {
        await using var server = await RunningServer.StartAsync();
        var types = server.Services.GetRequiredService<IOptions<JsonOptions>>().Value.SerializerOptions;
        Assert.True(types.IsReadOnly);
        Assert.Empty(types.GetTypeInfo(typeof(SitePlan)).Properties);
        Assert.NotEmpty(CenoticJson.Options.GetTypeInfo(typeof(SitePlan)).Properties);
    }

    [Fact]
    public async Task What_is_written_and_refused_is_as_without_them()
    {
        await using var server = await RunningServer.StartAsync();
        var types = server.Services.GetRequiredService<IOptions<JsonOptions>>().Value.SerializerOptions;
        DesignEdit edit = new RemoveRoom("hall");
        Assert.Equal("""{"kind":"removeRoom","key":"hall"}""", JsonSerializer.Serialize(edit, types));
        Assert.Equal(edit, JsonSerializer.Deserialize<DesignEdit>("""{"kind":"removeRoom","key":"hall"}""", types));
        Assert.Equal("""["c","f"]""", JsonSerializer.Serialize<IReadOnlyList<string>>(["c", "f"], types));
        var catalogue = HardwareCatalogue.BuiltIn.Boards.ToList();
        Assert.Equal(JsonSerializer.Serialize(catalogue, CenoticJson.Options), JsonSerializer.Serialize(catalogue, types));
        string Refused(JsonSerializerOptions by) =>
            Assert
                .ThrowsAny<JsonException>(() => JsonSerializer.Deserialize<EditRequest>("""{"revision":1,"edits":[{"kind":"removeRoom","key":3}]}""", by))
                .Path!;
        Assert.Equal(Refused(CenoticJson.Options), Refused(types));
    }
}
