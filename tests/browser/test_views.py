"""Every view with the demonstration: what the accessibility checker finds, and whether it fits its window."""

from selenium.webdriver.common.by import By

from tests.browser.app import BrowserTest

EXERCISE = "section[aria-label='Exercises'] a[href^='/exercises/']"
# The name of each view, the address from which it is come to, and the link that leads there (none: the address itself),
# with what stands behind that link's address.
VIEWS = [
    ("shelf", "/", None),
    ("trash", "/trash", None),
    ("classes", "/classes", None),
    ("account", "/account", None),
    ("bench", "/?search=Dock+at+the+barrel", "section[aria-label='Behaviours'] a"),
    ("bench on a floor", "/?search=Dock+gently", "section[aria-label='Behaviours'] a"),
    ("rig", "/", "section[aria-label='Rigs'] a"),
    ("floor", "/", "section[aria-label='Floors'] a"),
    ("trace", "/", "section[aria-label='Traces'] a"),
    ("wordbook", "/", "section[aria-label='Wordbooks'] a"),
    ("exercise", "/?search=Dock+gently", EXERCISE),
    *((name, "/?search=Dock+gently", EXERCISE, f"/{path}") for name, path in (
        ("reference", "bench"), ("proofreading", "proof"), ("feedback", "feedback"), ("sharing", "share"), ("collecting", "collect"),
    )),
    ("live", "/", "section[aria-label='Rigs'] a", "/live"),
    ("calibration", "/", "section[aria-label='Rigs'] a", "/calibration"),
    ("mark sheet", "/?search=Dock+gently", "section[aria-label='Exercises'] a[href$='/marks']"),
    ("class", "/classes", "main a[href^='/classes/']"),
]  # fmt: skip
WIDTHS = (1280, 1440, 1024)
PHONE = ("mark sheet", "class")  # what is read on a phone too


class Views(BrowserTest):
    def wide(self):
        return self.app.driver.execute_script(
            "return [document.documentElement.scrollWidth - innerWidth, ...[...document.querySelectorAll('main *')]"
            ".filter(e => e.getBoundingClientRect().right > innerWidth + 1 && !e.closest('.overflow-x-auto, .overflow-auto, .overflow-hidden, .cm-editor, .sr-only'))"
            ".slice(0, 3).map(e => e.outerHTML.slice(0, 100))]"
        )

    def test_every_view_is_reached_fits_and_is_accessible(self):
        app = self.app
        for name, start, link, *more in VIEWS:
            with self.subTest(view=name):
                app.size(1280, 800)
                app.open(start)
                if link:
                    found = app.find(link)
                    app.open(found.get_attribute("href") + "".join(more))
                app.find("h1")
                app.until(lambda: "Opening" not in app.driver.find_element(By.TAG_NAME, "main").text, "opened")
                self.assertEqual(app.complaints(best=True), [])
                for width in (*WIDTHS, *((390,) if name in PHONE else ())):
                    app.size(width, 800)
                    self.assertEqual(self.wide()[:1], [0], (width, self.wide()))
