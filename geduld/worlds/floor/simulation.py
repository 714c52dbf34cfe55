"""One robot on one floor, from the start of a run on: packs everything for the kernel, and takes its samples out."""

from __future__ import annotations

import math
from functools import cached_property
from typing import Any

import numpy as np

from geduld.errors import FloorError, Place
from geduld.rig.model import Rig
from geduld.worlds.counting import COUNTED
from geduld.worlds.floor import packing
from geduld.worlds.floor.faults import GAP_US, Fault, Faulty
from geduld.worlds.floor.model import Floor
from geduld.worlds.inputs import Inputs
from geduld.worlds.kernel import layout
from geduld.worlds.trace import Floats, Trace

STEP_US = 10_000
MOST_AHEAD = 64
_TICK, _ROWS = layout.TICK, layout.ROWS
MOST_EVENTS = 2_000
EVENTS = ("contact", "stall", "end", "gripped", "placed", "dropped")  # in the order of the kernel's
_EXTRA_ROWS = 4_096


class Simulation:
    """A floor as it runs.

    `seed` chooses the noise of the sensors and lets contacts bounce; without one, sensors are quiet. `step_us` is the
    longest step of the physics in ticks; `faults` are what is wrong with this robot. Raises FloorError when the robot
    starts inside something.
    """

    def __init__(
        self,
        rig: Rig,
        floor: Floor,
        inputs: Inputs | None = None,
        seed: int | None = None,
        end: int = 60_000_000,
        step_us: int = STEP_US,
        faults: tuple[Fault, ...] = (),
    ) -> None:
        from geduld.worlds.kernel.advance import advance

        self.rig = rig
        self.floor = floor
        self.inputs = inputs or Inputs()
        self.end = end
        self.seed = seed
        self.period = _period(rig)
        self.faulty = Faulty(rig, faults, seed, end)
        packed = packing.pack(self.faulty.built, floor, self.inputs, seed, end, self.period)
        self.columns = self.faulty.columns(packed.columns)
        self.k, self.f, self.w = packed.k, packed.f, packed.w
        self.motors = packed.motors
        self.k[layout.STEP] = step_us
        rows = end // self.period + 2 + len(self.inputs.times) + _EXTRA_ROWS
        self.k[layout.MOST_ROWS] = rows
        self.k[layout.GRID_ROWS] = end // self.period + 2
        self.k[layout.MOST_EVENTS] = MOST_EVENTS
        self.table = np.full((rows, packed.width), np.nan, order="F")
        for name, value in packed.defaults.items():
            self.table[:, self.columns[name]] = value
        self.ticks = np.full(rows, 1 << 62, np.int64)
        self._ticks = self.ticks.data
        self.raw_events = np.zeros((MOST_EVENTS, layout.EVENT))
        changing = layout.CHANGING + int(self.k[layout.TOUCHES]) + layout.MOST_TOUCHES * layout.TOUCH_WIDTH
        self.history = np.zeros((2 * MOST_AHEAD, changing))
        self._advance = advance
        self.now = self.place = 0
        self._tick = self._last = 0  # how far it is filled, and the sample there: the same as in `k`, to be asked often
        self._chunk = 1
        self._wrong = [(packed.columns[name], packed.defaults.get(name)) for name in self._falsified()]
        self._falsified_to = 0
        if packing.starts_inside(rig, floor):
            message = "The robot starts inside a wall or an obstacle."
            raise FloorError("start-inside", message, "Move the start, or what is in its way.", Place(path="start.at"))
        self._fill(0, 1)

    def _fill(self, until: int, rows: int) -> None:
        """Lets the world go on under the commands that hold, and fills the samples."""
        first = int(self.k[_ROWS])
        if self._wrong:
            self._restore(first)
        self._advance(self.k, self.f, self.w, self.table, self.ticks, self.raw_events, self.history, until, rows)
        self._tick, self._last = int(self.k[_TICK]), int(self.k[_ROWS]) - 1
        if self._wrong:
            self._falsify(first, self._last + 1)

    def _fill_ahead(self) -> None:
        """Fills the next samples: each time more of them, as long as no command takes the world back."""
        self._fill(self.end, self._chunk)
        self._chunk = min(self._chunk + (self._chunk + 1) // 2, MOST_AHEAD)

    def _falsified(self) -> list[str]:
        """The channels whose readings come through a faulty wire, as the robot has them."""
        return [self.faulty.motor(name) for name in (*self.faulty.inverted, *self.faulty.loose)]

    def _restore(self, first: int) -> None:
        """Takes back what was falsified from a row on: what nothing measures is not written again."""
        for column, default in self._wrong:
            if default is not None:
                self.table[first : self._falsified_to, column] = default

    def _falsify(self, first: int, last: int) -> None:
        """Makes of new rows what comes through faulty wires."""
        rows = slice(first, last)
        for name in self.faulty.inverted:
            column = self.columns[name]
            self.table[rows, column] = 1.0 - self.table[rows, column]
        for name, gaps in self.faulty.loose.items():
            lost = gaps[self.ticks[rows] // GAP_US]
            self.table[rows, self.columns[name]][lost] = np.nan
        self._falsified_to = max(self._falsified_to, last)

    def go(self, now: int) -> int:
        """Goes to an instant: the row of the sample that holds then.

        The world is filled ahead as long as no command changes, in growing stretches; a command takes it back.
        """
        ticks = self._ticks
        while self._tick < now:
            self._fill_ahead()
        place, last = self.place, self._last
        while place < last and ticks[place + 1] <= now:
            place += 1
        self.now, self.place = now, place
        return place

    def skip(self, now: int) -> None:
        """Goes to an instant at which a command will change: nothing is filled beyond it."""
        self._fill(now, 1 << 30)
        self.now, self.place = now, self._last

    def next_sample(self) -> int:
        """The instant of the next sample, or of the end."""
        if self.place >= self._last and self._tick < self.end:
            self._fill_ahead()
        return int(self._ticks[self.place + 1]) if self.place < self._last else self.end

    @property
    def filled(self) -> int:
        """The last sample that is known already, if no command changes."""
        return self._last

    def tick(self, place: int) -> int:
        """The instant of a sample that is known."""
        return self._ticks[place]

    def _take_back(self) -> None:
        """Takes the world back to now, where it was filled further."""
        if self._tick == self.now:
            return
        past = self.history[self.place % len(self.history)]
        self.k[: layout.CHANGING] = past[: layout.CHANGING]
        self.f[: len(past) - layout.CHANGING] = past[layout.CHANGING :]
        self._tick, self._last = int(self.k[_TICK]), int(self.k[_ROWS]) - 1
        self._chunk = 1
        if self._tick < self.now:
            self._fill(self.now, 1)

    def command(self, motor: str, power: float, control: int) -> None:
        """Sets a motor from now on: its command in %, and how it is controlled (as in `run.program.requests`)."""
        motor = self.faulty.motor(motor)
        at = self.motors.get(motor)
        if at is not None:
            self._take_back()
            self.f[at + layout.COMMAND] = self.faulty.power(motor, power) / 100.0
            self.f[at + layout.CONTROL] = layout.BY_BRAKE if motor in self.faulty.jammed else control

    def column(self, name: str) -> Floats:
        """A channel's values at each row, those to come included; absent all along when the floor does not show it."""
        index = self.columns.get(name)
        return self._absent if index is None else self.table[:, index]

    @cached_property
    def _absent(self) -> Floats:
        return np.full(len(self.ticks), np.nan)

    @property
    def rows(self) -> int:
        """How many samples there are up to now."""
        return self.place + 1

    def trace(self) -> Trace:
        """The samples so far: every sensor and encoder, in base units."""
        rows = self.rows
        channels = {
            name: np.ascontiguousarray(self.table[:rows, index])
            for name, index in self.columns.items()
            if name.rpartition(".")[2] not in COUNTED
        }
        return Trace(self.ticks[:rows].copy(), channels, self.inputs.texts)

    def poses(self) -> tuple[Any, Floats]:
        """The instants of the samples, and the pose then: x and y in m, heading in deg, shape (n, 3)."""
        rows = self.rows
        poses = self.table[:rows, : layout.ROW_HEAD].copy()
        poses[:, layout.ROW_HEADING] = np.degrees(poses[:, layout.ROW_HEADING])
        return self.ticks[:rows].copy(), poses

    def moved(self) -> dict[str, Floats]:
        """Where things that can be moved were at each sample: x and y of their middle in m, shape (n, 2).

        Of a hand it is where it was held; NaN while there was none.
        """
        rows = self.rows
        found = {}
        for name, (x, y, base_x, base_y) in packing.thing_columns(self.rig, self.floor, self.columns).items():
            where = np.stack((self.table[:rows, x] + base_x, self.table[:rows, y] + base_y), axis=1)
            where[np.abs(where[:, 0]) > packing.FAR / 2] = np.nan
            found[name] = where
        return found

    def turned(self) -> dict[str, Floats]:
        """How far each motor had really turned at each sample, in deg, shape (n,)."""
        columns = packing.turned_columns(self.rig, self.floor, self.columns)
        return {name: np.degrees(self.table[: self.rows, column]) for name, column in columns.items()}

    def loads(self) -> dict[str, dict[str, Floats]]:
        """What is lifted: whether it was `held` at each sample (1 or 0), and for each motor that says where it lies the
        angle there, in deg, shape (n,)."""
        first = packing.load_columns(self.rig, self.floor, self.columns)
        found = {}
        for load in self.floor.loads:
            columns = self.table[: self.rows, first[load.name] : first[load.name] + layout.LOAD_COLUMNS]
            lies = zip((load.lifted_by, *load.aside), np.degrees(columns[:, 1:]).T, strict=False)
            found[load.name] = {"held": columns[:, 0].copy(), **dict(lies)}
        return found

    def events(self) -> list[tuple[int, str, float, float, str]]:
        """What happened: the tick, its kind (a word of `EVENTS`), where in m, and the motor or the load.

        Of a load that was put down it says on which place, where that has a name: `tray on shelf`.
        """
        motors, loads = list(self.motors), [load.name for load in self.floor.loads]
        rests = [name for load in self.floor.loads for name in load.places]
        found = []
        for tick, code, x, y, which in self.raw_events[: int(self.k[layout.EVENTS])].tolist():
            kind, what = EVENTS[int(code)], ""
            if kind in ("stall", "end"):
                what = motors[int(which)]
            elif kind != "contact":
                what = loads[int(which)]
                if kind == "placed" and rests[int(x)]:
                    what = f"{what} on {rests[int(x)]}"
            found.append((int(tick), kind, x, y, what))
        return found


def _period(rig: Rig) -> int:
    """The ticks from sample to sample: what the loop and all sensors have in common."""
    periods = [round(mount.period * 1_000_000) for mount in rig.physics.mounts.values() if mount.period]
    return max(1_000, math.gcd(rig.loop_us, *periods))
