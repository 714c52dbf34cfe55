"""A figure of phases on the bench, those that were found against those that were wanted; a robot with a fault; and two devices."""

import unittest

from selenium.webdriver.support.ui import Select

from tests.browser.app import BrowserTest


class Figures(BrowserTest):
    def test_the_phases_of_a_hand_in(self):
        app = self.app
        app.open("/")
        app.press("Round the herb bed", "section[aria-label='Exercises'] a")
        app.press("Grade the class")
        app.find("button", "All graded")
        cell = app.find("tr", "gil-okereke").find_element("css selector", "[data-cell='Round the bed']")
        cell.click()
        app.find("[data-lane='left']")
        app.press("Round the bed", "[data-check]")
        app.sees("8 of 9 phases as wanted.")
        app.sees('("left < 0 % and right > 0 % for 90 deg +- 9 deg", round 2) did not come')
        row = "[data-windows='Round the bed']"
        app.until(lambda: len(app.all(f"{row} [data-window]")) == 9, "each phase has its stretch")
        self.assertEqual([item.text for item in app.all(f"{row} [data-window]")][:3], ["1", "2", "3"])
        self.assertEqual(len(app.all(f"{row} [data-due]")), 8, "what has a length that it reaches is due")
        self.assert_clean()

    def test_a_case_with_a_fault(self):
        app = self.app
        app.open("/")
        app.press("Look the cart over", "section[aria-label='Exercises'] a")
        app.press("set up", "button[aria-label='Set up the case right wired round']")
        app.until(
            lambda: app.find("[aria-label='Fault 1']").get_property("value") == "right wired round",
            "the fault that the case has",
        )
        Select(app.find("[aria-label='Add a fault']")).select_by_visible_text("battery at 60 %")
        app.until(lambda: app.find("[aria-label='Fault 2']").get_property("value") == "battery at 60 %", "one more")
        app.until(lambda: "saved" in app.find("[role='status']", "saved").text, "it is kept")
        app.press("The reference in it")
        app.find("[data-with-faults]", "right wired round, battery at 60 %")
        app.find("[data-lane='right']")
        app.until(lambda: 'finish "right"' in app.program(), "the reference")
        app.sees("it is wired the other way round")
        self.assert_clean()

    def test_two_devices(self):
        app = self.app
        app.open("/")
        app.press("Come when called", "section[aria-label='Exercises'] a")
        app.press("set up", "button[aria-label='Set up the case words get lost']")
        chosen = Select(app.find("label", "Together with").find_element("tag name", "select"))
        self.assertEqual(chosen.first_selected_option.text, "Call the cart")
        app.press("The reference in it")
        other = "[data-partner='door-handset']"
        app.until(lambda: app.all(f"{other} [data-lane='light']"), "the handset's own lanes")
        app.until(lambda: len(app.all(f"{other} button[title^='Sent']")) > 1, "it calls until it is answered")
        app.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", app.find(other))
        app.picture("two-devices")
        self.assert_clean()


if __name__ == "__main__":
    unittest.main()
