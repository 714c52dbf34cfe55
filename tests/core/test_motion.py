"""Where motors, servos and steppers get to, against the laws of their motion."""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.rig.reader import rig_from_json
from geduld.run.record.positions import positions
from geduld.run.search.travel import NEVER, modelled
from geduld.worlds.signal import Signal
from tests.glasshouse import small_rig

END = 4_000_000


def slow_rig(slew, step="0.5 deg"):
    source = small_rig().source
    slow = {"nozzle": {"slew": f"{slew} deg/s"}, "shade": {"slew": f"{slew} deg/s", "step": step}}
    parts = {name: {**part, "physics": slow[name]} if name in slow else part for name, part in source["parts"].items()}
    return rig_from_json({**source, "parts": parts})


@st.composite
def commands(draw, apart_us=1):
    """Angles from the start on, each so long after the one before."""
    gaps = draw(st.lists(st.integers(apart_us, 900_000), min_size=1, max_size=6))
    angles = draw(st.lists(st.integers(0, 180), min_size=len(gaps) + 1, max_size=len(gaps) + 1))
    return Signal(np.cumsum([0, *gaps]), np.array(angles, float))


class Positions(unittest.TestCase):
    @settings(max_examples=200, deadline=None)
    @given(commands(), st.integers(20, 700))
    def test_a_servo_goes_straight_to_where_it_is_told_to_be(self, told, slew):
        course = positions(slow_rig(slew), {"nozzle": told}, END)[0]["nozzle"]
        self.assertTrue((np.diff(course.times) > 0).all())
        at = told.values[0]
        for tick, target, until in zip(told.times, told.values, [*told.times[1:], END], strict=True):
            for now in (tick, (tick + until) // 2, until):
                if now <= END and tick < until:
                    wanted = at + math.copysign(min(abs(target - at), slew * (now - tick) / 1e6), target - at)
                    self.assertAlmostEqual(
                        float(np.interp(now, course.times, course.values)), wanted, delta=slew * 2e-6
                    )
            at += math.copysign(min(abs(target - at), slew * (until - tick) / 1e6), target - at)

    @settings(max_examples=200, deadline=None)
    @given(commands(apart_us=200_000), st.integers(900, 2000), st.sampled_from([0.5, 1.8, 7.5]))
    def test_a_stepper_with_time_makes_whole_steps_and_misses_none(self, told, slew, step):
        end = int(told.times[-1]) + 200_000
        angles, missed = positions(slow_rig(slew, f"{step} deg"), {"shade": told}, end)
        self.assertEqual(missed, {})
        course = angles["shade"]
        np.testing.assert_allclose(course.values / step, np.round(course.values / step), atol=1e-9)
        # 180 deg take 0.2 s at the slowest, so it stands where it was told to be when the next command comes
        before = np.searchsorted(course.times, [*told.times[1:], end], "right") - 1
        np.testing.assert_allclose(course.values[before], told.values, atol=step / 2 + 1e-9)

    def test_a_stepper_that_is_hurried_stays_behind_by_what_does_not_fit_into_a_pass(self):
        rig = slow_rig(100, "0.1 deg")
        loop = rig.loop_us
        reach = 100 * loop / 1e6
        for share, missed in ((0.5, None), (1.0, None), (1.6, loop), (-1.6, loop), (3.0, loop)):
            aim = share * reach * np.arange(41)
            told = Signal(np.arange(41) * loop, aim)
            angles, found = positions(rig, {"shade": told}, 60 * loop)
            # the first command says where it is, and the next one comes out of rest: it has all the time it needs
            behind = max(0.0, abs(share) - 1) * reach * 39 * np.sign(share)
            with self.subTest(share=share):
                self.assertEqual(found, {} if missed is None else {"shade": 2 * loop})
                self.assertAlmostEqual(angles["shade"].values[-1], aim[-1] - behind, delta=0.11 + abs(share) * reach)
                self.assertLessEqual(np.abs(np.diff(angles["shade"].values)).max(), reach + 0.11)

    def test_without_a_command_nobody_knows(self):
        still = Signal(np.zeros(1, np.int64), np.full(1, math.nan))
        self.assertEqual(positions(small_rig(), {"nozzle": still, "left": still}, END), ({}, {}))


class Modelled(unittest.TestCase):
    POWERS = st.lists(st.tuples(st.integers(1, 2_000_000), st.sampled_from([-80.0, 0.0, 30.0, 100.0])), max_size=5)

    @settings(max_examples=300, deadline=None)
    @given(
        POWERS, POWERS, st.tuples(*[st.sampled_from([-60.0, 0.0, 45.0])] * 2), st.integers(1, 200), st.integers(0, 500)
    )
    def test_a_move_is_over_when_its_way_is_made(self, left, right, levels, amount, start):
        rates = (0.25, -0.5)
        wheels = []
        for (level, moves), rate in zip(zip(levels, (left, right), strict=True), rates, strict=True):
            ticks = start + np.cumsum([gap for gap, _ in moves], dtype=np.int64)
            wheels.append((level, (ticks, np.array([power for _, power in moves])) if moves else None, rate))

        def made(tick):
            total = 0.0
            for level, moved, rate in wheels:
                knots = [(start, level), *(zip(*moved, strict=True) if moved else ())]
                for (since, power), (until, _) in zip(knots, [*knots[1:], (tick, 0)], strict=True):
                    total += power * rate * max(0, min(until, tick) - min(since, tick)) / 1e6
            return abs(total)

        over = modelled(wheels, start, float(amount))
        last = max([start, *(int(moved[0][-1]) for _, moved, _ in wheels if moved)])
        if over == NEVER:
            self.assertFalse([tick for tick in np.linspace(start, last, 50).astype(int) if made(int(tick)) > amount])
            self.assertLessEqual(made(last + 10_000_000), max(amount, made(last)))
        else:
            self.assertAlmostEqual(made(over), amount, delta=1e-4)
            early = np.linspace(start, over, 50).astype(int)[:-1]
            self.assertFalse([tick for tick in early if made(int(tick)) > amount + 1e-4])


if __name__ == "__main__":
    unittest.main()
