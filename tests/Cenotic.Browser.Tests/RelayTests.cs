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
