"""Runs all tests: python -m tests [NAME ...]. The database and the secret key live in a folder of their own.

When all are run, most of those that need no browser run in a process beside the others.
"""

import os
import sys
import tempfile
from unittest import TestSuite

BESIDE = [["tests.core", "tests.scenarios"], ["tests.server"]]
# It measures how long somebody waits for an answer: nothing may run beside it.
ALONE = "tests.server.test_fairness"
# They start servers and wait for them, as the browser's do: the two halves take about the same time so.
WITH_SERVERS = ["tests.server.test_serving", "tests.server.test_start"]
OTHERS = ["tests.browser", "tests.rules", *WITH_SERVERS, ALONE]


def main() -> int:
    with tempfile.TemporaryDirectory(prefix="geduld-tests-") as folder:
        os.environ["GEDULD_DATA"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "server.config.settings"
        import django
        from django.test.runner import DiscoverRunner
        from django.test.utils import iter_test_cases

        from tests.beside import Beside

        class Runner(DiscoverRunner):
            """All tests: some beside the others, and some alone at the end."""

            def build_suite(self, labels, **options):
                every = list(iter_test_cases(super().build_suite(labels, **options)))
                alone = [test for test in every if type(test).__module__ == ALONE]
                return TestSuite(
                    [*(test for test in every if test not in alone), Beside(BESIDE, [*WITH_SERVERS, ALONE]), *alone]
                )

        django.setup()
        chosen = sys.argv[1:]
        runner = DiscoverRunner if chosen else Runner
        return 1 if runner(verbosity=1, interactive=False).run_tests(chosen or OTHERS) else 0


if __name__ == "__main__":
    sys.exit(main())
