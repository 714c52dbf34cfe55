"""Makes the demonstration traces. Seeded, so the files come out the same each time.

Run from the project's folder: .venv/bin/python demo/make_traces.py

A cart waits, a hand turns the dose knob, the cart drives to the barrel, slows down, touches it and
waters. The sensors are as sensors are: the range reading comes every 50 ms with noise and lost echoes,
the bump rail bounces, the knob jitters, the soil dries and the light drifts.

Two more are rides with encoders and a radio: round a bed, and twice to a barrel when called.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass
from pathlib import Path

import numpy as np

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE.parent))

from geduld.language.quantities import text_code  # noqa: E402
from geduld.rig.reader import read_rig  # noqa: E402
from geduld.worlds.trace import Trace  # noqa: E402
from geduld.worlds.trace_csv import trace_to_csv  # noqa: E402

RATE = 100
FAST, SLOW = 22.0, 9.0
LAG = 0.12
REACH = 4.2


@dataclass(frozen=True)
class Morning:
    """One recording: when the knob is turned and for how long, where the cart starts, what goes wrong."""

    file: str
    seed: int
    seconds: float
    knob_from: float
    knob_time: float
    start: float
    lost_echoes: float = 0.01
    motors: bool = False


MORNINGS = (
    Morning("dry-day.csv", 11, 30.0, 2.0, 0.25, 180.0),
    Morning("slow-hand.csv", 12, 40.0, 3.0, 4.0, 165.0),
    Morning("missed-echoes.csv", 13, 30.0, 1.5, 0.4, 172.0, lost_echoes=0.12),
    Morning("cloudy-morning.csv", 14, 60.0, 8.0, 0.6, 190.0, motors=True),
)


def make(morning: Morning) -> Trace:
    """The recording as a trace."""
    noise = np.random.default_rng(morning.seed)
    count = round(morning.seconds * RATE) + 1
    t = np.arange(count) / RATE
    knob = 24 + 52 * np.clip((t - morning.knob_from) / morning.knob_time, 0, 1)
    knob = np.clip(knob + noise.normal(0, 0.9, count), 0, 100)
    setting_off = morning.knob_from + 0.75 * morning.knob_time
    gap, power, contact = _drive(t, setting_off, morning.start)
    channels = {
        "nose": _bounce(t, contact, noise),
        "range": _range(gap, morning.lost_echoes, noise),
        "knob": np.round(knob / 100 * 1023) / 1023 * 100,
        "soil": _soil(t, contact, noise),
        "light": np.round(
            420 + 60 * np.sin(t / 17) + np.cumsum(noise.normal(0, 0.35, count)) + noise.normal(0, 4, count)
        ),
    }
    if morning.motors:
        channels = {"left": power, "right": power.copy(), **channels}
    times = np.rint(t * 1_000_000).astype(np.int64)
    return Trace(times, {name: np.round(values, 3) for name, values in channels.items()})


@dataclass(frozen=True)
class Ride:
    """One recording with encoders and a radio: what is called when, and the wheels' powers from each instant on."""

    file: str
    seed: int
    seconds: float
    calls: tuple[tuple[float, str], ...]
    powers: tuple[tuple[float, float, float], ...]
    touches: tuple[tuple[float, float], ...] = ()


BED = ((3.0, 45, 45), (12.6, -30, 30), (13.9, 45, 45), (18.7, -30, 30), (20.0, 45, 45), (29.6, -30, 30),
       (30.9, 45, 45), (35.7, -30, 30), (37.0, 0, 0))  # fmt: skip
CALLS = ((4.0, 35, 35), (10.2, 0, 0), (11.8, -35, -35), (14.5, 0, 0), (25.0, 35, 35), (30.4, 0, 0),
         (32.0, -35, -35), (34.7, 0, 0))  # fmt: skip
RIDES = (
    Ride("round-of-a-bed.csv", 21, 42.0, ((3.0, "round"),), BED),
    Ride("radio-calls.csv", 22, 45.0, ((4.0, "water"), (25.0, "water")), CALLS, ((10.2, 12.4), (30.4, 32.5))),
)
RIDE_RATE = 50
TURN = 5.7  # deg/s for each percent of power: a little less than the motors do without load


def make_ride(ride: Ride) -> Trace:
    """The recording as a trace: the left motor is a little weaker than the right one, and both lag."""
    noise = np.random.default_rng(ride.seed)
    count = round(ride.seconds * RIDE_RATE) + 1
    t = np.arange(count) / RIDE_RATE
    codes = {text: text_code(text) for _, text in ride.calls}
    radio = np.full(count, np.nan)
    for at, text in ride.calls:
        radio[(t >= at) & (t < at + 1)] = codes[text]
    touched = np.zeros(count)
    for start, stop in ride.touches:
        touched[(t >= start) & (t < stop)] = 1
    channels = {"radio": radio, "nose": touched, "tilt": np.round(noise.normal(0.4, 0.3, count), 1)}
    for side, (name, gain) in enumerate((("left", 0.98), ("right", 1.01)), 1):
        power = np.zeros(count)
        for entry in ride.powers:
            power[t >= entry[0]] = entry[side]
        speed = np.zeros(count)
        for k in range(1, count):
            speed[k] = speed[k - 1] + (power[k - 1] * TURN * gain - speed[k - 1]) / RIDE_RATE / LAG
        channels[f"{name}.angle"] = np.round(np.cumsum(speed) / RIDE_RATE)
    times = np.rint(t * 1_000_000).astype(np.int64)
    return Trace(times, channels, {code: text for text, code in codes.items()})


def _drive(t: np.ndarray, setting_off: float, start: float) -> tuple[np.ndarray, np.ndarray, float]:
    """The gap to the barrel, the power on the motors, and when the nose touches."""
    gap, speed, contact = start, 0.0, -1.0
    gaps, powers = [], []
    for now in t:
        power = 0.0 if now < setting_off or contact >= 0 else 45.0 if gap > 40 else 20.0
        wanted = {0.0: 0.0, 45.0: FAST, 20.0: SLOW}[power]
        speed += (wanted - speed) / RATE / LAG
        gap = max(REACH, gap - speed / RATE)
        if gap <= REACH and contact < 0:
            contact = float(now)
        gaps.append(gap)
        powers.append(power)
    return np.array(gaps), np.array(powers), contact


def _bounce(t: np.ndarray, contact: float, noise: np.random.Generator) -> np.ndarray:
    """The bump rail: it bounces for a few samples before it stays pressed."""
    pressed = (t >= contact).astype(float)
    first = int(np.argmax(pressed))
    pressed[first + 1 : first + 5] = noise.permutation([0.0, 1.0, 0.0, 1.0])
    return pressed


def _range(gap: np.ndarray, lost: float, noise: np.random.Generator) -> np.ndarray:
    """An echo every 50 ms, with noise that grows with the distance; a lost echo is no reading."""
    every = RATE // 20
    echoes = gap[::every]
    echoes = np.round(echoes + noise.normal(0, 0.35 + echoes * 0.004), 1)
    echoes[noise.random(len(echoes)) < lost] = np.nan
    echoes[(echoes < 3) | (echoes > 200)] = np.nan
    return np.repeat(echoes, every)[: len(gap)]


def _soil(t: np.ndarray, contact: float, noise: np.random.Generator) -> np.ndarray:
    """The soil dries slowly, and is wetted after the cart has docked."""
    wet = 22 * (1 - np.exp(-np.clip(t - contact - 1.5, 0, None) / 3))
    return np.round(31 - 0.04 * t + wet + noise.normal(0, 0.3, len(t)), 1)


def main() -> None:
    """Writes all traces."""
    rig = read_rig(HERE / "rigs" / "glasshouse-cart.json")
    for morning in MORNINGS:
        text = trace_to_csv(make(morning), rig)
        (HERE / "traces" / morning.file).write_text(text, encoding="utf-8")
    for ride in RIDES:
        (HERE / "traces" / ride.file).write_text(trace_to_csv(make_ride(ride), rig), encoding="utf-8")


if __name__ == "__main__":
    main()
