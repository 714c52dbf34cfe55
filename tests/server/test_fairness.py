"""Nobody's program holds up another teacher: the real server, attacked by one teacher while another works."""

import contextlib
import os
import random
import signal
import subprocess
import sys
import threading
import time
import unittest
from pathlib import Path
from urllib.error import HTTPError

from tests.core.test_apart import alive, descendants
from tests.glasshouse import ROOT, program
from tests.served import Server
from tests.server.test_start import Caller

LANES = "side by side:\n" + "".join(f"    lane a{k}:\n        repeat:\n            set n{k} to 1\n" for k in range(64))
HOSTILE = {
    "waits of a microsecond": program("repeat:\n    wait 1 us"),
    "sixty-four lanes": program(LANES),
    "steps without end": program("repeat:\n    left at 10 %\n    wait 1 us\n    right at knob"),
    "a text full of steps": program(
        "left at 3 % for 1 us\nwait until nose is pressed or clock > 1 s, patience 1 us\n" * 1200
    ),
}
_SECOND = (
    "import django; django.setup()\nfrom django.contrib.auth.models import User\nfrom server.accounts.links import make_token\n"
    "print(make_token(User.objects.create(username='second')))"
)


def second_teacher(folder):
    """A link that signs another teacher in."""
    environment = {**os.environ, "GEDULD_DATA": folder, "DJANGO_SETTINGS_MODULE": "server.config.settings"}
    line = [sys.executable, "-c", _SECOND]
    made = subprocess.run(line, cwd=ROOT, env=environment, check=True, capture_output=True, text=True)
    return made.stdout.strip()


def spins():
    """Takes a processor's time, and goes on in a `finally`."""
    try:
        while True:
            pass
    finally:
        while True:
            pass


class ProcessorTime(unittest.TestCase):
    def test_only_the_processors_time_counts(self):
        from server.config.apart import _OVER, _within

        self.assertEqual(_within(0.2, spins, ()), _OVER)
        self.assertEqual(_within(0.2, lambda: time.sleep(0.5) or 5, ()), 5, "who waits uses nothing up")


class Fairness(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = Server()
        cls.addClassCleanup(cls.server.stop)
        cls.first = Caller(cls.server)
        link = f"{cls.server.address}/sign-in/{second_teacher(cls.server.own.name)}"
        cls.second = Caller(cls.server, link)
        source = cls.first.json("GET", "/api/rigs")[0]["source"]
        cls.theirs = cls.second.json("POST", "/api/rigs", {"source": source})["id"]

    def ask(self, caller, value, answers):
        start = time.monotonic()
        try:
            answers.append((caller.json("POST", "/api/bench/run", value), time.monotonic() - start))
        except HTTPError as problem:
            answers.append((problem.code, time.monotonic() - start))
            problem.close()

    def test_twenty_hostile_runs_hold_nobody_up(self):
        rig = self.first.json("GET", "/api/rigs")[0]["id"]
        floor = next(f for f in self.first.json("GET", "/api/floors") if f["name"] == "North aisle")["id"]
        trace = next(t for t in self.first.json("GET", "/api/traces") if t["name"] == "Dry day")["id"]
        calm = {"rig": self.theirs, "text": program("drive at 40 % for 1 s"), "floor": None}
        self.second.json("POST", "/api/bench/run", calm)  # the processes are there
        worlds = [{"trace": trace}, {"floor": floor, "limit": 600}]
        answers, threads = [], []
        for k in range(20):
            text = list(HOSTILE.values())[k % len(HOSTILE)]
            asked = {"rig": rig, "text": text, **worlds[k % 2]}
            threads.append(threading.Thread(target=self.ask, args=(self.first, asked, answers)))
        for thread in threads:
            thread.start()
        waits = []
        while any(thread.is_alive() for thread in threads) or len(waits) < 20:
            start = time.monotonic()
            self.second.json("GET", "/api/me")
            self.assertEqual(self.second.json("POST", "/api/bench/run", calm)["hints"], [])
            waits.append(time.monotonic() - start)
        for thread in threads:
            thread.join()
        self.assertEqual(len(answers), 20)
        for answer, took in answers:
            self.assertTrue(answer == 409 or isinstance(answer, dict), answer)
            self.assertLess(took, 20)
        self.assertTrue(any(isinstance(answer, dict) for answer, _ in answers), "the newest one is answered")
        self.assertLess(sorted(waits)[int(len(waits) * 0.95)], 1.0, waits)

    def test_processes_that_die_are_replaced_at_once(self):
        """One by one, and all of them: at rest or at work, every question is answered."""
        calm = {"rig": self.theirs, "text": program("drive at 40 % for 1 s"), "floor": None}
        self.second.json("POST", "/api/bench/run", calm)
        chance = random.Random(17)
        for number in range(50 if os.environ.get("GEDULD_SEARCH") else 6):
            there = descendants(self.server.process.pid)
            answers = []
            asking = [threading.Thread(target=self.ask, args=(self.second, calm, answers)) for _ in range(number % 3)]
            for thread in asking:
                thread.start()
            for pid in there if number % 2 else [chance.choice(there)]:
                with contextlib.suppress(ProcessLookupError):
                    os.kill(pid, signal.SIGKILL)
            self.ask(self.second, calm, answers)
            for thread in asking:
                thread.join()
            self.assertTrue(all(answer == 409 or isinstance(answer, dict) for answer, _ in answers), (number, answers))
            self.assertIsInstance(answers[-1][0], dict, number)

    def test_a_killed_server_leaves_no_process(self):
        server = Server()
        caller = Caller(server)
        rig = caller.json("GET", "/api/rigs")[0]["id"]
        caller.json("POST", "/api/bench/run", {"rig": rig, "text": program("wait 1 s")})
        exercise = next(e for e in caller.json("GET", "/api/exercises") if e["title"] == "Round the herb bed")
        caller.json("POST", f"/api/exercises/{exercise['id']}/grade", {})
        time.sleep(0.5)
        children = descendants(server.process.pid)
        self.assertGreaterEqual(len(children), 3)
        server.process.kill()
        server.process.wait()
        until = time.monotonic() + 20
        while time.monotonic() < until and any(map(alive, children)):
            time.sleep(0.1)
        self.assertEqual([Path(f"/proc/{pid}/cmdline").read_text() for pid in children if alive(pid)], [])
        again = Server(folder=server.own.name)
        self.addCleanup(server.own.cleanup)
        self.addCleanup(server.process.stdout.close)
        self.addCleanup(again.stop)
        caller = Caller(again)
        until = time.monotonic() + 60
        while time.monotonic() < until:
            sheet = caller.json("GET", f"/api/exercises/{exercise['id']}/sheet")
            if sheet["job"]["state"] != "running":
                break
            time.sleep(0.2)
        self.assertEqual((sheet["job"]["state"], sheet["job"]["resumed"]), ("done", True))
        self.assertTrue(all(row["graded"] and not row["stale"] for row in sheet["rows"]))


if __name__ == "__main__":
    unittest.main()
