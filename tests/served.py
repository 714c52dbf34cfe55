"""A server as ./start starts it, on a port of its own."""

import atexit
import fcntl
import os
import re
import shutil
import sqlite3
import subprocess
import sys
import tempfile
import time
from functools import cache
from pathlib import Path

from tests.glasshouse import ROOT


@cache
def after_first_start(*options):
    """What is kept after a first start, when the class that is graded then is graded, and all that was handed in is
    looked at: the database takes its time.

    Processes that run tests beside each other share it: the first makes it, the others wait for it.
    """
    shared = os.environ.get("GEDULD_FIRST_STARTS")
    if not shared:
        shared = tempfile.mkdtemp(prefix="geduld-first-")
        atexit.register(shutil.rmtree, shared)
    folder = Path(shared, "-".join(["first", *options]))
    with Path(shared, "making").open("w") as making:
        fcntl.flock(making, fcntl.LOCK_EX)
        if not folder.exists():
            _first_start(folder.with_suffix(".begun"), options)
            folder.with_suffix(".begun").rename(folder)
    return folder


def _first_start(folder, options):
    folder.mkdir()
    server = Server(*options, folder=str(folder))
    shelf = sqlite3.connect(folder / "geduld.sqlite3")
    until = time.monotonic() + 120
    left = (
        "select (select count(*) from marks_job where state = 'running')"
        " + (select count(*) from classes_try where feedback is null)"
    )
    while shelf.execute(left).fetchone()[0]:
        assert time.monotonic() < until, "the class is not graded"
        time.sleep(0.1)
    shelf.close()
    server.stop()
    assert not Path(folder, "geduld.sqlite3-wal").exists(), "the server left its journal beside the database"


class Server:
    """`python -m server`, on a port of its own unless one is asked for.

    Its data are in `folder`, else as they are after a first start.
    """

    def __init__(self, *options, folder=None, port=0):
        self.own = tempfile.TemporaryDirectory(prefix="geduld-served-") if folder is None else None
        if folder is None:
            folder = self.own.name
            first = after_first_start(*(option for option in options if option == "--no-demo"))
            shutil.copytree(first, folder, dirs_exist_ok=True)
        environment = {key: value for key, value in os.environ.items() if not key.startswith("GEDULD_")}
        command = [sys.executable, "-m", "server", "--port", str(port), "--data", folder, *options]
        self.process = subprocess.Popen(
            command, cwd=ROOT, env=environment, text=True, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
        )
        said = ""
        while "/sign-in/" not in said:
            line = self.process.stdout.readline()
            if not line:
                raise RuntimeError("the server did not start")
            said += line
        self.link = line.strip()
        self.address = re.match(r"https?://[^/]+", self.link).group()
        self.port = int(re.search(r"https?://[^/\s]+:(\d+)", said).group(1))

    def stop(self):
        if self.process.poll() is None:
            self.process.terminate()
            # Told to stop at any moment, it ends by itself and leaves no journal beside the database.
            assert self.process.wait(20) == 0, f"the server ended with {self.process.returncode}"
        self.process.stdout.close()
        if self.own:
            self.own.cleanup()
