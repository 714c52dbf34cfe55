"""A disk that is full, a database that is busy, damaged, gone or too new, and answers that are never a page of HTML."""

import errno
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase, mock

from django.db import OperationalError

from server.config import space
from server.serving.folder import looked_at
from server.serving.trouble import Trouble
from server.shelf.models import Behaviour
from tests.glasshouse import ROOT, program
from tests.served import after_first_start
from tests.server.test_server import ServerTest


class Disk(ServerTest):
    def test_a_full_disk_is_said_and_nothing_is_called_safe_that_is_not(self):
        values = {"title": "more", "text": program("wait 1 s"), "rig": self.rig["id"]}
        # a database that is really full ends the transaction that all of this test stands in
        for problem in (OperationalError("database or disk is full"), OSError(errno.ENOSPC, "No space left on device")):
            with mock.patch.object(Behaviour, "save", side_effect=problem):
                answer = self.client.post("/api/behaviours", values, content_type="application/json")
            told = self.answered("post", "behaviours", answer, 507)
            self.assertEqual(told["code"], "disk-full")
            self.assertIn("was not saved", told["title"])
            self.assertFalse(Behaviour.objects.filter(title="more").exists())

    def test_what_is_deleted_on_a_full_disk_goes_with_what_was_spared(self):
        with tempfile.TemporaryDirectory() as folder, self.settings(DATA=Path(folder)):
            self.assertTrue(space.spare())
            tried = []

            def work():
                tried.append((Path(folder) / "spare-room").exists())
                if len(tried) == 1:
                    raise OperationalError("database or disk is full")
                return "gone"

            self.assertEqual(space.with_room(work), "gone")
            self.assertEqual((tried, (Path(folder) / "spare-room").exists()), ([True, False], True))
            with self.assertRaises(OperationalError):
                space.with_room(mock.Mock(side_effect=OperationalError("no such table")))

    def test_a_busy_database_is_tried_again_and_a_damaged_one_is_named(self):
        for said, status, code in (
            ("database is locked", 503, "busy"),
            ("database disk image is malformed", 500, "damaged"),
        ):
            broken = mock.patch("server.shelf.tidying.empty", side_effect=OperationalError(said))
            with broken:
                answer = self.client.delete("/api/trash")
            self.assertEqual((answer.status_code, answer.json()["code"]), (status, code))
            self.assertEqual(answer.get("Retry-After"), "2" if code == "busy" else None)

    def test_no_answer_of_the_interface_is_a_page(self):
        edge = "multipart/form-data; boundary=x"
        for method, path, data, kind, status in (
            ("GET", "/api/nothing/of/the/kind", b"", "", 404),
            ("POST", "/api/traces", b"--x\r\nContent-Dis", edge, 400),
            ("POST", "/api/traces", b"--y", "multipart/form-data", 400),
            ("POST", "/api/rigs", b"{", "application/json", 400),
        ):
            answer = self.client.generic(method, path, data, kind)
            self.assertEqual((answer.status_code, answer["Content-Type"]), (status, "application/problem+json"), path)


class Kept(TestCase):
    def folder(self):
        folder = Path(tempfile.mkdtemp()) / "data"
        self.addCleanup(shutil.rmtree, folder.parent)
        shutil.copytree(after_first_start(), folder)
        return folder, folder / "geduld.sqlite3"

    def said(self, folder):
        command = [sys.executable, "-m", "server", "--port", "0", "--data", str(folder)]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, timeout=60)
        self.assertEqual((done.returncode, len(done.stderr.splitlines())), (2, 1), done.stderr)
        return done.stderr

    def test_a_database_of_a_newer_version_is_left_alone(self):
        folder, database = self.folder()
        with sqlite3.connect(database) as shelf:
            shelf.execute(
                "insert into django_migrations (app, name, applied) values ('shelf', '0999_later', '2030-01-01')"
            )
        shelf.close()
        self.assertIn("newer Geduld", self.said(folder))

    def test_damaged_pages_and_an_empty_file_are_found_at_the_start(self):
        folder, database = self.folder()
        whole = database.read_bytes()
        middle = len(whole) // 2 // 4096 * 4096
        database.write_bytes(whole[:middle] + b"\xa5" * 65_536 + whole[middle + 65_536 :])
        self.assertIn("is broken", self.said(folder))
        database.write_bytes(b"")
        looked_at(database)  # nothing else is there: a first start that was broken off
        (folder / "nightly").mkdir()
        (folder / "nightly" / "geduld-2026-11-30.sqlite3").write_bytes(whole)
        self.assertIn("Restore a backup", self.said(folder))
        database.unlink()
        with self.assertRaises(Trouble):
            looked_at(database)
