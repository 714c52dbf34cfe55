"""Lines of the controller: motor drivers with their switching tables, as classes without a robot library use them."""

import json
import unittest

from geduld.errors import RigError
from geduld.readers.c.program import CProgram
from geduld.readers.python.program import PythonProgram
from geduld.rig.reader import rig_from_json
from geduld.run.record.as_json import record_to_json
from geduld.run.runner import Runner
from geduld.worlds.trace_csv import read_trace
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

    def test_a_line_on_which_nothing_hangs_is_said_when_it_is_set(self):
        trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())
        record = Runner(PythonProgram("write(3, 1)\n", rig(), [WORDS.format("python")])).run(trace)
        self.assertEqual((record.why, record.events[-1].line), ("error", 1))
        self.assertIn("no output hangs on line 3", record.events[-1].text)

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


if __name__ == "__main__":
    unittest.main()
