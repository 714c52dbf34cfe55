"""Runs all tests: python -m tests [NAME ...]. The database and the secret key live in a folder of their own.

When all are run, they run in processes beside each other; those that are named run here, one after another.
"""

import os
import sys
import tempfile
from unittest import TestSuite

BROWSER, SERVER, CORE = "tests.browser", "tests.server", "tests.core"
# Whoever drives a browser waits for it half of the time, so there is work for one line more than processors.
LINES = [[BROWSER, CORE], [BROWSER, CORE], [SERVER, CORE]]
# It measures how long somebody waits for an answer: nothing may run beside it.
ALONE = "tests.server.test_fairness"


def main() -> int:
    with tempfile.TemporaryDirectory(prefix="geduld-tests-") as folder:
        os.environ["GEDULD_DATA"] = folder
        os.environ["GEDULD_FIRST_STARTS"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "server.config.settings"
        import django
        from django.test.runner import DiscoverRunner
        from django.test.utils import iter_test_cases

        from tests.beside import beside

        class Runner(DiscoverRunner):
            """All tests: beside each other, and some alone at the end."""

            def build_suite(self, labels, **options):
                every = list(iter_test_cases(super().build_suite(labels, **options)))
                alone = [test for test in every if type(test).__module__ == ALONE]
                names = dict.fromkeys(_named(type(test)) for test in every if test not in alone)
                classes = {BROWSER: [], SERVER: [], CORE: []}
                for name in names:
                    classes[next((package for package in classes if name.startswith(package)), CORE)].append(name)
                return TestSuite([*beside(classes, LINES), *alone])

        django.setup()
        chosen = sys.argv[1:]
        runner = DiscoverRunner if chosen else Runner
        return 1 if runner(verbosity=1, interactive=False).run_tests(chosen or ["tests"]) else 0


def _named(case: type) -> str:
    return f"{case.__module__}.{case.__qualname__}"


if __name__ == "__main__":
    sys.exit(main())
