using OpenQA.Selenium;

namespace Cenotic.Browser.Tests;

/// <summary>Takes the pictures of docs/screenshots again when CENOTIC_SHOTS names the folder; else only proves that each view can be drawn.</summary>
public sealed class Screenshots(Demo demo) : IClassFixture<Demo>
{
    [Fact]
    public void Of_each_main_view()
    {
        var folder = Environment.GetEnvironmentVariable("CENOTIC_SHOTS");
        using (var desk = demo.Open(1280, 800))
        {
            desk.SignIn();
            foreach (
                var (view, name) in new[]
                {
                    ("place", "place"),
                    ("bench/drying", "bench"),
                    ("bench/drying?view=circuit", "bench-circuit"),
                    ("bench/drying?view=power", "bench-power"),
                    ("rhythm/cistern", "rhythm"),
                    ("rhythm/cistern?view=life", "rhythm-life"),
                    ("rhythm/parcel?view=light", "rhythm-light"),
                    ("rhythm/kiln?view=air", "rhythm-air"),
                    ("reach", "reach"),
                    ("watch", "watch"),
                    ("watch/house", "watch-view"),
                    ("alerts?view=rules", "alerts"),
                }
            )
            {
                desk.Go(view);
                Take(desk, folder, name);
            }
            desk.Go("bring-up/hall?view=scan");
            desk.Type("What the scan printed", "0x77 0x23");
            desk.Click("Compare with the plan");
            desk.UntilSees("Air sensor answers at 0x77");
            Take(desk, folder, "bring-up");
            desk.Go("log");
            desk.Type("Note", "New cells in the cistern, three from the drawer.");
            desk.Click("Write it");
            desk.UntilSees("from the drawer. · owner");
            Take(desk, folder, "log");
            desk.Go("log?view=cells");
            Take(desk, folder, "log-cells");
            desk.Go("bench/hall");
            desk.Find("//table//button[contains(., 'OUT')]", "a wire").Click();
            desk.UntilSees("The next best is");
            desk.Driver.ExecuteScript("window.scrollTo(0, 0)");
            Take(desk, folder, "bench-wire");
        }
        using (var night = demo.Open(1280, 800, night: true))
        {
            night.SignIn();
            night.Go("watch/pottery");
            Take(night, folder, "watch-night");
        }
        using var phone = demo.Open(390, 844);
        phone.SignIn();
        foreach (var (view, name) in new[] { ("bring-up/drying", "bring-up-phone"), ("watch/house", "watch-phone") })
        {
            phone.Go(view);
            if (name == "bring-up-phone")
            {
                phone.Tap(() => phone.Find("//button[contains(., 'First power: the board alone')]", "a step with a meter"));
                phone.UntilSees("Limit the supply");
            }
            Take(phone, folder, name);
        }
    }

    private static void Take(Page page, string? folder, string name)
    {
        page.Until(() => page.Driver.FindElements(By.CssSelector("main svg, main canvas, main li, main h3, main td")).Count > 0, $"{name} is drawn");
        Thread.Sleep(1200);
        var picture = ((ITakesScreenshot)page.Driver).GetScreenshot();
        Assert.True(picture.AsByteArray.Length > 10_000);
        if (folder is not null)
        {
            picture.SaveAsFile(Path.Combine(folder, name + ".png"));
        }
    }
}
