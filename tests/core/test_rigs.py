"""Rigs as they are edited: what can be said, what conflicts, and other names that go through everything."""

import copy
import json
import unittest

from geduld.errors import RigError
from geduld.grading.exercise import checks_for
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.conflicts import conflicts
from geduld.rig.fields import RIG_FIELDS, fields_of
from geduld.rig.kinds import KINDS
from geduld.rig.physics_reader import BODY_KEYS
from geduld.rig.reader import PART_KEYS, RIG_KEYS, rig_from_json
from geduld.rig.renaming import (
    renamed_channel,
    renamed_in_worktop,
    renamed_inputs,
    renamed_part,
    renamed_rig_in_text,
    renamed_text,
)
from geduld.rig.templates import TEMPLATES
from geduld.run.world import FloorWorld, TraceWorld
from geduld.wordbook.binder import good_wordbook
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.inputs import inputs_from_csv
from geduld.worlds.recording import read_trace
from geduld.worlds.trace import Trace
from tests.glasshouse import DEMO, cart, garden_moves


class Renaming(unittest.TestCase):
    def test_a_behaviour_does_the_same_under_every_other_name(self):
        rig, library = cart(), garden_moves()
        trace = read_trace(DEMO / "traces" / "dry-day.csv", rig)
        for path in sorted((DEMO / "behaviours").glob("*.geduld")):
            text = path.read_text()
            if "include" in text:
                continue
            before, _ = TraceWorld(trace, rig).run(runner_for(text, rig, library), text)
            for old in rig.parts:
                new = f"{old}_anew"
                changed = renamed_text(text, old, new)
                self.assertEqual(renamed_text(changed, new, old), text, "there and back is where it was")
                other = rig_from_json(renamed_part(dict(rig.source), old, new))
                errors = [hint for hint in NotationProgram(changed, other, library).hints if hint.level == "error"]
                self.assertEqual(errors, [], (path.name, old))
                if changed == text:
                    continue
                moved = Trace(
                    trace.times, {renamed_channel(name, old, new): values for name, values in trace.channels.items()}
                )
                after, _ = TraceWorld(moved, other).run(runner_for(changed, other, library), changed)
                self.assertEqual(
                    {
                        renamed_channel(name, old, new): repr(steps.values.tolist())
                        for name, steps in before.commands.items()
                    },
                    {name: repr(steps.values.tolist()) for name, steps in after.commands.items()},
                    (path.name, old),
                )

    def test_checks_wordbooks_and_inputs_go_along(self):
        for path in DEMO.glob("*/checks.geduld"):
            if path.parent.name == "come-when-called":
                continue
            source = json.loads((path.parent / "rig.json").read_text())
            for old in source["parts"]:
                other = rig_from_json(renamed_part(source, old, f"{old}_anew"))
                changed = renamed_text(path.read_text(), old, f"{old}_anew")
                errors = [hint for hint in checks_for(changed, other).hints if hint.level == "error"]
                self.assertEqual(errors, [], (path, old))
        rig = cart()
        for old in rig.parts:
            new = f"{old}_anew"
            other = rig_from_json(renamed_part(dict(rig.source), old, new))
            for path in (DEMO / "wordbooks").glob("*.geduld"):
                self.assertIsNotNone(good_wordbook(renamed_text(path.read_text(), old, new), other), (path.name, old))
            for path in (DEMO / "inputs").glob("*.csv"):
                inputs_from_csv(renamed_inputs(path.read_text(), old, new).encode(), other, ["crate"])

    def test_a_motor_goes_along_in_switches_worktops_and_partners_checks(self):
        source = json.loads((DEMO / "rigs" / "seed-hoist.json").read_text())
        bench = json.loads((DEMO / "floors" / "potting-bench.json").read_text())
        for old in ("hoist", "slew", "jaw"):
            changed, place = renamed_part(source, old, "arm"), renamed_in_worktop(bench, old, "arm")
            rig, floor = rig_from_json(changed), floor_from_json(place)
            text = renamed_text((DEMO / "hoist" / "tray-to-the-shelf.geduld").read_text(), old, "arm")
            hands = inputs_from_csv((DEMO / "hoist" / "go-is-pressed.csv").read_bytes(), rig)
            record = FloorWorld(floor, rig, hands, limit_us=20_000_000).run(runner_for(text, rig))[0]
            self.assertEqual(record.said, "on the shelf", old)
        self.assertEqual(rig.physics.mounts["low"].on, "hoist")
        self.assertEqual(rig_from_json(renamed_part(source, "hoist", "arm")).physics.mounts["low"].on, "arm")
        check = 'check "x":\n    after partner.lamp > 0 %, within 1 s, lamp > 0 %\n'
        self.assertEqual(renamed_text(check, "lamp", "bulb"), check.replace(" lamp", " bulb"))
        self.assertEqual(
            renamed_text(check, "lamp", "bulb", of_partner=True), check.replace("partner.lamp", "partner.bulb")
        )

    def test_what_is_no_part_stays(self):
        text = 'for rig "cart"\nbegin:\n    turn left at 30 % about left wheel for 90 deg  # left of it\n    left at 3 %\n    note "left"\n    wait until left.angle > reference.left.angle\n'
        changed = renamed_text(text, "left", "port_side")
        self.assertIn("turn left at 30 % about left wheel for 90 deg  # left of it", changed)
        self.assertIn('port_side at 3 %\n    note "left"', changed)
        self.assertIn("port_side.angle > reference.port_side.angle", changed)
        book = "word roll(left in %, right in %):\n    drive at left, right\n\nword spin():\n    left at 3 %\n"
        self.assertEqual(renamed_text(book, "left", "a"), book.replace("    left at", "    a at"))
        self.assertIn('for rig "barrow"', renamed_rig_in_text(text, "cart", "barrow"))
        self.assertEqual(
            [renamed_channel(name, "a", "b") for name in ("a", "a.angle", "ab", "x.a")], ["b", "b.angle", "ab", "x.a"]
        )
        for new in ("wait", "cm", "right", "a b", ""):
            with self.assertRaises(RigError, msg=new):
                renamed_part(dict(cart().source), "left", new)


class Describing(unittest.TestCase):
    def test_all_that_a_rig_can_say_has_a_field(self):
        parts = {field.key.split(".")[0] for kind in KINDS.values() for field in fields_of(kind)}
        self.assertEqual(parts | {"kind", "port"}, set(PART_KEYS))
        for kind in KINDS.values():
            said = {field.key.removeprefix("physics.") for field in fields_of(kind) if field.key.startswith("physics.")}
            self.assertEqual(said | {"note"}, set(kind.physics or ()) | {"note"}, kind.word)
        rig = {field.key.split(".")[0] for field in RIG_FIELDS}
        elsewhere = {"geduld", "name", "parts", "exclusive", "drivers", "ports"}
        self.assertEqual(rig | elsewhere, set(RIG_KEYS))
        body = {field.key.removeprefix("body.") for field in RIG_FIELDS if field.key.startswith("body.")}
        self.assertEqual(body | {"outline", "note"}, set(BODY_KEYS))

    def test_what_a_hand_does_and_what_stands_still(self):
        parts = {kind: {"kind": kind, "port": kind} for kind in ("sound", "battery", "current", "lamp")}
        rig = rig_from_json({"geduld": "rig/1", "name": "ears", "parts": parts})
        floor = floor_from_json(
            {"geduld": "floor/1", "name": "room", "size": ["200 cm", "200 cm"], "start": {"at": ["90 cm", "90 cm"]}}
        )
        hands = inputs_from_csv(b"time [s],sound [%]\n0.5,70\n", rig)
        text = 'behaviour "clap"\nbegin:\n    wait until sound > 60 %\n    if battery > 20 %:\n        lamp on\n    wait until current < 1 %\n    wait 0.2 s\n'
        record, trace = FloorWorld(floor, rig, hands).run(runner_for(text, rig), text)
        self.assertEqual(record.commands["lamp"].values[-1], 100)
        self.assertAlmostEqual(record.commands["lamp"].times[-1] / 1e6, 0.5, delta=0.03)
        self.assertEqual([float(trace.column(name)[0]) for name in ("sound", "battery")], [0, 100])

    def test_templates_are_rigs(self):
        for name, source in TEMPLATES.items():
            rig = rig_from_json(copy.deepcopy(source))
            self.assertEqual(rig.drive is not None, "without" not in name)
            json.dumps(source)

    def test_conflicts_are_all_told_at_their_parts(self):
        self.assertEqual(conflicts(cart().source), [])
        source = json.loads(json.dumps(cart().source))
        source["parts"]["knob"]["port"] = "A1"
        source["parts"]["lamp"]["port"] = "D1"
        told = conflicts(source)
        self.assertEqual({conflict.parts for conflict in told}, {("range", "knob"), ("lamp", "nose")})
        source = json.loads(json.dumps(cart().source))
        ports = {part["port"]: [] for part in source["parts"].values()}
        del ports["L1"]
        source["ports"] = ports | {"A1": ["knob"], "A2": ["range", "knob"]}
        told = {conflict.parts: conflict for conflict in conflicts(source)}
        self.assertEqual(set(told), {("lamp",), ("range",)})
        self.assertIn("A2", told[("range",)].remedy)
        source = json.loads(json.dumps(cart().source))
        source["parts"]["nozzle"]["least"] = "200 deg"
        self.assertEqual([conflict.parts for conflict in conflicts(source)], [("nozzle",)])
        self.assertEqual(conflicts([])[0].parts, ())


if __name__ == "__main__":
    unittest.main()
