"""A class that hands in, a full database, and a server that is killed: `python -m benchmarks.school`.

Prints how long answers took, what was lost or doubled, and the bench beside all that as a ratio to the bench alone.
With `--kills N` (default 20) it says how often the server is killed.
"""

from __future__ import annotations

import argparse
import json
import random
import signal
import statistics
import tempfile
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from http.client import HTTPException
from typing import Any
from urllib.request import Request, urlopen

from tests.glasshouse import DEMO
from tests.served import Server
from tests.server.test_start import Caller

TEXTS = [path.read_text() for path in sorted((DEMO / "gentle-class").glob("*.geduld"))]
STUDENTS, WITHIN_S, MANY = 30, 10.0, 1_000


class Room:
    """A class, its students' codes, and the exercise that it hands in."""

    def __init__(self, caller: Caller, name: str, count: int) -> None:
        self.address = caller.address
        exercises = caller.json("GET", "/api/exercises")
        self.exercise = next(item["id"] for item in exercises if item["title"] == "Dock gently")
        names = "\n".join(f"Student {name} {number:04}" for number in range(count))
        self.id = caller.json("POST", "/api/classes", {"name": name, "names": names})["id"]
        self.students = [item["code"] for item in caller.json("GET", f"/api/classes/{self.id}/students")]
        opened = {"exercise": self.exercise, "school_class": self.id}
        self.assignment = caller.json("POST", "/api/assignments", opened)
        if caller.json("GET", f"/api/exercises/{self.exercise}")["due"]:
            caller.json("PATCH", f"/api/exercises/{self.exercise}", {"due": None})

    def desk(self, student: str) -> dict[str, Any]:
        """What a student sees."""
        return self._ask("/api/desk", student, None)

    def hand_in(self, student: str, text: str, key: str) -> dict[str, Any]:
        """Hands in, and gives the receipt."""
        return self._ask("/api/desk/tries", student, {"text": text, "file": "", "key": key})["receipt"]

    def _ask(self, path: str, student: str, value: dict[str, Any] | None) -> dict[str, Any]:
        codes = {"X-Geduld-Exercise": self.assignment["code"], "X-Geduld-Student": student}
        body = None if value is None else json.dumps(value).encode()
        request = Request(f"{self.address}{path}", body, {"Content-Type": "application/json", **codes})
        with urlopen(request) as response:
            return json.load(response)


def main() -> None:
    """Prints the tables."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kills", type=int, default=20)
    kills = parser.parse_args().kills
    server = Server()
    try:
        caller = Caller(server)
        _rush(caller)
        _full(caller)
    finally:
        server.stop()
    _killed(kills)


def _rush(caller: Caller) -> None:
    """30 students within 10 s, while a class is graded and the teacher is at the bench."""
    room = Room(caller, "rush", STUDENTS)
    other = _largest(caller)
    bench = _bench(caller)
    room.hand_in(room.students[0], TEXTS[0], "warm")
    _times(bench, 20)
    alone = _times(bench, 60)
    took: list[float] = []
    problems: list[Exception] = []

    def student(number: int) -> None:
        time.sleep(number * WITHIN_S / STUDENTS)
        start = time.perf_counter()
        try:
            room.hand_in(room.students[number], TEXTS[number % len(TEXTS)], f"rush {number}")
        except Exception as problem:
            problems.append(problem)
        took.append(time.perf_counter() - start)

    threads = [threading.Thread(target=student, args=(number,)) for number in range(STUDENTS)]
    for thread in threads:
        thread.start()
    beside: list[float] = []
    grades, checks = 0, caller.json("GET", f"/api/exercises/{other}")["checks"]
    while any(thread.is_alive() for thread in threads):
        if not _goes_on(caller, other):
            # another text of its checks makes every mark stale, so that the whole class is graded again
            caller.json("PATCH", f"/api/exercises/{other}", {"checks": f"{checks}\n# {grades}\n"})
            caller.call("POST", f"/api/exercises/{other}/grade", {})
            grades += 1
        beside += _times(bench, 1)
        time.sleep(0.1)
    lost = sum(not any(item["looked_at"] for item in room.desk(code)["tries"]) for code in room.students)
    print(f"{STUDENTS} students in {WITHIN_S:.0f} s while a class is graded: {_row(took)}, most {max(took):.2f} s")
    print(f"  the class was graded {grades} times meanwhile")
    print(f"  refused or failed {len(problems)}, lost {lost}")
    print(f"bench alone:          {_row(alone)}")
    print(
        f"bench meanwhile:      {_row(beside)}; the median is {_middle(beside) / _middle(alone):.1f} times that alone"
    )


def _full(caller: Caller) -> None:
    """1,000 students: the class list, who has handed in, and the mark sheet."""
    rooms = [Room(caller, f"full {number}", 200) for number in range(MANY // 200)]
    pages = {
        "classes": "/api/classes",
        "class list of 200": f"/api/classes/{rooms[0].id}/students",
        "who has handed in": f"/api/assignments/{rooms[0].assignment['id']}/standings",
        "mark sheet": f"/api/exercises/{rooms[0].exercise}/sheet",
    }
    for word, path in pages.items():
        found = _times(lambda path=path: caller.call("GET", path), 9)
        print(f"{word + f', {MANY:,} students:':<36}{_row(found)}")


def _killed(kills: int) -> None:
    """The server is killed while a class hands in and is graded; each receipt is looked for after the next start."""
    seeded = random.Random(7)
    given: list[tuple[str, dict[str, Any]]] = []
    with tempfile.TemporaryDirectory(prefix="geduld-killed-") as folder:
        server = Server(folder=folder)
        caller = Caller(server)
        room = Room(caller, "killed", STUDENTS)
        exercise = room.exercise
        missing = 0
        for number in range(kills + 1):
            room.address = server.address
            missing += sum(not _has(room, student, receipt) for student, receipt in given)
            if number == kills:
                break
            for graded in (exercise, _largest(caller)):
                caller.call("POST", f"/api/exercises/{graded}/grade", {})
            threads = [
                threading.Thread(target=_tries, args=(room, students, f"kill {number}", given))
                for students in _groups(seeded.sample(room.students, len(room.students)), 6)
            ]
            for thread in threads:
                thread.start()
            time.sleep(seeded.uniform(0.1, 4.0))
            server.process.send_signal(signal.SIGKILL)
            server.process.wait()
            server.process.stdout.close()
            for thread in threads:
                thread.join()
            server = Server(folder=folder)
            caller = Caller(server)
        desks = [room.desk(student)["tries"] for student in room.students]
        doubled = sum(len({item["number"] for item in tries}) != len(tries) for tries in desks)
        kept = sum(len(tries) for tries in desks)
        rows = caller.json("GET", f"/api/exercises/{exercise}/sheet")["rows"]
        names = [row["student"] for row in rows]
        doubled += len(names) - len(set(names))
        server.stop()
    print(f"killed {kills} times: {len(given)} receipts given, {kept} tries kept, missing {missing}, doubled {doubled}")


def _goes_on(caller: Caller, exercise: int) -> bool:
    job = caller.json("GET", f"/api/exercises/{exercise}/sheet")["job"]
    return job is not None and job["state"] == "running"


def _largest(caller: Caller) -> int:
    """The exercise with the largest class."""
    exercises = caller.json("GET", "/api/exercises")
    number: int = max(exercises, key=lambda item: (item["hand_in_count"], item["id"]))["id"]
    return number


def _has(room: Room, student: str, receipt: dict[str, Any]) -> bool:
    same = [item for item in room.desk(student)["tries"] if item["fingerprint"] == receipt["fingerprint"]]
    return len(same) == 1 and same[0]["number"] == receipt["number"]


def _groups(students: list[str], count: int) -> list[list[str]]:
    return [students[start::count] for start in range(count)]


def _tries(room: Room, students: list[str], key: str, given: list[tuple[str, dict[str, Any]]]) -> None:
    """Hands in for one after the other, until the server is killed: what was not answered has no receipt."""
    with suppress(OSError, ValueError, HTTPException):
        for student in students:
            given.append((student, room.hand_in(student, TEXTS[room.students.index(student) % len(TEXTS)], key)))


def _bench(caller: Caller) -> Callable[[], object]:
    behaviour = caller.json("GET", "/api/behaviours")[0]
    trace = next(item for item in caller.json("GET", "/api/traces") if item["rig"] == behaviour["rig"])
    text = caller.json("GET", f"/api/behaviours/{behaviour['id']}")["text"]
    asked = {"rig": behaviour["rig"], "text": text, "trace": trace["id"]}
    return lambda: caller.json("POST", "/api/bench/run", asked)


def _times(work: Callable[[], object], count: int) -> list[float]:
    found = []
    for _ in range(count):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return found


def _middle(times: list[float]) -> float:
    return statistics.median(times)


def _row(times: list[float]) -> str:
    late = statistics.quantiles(times, n=20)[-1]
    return f"{len(times):4} times, median {_middle(times) * 1e3:6.0f} ms, 95 % within {late * 1e3:6.0f} ms"


if __name__ == "__main__":
    main()
