"""Where two runs differ, held against looking at every instant."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.run.record.differences import difference_words, differences
from geduld.run.record.record import Record, Written
from geduld.worlds.signal import Signal
from tests.glasshouse import cart, run, trace

VALUES = st.sampled_from([0.0, 20.0, 45.0, float("nan")])


@st.composite
def records(draw):
    """A record with two outputs, whose changes stand at whole ticks from 0 to 20."""
    commands = {}
    for name in ("left", "lamp"):
        times = [0, *sorted(draw(st.sets(st.integers(1, 19), max_size=5)))]
        commands[name] = Signal(np.array(times, np.int64), np.array([draw(VALUES) for _ in times]))
    lasted = draw(st.integers(10, 25))
    return Record(cart(), lasted, lasted, "time", "", (), Written(commands))


class Differences(unittest.TestCase):
    @settings(max_examples=200, deadline=None)
    @given(records(), records())
    def test_they_are_where_the_outputs_are_not_the_same(self, record, other):
        found = differences(record, other)
        end = min(record.lasted, other.lasted)
        ticks = np.arange(end)
        for name in ("left", "lamp"):
            a, b = record.commands[name].at(ticks), other.commands[name].at(ticks)
            differs = ~((a == b) | (np.isnan(a) & np.isnan(b)))
            told = np.zeros(end, bool)
            for item in found:
                if item.part == name:
                    self.assertFalse(told[item.start : item.stop].any(), "no instant twice")
                    told[item.start : item.stop] = True
            np.testing.assert_array_equal(told, differs)
        self.assertEqual(list(found), sorted(found, key=lambda item: (item.start, item.part)))
        self.assertEqual(
            [(i.part, i.start, i.stop) for i in differences(other, record)], [(i.part, i.start, i.stop) for i in found]
        )
        self.assertEqual(differences(record, record), ())

    def test_the_first_one_is_a_sentence(self):
        world = trace(range=[100 - 2 * k for k in range(50)])
        texts = [f'behaviour "A"\nbegin:\n    left at 45 % until range < {near} cm\n' for near in (60, 40)]
        here, there = (run(text, world, cart()) for text in texts)
        (only,) = differences(here, there)
        self.assertEqual(difference_words(only, cart().parts["left"]), "From 2.1 s to 3.1 s left is 0 %, there 45 %.")
