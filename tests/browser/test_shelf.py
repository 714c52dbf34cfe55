"""The shelf and the trash by keyboard and pointer; an exercise as a zip, as a copy, and by a link that looks."""

import tempfile
import time
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.app import App, BrowserTest


class Shelf(BrowserTest):
    def titles(self, board="Exercises"):
        found = self.app.all(f"section[aria-label='{board}'] li a.font-bold")
        return [link.text for link in found]

    def test_found_tagged_put_away_and_out_of_the_trash_again(self):
        app = self.app
        app.open("/")
        app.find("section[aria-label='Exercises'] li", "Dock gently")
        self.assert_clean()
        field = app.find("input[type=search]")
        field.send_keys("Hoist tray")
        app.until(lambda: self.titles() == ["Tray to the shelf"], "words that stand in it or in its rig's name")
        self.assertEqual(field.get_attribute("value"), "Hoist tray", "no letter is lost while one types")
        self.assertIn("search=Hoist", app.driver.current_url)
        self.assertFalse(app.all("section[aria-label='Rigs'] li a"))
        app.press("Show all")
        # by keyboard: what to do with it, a new tag
        app.find("button[aria-label='What to do with the exercise Dock gently']").send_keys(Keys.ENTER)
        app.find("[role=dialog] input").send_keys("8a, spring", Keys.ENTER)
        app.press("8a", "[role=group] button")
        app.until(lambda: self.titles() == ["Dock gently"], "what has the tag")
        self.assert_clean()
        app.press("Show all")
        app.on_shelf("exercise Round the herb bed", "Put into the archive")
        app.until(lambda: "Round the herb bed" not in self.titles(), "it is put away")
        app.press("Archive (1)")
        app.until(lambda: self.titles() == ["Round the herb bed"], "the archive")
        app.on_shelf("exercise Round the herb bed", "Take out of the archive")
        app.press("Show all")
        app.until(lambda: "Round the herb bed" in self.titles(), "it is back")
        # into the trash, back by the bar, in again, back by the keyboard, in again and back from the trash's page
        app.on_shelf("exercise Docking, proofread", "Put into the trash")
        app.find("[data-undo]", "is in the trash")
        self.assert_clean()
        app.press("Put it back")
        app.until(lambda: "Docking, proofread" in self.titles(), "undone")
        app.on_shelf("exercise Docking, proofread", "Put into the trash")
        app.find("[data-undo]")
        app.find("[data-undo] button", "All right").send_keys(Keys.CONTROL, "z")
        app.until(lambda: "Docking, proofread" in self.titles(), "undone by keyboard")
        app.on_shelf("exercise Docking, proofread", "Put into the trash")
        app.press("Trash (1)")
        app.find("[data-trashed='Docking, proofread']")
        self.assert_clean()
        app.press("Put it back")
        app.find("[data-back]", "Docking, proofread")
        app.press("Shelf", "nav a")
        app.press("Docking, proofread", "section[aria-label='Exercises'] a")
        app.find("h1")
        app.press("Shelf", "nav a")
        app.find("nav[aria-label='Opened last'] a", "Docking, proofread")
        app.press("More", "section[aria-label='Behaviours'] button")
        app.until(lambda: len(self.titles("Behaviours")) > 10, "more of them")
        app.choose("Order", "by name")
        app.until(lambda: (names := self.titles("Behaviours")) == sorted(names, key=str.lower) and names, "in order")
        self.assert_clean()

    def test_anything_is_opened_by_its_name_and_the_keys_are_told(self):
        app = self.app
        app.open("/classes")
        app.find("h1")
        app.find("body").send_keys(Keys.CONTROL, "k")
        field = app.find("input[aria-label='Open by name']")
        field.send_keys("lindq")
        app.find("[role=option]", "ada-lindqvist")
        self.assert_clean()
        app.keys(Keys.ENTER)
        app.find("h1", "ada-lindqvist")
        app.press("Open by name")
        app.find("input[aria-label='Open by name']").send_keys("north ai")
        app.find("[role=option]", "North aisle")
        app.keys(Keys.ESCAPE)
        app.until(lambda: not app.all("[role=dialog]"), "it is closed")
        app.find("body").send_keys("?")
        app.find("[role=dialog]", "open anything by its name")
        self.assert_clean()
        app.press("Close", "[role=dialog] button")

    def test_an_exercise_goes_out_and_comes_in_again_and_a_colleague_looks(self):
        app = self.app
        with tempfile.TemporaryDirectory() as folder:
            kept = {"behavior": "allow", "downloadPath": folder}
            app.driver.execute_cdp_cmd("Browser.setDownloadBehavior", kept)
            app.open("/")
            app.press("Dock gently", "section[aria-label='Exercises'] a")
            app.press("Share", "a")
            app.press("Save the zip")
            app.until(lambda: list(Path(folder).glob("*.zip")), "the zip is saved")
            time.sleep(0.2)
            packed = next(Path(folder).glob("*.zip"))
            app.press("Copy it")
            app.find("[data-brought='Dock gently, copy']")
            app.find("label", "For whom").find_element(By.TAG_NAME, "input").send_keys("Rika")
            app.press("Make a link")
            link = app.find("[data-look]").text
            app.find("[data-link='Rika']", "not used yet")
            self.assert_clean()
            app.picture("share")
            app.press("Shelf", "nav a")
            app.find("section[aria-label='Exercises'] li", "Dock gently, copy")
            app.upload([packed], "section[aria-label='Exercises'] ")
            came = app.find("[data-brought='Dock gently']")
            self.assertIn("There already, and the same: rig glasshouse-cart, floor North aisle", came.text)
            broken = Path(folder) / "broken.zip"
            broken.write_bytes(packed.read_bytes()[:-40])
            app.upload([broken], "section[aria-label='Exercises'] ")
            app.sees("damaged, or no zip")
            self.assertTrue(all("422" in line for line in app.complaints()))  # the browser's own word for a refusal
        colleague = App(self.server.address)
        self.addCleanup(colleague.close)
        colleague.open(link)
        colleague.find("h1", "Dock gently")
        colleague.find("[data-case='from mark A'] [data-verdict=pass]", "Touches the barrel, once")
        colleague.press("with noise")
        colleague.press("Arrives gently", "[data-case='with noise'] button")
        colleague.sees('The reference in "with noise", at ')
        self.assertFalse(colleague.all("section[aria-label='Marks']"))
        self.assertFalse([button for button in colleague.all("button") if "Copy" in button.text])
        refused = [line for line in colleague.complaints() if "api/me" not in line]  # who is not signed in is nobody
        self.assertEqual(refused, [])
        colleague.picture("look")
        app.open(link)
        app.press("Copy to my shelf")
        app.find("[data-brought='Dock gently']")
        self.assert_clean()
