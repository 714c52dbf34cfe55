"""Work in processes of its own: what is too slow or dies costs itself alone, and nothing outlives its parent."""

import contextlib
import io
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from dataclasses import replace
from pathlib import Path
from unittest import mock

from geduld.cli.main import main
from geduld.grading import grade as grading
from geduld.grading.apart import NoTime, ProcessExpired, TookTooLong, outcomes
from geduld.grading.exercise import read_exercise
from geduld.grading.folders import read_hand_ins
from geduld.grading.grade import NOT_GRADED, HandIn, grade_all
from geduld.grading.kept import KeptMarks
from geduld.grading.resume import grade_with
from tests.glasshouse import DEMO, EXERCISE, ROOT

KEPT = []


def remember(number):
    KEPT[:] = [number]


def work(task):
    until = time.monotonic() + 60
    while task == "slow" and time.monotonic() < until:
        pass
    if task == "waits":
        time.sleep(60)
    if task == "greedy":
        try:
            bytearray(1 << 36)
        except MemoryError:
            return "refused"
    if task == "dies":
        os.kill(os.getpid(), signal.SIGKILL)
    return task, KEPT[0]


def alive(pid):
    """Whether a process still runs: one that has ended and was not waited for does not."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


def descendants(pid):
    found = []
    for path in Path("/proc").glob("[0-9]*/stat"):
        with contextlib.suppress(OSError):
            fields = path.read_text().rpartition(")")[2].split()
            if int(fields[1]) == pid:
                child = int(path.parent.name)
                found += [child, *descendants(child)]
    return found


class Apart(unittest.TestCase):
    def test_the_slow_and_the_dead_cost_themselves_alone(self):
        tasks = ["a", "slow", "b", "dies", "c"]
        found = list(outcomes(work, tasks, 2, 1.0, remember, (7,)))
        self.assertEqual([found[0], found[2], found[4]], [("a", 7), ("b", 7), ("c", 7)])
        self.assertIsInstance(found[1], TookTooLong)
        self.assertIsInstance(found[3], ProcessExpired)

    def test_time_is_the_processors_and_memory_is_bounded(self):
        """What only waits took no time of its own: it can be tried again. The machine's memory is never asked for whole."""
        found = list(outcomes(work, ["waits", "greedy", "a"], 2, 0.2, remember, (7,)))
        self.assertIsInstance(found[0], NoTime)
        self.assertEqual(found[1:], ["refused", ("a", 7)])

    def test_beside_other_threads_too_and_left_halfway(self):
        done = threading.Event()
        other = threading.Thread(target=done.wait)
        other.start()
        self.addCleanup(other.join)
        self.addCleanup(done.set)
        found = outcomes(work, ["a", "slow", "slow"], 2, 60, remember, (7,))
        self.assertEqual(next(found), ("a", 7))
        start = time.monotonic()
        found.close()
        self.assertLess(time.monotonic() - start, 20, "what goes on is stopped, not waited for")

    def test_no_process_outlives_the_one_that_started_it(self):
        code = (
            "import threading, sys\nfrom tests.core.test_apart import *\n"
            "if {beside}:\n    threading.Thread(target=time.sleep, args=(60,), daemon=True).start()\n"
            "found = outcomes(work, ['a', 'slow', 'slow'], 2, 60, remember, (7,))\nprint(next(found), flush=True)\ntime.sleep(60)\n"
        )
        for signal_number in (signal.SIGKILL, signal.SIGTERM):
            for beside in (False, True):
                with self.subTest(signal_number, beside=beside):
                    line = [sys.executable, "-c", code.format(beside=beside)]
                    process = subprocess.Popen(line, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)
                    self.addCleanup(process.stdout.close)
                    self.assertIn(b"7", process.stdout.readline())
                    children = descendants(process.pid)
                    self.assertGreaterEqual(len(children), 2)
                    process.send_signal(signal_number)
                    process.wait()
                    until = time.monotonic() + 20
                    while time.monotonic() < until and any(map(alive, children)):
                        time.sleep(0.1)
                    self.assertEqual([pid for pid in children if alive(pid)], [])


class OurFault(unittest.TestCase):
    """Where Geduld fails, no student loses a point."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.exercise = read_exercise(EXERCISE)
        self.ada = next(item for item in read_hand_ins(DEMO / "hand-ins") if item.name == "ada-lindqvist")

    def broken(self, name):
        """Grading breaks for one student."""
        run = grading._grade

        def fails(prepared, hand_in, numbers):
            if hand_in.name == name:
                raise TypeError("a fault of ours")
            return run(prepared, hand_in, numbers)

        return mock.patch.object(grading, "_grade", fails)

    def test_its_marks_say_so_are_not_kept_and_are_made_again(self):
        other = replace(self.ada, name="bela-okoro", data=self.ada.data + b"# too\n")
        kept = self.folder / "kept"
        with self.broken("bela-okoro"), self.assertLogs("geduld.grading.grade", "ERROR"):
            ada, bela = grade_with(KeptMarks(kept), self.exercise, [self.ada, other], workers=0)
        self.assertFalse(ada.failed)
        self.assertTrue(bela.failed and bela.problem.startswith("Geduld failed here"))
        self.assertEqual({mark.verdict for mark in bela.marks}, {NOT_GRADED})
        told = []
        again = grade_with(KeptMarks(kept), self.exercise, [self.ada, other], 0, "", lambda *at: told.append(at))
        self.assertEqual(told[-1], (1, 1), "only that one is worked out again")
        self.assertEqual([mark.verdict for mark in again[1].totals], [mark.verdict for mark in ada.totals])

    def test_what_time_or_memory_stopped_is_a_mark_with_its_reason(self):
        """The next time it would be stopped again."""
        slow = HandIn("slow", self.ada.data)
        for does, said in (
            (lambda *_: work("slow"), "stopped after 1 s"),
            (lambda *_: bytearray(1 << 40), "more memory"),
        ):
            with mock.patch.object(grading, "_grade", does), mock.patch.object(grading, "MOST_SECONDS", 1):
                (graded,) = grade_all(self.exercise, [slow], 1)
            self.assertTrue(not graded.failed and said in graded.problem, graded.problem)

    def test_the_command_line_tells_it(self):
        place, marks, results = self.folder / "in", self.folder / "marks.csv", self.folder / "results.csv"
        place.mkdir()
        (place / "bela-okoro.geduld").write_bytes(self.ada.data)
        line = ["grade", str(EXERCISE), str(place), "--marks", str(marks), "--results", str(results)]
        out = io.StringIO()
        with self.broken("bela-okoro"), contextlib.redirect_stdout(out), self.assertLogs("geduld.grading.grade"):
            self.assertEqual(main(line), 0)
        self.assertTrue(out.getvalue().startswith("not graded  bela-okoro  Geduld failed here"), out.getvalue())
        self.assertIn(",not graded,0,", marks.read_text())
        self.assertEqual(len(results.read_text().splitlines()), 1, "the register hears of it when it is graded")


if __name__ == "__main__":
    unittest.main()
