"""Every view with the demonstration: what the accessibility checker finds, and whether it fits its window."""

from selenium.webdriver.common.by import By

from tests.browser.app import BrowserTest

# The name of each view and its address, in which stand the first thing of a kind, or the one that is called so.
VIEWS = [
    ("shelf", "/"),
    ("trash", "/trash"),
    ("classes", "/classes"),
    ("account", "/account"),
    ("bench", "/bench/{behaviours:Dock at the barrel}"),
    ("bench on a floor", "/bench/{behaviours:Dock gently}"),
    ("rig", "/rigs/{rigs}"),
    ("live", "/rigs/{rigs}/live"),
    ("calibration", "/rigs/{rigs}/calibration"),
    ("floor", "/floors/{floors}"),
    ("trace", "/traces/{traces}"),
    ("wordbook", "/wordbooks/{wordbooks}"),
    ("exercise", "/exercises/{exercises:Dock gently}"),
    *((name, f"/exercises/{{exercises:Dock gently}}/{path}") for name, path in (
        ("reference", "bench"), ("proofreading", "proof"), ("mark sheet", "marks"), ("feedback", "feedback"),
        ("sharing", "share"), ("collecting", "collect"),
    )),
    ("class", "/classes/{classes}"),
]  # fmt: skip
WIDTHS = (1280, 1440, 1024, 640)  # the last one is 1280 at 200 % text
PHONE = ("mark sheet", "class")  # what is read on a phone too
ADDRESS = """
const [address, done] = arguments;
const found = /\\{(\\w+):?([^}]*)\\}/.exec(address);
if (!found) done(address);
else fetch(`/api/${found[1]}`).then((answer) => answer.json()).then((rows) => {
  const row = rows.find((item) => !found[2] || (item.title ?? item.name) === found[2]);
  done(address.replace(found[0], row.id));
});
"""
WIDE = """
const scrolls = '.overflow-x-auto, .overflow-auto, .overflow-hidden, .cm-editor, .sr-only';
const past = (element) => element.getBoundingClientRect().right > innerWidth + 1 && !element.closest(scrolls);
const found = [...document.querySelectorAll('main *')].filter(past).slice(0, 3);
return [document.documentElement.scrollWidth - innerWidth, ...found.map((element) => element.outerHTML.slice(0, 100))];
"""


class Views(BrowserTest):
    def test_every_view_is_reached_fits_and_is_accessible(self):
        app = self.app
        for name, address in VIEWS:
            with self.subTest(view=name):
                app.size(1280, 800)
                app.open(app.driver.execute_async_script(ADDRESS, address))
                app.find("h1")
                app.until(lambda: "Opening" not in app.driver.find_element(By.TAG_NAME, "main").text, "opened")
                self.assertEqual(app.complaints(best=True), [])
                for width in (*WIDTHS, *((390,) if name in PHONE else ())):
                    app.size(width, 400 if width == 640 else 800)
                    wide = app.driver.execute_script(WIDE)
                    self.assertEqual(wide[:1], [0], (width, wide))
