"""A board on a cable, in the real interface: a stand-in for the browser's serial port is recorded and becomes a case."""

import json

from selenium.webdriver.support.ui import Select

from geduld.recordings.sketch import drawn_trace, sketch_from_json
from geduld.standin.lines import lines_of
from tests.browser.app import BrowserTest
from tests.core.test_traces import SKETCH
from tests.glasshouse import cart

SERIAL = """
const lines = LINES;
let pull = null;
window.pullCable = () => pull && pull();
Object.defineProperty(navigator, "serial", { configurable: true, value: { requestPort: async () => ({
  open: async ({ baudRate }) => { if (baudRate !== 115200) throw new Error("wrong rate"); },
  close: async () => undefined,
  readable: new ReadableStream({ start(controller) {
    const bytes = new TextEncoder();
    let at = 0;
    const timer = setInterval(() => {
      // pieces of lines, as they come on a cable
      const piece = lines.slice(at, at + 37);
      at += 37;
      if (piece) controller.enqueue(bytes.encode(piece));
    }, 3);
    pull = () => { clearInterval(timer); controller.error(new Error("the device was lost")); };
  } }),
}) } });
"""


class Cable(BrowserTest):
    def test_a_board_is_recorded_and_becomes_a_case(self):
        app = self.app
        trace = drawn_trace(sketch_from_json(SKETCH, cart()))
        lines = "\r\n".join(line for _, line in lines_of(trace, cart(), 50, "pairs"))
        source = SERIAL.replace("LINES", json.dumps(f"Barrow 3 ready\r\n{lines}\r\n"))
        app.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": source})
        app.open("/")
        app.press("glasshouse-cart", "section[aria-label='Rigs'] a")
        app.press("Live readings", "a")
        app.sees("Nothing comes yet")
        self.assert_clean()
        app.press("Choose the board …")
        app.find("[data-live='comes']")
        app.until(lambda: "80 %" in app.find("[data-reading='knob']").text, "the knob's last value")
        app.until(lambda: app.find("[data-live]").text.split(" lines")[0].endswith("502"), "every line came")
        app.sees("1 not read")
        app.choose("Beside the values that are compared in", "Dock at the barrel")
        app.find("[data-threshold='range']", "line")
        app.press("Play it along on the bench", "a")
        app.find("[data-live-reading='range']")
        app.find("[data-waiting='9']")
        app.find(".cm-lit", "wait")
        app.sees("nothing is sent to the robot")
        self.assert_clean()
        app.driver.back()
        app.press("What its names mean …")
        app.find("[data-column='knob']")
        app.picture("live")
        self.assert_clean()
        app.driver.execute_script("window.pullCable()")
        app.sees("The cable was pulled. What came is kept")
        app.find("[data-live='silent']")
        app.sees("silent for")
        app.press("Keep as a trace")
        app.find("[data-lane='range']")
        app.sees("501 samples, 50 Hz")
        self.assert_clean()
        app.press("Shelf", "nav a")
        app.press("Dock at the barrel", "section[aria-label='Exercises'] a")
        Select(app.find("select[aria-label='Add a trace or a floor as a case']")).select_by_visible_text(
            "Live recording"
        )
        app.find("section[aria-label='Cases']", "Live recording")


if __name__ == "__main__":
    import unittest

    unittest.main()
