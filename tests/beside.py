"""Classes of tests in processes beside each other, told in one result as if they had run one after another here."""

import io
import os
import tempfile
import threading
import unittest
from collections import deque
from concurrent.futures import Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import suppress
from functools import cache
from multiprocessing import get_context
from pathlib import Path

KINDS = ("failures", "errors", "skipped")


class Named:
    """A test of another process, as a result names it."""

    def __init__(self, name):
        self.name = name

    def __str__(self):
        return self.name

    def shortDescription(self):  # noqa: N802
        return None


class Elsewhere(unittest.TestCase):
    """A class of tests that runs in another process: in its turn it is waited for, counted and told."""

    def __init__(self, name):
        super().__init__("run")
        self.name = name
        self.told = Future()

    def run(self, result=None):
        found = self.told.result()
        result.testsRun += found["run"]
        result.stream.write(found["dots"])
        result.stream.flush()
        for kind in KINDS:
            getattr(result, kind).extend((Named(name), text) for name, text in found[kind])


def beside(classes, lines):
    """Runs classes of tests, named by the package in which they stand, in as many lines as there are at a time.

    A line runs what is left of its packages, one package after the other, each in a process and with a database of its
    own: what one has started, such as the process that others are forked from, is not there for the next. Gives what to
    put into a suite.
    """
    tests = {package: [Elsewhere(name) for name in names] for package, names in classes.items()}
    left = {package: deque(waiting) for package, waiting in tests.items()}
    for packages in lines:
        threading.Thread(target=_line, args=([left[package] for package in packages],), daemon=True).start()
    return [test for waiting in tests.values() for test in waiting]


def _line(queues):
    for queue in queues:
        while queue:
            with (
                tempfile.TemporaryDirectory(prefix="geduld-beside-") as folder,
                ProcessPoolExecutor(1, get_context("spawn"), _begin, (folder, dict(os.environ))) as process,
            ):
                _emptied(queue, process)


def _emptied(queue, process):
    """Runs what is left, until a process dies of it."""
    with suppress(IndexError):
        while True:
            test = queue.popleft()
            told = process.submit(_run, test.name)
            problem = told.exception()
            if problem is None:
                test.told.set_result(told.result())
                continue
            died = f"The process could not tell how it went: {problem!r}\n"
            test.told.set_result({"run": 1, "dots": "E", "failures": [], "errors": [(test.name, died)], "skipped": []})
            if isinstance(problem, BrokenProcessPool):
                return


def _begin(folder, environment):
    """In the process: data of its own."""
    os.environ.update(environment, GEDULD_DATA=str(Path(folder)))
    import django

    django.setup()
    _runner().setup_test_environment()


@cache
def _runner():
    from django.test.runner import DiscoverRunner

    return DiscoverRunner(verbosity=0, interactive=False)


@cache
def _with_database():
    _runner().setup_databases()


def _run(name):
    """In the process: the tests of a class, and how they went."""
    said = io.StringIO()
    suite = _runner().build_suite([name])
    if _runner().get_databases(suite):
        _with_database()  # made for the first class that needs it: it takes seconds
    result = unittest.TextTestRunner(said).run(suite)
    found = {kind: [(str(test), text) for test, text in getattr(result, kind)] for kind in KINDS}
    found["errors"] += [(str(test), "unexpected success") for test in result.unexpectedSuccesses]
    return {**found, "run": result.testsRun, "dots": said.getvalue().partition("\n")[0]}
