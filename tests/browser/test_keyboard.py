"""The whole way of a teacher who has no pointer: from a new behaviour to a graded class, by keys alone."""

import time

from selenium.webdriver.common.keys import Keys

from tests.browser.app import BrowserTest

# What has the focus is called by its label, or by its own words if it is a button or a link; whether one sees that.
AT = """
const at = document.activeElement;
const label = at.getAttribute('aria-label') ?? [...at.labels ?? []].map((label) => label.textContent).join(' ');
return [label || (['A', 'BUTTON'].includes(at.tagName) ? at.textContent : ''), at === document.body || at.matches(':focus-visible')];
"""
MOST_TABS = 150


class Keyboard(BrowserTest):
    def tab_to(self, words):
        """Presses Tab until what has the focus is called so; wherever it stops on the way, one sees where it is."""
        passed = []
        for _ in range(MOST_TABS):
            self.app.keys(Keys.TAB)
            called, seen = self.app.driver.execute_script(AT)
            self.assertTrue(seen, f"the focus is not seen on {called!r}")
            if words in called:
                return
            passed.append(called[:40])
        self.fail(f"{words!r} is not reached: {passed}")

    def open_by_name(self, words):
        self.app.chord(Keys.CONTROL, "k")
        self.app.find("[role=dialog] input")
        self.app.keys(words, Keys.ENTER)  # at one go: what is found for the first letters is not meant

    def test_a_behaviour_is_written_run_and_changed(self):
        app = self.app
        app.open("/")
        app.find("section[aria-label='Behaviours'] a")
        self.tab_to("New behaviour")
        app.keys(Keys.ENTER)
        app.find(".cm-line", "wait 1 s")
        self.tab_to("Program text")
        app.chord(Keys.CONTROL, Keys.END)
        app.chord(Keys.CONTROL, Keys.ENTER)
        app.find("[role=dialog] [role=option]")
        app.keys("drive until")
        app.find("[role=dialog] [role=option]", "drive at … % until …")
        app.keys(Keys.ENTER)
        app.find("[role=dialog]", "What does it wait for?")
        app.keys("range <")
        app.find("[role=dialog] [role=option]", "range < ")
        app.keys(Keys.ENTER)
        app.until(lambda: "drive at 40 % until range < " in app.program(), "the step is written")
        app.keys("45", Keys.TAB)
        app.until(lambda: "drive at 45 % until range < " in app.program(), "its slot is filled")
        before = app.program()
        app.keys(Keys.ESCAPE)
        app.find("[data-lane='range'] [data-handle]")
        time.sleep(2.5)  # who takes their time leaves the text too
        self.tab_to("range compared with")
        app.keys(Keys.ARROW_UP)
        app.until(lambda: app.program() != before, "the handle moves the number in the text")
        app.chord(Keys.CONTROL, "z")
        app.until(lambda: app.program() == before, "and back")
        self.assert_clean()

    def test_a_check_is_written_and_the_class_graded(self):
        app = self.app
        app.open("/")
        app.find("section[aria-label='Behaviours'] a")
        self.open_by_name("Docking, proofread")
        app.sees("a knock on a dry day")
        self.tab_to("New check")
        app.keys(Keys.ENTER)
        app.find("[role=dialog] [data-tried]")
        app.keys(Keys.ESCAPE)
        app.until(lambda: not app.all("[role=dialog]"), "Escape closes it")
        app.keys(Keys.ENTER)
        app.find("[role=dialog] [data-tried]")
        app.keys("at the end")
        app.find("[role=dialog] [role=option]", "at the end, …")
        app.find("[data-tried='pass'] ~ [data-evidence-lanes]")
        app.keys(Keys.ENTER)
        app.find("[role=dialog]", "fill its slots")
        app.keys("drive > 0 %")
        app.find("[role=dialog] [data-tried='fail']")
        app.chord(Keys.CONTROL, "a")
        app.keys("drive = ")
        app.find("[role=dialog] [data-tried='error']")
        app.keys("0 %", Keys.TAB, "Stands still", Keys.TAB, "0")
        app.find("[role=dialog] [data-tried='pass']")
        app.keys(Keys.ENTER)
        app.until(
            lambda: 'check "Stands still", 0 points:\n    at the end, drive = 0 %' in app.program(), "it is written"
        )
        app.find("[aria-label='What the checks say'] th", "Stands still")
        self.assert_clean()
        app.chord(Keys.SHIFT, Keys.TAB)
        app.keys(Keys.ESCAPE)
        app.driver.execute_script("document.activeElement.blur(); scrollTo(0, 0)")
        self.tab_to("Grade the class")
        app.keys(Keys.ENTER)
        app.find("button", "All graded")
        app.find("[data-cell='Stands still']")


if __name__ == "__main__":
    import unittest

    unittest.main()
