"""Long work in the background: progress, stopping, taking over, and what a failure or a killed server leaves."""

import json
import os
import threading
import time
from dataclasses import replace
from unittest.mock import patch

from django.contrib.auth.models import User
from django.test import TransactionTestCase, override_settings

from geduld.errors import InputError
from geduld.grading import grade as grading
from server.config import apart
from server.config.problems import Told
from server.demo import load_demo
from server.exercises.models import Exercise, HandIn
from server.marks import jobs, services
from server.marks.models import Job, Mark, Result
from server.marks.services import grade, proof, prove, sheet
from server.shelf import bench
from server.shelf.models import Rig, Trace
from tests.glasshouse import DEMO, program


class JobTest(TransactionTestCase):
    """Work is done in the threads of this process, so that it can be looked into; the database is a real one."""

    def setUp(self):
        self.enterContext(override_settings(WORK_INLINE=True))
        load_demo(DEMO, User.objects.create(username="t"))
        self.exercise = Exercise.objects.get(title="Dock at the barrel")
        self.key = self.exercise.pk
        self.addCleanup(self.wait)

    def wait(self, kind="grade"):
        for _ in range(1500):
            if (kind, self.key) not in jobs._going:
                return Job.objects.filter(kind=kind).first()
            time.sleep(0.02)
        raise AssertionError("the job never ended")

    def waiting(self, go, and_then=lambda key, going: None, steps=None):
        def work(key, going):
            for step in range(100):
                going.progress(step, 100)
                if steps is not None:
                    steps.append(step)
                go.wait(10)
                if and_then(key, going):
                    return

        return work


class Jobs(JobTest):
    def test_a_newer_request_takes_over_and_stopping_stops(self):
        go, steps = threading.Event(), []
        jobs.start("grade", self.key, self.waiting(go, steps=steps))
        jobs.start("grade", self.key, self.waiting(go, steps=steps))
        self.assertEqual(jobs.status("grade", self.key)["state"], "running")
        jobs.cancel("grade", self.key)
        go.set()
        job = self.wait()
        self.assertEqual(job.state, "cancelled")
        self.assertLess(len(steps), 4, "it stops at its next step")
        go, begun = threading.Event(), []
        jobs.start("grade", self.key, self.waiting(go, lambda *at: begun.append(1) or len(begun) > 1))
        time.sleep(0.1)
        jobs.start("grade", self.key, grade)
        go.set()
        self.assertEqual((self.wait().state, len(begun)), ("done", 2), "it stopped where it was and began again")
        jobs.cancel("prove", self.key)
        self.assertIsNone(jobs.status("prove", self.key))

    def test_a_teachers_jobs_wait_for_each_other(self):
        other = Exercise.objects.get(title="Dock gently").pk
        go, seen = threading.Event(), []
        jobs.start("grade", self.key, self.waiting(go, lambda key, going: seen.append("first") or True))
        jobs.start("prove", other, self.waiting(go, lambda key, going: seen.append("second") or True))
        time.sleep(0.3)
        self.assertEqual(Job.objects.get(kind="prove").of, 0, "it has not begun")
        go.set()
        self.wait()
        for _ in range(500):
            if ("prove", other) not in jobs._going:
                break
            time.sleep(0.02)
        self.assertEqual((seen, Job.objects.get(kind="prove").state), (["first", "second"], "done"))

    def test_a_failure_says_what_happened_and_keeps_the_inside_to_itself(self):
        def wrong(key, going):
            raise InputError("no-cluster", "No scheduler answers.", "Check the address.")

        def broken(key, going):
            raise ZeroDivisionError("/a/place/inside")

        for work, said in ((wrong, "No scheduler answers. Check the address."), (broken, "Geduld failed here.")):
            with self.subTest(said), self.assertLogs("server.marks.jobs") if work is broken else self.subTest():
                jobs.start("grade", self.key, work)
                job = self.wait()
                self.assertEqual((job.state, said in job.problem, "inside" in job.problem), ("failed", True, False))

    def test_what_was_going_on_when_it_was_killed_is_taken_up_again(self):
        Job.objects.create(exercise=self.exercise, kind="grade", state=Job.RUNNING, done=3, of=7)
        self.assertEqual(jobs.take_up(services.KINDS), 1)
        job = self.wait()
        self.assertEqual((job.state, job.done, job.resumed), ("done", 7, True))
        self.assertEqual((jobs.take_up(services.KINDS), Result.objects.count()), (0, 7))


class Grading(JobTest):
    def test_what_was_graded_before_it_was_stopped_stays_and_the_rest_comes_next(self):
        def stopping(key, going):
            progress = going.progress

            def told(done, of):
                if done == 3:
                    jobs.cancel("grade", key)
                progress(done, of)

            going.progress = told
            grade(key, going)

        jobs.start("grade", self.key, stopping)
        self.assertEqual(self.wait().state, "cancelled")
        kept = set(Result.objects.values_list("hand_in", "graded"))
        self.assertEqual(len(kept), 3)
        jobs.start("grade", self.key, grade)
        job = self.wait()
        self.assertEqual((job.state, job.done, job.of), ("done", 4, 4))
        self.assertTrue(kept < set(Result.objects.values_list("hand_in", "graded")), "nothing was done twice")

    def test_what_changes_while_a_class_is_graded_is_graded_too(self):
        """A hand-in that is deleted, one that comes, and another check: at the end the sheet is whole, nothing stale."""
        seen = []

        def changing(*given):
            seen.append(given)
            if len(seen) == 2:
                HandIn.objects.filter(exercise=self.key, student="femi-castellan").delete()
                data = HandIn.objects.get(exercise=self.key, student="ada-lindqvist").data
                HandIn.objects.create(exercise=self.exercise, student="new", data=data, received="2026-01-01T00:00Z")
                Exercise.objects.filter(pk=self.key).update(checks=self.exercise.checks.replace("150 ms", "140 ms"))
            return save(*given)

        save = services.keep_result
        with patch.object(services, "keep_result", changing):
            jobs.start("grade", self.key, grade)
            job = self.wait()
        self.assertEqual(job.state, "done", job.problem)
        rows = sheet(Exercise.objects.select_related("rig").get(pk=self.key))["rows"]
        self.assertEqual(len(rows), 7)
        self.assertEqual([row["student"] for row in rows if row["stale"] or not row["graded"]], [])

    def test_our_own_fault_is_no_mark_and_is_graded_again(self):
        jobs.start("grade", self.key, grade)
        self.wait()
        before = Mark.objects.filter(result__hand_in__student="ada-lindqvist").count()
        for row in HandIn.objects.filter(exercise=self.key, student__in=("ada-lindqvist", "bela-okoro")):
            row.data = bytes(row.data) + b"# again\n"
            row.save()
        new = HandIn.objects.create(exercise=self.exercise, student="new", data=row.data, received="2026-01-01T00:00Z")
        grade_one = grading.grade_one

        def failing(prepared, hand_in, only=None):
            graded = grade_one(prepared, hand_in, only)
            return (
                graded if hand_in.name == "bela-okoro" else replace(graded, failed=True, problem="Geduld failed here.")
            )

        with patch.object(grading, "grade_one", failing):
            jobs.start("grade", self.key, grade)
            self.assertEqual(self.wait().state, "done")
        rows = {row["student"]: row for row in sheet(self.exercise)["rows"]}
        self.assertEqual((rows["new"]["graded"], rows["new"]["failure"]), (False, "Geduld failed here."))
        self.assertEqual((rows["new"]["marks"], new.pk), ([], rows["new"]["hand_in"]))
        ada = rows["ada-lindqvist"]
        self.assertEqual((ada["stale"], ada["failure"], len(ada["marks"])), (True, "Geduld failed here.", before))
        self.assertNotIn("new,", services.roster_csv(self.exercise) + services.sheet_csv(self.exercise))
        jobs.start("grade", self.key, grade)
        self.assertEqual(self.wait().done, 2, "those two, and no other")
        rows = sheet(self.exercise)["rows"]
        self.assertEqual([row["student"] for row in rows if row["stale"] or row["failure"] or not row["graded"]], [])

    def test_a_sheet_that_says_done_is_whole(self):
        """The job may end while a sheet is read: then it must be asked for again."""
        jobs.start("prove", self.key, prove)
        self.wait("prove")
        for kind, work, read in (("grade", grade, sheet), ("prove", prove, proof)):
            go, read_all = threading.Event(), threading.Event()

            def waiting(key, going, work=work, go=go):
                go.wait(10)
                work(key, going)

            jobs.start(kind, self.key, waiting)

            def and_then_it_ends(*given, go=go, read_all=read_all, kind=kind):
                if threading.current_thread() is threading.main_thread() and not read_all.is_set():
                    read_all.set()
                    go.set()
                    self.wait(kind)
                return services.exercise_hash.real(*given)

            and_then_it_ends.real = services.exercise_hash
            with self.subTest(kind), patch("server.marks.services.exercise_hash", and_then_it_ends):
                early = read(self.exercise)
                self.assertEqual((Job.objects.get(kind=kind).state, early["job"]["state"]), ("done", "running"))
                self.assertEqual(read(self.exercise)["job"]["state"], "done")

    @override_settings(GRADING_SCHEDULER="tcp://127.0.0.1:9")
    def test_a_cluster_that_does_not_answer_is_said(self):
        jobs.start("grade", self.key, grade)
        job = self.wait()
        self.assertEqual((job.state, "tcp://127.0.0.1:9" in job.problem), ("failed", True))


class Apart(JobTest):
    """As in a server: the work is done in other processes, which read this test's database."""

    def setUp(self):
        super().setUp()
        self.enterContext(override_settings(WORK_INLINE=False))
        self.addCleanup(apart.stop_all)

    def test_a_class_is_graded_proofread_and_stopped(self):
        jobs.start("grade", self.key, grade)
        job = self.wait()
        self.assertEqual((job.state, job.done, job.problem), ("done", 7, ""))
        rows = sheet(self.exercise)["rows"]
        self.assertFalse(any(row["stale"] for row in rows))
        jobs.start("prove", self.key, prove)
        time.sleep(0.5)
        jobs.cancel("prove", self.key)
        self.assertIn(self.wait("prove").state, ("cancelled", "done"))
        jobs.start("prove", self.key, prove)
        self.assertEqual(self.wait("prove").state, "done")
        self.assertAlmostEqual(proof(self.exercise)["found"]["score"], 21 / 27, places=3)
        Exercise.objects.filter(pk=self.key).update(checks="check")
        jobs.start("grade", self.key, grade)
        job = self.wait()
        self.assertEqual((job.state, job.problem[:7]), ("failed", "Line 1:"))

    def test_a_run_that_takes_too_long_is_stopped_and_says_so(self):
        teacher = User.objects.get()
        self.client.force_login(teacher)
        rig, trace = Rig.objects.get(name="glasshouse-cart"), Trace.objects.get(name="Dry day")
        text = program("left at 40 % for 1 s\nrepeat:\n    wait 1 us")
        asked = json.dumps({"rig": rig.pk, "trace": trace.pk, "text": text})

        def ask():
            answer = self.client.post("/api/bench/run", asked, content_type="application/json")
            self.assertEqual(answer.status_code, 200, answer.content)
            return answer.json()

        with patch.object(bench, "MOST_SECONDS", 60):
            whole = ask()
        self.assertEqual((whole["run"]["why"], whole["world_problem"]), ("steps", None))
        with patch.object(bench, "MOST_SECONDS", 0.8):
            stopped = ask()
        self.assertIsNone(stopped["run"])
        self.assertIn("it took more than 5 s", stopped["world_problem"]["message"])
        self.assertEqual([hint["code"] for hint in stopped["hints"]], ["one-side"], "what needs no run is said")

    def test_the_newest_run_counts_and_the_others_wait_their_turn(self):
        """Of runs of the bench the last one asked for is answered; other work of a teacher comes one after another."""
        answers = []

        def newest(text, seconds):
            try:
                answers.append(apart.newest(7, slept, text, seconds, limit_s=20))
            except apart.Replaced:
                answers.append("replaced")

        threads = [threading.Thread(target=newest, args=(f"{k}", 30 if k < 5 else 0)) for k in range(6)]
        for thread in threads:
            thread.start()
            time.sleep(0.05)
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(answers), ["5", *["replaced"] * 5])
        began, lock = [], threading.Lock()

        def in_turn(text):
            found = apart.in_turn(7, slept, text, 0.3, limit_s=20)
            with lock:
                began.append((time.monotonic(), found))

        threads = [threading.Thread(target=in_turn, args=(f"{k}",)) for k in range(3)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        times = sorted(at for at, _ in began)
        self.assertGreater(min(times[1] - times[0], times[2] - times[1]), 0.25)
        with self.assertRaises(apart.TooLong):
            apart.in_turn(7, slept, "x", 30, limit_s=0.2)
        with self.assertRaises(Told) as caught, self.assertLogs("server.config.apart"):
            apart.in_turn(7, dies, limit_s=20)
        self.assertEqual(caught.exception.body["code"], "our-fault")


def slept(text, seconds):
    time.sleep(seconds)
    return text


def dies():
    os._exit(3)
