using Cenotic.Tests;

namespace Cenotic.Server.Tests;

/// <summary>The floors of the server: a room uses earlier ones only; what needs a later one asks by an interface of its own.</summary>
public class FloorsTests
{
    [Fact]
    public void No_room_uses_a_later_one() => Assert.Empty(Floors.Upwards(typeof(App).Assembly, Floors.Order("Server")));

    [Fact]
    public void Every_folder_is_a_room()
    {
        var folders = Directory.GetDirectories(Path.Combine(Floors.Root, "src", "Cenotic.Server")).Select(Path.GetFileName);
        Assert.Empty(folders.Where(f => f is not ("bin" or "obj")).Except(Floors.Order("Server")));
    }
}
