"""The server as it stands in a school: its folder, its backups, its door, and who keeps it waiting."""

import json
import os
import resource
import shutil
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
import unittest
from datetime import datetime
from http.client import HTTPConnection
from pathlib import Path
from urllib.error import HTTPError
from urllib.parse import urlsplit
from urllib.request import build_opener

from server.serving.names import reached_as
from server.serving.nightly import missed
from tests.glasshouse import ROOT
from tests.served import Server, after_first_start
from tests.server.test_start import Caller


def command(*line, folder):
    done = subprocess.run(
        [sys.executable, "-m", "server", *line, "--data", folder], cwd=ROOT, capture_output=True, text=True, timeout=60
    )
    return done.returncode, done.stdout, done.stderr


class Folder(unittest.TestCase):
    def setUp(self):
        made = tempfile.TemporaryDirectory(prefix="geduld-folder-")
        self.addCleanup(made.cleanup)
        self.folder = made.name

    def started(self, *options):
        """The folder is as a first start leaves it."""
        shutil.copytree(after_first_start(*options), self.folder, dirs_exist_ok=True)

    def serve(self, *options):
        server = Server(*options, folder=self.folder)
        self.addCleanup(server.stop)
        return server

    def titles(self, server):
        return sorted(item["title"] for item in Caller(server).json("GET", "/api/behaviours"))

    def test_a_backup_is_made_while_it_runs_and_is_restored_whole(self):
        self.assertEqual(command("backup", "b.sqlite3", folder=self.folder)[0], 2)
        self.started("--no-demo")
        os.chmod(self.folder, 0o755)
        server = self.serve("--no-demo")
        caller = Caller(server)
        source = (ROOT / "demo" / "rigs" / "glasshouse-cart.json").read_bytes()
        rig = caller.json("POST", "/api/rigs", b'{"source": ' + source + b"}")["id"]
        caller.json("POST", "/api/behaviours", {"rig": rig, "title": "kept", "text": "x"})
        file = str(Path(self.folder, "backup.file"))
        code, said, _ = command("backup", file, folder=self.folder)
        self.assertEqual((code, "All that is kept is in" in said), (0, True))
        caller.json("POST", "/api/behaviours", {"rig": rig, "title": "later", "text": "y"})
        code, _, wrong = command("restore", file, folder=self.folder)
        self.assertEqual((code, "Geduld runs on it" in wrong, len(wrong.splitlines())), (2, True, 1))
        server.process.kill()  # its journal stays beside the database
        server.process.wait()
        code, said, wrong = command("restore", file, folder=self.folder)
        self.assertEqual((code, wrong), (0, ""))
        self.assertEqual(self.titles(self.serve("--no-demo")), ["kept"])
        aside = next(Path(self.folder).glob("geduld-before-*"))
        with sqlite3.connect(aside) as connection:
            found = connection.execute("SELECT title FROM shelf_behaviour ORDER BY title").fetchall()
        connection.close()
        self.assertEqual(found, [("kept",), ("later",)], "what was there before stays, journal and all")
        for name in ("", "geduld.sqlite3", "secret-key", "backup.file", aside.name):
            self.assertEqual(Path(self.folder, name).stat().st_mode & 0o077, 0, f"{name} is its owner's alone")

    def test_an_older_database_is_brought_up_to_date_as_a_copy_first(self):
        self.started("--no-demo")
        server = self.serve("--no-demo")
        source = (ROOT / "demo" / "rigs" / "glasshouse-cart.json").read_bytes()
        Caller(server).json("POST", "/api/rigs", b'{"source": ' + source + b"}")
        server.stop()
        environment = {**os.environ, "GEDULD_DATA": self.folder}
        back = [sys.executable, "-m", "server.manage", "migrate", "--verbosity", "0", "classes", "zero"]
        subprocess.run(back, cwd=ROOT, env=environment, check=True)
        database = Path(self.folder, "geduld.sqlite3")
        with sqlite3.connect(database) as connection:
            connection.execute("CREATE TABLE classes_student (odd)")
        connection.close()
        before = database.read_bytes()
        code, _, wrong = command("--port", "0", folder=self.folder)
        self.assertEqual((code, len(wrong.splitlines())), (2, 1), wrong)
        self.assertIn("could not be brought up to date", wrong)
        self.assertEqual(database.read_bytes(), before, "what cannot be upgraded is as it was")
        with sqlite3.connect(database) as connection:
            connection.execute("DROP TABLE classes_student")
        connection.close()
        caller = Caller(self.serve("--no-demo"))
        self.assertEqual((len(caller.json("GET", "/api/rigs")), caller.json("GET", "/api/classes")), (1, []))
        (aside,) = Path(self.folder).glob("geduld-before-*")
        with sqlite3.connect(aside) as connection:
            names = {name for (name,) in connection.execute("SELECT name FROM sqlite_master")}
        connection.close()
        self.assertEqual(("shelf_rig" in names, "classes_student" in names), (True, False))
        self.assertFalse(Path(self.folder, "upgrading").exists())

    def test_a_copy_every_night(self):
        at = datetime.fromisoformat
        for now, newest, due in (
            ("2026-11-27T12:00", None, True),
            ("2026-11-27T12:00", "2026-11-27T03:01", False),
            ("2026-11-27T12:00", "2026-11-27T02:59", True),  # it did not run at 3
            ("2026-11-27T02:59", "2026-11-26T03:01", False),
            ("2026-11-27T03:00", "2026-11-26T12:00", True),
        ):
            self.assertEqual(missed(at(now), newest and at(newest)), due, (now, newest))
        into = Path(self.folder, "nightly")
        into.mkdir()
        for day in range(1, 16):
            old = into / f"geduld-2025-01-{day:02}.sqlite3"
            old.touch()
            os.utime(old, (day, day))
        self.started("--no-demo")
        self.serve("--no-demo", "--nightly")
        until = time.monotonic() + 20
        while len(list(into.glob("geduld-*"))) != 14 and time.monotonic() < until:
            time.sleep(0.1)
        names = sorted(path.name for path in into.iterdir())
        self.assertEqual((len(names), names[0]), (14, "geduld-2025-01-03.sqlite3"))
        with sqlite3.connect(into / names[-1]) as connection:
            self.assertEqual(connection.execute("SELECT count(*) FROM auth_user").fetchone(), (1,))
        connection.close()

    def test_what_is_no_backup_changes_nothing(self):
        self.started("--no-demo")
        before = Path(self.folder, "geduld.sqlite3").read_bytes()
        text, other, broken = (Path(self.folder, name) for name in ("text", "other", "broken"))
        text.write_text("no database at all, but long enough to be one " * 40)
        with sqlite3.connect(other) as connection:
            connection.execute("CREATE TABLE t (a)")
        connection.close()
        broken.write_bytes(before[:3000] + b"x" * 3000 + before[6000:])
        for file in (text, other, broken, Path(self.folder, "nowhere")):
            code, _, wrong = command("restore", str(file), folder=self.folder)
            self.assertEqual((code, len(wrong.splitlines())), (2, 1), file.name)
        self.assertEqual(Path(self.folder, "geduld.sqlite3").read_bytes(), before)

    def test_what_cannot_start_says_so_in_one_line(self):
        self.started("--no-demo")
        for name, content, said in (
            ("secret-key", b"", "holds no key. Delete it"),
            ("secret-key", b"\xff\xfe" * 40, "cannot be read"),
            (
                "geduld.sqlite3",
                b"not a database, whatever its name is" * 40,
                "Restore a backup: python -m server restore",
            ),
        ):
            path = Path(self.folder, name)
            kept = path.read_bytes()
            path.write_bytes(content)
            with self.subTest(name, content=content[:9]):
                code, out, wrong = command("--port", "0", folder=self.folder)
                self.assertEqual((code, out, len(wrong.splitlines())), (2, "", 1), wrong)
                self.assertIn(said, wrong)
            path.write_bytes(kept)

    def test_deleted_traces_give_their_space_back(self):
        self.started()
        server = self.serve()
        caller = Caller(server)
        rig = caller.json("GET", "/api/rigs")[0]["id"]
        rows = b"".join(b"%.1f,%.3f\n" % (k / 10, k * 7919 % 100_000 / 1000) for k in range(200_000))
        made = caller.upload("/api/traces", "long.csv", b"time [s],knob [%]\n" + rows, rig=rig)
        database = Path(self.folder, "geduld.sqlite3")
        code, _, _ = command("backup", str(Path(self.folder, "b")), folder=self.folder)
        full = Path(self.folder, "b").stat().st_size
        caller.call("DELETE", f"/api/traces/{made['id']}")
        caller.call("DELETE", "/api/trash")
        server.stop()
        self.assertEqual(code, 0)
        self.assertLess(database.stat().st_size, full - 400_000)


class Bench(unittest.TestCase):
    def test_what_its_processes_keep_is_never_older_than_what_is_kept(self):
        """Rows, libraries, reference runs and checks: each process has them, and each sees what was changed since."""
        server = Server("--no-demo")
        self.addCleanup(server.stop)
        caller = Caller(server)
        source = json.loads((ROOT / "demo" / "rigs" / "glasshouse-cart.json").read_text())
        rig = caller.json("POST", "/api/rigs", {"source": source})["id"]
        rows = b"".join(b"%.1f,%d,%d\n" % (k / 10, k > 30, k) for k in range(100))
        trace = caller.upload("/api/traces", "a.csv", b"time [s],nose,knob [%]\n" + rows, rig=rig)["id"]
        moves = 'library "moves"\n\nto nudge:\n    drive at {} % for 1 s\n'
        library = caller.json("POST", "/api/behaviours", {"rig": rig, "title": "moves", "text": moves.format(20)})["id"]
        text = 'behaviour "A"\ninclude "moves"\n\nbegin:\n    nudge\n    wait until nose is pressed\n'
        asked = {"rig": rig, "trace": trace, "text": text, "reference": text,
                 "checks": 'check "A", 1 point:\n    left matches reference.left within 1 %\n'}  # fmt: skip

        def seen(**more):
            found = set()
            for _ in range(12):  # every process is asked
                answer = caller.json("POST", "/api/bench/run", {**asked, **more})
                run, reference = answer["run"], answer["behind"]
                left = [next(lane for lane in lanes if lane["part"] == "left") for lanes in (run["outputs"], reference)]
                found.add((*(max(lane["values"]) for lane in left), run["ended_at"], answer["checks"][0]["verdict"]))
            return found

        self.assertEqual(seen(), {(20, 20, 3.1, "pass")})
        caller.json("PATCH", f"/api/behaviours/{library}", {"text": moves.format(35)})
        self.assertEqual(seen(), {(35, 35, 3.1, "pass")})
        slower = text.replace("    nudge\n", "    drive at 10 % for 1 s\n")
        self.assertEqual(seen(text=slower), {(10, 35, 3.1, "fail")})
        caller.json("PATCH", f"/api/rigs/{rig}", {"source": {**source, "name": "other-cart"}})
        self.assertEqual(seen(), {(35, 35, 3.1, "pass")})
        caller.call("DELETE", f"/api/traces/{trace}")
        for _ in range(12):
            with self.assertRaises(HTTPError) as caught:
                caller.json("POST", "/api/bench/run", asked)
            self.assertEqual(caught.exception.code, 400)
            self.assertIn("trace", json.loads(caught.exception.read())["fields"])


class Door(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = Server("--no-demo")
        cls.addClassCleanup(cls.server.stop)

    def test_a_preview_of_the_link_uses_nothing_up_and_guesses_are_bounded(self):
        previews = build_opener()
        for _ in range(3):
            with previews.open(self.server.link) as page:
                self.assertNotIn("sessionid", page.headers.get("Set-Cookie", ""))
        caller = Caller(self.server)
        _, headers, _ = caller.call("GET", "/api/me")
        self.assertEqual(headers["Cache-Control"], "no-store")
        codes = []
        for k in range(40):
            with self.assertRaises(HTTPError) as caught:
                previews.open(f"{self.server.address}/sign-in/guess-{k}")
            codes.append(caught.exception.code)
            caught.exception.close()
        self.assertEqual((codes[0], codes[-1]), (410, 429))
        self.assertEqual(caller.json("GET", "/api/me")["name"], "Demonstration teacher", "who is in stays in")

    def test_hundreds_of_idle_connections_stop_nobody(self):
        address = urlsplit(self.server.address)
        soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
        resource.setrlimit(resource.RLIMIT_NOFILE, (min(4096, hard), hard))
        self.addCleanup(resource.setrlimit, resource.RLIMIT_NOFILE, (soft, hard))
        idle = []
        for k in range(400):
            connection = socket.create_connection((address.hostname, address.port))
            if k % 2:
                connection.sendall(b"GET /api/me HTTP/1.1\r\nHost: 127.0.0.1\r\n")  # and nothing more
            idle.append(connection)
            self.addCleanup(connection.close)
        start = time.monotonic()
        for _ in range(5):
            connection = HTTPConnection(address.hostname, address.port, timeout=10)
            connection.request("GET", "/")
            self.assertEqual(connection.getresponse().status, 200)
            connection.close()
        self.assertLess(time.monotonic() - start, 10)

    def test_head_has_no_body_so_that_the_next_answer_is_read_right(self):
        address = urlsplit(self.server.address)
        connection = HTTPConnection(address.hostname, address.port, timeout=10)
        self.addCleanup(connection.close)
        for path in ("/", "/api/me", "/api/rigs", "/nowhere", "/sign-in/x"):
            connection.request("HEAD", path)
            self.assertEqual(connection.getresponse().read(), b"")
            connection.request("GET", "/")
            answer = connection.getresponse()
            self.assertEqual((answer.status, b"<html" in answer.read()), (200, True), path)

    def test_hosts_are_named_and_the_link_can_be_opened(self):
        self.assertEqual(reached_as("127.0.0.1", [])[0], "127.0.0.1")
        self.assertEqual(reached_as("0.0.0.0", ["geduld.school.example"])[0], "geduld.school.example")
        everywhere = reached_as("0.0.0.0", [])
        self.assertNotIn("*", everywhere)
        self.assertNotIn("0.0.0.0", everywhere)
        server = Server("--no-demo", "--host", "0.0.0.0")
        self.addCleanup(server.stop)
        self.assertNotIn("0.0.0.0", server.link)
        Caller(server)  # the printed link opens
        port = urlsplit(server.address).port
        for host, status in (("127.0.0.1", 200), ("evil.example", 400)):
            connection = HTTPConnection("127.0.0.1", port, timeout=10)
            self.addCleanup(connection.close)
            connection.request("GET", "/", headers={"Host": host})
            self.assertEqual(connection.getresponse().status, status)

    def test_behind_tls_everything_is_for_tls(self):
        server = Server("--no-demo", "--behind-tls", "--name", "geduld.school.example")
        self.addCleanup(server.stop)
        self.assertTrue(server.link.startswith("https://geduld.school.example/sign-in/"))
        connection = HTTPConnection("127.0.0.1", server.port, timeout=10)
        self.addCleanup(connection.close)
        forwarded = {"Host": "geduld.school.example", "X-Forwarded-Proto": "https"}
        connection.request("GET", urlsplit(server.link).path, headers=forwarded)
        answer = connection.getresponse()
        self.assertIn(b"Sign in", answer.read())
        self.assertIn("Secure", answer.headers["Set-Cookie"])
        self.assertIn("max-age=31536000", answer.headers["Strict-Transport-Security"])


if __name__ == "__main__":
    unittest.main()
