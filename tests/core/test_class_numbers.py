"""Numbers as classes have them: a converter's, a motor's own scale, pulls of gravity, values that cannot be, ports."""

import unittest

import numpy as np

from geduld.errors import RigError, TraceError
from geduld.readers.notation import NotationProgram, runner_for
from geduld.rig.reader import rig_from_json
from geduld.run.record.record import recorded
from geduld.run.world import FloorWorld
from geduld.worlds.doubts import doubts, without_doubtful
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.inputs import inputs_from_csv, inputs_to_csv
from geduld.worlds.trace_csv import trace_from_csv, trace_to_csv
from tests.core.records import verdict
from tests.core.test_hints import PLAIN
from tests.glasshouse import SMALL, changes, program, small_rig


def rig_with(parts, **more):
    return rig_from_json({**SMALL, "parts": {**SMALL["parts"], **parts}, **more})


def with_scale(ends):
    return rig_with({side: {**SMALL["parts"][side], "scale": ends} for side in ("left", "right")})


class ConvertersNumbers(unittest.TestCase):
    def test_raw_columns_are_readings(self):
        shifted = {"kind": "knob", "port": "A2", "raw": [200, 3800], "least": "10 %", "greatest": "90 %"}
        for rig, raw, wanted in (
            (small_rig(), [0, 1023, 512], [0, 100, 512 / 1023 * 100]),
            (rig_with({"knob": shifted}), [200, 3800, 2000], [10, 90, 50]),
        ):
            rows = "".join(f"{k},{value}\n" for k, value in enumerate(raw))
            trace = trace_from_csv(f"time [s],knob.raw\n{rows}".encode(), rig)
            np.testing.assert_allclose(trace.channels["knob"], wanted, rtol=1e-12)
            text = program(f"wait until knob.raw = {raw[2]}\nlamp on")
            self.assertEqual(changes(runner_for(text, rig).run(trace), "lamp")[-1], (2_000_000, 100.0))
            inputs = inputs_from_csv(f"time [s],knob.raw\n1,{raw[2]}\n".encode(), rig)
            np.testing.assert_allclose(inputs.channels["knob"], wanted[2:], rtol=1e-12)
            self.assertTrue(inputs_to_csv(inputs, rig).startswith("time [s],knob [%]\n"))

    def test_a_bare_number_beside_a_knob_means_its_converter(self):
        found = NotationProgram(program("wait until knob > 350"), small_rig()).hints[0]
        self.assertEqual((found.code, found.fix), ("number-without-unit", "knob.raw"))
        self.assertIn("0 to 1023", found.message)

    def test_pulls(self):
        tilt = {"kind": "tilt", "port": "T1", "unit": "g"}
        rig = rig_with({"tilt": tilt})
        trace = trace_from_csv(b"time [s],tilt.x [m/s2],tilt.y\n0,0,0\n1,4.903325,0.25\n", rig)
        np.testing.assert_allclose([trace.channels[f"tilt.{axis}"][1] for axis in "xy"], [490.3325, 245.16625])
        text = program("wait until tilt.x > 2 m/s2 and tilt.y > 0.2 g\nlamp on")
        self.assertEqual(changes(runner_for(text, rig).run(trace), "lamp")[-1], (1_000_000, 100.0))
        ramp = {"name": "hill", "slope": "10 deg", "uphill": "0 deg", "at": ["50 cm", "150 cm"], "radius": "40 cm"}
        floor = floor_from_json({**PLAIN, "ramps": [ramp]})
        ran, _ = FloorWorld(floor, rig, limit_us=100_000).run(runner_for(program("wait 0.1 s"), rig))
        self.assertAlmostEqual(abs(float(ran.readings["tilt.x"].values[-1])), 981 * np.sin(np.radians(10)), 3)


class Scales(unittest.TestCase):
    def test_programs_recordings_and_evidence_speak_a_motors_numbers(self):
        for ends, number, power in (([-127, 127], -64, -6400 / 127), ([0, 255], 51, 20.0)):
            rig = with_scale(ends)
            for steps in (
                f"left at {number} for 1 s",
                f"drive at {number} for 1 s",
                f"set n to {number}\nleft at n for 1 s",
            ):
                bound = runner_for(program(steps), rig)
                trace = trace_from_csv(b"time [s],nose\n0,0\n3,0\n", rig)
                ran = bound.run(trace)
                self.assertAlmostEqual(changes(ran, "left")[0][1], power, 12, steps)
            found = verdict(f"never left = {number}", ran)
            self.assertIn(f"left was {number}", found.because)
            for sentence in (
                f"drive = {number} happens 0 times",
                f"left = {number} +- 1 happens 1 time",
                f"left = {number + 6} +- 6 happens 1 time",
                f"after left = {number}, within 1 s, left = 0",
                f"at the end, left < {abs(number)}",
            ):
                self.assertEqual(verdict(sentence, ran).verdict, "pass", sentence)
            other = runner_for(program(f"left at {number + 6} for 1 s"), rig).run(trace)
            for within, word, said in ((6, "pass", "by 6:"), (5, "fail", "not within 5.")):
                found = verdict(f"left matches reference.left within {within}", ran, other)
                self.assertEqual(found.verdict, word, found.because)
                self.assertIn(said, found.because)
            trace = trace_from_csv(f"time [s],left,right [%]\n0,{number},{power}\n1,0,0\n".encode(), rig)
            np.testing.assert_allclose(trace.channels["left"], trace.channels["right"])
            self.assertIn(f"left,right\n0,{number},{number}", trace_to_csv(trace, rig))
            self.assertEqual(verdict(f"left = {number} happens 1 time", recorded(trace, rig)).verdict, "pass")
        hints = NotationProgram(program("left at 200 for 1 s"), with_scale([-127, 127])).hints
        self.assertIn("it will do 127", next(h.message for h in hints if h.code == "past-range"))

    def test_scales_and_ports_that_cannot_be(self):
        for parts, more, code, said in (
            ({"lamp": {"kind": "lamp", "port": "L1", "scale": [0, 255]}}, {}, "rig-value", "no scale"),
            ({"left": {"kind": "motor", "port": "M1", "scale": [-3, 127]}}, {}, "rig-value", "[-127, 127]"),
            ({}, {"ports": {"M1": ["motor"]}}, "no-such-port", "no port"),
            ({}, {"ports": {**{p["port"]: [] for p in SMALL["parts"].values()}, "M1": ["lamp"], "M7": []}}, "wrong-port", "M7"),
            ({}, {"ports": ["M1"]}, "rig-value", "list of the kinds"),
        ):  # fmt: skip
            with self.subTest(said), self.assertRaises(RigError) as caught:
                rig_with(parts, **more)
            self.assertIn(said, str(caught.exception))
            self.assertEqual(caught.exception.code, code)
        rig_with({}, ports={part["port"]: [] for part in SMALL["parts"].values()})


class WithoutSensors(unittest.TestCase):
    def test_any_recording_is_a_time_axis(self):
        """What a rig without sensors cannot name is passed over; a rig with sensors is told of it."""
        rig = rig_from_json({"geduld": "rig/1", "name": "hoist", "parts": {"hoist": {"kind": "motor", "port": "M1"}}})
        data = b"time [s],nose,range [cm],hoist [%]\n0,0,180,20\n1,1,,30\n4,0,3,40\n"
        trace = trace_from_csv(data, rig)
        self.assertEqual((list(trace.channels), trace.duration_us), (["hoist"], 4_000_000))
        ran = runner_for(program("hoist at 30 % for 2 s\nwait 1 s"), rig).run(
            trace_from_csv(data.replace(b"hoist", b"x"), rig)
        )
        self.assertEqual((ran.why, ran.ended_at, changes(ran, "hoist")[-1]), ("finished", 3_000_000, (2_000_000, 0.0)))
        with self.assertRaises(TraceError):
            trace_from_csv(data, small_rig())


class WhatCannotBe(unittest.TestCase):
    def test_it_is_told_with_its_number_and_dropped_by_choice(self):
        rig = rig_with({"eye": {"kind": "range", "port": "A9", "greatest": "200 cm"}})
        rows = ["time [s],knob [%],eye [cm],lamp [%],left.angle,range [cm],nose"]
        rows += [f"{k / 10},{158 if k == 3 else 40},{250 if k in (4, 5) else -1 if k == 6 else 90},{125 if k > 98 else 50},{-k},{k * 99},1"
                 for k in range(100)]  # fmt: skip
        trace = trace_from_csv("\n".join(rows).encode(), rig)
        found = {doubt.channel: doubt for doubt in doubts(trace, rig)}
        self.assertEqual(
            {name: (d.many, d.of) for name, d in found.items()}, {"knob": (1, 100), "eye": (3, 100), "lamp": (1, 100)}
        )
        self.assertIn("158 %, at 0.3 s", found["knob"].sentence)
        mended = without_doubtful(trace, rig)
        self.assertEqual(doubts(mended, rig), [])
        self.assertEqual(int(np.isnan(mended.channels["eye"]).sum()), 3)
        np.testing.assert_array_equal(mended.channels["range"], trace.channels["range"])

    def test_a_converters_numbers_in_a_column_of_percent(self):
        for most, heads in ((255, "0 to 255"), (1000, "0 to 1023"), (4000, "0 to 4095")):
            rows = "".join(f"{k},{k * most // 40}\n" for k in range(41))
            doubt = doubts(trace_from_csv(f"time [s],knob\n{rows}".encode(), small_rig()), small_rig())[0]
            self.assertIn(heads, doubt.sentence)
            self.assertIn('"knob.raw"', doubt.sentence)
        rows = "".join(f"{k},{k * 2.6}\n" for k in range(41))
        doubt = doubts(trace_from_csv(f"time [s],knob\n{rows}".encode(), small_rig()), small_rig())[0]
        self.assertNotIn("converter", doubt.sentence)
