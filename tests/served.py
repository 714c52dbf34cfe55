"""A server as ./start starts it, on a port of its own."""

import os
import re
import subprocess
import sys
import tempfile

from tests.glasshouse import ROOT


class Server:
    """`python -m server` on a port of its own with a new folder for its data."""

    def __init__(self, *options, folder=None):
        self.own = tempfile.TemporaryDirectory(prefix="geduld-served-") if folder is None else None
        folder = folder or self.own.name
        environment = {key: value for key, value in os.environ.items() if not key.startswith("GEDULD_")}
        command = [sys.executable, "-m", "server", "--port", "0", "--data", folder, *options]
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
