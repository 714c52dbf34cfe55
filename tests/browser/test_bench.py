"""The bench as an instrument: handles on all that is set, steps without typing, comparison, why, one way back."""

import xml.etree.ElementTree as ET

from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.app import BrowserTest
from tests.glasshouse import DEMO

MAKE = """
const [text, world, done] = arguments;
(async () => {
const named = async (kind, name) => (await (await fetch(`/api/${kind}`)).json()).find((row) => row.name === name).id;
const rig = await named('rigs', 'glasshouse-cart'), trace = await named('traces', world);
const headers = {'Content-Type': 'application/json', 'X-CSRFToken': /csrftoken=([^;]+)/.exec(document.cookie)[1]};
const body = JSON.stringify({rig, title: 'Dock at the barrel', text, world: {trace}});
done((await (await fetch('/api/behaviours', {method: 'POST', headers, body})).json()).id);
})();
"""
# The colour that most of what is drawn on a canvas has, and what the page calls a colour.
COLOURS = """
const [css, name] = arguments;
const canvas = document.querySelector(css);
const data = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data, counts = new Map();
for (let at = 0; at < data.length; at += 4) {
  if (data[at + 3] < 250) continue;
  const key = `${data[at]},${data[at + 1]},${data[at + 2]}`;
  counts.set(key, (counts.get(key) ?? 0) + 1);
}
const most = [...counts].sort((a, b) => b[1] - a[1])[0][0].split(',').map(Number);
const told = getComputedStyle(document.documentElement).getPropertyValue(name).trim();
return [most, [1, 3, 5].map((at) => parseInt(told.slice(at, at + 2), 16))];
"""


class Bench(BrowserTest):
    def opened(self, world="Dry day"):
        """A behaviour of this test's own, open on the bench."""
        app = self.app
        app.open("/")
        app.find("section[aria-label='Behaviours'] a")
        made = app.driver.execute_async_script(
            MAKE, (DEMO / "behaviours" / "dock-at-the-barrel.geduld").read_text(), world
        )
        app.open(f"/bench/{made}")
        app.find("[data-lane='valve']")
        return app

    def keys_on(self, css, *keys):
        self.app.until(lambda: self.app.find(css).send_keys(*keys) or True, css)

    def says(self, piece, why="the text follows"):
        self.app.until(lambda: piece in self.app.program(), f"{why}: {piece}")

    def test_what_is_set_is_a_handle_and_one_drag_is_one_step_back(self):
        app = self.opened()
        before = app.program()
        grip = app.find("[data-sets='time'][data-line='14']")
        steps = ActionChains(app.driver, duration=16).click_and_hold(grip)
        for _ in range(8):
            steps.move_by_offset(5, 0)
        steps.release().perform()
        app.until(lambda: "for 1.5 s" not in app.program(), "the end of a bar is how long its step lasts")
        self.assertRegex(app.program(), r"valve at 80 % for \d\.\d s")
        app.driver.execute_script("document.activeElement.blur()")
        app.chord(Keys.CONTROL, "z")
        app.until(lambda: app.program() == before, "one drag is one step back")
        app.chord(Keys.CONTROL, Keys.SHIFT, "z")
        app.until(lambda: app.program() != before, "and can be done again")
        app.chord(Keys.CONTROL, "z")
        app.until(lambda: app.program() == before, "and back")
        self.keys_on("[data-sets='left'][data-line='10']", Keys.ARROW_DOWN)
        self.says("drive at 44 %", "an output's level is a handle on its lane")
        self.keys_on("[data-sets='held']", Keys.ARROW_RIGHT)
        self.says("held 60 ms")
        self.keys_on("[data-sets='patience']", Keys.SHIFT, Keys.ARROW_RIGHT)
        self.says("patience 13 s")
        app.write("drive at 44 % until", "drive at 44 until")
        app.find("[data-stale]", "The text has errors")
        self.assertTrue(app.all("[data-lane='valve'] canvas"), "the last run stays")
        app.write("drive at 44 until", "drive at 44 % until")
        app.until(lambda: not app.all("[data-stale]"), "and the new one comes")
        self.assert_clean()

    def test_two_edges_that_are_equal_move_together(self):
        app = self.opened()
        app.write("valve at 80 % for 1.5 s", "by range:")
        app.find(".cm-line", "by range:").click()
        app.keys(Keys.END, Keys.ENTER, "    over 50 cm: lamp on", Keys.ENTER, "under 50 cm: lamp off")
        handle = "[data-handle='range'][aria-label*='lines 15 and 16']"
        self.keys_on(handle, Keys.ARROW_UP)
        self.says("over 51 cm: lamp on")
        self.says("under 51 cm: lamp off")

    def test_steps_are_written_and_rearranged_without_typing(self):
        app = self.opened("Slow hand")
        app.find(".cm-line", "drive at 45 %").click()
        app.chord(Keys.CONTROL, Keys.ENTER)
        app.find("[role=dialog] [role=option]", "drive at")
        app.keys("lamp at")
        app.until(lambda: len(app.all("[role=dialog] [role=option]")) <= 3, "what is typed narrows the list")
        app.keys(Keys.ENTER)
        self.says("lamp at 40 %")
        app.keys("70 %", Keys.TAB)
        self.says("    lamp at 70 %", "the slot was chosen")
        app.chord(Keys.CONTROL, Keys.ENTER)
        app.find("[role=dialog] [role=option]", "wait until")
        app.keys("wait until something")
        app.until(lambda: len(app.all("[role=dialog] [role=option]")) == 1, "one is left")
        app.keys(Keys.ENTER)
        app.find("[role=dialog] [role=option]", "range < 50 cm")
        app.keys("range <", Keys.ENTER)
        self.says("    wait until range < 50 cm", "with the number between the trace's two levels")
        app.press("Steps")
        steps = app.find("[role=listbox][aria-label='Steps of the program']")
        app.find("[role=option]", "wait until range < 50 cm").click()
        steps.send_keys(Keys.ALT, Keys.ARROW_UP)
        app.until(lambda: app.program().index("range < 50 cm") < app.program().index("lamp at 70"), "moved up")
        steps.send_keys(" ")
        self.says("# off: wait until range < 50 cm", "switched off")
        steps.send_keys(" ", "d")
        app.until(lambda: app.program().count("wait until range < 50 cm") == 2, "on again, and twice")
        steps.send_keys(Keys.DELETE, Keys.DELETE)
        app.until(lambda: "range < 50 cm" not in app.program(), "and away")
        self.assert_clean()

    def test_runs_are_compared_and_told_why(self):
        app = self.opened()
        app.press("Compare")
        app.press("With this run, as it is now", "[role=option]")
        app.find("[data-compared]", "Every output is the same")
        self.keys_on("[data-handle='range']", Keys.SHIFT, Keys.ARROW_UP)
        app.find("[data-compared]", "left is 20 %, there 45 %.")
        app.find("[aria-label='To the next difference']").click()
        app.find("[aria-label='What to do with the lane left']").click()
        app.press("Why is it so at the cursor?", "[role=menuitem]")
        app.find("[data-why]", "line 11 set it. Line 10 had waited since")
        self.assertTrue(app.all("[data-why-trace] circle"), "a line leads from lane to lane")
        app.find(".cm-line", "no barrel").click()
        app.press("Did line 13 run?")
        app.find("[data-why]", "patience of line 11")
        self.assert_clean()

    def test_lanes_stay_as_they_are_arranged_and_a_picture_is_taken_away(self):
        app = self.opened()
        for choice in ("Put away", "Move up"):
            app.find(f"[aria-label='What to do with the lane {'nose' if choice == 'Put away' else 'knob'}']").click()
            app.press(choice, "[role=menuitem]")
        lanes = "[...document.querySelectorAll('[data-lane]')].map(lane => lane.dataset.lane)"
        app.until(
            lambda: app.driver.execute_script(f"return {lanes}")[:2] == ["knob", "range"], "put away, and moved up"
        )
        app.driver.refresh()
        app.find("[data-lane='valve']")
        self.assertEqual(app.driver.execute_script(f"return {lanes}")[:2], ["knob", "range"])
        app.find("input[aria-label='Go to an instant, in s']").send_keys("7.5", Keys.ENTER)
        app.until(lambda: app.find("[data-time]").text.startswith("7.50"), "an instant that is typed")
        self.assertTrue(app.find("[data-raw='knob']").text.startswith("raw "))
        app.driver.execute_script(
            "const make = URL.createObjectURL; URL.createObjectURL = (blob) => { window.taken = blob; return make.call(URL, blob); };"
        )
        app.press("Take away")
        app.press("These lanes as SVG", "[role=menuitem]")
        app.until(lambda: app.driver.execute_script("return window.taken !== undefined"), "a picture is made")
        picture = ET.fromstring(app.driver.execute_async_script("window.taken.text().then(arguments[0])"))
        texts = [element.text for element in picture.iter("{http://www.w3.org/2000/svg}text")]
        self.assertLessEqual({"Dock at the barrel", "range", "in cm", "40 cm", "program"}, set(texts))
        app.driver.execute_script("navigator.clipboard.writeText = async (text) => { window.copied = text; };")
        app.find("[aria-label='Zoom in']").click()
        app.press("Take away")
        app.press("Copy the link to this view", "[role=menuitem]")
        link = app.driver.execute_script("return window.copied")
        app.open("/")
        app.open(link)
        app.until(lambda: app.find("[data-time]").text.startswith("7.50"), "the link opens the moment again")
        seen = "[data-window-seen]"
        app.until(lambda: app.find(seen).rect["width"] < 400, "and the part that was seen")

    def test_a_lane_is_drawn_in_the_colours_of_the_page(self):
        app = self.opened()

        def drawn():
            return app.driver.execute_script(COLOURS, "[data-lane='knob'] canvas", "--reading")

        for word in ("Dark", "Light"):
            app.press(word)
            found, wanted = drawn()
            self.assertTrue(all(abs(a - b) < 24 for a, b in zip(found, wanted, strict=True)), (word, found, wanted))

    def test_what_is_done_by_hand_and_typed_goes_back_in_its_order(self):
        app = self.opened()
        app.choose("World", "North aisle")
        app.find("[data-hand='knob'] input").send_keys(Keys.END)
        app.find("[data-lane='inputs']", "knob")
        next(line for line in app.all(".cm-line") if "valve at 80 %" in line.text).click()
        app.keys(Keys.END, Keys.ARROW_LEFT, Keys.ARROW_LEFT, "5")
        self.says("for 1.55 s")
        app.find("[data-thing='crate']").send_keys(Keys.ARROW_LEFT)
        app.find("[data-lane='inputs']", "crate")
        app.chord(Keys.CONTROL, "z")
        app.until(lambda: "crate" not in app.find("[data-lane='inputs']").text, "the crate stands where it stood")
        self.says("for 1.55 s")
        app.chord(Keys.CONTROL, "z")
        self.says("for 1.5 s", "the text comes before it")
        app.until(lambda: "knob" in app.find("[data-lane='inputs']").text, "and the hand before that")
        app.chord(Keys.CONTROL, "z")
        app.until(lambda: not app.all("[data-lane='inputs']"), "no hand did anything")
        app.chord(Keys.CONTROL, "z")
        app.until(lambda: not app.all("section[aria-label='Floor']"), "the trace is back")

    def test_nothing_that_was_typed_is_lost_with_the_tab(self):
        app = self.opened()
        address = app.driver.current_url
        app.write("valve at 80 %", "valve at 81 %")
        app.driver.get("about:blank")
        app.open(address)
        self.says("valve at 81 %", "kept though the tab was left at once")
        app.find("span", "saved")

    def test_a_program_in_another_language_runs_behind_and_its_numbers_are_handles(self):
        app = self.app
        app.open("/")
        app.press("Docking in Python and C", "section[aria-label='Exercises'] a")
        app.find("section[aria-label='Hand-ins'] a", "alva-brandt").click()
        app.find("[data-lane='left']")
        line = app.find("[data-sets='left']").get_attribute("data-line")
        before = app.program().splitlines()[int(line) - 1]
        self.keys_on(f"[data-sets='left'][data-line='{line}']", Keys.ARROW_DOWN)
        app.until(lambda: app.program().splitlines()[int(line) - 1] != before, "the call is written anew")
        app.press("Compare")
        app.press("With the program of mirko-strand", "[role=option]")
        app.find("[data-compared]", "Behind it: the program of mirko-strand.")
        app.find("[data-compared]", "difference")
