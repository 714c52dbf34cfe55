"""The floor on the bench, hands, and the floor editor, through the real interface."""

import unittest

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.app import BrowserTest


class Floors(BrowserTest):
    def pose(self):
        """What the floor says of the robot: x, y, facing, travelled, from start."""
        return [float(item.text.split(" ")[0]) for item in self.app.find("[data-pose]").find_elements("tag name", "dd")]

    def drag(self, element, dx, dy):
        steps = ActionChains(self.app.driver, duration=16).click_and_hold(element)
        for _ in range(8):
            steps.move_by_offset(dx / 8, dy / 8)
        steps.release().perform()

    def test_a_run_on_the_floor_by_program_and_by_hand(self):
        app = self.app
        app.take("Dock gently", "Behaviours")
        app.find("[data-lane='range']")
        app.go_exactly(14)
        app.until(lambda: self.pose()[0] > 280, "the robot stands where the cursor is")
        self.assertAlmostEqual(self.pose()[3], 181, delta=3)
        app.press("Tape measure")
        app.find("[data-tape]", "181")
        end = app.all("[data-handle='tape']")[1]
        end.send_keys(*[Keys.SHIFT, Keys.ARROW_RIGHT, Keys.NULL, Keys.ARROW_UP])
        app.until(lambda: "191" in app.find("[data-tape]").text, "the arrow keys stretch the tape")
        app.picture("floor")
        self.assert_clean()
        app.press("Tape measure")

        app.take("Dock at the barrel", "Behaviours")
        app.find("[data-lane='knob']")
        app.choose("World", "North aisle")
        app.until(lambda: app.value("left") == "0 %", "without a hand at the knob it waits")
        app.go_exactly(3)
        app.find("[data-hand='knob'] input").send_keys(Keys.END)
        app.find("[data-lane='inputs']", "knob")
        app.go_exactly(12)
        app.until(lambda: app.value("left") == "45 %", "the knob's turn starts it")
        app.press("Hold a hand")
        app.until(lambda: app.value("left") == "20 %", "the hand in front of the range sensor slows it down")
        ahead = self.pose()
        self.drag(app.find("[data-thing='hand']"), 0, -90)
        app.go_exactly(13)
        app.until(lambda: app.value("range") != "absent" and self.pose()[0] > ahead[0], "the run goes on from there")
        app.press("Stop everything")
        app.sees("A hand stopped everything at 1")
        self.assert_clean()
        app.press("Undo")
        app.until(lambda: "stopped everything" not in app.find("section[aria-label='Run']").text, "one step back")

        app.go_exactly(2)
        app.find("[data-thing='crate']").send_keys(Keys.SHIFT, Keys.ARROW_LEFT, Keys.ARROW_LEFT)
        app.until(lambda: "at 280 cm" in app.find("[data-thing='crate']").get_attribute("aria-label"), "it was moved")
        app.press("Keep …")
        app.find("[role=dialog] input[type=text], [role=dialog] input:not([type])").send_keys("Twist and crate")
        app.find("[role=dialog] label", "A case").click()
        app.press("Keep it")
        app.until(lambda: not app.all("[role=dialog]"), "it is kept")
        app.open("/")
        app.sees("5 checks, 4 cases")
        app.take("Dock at the barrel", "Behaviours")
        app.find("[data-lane='inputs']", "crate")
        self.assert_clean()

    def test_keys_that_exclude_each_other_messages_tilt_and_playing(self):
        app = self.app
        app.open("/")
        app.press("Drive by tilt")
        app.find("[data-lane='left']")
        app.go_exactly(5)
        app.until(lambda: app.value("left") == "20 %", "the kept hand tilts it")
        app.find("[data-handle='tilt.x']").send_keys(*[Keys.ARROW_UP] * 10)
        app.until(lambda: app.value("tilt.x") == "27 deg", "and an arrow key tilts it further")
        self.assert_clean()
        app.open("/")
        app.press("Drive by radio")
        app.find("[data-lane='radio']", "forward")
        app.press("Clear")
        app.until(lambda: not app.all("[data-lane='inputs']"), "nothing is done by hand")
        app.driver.execute_script("document.activeElement.blur()")
        app.keys(Keys.HOME, Keys.SPACE)
        app.find("button", "Pause")
        app.find("[data-hand='radio'] input").send_keys("forward", Keys.ENTER)
        app.find("[data-lane='radio'] span", "forward")
        app.until(lambda: self.pose()[3] > 2, "the message reaches the program while it plays")
        app.press("Pause")
        app.press("more", "section[aria-label='Hands'] button")
        app.find("[data-hand='green'] button", "press").send_keys(Keys.SPACE)
        app.find("[data-hand='red']", "The hardware reads either this or green.")
        self.assert_clean()

    def test_a_floor_is_drawn_and_used(self):
        app = self.app
        app.open("/")
        app.press("New floor", "section > div button")
        name = app.find("input[aria-label='Name of the floor']")
        name.send_keys(Keys.CONTROL, "a", Keys.NULL, "Seed room")
        app.press("Add …")
        app.press("Bench or box", "[role=menu] button")
        app.find("aside h2", "obstacle")
        field = app.find("input[aria-label='3, x in cm']")
        field.send_keys(Keys.CONTROL, "a", Keys.NULL, "200")
        item = app.find("[data-item='obstacle']")
        before = item.get_attribute("aria-label")
        self.drag(item, 60, -40)
        app.until(lambda: app.find("[data-item='obstacle']").get_attribute("aria-label") != before, "it was dragged")
        app.press("Undo")
        app.until(lambda: app.find("[data-item='obstacle']").get_attribute("aria-label") == before, "and back")
        item = app.find("[data-item='obstacle']")
        item.send_keys(Keys.ARROW_UP, "r")
        app.until(
            lambda: app.find("input[aria-label='3, x in cm']").get_attribute("value") != "200", "keys move and turn"
        )
        app.press("Add …")
        app.press("Wall", "[role=menu] button")
        start, stop = "From", "To"
        for axis in "xy":
            value = app.find(f"input[aria-label='{start}, {axis} in cm']").get_attribute("value")
            app.find(f"input[aria-label='{stop}, {axis} in cm']").send_keys(Keys.CONTROL, "a", Keys.NULL, value)
        app.sees("This wall has no length.")
        refused = app.driver.get_log("browser")
        self.assertTrue(refused and all("422" in entry["message"] for entry in refused), refused)
        app.press("Undo")
        app.until(lambda: "no length" not in app.find("main").text, "mended, it is saved")
        app.find("main", "saved")
        self.assert_clean()
        app.take("North aisle", "Floors")
        app.find("[data-item='herb bed']").click()
        app.find("aside h2", "herb bed")
        app.picture("floor-editor")
        self.assert_clean()
        app.open("/")
        app.press("After a bump")
        app.choose("World", "Seed room")
        app.until(lambda: "Seed room" in app.find("svg[role=img]").get_attribute("aria-label"), "the bench knows it")
        app.find("[data-lane='nose']")
        self.assert_clean()


if __name__ == "__main__":
    unittest.main()
