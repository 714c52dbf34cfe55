"""What is refused is not kept, what is kept can be read, and nobody's change replaces another's unseen."""

import time

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext

from geduld.worlds.trace import Trace as CoreTrace
from server.exercises.models import Case, Exercise, HandIn
from server.shelf.models import Behaviour, Inputs, Rig, Trace
from server.shelf.unpacked import Kept
from tests.glasshouse import SMALL, program
from tests.server.test_server import ServerTest


class Refused(ServerTest):
    def test_texts_that_once_broke_the_list_for_ever_are_kept_and_said(self):
        path = f"exercises/{self.exercise['id']}"
        chain = "to r0:\n    wait 1 s\n" + "".join(f"to r{k}:\n    r{k - 1}\n" for k in range(1, 900))
        for values, key, code in (
            ({"checks": 'check "A", 1e309 points:\n    never range < 5 cm\n'}, "checks", "number-too-large"),
            ({"reference": program("r899", chain)}, "reference", "too-deep"),
        ):
            self.send("patch", path, values)
            self.assertEqual(self.get(path)["problems"][key][0]["code"], code)
            self.assertEqual(len(self.get("exercises")), 8)
            self.send("post", f"{path}/grade", {}, 422)

    def test_a_rig_is_not_changed_under_what_depends_on_it(self):
        path, source = f"rigs/{self.rig['id']}", self.rig["source"]

        def without(name):
            return {**source, "parts": {n: part for n, part in source["parts"].items() if n != name}}

        problem = self.send("patch", path, {"source": without("knob")}, 400)
        self.assertIn('has the channel "knob", which the rig would not have any more', problem["detail"])
        for name, kind in (("range", "light"), ("nose", "knob")):
            parts = {**source["parts"], name: {"kind": kind, "port": source["parts"][name]["port"]}}
            self.send("patch", path, {"source": {**source, "parts": parts}}, 400)
        self.assertEqual(self.get(path)["source"], source)
        Trace.objects.all().defer("data").update(channels=[])
        problem = self.send("patch", path, {"source": without("knob")}, 400)
        self.assertIn('The test by hand "Dose hand"', problem["detail"])
        Inputs.objects.all().delete()
        Case.objects.update(inputs="")
        problem = self.send("patch", path, {"source": without("knob")}, 400)
        self.assertIn('The reference of "', problem["detail"])
        Exercise.objects.update(reference=program("wait 1 s"), checks="")
        self.send("patch", path, {"source": without("knob")})
        self.assertNotIn("knob", [part["name"] for part in self.get(path)["parts"]])

    def test_an_exercise_is_not_moved_to_a_rig_that_its_cases_were_not_recorded_with(self):
        path = f"exercises/{self.exercise['id']}"
        other = self.send("post", "rigs", {"source": SMALL}, 201)
        self.assertIn("another rig", self.send("patch", path, {"rig": other["id"]}, 400)["detail"])
        self.assertEqual(self.get(path)["rig"], self.rig["id"])
        for name in ("exercises", "cases", "inputs"):
            self.get(name)

    def test_a_row_that_cannot_be_read_is_shown_as_broken_and_can_be_mended_or_deleted(self):
        good = Rig.objects.get(name="glasshouse-cart").source
        Rig.objects.filter(name="glasshouse-cart").update(
            source={"geduld": "rig/9", "name": "glasshouse-cart", "parts": {}}
        )
        rig = self.get("rigs")[0]
        self.assertTrue(rig["broken"] and rig["parts"] == [] and rig["name"] == "glasshouse-cart")
        for name in ("exercises", "cases", "inputs"):
            rows = self.get(name)
            whole = sum(not row["broken"] for row in rows)
            self.assertEqual(whole, {"exercises": 1, "cases": 3, "inputs": 2}[name], "those of the hoist")
        self.assertEqual([row["hand_in_count"] for row in self.get("exercises")], [7, 28, 12, 24, 7, 4, 3, 5])
        self.assertEqual(self.get(f"exercises/{self.exercise['id']}")["title"], "Dock at the barrel")
        for name in ("traces", "floors", "behaviours", "hand-ins"):
            self.assertTrue(self.get(name))
        self.get(f"traces/{self.trace['id']}/lanes", 422)
        self.get(f"traces/{self.trace['id']}/csv", 422)
        self.get(f"exercises/{self.exercise['id']}/sheet")
        self.send("patch", f"rigs/{rig['id']}", {"source": good})
        self.assertIsNone(self.get("rigs")[0]["broken"])
        inputs = Inputs.objects.first()
        Inputs.objects.filter(pk=inputs.pk).update(text="time [s],what is this\n1,2\n")
        rows = {row["id"]: row for row in self.get("inputs")}
        self.assertIn("what is this", rows[inputs.pk]["broken"])
        self.assertEqual(rows[inputs.pk]["name"], inputs.name)
        self.assertEqual(self.client.delete(f"/api/inputs/{inputs.pk}").status_code, 204)

    def test_overrides_are_for_checks_that_there_are_and_give_no_more_than_they_are_worth(self):
        path = f"hand-ins/{HandIn.objects.filter(exercise=self.exercise['id']).first().pk}/overrides"
        titles = self.exercise["check_titles"]
        for title, points, status in (
            ("No such check", 1, 400),
            (titles[0]["title"], titles[0]["points"] + 0.5, 400),
            (titles[0]["title"], 1e308, 400),
            (titles[0]["title"], titles[0]["points"], 201),
            (titles[0]["title"], None, 201),
        ):
            self.send("post", path, {"check": title, "points": points, "reason": "I saw it."}, status)
        self.send("patch", f"exercises/{self.exercise['id']}", {"over_cases": "each"})
        much = {"check": titles[0]["title"], "points": 3 * titles[0]["points"], "reason": "In each case."}
        self.send("post", path, much, 201)

    def test_two_files_of_one_student_in_one_upload_are_refused(self):
        path = f"/api/exercises/{self.exercise['id']}/hand-ins"
        for names, said in (
            (["ada.geduld", "ada.csv"], "ada.geduld and ada.csv are both of the student ada"),
            (["ada.geduld", "ada.geduld"], "Two files ada.geduld are both"),
            (["a" * 101 + ".geduld"], "longer than 100 characters"),
        ):
            before = list(HandIn.objects.values_list("student", "digest"))
            files = [SimpleUploadedFile(name, b"x") for name in ["new.geduld", *names]]
            response = self.client.post(path, {"files": files})
            self.assertEqual(response.status_code, 400)
            self.assertIn(said, response.json()["detail"])
            self.assertEqual(list(HandIn.objects.values_list("student", "digest")), before)
        files = [SimpleUploadedFile(f"s{k}.geduld", b"x") for k in range(200)]
        self.assertEqual(self.client.post(path, {"files": files}).status_code, 201)
        rows = self.client.get(f"{path}?limit=150")
        self.assertEqual((len(rows.json()), 'rel="next"' in rows["Link"]), (150, True))
        rest = self.client.get(rows["Link"].split(">")[0][1:])
        self.assertEqual((len(rest.json()), rest.has_header("Link")), (57, False))

    def test_many_doings_cost_little_and_have_a_bound(self):
        rig = self.rig["id"]
        for names, status in ((1, 422), (20_000, 400)):
            doings = [{"at": k / 100, "name": f"n{k % names}", "value": 1} for k in range(20_000)]
            start = time.process_time()
            self.send("post", "inputs", {"rig": rig, "name": "many", "doings": doings}, status)
            self.assertLess(time.process_time() - start, 10, "a hang, however slow the machine")

    def test_limits_of_the_core_hold_here_too(self):
        key = self.exercise["id"]
        Case.objects.bulk_create(Case(exercise_id=key, name=f"c{k}", trace_id=self.trace["id"]) for k in range(97))
        case = {"exercise": key, "name": "one too many", "trace": self.trace["id"]}
        self.assertIn("at most 100 cases", self.send("post", "cases", case, 400)["detail"])
        self.send("patch", f"exercises/{key}", {"brief": "x" * 20_001}, 400)
        for key in ("Infinity", "1e30", '"x"', "true", "[]", "1.5", "0", "-1"):
            body = f'{{"rig": {key}, "title": "x"}}'
            response = self.client.post("/api/behaviours", body, content_type="application/json")
            self.assertEqual(response.status_code, 400, key)


class TwoTabs(ServerTest):
    def test_a_behaviour_that_was_changed_elsewhere_is_not_replaced_and_both_texts_stay(self):
        made = self.send("post", "behaviours", {"rig": self.rig["id"], "title": "A", "text": "one\n"}, 201)
        path = f"behaviours/{made['id']}"
        first = self.send("patch", path, {"text": "first tab\n", "started_from": made["version"]})
        problem = self.send("patch", path, {"text": "second tab\n", "started_from": made["version"]}, 409)
        self.assertEqual((problem["code"], problem["theirs"]), ("changed-elsewhere", "first tab\n"))
        self.assertEqual(problem["version"], first["version"])
        self.assertEqual(self.get(path)["text"], "first tab\n")
        kept = [(r["text"], r["apart"]) for r in self.get(f"{path}/revisions")]
        self.assertEqual(kept, [("second tab\n", True), ("first tab\n", False), ("one\n", False)])
        # the first tab types on: neither text is lost
        self.send("patch", path, {"text": "first tab goes on\n", "started_from": first["version"]})
        texts = [r["text"] for r in self.get(f"{path}/revisions")]
        self.assertEqual(texts, ["first tab goes on\n", "second tab\n", "first tab\n", "one\n"])
        # the same text twice is no conflict, and who has seen the other text may replace it
        self.send("patch", path, {"text": "first tab goes on\n", "started_from": "anything"})
        now = self.get(path)["version"]
        self.send("patch", path, {"text": "second tab\n", "started_from": now})

    def test_exercises_and_floors_too(self):
        path = f"exercises/{self.exercise['id']}"
        versions = self.exercise["versions"]
        self.send("patch", path, {"checks": "one", "started_from": {"checks": versions["checks"]}})
        self.send("patch", path, {"brief": "two", "started_from": {"brief": versions["brief"]}})
        problem = self.send("patch", path, {"checks": "three", "started_from": {"checks": versions["checks"]}}, 409)
        self.assertEqual((problem["field"], problem["theirs"]), ("checks", "one"))
        floor = self.get("floors")[0]
        moved = {**floor["source"], "name": "Moved"}
        self.send("patch", f"floors/{floor['id']}", {"source": moved, "started_from": floor["version"]})
        other = {**floor["source"], "name": "Elsewhere"}
        problem = self.send("patch", f"floors/{floor['id']}", {"source": other, "started_from": floor["version"]}, 409)
        self.assertEqual(problem["theirs"], moved)


class Lists(ServerTest):
    def test_no_list_asks_the_database_more_for_more_rows(self):
        """Neither do the mark sheet and the files of marks; and no list fetches what traces or recordings hold."""
        path = f"exercises/{self.exercise['id']}"
        self.send("post", f"{path}/grade", {})
        lists = ["rigs", "traces", "floors", "inputs", "behaviours", "exercises", "cases", "hand-ins", f"{path}/hand-ins",
                 f"{path}/sheet", f"{path}/marks.csv", f"{path}/results.csv", f"{path}/proof"]  # fmt: skip
        before = {name: self.queries(name) for name in lists}
        rig, exercise = Rig.objects.get(name="glasshouse-cart"), Exercise.objects.get(pk=self.exercise["id"])
        trace, data = Trace.objects.get(pk=self.trace["id"]), HandIn.objects.first().data
        for k in range(12):
            Behaviour.objects.create(owner=self.teacher, rig=rig, title=f"b{k}", text=program("wait 1 s"))
            Inputs.objects.create(owner=self.teacher, rig=rig, name=f"i{k}", text="time [s],knob [%]\n1,2\n")
            Case.objects.create(exercise=exercise, name=f"more {k}", trace=trace)
            HandIn.objects.create(exercise=exercise, student=f"s{k}", data=data, received="2026-01-01T00:00Z")
            trace.pk = None
            trace.save()
            other = Exercise.objects.create(owner=self.teacher, rig=rig, title=f"e{k}", checks=exercise.checks)
            Case.objects.create(exercise=other, name="one", trace=trace)
        self.send("post", f"{path}/grade", {})
        for name in lists:
            with self.subTest(name):
                now = self.queries(name)
                self.assertLessEqual(len(now), len(before[name]), "\n".join(now))
                self.assertLessEqual(len(now), 12)
                for query in now:
                    self.assertNotIn('"shelf_trace"."data"', query)
                    if "hand-ins" not in name:
                        self.assertNotIn('"exercises_handin"."data"', query)

    def queries(self, name):
        with CaptureQueriesContext(connection) as caught:
            self.assertEqual(self.client.get(f"/api/{name}").status_code, 200)
        return [query["sql"] for query in caught.captured_queries]


class Memory(ServerTest):
    def test_unpacked_traces_are_kept_by_their_size(self):
        def trace(samples):
            return CoreTrace(np.arange(samples, dtype=np.int64), {"knob": np.zeros(samples)})

        kept = Kept(most_bytes=2_000_000)
        for key in range(50):
            kept.put((key, ""), trace(1_000))
            self.assertLessEqual(kept.bytes, 2_000_000)
        self.assertEqual([key for key in range(50) if kept.get((key, ""))], [47, 48, 49])
        kept.put((99, ""), trace(100_000))
        self.assertIsNone(kept.get((99, "")), "one that is larger than all is not kept")
