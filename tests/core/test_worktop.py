"""A place without a floor: gears, end stops, limit switches, current, and loads that are gripped, carried and put down."""

import json
import math
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.errors import FloorError, RigError
from geduld.grading.exercise import read_exercise
from geduld.grading.folders import read_hand_ins
from geduld.grading.grade import grade_all
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import read_rig, rig_from_json
from geduld.run.record.as_json import record_from_text, record_to_json
from geduld.run.world import FloorWorld
from geduld.worlds.floor.reader import floor_from_json, read_floor
from geduld.worlds.inputs import inputs_from_csv
from tests.core.records import verdict
from tests.glasshouse import DEMO, SMALL, program, yard

FULL, TORQUE, DEAD = 300.0, 20.0, 0.04
ARM = {"kind": "motor", "port": "M1", "full_speed": f"{FULL} deg/s", "encoder": {"counts_per_turn": 7200}}
BENCH = {"geduld": "floor/1", "name": "Bench"}


def rig_with(physics, **parts):
    arm = {**ARM, "physics": {"torque": f"{TORQUE} Ncm", **physics}}
    return rig_from_json({"geduld": "rig/1", "name": "arm", "parts": {"arm": arm, **parts}})


def run(steps, rig, bench=BENCH, limit_us=4_000_000, inputs=""):
    hands = inputs_from_csv(inputs.encode(), rig) if inputs else None
    world = FloorWorld(floor_from_json(bench), rig, limit_us=limit_us)
    return (replace(world, inputs=hands) if hands else world).run(runner_for(program(steps), rig))[0]


class Motors(unittest.TestCase):
    @settings(max_examples=25, deadline=None)
    @given(st.floats(0.5, 12), st.floats(0.2, 9), st.integers(50, 100))
    def test_a_gear_makes_a_load_lighter_and_nothing_else(self, gear, load, power):
        steps = f"arm at {power} % for 1 s"
        geared = run(steps, rig_with({"gear": gear, "load": f"{load * gear:.12f} Ncm"}))
        plain = run(steps, rig_with({"load": f"{load:.12f} Ncm"}))
        np.testing.assert_allclose(geared.pose.turned["arm"], plain.pose.turned["arm"], rtol=1e-9, atol=1e-9)

    @settings(max_examples=40, deadline=None)
    @given(
        st.floats(-200, 0), st.floats(1, 200), st.sampled_from([0.5, 1, 3]),
        st.lists(st.tuples(st.integers(-100, 100), st.floats(0.05, 0.9)), min_size=1, max_size=6),
        st.sampled_from(["brake", "coast"]),
    )  # fmt: skip
    def test_nothing_goes_beyond_an_end_stop_and_pressing_against_it_is_told(self, low, high, gear, moves, stop):
        low, high = round(low, 3), round(high, 3)
        limit = {"kind": "limit", "port": "D1", "physics": {"on": "arm", "closes": [f"{high - 5} deg", f"{high} deg"]}}
        rig = rig_with({"gear": gear, "stops": [f"{low} deg", f"{high} deg"]}, top=limit)
        rig = replace(rig, parts={**rig.parts, "arm": replace(rig.parts["arm"], stop=stop)})
        ran = run("\n".join(f"arm at {power} % for {time:.3f} s" for power, time in moves), rig)
        angle = ran.pose.turned["arm"] / gear
        self.assertTrue((angle >= low - 1e-9).all() and (angle <= high + 1e-9).all())
        pressed = ran.readings["top"].at(ran.pose.times)
        np.testing.assert_array_equal(pressed == 1, (angle >= high - 5 - 1e-9) & (angle <= high + 1e-9))
        # how long it had power to spare and stood at a stop, by the record alone
        power = ran.commands["arm"].at(ran.pose.times)
        standing = np.isclose(angle, np.where(power > 0, high, low), rtol=0, atol=1e-9) & (np.abs(power) > 6.5)
        runs = np.diff(np.flatnonzero(np.diff(np.concatenate(([0], standing.astype(int), [0])))))[::2] * 0.01
        ends = sum(event.kind == "end" for event in ran.events)
        self.assertLessEqual(abs(ends - int((runs > 0.3).sum())), int((np.abs(runs - 0.3) < 0.03).sum()), (runs, ends))

    def test_the_current_is_as_the_torque(self):
        """Turning steadily, a motor draws what its load and its own friction take of its stall torque; held fast, all."""
        amps = {"kind": "current", "port": "A1", "physics": {"on": "arm"}}
        for load, power in ((0, 50), (3, 60), (9, 100)):
            rig = rig_with({"load": f"{load} Ncm"} if load else {}, amps=amps)
            drawn = run(f"arm at {power} %\nwait 2 s", rig).readings["amps"]
            self.assertAlmostEqual(float(drawn.at(np.array([1_900_000]))[0]), 100 * (load / TORQUE + DEAD), 3)
        held = run("arm at 70 %\nwait 2 s", rig_with({"stops": ["0 deg", "9 deg"]}, amps=amps)).readings["amps"]
        self.assertAlmostEqual(float(held.values[-1]), 70, 9)

    def test_wheels_turn_in_the_air(self):
        rig = rig_from_json(SMALL)
        ran = run("drive at 60 % for 1 s", rig)
        self.assertGreater(ran.readings["left.angle"].values[-1], 200)
        self.assertEqual(np.abs(ran.pose.values[:, :2]).max(), 0)
        self.assertEqual([event.kind for event in ran.events], [])

    def test_the_battery_sags(self):
        rig = rig_from_json({**SMALL, "parts": {**SMALL["parts"], "fuel": {"kind": "battery", "port": "A9"}}})
        ran = yard(rig).run(runner_for(program("wait 0.5 s\ndrive at 100 % for 0.4 s"), rig))[0]
        self.assertAlmostEqual(float(ran.readings["fuel"].at(np.array([400_000]))[0]), 100)
        self.assertAlmostEqual(float(ran.readings["fuel"].at(np.array([800_000]))[0]), 96)


def hoist():
    return read_rig(DEMO / "rigs" / "seed-hoist.json")


COMMANDS = st.lists(
    st.tuples(st.sampled_from(["hoist", "slew", "jaw"]), st.integers(-100, 100), st.floats(0.05, 2.5)),
    min_size=2, max_size=14,
)  # fmt: skip


class Carrying(unittest.TestCase):
    @settings(max_examples=40, deadline=None)
    @given(COMMANDS, st.sampled_from(["potting-bench", "potting-bench-watered", "potting-bench-soaked"]))
    def test_whatever_is_done_a_load_is_held_or_lies_somewhere(self, moves, bench):
        grip = "jaw at 60 % for 1 s\n"
        steps = grip + "\n".join(f"{motor} at {power} % for {time:.2f} s" for motor, power, time in moves)
        floor = read_floor(DEMO / "floors" / f"{bench}.json")
        ran = FloorWorld(floor, hoist(), limit_us=25_000_000).run(runner_for(program(steps), hoist()))[0]
        tray, turned = ran.pose.loads["tray"], ran.pose.turned
        held, up, aside = tray["held"] == 1, tray["hoist"], tray["slew"]
        self.assertGreaterEqual(up.min(), -1e-6)
        goes = held[1:] & held[:-1]
        for angle, motor, gear in ((up, "hoist", 1), (aside, "slew", 4)):
            np.testing.assert_allclose(np.diff(angle)[goes], np.diff(turned[motor] / gear)[goes], atol=1e-6)
        still = ~held[1:] & ~held[:-1]
        self.assertEqual(np.abs(np.diff(up)[still]).max(initial=0), 0)
        self.assertEqual(np.abs(np.diff(aside)[still]).max(initial=0), 0)
        # what lies, lies on the worktop or on the shelf
        lies = {round(float(value), 6) for value in up[~held]}
        self.assertLessEqual(lies, {0.0, 360.0})
        told = [event.kind for event in ran.events if event.kind in ("gripped", "placed", "dropped")]
        self.assertTrue(all((kind == "gripped") == (place % 2 == 0) for place, kind in enumerate(told)), told)
        self.assertEqual(int(np.sum(np.diff(held.astype(int)) == 1)), told.count("gripped"))
        again = record_from_text(json.dumps(record_to_json(ran)))
        last = np.searchsorted(again.pose.times, ran.pose.times, "right") - 1
        np.testing.assert_allclose(again.pose.loads["tray"]["hoist"][last], up, atol=1e-9)
        self.assertEqual([event.what for event in again.events], [event.what for event in ran.events])

    def test_the_class_on_the_potting_bench(self):
        exercise = read_exercise(DEMO / "trays-to-the-shelf")
        word = {"pass": "p", "part": "h", "fail": "f", "not exercised": "-", "not certain": "?"}
        graded = grade_all(exercise, read_hand_ins(DEMO / "tray-class"))
        found = {item.name: ("".join(word[total.verdict] for total in item.totals), item.points) for item in graded}
        self.assertEqual(
            found,
            {
                "hanno-veld": ("ppfhp-pppp", 12),
                "marit-ashby": ("phfhp-hhhh", 3),
                "pepe-lunden": ("pppppphppp", 19),
                "sanne-orlow": ("pp-p---hpp", 8),
                "wim-falkner": ("pppppppppp", 20),
            },
        )

    def test_what_a_run_tells_of_loads(self):
        text = (DEMO / "trays-to-the-shelf" / "reference.geduld").read_text()
        rig = hoist()
        hands = inputs_from_csv((DEMO / "trays-to-the-shelf" / "go.csv").read_bytes(), rig)
        world = FloorWorld(read_floor(DEMO / "floors" / "potting-bench.json"), rig, hands, limit_us=20_000_000)
        ran = world.run(runner_for(text, rig))[0]
        for sentence, wanted in (
            ('carried "tray" lasts at least 5 s', "pass"), ('gripped "tray" happens 1 times', "pass"),
            ('placed "tray" happens 1 times', "pass"), ('never placed "tray on rack"', "pass"),
            ('first placed "tray on shelf", then finished "on the shelf"', "pass"), ('never dropped "tray"', "pass"),
            ('never carried "tray" while hoist.angle > 400 deg', "fail"), ('never stalled "jaw"', "pass"),
        ):  # fmt: skip
            self.assertEqual(verdict(sentence, ran).verdict, wanted, sentence)


class Hands(unittest.TestCase):
    RIG = rig_from_json({
        **SMALL,
        "parts": {
            **SMALL["parts"],
            "pad": {"kind": "remote", "port": "R7", "keys": ["up", "down"], "channels": 2},
            "lever": {"kind": "stick", "port": "A7"},
        },
    })  # fmt: skip

    def test_keys_of_a_remote_and_axes_of_a_stick(self):
        steps = (
            "wait until pad.up_2 is just pressed\nlamp at 50 %\nwait until lever.x > 40 % and lever.y < 0 %\nlamp off\n"
            "wait until pad.down_1.presses > 1"
        )
        hands = "time [s],pad.up_2,pad.up_1,pad.down_1,lever.x [%],lever.y [%]\n"
        hands += "0.2,,1,1,,\n0.5,1,,0,,\n0.7,0,,1,70,-20\n0.9,,,0,-,-\n"
        for ran in (
            run(steps, self.RIG, inputs=hands),
            replace(yard(self.RIG), inputs=inputs_from_csv(hands.encode(), self.RIG)).run(
                runner_for(program(steps), self.RIG)
            )[0],
        ):
            lamp = ran.commands["lamp"]
            self.assertEqual(list(zip(lamp.times.tolist(), lamp.values.tolist(), strict=True))[1:3],
                             [(500_000, 50.0), (700_000, 0.0)])  # fmt: skip
            self.assertEqual((ran.why, ran.ended_at), ("finished", 700_000))
        for whole in ("pad", "lever"):
            hint = NotationProgram(program(f"wait until {whole} is absent"), self.RIG).errors[0]
            self.assertEqual((hint.code, f"{whole}." in hint.remedy), ("unknown-property", True))

    def test_a_reflective_switch(self):
        """Down it closes over what is lighter than its trimmer; ahead at what stands within its reach."""
        down = {"kind": "reflex", "port": "D7", "physics": {"ahead": "5 cm", "trim": "40 %"}}
        ahead = {"kind": "reflex", "port": "D8", "physics": {"ahead": "9 cm", "facing": "0 deg", "reach": "12 cm"}}
        rig = rig_from_json({**SMALL, "parts": {**SMALL["parts"], "down": down, "eye": ahead}})
        floor = {
            "geduld": "floor/1", "name": "Yard", "size": ["400 cm", "200 cm"], "tone": "80 %",
            "start": {"at": ["50 cm", "100 cm"]},
            "tones": [{"tone": "10 %", "corners": [["70 cm", "0 cm"], ["90 cm", "0 cm"], ["90 cm", "200 cm"], ["70 cm", "200 cm"]]}],
            "walls": [{"from": ["150 cm", "0 cm"], "to": ["150 cm", "200 cm"]}],
        }  # fmt: skip
        world = FloorWorld(floor_from_json(floor), rig, limit_us=8_000_000)
        ran = world.run(runner_for(program("drive at 60 % until eye is pressed\nfinish"), rig))[0]
        x = ran.pose.values[:, 0] * 100
        times = ran.pose.times[ran.pose.times <= ran.ended_at]
        dark = (x[: len(times)] + 5 > 70.8) & (x[: len(times)] + 5 < 89.2)
        light = (x[: len(times)] + 5 < 69.2) | (x[: len(times)] + 5 > 90.8)
        reads = ran.readings["down"].at(times)
        self.assertTrue(dark.any() and (reads[dark] == 0).all() and (reads[light] == 1).all())
        self.assertAlmostEqual(float(np.interp(ran.ended_at, ran.pose.times, x)), 150 - 12 - 9, delta=1.0)


LOAD = {
    "name": "tray", "lifted_by": "arm", "gripped_by": "jaw", "grips_at": "60 deg", "pulls": "5 Ncm",
    "lies": [{"arm": "0 deg"}],
}  # fmt: skip
WRONG_BENCHES = [
    ({"walls": []}, "walls"), ({"loads": [{**LOAD, "gripped_by": "arm"}]}, "loads.0.gripped_by"),
    ({"loads": [{**LOAD, "lies": []}]}, "loads.0.lies"), ({"loads": [{**LOAD, "lies": [{"jaw": "0 deg"}]}]}, "loads.0.lies.0"),
    ({"loads": [{**LOAD, "lies": [{"arm": "0 deg"}, {"arm": "9 deg", "x": "1 deg"}]}]}, "loads.0.lies.0"),
    ({"loads": [{**LOAD, "pulls": "5 kg"}]}, "loads.0.pulls"), ({"loads": [LOAD, LOAD]}, "loads.1.name"),
    ({"loads": [LOAD], "size": ["90 cm", "90 cm"], "start": {"at": ["9 cm", "9 cm"]}}, "loads"),
    ({"size": ["90 cm", "90 cm"]}, "start"),
]  # fmt: skip
WRONG_PARTS = [
    ({"physics": {"stops": ["9 deg", "20 deg"]}}, "parts.arm.physics.stops"),
    ({"physics": {"stops": ["9 deg"]}}, "parts.arm.physics.stops"), ({"physics": {"gear": "3"}}, "parts.arm.physics.gear"),
    ({"kind": "limit", "physics": {"closes": ["0 deg", "2 deg"]}}, "parts.arm.physics"),
    ({"kind": "limit", "physics": {"on": "leg", "closes": ["0 deg", "2 deg"]}}, "parts.arm.physics.on"),
    ({"kind": "remote"}, "parts.arm.keys"), ({"kind": "remote", "keys": ["up", "up"]}, "parts.arm.keys"),
    ({"kind": "remote", "keys": ["on"]}, "parts.arm.keys"), ({"keys": ["up"]}, "parts.arm.keys"),
    ({"kind": "remote", "keys": ["up"], "channels": 9}, "parts.arm.channels"),
    ({"kind": "bump", "active": "no"}, "parts.arm.active"), ({"kind": "knob", "active": "low"}, "parts.arm.active"),
]  # fmt: skip


class Wrong(unittest.TestCase):
    def test_what_is_wrong_is_named_with_its_place(self):
        for extra, path in WRONG_BENCHES:
            with self.subTest(extra), self.assertRaises(FloorError) as caught:
                floor_from_json({**BENCH, **extra})
            self.assertEqual(caught.exception.place.path, path, extra)
        for extra, path in WRONG_PARTS:
            with self.subTest(extra), self.assertRaises(RigError) as caught:
                rig_from_json(
                    {"geduld": "rig/1", "name": "x", "parts": {"arm": {"kind": "motor", "port": "M1", **extra}}}
                )
            self.assertEqual(caught.exception.place.path, path, extra)
        with self.assertRaises(FloorError) as caught:
            run("arm at 9 %", rig_with({}), {**BENCH, "loads": [LOAD]})
        self.assertEqual((caught.exception.code, caught.exception.place.path), ("no-such-motor", "loads.0"))
        self.assertFalse(math.isnan(run("arm at 9 %", rig_with({})).ended_at))
