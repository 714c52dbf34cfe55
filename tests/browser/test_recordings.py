"""From a file that a spreadsheet wrote to a trace, a threshold from it, and a case, in the real interface."""

import tempfile
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.app import BrowserTest

GERMAN = "Zeit (ms);Abstand (mm);knob_adc\r\n" + "".join(
    f"{20 * k};{1700 - 2 * k},5;{250 + 500 * (k > 200) + k % 7}\r\n" for k in range(500)
)


class Recordings(BrowserTest):
    def test_a_semicolon_file_is_imported_at_two_clicks(self):
        app = self.app
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "gang.csv"
            path.write_text(GERMAN, encoding="latin-1")
            app.open("/")
            app.sees("Import recordings")
            field = app.find("section[aria-label='Traces']").find_element(By.CSS_SELECTOR, "input[type=file]")
            field.send_keys(str(path))  # the first action
            app.sees("500 samples, 9.98 s, 50 Hz")
        app.sees("semicolons between its cells")
        app.find("[data-strip='range']", "cm")
        self.assert_clean()
        app.press("Import")  # the second, and there it is
        app.find("[data-lane='range']")
        app.sees("500 samples, 50 Hz, no gaps")
        self.assertEqual(app.value("range"), "170.05 cm")
        self.assert_clean()

    def test_what_is_odd_about_a_file_is_told_and_chosen(self):
        app = self.app
        app.open("/")
        app.find("li", "gang-2-vormittags.csv").find_element(By.TAG_NAME, "a").click()
        app.sees("2 of 902 rows cannot be used")
        app.sees("Batterie schwach")
        app.find("label", "leave these rows out").click()
        app.sees("900 samples, 17.98 s, 50 Hz")
        app.until(lambda: app.find("button", "Import").is_enabled(), "the rows are chosen about")
        app.picture("import")
        row = app.find("[data-column='Stoßtaster']")
        Select(row.find_element(By.TAG_NAME, "select")).select_by_visible_text("nose_left")
        app.find("[data-strip='nose_left']")
        Select(app.find("label", "between cells").find_element(By.TAG_NAME, "select")).select_by_visible_text("comma ,")
        app.until(lambda: not app.find("button", "Import").is_enabled(), "that is no table of it")
        Select(app.find("label", "between cells").find_element(By.TAG_NAME, "select")).select_by_visible_text(
            "semicolon ;"
        )
        app.find("[data-strip='nose']")
        self.assert_clean()

    def test_a_threshold_from_a_stretch_goes_into_a_behaviour(self):
        app = self.app
        app.take("Dry day", "Traces")
        app.find("[data-lane='knob']")
        app.press("Threshold", "[role=tab]")
        app.choose("For", "knob")
        app.sees("lies between")
        app.picture("trace")
        suggested = app.find("[data-levels='knob'] dd").text
        app.choose("Put it into", "Dose by knob")
        app.press("As a value of its own, on top")
        app.press("Dose by knob", "p a")
        app.until(lambda: f"let knob_edge = {suggested}" in app.program(), "the value stands in the text")
        self.assert_clean()

    def test_a_stretch_is_chosen_noted_and_taken_out_by_keyboard(self):
        app = self.app
        app.take("Slow hand", "Traces")
        app.find("[data-lane='range']")
        app.go_to(10)
        app.keys("[")
        app.go_to(20)
        app.keys("]")
        app.until(lambda: "Chosen: 1" in app.find("[data-stretch]").text, "a stretch of about 10 s")
        app.press("Notes", "[role=tab]")
        app.find("[role=tabpanel] input[placeholder]").send_keys("the hand turns the knob", Keys.ENTER)
        app.find("[data-note]", "the hand turns the knob")
        app.press("Make", "[role=tab]")
        app.press("Take")
        app.until(
            lambda: (
                app.driver.find_element(By.CSS_SELECTOR, "input[aria-label='Name of the trace']").get_attribute("value")
                == "Slow hand, a part"
            ),
            "the new trace is open",
        )
        length = float(app.find("[data-time]").text.split(" of ")[1].removesuffix(" s"))
        self.assertAlmostEqual(length, 10, delta=0.5)
        axis = app.find("[data-lane='range']")
        axis.click()
        app.keys("+", "+")
        app.until(lambda: app.find("[data-window-seen]").size["width"] < 300, "a part is seen")
        self.assert_clean()

    def test_a_made_up_reading_is_drawn_by_points(self):
        app = self.app
        app.open("/")
        app.choose("New things are for", "glasshouse-cart")
        app.press("Draw one", "button")
        app.find("[data-lane='range']")
        app.until(lambda: app.value("range") == "160 cm", "where it starts")
        point = app.find("circle[aria-label^='Point 1']")
        point.send_keys(Keys.ARROW_DOWN)
        app.until(lambda: app.value("range").startswith("156.06"), "the trace is drawn anew")
        field = app.find("input[aria-label='noise']")
        field.send_keys("2", Keys.ENTER)
        app.until(lambda: not app.value("range").startswith("156.06"), "it trembles")
        app.press("Undo")
        app.until(lambda: app.value("range").startswith("156.06"), "and does not any more")
        app.choose("Channel", "nose")
        app.find("circle[aria-label='Point 2: 8.2 s, 1']")
        self.assert_clean()
        app.press("Stretch", "[role=tab]")
        app.find("[data-channel='nose']", "pressed anew once")


if __name__ == "__main__":
    import unittest

    unittest.main()
