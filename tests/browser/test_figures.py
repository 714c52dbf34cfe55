"""A figure of phases on the bench: those that were found against those that were wanted."""

import unittest

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
        app.picture("phases")
        self.assert_clean()


if __name__ == "__main__":
    unittest.main()
