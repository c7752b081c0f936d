using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>What stands at the foot of Watch: the ways in and how they fare.</summary>
public sealed class RelayTests(Demo demo) : IClassFixture<Demo>
{
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
        page.Type("Bytes", "1,310");
        page.Click("Read the bytes");
        page.UntilSees("1 frame, 0 B belong to none");
        page.UntilSees("hall/motion = 310");
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
