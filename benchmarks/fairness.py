"""How long one teacher waits at the bench while another asks for hostile runs: `python -m benchmarks.fairness`.

Prints the waits alone and beside twenty hostile runs at once, as times and as a ratio within this run.
"""

from __future__ import annotations

import statistics
import threading
import time
from urllib.error import HTTPError

from tests.glasshouse import program
from tests.served import Server
from tests.server.test_fairness import HOSTILE, second_teacher
from tests.server.test_start import Caller


def main() -> None:
    """Prints the table."""
    server = Server()
    try:
        first = Caller(server)
        second = Caller(server, f"{server.address}/sign-in/{second_teacher(server.own.name)}")
        source = first.json("GET", "/api/rigs")[0]
        theirs = second.json("POST", "/api/rigs", {"source": source["source"]})["id"]
        calm = {"rig": theirs, "text": program("drive at 40 % for 1 s")}
        floor = first.json("GET", "/api/floors")[0]["id"]
        trace = first.json("GET", "/api/traces")[0]["id"]
        worlds = ({"trace": trace}, {"floor": floor, "limit": 600})
        texts = list(HOSTILE.values())
        hostile = [{"rig": source["id"], "text": texts[k % len(texts)], **worlds[k % 2]} for k in range(20)]
        _waits(second, calm, 20)  # the processes are warm
        alone = _waits(second, calm, 200)
        threads = [threading.Thread(target=_ask, args=(first, asked)) for asked in hostile]
        start = time.perf_counter()
        for thread in threads:
            thread.start()
        beside: list[float] = []
        while any(thread.is_alive() for thread in threads) or len(beside) < 50:
            beside += _waits(second, calm, 1)
        lasted = time.perf_counter() - start
    finally:
        server.stop()
    for word, waits in (("alone", alone), ("beside 20 hostile runs", beside)):
        middle, late = statistics.median(waits), statistics.quantiles(waits, n=20)[-1]
        print(f"{word:<26}{len(waits):5} runs, median {middle * 1e3:6.1f} ms, 95 % within {late * 1e3:7.1f} ms")
    ratio = statistics.quantiles(beside, n=20)[-1] / statistics.quantiles(alone, n=20)[-1]
    print(f"the 95th percentile is {ratio:.1f} times that alone; the hostile runs were over after {lasted:.1f} s")


def _waits(caller: Caller, asked: dict[str, object], count: int) -> list[float]:
    found = []
    for _ in range(count):
        start = time.perf_counter()
        caller.json("POST", "/api/bench/run", asked)
        found.append(time.perf_counter() - start)
    return found


def _ask(caller: Caller, asked: dict[str, object]) -> None:
    try:
        caller.json("POST", "/api/bench/run", asked)
    except HTTPError as problem:
        problem.close()


if __name__ == "__main__":
    main()
