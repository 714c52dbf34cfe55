"""A class in Python and C: its words, a hand-in at its failing moment, and what could not be read."""

import tempfile
import unittest
import zipfile
from pathlib import Path

from selenium.webdriver.support.ui import Select

from tests.browser.app import BrowserTest


class Wordbooks(BrowserTest):
    def test_from_the_words_to_a_hand_in_at_its_failing_moment(self):
        app = self.app
        app.open("/")
        app.press("barrow in Python", "section[aria-label='Wordbooks'] a")
        app.sees("No message: every word fits the rig.")
        app.press("ahead(", "[aria-label='Words'] button")
        app.press("Call it")
        app.sees("The program gets")
        app.sees("The call takes 4 ms.")
        app.picture("wordbook")
        self.assert_clean()
        app.press("Wheel.spin(", "[aria-label='Words'] button")
        app.press("Call it")
        app.sees("left is set to 100 %")
        app.open("/")
        app.press("Docking in Python and C", "section[aria-label='Exercises'] a")
        app.find("section[aria-label='Wordbooks'] label", "barrow in C")
        self.assert_clean()
        app.press("Grade the class")
        app.find("button", "All graded")
        app.find("[aria-label='What could not be read']", "flash_lights")
        self.assert_clean()
        cell = app.find("tr", "freya-okoro").find_element("css selector", "[data-cell='Stops at the barrel']")
        cell.click()
        app.find("[data-lane='valve']")
        app.until(lambda: "while bumped:" in app.program(), "the student's own text")
        app.sees("stands here without its brackets")
        app.find("[data-handle='knob']")
        self.assert_clean()
        app.press("What Geduld understood")
        app.find(
            "section[aria-label='What Geduld understood'] li", "repeat while not (0 cm < range and range < 40 cm):"
        )
        self.assert_clean()
        app.press("What Geduld understood")
        app.drag_handle("range", -20)
        app.until(lambda: "ahead() < 40:" not in app.program(), "a drag writes the number into the student's text")
        app.press("Back to the hand-in")
        app.until(lambda: "ahead() < 40:" in app.program(), "nothing that was handed in is changed")

    def test_a_folder_of_the_class_comes_in_and_the_file_that_begins_is_asked_for(self):
        app = self.app
        app.open("/")
        app.press("Docking in Python and C", "section[aria-label='Exercises'] a")
        app.find("section[aria-label='Hand-ins'] li", "freya-okoro")
        with tempfile.TemporaryDirectory() as folder:
            work = Path(folder) / "class" / "dora-ekberg"
            work.mkdir(parents=True)
            for name, text in {
                "one.py": "import barrow\nbarrow.park()\n",
                "two.py": "from barrow import *\npark()\n",
            }.items():
                (work / name).write_text(text)
            (work / "picture.png").write_bytes(b"no program")
            (Path(folder) / "class" / "emil-sand.c").write_text('#include "barrow.h"\nint main() { park(); }\n')
            field = app.driver.find_element("css selector", "section[aria-label='Hand-ins'] input[type='file']")
            field.send_keys(str(Path(folder) / "class"))
            app.press("Keep 2 hand-ins")
            app.find("section[aria-label='Hand-ins'] li", "emil-sand")
        chosen = "[aria-label='The file with which the program of dora-ekberg begins']"
        app.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", app.find(chosen))
        app.picture("folder")
        self.assert_clean()
        Select(app.find(chosen)).select_by_visible_text("two.py")
        app.until(lambda: "choose" not in app.find(chosen).text, "the file is kept")
        app.press("dora-ekberg", "section[aria-label='Hand-ins'] a")
        app.until(lambda: "==== file: two.py ====" in app.program(), "both files, the chosen one first")
        app.press("What Geduld understood")
        app.sees("In two.py")

    def test_the_zip_of_a_class_is_looked_at_before_anything_is_kept(self):
        app = self.app
        app.take("Docking in Python and C", "Exercises")
        app.find("section[aria-label='Hand-ins'] li", "freya-okoro")
        go = "import barrow\nbarrow.park()\n"
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "Class 7b, bump stop.zip"
            with zipfile.ZipFile(path, "w") as packed:
                for name, text in {
                    "Alva Brandt_4127_assignsubmission_file_/dock.py": go,
                    "Gus Ferreira_4131_assignsubmission_file_/main.py": "import legs\n",
                    "Gus Ferreira_4131_assignsubmission_file_/legs.py": go,
                    "Hanna Lind_4139_assignsubmission_file_/dock.c": '#include "barrow.h"\nint main() { park(); }\n',
                    "Ida Sol_4140_assignsubmission_file_/photo of my screen.png": "x",
                    "Jon Ekberg_4152_assignsubmission_file_/run.csv": "time_s,range_cm\n0,80\n1,79\n",
                    "freya-okoro_4160_assignsubmission_file_/park.py": go,
                    "Lars Vik_4166_assignsubmission_file_/dock.py": go,
                    "Lars Vik_4171_assignsubmission_file_/dock.py": go,
                    "__MACOSX/._x": "x",
                }.items():
                    packed.writestr(name, text)
            app.driver.find_element("css selector", "input[accept*='.zip']").send_keys(str(path))
            app.find("[role=dialog]", "Whose programs are these?")
            app.find("[role=dialog]", "replaces an older hand-in")
            self.assert_clean()
            app.press("Keep 8 hand-ins")
        names = "section[aria-label='Hand-ins'] li"
        for student in ("Alva Brandt", "Gus Ferreira", "Hanna Lind", "Ida Sol", "Jon Ekberg", "Lars Vik 4171"):
            app.find(names, student)
        self.assert_clean()

    def test_a_behaviour_is_written_out_in_the_words_of_the_class(self):
        app = self.app
        app.open("/")
        app.press("Dock gently", "section[aria-label='Behaviours'] a")
        app.press("In class words")
        app.sees("The class’s words can say all of it.")
        app.find("[aria-label='The program']", "from barrow import")
        self.assert_clean()
        app.choose("Wordbook", "barrow in C")
        app.find("[aria-label='The program']", '#include "barrow.h"')


if __name__ == "__main__":
    unittest.main()
