"""A program, a trace and the record it must make, as files; worked out by hand from the trace's rules."""

import json
import unittest
from pathlib import Path

import numpy as np

from geduld.language.formatter import format_plan
from geduld.language.parser import parse
from geduld.readers.notation import runner_for
from geduld.run.record.as_json import record_from_text, record_to_json
from geduld.worlds.recording import read_trace
from tests.glasshouse import DEMO, cart, changes, small_rig

HERE = Path(__file__).parent
RESTING = {"left": 0.0, "right": 0.0, "lamp": 0.0, "nozzle": None, "shade": 0.0, "buzzer": 0.0}


class Scenarios(unittest.TestCase):
    maxDiff = None

    def test_each_scenario_makes_its_record(self):
        rig = small_rig()
        steps, recorded = (read_trace(HERE / f"{name}.csv", rig) for name in ("steps", "recorded"))
        programs = sorted(HERE.glob("*.geduld"))
        self.assertGreater(len(programs), 12)
        for path in programs:
            with self.subTest(path.stem):
                text = path.read_text()
                expected = json.loads(path.with_suffix(".json").read_text())
                world = recorded if path.stem.startswith("recorded") else steps
                record = runner_for(text, rig).run(world, None, text)
                found = record_to_json(record)
                commands = {name: [[0.0, value]] for name, value in RESTING.items()} | expected["commands"]
                self.assertEqual(found["commands"], commands)
                for key in ("ended", "program", "events"):
                    self.assertEqual(found[key], expected[key], key)
                self.assertEqual(found["controls"], expected.get("controls", {}))
                again = record_to_json(record_from_text(json.dumps(found)))
                self.assertEqual(again, found)
                self.assertEqual(format_plan(parse(text).tree), text, "the scenarios are in standard form")

    def test_docking_times_are_those_that_numpy_finds_in_the_file(self):
        """The command times of the demonstration, worked out from the CSV without Geduld."""
        text = (DEMO / "behaviours" / "dock-at-the-barrel.geduld").read_text()
        for name in ("dry-day", "slow-hand", "missed-echoes"):
            with self.subTest(name):
                path = DEMO / "traces" / f"{name}.csv"
                table = np.genfromtxt(path, delimiter=",", names=True, deletechars="")
                columns = {key.split("_")[0]: table[key] for key in table.dtype.names}
                ticks = np.rint(columns["time"] * 1e6).astype(np.int64)
                asked = columns["knob"] > 62
                go = next(k for k in range(len(ticks)) if asked[k : k + 6].all()) + 5
                slow = go + int(np.argmax(columns["range"][go:] < 40))
                dock = slow + int(np.argmax(columns["nose"][slow:] == 1))
                rig = cart()
                record = runner_for(text, rig).run(read_trace(path, rig))
                wanted = [(0, 0.0), (int(ticks[go]), 45.0), (int(ticks[slow]), 20.0), (int(ticks[dock]), 0.0)]
                self.assertEqual(changes(record, "left"), wanted)
                self.assertEqual(changes(record, "right"), wanted)
                valve = [(0, 0.0), (int(ticks[dock]), 80.0), (int(ticks[dock]) + 1_500_000, 0.0)]
                self.assertEqual(changes(record, "valve"), valve)
                self.assertEqual((record.ended_at, record.said), (valve[-1][0], "watered"))


if __name__ == "__main__":
    unittest.main()
