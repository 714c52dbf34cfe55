"""Lines of the controller: motor drivers with their switching tables, as classes without a robot library use them."""

import json
import random
import unittest

import numpy as np

from geduld.errors import RigError, TraceError
from geduld.readers.c.program import CProgram
from geduld.readers.python.program import PythonProgram
from geduld.recordings.understanding import understood
from geduld.rig.reader import rig_from_json
from geduld.run.record.as_json import record_to_json
from geduld.run.runner import Runner
from geduld.worlds.pins import share_of
from geduld.worlds.recording import read_trace, trace_from
from geduld.worlds.signal import Signal
from tests.glasshouse import DEMO, cart

TABLE = [
    {"a": 1, "b": 0, "does": "forward"},
    {"a": 0, "b": 1, "does": "backward"},
    {"a": 1, "b": 1, "does": "brake"},
    {"a": 0, "b": 0, "does": "coast"},
]
DRIVERS = {
    "left driver": {"motor": "left", "lines": {"a": "7", "b": "8", "enable": "5"}, "duty": "enable", "table": TABLE},
    "right driver": {"motor": "right", "lines": {"a": "9", "b": "10", "enable": "6"}, "duty": "enable", "table": TABLE},
}
WORDS = """wordbook "pins"
for rig "glasshouse-cart"
reads {}
word write(pin, level):
    line pin at level
word duty(pin, level from 0 to 255):
    line pin at level
word read(pin) = line pin
word analog(pin) from 0 to 1023, whole = line pin
word rest(time in ms):
    wait time
word HIGH = 1
word LOW = 0
"""
PYTHON = """
write(7, HIGH)
write(8, LOW)
duty(5, 51)
write(9, HIGH)
duty(6, 255)
rest(100)
write(7, LOW)
write(8, HIGH)
rest(100)
write(9, HIGH)
write(10, HIGH)
write(5, HIGH)
rest(100)
write(8, LOW)
write("L1", HIGH)
if analog("A2") > 200 and not read("D1"):
    duty("L1", 127.5)
rest(100)
write(10, LOW)
"""
C = """
int main() {
    write(7, HIGH); write(8, LOW); duty(5, 51);
    write(9, HIGH); duty(6, 255);
    rest(100);
    write(7, LOW); write(8, HIGH);
    rest(100);
    write(9, HIGH); write(10, HIGH); write(5, HIGH);
    rest(100);
    write(8, LOW);
    write("L1", HIGH);
    if (analog("A2") > 200 && !read("D1")) duty("L1", 127.5);
    rest(100);
    write(10, LOW);
}
"""


def rig(drivers=DRIVERS):
    return rig_from_json({**cart().source, "drivers": drivers})


class Pins(unittest.TestCase):
    def test_levels_and_duty_become_what_the_table_says(self):
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        for language, program in (
            ("python", PythonProgram(PYTHON, rig(), [WORDS.format("python")])),
            ("c", CProgram(C, rig(), [WORDS.format("c")])),
        ):
            with self.subTest(language):
                self.assertEqual(program.errors, ())
                record = Runner(program).run(trace)
                told = {
                    name: [
                        (tick // 1000, value) for tick, value in zip(s.times.tolist(), s.values.tolist(), strict=True)
                    ]
                    for name, s in record.commands.items()
                }
                self.assertEqual(told["left"], [(0, 20.0), (100, -20.0), (200, -100.0), (300, 0.0)])
                self.assertEqual(told["right"], [(0, 100.0), (200, 0.0), (400, 100.0)])
                self.assertEqual(told["lamp"], [(0, 0.0), (300, 50.0)])
                controls = record.controls["right"]
                self.assertEqual(
                    (controls.times.tolist(), controls.values.tolist()), ([0, 200_000, 400_000], [0.0, 2.0, 0.0])
                )
                self.assertEqual(record.controls["left"].values.tolist()[-1], 3.0, "both low: it coasts")
                lines = record_to_json(record)["lines"]
                self.assertEqual(lines["7"], [[0.0, 100.0], [0.1, 0.0]])
                self.assertEqual(lines["5"], [[0.0, 20.0], [0.2, 100.0]])

    def test_a_line_on_which_nothing_hangs_does_nothing_and_is_said_once(self):
        """As on the controller, where the program goes on."""
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        program = PythonProgram("write(3, 1)\nfor i in range(4):\n    write(3, 0)\n", rig(), [WORDS.format("python")])
        record = Runner(program).run(trace)
        self.assertEqual(
            (record.why, [(event.kind, event.line) for event in record.events]), ("finished", [("bare", 1)])
        )
        said = [hint for hint in program.hints_in(trace, record) if hint.code == "bare-line"]
        self.assertEqual([(hint.line, hint.level) for hint in said], [(1, "advice")])
        self.assertIn("No output hangs on line 3", said[0].message)

    def test_a_contact_whose_line_is_low_while_it_is_pressed(self):
        """Its line is read low, and recordings of lines and levels are read the other way; Geduld's own traces are not."""
        source = cart().source
        nose = {**source["parts"]["nose"], "active": "low"}
        low = rig_from_json({**source, "parts": {**source["parts"], "nose": nose}, "drivers": DRIVERS})
        pressed = trace_from(b"time [s],nose\n0,0\n0.1,1\n0.2,0\n1,0\n", low)
        levels = trace_from(b"time [s],line D1\n0,1\n0.1,0\n0.2,1\n1,1\n", low)
        foreign = understood(b"ms;D1\n0;1\n100;0\n200;1\n1000;1\n", low).trace
        named = understood(b"ms;D1\n0;released\n100;pressed\n200;released\n1000;released\n", low).trace
        for found in (pressed, levels, foreign, named):
            self.assertEqual(found.channels["nose"].tolist(), [0, 1, 0, 0])
        waits = 'while read("D1"):\n    pass\nwrite("L1", HIGH)\n'
        for book, when in ((low, 100_000), (rig(), 0)):
            record = Runner(PythonProgram(waits, book, [WORDS.format("python")])).run(pressed)
            self.assertEqual(record.commands["lamp"].times[-1], when)

    def test_wrong_drivers_name_their_place(self):
        good = DRIVERS["left driver"]
        table = [
            ({"d": {**good, "motor": "nose"}}, "drivers.d.motor"),
            ({"d": {**good, "lines": {}}}, "drivers.d.lines"),
            ({"d": {**good, "duty": "c"}}, "drivers.d.duty"),
            ({"d": {**good, "table": []}}, "drivers.d.table"),
            ({"d": {**good, "table": [{"a": 1, "does": "fly"}]}}, "drivers.d.table[0].does"),
            ({"d": {**good, "table": [{"a": 2, "does": "coast"}]}}, "drivers.d.table[0].a"),
            ({"d": {**good, "table": [{"enable": 1, "does": "coast"}]}}, "drivers.d.table[0].enable"),
            ({"d": good, "e": {**good, "motor": "right"}}, "drivers.e.lines"),
            ({"d": good, "e": {**good, "lines": {"a": "1", "b": "2", "enable": "3"}}}, "drivers.e.motor"),
            ([], "drivers"),
        ]
        for drivers, place in table:
            with self.subTest(json.dumps(drivers)), self.assertRaises(RigError) as caught:
                rig(drivers)
            self.assertEqual(caught.exception.place.path, place)


def dump(lines, period=2_000):
    """A value change dump of lines, given as changes of their share of time at high: (tick, %)."""
    codes = {name: chr(33 + number) for number, name in enumerate(lines)}
    changes = []
    for name, steps in lines.items():
        ends = [*(tick for tick, _ in steps[1:]), 2_000_000]
        for (tick, share), end in zip(steps, ends, strict=True):
            if share in (0, 100):
                changes.append((tick, f"{int(share > 0)}{codes[name]}"))
                continue
            for rise in range(tick, end, period):
                changes += [(rise, f"1{codes[name]}"), (rise + period * share // 100, f"0{codes[name]}")]
    changes.sort()
    head = [f"$var wire 1 {code} {'D' * name.isdigit()}{name} $end" for name, code in codes.items()]
    body = [f"#{tick * 1000}\n{change}" for tick, change in changes]
    told = ["$comment made up $end", "$timescale 1 ns $end", "$scope module cart $end", *head, "$upscope $end"]
    return "\n".join([*told, "$var wire 1 ~ unused $end", "$enddefinitions $end", *body, "#2000000000", ""]).encode()


class Recordings(unittest.TestCase):
    def setUp(self):
        source = json.loads((DEMO / "rigs" / "glasshouse-cart.json").read_text())
        self.rig = rig_from_json({**source, "drivers": DRIVERS})

    def test_levels_become_what_the_drivers_tables_say(self):
        rng = random.Random(5)
        port = self.rig.parts["nose"].port
        for _ in range(15):
            lines = {name: [(0, 0)] for name in ("5", "6", "7", "8", "9", "10", port)}
            for tick in range(0, 2_000_000, 40_000):
                for name, steps in lines.items():
                    if rng.random() < 0.3:
                        share = rng.choice((0, 20, 55, 95, 100)) if name in "56" else rng.choice((0, 100))
                        steps[:] = [*(step for step in steps if step[0] < tick), (tick, share)]
            trace = trace_from(dump(lines), self.rig)
            self.assertEqual(set(trace.channels), {"left", "right", "nose"})
            middles = np.arange(20_000, 2_000_000, 40_000)
            rows = {name: Signal(*map(np.array, zip(*steps, strict=True))).at(middles) for name, steps in lines.items()}
            for driver in self.rig.drivers:
                wanted = []
                for place in range(len(middles)):
                    does, duty = driver.does({name: row[place] for name, row in rows.items()})
                    wanted.append({"forward": duty, "backward": -duty}.get(does, 0))
                found = Signal(trace.times, trace.channels[driver.motor]).at(middles)
                np.testing.assert_allclose(found, wanted, atol=1e-9)
            np.testing.assert_array_equal(Signal(trace.times, trace.channels["nose"]).at(middles), rows[port] / 100)
            # the same as CSV, its shares given
            header = ["time [s]", *(f"line {n} [%]" if n in "56" else f"line {n}" for n in rows)]
            cells = [
                [t / 1e6, *(r[k] if n in "56" else r[k] / 100 for n, r in rows.items())] for k, t in enumerate(middles)
            ]
            text = "\n".join(",".join(map(str, row)) for row in [header, *cells])
            told = trace_from(text.encode(), self.rig)
            for name, values in told.channels.items():
                np.testing.assert_allclose(values, Signal(trace.times, trace.channels[name]).at(middles), atol=1e-9)

    def test_a_program_judged_on_its_recorded_pins_did_what_it_commanded(self):
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        record = Runner(CProgram(C, self.rig, [WORDS.format("c")])).run(trace)
        levels = {name: list(zip(s.times.tolist(), s.values.tolist(), strict=True)) for name, s in record.lines.items()}
        held = trace_from(dump({name: [(t, round(v)) for t, v in steps] for name, steps in levels.items()}), self.rig)
        for name in ("left", "right"):
            command = record.commands[name]
            for tick, end, value in zip(command.times, [*command.times[1:], 500_000], command.values, strict=True):
                found = Signal(held.times, held.channels[name]).at(np.array([(tick + end) // 2]))[0]
                self.assertAlmostEqual(found, value, delta=0.5)

    def test_a_switched_line_has_a_share(self):
        table = [
            ([0, 1, 2], [0, 1, 0], [(0, 0.0), (1_000_000, 100.0), (2_000_000, 0.0)]),  # slowly: high is high
            ([0.0, 0.001, 0.004, 0.005, 0.008, 0.5], [1, 0, 1, 0, 1, 0], [(0, 25.0), (8_000, 100.0), (500_000, 0.0)]),
            ([0.0, 0.001, 0.004, 0.005], [1, 0, 1, 0], [(0, 25.0), (8_000, 0.0)]),  # its last pulse
            ([0.0, 0.5], [0, 0], [(0, 0.0)]),
            ([0.0, 0.002, 0.5], [1, 0, 0], [(0, 100.0), (2_000, 0.0)]),
        ]
        for seconds, levels, wanted in table:
            ticks = np.rint(np.array(seconds) * 1e6).astype(np.int64)
            found = share_of(Signal(ticks, np.array(levels, np.float64)))
            with self.subTest(wanted=wanted):
                self.assertEqual(list(zip(found.times.tolist(), found.values.tolist(), strict=True)), wanted)

    def test_what_is_wrong_with_a_recording_is_said_at_its_line(self):
        good = dump({"7": [(0, 0), (500_000, 100)], "8": [(0, 0)]}).decode()
        table = [
            (good.replace("$enddefinitions", "$end"), "not-vcd", 1),
            (good.replace("1 ns", "ten"), "not-vcd", 2),
            (good.replace("D7", "Q").replace("D8", "R"), "channel-without-part", 1),
            (good.replace('\n1!', '\n1'), "not-vcd", good[: good.index("\n1!")].count("\n") + 2),
            (good.replace("#500000000", "#-5"), "not-vcd", good[: good.index("#500000000")].count("\n") + 1),
            (good.replace("#2000000000", "#1000\n#5"), "time-goes-back", good.count("\n")),
            ("time [s],line 99\n0,1\n", "channel-without-part", 1),
            ("time [s],line 7 [cm]\n0,1\n", "channel-unit", 1),
            ("time [s],line 7\n0,1\n1,0.5\n", "bad-contact", 3),
            ("time [s],line 7,left [%]\n0,1,5\n", "channel-twice", 1),
        ]  # fmt: skip
        for text, code, row in table:
            with self.subTest(code, text=text[:80]), self.assertRaises(TraceError) as caught:
                trace_from(text.encode(), self.rig)
            self.assertEqual((caught.exception.code, caught.exception.place.row), (code, row))
        rng = random.Random(9)
        for _ in range(400):
            broken = bytearray(good.encode())
            for _ in range(rng.randint(1, 8)):
                broken[rng.randrange(len(broken))] = rng.choice(b'0123456789#$!"xzbr \n-.e')
            try:
                trace_from(bytes(broken), self.rig)
            except TraceError as problem:
                self.assertTrue(problem.message)


if __name__ == "__main__":
    unittest.main()
