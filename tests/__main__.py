"""Runs all tests: python -m tests [NAME ...]. The database and the secret key live in a folder of their own."""

import os
import sys
import tempfile


def main() -> int:
    with tempfile.TemporaryDirectory(prefix="geduld-tests-") as folder:
        os.environ["GEDULD_DATA"] = folder
        os.environ["DJANGO_SETTINGS_MODULE"] = "server.config.settings"
        import django
        from django.test.runner import DiscoverRunner

        django.setup()
        return 1 if DiscoverRunner(verbosity=1, interactive=False).run_tests(sys.argv[1:] or ["tests"]) else 0


if __name__ == "__main__":
    sys.exit(main())
