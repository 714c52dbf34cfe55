"""Runs made up by hand, and what one check says of them."""

import numpy as np
from hypothesis import strategies as st

from geduld.checks.judge import judge
from geduld.grading.exercise import good_checks
from geduld.run.record.record import Record, Written
from geduld.worlds.signal import Signal
from tests.glasshouse import small_rig

LASTED = 30


def record(left=None, nose=None, distance=None, trust=None, right=None, lasted=LASTED):
    """A run on the small rig that lasts so many microseconds; what is not given is at rest."""
    resting = Signal(np.zeros(1, np.int64), np.zeros(1))
    return Record(
        rig=small_rig(),
        ended_at=lasted,
        lasted=lasted,
        why="time",
        said="",
        events=(),
        details=Written(
            dict.fromkeys(("left", "right", "lamp"), resting)
            | {name: signal for name, signal in (("left", left), ("right", right)) if signal},
            {"nose": nose or resting, "range": distance or resting},
            of_trust=trust or {},
        ),
    )


def verdict(sentence, world, reference=None, program=None, points="6 points"):
    """What one sentence says of a run."""
    check = good_checks(f'check "A", {points}:\n    {sentence}\n', world.rig).checks[0]
    return judge(check, world, reference, program)


def steps(*pairs, unit=1):
    """A signal from its changes: when, in `unit` microseconds, and to what."""
    return Signal(
        np.array([round(at * unit) for at, _ in pairs], np.int64), np.array([float(value) for _, value in pairs])
    )


@st.composite
def signals(draw, values):
    """Courses of these values with few changes."""
    ticks = sorted(draw(st.sets(st.integers(1, LASTED), max_size=8)))
    column = draw(st.lists(values, min_size=len(ticks) + 1, max_size=len(ticks) + 1))
    return Signal(np.array([0, *ticks], np.int64), np.array(column))
