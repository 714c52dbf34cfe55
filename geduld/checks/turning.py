"""How far motors turned and the robot went in a run: from its true motion, from encoders, or by the motion model.

A wheel that turns by `a` degrees rolls `a / 360` of its circumference. The robot's middle travels the mean of its
wheels' ways; it turns to the right by the difference of the two ways over the track width.
"""

from __future__ import annotations

import math
from functools import cached_property

import numpy as np

from geduld.rig.model import Drive
from geduld.run.record.record import Record
from geduld.worlds.signal import Signal, instants
from geduld.worlds.trace import Floats, Ticks

SMOOTH_US = 100_000  # a counted speed is a mean over this long: counts come in steps
STEP_US = 1_000  # a modelled angle goes on along a straight line, and is looked at so often

Course = tuple[Ticks, Floats]  # instants, and how far something has come by each; straight lines in between


class Turning:
    """What turned how far in one run. `of` keeps it with the record."""

    def __init__(self, record: Record) -> None:
        self.record = record
        self.rig = record.rig
        self._motors: dict[str, Course | None] = {}

    @classmethod
    def of(cls, record: Record) -> Turning:
        """That of a record, made once."""
        found: Turning = record.kept.setdefault(cls, cls(record))
        return found

    def unknown(self, motor: str = "") -> str:
        """Why nothing tells how far a motor turned, or without a name how far the robot went; empty when it is told."""
        motors = [motor] if motor else [] if self.record.pose else self._wheels
        untold = next((name for name in motors if self.motor(name) is None), "")
        if not untold:
            return ""
        return (
            f'Nothing tells how far "{untold}" turned: no angle was recorded, and the rig does not say how fast it is.'
        )

    @property
    def _drive(self) -> Drive:
        drive = self.rig.drive
        assert drive is not None  # a check that asks for the robot's way is bound to a rig with a drive
        return drive

    @property
    def _wheels(self) -> list[str]:
        return [self._drive.left, self._drive.right]

    def motor(self, name: str) -> Course | None:
        """How far a motor had turned, in deg: truly on a floor, else as counted, else by the model; None if untold."""
        if name not in self._motors:
            self._motors[name] = self._motor(name)
        return self._motors[name]

    def _motor(self, name: str) -> Course | None:
        pose, counted = self.record.pose, self.record.readings.get(f"{name}.angle")
        if pose is not None and name in pose.turned:
            return pose.times, pose.turned[name]
        if counted is not None and not np.isnan(counted.values).any():
            return counted.times, counted.values
        rate = self.rig.turn_rate(name)
        return None if rate is None else self._modelled({name: rate})

    def _modelled(self, rates: dict[str, float]) -> Course | None:
        """What commands come to by the motion model: `rates` is what one percent of a motor's power adds a second."""
        commands = {name: self.record.commands[name] for name in rates}
        if any(np.isnan(command.values).any() for command in commands.values()):
            return None
        ticks = instants(*(command.times for command in commands.values()), [0, self.record.lasted])
        ticks = ticks[(ticks >= 0) & (ticks <= self.record.lasted)]
        speeds = sum((command.at(ticks[:-1]) * rates[name] for name, command in commands.items()), np.zeros(1))
        return ticks, np.concatenate((np.zeros(1), np.cumsum(speeds * (np.diff(ticks) / 1_000_000))))

    @cached_property
    def way(self) -> Course:
        """How far the robot's middle had gone forwards, in cm."""
        pose = self.record.pose
        if pose is not None:
            x, y, heading = pose.values.T
            middle = np.radians((heading[1:] + heading[:-1]) / 2)
            ahead = (np.diff(x) * np.cos(middle) + np.diff(y) * np.sin(middle)) * 100
            return pose.times, np.concatenate((np.zeros(1), np.cumsum(ahead)))
        (ticks, left), (others, right) = self._both
        rolled = self.rig.sizes()["wheel.circumference"] / 360 / 2
        merged = np.union1d(ticks, others)
        return merged, (np.interp(merged, ticks, left) + np.interp(merged, others, right)) * rolled

    @cached_property
    def turn(self) -> Course:
        """How far the robot had turned, in deg; the sign says which way."""
        pose = self.record.pose
        if pose is not None:
            return pose.times, pose.values[:, 2]
        drive, measured = self._drive, self.rig.calibration.turn
        counted = all(f"{name}.angle" in self.record.readings for name in self._wheels)
        if measured is not None and not counted:
            modelled = self._modelled({drive.left: measured / 2, drive.right: -measured / 2})
            if modelled is not None:
                return modelled
        (ticks, left), (others, right) = self._both
        merged = np.union1d(ticks, others)
        turned = drive.wheel_diameter / 2 / drive.track_width
        return merged, (np.interp(merged, ticks, left) - np.interp(merged, others, right)) * turned

    @property
    def _both(self) -> tuple[Course, Course]:
        left, right = (self.motor(name) for name in self._wheels)
        assert left is not None and right is not None  # asked only where `unknown` is empty
        return left, right

    def modelled(self, channel: str) -> Signal | None:
        """A motor's `angle` or `speed` where nothing was recorded of it: what the motion model says, each millisecond.

        A program that waits on it has the same. None where nothing tells how fast the motor is.
        """
        name, _, what = channel.partition(".")
        rate = self.rig.turn_rate(name)
        if what not in ("angle", "speed") or rate is None or name not in self.record.commands:
            return None
        command = self.record.commands[name]
        if what == "speed":
            return Signal(command.times, command.values * rate)
        course = self._modelled({name: rate})
        if course is None:
            return None
        ticks = instants(np.arange(0, self.record.lasted + 1, STEP_US), course[0])
        return Signal(ticks, np.round(np.interp(ticks, *course), 9))  # whole degrees are met at their instant

    def speed(self, name: str) -> Signal:
        """How fast a motor really turned, in deg/s: from sample to sample where the truth is known, else smoothed."""
        course = self.motor(name)
        assert course is not None
        ticks, angles = course
        pose = self.record.pose
        if (pose is not None and name in pose.turned) or f"{name}.angle" not in self.record.readings:
            # the true angle and the model's go along straight lines between their instants
            steps = np.diff(angles) / (np.diff(ticks) / 1_000_000)
            return Signal(ticks[:-1], steps) if len(steps) else Signal(np.zeros(1, np.int64), np.zeros(1))
        before = np.maximum(ticks - SMOOTH_US, ticks[0])
        passed = np.maximum(ticks - before, 1) / 1_000_000
        return Signal(ticks, (angles - np.interp(before, ticks, angles)) / passed)


def made(course: Course, starts: Ticks, stops: Ticks) -> Floats:
    """How much came about in each stretch, without its sign."""
    ticks, values = course
    return np.abs(np.interp(stops, ticks, values) - np.interp(starts, ticks, values))


def reached(course: Course, start: int, amount: float) -> int | None:
    """The tick at which so much has come about since `start`; None when it never does."""
    ticks, values = course
    since = np.abs(values - np.interp(start, ticks, values))
    behind = np.flatnonzero((since >= amount) & (ticks >= start))
    if not len(behind):
        return None
    last = int(behind[0])
    if not last or since[last] == amount:
        return int(ticks[last])
    first = max(int(ticks[last - 1]), start)
    before = abs(float(np.interp(first, ticks, values) - np.interp(start, ticks, values)))
    share = (amount - before) / max(float(since[last]) - before, math.ulp(1.0))
    return first + round((int(ticks[last]) - first) * share)
