"""A class hands in by itself: on a phone, through a lost network, and what its teacher and a colleague see of it."""

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.app import BrowserTest
from tests.glasshouse import DEMO

HASTY = (DEMO / "gentle-class" / "tariq-holloway.geduld").read_text()


class HandingIn(BrowserTest):
    def fill(self, label, text):
        field = self.app.find("label", label).find_element(By.CSS_SELECTOR, "input, textarea")
        field.clear()
        field.send_keys(text)

    def test_a_student_on_a_phone_and_the_teacher_s_side(self):
        app = self.app
        app.open("/classes")
        self.fill("Name", "Thursday group")
        self.fill("Its students, one a line", "Ena Morrow\nLuis Hartig")
        app.press("Make the class")
        code = app.find("tr[data-student='Ena Morrow'] td:nth-child(2)").text
        self.assert_clean()
        app.press("As slips to cut")
        app.find("li", code)
        self.assert_clean()
        app.picture("class")
        app.press("Shelf", "nav a")
        app.press("Dock at the barrel", "section[aria-label='Exercises'] a")
        app.press("Handing in", "a")
        app.choose("Let a class hand in", "Thursday group")
        app.press("Open it")
        board = app.find("[data-assignment='Thursday group'] [data-code]").text
        self.assert_clean()

        app.size(390, 844)
        app.open("/hand-in")
        self.fill("Code of the exercise", board.lower().replace("-", " "))
        self.fill("Your own code", "AAAAAAAAA")
        app.press("Go on")
        app.sees("do not belong together")
        self.assertTrue(all("/api/desk" in line for line in app.complaints()))  # the browser's own word for a refusal
        self.fill("Your own code", code.lower())
        app.press("Go on")
        app.sees("As many tries as you like")
        area = app.find("textarea")
        area.send_keys(HASTY.replace("until nose", "untli nose"))
        app.keys(Keys.TAB, Keys.ENTER)  # by keyboard alone
        app.sees("It could not be run: mend this first")
        app.sees("This try does not count")
        app.press("Line 5")
        chosen = "return document.activeElement.value.slice(document.activeElement.selectionStart, document.activeElement.selectionEnd)"
        self.assertIn("untli", app.driver.execute_script(chosen))
        self.assert_clean()
        # the network goes, the tab is closed, and nothing is lost
        area.send_keys(Keys.CONTROL, "a")
        area.send_keys(HASTY)
        app.driver.execute_cdp_cmd("Network.enable", {})
        away = {"offline": True, "latency": 0, "downloadThroughput": 0, "uploadThroughput": 0}
        app.driver.execute_cdp_cmd("Network.emulateNetworkConditions", away)
        app.press("Hand in")
        app.sees("The network is away")
        app.driver.get("about:blank")
        back = away | {"offline": False, "downloadThroughput": -1, "uploadThroughput": -1}
        app.driver.execute_cdp_cmd("Network.emulateNetworkConditions", back)
        app.open("/hand-in")
        app.find("[data-receipt='2']", "counts")
        self.assertTrue(all("/api/desk" in line for line in app.complaints()))
        app.find("[data-told]")
        app.find("[data-picture]")
        self.assertLessEqual(app.driver.execute_script("return document.documentElement.scrollWidth"), 390)
        self.assert_clean()
        app.driver.execute_script("document.querySelector('[data-told]').scrollIntoView()")
        app.picture("hand-in")
        app.size(1280, 800)
        app.open("/")
        app.press("Dock at the barrel", "section[aria-label='Exercises'] a")
        app.press("Handing in", "a")
        app.find("[data-standing='Ena Morrow']", "2")
        app.find("[data-missing='1']", "Luis Hartig")
        app.press("Give the marks back")
        app.sees("marks were given back")
        app.picture("collect")
        self.assert_clean()
        app.open("/hand-in")
        app.sees("Your marks:")
        self.assert_clean()

    def test_two_teachers(self):
        app = self.app
        app.open("/account")
        app.press("Invite a colleague")
        link = app.find("[data-link]").text
        self.assert_clean()
        app.press("Sign out")
        app.sees("Sign in to Geduld")
        app.driver.get(link)
        for name, text in (("name", "Rika Sol"), ("password", "Elderflower-and-9-snails")):
            app.find(f"input[name='{name}']").send_keys(text)
        app.press("Make my account")
        app.find("header", "Rika Sol")
        app.find("section[aria-label='Exercises']", "")
        self.assertNotIn("Dock at the barrel", app.find("main").text)
        app.open("/account")
        app.press("Sign out")
        app.sees("Sign in to Geduld")
        self.assert_clean()
        app.picture("sign-in")
        app.find("input[name='name']").send_keys("Rika Sol")
        app.find("input[name='password']").send_keys("Elderflower-and-9-snails", Keys.ENTER)
        app.find("header", "Rika Sol")


if __name__ == "__main__":
    import unittest

    unittest.main()
