"""The app in a headless browser, in a user's verbs: the real server, started as ./start starts it."""

import os
import time
import unittest
from pathlib import Path
from urllib.parse import quote

from selenium import webdriver
from selenium.common.exceptions import NoSuchElementException, StaleElementReferenceException, WebDriverException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select, WebDriverWait

from tests.glasshouse import ROOT
from tests.served import Server

FLAGS = (
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync",
    "--disable-background-networking", "--disable-component-update", "--force-prefers-reduced-motion", "--lang=en-GB",
)  # fmt: skip
BROWSERS = ("/usr/lib/chromium/chromium-headless-shell", "/usr/bin/chromium")  # the first draws no windows around pages


class BrowserTest(unittest.TestCase):
    """Tests with a server and a browser of their own, signed in; `options` are those of ./start."""

    options = ()

    @classmethod
    def setUpClass(cls):
        cls.server = Server(*cls.options)
        cls.addClassCleanup(cls.server.stop)
        cls.app = App(cls.server.address)
        cls.addClassCleanup(cls.app.close)
        cls.app.open(cls.server.link)
        cls.app.press("Sign in")
        cls.app.sees("Demonstration teacher")

    def assert_clean(self):
        self.assertEqual(self.app.complaints(), [])


# The first visible element with a text, in one go: WebDriver's own ways ask for each element twice, and take long.
FIND = """
const [css, text, inside] = arguments;
const said = (element) => (element.innerText ?? element.textContent).replace(/[ \\t\\u00a0]+/g, ' ');
return [...(inside ?? document).querySelectorAll(css)].find((element) =>
  element.getClientRects().length > 0 && element.checkVisibility({ opacityProperty: true, visibilityProperty: true })
  && (!text || said(element).includes(text))) ?? null;
"""
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
# The kind of view, its theme and width, and what it is made of: each kind of element, and each label without numbers.
LOOKS = """
const words = new Set();
for (const element of document.querySelectorAll('*')) {
  words.add(element.tagName + '.' + element.className);
  for (const name of ['role', 'aria-label', 'disabled', 'aria-pressed'])
    if (element.hasAttribute(name)) words.add(name + ' ' + element.getAttribute(name).replace(/[0-9.]+/g, '0'));
}
const kind = location.pathname.replace(/[0-9]+/g, '0');
return [kind, document.documentElement.className, innerWidth, [...words].sort().join('|')].join('\\n');
"""
_checked = set()  # the looks that the accessibility checker has seen


class App:
    def __init__(self, address):
        options = webdriver.ChromeOptions()
        options.binary_location = next(path for path in BROWSERS if Path(path).exists())
        for flag in FLAGS:
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        self.driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
        self.address = address
        self.size(1280, 800)

    def size(self, width, height):
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)

    def close(self):
        self.driver.quit()

    def open(self, address):
        self.driver.get(address if address.startswith("http") else self.address + address)

    def until(self, test, what):
        # A page that draws an element anew while it is looked at, or has not drawn it yet, is looked at again.
        def look(_):
            try:
                return test()
            except (StaleElementReferenceException, NoSuchElementException):
                return None
            except WebDriverException as problem:  # the same, said otherwise while a whole page goes
                if "does not belong to the document" in str(problem):
                    return None
                raise

        return WebDriverWait(self.driver, 90, 0.05).until(look, what)

    def find(self, css, text="", inside=None):
        """The visible element with this text; waits for it."""
        asked = css, text, inside
        return self.until(lambda: self.driver.execute_script(FIND, *asked), f"{css} with {text!r}")

    def all(self, css):
        return self.driver.find_elements(By.CSS_SELECTOR, css)

    def press(self, text, css="button, a"):
        def click():
            self.find(css, text).click()
            return True

        self.until(click, f"{css} with {text!r}")

    def sees(self, text):
        self.find("body", text)

    def choose(self, label, option):
        def choose():
            Select(self.find("label", label).find_element(By.TAG_NAME, "select")).select_by_visible_text(option)
            return True

        self.until(choose, f"{option!r} in {label!r}")

    def upload(self, paths, inside=""):
        field = self.driver.find_element(By.CSS_SELECTOR, f"{inside}input[type=file]")
        field.send_keys("\n".join(str(path) for path in paths))

    def take(self, name, board):
        """Finds a thing on the shelf, and opens it."""
        self.open(f"/?search={quote(name)}")
        self.press(name, f"section[aria-label='{board}'] a")

    def on_shelf(self, thing, what):
        """Chooses what is to become of a thing on the shelf."""
        asked = f"button[aria-label='What to do with the {thing}']"
        self.until(lambda: self.all("[role=dialog]") or self.find(asked).click(), f"what to do with the {thing}")
        self.press(what, "[role=dialog] button")

    def program(self):
        return self.driver.execute_script(
            "return [...document.querySelectorAll('.cm-line')].map(line => line.textContent).join('\\n')"
        )

    def write(self, old, new):
        """Replaces a piece of the program text: its line is chosen, and written anew at one go."""
        lines = self.all(".cm-line")
        line = next(element for element in lines if old in element.text)
        line.click()
        text = self.driver.execute_script("return arguments[0].textContent", line)
        keys = ActionChains(self.driver).send_keys(Keys.HOME)
        keys.key_down(Keys.SHIFT).send_keys(Keys.END).key_up(Keys.SHIFT).perform()
        self.driver.execute_cdp_cmd("Input.insertText", {"text": text.strip().replace(old, new)})
        ActionChains(self.driver).send_keys(Keys.ESCAPE).perform()

    def value(self, part):
        return self.find(f"[data-value='{part}']").text

    def go_to(self, seconds):
        """Puts the time cursor at a share of the run by clicking the lanes."""
        axis = self.find("[data-axis]")
        end = float(self.find("[data-time]").text.split(" of ")[1].removesuffix(" s"))
        width = axis.size["width"]
        x = 132 + 46 + seconds / end * (width - 132 - 46 - 14)
        ActionChains(self.driver, duration=16).move_to_element_with_offset(axis, x - width / 2, 0).click().perform()

    def go_exactly(self, seconds):
        """Puts the time cursor at an instant by typing it: what hands do there is seen at once."""
        self.find("[aria-label='Go to an instant, in s']").send_keys(str(seconds), Keys.ENTER)
        self.until(lambda: self.find("[data-time]").text.startswith(f"{seconds:.2f} of"), f"{seconds} s")

    def drag_handle(self, part, pixels):
        handle = self.find(f"[data-handle='{part}']")
        steps = ActionChains(self.driver, duration=16).click_and_hold(handle)
        for _ in range(10):
            steps.move_by_offset(0, pixels / 10)
        steps.release().perform()

    def keys(self, *keys):
        ActionChains(self.driver).send_keys(*keys).perform()

    def chord(self, *keys):
        """The last key, while the others are held."""
        chain = ActionChains(self.driver)
        for held in keys[:-1]:
            chain.key_down(held)
        chain.send_keys(keys[-1])
        for held in reversed(keys[:-1]):
            chain.key_up(held)
        chain.perform()

    def complaints(self, best=False):
        """What the browser's console says, and what the accessibility checker finds, its best practices too if asked.

        The checker takes its time: what looks like what it has looked at already it does not look at again.
        """
        said = [entry["message"] for entry in self.driver.get_log("browser") if entry["level"] in ("SEVERE", "WARNING")]
        # that a newer run took the place of one that was on its way is no fault
        said = [message for message in said if not ("/api/bench/run" in message and "409" in message)]
        looks = (self.driver.execute_script(LOOKS), best)
        if looks in _checked:
            return said
        _checked.add(looks)
        if not self.driver.execute_script("return 'axe' in window"):
            self.driver.execute_cdp_cmd("Runtime.evaluate", {"expression": AXE.read_text()})
        self.driver.set_script_timeout(90)
        found = self.driver.execute_async_script(
            "const [rules, done] = arguments; axe.run({runOnly: rules, resultTypes: ['violations']})"
            ".then(r => done(r.violations.map(v => v.id + ': ' + v.nodes.map(n => n.html.slice(0, 160)).join(' | '))))",
            ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa", *(["best-practice"] if best else [])],
        )
        return said + found

    def picture(self, name):
        folder = os.environ.get("GEDULD_PICTURES")
        if folder:
            time.sleep(0.6)
            self.driver.save_screenshot(str(Path(folder) / f"{name}.png"))
