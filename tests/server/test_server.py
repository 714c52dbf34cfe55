"""The server over HTTP: who sees what, what is kept, and how errors are said."""

import io
import json
import logging

from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import connection
from django.test import TestCase, override_settings

from server.accounts.links import first_teacher, make_token
from server.demo import load_demo
from server.exercises.models import HandIn
from server.shelf.models import Behaviour, Floor, Inputs, Revision, Trace
from tests.glasshouse import DEMO, SMALL, program
from tests.server.described import not_described, operation_of, wrong_in_description


@override_settings(JOBS_INLINE=True)
class ServerTest(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.teacher = first_teacher()
        load_demo(DEMO, cls.teacher)
        cls.stranger = User.objects.create_user("stranger")

    def setUp(self):
        logging.disable(logging.ERROR)
        self.addCleanup(logging.disable, logging.NOTSET)
        self.client.force_login(self.teacher)
        self.exercise = next(item for item in self.get("exercises") if item["title"] == "Dock at the barrel")
        self.rig = self.get("rigs")[0]
        self.trace = next(trace for trace in self.get("traces") if trace["name"] == "Dry day")

    def get(self, path, status=200):
        return self.answered("get", path, self.client.get(f"/api/{path}"), status)

    def answered(self, method, path, response, status):
        """What was answered, which is as the description has it."""
        self.assertEqual(response.status_code, status, response.content)
        operation = operation_of(method, f"/api/{path}")
        if operation is not None:
            self.assertEqual(not_described(operation, response), [], f"{method} {path}")
        return response.json() if response.content else None

    def send(self, method, path, value, status=200):
        response = getattr(self.client, method)(f"/api/{path}", json.dumps(value), content_type="application/json")
        return self.answered(method, path, response, status)

    def upload(self, path, name, data, status, **fields):
        field = "files" if "hand-ins" in path else "file"
        response = self.client.post(f"/api/{path}", {field: SimpleUploadedFile(name, data), **fields})
        return self.answered("post", path, response, status)


class SigningIn(ServerTest):
    def test_a_link_works_once_and_only_for_its_teacher(self):
        self.client.logout()
        token = make_token(self.teacher)
        self.assertEqual(self.client.get("/api/me").status_code, 403)
        for _ in range(2):  # a preview of the link uses nothing up
            page = self.client.get(f"/sign-in/{token}")
            self.assertEqual((page.status_code, page["Cache-Control"]), (200, "no-store"))
            self.assertIn('<form method="post">', page.content.decode())
        self.assertEqual(self.client.get("/api/me").status_code, 403)
        self.assertEqual(self.client.post(f"/sign-in/{token}").url, "/")
        self.assertEqual(self.get("me")["name"], "Demonstration teacher")
        self.client.post("/api/sign-out")
        self.assertEqual(self.client.post(f"/sign-in/{token}").status_code, 410)
        self.assertEqual(self.client.get(f"/sign-in/{token}").status_code, 410)
        older = make_token(self.teacher)
        make_token(self.teacher)
        self.assertEqual(self.client.get(f"/sign-in/{older}").status_code, 410)

    def test_nothing_is_answered_without_signing_in(self):
        self.client.logout()
        paths = ["rigs", "traces", "behaviours", "exercises", "cases", "hand-ins", "notation", "schema",
                 f"exercises/{self.exercise['id']}/sheet", f"exercises/{self.exercise['id']}/marks.csv"]  # fmt: skip
        for path in paths:
            response = self.client.get(f"/api/{path}")
            self.assertEqual((response.status_code, response.json()["code"]), (403, "not-signed-in"), path)

    def test_a_stranger_sees_and_changes_nothing(self):
        hand_in, case = HandIn.objects.first(), self.exercise["cases"][0]
        behaviour = Behaviour.objects.first()
        self.client.force_login(self.stranger)
        for path in ("rigs", "traces", "behaviours", "exercises", "cases", "hand-ins"):
            self.assertEqual(self.get(path), [])
        floor, inputs = Floor.objects.first().pk, Inputs.objects.first().pk
        mine = [f"floors/{floor}", f"inputs/{inputs}", f"rigs/{self.rig['id']}", f"traces/{self.trace['id']}", f"behaviours/{behaviour.pk}",
                f"exercises/{self.exercise['id']}", f"cases/{case['id']}", f"hand-ins/{hand_in.pk}"]  # fmt: skip
        for path in mine:
            self.assertEqual(self.client.get(f"/api/{path}").status_code, 404, path)
            self.assertEqual(self.client.delete(f"/api/{path}").status_code, 404, path)
        for end in ("lanes", "csv"):
            self.assertEqual(self.client.get(f"/api/traces/{self.trace['id']}/{end}").status_code, 404)
        for end in ("sheet", "marks.csv", "hand-ins"):
            self.assertEqual(self.client.get(f"/api/exercises/{self.exercise['id']}/{end}").status_code, 404)
        self.send("post", f"exercises/{self.exercise['id']}/grade", {}, 404)
        self.send("patch", f"behaviours/{behaviour.pk}", {"text": "x"}, 404)
        own = self.send("post", "rigs", {"source": SMALL}, 201)
        run = {"rig": own["id"], "text": program("wait 1 s"), "trace": self.trace["id"]}
        self.send("post", "bench/run", run, 400)
        self.send("post", "behaviours", {"rig": self.rig["id"], "title": "x"}, 400)
        self.send("post", "cases", {"exercise": self.exercise["id"], "name": "x", "trace": self.trace["id"]}, 400)
        self.assertEqual(HandIn.objects.count(), 90)


class Shelf(ServerTest):
    def test_errors_of_the_core_come_as_problem_details(self):
        bad = {**SMALL, "parts": {"a": {"kind": "moter", "port": "1"}}}
        problem = self.send("post", "rigs", {"source": bad}, 422)
        self.assertEqual(
            (problem["code"], problem["path"], problem["detail"]),
            ("unknown-kind", "parts.a.kind", 'Did you mean "motor"?'),
        )
        problem = self.upload("traces", "walk.csv", b"time [s],nose\n0,1\n1,x\n", 422, rig=self.rig["id"])
        self.assertEqual((problem["file"], problem["row"], problem["column"]), ("walk.csv", 3, 2))
        self.assertEqual(self.send("post", "bench/run", {}, 400)["code"], "bad-request")
        self.assertEqual(
            self.client.post("/api/rigs", "{", content_type="application/json").json()["code"], "parse_error"
        )

    def test_an_imported_trace_gives_back_its_csv_and_lanes(self):
        data = (DEMO / "traces" / "dry-day.csv").read_bytes()
        made = self.upload("traces", "again.csv", data, 201, rig=self.rig["id"])
        self.assertEqual((made["name"], made["samples"], made["duration_us"]), ("again", 3001, 30_000_000))
        self.assertEqual(self.client.get(f"/api/traces/{made['id']}/csv").content, data)
        lanes = self.get(f"traces/{made['id']}/lanes?columns=100&from=5&to=20")["lanes"]
        self.assertTrue(all(len(lane["times"]) <= 302 for lane in lanes))
        nose = next(lane for lane in lanes if lane["part"] == "nose")
        self.assertEqual((nose["times"][0], {*nose["values"]}), (5.0, {0, 1}))
        self.assertEqual(self.client.get(f"/api/traces/{made['id']}/lanes?from=x").status_code, 400)
        self.assertLess(len(bytes(Trace.objects.get(pk=made["id"]).data)), len(data))

    def test_values_that_cannot_be_are_told_and_dropped_by_choice(self):
        data = b"time [s],knob [%],nose\n0,20,0\n1,158,0\n2,,1\n3,30,1\n"
        made = self.upload("traces", "odd.csv", data, 201, rig=self.rig["id"])
        self.assertEqual(len(made["doubts"]), 1)
        self.assertIn("158 %, at 1 s", made["doubts"][0])
        mended = self.send("post", f"traces/{made['id']}/drop-doubtful", {})
        self.assertEqual((mended["doubts"], mended["samples"]), ([], 4))
        self.assertIn(b"\n1,,0\n", self.client.get(f"/api/traces/{made['id']}/csv").content)
        self.assertEqual(self.trace["doubts"], [])

    def test_two_devices_time_alone_and_faults_on_the_bench(self):
        calls = next(item for item in self.get("behaviours") if item["title"] == "Call the cart")
        text = program('wait until message is "come"\nsend "coming"\nlamp on')
        asked = {"rig": self.rig["id"], "text": text, "lasts": 10, "partner": calls["id"], "delay": 0.03}
        run = self.send("post", "bench/run", asked)["run"]
        self.assertEqual([(e["at"], e["text"]) for e in run["partner"]["events"]], [(2.0, "come")])
        self.assertEqual(next(lane for lane in run["outputs"] if lane["part"] == "lamp")["times"][-1], 2.03)
        self.assertIn((2.03, "coming"), [(e["at"], e["text"]) for e in run["events"]])
        self.assertEqual(run["partner"]["units"]["light"], "%")
        self.assertEqual(self.client.delete(f"/api/behaviours/{calls['id']}").status_code, 409)
        floor = self.get("floors")[0]["id"]
        wrong = {"rig": self.rig["id"], "text": text, "floor": floor, "faults": ["left on fire"]}
        self.assertIn("no fault", self.send("post", "bench/run", wrong)["world_problem"]["message"])
        case = {"exercise": self.exercise["id"], "name": "time", "lasts_us": 5_000_000, "partner": calls["id"]}
        made = self.send("post", "cases", case, 201)
        self.assertEqual((made["delay_us"], made["duration_us"]), (20_000, 5_000_000))
        self.send("patch", f"cases/{made['id']}", {"trace": self.trace["id"]}, 400)
        self.send("patch", f"cases/{made['id']}", {"faults": ["nose inverted"], "lasts_us": None, "floor": floor})
        self.send("patch", f"cases/{made['id']}", {"faults": ["nose invertde"]}, 422)

    def test_what_is_in_use_stays(self):
        for path in (f"rigs/{self.rig['id']}", f"traces/{self.trace['id']}"):
            response = self.client.delete(f"/api/{path}")
            self.assertEqual((response.status_code, response.json()["code"]), (409, "in-use"))

    def test_a_library_on_the_shelf_serves_the_bench_and_the_exercise(self):
        library = 'library "moves"\n\nto nudge:\n    drive at 20 % for 1 s\n'
        made = self.send("post", "behaviours", {"rig": self.rig["id"], "title": "moves", "text": library}, 201)
        self.assertIn("moves", self.get(f"rigs/{self.rig['id']}")["libraries"])
        text = 'behaviour "Test"\ninclude "moves"\n\nbegin:\n    nudge\n'
        asked = {"rig": self.rig["id"], "text": text, "trace": self.trace["id"]}
        answer = self.send("post", "bench/run", asked)
        self.assertEqual(([h["code"] for h in answer["hints"]], answer["run"]["ended_at"]), ([], 1.0))
        self.assertEqual(self.send("post", "bench/run", {**asked, "text": library})["hints"][0]["level"], "advice")
        self.send("patch", f"exercises/{self.exercise['id']}", {"reference": text})
        self.send("post", f"exercises/{self.exercise['id']}/grade", {})
        rows = self.get(f"exercises/{self.exercise['id']}/sheet")["rows"]
        self.assertFalse(any(row["stale"] for row in rows))
        self.send("patch", f"behaviours/{made['id']}", {"text": library.replace("20 %", "30 %")})
        rows = self.get(f"exercises/{self.exercise['id']}/sheet")["rows"]
        self.assertTrue(all(row["stale"] for row in rows), "marks know that the library has changed")

    def test_messages_are_drawn_as_texts(self):
        data = (DEMO / "traces" / "radio-calls.csv").read_bytes()
        made = self.upload("traces", "calls.csv", data, 201, rig=self.rig["id"])
        lanes = {lane["part"]: lane for lane in self.get(f"traces/{made['id']}/lanes")["lanes"]}
        self.assertEqual(
            (lanes["radio"]["times"], lanes["radio"]["texts"]), ([0.0, 4.0, 25.0], [None, "water", "water"])
        )
        self.assertNotIn("radio.messages", lanes)
        again = self.client.get(f"/api/traces/{made['id']}/csv").content
        self.assertEqual(again.count(b"water"), 2, "each message is written where it comes")

    def test_behaviours_keep_revisions_to_go_back_to(self):
        made = self.send("post", "behaviours", {"rig": self.rig["id"], "title": "A", "text": "one\n"}, 201)
        path = f"behaviours/{made['id']}"
        for text in ("two\n", "three\n"):
            self.send("patch", path, {"text": text})
        self.assertEqual([r["text"] for r in self.get(f"{path}/revisions")], ["three\n", "one\n"])
        Revision.objects.update(saved="2026-01-01T00:00:00Z")
        self.send("patch", path, {"text": "four\n"})
        self.assertEqual(len(self.get(f"{path}/revisions")), 3)
        self.assertEqual(self.get(path)["text"], "four\n")
        self.assertEqual(self.send("patch", path, {"text": 'behaviour "Round"\n'})["title"], "Round")
        self.assertEqual(self.client.delete(f"/api/{path}").status_code, 204)

    def test_the_bench_runs_what_it_is_given_and_keeps_nothing(self):
        text = (DEMO / "behaviours" / "dock-at-the-barrel.geduld").read_text()
        asked = {"rig": self.rig["id"], "text": text, "trace": self.trace["id"], "checks": self.exercise["checks"],
                 "reference": text}  # fmt: skip
        answer = self.send("post", "bench/run", asked)
        left = next(lane for lane in answer["run"]["outputs"] if lane["part"] == "left")
        self.assertEqual(left["values"], [0.0, 45.0, 20.0, 0.0])
        self.assertEqual({check["verdict"] for check in answer["checks"]}, {"pass"})
        handle = next(item for item in answer["thresholds"] if item["part"] == "range")
        self.assertEqual((handle["line"], handle["column"], handle["end_column"], handle["value"]), (4, 12, 17, 40.0))
        in_mm = self.send("post", "bench/run", {**asked, "text": text.replace("40 cm", "400 mm")})["thresholds"]
        self.assertEqual([(t["value"], t["per_part_unit"]) for t in in_mm if t["part"] == "range"], [(40.0, 10.0)])
        broken = self.send("post", "bench/run", {**asked, "text": text.replace("45 %", "45")})
        self.assertEqual((broken["run"], broken["hints"][0]["fix"]), (None, "45 %"))
        zoomed = self.send("post", "bench/run", {**asked, "window": {"from": 5, "to": 6, "columns": 10}})
        self.assertEqual([bar["line"] for bar in zoomed["run"]["program"]], [10])

    def test_the_bench_tells_what_can_be_moved_what_differs_and_why(self):
        text = (DEMO / "behaviours" / "dock-at-the-barrel.geduld").read_text()
        asked = {"rig": self.rig["id"], "text": text, "trace": self.trace["id"]}
        answer = self.send("post", "bench/run", {**asked, "behind": {"text": text.replace("40 cm", "30 cm")}})
        moved = {(item["what"], item["part"], item["value"], item["step"]) for item in answer["settings"]}
        self.assertLessEqual(
            {("output", "left", 45.0, 10), ("patience", "", 12.0, 11), ("time", "", 1.5, 14), ("held", "", 0.05, 9)},
            moved,
        )
        self.assertEqual({item["part"] for item in answer["differences"]}, {"left", "right"})
        first = answer["differences"][0]
        self.assertIn("left is 20 %, there 45 %.", first["words"])
        why = self.send("post", "bench/why", {**asked, "part": "left", "at": first["from"] + 0.01})
        self.assertEqual((why["line"], why["waited"]["line"], why["at"]), (11, 10, first["from"]))
        self.assertEqual([reading["part"] for reading in why["readings"]], ["range"])
        not_run = self.send("post", "bench/why-not", {**asked, "line": 13})
        self.assertEqual((not_run["ran"], not_run["line"]), (False, 11))
        self.assertIn("ran", self.send("post", "bench/why-not", {**asked, "line": 14})["because"])
        self.send("post", "bench/why", {**asked, "part": "nose", "at": 1}, 400)
        self.send("post", "bench/why", {**asked, "text": text.replace("45 %", "45"), "part": "left", "at": 1}, 400)
        self.send("post", "bench/why-not", {**asked, "trace": None, "line": 9}, 400)
        script = {**asked, "language": "python", "text": "if 1 > 2:\n    print(1)\n", "line": 2}
        told = self.send("post", "bench/why-not", script)
        self.assertEqual((told["ran"], told["line"], "asks whether 1 > 2" in told["because"]), (False, 1, True))

    def test_what_repeats_too_fast_to_be_seen_is_one_bar(self):
        text = 'behaviour "Blink"\nbegin:\n    wait 2 s\n    repeat 400 times:\n        lamp on for 5 ms\n        wait 5 ms\n    wait 1 s\n'
        asked = {"rig": self.rig["id"], "text": text, "lasts": 10}
        bars = self.send("post", "bench/run", asked)["run"]["program"]
        self.assertEqual([(bar["state"], bar["line"], bar["last_line"], bar["times"]) for bar in bars], [("waiting", 3, 3, 1), ("many", 5, 6, 800), ("waiting", 7, 7, 1)])  # fmt: skip
        near = self.send("post", "bench/run", {**asked, "window": {"from": 3, "to": 3.05, "columns": 900}})["run"][
            "program"
        ]
        self.assertEqual({(bar["state"], bar["line"]) for bar in near}, {("waiting", 5), ("waiting", 6)})


class Floors(ServerTest):
    def setUp(self):
        super().setUp()
        self.floor = next(floor for floor in self.get("floors") if floor["name"] == "North aisle")
        self.world = {"floor": self.floor["id"], "start": "A", "limit": 20}

    def run_of(self, text, **more):
        return self.send("post", "bench/run", {"rig": self.rig["id"], "text": text, **self.world, **more})

    def test_a_run_on_a_floor_has_a_ride_readings_and_contacts(self):
        text = program("drive at 60 % until nose is pressed\nstop drive")
        run = self.run_of(text)["run"]
        ride = run["ride"]
        self.assertEqual((ride["times"][0], ride["x"][0], ride["y"][0], ride["heading"][0]), (0, 110, 60, 0))
        self.assertEqual((ride["times"][-1], run["lasted"]), (20, 20))
        self.assertLess(len(ride["times"]), 2_600)
        touch = next(event for event in run["events"] if event["kind"] == "contact")
        self.assertAlmostEqual(((touch["where"][0] - 345) ** 2 + (touch["where"][1] - 60) ** 2) ** 0.5, 24, delta=0.1)
        self.assertIn("left.angle", [lane["part"] for lane in run["readings"]])
        self.assertEqual(self.run_of(text, seed=3), self.run_of(text, seed=3))
        self.assertNotEqual(self.run_of(text, seed=3)["run"], self.run_of(text, seed=4)["run"])

    def test_hands_change_the_run_from_then_on(self):
        text = program("repeat:\n    drive at knob * 0.5")
        doings = [{"at": 1, "name": "knob", "value": 80}, {"at": 2, "name": "knob", "value": None},
                  {"at": 3, "name": "crate.x", "value": 200}, {"at": 3, "name": "crate.y", "value": 140},
                  {"at": 6.5, "name": "stop", "value": 1}]  # fmt: skip
        run = self.run_of(text, doings=doings)["run"]
        left = next(lane for lane in run["outputs"] if lane["part"] == "left")
        self.assertEqual((left["times"][:2], left["values"]), ([0, 1], [0, 40, 0]))
        self.assertEqual((run["why"], run["ended_at"]), ("stopped", 6.5))
        self.assertEqual(run["ride"]["things"]["crate"]["x"][-1], 200)
        problem = self.run_of(text, doings=[{"at": 1, "name": "knob", "value": "much"}])["world_problem"]
        self.assertIn('"much" is not a number', problem["message"])
        kept = self.send("post", "inputs", {"rig": self.rig["id"], "name": "Twist", "doings": doings}, 201)
        self.assertEqual(sorted(kept["doings"], key=str), sorted(self.get(f"inputs/{kept['id']}")["doings"], key=str))
        self.assertEqual(kept["doings"][0], {"at": 1.0, "name": "knob", "value": 80.0})
        self.assertTrue(kept["text"].startswith("time [s],crate.x [cm],crate.y [cm],knob [%],stop\n"))

    def test_a_floor_that_cannot_be_run_on_says_so_and_the_hints_stay(self):
        answer = self.run_of(program("left at 40 % for 2 s"), start="Z")
        self.assertEqual(answer["world_problem"]["message"], 'There is no mark "Z" on the floor "North aisle".')
        self.assertEqual(answer["hints"][0]["code"], "one-side")
        source = self.floor["source"] | {"walls": [{"from": ["1 cm", "1 cm"], "to": ["1 cm", "1 cm"]}]}
        problem = self.send("patch", f"floors/{self.floor['id']}", {"source": source}, 422)
        self.assertEqual((problem["code"], problem["path"]), ("wall-without-length", "walls.0.to"))

    def test_a_kept_run_can_be_followed_by_travel(self):
        text = program("drive at 50 % until range < 40 cm\nlamp on for 1 s")
        asked = {"rig": self.rig["id"], "text": text, "name": "Kept", **self.world}
        kept = self.send("post", "bench/keep", asked, 201)
        slow = {"rig": self.rig["id"], "text": text.replace("50 %", "25 %"), "trace": kept["id"], "limit": 60}
        by_travel = self.send("post", "bench/run", {**slow, "follow": "travel"})["run"]
        lamp = next(lane for lane in by_travel["outputs"] if lane["part"] == "lamp")
        fast = self.run_of(text)["run"]
        before = next(lane for lane in fast["outputs"] if lane["part"] == "lamp")
        self.assertGreater(lamp["times"][1], 1.6 * before["times"][1])
        self.assertTrue(by_travel["readings"])
        answer = self.send("post", "bench/run", {**slow, "trace": self.trace["id"], "follow": "travel"})
        self.assertIn("does not say how it was driven", answer["world_problem"]["message"])

    def test_a_run_is_kept_as_a_trace_that_replays(self):
        text = program("drive at 50 % until range < 40 cm\nlamp on for 1 s")
        asked = {"rig": self.rig["id"], "text": text, "name": "Kept", **self.world, "seed": 5}
        kept = self.send("post", "bench/keep", asked, 201)
        live = self.run_of(text, seed=5)["run"]
        again = self.send("post", "bench/run", {"rig": self.rig["id"], "text": text, "trace": kept["id"]})["run"]
        self.assertEqual((again["outputs"], again["program"], again["trust"]), (live["outputs"], live["program"], {}))

    def test_cases_on_floors_are_graded_and_know_when_they_are_stale(self):
        exercise = f"exercises/{self.exercise['id']}"
        case = {"exercise": self.exercise["id"], "name": "on the floor", "floor": self.floor["id"], "start": "A",
                "seed": 2, "limit_us": 30_000_000, "doings": [{"at": 1, "name": "knob", "value": 80}]}  # fmt: skip
        self.send("post", "cases", {**case, "trace": self.trace["id"]}, 400)
        made = self.send("post", "cases", case, 201)
        self.assertEqual((made["duration_us"], made["doings"][0]["value"]), (30_000_000, 80.0))
        self.send("post", "cases", {**case, "name": "nowhere", "start": "Q"}, 422)
        sheet = self.send("post", f"{exercise}/grade", {})
        ada = next(row for row in sheet["rows"] if row["student"] == "ada-lindqvist")
        docked = {mark["case"]: mark["verdict"] for mark in ada["marks"] if mark["check"] == "Stops at the barrel"}
        self.assertEqual(docked["on the floor"], "pass")
        self.assertEqual(self.client.delete(f"/api/floors/{self.floor['id']}").status_code, 409)
        source = self.floor["source"] | {"ambient": "90 lx"}
        self.send("patch", f"floors/{self.floor['id']}", {"source": source})
        self.assertTrue(all(row["stale"] for row in self.get(f"{exercise}/sheet")["rows"]))


class Exercises(ServerTest):
    def test_a_teacher_overrides_with_a_reason_and_nothing_is_forgotten(self):
        path = f"exercises/{self.exercise['id']}"
        self.send("post", f"{path}/grade", {})
        dario = next(row for row in self.get(f"{path}/sheet")["rows"] if row["student"] == "dario-ferro")
        self.assertEqual((dario["points"], dario["given"]), (9, {}))
        mine = f"hand-ins/{dario['hand_in']}/overrides"
        self.send("post", mine, {"check": "Waters for 1.5 s", "points": 1}, 400)
        self.send("post", mine, {"check": "Waters for 1.5 s", "points": 1.5, "reason": "The valve stuck."}, 201)
        now = next(row for row in self.get(f"{path}/sheet")["rows"] if row["student"] == "dario-ferro")
        self.assertEqual((now["points"], now["given"]), (10.5, {"Waters for 1.5 s": 1.5}))
        roster = self.client.get(f"/api/{path}/results.csv").content.decode().splitlines()
        self.assertEqual(len(roster), 8)
        self.assertTrue(next(line for line in roster if "dario-ferro" in line).split(",")[6] == "10.5")
        self.send("post", mine, {"check": "Waters for 1.5 s", "points": None, "reason": "It did not."}, 201)
        again = next(row for row in self.get(f"{path}/sheet")["rows"] if row["student"] == "dario-ferro")
        self.assertEqual(again["points"], 9)
        self.assertEqual([item["reason"] for item in self.get(mine)], ["It did not.", "The valve stuck."])
        late = {"received": "2026-11-21T10:00:00Z", "student": "somebody-else"}
        self.send("patch", f"hand-ins/{dario['hand_in']}", late)
        rules = {"due": "2026-11-20T15:00:00Z", "late_per_day": 0.1, "round_to": 0.5}
        self.send("patch", path, rules)
        row = next(row for row in self.get(f"{path}/sheet")["rows"] if row["student"] == "dario-ferro")
        self.assertEqual((row["earned"], row["points"], row["late_days"], row["stale"]), (9, 8, 1, False))
        self.assertIn("1 day late", row["because"])
        self.send("patch", path, {"late_per_day": 1.5}, 400)
        self.send("patch", path, {"checks": self.exercise["checks"].replace("10 s +- 3 s", "1 s +- 0.1 s")})
        self.send("post", f"{path}/grade", {})
        self.assertEqual(
            [(item["by"], item["points"]) for item in self.get(mine)],
            [("teacher", None), ("teacher", 1.5), ("geduld", 2)],
            "what the mark was before the check changed",
        )
        self.client.force_login(self.stranger)
        self.assertEqual(self.client.get(f"/api/{mine}").status_code, 404)
        self.assertEqual(self.client.get(f"/api/{path}/results.csv").status_code, 404)

    def test_a_recorded_run_is_a_hand_in_too(self):
        path = f"exercises/{self.exercise['id']}"
        text = program("drive at 50 % until range < 40 cm")
        floor = next(floor for floor in self.get("floors") if floor["name"] == "North aisle")
        asked = {"rig": self.rig["id"], "text": text, "name": "Kept", "floor": floor["id"], "limit": 20}
        kept = self.send("post", "bench/keep", asked, 201)
        recording = self.client.get(f"/api/traces/{kept['id']}/csv").content
        made = self.upload(f"{path}/hand-ins", "oskar-lund.csv", recording, 201)
        self.assertEqual((made[0]["student"], made[0]["recorded"]), ("oskar-lund", True))
        rows = self.send("post", f"{path}/grade", {})["rows"]
        oskar = next(row for row in rows if row["student"] == "oskar-lund")
        self.assertEqual({mark["case"] for mark in oskar["marks"]}, {"recording", "all"})
        self.assertEqual(oskar["problem"], "")
        shown = self.get(f"hand-ins/{oskar['hand_in']}/recording?from=1&to=4&columns=50")
        self.assertIn("range", [lane["part"] for lane in shown["run"]["readings"]])
        self.assertIn("left", [lane["part"] for lane in shown["run"]["outputs"]])
        verdicts = {mark["check"]: mark["verdict"] for mark in oskar["marks"] if mark["case"] == "recording"}
        self.assertEqual({check["title"]: check["verdict"] for check in shown["checks"]}, verdicts)
        self.upload(f"{path}/hand-ins", "oskar-lund.csv", b"no, recording", 201)
        self.get(f"hand-ins/{oskar['hand_in']}/recording", 422)
        ada = next(row for row in rows if row["student"] == "ada-lindqvist")
        self.get(f"hand-ins/{ada['hand_in']}/recording", 404)

    def test_proofreading_is_kept_and_knows_when_it_is_stale(self):
        path = f"exercises/{self.exercise['id']}"
        self.assertEqual(self.get(f"{path}/proof"), {"found": None, "stale": False, "job": None})
        proof = self.send("post", f"{path}/proof", {})
        self.assertEqual(
            (proof["stale"], proof["job"]["state"], proof["job"]["done"]), (False, "done", proof["job"]["of"])
        )
        found = proof["found"]
        self.assertFalse(found["proves"])
        missed = [item for item in found["mistakes"] if item["outcome"] == "missed"]
        self.assertEqual(round(found["score"], 2), round(1 - len(missed) / len(found["mistakes"]), 2))
        self.assertTrue(all(item["text"].startswith("behaviour") for item in missed))
        self.send("patch", path, {"checks": self.exercise["checks"].replace("150 ms", "100 ms")})
        self.assertTrue(self.get(f"{path}/proof")["stale"])
        self.send("patch", path, {"checks": "check"})
        self.assertEqual(self.send("post", f"{path}/proof", {}, 422)["code"], "unexpected")

    def test_grading_keeps_marks_and_knows_what_is_stale(self):
        path = f"exercises/{self.exercise['id']}"
        self.assertFalse(any(row["graded"] for row in self.get(f"{path}/sheet")["rows"]))
        sheet = self.send("post", f"{path}/grade", {})
        self.assertEqual(sheet["job"]["done"], 7)
        points = {row["student"]: row["points"] for row in sheet["rows"]}
        self.assertEqual((points["ada-lindqvist"], points["dario-ferro"], points["greta-holm"]), (11, 9, 0))
        self.assertEqual(self.send("post", f"{path}/grade", {})["job"]["done"], 0)
        better = (DEMO / "hand-ins" / "ada-lindqvist.geduld").read_bytes()
        self.upload(f"{path}/hand-ins", "greta-holm.geduld", better, 201)
        stale = {row["student"] for row in self.get(f"{path}/sheet")["rows"] if row["stale"]}
        self.assertEqual(stale, {"greta-holm"})
        self.assertEqual(self.send("post", f"{path}/grade", {})["job"]["done"], 1)
        self.send("patch", path, {"checks": self.exercise["checks"].replace("2 points", "4 points")})
        self.assertTrue(all(row["stale"] for row in self.get(f"{path}/sheet")["rows"]))
        text = self.client.get(f"/api/{path}/marks.csv").content.decode()
        self.assertEqual(len(text.splitlines()), 1 + 7 * 5 * 4)

    def test_an_exercise_that_cannot_grade_says_why(self):
        path = f"exercises/{self.exercise['id']}"
        self.send("patch", path, {"checks": 'check "A", 2 points:\n    never rnage < 5 cm\n'})
        problem = self.send("post", f"{path}/grade", {}, 422)
        self.assertEqual((problem["code"], problem["hints"][0]["fix"]), ("unknown-name", "range"))
        self.assertEqual(self.get(path)["problems"]["checks"][0]["line"], 2)

    def test_uploads_are_limited_and_broken_ones_are_kept_as_they_are(self):
        path = f"exercises/{self.exercise['id']}/hand-ins"
        self.assertEqual(self.upload(path, "big.geduld", b"x" * 200_001, 400)["code"], "bad-request")
        self.assertEqual(self.client.post(f"/api/{path}", {}).status_code, 400)
        self.upload(path, "odd.geduld", bytes(range(256)), 201)
        self.assertEqual(bytes(HandIn.objects.get(student="odd").data), bytes(range(256)))
        other = self.send("post", "rigs", {"source": SMALL}, 201)
        trace = self.upload("traces", "t.csv", b"time [s],nose\n0,1\n", 201, rig=other["id"])
        case = {"exercise": self.exercise["id"], "name": "x", "trace": trace["id"]}
        self.assertIn("another rig", self.send("post", "cases", case, 400)["detail"])


class Foundations(ServerTest):
    def test_database_and_schema(self):
        with connection.cursor() as cursor:
            values = [cursor.execute(f"PRAGMA {name}").fetchone()[0] for name in ("journal_mode", "foreign_keys")]
        self.assertEqual(values, ["wal", 1])
        out, err = io.StringIO(), io.StringIO()
        call_command("makemigrations", check=True, dry_run=True, stdout=out)
        call_command("spectacular", format="openapi-json", stdout=io.StringIO(), stderr=err, fail_on_warn=True)
        self.assertEqual(wrong_in_description(), [], "it is one, as OpenAPI has it")

    def test_pages_say_that_they_load_nothing_from_elsewhere(self):
        for path in ("/", "/bench/1"):
            response = self.client.get(path)
            self.assertIn("default-src 'self'", response.headers["Content-Security-Policy"])
            response.close()
        self.assertEqual(self.client.get("/api/nowhere").status_code, 404)
