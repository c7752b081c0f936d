using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Support.UI;

namespace Cenotic.Browser.Tests;

/// <summary>One browser, with the words a test needs: what a person sees and does.</summary>
public sealed class Page(Demo demo, ChromeDriver driver, bool touch = false) : IDisposable
{
    /// <summary>Long, since pictures are drawn without a graphics card and other tests may run: it costs nothing where all goes well.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);

    public ChromeDriver Driver => driver;

    public void SignIn(string name = "owner")
    {
        driver.Navigate().GoToUrl(demo.Address);
        Field("Name").SendKeys(name);
        Field("Password").SendKeys(Demo.Password);
        Click("Sign in");
        Until(() => driver.Url.Contains("/fernhollow/"), "the site opens");
    }

    public void Go(string station)
    {
        driver.Navigate().GoToUrl($"{demo.Address}/fernhollow/{station}");
        Until(
            () =>
                driver.FindElements(By.CssSelector("main h1")).Count == 1
                && driver.FindElements(By.XPath("//*[@role='status'][contains(., 'Loading')]")).Count == 0,
            $"{station} is drawn"
        );
    }

    /// <summary>The field with this label.</summary>
    public IWebElement Field(string label) =>
        Find($"//*[self::input or self::button or self::textarea][@id = //label[normalize-space() = '{label}']/@for]", $"field \"{label}\"");

    /// <summary>A button or link by its words or its spoken name, the newest dialog first.</summary>
    public IWebElement Button(string words) =>
        Find(
            $"//*[self::button or self::a or @role='button' or self::summary][normalize-space() = '{words}' or @aria-label = '{words}']",
            $"button \"{words}\""
        );

    public void Click(string words) => Tap(() => Button(words));

    /// <summary>Brings something to the middle of the window and clicks it.</summary>
    public void Tap(Func<IWebElement> find) =>
        Retry(() =>
        {
            var element = find();
            driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", element);
            if (touch)
            {
                Finger(element);
            }
            else
            {
                element.Click();
            }
        });

    /// <summary>A finger put on the middle of something and taken off again.</summary>
    private void Finger(IWebElement element)
    {
        var at =
            (IReadOnlyDictionary<string, object>)
                driver.ExecuteScript(
                    """
                    const box = arguments[0].getBoundingClientRect(), x = box.left + box.width / 2, y = box.top + box.height / 2;
                    const hit = document.elementFromPoint(x, y);
                    return { x, y, free: !arguments[0].disabled && !!hit && (arguments[0].contains(hit) || hit.contains(arguments[0])) };
                    """,
                    element
                )!;
        if (!(bool)at["free"])
        {
            throw new ElementClickInterceptedException("Something lies over it, or it cannot be tapped yet.");
        }
        var points = new object[]
        {
            new Dictionary<string, object> { ["x"] = at["x"], ["y"] = at["y"] },
        };
        driver.ExecuteCdpCommand("Input.dispatchTouchEvent", new() { ["type"] = "touchStart", ["touchPoints"] = points });
        driver.ExecuteCdpCommand("Input.dispatchTouchEvent", new() { ["type"] = "touchEnd", ["touchPoints"] = Array.Empty<object>() });
    }

    /// <summary>Follows a remedy of the margin, which is a drawer where the page is not wide.</summary>
    /// <param name="remedy">Some of its words.</param>
    public void Follow(string remedy, bool wide)
    {
        if (!wide)
        {
            Tap(() => Find("//button[contains(., 'Margin:')]", "the margin"));
        }
        // Notes are folded away where there is something graver.
        var (button, notes) = ($"//button[contains(normalize-space(), '{remedy}')]", "//button[contains(., 'and cautions')]");
        Until(() => Has(button) || Has(notes), $"{remedy}, or notes that may hold it, are there");
        if (!Has(button))
        {
            Tap(() => Find(notes, "the notes"));
        }
        Tap(() => Find(button, remedy));
        if (!wide)
        {
            Tap(() => Find("//button[contains(., 'Close the margin')]", "the way out of the margin"));
        }
    }

    public void Type(string label, string text)
    {
        var field = Field(label);
        field.SendKeys(Keys.Control + "a");
        field.SendKeys(text);
    }

    /// <summary>Types into a field that takes its text with Enter, in place of what stands in it.</summary>
    public void Enter(string xpath, string text) =>
        Retry(() =>
        {
            var field = Find(xpath, $"a field for \"{text}\"");
            field.SendKeys(Keys.Control + "a");
            field.SendKeys(text + Keys.Enter);
        });

    /// <summary>Chooses in a listbox.</summary>
    public void Choose(string label, string option)
    {
        Retry(() =>
        {
            var list = Find($"//button[@aria-haspopup='listbox'][starts-with(@aria-label, '{label}:')]", $"list \"{label}\"");
            driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", list);
            list.Click();
        });
        Retry(() => Find($"//li[@role='option'][contains(normalize-space(), '{option}')]", $"option \"{option}\"").Click());
    }

    /// <summary>Ticks the box whose label holds some words.</summary>
    public void Check(string words) => Tap(() => Find($"//label[contains(normalize-space(.), \"{words}\")]", $"box \"{words}\""));

    public bool Sees(string text) => driver.FindElements(By.XPath($"//body[contains(normalize-space(.), \"{text}\")]")).Count > 0;

    public void UntilSees(string text) => Until(() => Sees(text), $"\"{text}\" shows");

    public void UntilGone(string text) => Until(() => !Sees(text), $"\"{text}\" goes");

    private bool Has(string xpath) => driver.FindElements(By.XPath(xpath)).Count > 0;

    public IWebElement Find(string xpath, string what)
    {
        IWebElement? found = null;
        Until(() => (found = driver.FindElements(By.XPath(xpath)).LastOrDefault(e => e.Displayed)) is not null, $"{what} is there");
        return found!;
    }

    public void Until(Func<bool> holds, string what)
    {
        try
        {
            new WebDriverWait(driver, Patience) { PollingInterval = TimeSpan.FromMilliseconds(100) }.Until(_ =>
            {
                try
                {
                    return holds();
                }
                catch (StaleElementReferenceException)
                {
                    return false;
                }
            });
        }
        catch (WebDriverTimeoutException)
        {
            Assert.Fail($"It never came to be that {what}. At {driver.Url} the page says: {driver.FindElement(By.TagName("body")).Text}");
        }
    }

    public void Press(string keys) => driver.SwitchTo().ActiveElement().SendKeys(keys);

    /// <summary>Runs axe-core and returns its serious and critical faults.</summary>
    /// <summary>Shows the page by night or by day, as the system asks for it.</summary>
    public void SetPalette(bool night) => SetPalette(driver, night);

    internal static void SetPalette(ChromeDriver driver, bool night) =>
        driver.ExecuteCdpCommand(
            "Emulation.setEmulatedMedia",
            new()
            {
                ["features"] = new object[]
                {
                    new Dictionary<string, object> { ["name"] = "prefers-color-scheme", ["value"] = night ? "dark" : "light" },
                },
            }
        );

    /// <summary>Serious faults that axe-core finds.</summary>
    /// <param name="colours">True for those of colour alone.</param>
    public IReadOnlyList<string> AxeFaults(bool colours = false)
    {
        driver.ExecuteScript(File.ReadAllText(Path.Combine(Demo.Root, "src", "web", "node_modules", "axe-core", "axe.min.js")));
        var found =
            (IReadOnlyCollection<object>)
                driver.ExecuteAsyncScript(
                    """
                    const done = arguments[arguments.length - 1];
                    const rules = arguments[0] ? { runOnly: { type: "rule", values: ["color-contrast", "link-in-text-block"] } } : {};
                    const grave = (v) => v.impact === "serious" || v.impact === "critical";
                    const told = (v) => v.id + ": " + v.nodes.map((n) => n.target + " " + n.failureSummary).join(" | ");
                    axe.run(document, rules).then((r) => done(r.violations.filter(grave).map(told)), (e) => done(["axe: " + e]));
                    """,
                    colours
                )!;
        return [.. found.Cast<string>()];
    }

    /// <summary>True when the page is wider than the window, so that a person would have to scroll sideways.</summary>
    public bool Overflows() => (bool)driver.ExecuteScript("return document.documentElement.scrollWidth > document.documentElement.clientWidth + 1")!;

    public IReadOnlyList<string> ConsoleErrors() =>
        [.. driver.Manage().Logs.GetLog(LogType.Browser).Where(l => l.Level >= LogLevel.Warning).Select(l => l.Message)];

    private void Retry(Action act)
    {
        Until(
            () =>
            {
                try
                {
                    act();
                    return true;
                }
                catch (Exception fault) when (fault is StaleElementReferenceException or ElementClickInterceptedException or ElementNotInteractableException)
                {
                    return false;
                }
            },
            "it can be clicked"
        );
    }

    public void Dispose() => driver.Quit();
}
