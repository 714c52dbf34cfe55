"""Two tabs with one text, and a view that fails: nothing is lost, and what to do is said."""

import shutil
import tempfile
import unittest

from selenium.webdriver.common.by import By

from tests.browser.app import App, BrowserTest
from tests.served import Server


class Saving(BrowserTest):
    def test_two_tabs_with_one_behaviour_keep_both_texts(self):
        app, driver = self.app, self.app.driver
        app.open("/")
        app.press("Lamp by light", "section[aria-label='Behaviours'] a")
        app.find("[data-lane]")
        address, first = driver.current_url, driver.current_window_handle
        driver.switch_to.new_window("tab")
        app.size(1280, 800)
        app.open(address)
        app.find("[data-lane]")
        second = driver.current_window_handle
        line = next(text for text in app.program().split("\n") if "lamp" in text and " at " in text).strip()
        driver.switch_to.window(first)
        app.write(line, line.replace(" at ", " at 1 % + "))
        app.until(lambda: "saving" not in app.find("section[aria-label='Program']").text, "saved")
        app.sees("saved")
        driver.switch_to.window(second)
        app.write(line, line.replace(" at ", " at 2 % + "))
        app.sees("was changed in another tab meanwhile")
        app.press("Show both")
        shown = [element.text for element in app.all("[role=dialog] pre")]
        self.assertEqual(["at 2 % +" in shown[0], "at 1 % +" in shown[1]], [True, True])
        self.assertEqual([text for text in app.complaints() if "409" not in text], [])
        app.press("Keep this text", "[role=dialog] button")
        app.until(lambda: "another tab" not in driver.find_element(By.TAG_NAME, "body").text, "it is decided")
        app.sees("saved")
        app.press("Earlier texts")
        app.sees("from another tab, not taken")
        app.press("Close")
        driver.switch_to.window(first)
        driver.refresh()
        app.until(lambda: "at 2 % +" in app.program(), "the choice counts everywhere")
        app.write("at 2 % +", "at 3 % +")
        app.sees("saved")
        driver.switch_to.window(second)
        app.write("at 2 % +", "at 4 % +")
        app.press("Take the other text")
        app.until(lambda: "at 3 % +" in app.program(), "the other text is here")
        messages = [text for text in app.complaints() if "409" not in text]
        self.assertEqual(messages, [])

    def test_what_is_typed_while_the_server_is_away_is_kept_though_the_tab_is_closed(self):
        folder = tempfile.mkdtemp()
        self.addCleanup(shutil.rmtree, folder)
        shutil.copytree(self.server.own.name, folder, dirs_exist_ok=True)
        server = Server(folder=folder)
        away = App(server.address)
        self.addCleanup(away.close)
        away.open(server.link)
        away.press("Sign in")
        away.press("Lamp by light", "section[aria-label='Behaviours'] a")
        away.find("[data-lane]")
        address = away.driver.current_url
        line = next(text for text in away.program().split("\n") if "lamp" in text and " at " in text).strip()
        typed = line.replace(" at ", " at 3 % + ")
        server.stop()
        away.write(line, typed)
        away.sees("not saved yet")
        away.driver.get("about:blank")
        server = Server(folder=folder, port=server.port)
        self.addCleanup(server.stop)
        away.open(address)
        away.until(lambda: typed in away.program(), "it is here again")
        away.sees("saved")
        away.driver.execute_script("localStorage.clear()")
        away.open(address)
        away.until(lambda: typed in away.program(), "and the server has it")

    def test_a_view_that_fails_leaves_the_others_alone(self):
        app = self.app
        app.driver.execute_cdp_cmd("Network.enable", {})
        app.driver.execute_cdp_cmd("Network.setBlockedURLs", {"urls": ["*MarkSheet*"]})
        self.addCleanup(app.driver.execute_cdp_cmd, "Network.setBlockedURLs", {"urls": []})
        app.open("/exercises/1/marks")
        app.sees("Geduld has been renewed meanwhile")
        app.press("To the shelf")
        app.find("section[aria-label='Behaviours']")
        app.complaints()


if __name__ == "__main__":
    unittest.main()
