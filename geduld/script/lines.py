"""The lines of the controller in one run: their levels, and what the drivers make the motors do."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from geduld.language.quantities import RATIO
from geduld.rig.model import Rig
from geduld.run.program.requests import BRAKE, COAST, POWER

_DOES = {"forward": (1.0, POWER), "backward": (-1.0, POWER), "brake": (0.0, BRAKE), "coast": (0.0, COAST)}


def outputs_on_lines(rig: Rig) -> list[str]:
    """The outputs that can be set through lines: those with a driver, and those that hang on a line themselves."""
    driven = [driver.motor for driver in rig.drivers]
    return driven + [part.name for part in rig.outputs if part.name not in driven and part.dimension == RATIO]


class Lines:
    """The lines of one run; all are low at its start.

    `put` and `control` command outputs, `note` writes a line's level down: its name, the level in % and the tick, and
    `event` notes, once for each, a line that is set and on which nothing hangs.
    """

    def __init__(
        self,
        rig: Rig,
        put: Callable[..., Any],
        control: Callable[..., Any],
        note: Callable[..., Any],
        event: Callable[..., Any],
    ) -> None:
        self.rig = rig
        self.put = put
        self.control = control
        self.note = note
        self.event = event
        self.bare: set[str] = set()
        self.levels: dict[str, float] = {}
        self.drivers = {line: driver for driver in rig.drivers for line in driver.lines.values()}
        self.parts = {part.port: part for part in rig.outputs if part.dimension == RATIO}

    def set(self, pin: Any, level: float, now: int, line: int) -> None:
        """Sets a line to a level from 0 to 100 %. One on which no output hangs does nothing, as on the controller.

        Raises ValueError for what is no line.
        """
        name = pin if isinstance(pin, str) else str(int(pin)) if isinstance(pin, int | float) and pin == pin else ""
        if not name:
            raise ValueError(f"{pin!r} is no line")
        driver, part = self.drivers.get(name), self.parts.get(name)
        if driver is None and part is None:
            if name not in self.bare:
                self.bare.add(name)
                self.event(now, "bare", line, f"No output hangs on line {name}, so setting it does nothing.")
            return
        level = min(100.0, max(0.0, level))
        self.levels[name] = level
        self.note(name, level, now)
        if driver is None:
            assert part is not None
            self.put(part.name, level, now, line)
            return
        # A line that is no duty line is high or low, however long.
        does, duty = driver.does(self.levels)
        sign, code = _DOES[does]
        self.control(driver.motor, code, now)
        self.put(driver.motor, sign * duty, now, line)
