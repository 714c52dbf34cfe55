"""Proofreading, grading a class, marks of one's own and the feedback, through the real interface."""

import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

from selenium.webdriver.common.keys import Keys

from geduld.readers.notation import runner_for
from geduld.run.record.as_csv import channels_csv
from tests.browser.app import BrowserTest
from tests.glasshouse import DEMO, cart, on_floors


class Marks(BrowserTest):
    def test_proofreading_finds_the_hole(self):
        app = self.app
        app.open("/")
        app.press("Dock at the barrel", "section[aria-label='Exercises'] a")
        app.press("Proofread")
        app.press("Proofread", "button")
        app.sees("6 of 27 mistakes go unnoticed")
        app.sees("Mistakes that no check notices")
        app.picture("proofreading")
        self.assert_clean()
        app.press("held 50 ms was left out")
        app.find("h1", "debounce removed, line 9")
        app.until(lambda: "wait until knob > asked\n" in app.program(), "the mistake is in the text")
        app.find("[data-lane='valve']")
        self.assert_clean()

    def test_a_class_from_grading_to_the_printed_page(self):
        app = self.app
        app.open("/")
        app.press("Docking, proofread", "section[aria-label='Exercises'] a")
        app.sees("a knock on a dry day")
        app.press("List", "section button, [role=tabpanel] button")
        rows = "[aria-label='Checks of the exercise'] [role=option]"
        before = [row.text for row in app.all(rows)]
        app.find(rows, "Waters well").click()
        app.press("Duplicate")
        app.find(rows, 'check "Waters well (2)"')
        app.press("Off")
        app.find(rows, "(switched off)")
        app.press("Delete")
        app.until(lambda: [row.text for row in app.all(rows)] == before, "as it was")
        app.press("New check")
        app.find("[role=dialog] [data-tried]")
        app.press("at the end, …", "[role=option]")
        app.find("[data-tried='pass'] ~ [data-evidence-lanes]", "tested")
        app.find("[role=dialog] input[inputmode=decimal]").send_keys(Keys.CONTROL, "a", Keys.NULL, "0")
        app.press("Write the check")
        app.find("[aria-label='What the checks say'] th", "At the end, drive = 0 %")
        self.assert_clean()
        app.press("Grade the class")
        app.find("button", "All graded")
        app.find("[data-cell='Waters well']")
        app.find("tr", "amara-fjeld")
        app.picture("mark-sheet")
        self.assertIn("2 days late, was 12", app.find("tr", "cleo-varga").text)
        self.assert_clean()
        app.choose("Order", "fewest points first")
        first = app.find("tbody tr")
        self.assertIn("quinn-haugen", first.text)
        options = [option.text for option in app.find("label", "Show").find_elements("tag name", "option")]
        alike = next(text for text in options if text.split(":")[0].isdigit())
        app.choose("Show", alike)
        app.until(lambda: str(len(app.all("tbody tr"))) == alike.split(":")[0], "those who fail alike")
        row = app.find("tbody tr")
        student = row.find_element("tag name", "th").text.split("\n")[0]
        app.find("[data-row='0'][data-column='0']").send_keys(
            Keys.ARROW_DOWN, Keys.ARROW_RIGHT, Keys.ARROW_UP, Keys.END
        )
        cell = app.driver.switch_to.active_element
        self.assertEqual(cell.get_attribute("data-row"), "0")
        cell.send_keys("m")
        app.find("[role=dialog]", student)
        app.find("[role=dialog] textarea").send_keys("The valve stuck on that day.")
        app.press("Give these points")
        app.until(lambda: not app.all("[role=dialog]"), "it is kept")
        app.choose("Show", "those with a mark of your own")
        app.until(lambda: len(app.all("tbody tr")) == 1, "one mark is the teacher's")
        app.sees("yours, was")
        self.assert_clean()
        app.press("Feedback to print")
        app.sees("28 hand-ins")
        app.sees("given by your teacher")
        self.assert_clean()

    def test_recorded_runs_and_an_exercise_set_up_anew(self):
        app = self.app
        with tempfile.TemporaryDirectory() as folder:
            recording = Path(folder) / "oskar-lund.csv"
            program = (DEMO / "hand-ins" / "femi-castellan.geduld").read_text()
            world = replace(on_floors()["dose-by-knob"], limit_us=30_000_000)
            recording.write_text(channels_csv(world.run(runner_for(program, cart()))[0]))
            app.open("/")
            app.press("Dock at the barrel", "section[aria-label='Exercises'] a")
            app.sees("What the checks say")
            app.upload([recording])
            app.find("section[aria-label='Hand-ins'] a", "oskar-lund")
        app.press("change", "section[aria-label='Points'] button")
        app.choose("Rounded to", "0.5 points")
        app.find("section[aria-label='Points'] button", "to 0.5")
        app.press("set up", "section[aria-label='Cases'] button")
        name = app.find("[data-headlessui-state] label", "Name").find_element("tag name", "input")
        name.send_keys(Keys.CONTROL, "a", Keys.NULL, "a dry morning")
        app.choose("Readings", "of the place follow the travel")
        app.sees("This recording does not say how it was driven")
        self.assertIn("422", " ".join(app.complaints()))
        app.choose("Readings", "follow the time")
        app.find("[role=status]", "saved")
        app.find("[aria-label='What the checks say'] th", "a dry morning")
        name.send_keys(Keys.ESCAPE)
        self.assert_clean()
        app.press("Grade the class")
        app.find("button", "All graded")
        app.press("oskar-lund")
        app.sees("A recorded run of the real robot")
        app.find("[data-lane='left']")
        app.press("Stops at the barrel", "[data-check]")
        app.find("[data-evidence]", "Stops at the barrel: fail")
        self.assert_clean()

    def test_many_checks_keep_names_and_points_in_sight(self):
        app = self.app
        app.open("/")
        app.press("Dock gently", "section[aria-label='Exercises'] a")
        app.press("Grade the class")
        app.find("button", "All graded")
        app.size(820, 700)
        self.addCleanup(app.size, 1280, 800)
        self.assertEqual(app.driver.execute_script("const v = view; return v.scrollWidth - v.clientWidth"), 0)
        for key in (Keys.END, Keys.HOME):
            app.driver.execute_script("document.querySelector(`[data-row='2']:last-of-type`).focus()")
            app.driver.switch_to.active_element.send_keys(key)
            seen = app.driver.execute_script(
                "const b = document.activeElement.getBoundingClientRect();"
                "const at = x => document.activeElement.closest('td').contains(document.elementFromPoint(x, b.top + b.height / 2));"
                "return [document.activeElement.dataset.column, at(b.left + 3), at(b.right - 3)]"
            )
            self.assertEqual(seen, ["9" if key == Keys.END else "0", True, True], "the focus is not under the names")
        self.assertIn("of 19", app.find("tr", "pia-sandoval").text)
        self.assert_clean()


if __name__ == "__main__":
    unittest.main()
