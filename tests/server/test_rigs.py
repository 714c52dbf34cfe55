"""Rigs at work: measurements and what they say, written into the rig; what rigs were before."""

from server.shelf.models import Trace
from tests.server.test_server import ServerTest

ROWS = [{"move": "straight", "by": "encoder", "power": "40 %", "amount": f"{way} cm"} for way in (50, 100, 100, 150)]
ROWS += [{"move": "turn", "by": "encoder", "power": "30 %", "amount": f"{angle} deg"} for angle in (90, 180, 360)]
ROWS += [{"move": "straight", "by": "time", "power": "40 %", "time": f"{time} s"} for time in (1, 2, 3)]
HALL = {"geduld": "floor/1", "name": "hall", "size": ["900 cm", "900 cm"], "start": {"at": ["300 cm", "450 cm"]},
        "surface": {"name": "carpet", "travel_slip": "5 %", "turn_slip": "12 %"}}  # fmt: skip


class Calibrating(ServerTest):
    def setUp(self):
        super().setUp()
        self.cart = next(rig for rig in self.get("rigs") if rig["name"] == "glasshouse-cart")

    def test_from_planned_moves_to_a_calibrated_rig_and_back(self):
        source = {"geduld": "measurements/1", "surface": "carpet", "rows": ROWS}
        sheet = self.send("post", "measurements", {"rig": self.cart["id"], "source": source}, 201)
        path = f"measurements/{sheet['id']}"
        empty = self.get(f"{path}/findings")
        self.assertEqual((empty["findings"], empty["following"], len(empty["board"])), ([], None, len(ROWS)))
        floor = self.send("post", "floors", {"source": HALL}, 201)
        made = self.send("post", f"{path}/tape", {"floor": floor["id"], "seed": 3})
        self.assertEqual({item["said"] for item in made}, {""})
        rows = [row | {"measured": item["measured"]} for row, item in zip(ROWS, made, strict=True)]
        changed = self.send("patch", path, {"source": source | {"rows": rows}, "started_from": sheet["version"]})
        stale = self.send("patch", path, {"source": source, "started_from": sheet["version"]}, 409)
        self.assertEqual((stale["code"], stale["version"]), ("changed-elsewhere", changed["version"]))
        found = {item["word"]: item for item in self.get(f"{path}/findings")["findings"]}
        self.assertTrue(4 < found["slip"]["value"] < 6)
        self.assertEqual(found["wheel diameter"]["rig_says"], 6.5)
        rig = self.send("post", f"{path}/apply", {"words": ["wheel diameter", "track width", "travel"]})
        self.assertTrue(rig["source"]["drive"]["wheel_diameter"].startswith("6.1"), rig["source"]["drive"])
        self.assertEqual(rig["source"]["calibration"]["surface"], "carpet")
        self.send("post", f"{path}/apply", {"words": ["turning"]}, 422)
        revisions = self.get(f"rigs/{self.cart['id']}/revisions")
        self.assertEqual([item["source"]["drive"]["wheel_diameter"] for item in revisions], ["6.5 cm"])
        self.assertIn("Calibrated on carpet", revisions[0]["why"])
        back = self.send("post", f"rigs/{self.cart['id']}/revisions/{revisions[0]['id']}", None)
        self.assertEqual(back["source"], self.cart["source"])
        self.assertEqual(len(self.get(f"rigs/{self.cart['id']}/revisions")), 2)

    def test_another_name_goes_through_everything_and_back(self):
        path = f"rigs/{self.cart['id']}/rename"
        exercise = next(item for item in self.get("exercises") if item["title"] == "Dock at the barrel")

        def all_of_it():
            texts = [(item["title"], item["text"]) for name in ("behaviours", "wordbooks") for item in self.get(name)]
            tasks = sorted((item["reference"], item["checks"]) for item in self.get("exercises"))
            prints = sorted(Trace.objects.values_list("fingerprint", flat=True))
            rigs = {rig["id"]: rig["source"] for rig in self.get("rigs")}
            return sorted(texts), tasks, prints, rigs, sorted(item["text"] for item in self.get("inputs"))

        before = all_of_it()
        names = {"old": "nose", "new": "rail"}
        plan = self.send("post", path, names | {"plan": True})
        self.assertEqual(all_of_it(), before, "a plan changes nothing")
        self.assertTrue(
            {"rig", "behaviour", "trace", "checks of", "reference of"} <= {item["what"] for item in plan["changes"]}
        )
        self.assertTrue(any("hand-ins name" in said for said in plan["staying"]))
        done = self.send("post", path, names)
        self.assertEqual(done["changes"], plan["changes"])
        self.assertNotEqual(all_of_it(), before)
        dock = self.send("post", "bench/run", {"rig": self.cart["id"], "text": self.get(f"exercises/{exercise['id']}")["reference"],
                                               "trace": self.trace["id"]})  # fmt: skip
        self.assertEqual([hint for hint in dock["hints"] if hint["level"] == "error"], [])
        self.assertGreater(dock["run"]["lasted"], 5)
        self.assertIn("rail", [lane["part"] for lane in self.get(f"traces/{self.trace['id']}/lanes")["lanes"]])
        self.send("post", path, {"old": "rail", "new": "nose"})
        self.assertEqual(all_of_it(), before)
        self.assertEqual(self.send("post", path, {"old": "nose", "new": "range"}, 422)["path"], "parts.range")

    def test_the_rig_s_own_name_goes_along_where_no_hand_in_has_it(self):
        source = dict(self.cart["source"], name="barrow")
        refused = self.send("patch", f"rigs/{self.cart['id']}", {"source": source}, 400)
        self.assertIn('hand-ins are for rig "glasshouse-cart"', refused["detail"])
        made = self.send("post", "rigs", {"source": source}, 201)
        text = 'behaviour "One"\nfor rig "barrow"\n\nbegin:\n    wait 1 s\n'
        behaviour = self.send("post", "behaviours", {"rig": made["id"], "title": "One", "text": text}, 201)
        body = {"rig": made["id"], "title": "Task", "reference": text, "checks": ""}
        exercise = self.send("post", "exercises", body, 201)
        self.send("patch", f"rigs/{made['id']}", {"source": source | {"name": "wheelbarrow"}})
        self.assertIn('for rig "wheelbarrow"', self.get(f"behaviours/{behaviour['id']}")["text"])
        self.assertIn('for rig "wheelbarrow"', self.get(f"exercises/{exercise['id']}")["reference"])

    def test_what_can_be_said_and_what_conflicts(self):
        words = self.get("rig-words")
        self.assertEqual(
            [item["name"] for item in words["templates"]],
            ["two wheels", "two wheels with sensors", "parts without wheels"],
        )
        for template in words["templates"]:
            self.assertEqual(self.send("post", "rig-check", {"source": template["source"]}), [])
            made = self.send("post", "rigs", {"source": template["source"]}, 201)
            source = made["source"] | {"loop": "20 ms"}
            self.send("patch", f"rigs/{made['id']}", {"source": source, "started_from": made["version"]})
            self.send("patch", f"rigs/{made['id']}", {"source": made["source"], "started_from": made["version"]}, 409)
        source = dict(self.cart["source"], parts=dict(self.cart["source"]["parts"]))
        source["parts"]["lamp"] = source["parts"]["lamp"] | {"port": "A1"}
        told = self.send("post", "rig-check", {"source": source})
        self.assertEqual([item["parts"] for item in told], [["lamp", "range"]])

    def test_what_behaviours_ask_that_the_rig_cannot_do(self):
        path, source = f"rigs/{self.cart['id']}/fit", self.cart["source"]
        text = 'behaviour "Kept"\nbegin:\n    left at 60 rpm for 1 s\n'
        self.send("post", "behaviours", {"rig": self.cart["id"], "title": "Kept", "text": text}, 201)
        self.assertEqual(self.send("post", path, {"source": source}), [])
        parts = dict(source["parts"])
        del parts["soil"]
        parts["nozzle"] = parts["nozzle"] | {"greatest": "60 deg"}
        parts["left"] = {key: value for key, value in parts["left"].items() if key != "encoder"}
        misfits = self.send("post", path, {"source": source | {"parts": parts}})
        told = {item["title"]: (item["line"], item["parts"]) for item in misfits}
        self.assertEqual(told["Water and shine"], (29, ["nozzle"]))
        self.assertEqual(told["Kept"], (3, ["left"]))
        self.assertIn("encoder", next(item["message"] for item in misfits if item["title"] == "Kept"))
        self.send("post", path, {"source": {}}, 422)
        self.client.force_login(self.stranger)
        self.send("post", path, {"source": source}, 404)

    def test_trials_are_practised(self):
        path = f"rigs/{self.cart['id']}/practise"
        spun = self.send("post", path, {"motor": "left"})
        self.assertEqual(spun["turned"] < 0, spun["wired_round"])
        driven = self.send("post", path, {})
        self.assertEqual(driven["aside"] > 0, driven["weaker"] == "left")
        self.send("post", path, {"motor": "nose"}, 422)

    def test_a_motor_s_other_name_goes_to_the_worktops_it_is_used_on(self):
        hoist = next(rig for rig in self.get("rigs") if rig["name"] == "seed-hoist")
        plan = self.send("post", f"rigs/{hoist['id']}/rename", {"old": "jaw", "new": "claw"})
        self.assertEqual(sum(item["what"] == "loads on" for item in plan["changes"]), 3)
        exercise = next(item for item in self.get("exercises") if item["title"] == "Tray to the shelf")
        floor = next(item for item in self.get("floors") if item["name"] == "Potting bench")
        asked = {"rig": hoist["id"], "text": exercise["reference"], "floor": floor["id"], "limit": 25,
                 "doings": [{"at": 0.5, "name": "go", "value": 1}], "seed": 1}  # fmt: skip
        run = self.send("post", "bench/run", asked)["run"]
        self.assertEqual((run["said"], [load["gripped_by"] for load in run["loads"]]), ("on the shelf", ["claw"]))
        self.assertEqual({lane["part"] for lane in run["turned"]}, {"slew", "hoist", "claw"})
        self.assertAlmostEqual(
            max(next(lane for lane in run["turned"] if lane["part"] == "slew")["values"]), 180, delta=3
        )

    def test_what_is_wrong_or_somebody_elses(self):
        odd = {"geduld": "measurements/1", "surface": "x", "rows": [{"move": "jump"}]}
        self.assertEqual(
            self.send("post", "measurements", {"rig": self.cart["id"], "source": odd}, 422)["path"], "rows[0].move"
        )
        sheet = self.send("post", "measurements", {"rig": self.cart["id"], "source": odd | {"rows": []}}, 201)
        still = next(rig for rig in self.get("rigs") if not rig["has_drive"])
        other = self.send("post", "measurements", {"rig": still["id"], "source": odd | {"rows": []}}, 201)
        self.assertEqual(self.get(f"measurements/{other['id']}/findings", 422)["code"], "no-drive")
        self.client.force_login(self.stranger)
        self.get(f"measurements/{sheet['id']}/findings", 404)
        self.get(f"rigs/{self.cart['id']}/revisions", 404)
        self.send("post", f"measurements/{sheet['id']}/apply", {"words": ["travel"]}, 404)
