"""Searches and whole columns on long traces, against looking at each sample and going round pass by pass."""

import unittest

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from geduld.binding import terms
from geduld.language.quantities import LENGTH, RATIO, TRUTH
from geduld.run.search.search import Condition
from geduld.worlds.trace import NEVER, Trace
from tests.glasshouse import changes, program, run

SAMPLES = 40_000
CALM = settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))


def signal(seed, runs, absent):
    """A long signal that changes a few times, or at every sample, with stretches that are absent."""
    noise = np.random.default_rng(seed)
    if runs == SAMPLES:
        values = np.round(noise.normal(40, 20, SAMPLES))
    else:
        edges = np.sort(noise.integers(0, SAMPLES, runs))
        values = np.round(noise.normal(40, 20, runs + 1))[np.searchsorted(edges, np.arange(SAMPLES), "right")]
    if absent:
        start = int(noise.integers(0, SAMPLES))
        values[start : start + int(noise.integers(1, 9_000))] = np.nan
    return values


@st.composite
def worlds(draw):
    seed, runs = draw(st.integers(0, 10**6)), draw(st.sampled_from([0, 1, 3, 12, 400, SAMPLES]))
    channels = {
        "range": signal(seed, runs, draw(st.booleans())),
        "knob": signal(seed + 1, draw(st.sampled_from([2, 60])), False),
    }
    channels["nose"] = (channels["knob"] > 55).astype(float)
    return Trace(np.arange(SAMPLES, dtype=np.int64) * 10_000, channels)


@st.composite
def conditions(draw, depth=1):
    part, dimension = draw(st.sampled_from([("range", LENGTH), ("knob", RATIO), ("nose", TRUTH)]))
    reading = terms.Reading(part, dimension=dimension)
    value = float(draw(st.sampled_from([0, 1, 12, 40, 55, 90])))
    sign = draw(st.sampled_from(["<", "<=", ">", ">=", "=", "!="]))
    leaf = terms.Compare(sign, reading, terms.Const(value, dimension=dimension))
    kind = draw(st.sampled_from(["leaf", "leaf", "and", "or", "not", "absent"])) if depth else "leaf"
    if kind in ("and", "or"):
        return terms.Junction(kind, leaf, draw(conditions(0)))
    if kind == "not":
        return terms.Opposite(leaf)
    return terms.Absent(reading) if kind == "absent" else leaf


def one_by_one(mask, times, start, held):
    """The definition: the first instant that ends a closed stretch of this length in which the condition holds."""
    place = int(np.searchsorted(times, start, "right")) - 1
    padded = np.concatenate(([0], mask[place:].astype(np.int8), [0]))
    edges = np.flatnonzero(np.diff(padded)) + place
    for rise, fall in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        since = max(start, int(times[rise]))
        if fall >= len(times) or times[fall] > since + held:
            return since + held
    return NEVER


class Searching(unittest.TestCase):
    @CALM
    @given(
        worlds(),
        conditions(),
        st.lists(
            st.tuples(st.integers(0, 399_990_000), st.sampled_from([0, 0, 1, 50_000, 3_000_000])),
            min_size=1,
            max_size=6,
        ),
        st.data(),
    )
    def test_a_search_finds_what_looking_at_each_sample_finds(self, world, term, questions, data):
        look = {"range": world.channels["range"], "knob": world.channels["knob"], "nose": world.channels["nose"]}
        mask = self.truth(term, look)
        condition = Condition.of(term)
        search = condition.search(world, {})
        for start, held in sorted(questions):
            expected = one_by_one(mask, world.times, start, held)
            limit = data.draw(st.sampled_from([world.duration_us, start + 40_000]))
            self.assertEqual(min(search.first(start, held, limit), limit + 1), min(expected, limit + 1))
            if condition.simple:
                found = condition.simple.first(world, int(world.times.searchsorted(start, "right")) - 1, start, held)
                self.assertIn(found, (expected, -1))
        if condition.simple:
            self.assertTrue(world.asked)

    def truth(self, term, look):
        match term:
            case terms.Junction():
                left, right = self.truth(term.left, look), self.truth(term.right, look)
                return left & right if term.word == "and" else left | right
            case terms.Opposite():
                return ~self.truth(term.value, look)
            case terms.Absent():
                return np.isnan(look[term.value.part])
        column, value = look[term.left.part], term.right.value
        known = ~np.isnan(column)
        found = {"<": column < value, "<=": column <= value, ">": column > value, ">=": column >= value,
                 "=": column == value, "!=": column != value}[term.sign]  # fmt: skip
        return found & known


BODIES = [
    "if range > 60 cm:\n    drive at 60 %\nelse if range > 30 cm:\n    drive at 40 %\nelse:\n    stop drive",
    "if range > 60 cm:\n    drive at 60 %\nif knob > 50 %:\n    lamp on\nelse if range is absent:\n    left at 5 %",
    "drive at (range - 30 cm) * 2 %/cm\nif knob > 50 %:\n    left at -20 %",
    "by range:\n    under 20 cm: stop all\n    20 cm to 60 cm: lamp at knob\n    over 60 cm: lamp at 140 %\n    absent: lamp at 7 %",
    "left at knob\nright at 100 % - knob\nif clock > 100 s:\n    stop all",
    "lamp at 200 % - knob * 4\nif range / 0.5 > range + 30 cm:\n    lamp at range * 1 %/cm",
]  # fmt: skip


class Columns(unittest.TestCase):
    @settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        worlds(),
        st.sampled_from(BODIES),
        st.sampled_from(["", " while range < 100 cm", " until knob > 80 %"]),
        st.booleans(),
    )
    def test_all_passes_at_once_are_the_passes_one_by_one(self, world, body, form, shifted):
        """A guard that never calls keeps a loop from being worked out as columns, and changes nothing else."""
        inside = "".join(f"    {line}\n" for line in body.splitlines())
        guarded = "".join(f"    {line}\n" for line in f"repeat{form}:\n{inside}".splitlines())
        before = "wait 3 ms\n" if shifted else ""
        whole = run(program(f"{before}repeat{form}:\n{inside}lamp at 1 %"), world)
        single = run(program(f"{before}do:\n{guarded}unless clock < 0 s:\n    wait 1 s\nlamp at 1 %"), world)
        for part in ("left", "right", "lamp"):
            self.assertEqual(changes(whole, part), changes(single, part))
        self.assertEqual((whole.ended_at, whole.why), (single.ended_at, single.why))
        absent = [[(e.tick, e.text) for e in record.events if e.kind == "absent"] for record in (whole, single)]
        self.assertEqual(*absent)
