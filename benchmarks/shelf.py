"""A full shelf beside the demonstration's: `python -m benchmarks.shelf`.

Fills it up to 100 exercises, 500 behaviours and 1,000 traces, and prints how long the server takes for each list as the
shelf asks for it, how long a browser takes from the address to all boards with their rows, and both as a ratio to the
shelf with the demonstration alone.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from urllib.parse import quote

from tests.browser.app import App
from tests.served import Server
from tests.server.test_start import Caller

EXERCISES, BEHAVIOURS, TRACES = 100, 500, 1_000
TIMES = 15
BOARDS = ("Exercises", "Behaviours", "Wordbooks", "Rigs", "Floors", "Traces", "Inputs")
FIRST = {
    "exercises/rows": 8, "behaviours": 10, "wordbooks": 5, "rigs": 6, "floors": 5, "traces": 5, "recordings": 5,
    "inputs": 5,
}  # fmt: skip
FIND = "&archived=no&search=&tag=&sort="
# Told by the page itself, at the first picture in which each board has its rows.
WATCH = """
const boards = %s;
const rows = (board) => document.querySelector(`section[aria-label='${board}'] ul li:not(.text-soft)`);
const full = () => boards.every(rows);
const look = () => { if (full()) window.filledAt = performance.now(); else requestAnimationFrame(look); };
look();
"""


def main() -> None:
    """Prints the tables."""
    server = Server()
    app = App(server.address)
    try:
        caller = Caller(server)
        app.open("/sign-in")
        for cookie in caller.jar:  # the link that was printed is good once
            app.driver.add_cookie({"name": cookie.name, "value": cookie.value})
        app.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": WATCH % list(BOARDS)})
        before = _asked(caller), _opened(app)
        start = time.perf_counter()
        _fill(caller)
        print(f"filled in {time.perf_counter() - start:.0f} s: {_counts(caller)}")
        after = _asked(caller), _opened(app)
        print(f"{'':<44}{'demonstration':>14}{'full':>10}{'ratio':>8}")
        for word in before[0]:
            _row(word, before[0][word], after[0][word])
        _row("all of the shelf's first view, on the server", sum(_views(before[0])), sum(_views(after[0])))
        _row("browser, address to all boards", before[1], after[1])
    finally:
        app.close()
        server.stop()


def _row(word: str, before: float, after: float) -> None:
    print(f"{word:<44}{before * 1e3:>11.0f} ms{after * 1e3:>7.0f} ms{after / before:>8.2f}")


def _views(times: dict[str, float]) -> list[float]:
    return [took for word, took in times.items() if word.startswith("list")]


def _asked(caller: Caller) -> dict[str, float]:
    """The median of each request's time, as the shelf sends it."""
    lists = {
        "exercises/rows": 8,
        "behaviours": 10,
        "wordbooks": 5,
        "rigs": 6,
        "floors": 5,
        "traces": 5,
        "recordings": 5,
        "inputs": 5,
    }
    paths = {f"list of {kind}": f"/api/{kind}?limit={limit}&offset=0{FIND}changed" for kind, limit in lists.items()}
    paths["list: the shelf as a whole"] = "/api/shelf"
    paths["traces found by two words"] = f"/api/traces?limit=5&search={quote('dry day')}&archived=no"
    paths["behaviours found by words in their text"] = f"/api/behaviours?limit=10&search={quote('knob barrel')}"
    paths["traces by name, the 500th on"] = "/api/traces?limit=24&offset=500&sort=name"
    return {word: _median(lambda path=path: caller.call("GET", path)) for word, path in paths.items()}


def _opened(app: App) -> float:
    """The median time from the address to the first picture with all rows."""

    def opened() -> float:
        app.open("/")
        app.until(lambda: app.driver.execute_script("return window.filledAt"), "all boards")
        return app.driver.execute_script("return window.filledAt") / 1e3

    opened()
    return statistics.median(opened() for _ in range(TIMES))


def _median(work: Callable[[], object]) -> float:
    work()
    found = []
    for _ in range(TIMES):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def _fill(caller: Caller) -> None:
    exercises = caller.json("GET", "/api/exercises")
    for number in range(EXERCISES - len(exercises)):
        made = caller.json("POST", f"/api/exercises/{exercises[number % len(exercises)]['id']}/copy", {})
        caller.json("PATCH", f"/api/exercises/{made['exercise']}", {"title": f"Task {number:03}"})
    behaviours = caller.json("GET", "/api/behaviours")
    for number in range(BEHAVIOURS - len(behaviours)):
        like = behaviours[number % len(behaviours)]
        text = like["text"].replace(like["title"], f"{like['title']} {number:03}", 1)
        caller.json("POST", "/api/behaviours", {"rig": like["rig"], "title": like["title"], "text": text})
    traces = caller.json("GET", "/api/traces")
    data = {trace["id"]: caller.call("GET", f"/api/traces/{trace['id']}/csv")[2] for trace in traces[:3]}
    for number in range(TRACES - len(traces)):
        like = traces[number % 3]
        caller.upload("/api/traces", f"{like['name']} {number:04}.csv", data[like["id"]], rig=like["rig"])
    for kind in ("behaviours", "traces"):
        for row in caller.json("GET", f"/api/{kind}?limit=300"):
            caller.json("PATCH", f"/api/shelf/{kind}/{row['id']}", {"tags": [f"class {row['id'] % 9}", "spring"]})


def _counts(caller: Caller) -> str:
    kinds = {item["kind"]: item["all"] for item in caller.json("GET", "/api/shelf")["kinds"]}
    return ", ".join(f"{kinds[kind]:,} {kind}" for kind in ("exercises", "behaviours", "traces"))


if __name__ == "__main__":
    main()
