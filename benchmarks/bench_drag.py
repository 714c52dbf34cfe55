"""A handle dragged on the bench, in Chromium through the real server: `python -m benchmarks.bench_drag`.

Prints, for each world, how long it takes from a pointer's move to lanes that are drawn with it (or with a later one):
the median and the 95th percentile, of moves that come one at a time and of a pointer that moves all the time; beside it
what the server alone takes, and the ratio of the two.
"""

from __future__ import annotations

import statistics
import time
from typing import Any

from selenium.webdriver.common.by import By

from tests.browser.app import App
from tests.served import Server
from tests.server.test_start import Caller

MOVES = 40
FINELY = 1  # the Alt key
APART, ALWAYS = 0.25, 0.016  # seconds between moves: one at a time, and as a hand moves
LIMITS = {"trace of 60 s": 50, "trace of 10 min": 100, "floor, 60 s": 100}  # ms
TRACES = {"trace of 60 s": 60, "trace of 10 min": 600}
TEXT = """behaviour "Dragged"
for rig "glasshouse-cart"

begin:
    wait until range < 60 cm
    drive at 45 % until range < 40 cm, keep going
    drive at 20 % until nose is pressed, patience 3 s
    repeat:
        lamp on for 0.5 s
        wait 0.5 s
"""
LINE = 6
# A move counts as drawn when the lanes say that they show its number, or that of a later move, and the frame is out.
WATCH = """
const line = arguments[0];
const waiting = [];
window.took = [];
const number = () => Number(/range < (-?[0-9.]+)/.exec(document.querySelectorAll('.cm-line')[line - 1].textContent)[1]);
addEventListener('pointermove', (event) => {
  if (!event.buttons) return;
  const at = event.timeStamp;
  queueMicrotask(() => waiting.push({ at, asked: number() }));
});
const drawn = () => {
  const shown = document.querySelector('[data-ran]').dataset.ran.split(' ').map(Number);
  const last = waiting.findLastIndex((move) => shown.includes(move.asked));
  if (last < 0) return;
  const done = waiting.splice(0, last + 1);
  requestAnimationFrame(() => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => { for (const move of done) window.took.push(performance.now() - move.at); };
    port2.postMessage(0);
  });
};
new MutationObserver(drawn).observe(document.querySelector('[data-ran]'), { attributes: true });
"""


def main() -> None:
    """Prints the table."""
    server = Server()
    app = App(server.address)
    try:
        caller = Caller(server)
        app.open("/sign-in")
        for cookie in caller.jar:
            app.driver.add_cookie({"name": cookie.name, "value": cookie.value})
        rig = _named(caller, "rigs", "glasshouse-cart")
        floor = _named(caller, "floors", "North aisle")
        worlds = {name: {"trace": _trace(caller, rig, lasts)} for name, lasts in TRACES.items()}
        worlds["floor, 60 s"] = {"floor": floor, "limit": 60}
        print(f"{'':<18}{'pointer':<16}{'median':>9}{'95th':>9}{'aim':>8}{'server':>10}{'ratio':>8}")
        for name, world in worlds.items():
            served = _served(caller, rig, world)
            for pointer, apart in (("one at a time", APART), ("all the time", ALWAYS)):
                made = {"rig": rig, "title": f"{name}, {pointer}", "text": TEXT, "world": world}
                took = _dragged(app, caller.json("POST", "/api/behaviours", made)["id"], apart)
                middle, most = statistics.median(took), statistics.quantiles(took, n=20)[-1]
                numbers = (
                    f"{middle:>6.0f} ms{most:>6.0f} ms{LIMITS[name]:>5} ms{served:>7.1f} ms{middle / served:>8.1f}"
                )
                print(f"{name:<18}{pointer:<16}{numbers}")
    finally:
        app.close()
        server.stop()


def _trace(caller: Caller, rig: int, lasts: int) -> int:
    """A recording of a hand that comes and goes, 50 times a second."""
    rows = ["time [s],range [cm],nose,knob [%]"]
    for k in range(lasts * 50):
        t = k / 50
        rows.append(f"{t:.2f},{80 - 7 * (t % 11) + (k % 3) * 0.4:.1f},{int(8 < t % 11 < 8.5)},{40 + k % 5}")
    found = caller.upload("/api/traces", f"drag-{lasts}.csv", "\n".join(rows).encode(), rig=rig)
    kept: int = found["id"]
    return kept


def _named(caller: Caller, kind: str, name: str) -> int:
    found: int = next(row["id"] for row in caller.json("GET", f"/api/{kind}") if row["name"] == name)
    return found


def _served(caller: Caller, rig: int, world: dict[str, Any]) -> float:
    """The median time of the server alone for a moved number, in ms."""
    took = []
    for k in range(15):
        asked = {"rig": rig, "text": TEXT.replace("40 cm", f"{41 + k} cm"), "language": "notation", **world}
        start = time.perf_counter()
        caller.json("POST", "/api/bench/run", asked)
        took.append(time.perf_counter() - start)
    return statistics.median(took) * 1e3


def _dragged(app: App, behaviour: int, apart: float) -> list[float]:
    """Drags the handle on the range up and down, and gives how long each move took, in ms."""
    app.open(f"/bench/{behaviour}")
    app.find("[data-ran*='40']")
    handle = next(
        item
        for item in app.driver.find_elements(By.CSS_SELECTOR, "[data-handle=range]")
        if "line 6" in item.accessible_name
    )
    box = handle.rect
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    time.sleep(0.6)
    app.driver.execute_script(WATCH, LINE)

    def mouse(kind: str, at: float) -> None:
        event = {"type": kind, "x": x, "y": at, "button": "left", "buttons": 1, "clickCount": 1, "modifiers": FINELY}
        app.driver.execute_cdp_cmd("Input.dispatchMouseEvent", event)

    mouse("mousePressed", y)
    for k in range(MOVES):
        mouse("mouseMoved", y - 2 - k * 0.7)  # each a number that was not there before: none is in the browser's memory
        time.sleep(apart)
    time.sleep(1.0)
    mouse("mouseReleased", y)
    found: list[float] = app.driver.execute_script("return window.took")
    if len(found) < MOVES * 0.8:
        raise SystemExit(f"only {len(found)} of {MOVES} moves were seen on the lanes")
    return found


if __name__ == "__main__":
    main()
