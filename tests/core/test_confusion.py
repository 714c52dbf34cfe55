"""Odd recordings: each column is understood rightly at once, or asked for; none is taken for something else in silence."""

import unittest

import numpy as np

from geduld.recordings.understanding import understood
from geduld.rig.reader import rig_from_json
from tests.glasshouse import SMALL, cart

ROWS = np.arange(60)
PRESSED = (ROWS % 20 > 14).astype(int)
WAVE = np.round(40 + 30 * np.sin(ROWS / 6), 1)
PWM = np.round(128 + 120 * np.sin(ROWS / 9)).astype(int)  # 0 to 255
LOW_PWM = np.where(ROWS % 15 == 0, 255, ROWS % 9 * 10)
RAW = np.round(508 + 500 * np.sin(ROWS / 11)).astype(int)  # 0 to 1017
MOSTLY_LOW = np.where(ROWS > 50, 900 + ROWS, ROWS % 30)  # few of them past 100
NEAR_255 = 240 + ROWS % 30
COUNTS = 5 * ROWS
NO_RAW = rig_from_json(
    {**SMALL, "parts": {n: {k: v for k, v in p.items() if k != "raw"} for n, p in SMALL["parts"].items()}}
)
ASKED = ""
# heading, values, what it is (asked where nobody can know), and what a good value is read as
TABLE = [
    ("Bumper, left [0/1]", PRESSED, "nose_left"), ("bump_left", PRESSED, "nose_left"), ("left bumper", PRESSED, "nose_left"),
    ("left", PRESSED, ASKED), ("left_contact", PRESSED, "nose_left"), ("touch left", PRESSED, "nose_left"), ("left_switch", PRESSED, "nose_left"),
    ("R_pwm", PWM, ASKED), ("left", PWM, ASKED), ("left motor", PWM, ASKED), ("left [%]", PWM, ASKED), ("valve", LOW_PWM, ASKED),
    ("left", WAVE, "left"), ("left [%]", WAVE, "left"), ("motor right", WAVE, "right"), ("right power", WAVE, "right"), ("L_pwm", WAVE, "left"),
    ("left light", WAVE, "light_left"), ("light left", WAVE, "light_left"), ("light_right", WAVE, "light_right"), ("right", WAVE, "right"),
    ("knob", RAW, "knob.raw"), ("knob", MOSTLY_LOW, "knob.raw"), ("knob", NEAR_255, "knob.raw"), ("knob", WAVE, "knob"),
    ("pot", RAW, "knob.raw"), ("knob_raw", RAW, "knob.raw"), ("knob [%]", WAVE, "knob"), ("soil", RAW, ASKED), ("soil", WAVE, "soil"),
    ("moisture", WAVE, "soil"), ("ground", MOSTLY_LOW, ASKED), ("ground", WAVE, "ground"), ("range", WAVE, "range"), ("distance_cm", WAVE, "range"),
    ("range [mm]", 10 * WAVE, "range"), ("left_speed", WAVE, "left.speed"), ("left_ticks", COUNTS, "left.angle"), ("nose", PRESSED, "nose"),
    ("bumper", PRESSED, "nose"), ("lamp", WAVE, "lamp"), ("button green", PRESSED, "green"), ("nose force", WAVE, ASKED), ("left current", WAVE, ASKED),
    ("left load", WAVE, ASKED), ("state left", PRESSED, ASKED),
]  # fmt: skip


def file_of(heading, values):
    return f"time [s],{heading if ',' not in heading else chr(34) + heading + chr(34)}\n" + "".join(
        f"{row * 0.02:.2f},{value}\n" for row, value in zip(ROWS.tolist(), values.tolist(), strict=True)
    )


class Confusion(unittest.TestCase):
    def test_nothing_is_taken_for_something_else_in_silence(self):
        counted = {"right at once": 0, "asked": 0, "wrong in silence": 0}
        for heading, values, wanted in TABLE:
            with self.subTest(heading, values=values[:4].tolist()):
                found = understood(file_of(heading, values).encode(), cart())
                channels = [use.channel for use in found.recipe.uses]
                told = channels[0] if channels else ASKED
                word = "right at once" if told == wanted != ASKED else "asked" if told == ASKED else "wrong in silence"
                counted[word] += 1
                self.assertEqual(told, wanted)
        self.assertEqual(counted["wrong in silence"], 0)
        self.assertGreater(counted["right at once"], counted["asked"])

    def test_a_good_value_of_a_converter_is_a_reading(self):
        found = understood(file_of("knob", NEAR_255).encode(), cart())
        self.assertFalse(np.isnan(found.trace.column("knob")).any())
        refused = understood(file_of("knob", RAW).encode(), NO_RAW)
        self.assertEqual(refused.recipe.uses, ())
        self.assertIn("its values go past 0 to 100 %", str(refused.because))


if __name__ == "__main__":
    unittest.main()
