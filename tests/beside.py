"""Tests in a process of their own: python -m tests.beside FILE NAME ... writes into FILE how they went."""

import contextlib
import io
import json
import subprocess
import sys
import tempfile
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
    """Tests that run meanwhile: in its turn among the others it waits for them, and counts and tells what they told."""

    def __init__(self, names):
        super().__init__("run")
        self.folder = tempfile.TemporaryDirectory(prefix="geduld-beside-")
        self.file = Path(self.folder.name, "result.json")
        options = [f"-W{option}" for option in sys.warnoptions]
        self.process = subprocess.Popen([sys.executable, *options, "-m", "tests.beside", str(self.file), *names])

    def run(self, result=None):
        self.process.wait()
        with contextlib.suppress(FileNotFoundError):
            found = json.loads(self.file.read_text())
            result.testsRun += found["run"]
            result.stream.write(found["dots"])
            result.stream.flush()
            for kind in ("failures", "errors"):
                getattr(result, kind).extend((Named(name), text) for name, text in found[kind])
            result.skipped.extend((Named(name), why) for name, why in found["skipped"])
        if not self.file.exists():
            result.errors.append(
                (Named("tests beside the others"), f"they died: exit code {self.process.returncode}\n")
            )
        self.folder.cleanup()


def main():
    file, *names = sys.argv[1:]
    said = io.StringIO()
    loader = unittest.TestLoader()
    suite = unittest.TestSuite(loader.discover(name.replace(".", "/"), top_level_dir=".") for name in names)
    result = unittest.TextTestRunner(said).run(suite)
    found = {
        kind: [(str(test), text) for test, text in getattr(result, kind)] for kind in ("failures", "errors", "skipped")
    }
    found["errors"] += [(str(test), "unexpected success") for test in result.unexpectedSuccesses]
    found |= {"run": result.testsRun, "dots": said.getvalue().partition("\n")[0]}
    Path(file).write_text(json.dumps(found))


if __name__ == "__main__":
    main()
