"""The newcomer's path through the real interface. GEDULD_PICTURES=docs/screenshots retakes the pictures."""

import json
import os
import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.keys import Keys

from tests.browser.app import BrowserTest
from tests.glasshouse import DEMO, SMALL, program


class Newcomer(BrowserTest):
    def test_from_the_sign_in_link_to_the_failing_moment(self):
        app = self.app
        app.open("/")
        app.sees("5 checks, 3 cases, 7 hand-ins")
        app.sees("100 Hz")
        app.picture("shelf")
        self.assert_clean()

        app.press("Dock at the barrel", "section[aria-label='Exercises'] a")
        app.sees("What the checks say about")
        app.sees("+0.15 s")
        app.picture("exercise")
        self.assert_clean()

        app.press("Reference on the bench")
        app.find("[data-lane='valve']")
        app.go_to(9)
        app.until(lambda: app.value("left") == "20 %", "the slow drive after 40 cm")
        app.write("let near = 40 cm", "let near = 30 cm")
        app.until(lambda: app.value("left") == "45 %", "the outputs follow the threshold at once")
        app.find("[data-check='Slows down near the barrel']").click()
        app.sees("Slows down near the barrel: fail")
        app.picture("bench")
        self.assert_clean()
        app.write("let near = 30 cm", "let near = 40 cm")
        app.until(lambda: app.value("left") == "20 %", "and back")
        app.sees("saved")

        with tempfile.TemporaryDirectory() as folder:
            late = Path(folder) / "hana-novak.geduld"
            late.write_text((DEMO / "hand-ins" / "dario-ferro.geduld").read_text())
            app.press("Dock at the barrel")
            app.sees("Upload hand-ins")
            app.upload([late])
            app.find("section[aria-label='Hand-ins'] a", "hana-novak")
        app.press("Grade the class")
        app.sees("Mark sheet")
        app.sees("of 8 pass")
        app.sees("The program has errors. Line 7")
        self.assert_clean()

        row = app.find("tr", "hana-novak")
        app.find("[data-cell='Waters for 1.5 s']", inside=row).click()
        app.sees("still so when the run ended")
        app.until(lambda: app.value("valve") == "80 %", "the cursor stands at the failing moment")
        self.assertIn("at=", app.driver.current_url)
        self.assert_clean()

    def test_a_handle_on_a_lane_is_the_number_in_the_text(self):
        app = self.app
        app.open("/")
        app.press("Dock at the barrel", "section[aria-label='Behaviours'] a")
        app.choose("World", "Dry day")
        app.find("[data-lane='valve']")
        app.drag_handle("range", -12)
        app.until(lambda: "let near = 40 cm" not in app.program(), "the number follows the drag")
        number = int(app.program().split("let near = ")[1].split(" cm")[0])
        self.assertGreater(number, 45)
        app.until(lambda: f"{number} cm" in app.find("[data-handle='range']").text, "the handle says the number")
        app.find("[data-handle='range']").send_keys(Keys.ARROW_DOWN, Keys.ARROW_DOWN)
        app.until(lambda: f"let near = {number - 2} cm" in app.program(), "arrow keys do the same")
        handle = app.find("[data-handle='knob']")
        handle.send_keys(Keys.SHIFT, Keys.ARROW_UP)
        app.until(lambda: "let asked = 72 %" in app.program(), "a large step")
        handle.send_keys(Keys.ARROW_UP, Keys.ESCAPE)
        app.until(lambda: "let asked = 62 %" in app.program(), "put back to what it was")
        app.sees("saved")
        app.press("Earlier texts")
        app.find("[role=dialog] pre")
        app.until(lambda: app.all("[role=dialog] li button"), "earlier texts")[-1].click()
        app.press("Go back to this text")
        app.until(lambda: "let near = 40 cm" in app.program(), "an earlier text comes back")
        self.assert_clean()

    def test_messages_fixes_and_completion(self):
        app = self.app
        app.open("/")
        app.press("New behaviour", "section > div button")
        app.find(".cm-line", "wait 1 s")
        app.write("wait 1 s", "left at 0.6")
        app.sees("Write 60 %, if that is what you mean.")
        app.sees("The text has errors: this is the last run without them.")
        app.find("ul[aria-label='Messages about the program'] button").click()
        app.keys(Keys.END, Keys.ENTER, "nozz")
        app.find(".cm-tooltip-autocomplete", "nozzle at")
        app.keys(Keys.TAB, "90 deg")
        app.until(lambda: "nozzle at 90 deg" in app.program(), "completion offers the rig's parts")
        app.press("Dark")
        app.find("html.dark")
        self.assert_clean()
        app.press("Light")
        app.write("New behaviour", "Trial run")
        app.find("h1", "Trial run")
        app.press("Shelf")
        app.on_shelf("behaviour Trial run", "Put into the trash")
        app.until(lambda: "Trial run" not in app.find("section[aria-label='Behaviours'] ul").text, "it is gone")
        app.on_shelf("rig glasshouse-cart", "Put into the trash")
        app.sees("still needs this")
        refused = app.driver.get_log("browser")
        self.assertTrue(len(refused) == 1 and "409" in refused[0]["message"], refused)

    def test_what_is_typed_stands_there(self):
        """A robot types whole texts key by key, with a pause behind each line: long enough for a list to open."""
        app = self.app
        paths = sorted((DEMO / "behaviours").glob("*.geduld"))
        texts = [path.read_text() for path in (paths if os.environ.get("GEDULD_SEARCH") else paths[:1])]
        app.open("/")
        app.press("New behaviour", "section > div button")
        app.find(".cm-line", "wait 1 s")
        for text in [*texts, "wait 0.5 s\nstop all\ndrive at 45 % for 20 cm\nlamp at 5\nnozzle"]:
            app.find(".cm-content").click()
            app.chord(Keys.CONTROL, "a")
            app.keys(Keys.DELETE)
            for number, line in enumerate(text.rstrip("\n").split("\n")):
                if number:
                    app.keys(Keys.ENTER)
                there = app.find(".cm-activeLine").get_property("textContent")
                for _ in range((len(there) - (len(line) - len(line.lstrip()))) // 4):
                    app.keys(Keys.BACKSPACE)  # the line before gave it an indentation: a level less
                for key in line[min(len(there), len(line) - len(line.lstrip())) :]:
                    app.keys(key)
                if line.strip():
                    time.sleep(0.25)
            self.assertEqual(app.program().rstrip("\n"), text.rstrip("\n"))
        self.assert_clean()

    def test_fixes_forms_with_slots_and_messages(self):
        app = self.app
        app.open("/")
        app.press("Called by radio")
        app.find("[data-lane='radio']", "round")  # the first trace that has what the program reads
        app.choose("World", "Radio calls")
        app.find("[data-lane='radio']", "water")
        app.go_to(7)
        app.until(lambda: app.value("left") == "36.5 %, kept", "a kept speed says so")
        self.assert_clean()
        app.open("/")
        app.press("New behaviour", "section > div button")
        app.find(".cm-line", "wait 1 s")
        app.write("wait 1 s", "turn left at 30 % for 0.8 s")
        app.press("Mend")
        app.until(lambda: "for 65 deg" in app.program(), "the fix measures the turn")
        app.keys(Keys.END, Keys.ENTER, "dri")
        app.find(".cm-tooltip-autocomplete", "drive at … cm/s until …")
        app.keys(Keys.DOWN, Keys.ENTER)
        app.keys("55", Keys.TAB, "12", Keys.TAB)
        app.until(lambda: "drive at 55 % for 12 cm" in app.program(), "Tab goes through the slots")
        app.sees("saved")
        app.press("Shelf")
        app.on_shelf("behaviour New behaviour", "Put into the trash")
        app.until(lambda: "New behaviour" not in app.find("section[aria-label='Behaviours'] ul").text, "it is gone")
        self.assert_clean()

    def test_what_is_new_is_for_the_chosen_rig(self):
        app = self.app
        app.open("/")
        app.press("New exercise", "section > div button")
        app.until(lambda: "at the end, drive = 0 %" in app.program(), "a cart is to stand still at the end")
        with tempfile.TemporaryDirectory() as folder:
            lantern = Path(folder) / "lantern.json"
            parts = {"lamp": {"kind": "lamp", "port": "L1"}, "knob": {"kind": "knob", "port": "A1"}}
            lantern.write_text(json.dumps({"geduld": "rig/1", "name": "lantern", "parts": parts}))
            app.open("/")
            app.sees("Import rig")
            app.upload([lantern], "section[aria-label='Rigs'] ")
            app.find("section[aria-label='Rigs'] li", "lantern")
        app.choose("New things are for", "lantern")
        app.find("section[aria-label='Exercises'] li", "for glasshouse-cart")
        self.assert_clean()
        app.press("New exercise", "section > div button")
        app.sees("for lantern")
        app.until(lambda: "program has at most 20 steps" in app.program(), "a lantern cannot move")
        app.press("Shelf")
        app.choose("New things are for", "lantern")
        app.press("New behaviour", "section > div button")
        app.until(lambda: 'for rig "lantern"' in app.program(), "a behaviour for it")
        app.press("Shelf")
        for what, board in (("behaviour New behaviour", "Behaviours"), ("rig lantern", "Rigs")):
            app.on_shelf(what, "Put into the trash")
            if board == "Behaviours":
                app.until(lambda: "New behaviour" not in app.find("[aria-label='Behaviours'] ul").text, "it is gone")
        app.sees("still needs this")
        self.assertIn("409", " ".join(app.complaints()))

    def test_the_keyboard_reaches_the_bench(self):
        app = self.app
        app.open("/")
        app.press("Hold the distance", "section[aria-label='Behaviours'] a")
        app.find("[data-lane='lamp']")
        app.find(".cm-content").click()
        app.keys(Keys.ESCAPE, Keys.TAB)
        app.until(lambda: not app.all(".cm-editor.cm-focused"), "Escape and Tab leave the text")
        app.driver.execute_script("document.activeElement.blur()")
        app.keys(".")
        app.until(lambda: not app.find("[data-time]").text.startswith("0.00"), "a step on to the next event")
        app.keys(".", ",")
        app.keys("+")
        app.keys(Keys.END)
        app.until(
            lambda: len(set(app.find("[data-time]").text.removesuffix(" s").split(" of "))) == 1, "End goes to the end"
        )
        app.keys("0", Keys.HOME, Keys.SPACE)
        app.until(lambda: app.find("button", "Pause"), "Space plays")
        app.keys(Keys.SPACE)
        self.assert_clean()


MAKE = """
const [path, body, done] = arguments;
const headers = {'Content-Type': 'application/json', 'X-CSRFToken': /csrftoken=([^;]+)/.exec(document.cookie)[1]};
fetch(`/api/${path}`, {method: 'POST', headers, body: JSON.stringify(body)}).then((r) => r.json()).then((made) => done(made.id));
"""


class EmptyShelf(BrowserTest):
    options = ("--no-demo",)

    def test_four_steps_lead_through_the_real_views_and_can_be_left(self):
        app = self.app

        def now(step):
            app.find("aside[aria-label='First steps'] [aria-current=step]", step)

        now("1 Robot")
        app.press("To this step")
        app.until(lambda: app.driver.switch_to.active_element.text.startswith("New rig"), "the way is shown")
        self.assert_clean()
        rig = app.driver.execute_async_script(MAKE, "rigs", {"source": SMALL})
        floor = {
            "geduld": "floor/1",
            "name": "Yard",
            "size": ["2 m", "2 m"],
            "start": {"at": ["1 m", "1 m"], "heading": "0 deg"},
        }
        for step, path, body in (
            ("2 World", "floors", {"source": floor}),
            ("3 Behaviour", "behaviours", {"rig": rig, "title": "A", "text": program("wait 1 s")}),
        ):
            app.open("/")
            now(step)
            app.driver.execute_async_script(MAKE, path, body)
        app.open("/classes")
        now("4 Exercise")
        app.press("To this step")
        app.until(
            lambda: (
                "/classes" not in app.driver.current_url and app.driver.switch_to.active_element.tag_name == "button"
            ),
            "on the shelf",
        )
        app.press("Leave it")
        app.until(lambda: not app.all("aside[aria-label='First steps']"), "it can be left")
        app.driver.refresh()
        app.find("h1", "Shelf")
        self.assertEqual(app.all("aside[aria-label='First steps']"), [])
