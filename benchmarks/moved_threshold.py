"""How long the server takes to answer while a teacher drags a threshold: `python -m benchmarks.moved_threshold`.

The demonstration's exercise with its five checks and its reference behaviour on a trace of 60 s, through the real
server; every request has another number in the program. Beside it, in the same run, a request that asks for next to
nothing, so that what HTTP, the session and the way to another process cost can be told.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

from benchmarks.grading import ride
from geduld.worlds.trace import Trace
from tests.glasshouse import ROOT
from tests.served import Server
from tests.server.test_start import Caller

FOLDER = ROOT / "demo" / "dock-at-the-barrel"


def csv_of(trace: Trace) -> bytes:
    """The trace as Geduld's CSV."""
    rows = ["time [s],nose,range [cm],knob [%]"]
    columns = (trace.times / 1e6, *(trace.channels[name] for name in ("nose", "range", "knob")))
    for t, nose, gap, knob in zip(*(column.tolist() for column in columns), strict=True):
        rows.append(f"{t:.2f},{nose:.0f},{'' if gap != gap else gap},{knob}")
    return "\n".join(rows).encode()


def spread(ask: Callable[[int], object], count: int) -> list[float]:
    """The times of so many requests, in ms."""
    found = []
    for number in range(count):
        start = time.perf_counter()
        ask(number)
        found.append((time.perf_counter() - start) * 1e3)
    return found


def main() -> None:
    """Prints the table."""
    server = Server()
    try:
        caller = Caller(server)
        rig = caller.json("GET", "/api/rigs")[0]["id"]
        trace = caller.upload("/api/traces", "ride.csv", csv_of(ride(1, 60)), rig=rig)["id"]
        program, checks = ((FOLDER / name).read_text() for name in ("reference.geduld", "checks.geduld"))
        asked = {"rig": rig, "trace": trace, "checks": checks, "reference": program}

        def moved(number: int) -> object:
            text = program.replace("near = 40 cm", f"near = {30 + number % 97 / 5} cm")
            answer = caller.json("POST", "/api/bench/run", {**asked, "text": text})
            assert len(answer["checks"]) == 5, answer
            return answer

        spread(moved, 40)  # every process has been asked
        table = [
            ("a threshold moved, five checks", spread(moved, 400)),
            ("who am I", spread(lambda number: caller.json("GET", "/api/me"), 400)),
        ]
    finally:
        server.stop()
    for word, times in table:
        late = statistics.quantiles(times, n=20)[-1]
        print(f"{word:<34}median {statistics.median(times):5.1f} ms, 95 % within {late:5.1f} ms")


if __name__ == "__main__":
    main()
