"""Tests in a process of their own: python -m tests.beside FILE WITHOUT,... NAME ... writes into FILE how they went."""

import io
import json
import os
import subprocess
import sys
import tempfile
import threading
import unittest
from pathlib import Path


class Named:
    """A test of the other process, as a result names it."""

    def __init__(self, name):
        self.name = name

    def __str__(self):
        return self.name

    def shortDescription(self):  # noqa: N802
        return None


class Beside(unittest.TestCase):
    """Tests that run meanwhile: in its turn among the others it waits for them, and counts and tells what they told.

    Each group has a process and a database of its own, one group after the other: what one has started, such as the
    process that others are forked from, is not there for the next. Tests of the modules `without` are left out.
    """

    def __init__(self, groups, without):
        super().__init__("run")
        self.folder = tempfile.TemporaryDirectory(prefix="geduld-beside-")
        self.folders = [Path(self.folder.name, str(number)) for number in range(len(groups))]
        self.work = threading.Thread(target=self._work, args=(groups, without), daemon=True)
        self.work.start()

    def _work(self, groups, without):
        options = [f"-W{option}" for option in sys.warnoptions]
        for folder, names in zip(self.folders, groups, strict=True):
            folder.mkdir()
            asked = [str(folder / "result.json"), ",".join(without), *names]
            environment = {**os.environ, "GEDULD_DATA": str(folder)}
            subprocess.run([sys.executable, *options, "-m", "tests.beside", *asked], env=environment)

    def run(self, result=None):
        self.work.join()
        for folder in self.folders:
            self._tell(folder / "result.json", result)
        self.folder.cleanup()

    def _tell(self, file, result):
        if not file.exists():
            result.errors.append((Named("tests beside the others"), "they died before they could tell\n"))
            return
        found = json.loads(file.read_text())
        result.testsRun += found["run"]
        result.stream.write(found["dots"])
        result.stream.flush()
        for kind in ("failures", "errors"):
            getattr(result, kind).extend((Named(name), text) for name, text in found[kind])
        result.skipped.extend((Named(name), why) for name, why in found["skipped"])


def main():
    import django
    from django.test.runner import DiscoverRunner
    from django.test.utils import iter_test_cases

    file, without, *names = sys.argv[1:]
    django.setup()
    runner = DiscoverRunner(verbosity=0, interactive=False)
    runner.setup_test_environment()
    every = [list(iter_test_cases(runner.build_suite([name]))) for name in names]
    suite = unittest.TestSuite(
        test for tests in every for test in tests if type(test).__module__ not in without.split(",")
    )
    said = io.StringIO()
    databases = runner.setup_databases()
    result = unittest.TextTestRunner(said).run(suite)
    runner.teardown_databases(databases)
    found = {
        kind: [(str(test), text) for test, text in getattr(result, kind)] for kind in ("failures", "errors", "skipped")
    }
    found["errors"] += [(str(test), "unexpected success") for test in result.unexpectedSuccesses]
    found |= {"run": result.testsRun, "dots": said.getvalue().partition("\n")[0]}
    Path(file).write_text(json.dumps(found))


if __name__ == "__main__":
    main()
