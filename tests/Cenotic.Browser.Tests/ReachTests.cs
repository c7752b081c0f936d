namespace Cenotic.Browser.Tests;

/// <summary>Who hears whom, at the desk and on a phone.</summary>
public sealed class ReachTests(Demo demo) : IClassFixture<Demo>
{
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_link_is_told_with_its_walls_and_its_working(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("reach");
        page.UntilSees("Kiln shed");
        page.UntilSees("brick wall at");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        page.Tap(() => page.Find("//tr[@data-link='kiln']//button[contains(., 'dB')]", "the margin of the kiln"));
        page.UntilSees("ITU-R P.2040-1");
        page.UntilSees("24 cm, as drawn");
        page.UntilSees("What was measured, 868 MHz");
    }

    /// <summary>The corner of the house is in the way of its radio: read on the page, and followed to the relay that mends it.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void One_more_relay_rescues_the_rain_mast(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("reach");
        page.Find("//tr[@data-link='rain'][contains(., '57.1 %')]", "the rain mast, of which much is lost");
        page.Follow("One more relay at 13.1, 5.3 m in Drying room", width > 1000);
        page.Find("//tr[@data-link='rain'][contains(., 'gets through')]", "the rain mast, heard by the relay");
        page.UntilSees("Relay → Glaze store");
        Assert.False(page.Overflows());
        page.Click("Undo");
        page.Find("//tr[@data-link='rain'][contains(., '57.1 %')]", "the rain mast as before");
    }

    [Fact]
    public void What_is_not_known_says_what_is_missing()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("bench/rain");
        page.Click("Board, supply, radio");
        page.Choose("Heard through", "nobody yet");
        page.Click("Save");
        page.UntilGone("Heard through");
        page.Go("reach");
        page.Tap(() => page.Find("//tr[@data-link='rain']//button[contains(., 'not known')]", "the margin of the rain mast"));
        page.UntilSees("who hears Rain mast");
        page.Click("Undo");
        page.Find("//tr[@data-link='rain'][contains(., '57.1 %')]", "the rain mast as before");
    }

    /// <summary>A lower power is one node's alone; what both ends need alike is set on all of the channel, and undone at once.</summary>
    [Fact]
    public void A_radio_is_set_and_both_ends_stay_alike()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("reach");
        page.Click("Radio of Kiln shed");
        page.UntilSees("they are set on");
        page.Type("Spreading factor", "13");
        page.Click("Save");
        page.UntilSees("it must be from 6 to 12");
        page.Type("Spreading factor", "7");
        page.Type("Power, dBm", "5");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//tr[@data-law][contains(., 'SF7')]")).Count == 4, "all four have the rate");
        page.Find("//tr[@data-law='kiln'][contains(., '2.85')]", "the lower power of the kiln alone");
        page.Find("//tr[@data-law='cistern'][contains(., '11.8')]", "the usual power of the cistern");
        page.Click("Undo");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//tr[@data-law][contains(., 'SF7')]")).Count == 0, "all as before");
    }

    /// <summary>In the form of a sensor stands also the radio that hears it; a better antenna there is that radio's alone.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void The_radio_that_hears_a_node_is_set_from_there(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("reach");
        page.Click("Radio of Kiln shed");
        page.Choose("Which radio", "Gateway: Long-range radio, which hears it");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        page.Type("Antenna, dBi", "2");
        page.Click("Save");
        page.Find("//tr[@data-law='gateway'][contains(., '13.8')]", "14 dBm and 2 dBi less 2.15 of a dipole");
        page.Find("//tr[@data-law='kiln'][contains(., '11.8')]", "the antenna of the kiln as it was");
        page.Click("Undo");
        page.Find("//tr[@data-law='gateway'][contains(., '11.8')]", "all as before");
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>By the mobile network: what is missing is said, and one press each adds the modems at both ends.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_node_sends_text_messages_to_the_modem_of_a_gateway(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("bench/cistern");
        page.Click("Board, supply, radio");
        page.Choose("Sends by", "text messages, by a mobile modem of its own");
        page.UntilSees("Each text is paid for");
        Assert.False(page.Overflows());
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, "the dialog closes");
        page.Go("reach");
        page.UntilSees("is to send by text messages, and none of its parts does");
        page.UntilSees("Gateway has no modem that takes them");
        page.Follow("Add a A7670 LTE modem board, 5 V with own regulator to Gateway, which takes them", wide: width > 1000);
        page.UntilGone("Gateway has no modem that takes them");
        page.Click("Undo");
        page.UntilSees("Gateway has no modem that takes them");
        page.Click("Undo");
        page.UntilGone("is to send by text messages");
        Assert.Empty(page.ConsoleErrors());
    }

    /// <summary>Bands that nobody ships are typed as the rules of the country say, and the radios are held to them.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_region_of_ones_own_is_typed_and_held_to(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("place");
        page.Click("Site");
        page.Choose("Radio rules", "another: I type its bands");
        page.Click("Save");
        page.UntilSees("A band needs its beginning");
        page.Type("From, MHz", "869");
        page.Type("To, MHz", "868");
        page.Type("Power at most, dBm", "16.5");
        page.Type("Longest message, ms", "120");
        page.Click("Save");
        page.UntilSees("The band ends above where it begins");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        page.Type("To, MHz", "869.5");
        page.Click("Save");
        page.Until(() => page.Driver.FindElements(OpenQA.Selenium.By.XPath("//*[@role='dialog']")).Count == 0, "the dialog closes");
        page.Go("reach");
        page.UntilSees("which no band of the region holds");
        page.Click("Undo");
        page.Until(() => !page.Sees("which no band of the region holds"), "the region is as before");
        Assert.All(page.ConsoleErrors(), e => Assert.Contains("Failed to load resource: the server responded with a status of 422", e));
    }

    /// <summary>The parcel box through the kiln shed: the way, and that it is the longer one, are told; its fixed choice stands.</summary>
    [Theory]
    [InlineData(1280, 800)]
    [InlineData(390, 844)]
    public void A_way_over_a_relay_is_compared_with_the_best_one(int width, int height)
    {
        using var page = demo.Open(width, height, touch: width < 500);
        page.SignIn();
        page.Go("bench/parcel");
        page.Click("Board, supply, radio");
        page.Choose("Heard through", "Kiln shed");
        page.Click("Save");
        page.UntilGone("Heard through");
        page.Go("reach");
        page.UntilSees("Kiln shed → Gateway");
        page.UntilSees("better: Gateway");
        page.Find("//li[@data-relay='kiln'][contains(., 'Parcel box')]", "what the kiln shed passes on");
        Assert.False(page.Overflows());
        Assert.Empty(page.AxeFaults());
        page.Follow("Through Gateway", width > 1000);
        page.UntilGone("Kiln shed → Gateway");
    }

    [Fact]
    public void Another_radio_is_looked_at_beside_the_one_there_is_and_taken()
    {
        using var page = demo.Open(1280, 800);
        page.SignIn();
        page.Go("reach");
        page.Click("What if: Cistern level");
        page.UntilSees("as it is");
        page.UntilSees("Wi-Fi to Access point");
        page.UntilSees("Gateway elsewhere");
        Assert.Empty(page.AxeFaults());
        SendSo("Wi-Fi to Access point");
        page.Find("//tr[@data-link='cistern'][contains(., 'Access point')]", "the cistern over Wi-Fi");
        page.Click("Undo");
        page.Find("//tr[@data-link='cistern'][contains(., 'Gateway')]", "the cistern as before");
        // A radio of its board, to who hears it best.
        page.Click("What if: Cistern level");
        SendSo("Wi-Fi frames, 2.4 GHz to");
        page.Find("//tr[@data-link='cistern'][contains(., 'Wi-Fi frames')]", "the cistern by frames");
        page.Click("Undo");
        page.Find("//tr[@data-link='cistern'][contains(., 'Gateway')]", "the cistern as before");

        void SendSo(string radio) => page.Tap(() => page.Find($"//tr[contains(., '{radio}')]//button[contains(., 'Send so')]", radio));
    }
}
