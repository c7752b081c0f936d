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

    [Fact]
    public void A_picture_is_kept_with_its_note_and_a_text_that_is_named_one_leaves_nothing_behind()
    {
        using var page = demo.Open(390, 844);
        page.SignIn();
        page.Go("log");
        var folder = Directory.CreateTempSubdirectory("pictures").FullName;
        var text = Path.Combine(folder, "lid.png");
        File.WriteAllText(text, "no picture at all");
        void Choose(string file) => page.Driver.FindElement(OpenQA.Selenium.By.CssSelector("input[data-pictures]")).SendKeys(file);
        page.Type("Note", "The lid from inside");
        Choose(text);
        page.Click("Write it");
        page.UntilSees("lid.png is no picture that this browser can read.");
        // Nothing is half saved, and nothing that was typed is lost.
        Assert.False(page.Sees("The lid from inside ·"));
        Assert.Equal("The lid from inside", page.Field("Note").GetAttribute("value"));
        Choose(Path.Combine(Demo.Root, "docs", "screenshots", "place.png"));
        page.Click("Write it");
        page.UntilSees("The lid from inside · owner");
        page.Until(
            () => (bool)page.Driver.ExecuteScript("const p = document.querySelector('main li img'); return !!p && p.complete && p.naturalWidth > 100")!,
            "the picture shows"
        );
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        Directory.Delete(folder, recursive: true);
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_bad_period_is_set_aside_and_taken_back_from_the_log(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("watch");
        page.Click("Set a bad period aside");
        page.Type("Why", $"Lay in the sun, {width}");
        Assert.Empty(page.AxeFaults());
        page.Click("Set it aside");
        page.UntilGone("Set it aside");
        page.Go("log");
        page.Type("Search", $"sun, {width}");
        page.UntilSees($"set aside: Lay in the sun, {width}");
        page.Click("Take back");
        page.UntilGone("Take back");
        page.Type("Search", "counts again");
        page.UntilSees("counts again");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>A rule and a room are removed, and come back from the log, which a reload does not hinder.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void What_was_removed_is_put_back(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("alerts?view=rules");
        page.Click("Duplicate Rack 1 too warm");
        page.UntilSees("Whom to tell");
        page.Type("Name", $"Spare {width}");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, "it is kept");
        page.Click($"Remove Spare {width}");
        page.UntilSees("the Log can bring it back");
        page.Go("log");
        page.Click($"Take back: Rule Spare {width} removed");
        page.UntilSees($"Rule Spare {width}: back again.");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Go("alerts?view=rules");
        page.Click($"Remove Spare {width}");
        page.UntilSees("the Log can bring it back");
        Assert.Empty(page.ConsoleErrors());
    }
}
