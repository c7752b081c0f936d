using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>What stands at the foot of Watch: the ways in and how they fare.</summary>
public sealed class RelayTests(Demo demo) : IClassFixture<Demo>
{
    [Fact]
    public void A_table_is_looked_at_and_imported_and_the_same_again_adds_nothing()
    {
        var file = Path.Combine(Path.GetTempPath(), $"cenotic-{Guid.NewGuid():n}.csv");
        File.WriteAllText(file, "when;rack2\r\n01.02.2026 10:00;21,5\r\n01.02.2026 10:01;cold\r\n");
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("watch");
        foreach (var told in new[] { "1 new sample, 0 known before, 1 left out.", "0 new samples, 1 known before, 1 left out." })
        {
            page.Click("Import a table");
            page.Field("File").SendKeys(file);
            page.UntilSees("A semicolon between the columns, headings in the first row.");
            page.UntilSees("Drying room: Rack 2 temperature");
            Assert.Empty(page.AxeFaults());
            page.Click("Import it");
            page.UntilSees(told);
            page.UntilSees("is no number of rack2.");
            Assert.Empty(page.AxeFaults());
            page.Press(Keys.Escape);
            page.UntilGone("left out.");
        }
        File.Delete(file);
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void The_fan_is_switched_on_for_a_time_and_off_and_the_page_says_who_did_it(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("watch");
        page.Click("Switch Fan on for 10 min");
        page.UntilSees("wanted on by owner for 10 min more, obeyed after");
        page.Find("//*[@data-output = 'drying/fan']//*[normalize-space() = 'on']", "its state is on");
        Assert.False(page.Overflows());
        page.Click("Switch Fan off");
        page.Find("//*[@data-output = 'drying/fan']//*[normalize-space() = 'off']", "its state is off");
        page.Click("Who switched what");
        page.UntilSees("switched off by owner");
        Assert.Empty(page.AxeFaults());
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void A_message_is_opened_a_stretch_is_saved_and_the_store_is_looked_through()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("watch");
        page.Click("Messages and key");
        page.UntilSees("It is connected to the broker. It said that it is there");
        page.Tap(() => page.Find("//*[@role='dialog']//table//button[contains(., 'value')]", "a message"));
        page.UntilSees("sys/seq");
        page.Press(Keys.Escape);
        page.Click("Save a stretch as a file");
        var address = page.Find("//a[normalize-space() = 'Save the file']", "the file").GetAttribute("href")!;
        var table = (string)page.Driver.ExecuteAsyncScript("const done = arguments[1]; fetch(arguments[0]).then(a => a.text()).then(done)", address)!;
        Assert.StartsWith("time,node,reading,value,unit,marks", table);
        Assert.True(table.Split('\n').Length > 10_000);
        page.Press(Keys.Escape);
        page.Click("Look through the store");
        page.UntilSees("The store is sound");
        Assert.Empty(page.ConsoleErrors());
    }

    [Fact]
    public void What_is_kept_how_long_is_said_and_undone_and_nonsense_is_refused()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("place");
        page.Click("Site");
        page.Type("Samples are kept, days", "90");
        page.Type("Minutes are kept, days", "30");
        page.Click("Save");
        page.UntilSees("samples must be kept no longer than that");
        page.Type("Minutes are kept, days", "365");
        page.Click("Save");
        page.UntilGone("Minutes are kept, days");
        page.Click("Site");
        Assert.Equal("90", page.Field("Samples are kept, days").GetAttribute("value"));
        page.Press(Keys.Escape);
        page.Click("Undo");
        page.Until(
            () =>
            {
                page.Click("Site");
                var kept = page.Field("Samples are kept, days").GetAttribute("value");
                page.Press(Keys.Escape);
                return kept == "";
            },
            "it is undone"
        );
    }

    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_serial_line_is_tried_on_pasted_bytes_kept_and_undone(int width, int height)
    {
        using var page = demo.Open(width, height);
        page.SignIn();
        page.Go("watch");
        page.Click("New serial line");
        page.Type("Name", $"Bridge {width}");
        page.Type("Port", "/etc/passwd");
        page.Choose("Frames", "numbers with a separator");
        page.Click("Read the bytes");
        page.UntilSees("A frame has 1 to 64 values.");
        page.Click("Add a number");
        page.Click("Add a number");
        page.Type("Bytes", "1,0");
        page.Click("Read the bytes");
        page.UntilSees("1 frame, 0 B belong to none");
        page.UntilSees("hall/motion = 0");
        Assert.Empty(page.AxeFaults());
        Assert.False(page.Overflows());
        page.Click("Add the line");
        page.UntilSees("is no serial port; write it like /dev/ttyUSB0");
        page.Type("Port", "tcp://127.0.0.1:1");
        page.Click("Add the line");
        page.Find($"//button[normalize-space() = 'Set up Bridge {width}']", "the line in the list");
        page.Click("Undo");
        page.Until(() => page.Driver.FindElements(By.XPath($"//button[normalize-space() = 'Set up Bridge {width}']")).Count == 0, "it is gone again");
    }
}
