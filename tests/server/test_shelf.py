"""The shelf: searched, sorted, tagged, put away; and the trash, out of which everything comes back as it was."""

import unittest
from datetime import timedelta

from django.db import connection
from django.db.models import BinaryField
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st

from server.classes.models import Assignment, Student
from server.exercises.models import Exercise
from server.sharing.gathering import pieces_of
from server.sharing.looking import new_link, wrong
from server.shelf.finding import plain
from server.shelf.models import Behaviour, Floor, Rig, Trace, Wordbook
from server.shelf.trash import KEPT_FOR, empty_old, kinds
from tests.server.test_server import ServerTest

LISTS = ("exercises/rows", "rigs", "traces", "recordings", "floors", "inputs", "behaviours", "exercises", "wordbooks")


class Plain(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(st.text(max_size=12), st.text(max_size=12))
    def test_what_is_searched_is_found_where_it_stands(self, one, other):
        self.assertEqual(plain(one + other), plain(one + other).lower())
        self.assertIn(plain(one), plain(f"{one} {other}"))
        self.assertEqual(plain(plain(one)), plain(one))


class Finding(ServerTest):
    def names(self, path):
        return [item.get("title") or item.get("name") for item in self.get(path)]

    def test_words_tags_order_and_what_is_put_away(self):
        rig = Rig.objects.get(pk=self.rig["id"])
        for name in ("Gärten im Süden", "GARTENWEG", "Ånd", "zwei", "Äpfel"):
            Trace.objects.create(owner=self.teacher, rig=rig, name=name, channels=[], samples=1, duration_us=1)
        self.assertEqual(set(self.names("traces?search=garten")), {"Gärten im Süden", "GARTENWEG"})
        self.assertEqual(self.names("traces?search=SÜD gärt"), ["Gärten im Süden"])
        self.assertEqual(self.names("traces?search=%25"), [], "a sign of the database's own is a letter like others")
        self.assertEqual(self.names("behaviours?search=HAND turns start"), ["Dock at the barrel"])
        by_name = self.names("traces?sort=name")
        self.assertEqual(by_name, sorted(by_name, key=plain))
        self.assertLess(by_name.index("Ånd"), by_name.index("Cloudy morning"))
        key = self.trace["id"]
        told = self.send("patch", f"shelf/traces/{key}", {"tags": [" 7b ", "spring  term", "7b"], "archived": True})
        self.assertEqual(told, {"archived": True, "tags": ["7b", "spring term"]})
        self.assertEqual(self.names("traces?tag=7b"), ["Dry day"])
        self.assertEqual(self.names("traces?tag=7"), [])
        self.assertEqual(self.names("traces?search=spring"), ["Dry day"])
        self.assertEqual(self.names("traces?archived=yes"), ["Dry day"])
        self.assertNotIn("Dry day", self.names("traces?archived=no"))
        self.assertIn("Dry day", self.names("traces"))
        before = self.names("traces")
        self.send("post", f"shelf/traces/{key}/used", None, 204)
        self.assertEqual(self.names("traces"), before, "to look at a thing is no change of it")
        self.assertEqual(self.names("traces?sort=used")[0], "Dry day")
        shelf = self.get("shelf")
        self.assertEqual(shelf["tags"], [{"tag": "7b", "count": 1}, {"tag": "spring term", "count": 1}])
        self.assertEqual(shelf["lately"], [], "what is put away is not what one works at")
        self.send("patch", f"shelf/traces/{key}", {"archived": False})
        self.assertEqual([item["name"] for item in self.get("shelf")["lately"]], ["Dry day"])
        for bad in ({"tags": ["x" * 41]}, {"tags": ["x"] * 13}, {"tags": "7b"}, {"archived": "perhaps"}):
            self.send("patch", f"shelf/traces/{key}", bad, 400)
        self.send("patch", "shelf/lamps/1", {}, 404)

    def test_anything_is_found_by_its_name(self):
        def found(words):
            return [(item["kind"], item["name"], item["of"]) for item in self.get(f"find?search={words}")]

        self.assertEqual(found(""), [])
        self.assertEqual(found("gentl dock")[:2], [("behaviours", "Dock gently", ""), ("exercises", "Dock gently", "")])
        self.assertIn(("hand-ins", "ada-lindqvist", "Dock at the barrel"), found("ADA"))
        self.assertEqual(found("knob 62"), [], "in names alone, not in texts")
        names = [name for _, name, _ in found("dry")]
        self.assertEqual(names, sorted(names, key=lambda name: not name.lower().startswith("dry")))
        self.client.delete(f"/api/exercises/{self.exercise['id']}")
        self.assertNotIn("Dock at the barrel", [of for _, _, of in found("ada")])
        self.client.force_login(self.stranger)
        self.assertEqual(found("dock"), [])

    def test_no_list_asks_for_each_row(self):
        def asked(path):
            with CaptureQueriesContext(
                connection,
            ) as found:
                rows = self.get(path)
            return len(found), len(rows)

        rig = Rig.objects.get(pk=self.rig["id"])
        before = {path: asked(f"{path}?limit=100") for path in LISTS}
        whole = asked("shelf")[0]
        for copy in range(20):
            Rig.objects.create(owner=self.teacher, name=f"r{copy}", source={**rig.source, "name": f"r{copy}"})
            for kind in (Trace, Floor, Behaviour, Exercise, Wordbook):
                row = kind.objects.filter(owner=self.teacher).order_by("id")[copy % 2]
                books = list(row.wordbooks.all()) if kind is Exercise else []
                cases = list(row.cases.all()) if kind is Exercise else []
                row.pk = None
                row.save()
                for case in cases:
                    case.pk, case.exercise = None, row
                    case.save()
                if books:
                    row.wordbooks.set(books)
        for path, (queries, rows) in before.items():
            now, more = asked(f"{path}?limit=100")
            with self.subTest(path):
                self.assertTrue(more > rows or path in ("inputs", "recordings"))
                self.assertLessEqual(now, queries)
        self.assertEqual(asked("shelf")[0], whole)
        self.assertLessEqual(asked("find?search=d")[0], 13)


class Trash(ServerTest):
    def test_an_exercise_goes_with_all_doors_to_it_and_comes_back_as_it_was(self):
        wrong.forget()
        exercise = Assignment.objects.get().exercise
        codes = {"X-Geduld-Exercise": Assignment.objects.get().code, "X-Geduld-Student": Student.objects.first().code}
        look = {"X-Geduld-Look": new_link(exercise, "", True)[1]}
        case, hand_in = exercise.cases.first().pk, exercise.hand_ins.first().pk
        before, key = pieces_of(exercise.pk, True), exercise.pk
        doors = [("desk", codes), ("look", look), (f"exercises/{key}", {}), (f"exercises/{key}/sheet", {}), (f"cases/{case}", {}),
                 (f"hand-ins/{hand_in}", {}), (f"hand-ins/{hand_in}/overrides", {}), (f"exercises/{key}/parcel", {}),
                 (f"assignments/{Assignment.objects.get().pk}", {})]  # fmt: skip

        def answers():
            return {self.client.get(f"/api/{path}", headers=headers).status_code for path, headers in doors}

        self.assertEqual(answers(), {200})
        self.send("delete", f"exercises/{key}", None, 204)
        self.assertEqual(answers(), {404})
        self.assertNotIn(key, [item["id"] for item in self.get("exercises")])
        self.assertEqual([(item["kind"], item["id"]) for item in self.get("trash")], [("exercises", key)])
        self.assertEqual(self.get("shelf")["trashed"], 1)
        back = self.send("post", f"trash/exercises/{key}", None)
        self.assertEqual([item["name"] for item in back["back"]], ["Dock gently"])
        self.assertEqual(answers(), {200})
        self.assertEqual(pieces_of(key, True), before)
        self.send("post", f"trash/exercises/{key}", None, 404)

    def test_what_is_needed_stays_and_comes_back_with_what_needs_it(self):
        exercise = Exercise.objects.get(title="Come when called")
        case = exercise.cases.first()
        partner, floor = case.partner, case.floor
        book = Wordbook.objects.first()
        for path in (f"behaviours/{partner.pk}", f"floors/{floor.pk}", f"rigs/{exercise.rig_id}", f"wordbooks/{book.pk}",
                     f"traces/{self.trace['id']}"):  # fmt: skip
            problem = self.send("delete", path, None, 409)
            self.assertEqual(problem["code"], "in-use")
            self.assertIn("still needs this", problem["title"])
        for other in Exercise.objects.exclude(pk=exercise.pk):
            self.send("delete", f"exercises/{other.pk}", None, 204)
        self.send("delete", f"wordbooks/{book.pk}", None, 204)
        self.send("delete", f"traces/{self.trace['id']}", None, 204)
        self.send("delete", f"exercises/{exercise.pk}", None, 204)
        self.send("delete", f"floors/{floor.pk}", None, 204)
        self.send("delete", f"behaviours/{partner.pk}", None, 204)
        self.send("delete", f"rigs/{partner.rig_id}", None, 204)
        self.send("delete", f"trash/floors/{floor.pk}", None, 409)
        self.send("delete", f"trash/wordbooks/{book.pk}", None, 409)
        Wordbook.with_trash.filter(pk=book.pk).update(trashed=timezone.now() - 2 * KEPT_FOR)
        self.assertEqual(empty_old(), 0, "an exercise in the trash has it in its list")
        back = self.send("post", f"trash/exercises/{exercise.pk}", None)["back"]
        self.assertEqual({(item["kind"], item["name"]) for item in back},
                         {("exercises", "Come when called"), ("floors", floor.name), ("behaviours", partner.title), ("rigs", "door-handset")})  # fmt: skip
        self.assertEqual(pieces_of(exercise.pk).cases[0].partner.name, partner.title)
        coded = Exercise.with_trash.get(title="Docking in Python and C")
        back = self.send("post", f"trash/exercises/{coded.pk}", None)["back"]
        self.assertEqual({item["name"] for item in back}, {"Docking in Python and C", book.title, "Dry day"})

    def test_a_rig_takes_along_what_is_nothing_without_it(self):
        for kind in (Exercise, Behaviour, Trace, Wordbook):
            for row in kind.objects.filter(owner=self.teacher):
                self.client.delete(f"/api/{kind.kind}/{row.pk}")
        self.assertTrue(self.get("inputs"))
        for rig in self.get("rigs"):
            self.send("delete", f"rigs/{rig['id']}", None, 204)
        self.assertEqual((self.get("rigs"), self.get("inputs"), self.get("recordings")), ([], [], []))
        self.send("post", f"trash/rigs/{self.rig['id']}", None)
        self.assertTrue(self.get("inputs") and self.get("recordings"))
        # a behaviour brings back the rig that it is for
        behaviour = Behaviour.with_trash.filter(owner=self.teacher).exclude(rig=self.rig["id"]).first()
        self.send("post", f"trash/behaviours/{behaviour.pk}", None)
        self.assertIn(behaviour.rig_id, [rig["id"] for rig in self.get("rigs")])

    def test_emptied_it_is_gone_for_good_but_for_what_is_needed(self):
        rig = Rig.objects.get(pk=self.rig["id"])
        behaviour = Behaviour.objects.create(owner=self.teacher, rig=rig, title="mine", text="")
        self.send("delete", f"behaviours/{behaviour.pk}", None, 204)
        self.send("delete", f"exercises/{self.exercise['id']}", None, 204)
        self.send("delete", "trash", None, 204)
        self.assertFalse(Behaviour.with_trash.filter(pk=behaviour.pk).exists())
        self.assertFalse(Exercise.with_trash.filter(pk=self.exercise["id"]).exists())
        self.assertEqual(self.get("trash"), [])
        # what is older than the trash keeps goes when something else comes in; what is another's stays
        theirs = Rig.objects.create(owner=self.stranger, name="theirs", source=rig.source)
        longer = timezone.now() - KEPT_FOR - timedelta(hours=1)
        old, new = (Behaviour.objects.create(owner=self.teacher, rig=rig, title=title) for title in ("old", "new"))
        Behaviour.objects.filter(pk=old.pk).update(trashed=longer)
        Rig.objects.filter(pk=theirs.pk).update(trashed=longer)
        self.send("delete", f"behaviours/{new.pk}", None, 204)
        self.assertEqual([item["name"] for item in self.get("trash")], ["new"])
        self.assertTrue(Rig.with_trash.filter(pk=theirs.pk).exists())
        self.assertEqual(empty_old(), 1)

    def test_the_bytes_of_a_row_stand_behind_its_other_columns(self):
        # SQLite walks through them to whatever stands behind them, row for row, in every list
        for model in kinds().values():
            columns = connection.introspection.get_table_description(connection.cursor(), model._meta.db_table)
            large = [field.column for field in model._meta.concrete_fields if isinstance(field, BinaryField)]
            self.assertEqual([column.name for column in columns][len(columns) - len(large) :], large)

    def test_all_that_lies_on_the_shelf_is_one_of_the_kinds(self):
        self.assertEqual(sorted(kinds()), sorted(LISTS[1:]))
        self.assertEqual([item["kind"] for item in self.get("shelf")["kinds"]], sorted(LISTS[1:]))
