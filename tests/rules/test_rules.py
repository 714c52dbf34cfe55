"""Rules of the house: which way imports point, what the published schemas say, and what no file may hold."""

import ast
import json
import re
import subprocess
import unittest

import jsonschema_rs

from geduld.calibration.measurements import sheet_from_json
from geduld.grading.cases import CASE_KEYS
from geduld.grading.exercise import EXERCISE_KEYS, read_exercise
from geduld.grading.folders import marks_json, read_hand_ins
from geduld.grading.grade import grade_all
from geduld.grading.proofreading import prove
from geduld.readers.notation import runner_for
from geduld.recordings.understanding import understood
from geduld.rig.physics_reader import BODY_KEYS, PHYSICS_KEYS
from geduld.rig.reader import PART_KEYS, RIG_KEYS
from geduld.run.record.as_json import record_to_json
from geduld.worlds.floor.reader import FLOOR_KEYS, THING_KEYS
from geduld.worlds.recording import read_trace
from tests.core.test_traces import SKETCH
from tests.glasshouse import DEMO, EXERCISE, ROOT, cart, on_floors, small_rig

MEASURED = {"geduld": "measurements/1", "surface": "tiles", "battery": "90 %", "rows": [
    {"move": "straight", "by": "encoder", "power": "40 %", "amount": "100 cm", "measured": "97.5 cm", "sideways": "-2 cm"},
    {"move": "turn", "by": "time", "power": "30 %", "time": "1 s", "measured": "171 deg", "kept_out": True}]}  # fmt: skip
ORDER = [
    "errors",
    "language",
    "rig",
    "binding",
    "wordbook",
    "translation",
    "worlds",
    "recordings",
    "run",
    "script",
    "hints",
    "why",
    "readers",
    "calibration",
    "live",
    "standin",
    "understood",
    "checks",
    "grading",
    "cli",
    "__main__",
]
# The storeys of a package: what stands further left knows nothing of what stands further right.
STOREYS = {"run": ["record", "search", "program", ("recorded", "feedback"), "runner", "world", "together"]}
SCHEMAS = ROOT / "docs" / "schemas"


def imports(path):
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            yield from (alias.name for alias in node.names)
        elif isinstance(node, ast.ImportFrom):
            yield node.module or ""


class Rules(unittest.TestCase):
    def test_arrows_point_one_way(self):
        for path in (ROOT / "geduld").rglob("*.py"):
            parts = path.relative_to(ROOT / "geduld").with_suffix("").parts
            if parts == ("__init__",):
                continue
            for name in imports(path):
                top, _, rest = name.partition(".")
                with self.subTest(path=str(path), name=name):
                    self.assertNotIn(top, ("django", "rest_framework", "server", "tests"))
                    if top == "geduld":
                        self.assertLessEqual(ORDER.index(rest.split(".")[0]), ORDER.index(parts[0]))

    def test_storeys_know_nothing_of_those_above_them(self):
        for package, storeys in STOREYS.items():
            height = {}
            for floor, rooms in enumerate(storeys):
                height |= dict.fromkeys((rooms,) if isinstance(rooms, str) else rooms, floor)
            found = {path.stem for path in (ROOT / "geduld" / package).iterdir()} - {"__init__", "__pycache__"}
            self.assertEqual(found, set(height), "every room has its storey")
            for path in (ROOT / "geduld" / package).rglob("*.py"):
                room = path.relative_to(ROOT / "geduld" / package).with_suffix("").parts[0]
                for name in imports(path):
                    if room != "__init__" and name.startswith(f"geduld.{package}."):
                        other = name.split(".")[2]
                        with self.subTest(path=str(path), name=name):
                            self.assertTrue(height[other] < height[room] or other == room)

    def test_no_package_has_a_circle_inside(self):
        modules = {
            ".".join(path.relative_to(ROOT).with_suffix("").parts).removesuffix(".__init__"): path
            for folder in ("geduld", "server")
            for path in (ROOT / folder).rglob("*.py")
        }
        known = {name: set(imports(path)) & modules.keys() for name, path in modules.items()}
        while known:
            last = {name for name, needs in known.items() if not needs & known.keys() - {name}}
            self.assertTrue(last, f"these modules need each other in a circle: {sorted(known)}")
            known = {name: needs for name, needs in known.items() if name not in last}

    def test_the_server_reaches_the_core_and_never_the_other_way_round(self):
        for path in (ROOT / "server").rglob("*.py"):
            self.assertFalse([name for name in imports(path) if name.startswith("tests")], path)

    def test_files_and_outputs_follow_their_schemas(self):
        def check(name, value):
            schema = json.loads((SCHEMAS / f"{name}.schema.json").read_text())
            jsonschema_rs.meta.validate(schema)
            jsonschema_rs.Draft202012Validator(schema).validate(value)

        check("rig-1", json.loads((DEMO / "rigs" / "glasshouse-cart.json").read_text()))
        check("rig-1", dict(small_rig().source))
        for path in DEMO.glob("*/exercise.json"):
            check("exercise-1", json.loads(path.read_text()))
        text = (DEMO / "behaviours" / "dock-at-the-barrel.geduld").read_text()
        record = runner_for(text, cart()).run(read_trace(DEMO / "traces" / "missed-echoes.csv", cart()), None, text)
        check("record-1", record_to_json(record))
        for path in (DEMO / "floors").glob("*.json"):
            check("floor-1", json.loads(path.read_text()))
        hands = (DEMO / "behaviours" / "drive-by-tilt.geduld").read_text()
        check("record-1", record_to_json(on_floors()["drive-by-tilt"].run(runner_for(hands, cart()), hands)[0]))
        check("proof-1", prove(read_exercise(EXERCISE)).as_json())
        check("marks-1", marks_json(grade_all(read_exercise(EXERCISE), read_hand_ins(DEMO / "hand-ins"))))
        for recording in (DEMO / "recordings").iterdir():
            check("recipe-1", understood(recording.read_bytes(), cart()).recipe.as_json())
        check("sketch-1", SKETCH)
        check("measurements-1", MEASURED)
        sheet_from_json(MEASURED)
        rig = json.loads((SCHEMAS / "rig-1.schema.json").read_text())
        self.assertEqual(set(rig["properties"]), set(RIG_KEYS), "the schema knows what the reader knows")
        self.assertEqual(set(rig["$defs"]["part"]["properties"]), set(PART_KEYS))
        self.assertEqual(set(rig["properties"]["body"]["properties"]), set(BODY_KEYS))
        self.assertEqual(set(rig["$defs"]["part"]["properties"]["physics"]["properties"]), set(PHYSICS_KEYS))
        floor = json.loads((SCHEMAS / "floor-1.schema.json").read_text())["properties"]
        self.assertEqual(set(floor), set(FLOOR_KEYS))
        for key, known in THING_KEYS.items():
            self.assertEqual(set(floor[key]["items"]["properties"]), set(known), key)
        exercise = json.loads((SCHEMAS / "exercise-1.schema.json").read_text())
        self.assertEqual(set(exercise["properties"]), set(EXERCISE_KEYS))
        self.assertEqual(set(exercise["properties"]["cases"]["items"]["properties"]), set(CASE_KEYS))
        with self.assertRaises(jsonschema_rs.ValidationError):
            check("rig-1", {"geduld": "rig/1", "name": "x", "parts": {"a": {"kind": "moter", "port": "1"}}})

    def test_the_demonstration_is_what_its_script_makes(self):
        from demo.make_traces import HERE, MORNINGS, RIDES, make, make_ride
        from geduld.worlds.trace_csv import trace_to_csv

        made = [(morning.file, make(morning)) for morning in MORNINGS] + [(r.file, make_ride(r)) for r in RIDES]
        for file, trace in made:
            self.assertEqual(trace_to_csv(trace, cart()), (HERE / "traces" / file).read_text())
        from demo.make_recordings import FILES

        for name, recording in FILES.items():
            self.assertEqual(recording(), (DEMO / "recordings" / name).read_bytes())
        for copy in DEMO.glob("dock-at-the-barrel*/*.csv"):
            if (DEMO / "traces" / copy.name).exists():
                self.assertEqual(copy.read_text(), (DEMO / "traces" / copy.name).read_text())
        for copy in (
            *DEMO.glob("gentle-docking/*-*.json"),
            *DEMO.glob("round-the-bed/*-*.json"),
            *DEMO.glob("look-it-over/*-*.json"),
            *DEMO.glob("come-when-called/*-*.json"),
            *DEMO.glob("trays-to-the-shelf/*-*.json"),
        ):
            self.assertEqual(copy.read_text(), (DEMO / "floors" / copy.name).read_text())
        for copy, kept in (
            ("handset.json", "rigs/door-handset.json"),
            ("handset.geduld", "handset/call-the-cart.geduld"),
        ):
            self.assertEqual((DEMO / "come-when-called" / copy).read_text(), (DEMO / kept).read_text())
        for copy in DEMO.glob("*/rig.json"):
            name = json.loads(copy.read_text())["name"]
            self.assertEqual(copy.read_text(), (DEMO / "rigs" / f"{name}.json").read_text())

    def test_the_class_is_what_its_script_makes(self):
        from demo.make_class import CLASS, RECEIVED, programs, received

        found = {path.stem: path.read_text() for path in CLASS.glob("*.geduld")}
        self.assertEqual((len(found), found), (28, programs()))
        self.assertEqual(RECEIVED.read_text(), received())

    def test_every_message_code_is_in_the_notation_page(self):
        page = (ROOT / "docs" / "messages.md").read_text()
        codes = set()
        for folder in ("language", "binding", "checks"):
            for path in (ROOT / "geduld" / folder).rglob("*.py"):
                codes |= set(re.findall(r'error\(\s*"([a-z0-9-]+)"', path.read_text()))
        codes |= {"unexpected"}
        self.assertGreater(len(codes), 40)
        self.assertEqual(codes, set(re.findall(r"^\| `([a-z0-9-]+)`", page, re.MULTILINE)))

    def test_no_file_names_this_machine_or_a_registry(self):
        files = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True).stdout.split()
        odd = re.compile(r"registry\.npm|pypi\.org|files\.pythonhosted|/(?:work|root)/[a-z.]")
        for name in files:
            if (ROOT / name).suffix in (
                ".py",
                ".ts",
                ".tsx",
                ".md",
                ".json",
                ".lock",
                ".toml",
                "",
                ".sh",
            ) and name != "tests/rules/test_rules.py":
                self.assertIsNone(odd.search((ROOT / name).read_text(encoding="utf-8", errors="replace")), name)
