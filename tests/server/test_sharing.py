"""Exercises that go from teacher to teacher: as a zip, as a copy, by a link that only looks."""

import io
import json
import zipfile
from unittest import mock

from django.conf import settings
from django.test import Client

from geduld.grading.parcel import zipped as zips
from geduld.grading.parcel.zipped import zipped
from server.accounts.teachers import make_teacher
from server.exercises.models import Exercise
from server.marks.services import sheet_csv
from server.recordings.models import Note
from server.sharing.gathering import pieces_of
from server.sharing.looking import wrong
from server.sharing.models import LookLink
from server.shelf.models import Behaviour, Floor, Rig, Trace
from tests.server.test_server import ServerTest


class Parcels(ServerTest):
    def setUp(self):
        super().setUp()
        self.other = Client()
        self.other.force_login(self.stranger)

    def zip_of(self, exercise, hand_ins=False):
        response = self.client.get(f"/api/exercises/{exercise.pk}/parcel" + ("?hand_ins=true" if hand_ins else ""))
        self.assertEqual((response.status_code, response["Content-Type"]), (200, "application/zip"), response.content)
        return response.content

    def bring(self, data, status=201, client=None):
        file = io.BytesIO(data)
        file.name = "parcel.zip"
        response = (client or self.other).post("/api/parcels", {"file": file})
        return self.answered("post", "parcels", response, status)

    def test_every_exercise_comes_to_a_colleague_equal_and_is_graded_equal(self):
        Note.objects.create(trace_id=self.trace["id"], at_us=1_250_000, text="the knob is turned")
        for exercise in Exercise.objects.filter(owner=self.teacher):
            with self.subTest(exercise.title):
                came = self.bring(self.zip_of(exercise, hand_ins=True))
                self.assertEqual(came["unused"], [])
                self.assertEqual(pieces_of(came["exercise"], True), pieces_of(exercise.pk, True))
                if exercise.title in ("Dock at the barrel", "Come when called"):
                    for client, key in ((self.client, exercise.pk), (self.other, came["exercise"])):
                        self.assertEqual(client.post(f"/api/exercises/{key}/grade").status_code, 200)
                    theirs = Exercise.objects.get(pk=came["exercise"])
                    self.assertEqual(sheet_csv(theirs), sheet_csv(exercise))
        counts = [kind.objects.filter(owner=self.stranger).count() for kind in (Rig, Trace, Floor)]
        self.assertEqual(counts, [3, 3, 4], "what is the same is there once")

    def test_what_is_there_already_is_used_again(self):
        exercise = Exercise.objects.get(title="Come when called")
        self.assertNotIn("hand-ins.csv", zipfile.ZipFile(io.BytesIO(self.zip_of(exercise))).namelist())
        back = self.bring(self.zip_of(exercise), client=self.client)
        self.assertEqual(back["made"], [])
        self.assertEqual(
            set(back["used"]),
            {"rig glasshouse-cart", "floor North aisle", "rig door-handset", "behaviour Call the cart"},
        )
        self.assertEqual(pieces_of(back["exercise"]), pieces_of(exercise.pk))
        # another library of the same name: a rig of its own, so that nothing that is there is graded otherwise
        moves = Behaviour.objects.get(owner=self.teacher, title="garden moves")
        data = self.zip_of(exercise)
        moves.text += "\n# mine is longer\n"
        moves.save()
        again = self.bring(data, client=self.client)
        self.assertIn("rig glasshouse-cart", again["made"])
        self.assertNotIn("mine is longer", "".join(pieces_of(again["exercise"]).libraries))
        self.assertIn("mine is longer", "".join(pieces_of(exercise.pk).libraries))

    def test_a_copy_stands_beside_and_is_changed_alone(self):
        key = self.exercise["id"]
        copy = self.send("post", f"exercises/{key}/copy", None, 201)
        self.assertEqual((copy["title"], copy["made"]), ("Dock at the barrel, copy", []))
        self.send("patch", f"exercises/{copy['exercise']}", {"brief": "other"})
        self.assertNotEqual(self.get(f"exercises/{key}")["brief"], "other")
        self.assertEqual(self.get(f"exercises/{copy['exercise']}/hand-ins"), [])

    def test_one_that_cannot_be_graded_says_why(self):
        key = self.exercise["id"]
        self.send("patch", f"exercises/{key}", {"reference": "begin:\n    fly\n"})
        problem = self.get(f"exercises/{key}/parcel", 422)
        self.assertIn("hints", problem)

    def test_hostile_parcels_keep_nothing(self):
        whole = zipfile.ZipFile(io.BytesIO(self.zip_of(Exercise.objects.get(title="Dock gently"))))
        good = {name: whole.read(name) for name in whole.namelist()}
        source = json.loads(good["exercise.json"])

        def with_source(**changed):
            return zipped({**good, "exercise.json": json.dumps({**source, **changed}).encode()})

        case = source["cases"][0]
        for what, data, status, code in (
            ("no zip", b"PK nothing", 422, "zip-damaged"),
            ("empty", b"", 400, "bad-request"),
            ("a step up", zipped({**good, "../../x.json": b"{}"}), 422, "zip-name"),
            ("a script", zipped({**good, "x.sh": b"rm"}), 422, "zip-kind"),
            ("a bomb", zipped({**good, "x.csv": b"0" * 3_000_000}), 422, "zip-too-large"),
            ("outside", with_source(rig="../../secret-key"), 422, "exercise-value"),
            ("a long title", with_source(title="t" * 101), 422, "parcel-value"),
            ("a long case", with_source(cases=[{**case, "name": "c" * 101}]), 422, "parcel-value"),
            ("errors", zipped({**good, "checks.geduld": b"check"}), 422, "checks-has-errors"),
            ("a large text", zipped({**good, "reference.geduld": b"#" * 2_000_000}), 422, "text-too-large"),
            ("bad bytes", zipped({**good, "checks.geduld": b"\xff\xfe"}), 422, "not-utf8"),
            ("a bad rig", zipped({**good, "rig.json": b"[" * 100_000}), 422, None),
        ):
            with self.subTest(what), mock.patch.object(zips, "MOST_UNPACKED_BYTES", 2_500_000):
                problem = self.bring(data, status)
                self.assertEqual(problem["code"], code or problem["code"], problem)
                for kind in (Exercise, Rig, Floor, Trace):
                    self.assertFalse(kind.objects.filter(owner=self.stranger).exists())
                self.assertEqual(list(settings.DATA.glob("tmp*")), [])


class LookLinks(ServerTest):
    def setUp(self):
        super().setUp()
        wrong.forget()
        self.addCleanup(wrong.forget)

    def link(self, **asked):
        made = self.send("post", f"exercises/{self.exercise['id']}/look-links", asked, 201)
        return made, {"X-Geduld-Look": made["path"].partition("#")[2]}

    def look(self, path, headers, status=200):
        response = Client().get(f"/api/{path}", headers=headers)
        return self.answered("get", path.split("?")[0], response, status)

    def test_a_colleague_looks_and_changes_nothing(self):
        made, headers = self.link(note="for Rika")
        seen = self.look("look", headers)
        self.assertEqual((seen["title"], seen["marks"], len(seen["cases"])), ("Dock at the barrel", False, 3))
        self.assertEqual(seen["cases"][0], {"name": "dry day", "place": "Dry day"})
        self.assertIn("check", seen["checks"])
        run = self.look("look/run?case=dry day", headers)
        self.assertEqual({check["verdict"] for check in run["checks"]}, {"pass"})
        self.assertEqual(run["picture"]["case"], "dry day")
        self.look("look/run?case=no", headers, 404)
        self.look("look/sheet", headers, 404)
        self.assertIn(b"exercise.json", Client().get("/api/look/parcel", headers=headers).content)
        self.assertIsNotNone(LookLink.objects.get(pk=made["id"]).seen)
        # kept as a hash, and told once
        told = self.get(f"exercises/{self.exercise['id']}/look-links")
        self.assertEqual([set(item) for item in told], [{"id", "note", "marks", "made", "seen"}])
        self.assertFalse(LookLink.objects.filter(token_hash=headers["X-Geduld-Look"]).exists())
        self.send("delete", f"exercises/{self.exercise['id']}/look-links/{made['id']}", None, 204)
        self.look("look", headers, 404)

    def test_the_marks_are_seen_only_where_the_link_says_so(self):
        _, headers = self.link(marks=True)
        sheet = self.look("look/sheet", headers)
        self.assertEqual(len(sheet["rows"]), 7)

    def test_a_copy_needs_an_account(self):
        _, headers = self.link()
        client = Client()
        self.assertEqual(client.post("/api/look/copy", headers=headers).status_code, 403)
        rika = make_teacher("Rika Sol", "Elderflower-and-9-snails")
        client.force_login(rika)
        response = client.post("/api/look/copy", headers=headers)
        came = self.answered("post", "look/copy", response, 201)
        self.assertEqual(pieces_of(came["exercise"]), pieces_of(self.exercise["id"]))
        self.assertEqual(Exercise.objects.get(pk=came["exercise"]).owner, rika)
        self.assertEqual(client.post("/api/look/copy").status_code, 404)

    def test_who_guesses_waits(self):
        for _ in range(30):
            self.look("look", {"X-Geduld-Look": "x"}, 404)
        self.look("look", {"X-Geduld-Look": "x"}, 429)
