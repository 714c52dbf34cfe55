"""Ten robots that send 50 lines a second for a minute: how many arrive, and how long the page waits meanwhile.

Run from the project's folder: .venv/bin/python -m benchmarks.live [SECONDS]
"""

from __future__ import annotations

import http.cookiejar
import json
import os
import statistics
import sys
import threading
import time
import urllib.request
from typing import Any

from geduld.recordings.sketch import drawn_trace, sketch_from_json
from geduld.rig.reader import rig_from_json
from geduld.standin.lines import lines_of
from geduld.standin.sending import posted, send
from tests.core.test_traces import SKETCH
from tests.glasshouse import DEMO
from tests.served import Server

ROBOTS, RATE = 10, 50.0


class Teacher:
    """Somebody who is signed in."""

    def __init__(self, server: Server) -> None:
        self.address = server.address
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        page = self.opener.open(server.link).read().decode()
        token = page.split('name="csrfmiddlewaretoken" value="')[1].split('"')[0]
        body = f"csrfmiddlewaretoken={token}".encode()
        self.opener.open(urllib.request.Request(server.link, body, {"Referer": server.link}))
        self.ask("me")

    def ask(self, path: str, body: Any = None) -> Any:
        """What the server answers."""
        token = next((cookie.value or "" for cookie in self.jar if cookie.name == "csrftoken"), "")
        headers = {"X-CSRFToken": token, "Content-Type": "application/json", "Referer": self.address}
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"{self.address}/api/{path}", data, headers)
        return json.loads(self.opener.open(request).read())


def main() -> None:
    """Prints what was sent and what arrived."""
    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 60.0
    server = Server()
    try:
        teacher = Teacher(server)
        source = json.loads((DEMO / "rigs" / "glasshouse-cart.json").read_text())
        rig = rig_from_json(source)
        trace = drawn_trace(sketch_from_json(SKETCH | {"lasts": f"{seconds} s"}, rig))
        lines = list(lines_of(trace, rig, RATE, "json"))
        robots = [teacher.ask("rigs", {"source": source | {"name": f"cart {k}"}})["id"] for k in range(ROBOTS)]
        keys = [teacher.ask(f"rigs/{robot}/live/key", {})["key"] for robot in robots]

        def drive(key: str) -> None:
            send(lines, lambda batch, first: posted(f"{server.address}/api/live", key, batch, first), print)

        threads = [threading.Thread(target=drive, args=(key,)) for key in keys]
        before = os.times()
        start = time.monotonic()
        for thread in threads:
            thread.start()
        asked = []
        while any(thread.is_alive() for thread in threads):
            began = time.perf_counter()
            teacher.ask(f"rigs/{robots[0]}/live")
            asked.append(time.perf_counter() - began)
            time.sleep(0.2)
        took = time.monotonic() - start
        told = [teacher.ask(f"rigs/{robot}/live") for robot in robots]
        arrived, unread = sum(item["lines"] for item in told), sum(item["unread"] for item in told)
        used = os.times().user - before.user
        sent = ROBOTS * len(lines)
        print(f"{ROBOTS} robots, {RATE:g} lines a second, {took:.1f} s")
        print(f"{sent:,} lines sent, {arrived:,} arrived, {unread} not read")
        late = sorted(asked)[int(0.95 * len(asked))]
        middle = statistics.median(asked)
        print(f"the page asked {len(asked)} times: median {1000 * middle:.0f} ms, 95 % {1000 * late:.0f} ms")
        print(f"the senders used {used:.1f} s of processor")
    finally:
        server.stop()


if __name__ == "__main__":
    main()
