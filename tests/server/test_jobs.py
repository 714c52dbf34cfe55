"""Long work in the background: progress, stopping, and what a failure leaves."""

import threading
import time
import unittest
from unittest.mock import patch

from django.contrib.auth.models import User
from django.test import TransactionTestCase, override_settings

from geduld.errors import InputError
from server.config import jobs
from server.demo import load_demo
from server.exercises.models import Exercise
from server.marks.models import Result
from server.marks.services import exercise_hash, grade, proof, prove, sheet
from tests.glasshouse import DEMO


def wait_for(job):
    for _ in range(500):
        if job.state != jobs.RUNNING:
            return
        time.sleep(0.02)
    raise AssertionError("the job never ended")


class Jobs(unittest.TestCase):
    def test_one_job_a_key_with_its_progress_until_it_is_stopped(self):
        go, steps = threading.Event(), []

        def work(job):
            for step in range(100):
                job.progress(step, 100)
                steps.append(step)
                go.wait(10)

        first = jobs.start("one", work)
        self.assertIs(jobs.start("one", work), first, "it is running: nothing is started twice")
        self.assertEqual(jobs.status("one")["state"], "running")
        jobs.cancel("one")
        go.set()
        wait_for(first)
        self.assertEqual((first.state, first.of), ("cancelled", 100))
        self.assertLess(len(steps), 3, "it stops at its next step")
        again = jobs.start("one", lambda job: job.progress(1, 1))
        wait_for(again)
        self.assertEqual((again.state, again.done), ("done", 1))
        jobs.cancel("nothing of this name")
        self.assertIsNone(jobs.status("nothing of this name"))

    def test_a_failure_says_what_happened_and_keeps_the_inside_to_itself(self):
        def wrong(job):
            raise InputError("no-cluster", "No scheduler answers.", "Check the address.")

        def broken(job):
            raise ZeroDivisionError("/a/place/inside")

        for work, said in ((wrong, "No scheduler answers. Check the address."), (broken, "Geduld failed here.")):
            with self.subTest(said), self.assertLogs("server.config.jobs") if work is broken else self.subTest():
                job = jobs.start(said, work)
                wait_for(job)
                self.assertEqual((job.state, said in job.problem, "inside" in job.problem), ("failed", True, False))


class Grading(TransactionTestCase):
    def test_what_was_graded_before_it_was_stopped_stays_and_the_rest_comes_next(self):
        load_demo(DEMO, User.objects.create(username="t"))
        exercise = Exercise.objects.get(title="Dock at the barrel")

        def stopping(job):
            def progress(done, of):
                if done == 3:
                    jobs.cancel("grading")
                job.progress(done, of)

            grade(exercise, progress)

        job = jobs.start("grading", stopping)
        wait_for(job)
        self.assertEqual((job.state, job.done, job.of), ("cancelled", 3, 7))
        kept = set(Result.objects.values_list("hand_in", "graded"))
        self.assertEqual(len(kept), 3)
        job = jobs.start("grading", lambda job: grade(exercise, job.progress))
        wait_for(job)
        self.assertEqual((job.state, job.done, job.of), ("done", 4, 4))
        self.assertTrue(kept < set(Result.objects.values_list("hand_in", "graded")), "nothing was done twice")

    def test_a_sheet_that_says_done_is_whole(self):
        """The job may end while a sheet is read: then it must be asked for again."""
        load_demo(DEMO, User.objects.create(username="t"))
        exercise = Exercise.objects.get(title="Dock at the barrel")
        prove(exercise)
        for key, work, read in (("grade", grade, sheet), ("prove", prove, proof)):
            go, read_all = threading.Event(), threading.Event()

            def waiting(job, work=work, go=go):
                go.wait(10)
                work(exercise)

            job = jobs.start(f"{key} {exercise.pk}", waiting)

            def and_then_it_ends(*given, go=go, read_all=read_all, job=job):
                if not read_all.is_set():
                    read_all.set()
                    go.set()
                    wait_for(job)
                return exercise_hash(*given)

            with self.subTest(key), patch("server.marks.services.exercise_hash", and_then_it_ends):
                early = read(exercise)
                self.assertEqual((job.state, early["job"]["state"]), ("done", "running"))
                self.assertEqual(read(exercise)["job"]["state"], "done")

    @override_settings(GRADING_SCHEDULER="tcp://127.0.0.1:9")
    def test_a_cluster_that_does_not_answer_is_said(self):
        load_demo(DEMO, User.objects.create(username="t"))
        exercise = Exercise.objects.get(title="Dock at the barrel")
        job = jobs.start("grading", lambda job: grade(exercise, job.progress))
        wait_for(job)
        self.assertEqual((job.state, "tcp://127.0.0.1:9" in job.problem), ("failed", True))


if __name__ == "__main__":
    unittest.main()
