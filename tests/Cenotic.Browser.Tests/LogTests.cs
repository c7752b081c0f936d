namespace Cenotic.Browser.Tests;

/// <summary>The log is read, searched and written into.</summary>
public sealed class LogTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_note_is_written_found_and_removed(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("log");
        page.UntilSees("Started by power with settings");
        page.Choose("About", "Cistern level");
        page.Type("Note", $"New cells, set of {width}");
        page.Click("Write it about Cistern level");
        page.UntilSees($"New cells, set of {width} · owner");
        page.Type("Search", "nothing like it");
        page.UntilSees("Nothing found");
        Assert.Empty(page.AxeFaults());
        page.Type("Search", "cells set");
        page.UntilSees($"New cells, set of {width}");
        page.Click("Remove");
        page.UntilGone($"New cells, set of {width}");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        Assert.Empty(page.ConsoleErrors());
    }
}
