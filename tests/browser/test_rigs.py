"""From a template to a rig of one's own, a behaviour that works on it, and a calibration, in the real interface."""

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.app import BrowserTest


class Rigs(BrowserTest):
    def fill(self, label, text):
        field = self.app.find(f"input[aria-label='{label}']")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text, Keys.ENTER)

    def test_a_rig_from_a_template_and_a_behaviour_on_it_in_25_actions(self):
        app = self.app
        app.open("/")
        app.press("New rig …", "button")  # 1
        app.press("two wheels with sensors", "[role=menuitem]")  # 2
        app.find("[data-part='range']")
        self.fill("Name of the rig", "barrow")  # 3
        self.fill("wheel diameter", "5.6")  # 4
        self.fill("track width", "11.5 cm")  # 5
        app.press("range", "aside button")  # 6
        self.fill("greatest", "150")  # 7
        app.press("Add a part …", "button")  # 8
        app.press("knob", "[role=menuitem]")  # 9
        self.fill("Port", "A1")  # 10
        app.sees("Port A1 holds")
        app.sees("not saved: mend it first")
        app.picture("rig")
        self.assert_said(["range", "knob"])
        self.fill("Port", "A7")  # 11
        app.sees("saved")
        app.until(lambda: "Port A1" not in app.find("body").text, "the conflict is gone")
        range_ = app.find("g[data-part='range']")
        ActionChains(app.driver, duration=16).drag_and_drop_by_offset(
            range_.find_element(By.TAG_NAME, "circle"), 40, 0
        ).perform()  # 12
        app.find("g[data-part='range'][aria-label*='to the left']")
        app.until(lambda: "-" in range_.get_attribute("aria-label").split(",")[-1], "it sits to the right now")
        app.keys(Keys.CONTROL, "z")  # 13
        self.assert_clean()
        app.press("Shelf", "nav a")  # 14
        app.find("section[aria-label='Rigs'] a", "barrow")
        app.choose("New things are for", "barrow")  # 15
        app.press("New behaviour", "button")  # 16
        app.find(".cm-line", "wait 1 s")
        app.write("wait 1 s", "drive at 40 % for 30 cm by encoder")  # 17
        app.sees("saved")
        app.until(lambda: not app.all("[role=alert]"), "it goes with the rig")
        self.assert_clean()

    def assert_said(self, names):
        told = self.app.find("ul[role=alert]").text
        for name in names:
            self.assertIn(name, told)

    def test_another_name_is_planned_made_and_taken_back(self):
        app = self.app
        app.take("glasshouse-cart", "Rigs")
        app.press("knob", "aside button")
        self.fill("Name of the part", "dial")
        app.sees("knob → dial")
        app.find("[aria-label='What changes'] li", "Dock at the barrel")
        app.press("Rename everywhere")
        app.sees("knob is called dial now")
        self.assert_clean()
        app.press("Shelf", "nav a")
        app.press("Dose by knob", "section[aria-label='Behaviours'] a")
        app.until(lambda: "dial" in app.program(), "the text has the new name")
        app.driver.back()
        app.driver.back()
        app.press("dial", "aside button")
        self.fill("Name of the part", "knob")
        app.press("Rename everywhere")
        app.sees("dial is called knob now")
        app.press("History", "button")
        app.sees("before: knob is called dial")

    def test_planned_moves_are_measured_fitted_and_written_into_the_rig(self):
        app = self.app
        app.take("glasshouse-cart", "Rigs")
        app.press("Calibration", "a")
        app.press("Start a sheet")
        app.press("Plan a usual set")
        app.find("[data-row='10']")
        Select(app.find("label", "For practice").find_element(By.TAG_NAME, "select")).select_by_visible_text(
            "North aisle"
        )
        app.press("Measure")
        app.find("[data-finding='wheel diameter']")
        app.find("[data-row='1'] td").click()
        app.sees("once round the wheel = pi × 6.5 cm = 20.42 cm")
        app.find("[data-finding='travel'] input").click()
        app.picture("calibration")
        self.assert_clean()
        app.press("Write travel into the rig")
        app.sees("It stands in the rig")
        app.press("glasshouse-cart", "h1 a")
        app.press("History", "button")
        app.sees("before: Calibrated on tiles: travel")
        app.keys(Keys.ESCAPE)
        self.assert_clean()

    def test_the_answers_to_the_tests_set_direction_and_trim(self):
        app = self.app
        app.open("/")
        app.press("New rig …", "button")
        app.press("two wheels", "[role=menuitem]")
        app.press("left", "aside button")
        turned = app.find("[data-field='reversed'] input")
        self.assertFalse(turned.is_selected())
        app.press("backward", "section[aria-label='Spin test'] button")
        app.until(lambda: app.find("[data-field='reversed'] input").is_selected(), "the answer sets the direction")
        self.assert_clean()
        app.press("The whole rig", "aside button")
        self.fill("Beside the line in cm", "10")
        app.press("Set the trim")
        app.sees("left makes 99.37 % of what the other wheel makes")
        app.sees("saved")
        self.assert_clean()
        app.press("left", "aside button")
        app.press("Practise it", "section[aria-label='Spin test'] button")
        wheel = app.find("section[aria-label='Spin test'] svg")
        way = "backward" if "anticlockwise" in wheel.get_attribute("aria-label") else "forward"
        app.press(way, "section[aria-label='Spin test'] button")
        app.find("section[aria-label='Spin test'] [role=status]", "Right:")
        app.press("Add a part …", "button")
        app.press("bump", "[role=menuitem]")
        app.press("0", "section[aria-label='Switch test'] button")
        app.until(lambda: Select(app.find("[data-field='active'] select")).first_selected_option.text == "low", "it")
        app.sees("saved")

    def test_what_the_controller_can_carry_and_what_behaviours_ask(self):
        app = self.app
        app.take("glasshouse-cart", "Rigs")
        app.press("Those that are used", "section[aria-label='Ports of the controller'] button")
        self.fill("What A1 carries", "knob, light")
        app.find("ul[role=alert] li", 'Port A1 cannot carry "range"')
        self.fill("What A1 carries", "range, knob")
        app.sees("saved")
        app.press("Add one for left", "section[aria-label='Drivers'] button")
        app.find("[data-driver='left driver']")
        app.sees("saved")
        app.press("nozzle", "aside button")
        self.fill("greatest", "60")
        app.find("[aria-label='What behaviours ask of it that it cannot do'] li", "Water and shine")
        self.assert_clean()

    def test_a_bare_number_means_the_unit_that_is_shown(self):
        app = self.app
        app.open("/")
        app.press("New rig …", "button")
        app.press("two wheels", "[role=menuitem]")
        for kind, unit, typed in (
            (
                "range",
                "inch",
                (("greatest", "80", "80 inch"), ("noise", "0.5", "0.5 inch"), ("sits ahead", "11", "11 cm")),
            ),
            ("servo", "", (("turns at", "200", "200 deg/s"), ("greatest", "120", "120 deg"))),
        ):
            app.press("Add a part …", "button")
            app.press(kind, "[role=menuitem]")
            if unit:
                Select(app.find("[data-field='unit'] select")).select_by_visible_text(unit)
                app.until(lambda: "greatest, in inch" in app.find("[data-field='greatest']").text, "shown")
            for label, number, told in typed:
                app.find(f"[aria-label='{label}']").send_keys(number, Keys.TAB)
                app.until(lambda: app.find(f"[aria-label='{label}']").get_attribute("value") == told, told)  # noqa: B023
        app.sees("saved")
        self.assert_clean()


class Worktops(BrowserTest):
    def dial(self, name):
        return int(self.app.find(f"[data-dial='{name}'][data-angle]:not([data-angle=''])").get_attribute("data-angle"))

    def test_a_hoist_is_watched_and_a_heavier_tray_stays(self):
        app = self.app
        app.take("Tray to the shelf", "Behaviours")
        app.find("[data-load='tray'][data-lies='lies on the rack']")
        app.go_to(7)
        app.find("[data-load='tray'][data-lies='is held']")
        self.assertTrue(self.dial("hoist") > 400 and 20 < self.dial("slew") < 175 and self.dial("jaw") == 62)
        app.picture("worktop")
        app.go_to(20)
        app.find("[data-load='tray'][data-lies='lies on the shelf']")
        self.assertLess(self.dial("slew"), 10)
        self.assert_clean()
        app.press("Shelf", "nav a")
        app.press("Potting bench", "section[aria-label='Floors'] a")
        field = app.find("input[aria-label='tray pulls with']")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("44", Keys.ENTER)
        app.sees("saved")
        app.press("Add a place")
        app.until(lambda: len(app.all("table tbody tr")) == 3, "a third place")
        self.assert_clean()
        app.press("Shelf", "nav a")
        app.take("Tray to the shelf", "Behaviours")
        app.sees('saying "too heavy"')
        app.go_to(5)
        app.find("[data-dial='warning']", "100 %")
        app.find("[data-load='tray'][data-lies='lies on the rack'], [data-load='tray'][data-lies='is held']")

    def test_keys_of_a_remote_are_pressed_by_hand(self):
        app = self.app
        app.take("Mist and shade", "Behaviours")
        app.find(".cm-line", "wait 1 s")
        app.write("wait 1 s", "wait until pad.up is just pressed")
        app.find("[data-lane='pad.up']")
        app.go_to(6)
        app.find("[data-dial='warning']", "100 %")
        app.press("up", "[aria-label='Keys of pad'] button")
        app.go_to(7.5)
        app.until(lambda: self.dial("nozzle") > 60, "the nozzle turns")
        self.assert_clean()


if __name__ == "__main__":
    import unittest

    unittest.main()
