"""Two devices at once: each has its rig, its program and its world, and what one sends the other hears.

Both stand on one time axis. A message comes to the other one after a delay, or is lost, by a seed. Nothing else joins
the two; so each is run by itself with what it hears, and again when that was something else, until nobody hears
anything new. As a message needs time, what both have heard up to an instant is right for a while longer with each
round: the runs come out as if the two had been run side by side.
"""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from geduld.language.quantities import text_code
from geduld.rig.model import Rig
from geduld.run.record.record import Event, Record
from geduld.run.runner import Runner
from geduld.run.world import FloorWorld, TraceWorld, TravelWorld
from geduld.worlds.inputs import GONE, Inputs
from geduld.worlds.trace import Trace

MOST_ROUNDS = 120
DELAY_US = 20_000
LEAST_DELAY_US = 1_000
_TEXT = re.compile(r'"([^"\n]*)"')
Alone = TraceWorld | TravelWorld | FloorWorld
Heard = tuple[tuple[int, str], ...]


@dataclass(frozen=True)
class Link:
    """How messages go from one device to the other: `delay_us` in ticks, `lost` the share that never comes."""

    delay_us: int = DELAY_US
    lost: float = 0.0
    seed: int = 0

    def delivered(self, sent: Heard, way: int, lasts: int) -> Heard:
        """When which message comes; `way` is 0 or 1, by direction. Two that come at once come one tick apart."""
        chance = np.random.default_rng(np.random.SeedSequence([self.seed, way])).random(len(sent))
        heard: list[tuple[int, str]] = []
        for (tick, text), drawn in zip(sent, chance.tolist(), strict=True):
            if drawn >= self.lost:
                at = tick + self.delay_us
                at = max(at, heard[-1][0] + 2) if heard else at
                if at <= lasts:
                    heard.append((at, text))
        return tuple(heard)


@dataclass(frozen=True)
class Partner:
    """The other device: what it is called, where it is, and its program's text with what makes it ready to run."""

    name: str
    world: Alone
    make: Callable[[], Runner]
    text: str
    link: Link = Link()

    @cached_property
    def runner(self) -> Runner:
        """Its program, ready to run."""
        return self.make()

    def __getstate__(self) -> dict[str, Any]:
        """What goes to another process: a program that is ready stays behind."""
        return {key: value for key, value in self.__dict__.items() if key != "runner"}


@dataclass(frozen=True)
class TogetherWorld:
    """A world in which a program is run together with another device's."""

    main: Alone
    partner: Partner

    @property
    def rig(self) -> Rig:
        """The rig of the device whose program is run in it."""
        return self.main.rig

    @property
    def limit_us(self) -> int | None:
        """When it ends, where that is said."""
        return self.main.limit_us

    @property
    def inputs(self) -> Inputs:
        """What hands do at that device."""
        return self.main.inputs

    def run(self, runner: Runner, program: str = "") -> tuple[Record, Trace]:
        """A run of both: the record of the program's own device, with the other one's as `partner`, and what it saw."""
        partner, link = self.partner, self.partner.link
        to_main: Heard = ()
        to_partner: Heard | None = None
        theirs: Record | None = None
        for _ in range(MOST_ROUNDS):
            ours, seen = heard_in(self.main, to_main).run(runner, program)
            comes = link.delivered(_sent(ours), 0, ours.lasted)
            if theirs is None or comes != to_partner:
                to_partner = comes
                theirs = heard_in(partner.world, comes).run(partner.runner, partner.text)[0]
            new = link.delivered(_sent(theirs), 1, ours.lasted)
            if new == to_main or self.main.rig.radio is None:
                return replace(ours, partner=theirs, unheard=self._unheard(ours)), seen
            to_main = new
        message = f"The two devices answer each other more than {MOST_ROUNDS} times in this run, which is not followed."
        limit = Event(ours.lasted, "limit", 1, message)
        return replace(ours, partner=theirs, why="events", events=(*ours.events, limit)), seen

    def _unheard(self, ours: Record) -> tuple[str, ...]:
        """The texts that were sent and that do not stand in the partner's program; all, where it hears nothing."""
        known = set(_TEXT.findall(self.partner.text)) if self.partner.world.rig.radio else set()
        return tuple(dict.fromkeys(text for _, text in _sent(ours) if text not in known))

    @property
    def fingerprint(self) -> str:
        """A hash of all that a run in it depends on, beside program and rig."""
        partner, link = self.partner, self.partner.link
        source = [self.main.fingerprint, partner.world.fingerprint, partner.world.rig.fingerprint, partner.text]
        return hashlib.sha256(json.dumps([*source, link.delay_us, link.lost, link.seed]).encode()).hexdigest()


def _sent(record: Record) -> Heard:
    return tuple((event.tick, event.text) for event in record.events if event.kind == "send")


def heard_in(world: Alone, heard: Heard) -> Alone:
    """A world in which these messages come; as it is where its rig has nothing that hears them."""
    radio = world.rig.radio
    if radio is None or not heard:
        return world
    return replace(world, inputs=_with_messages(world.inputs, radio.name, heard))


def _with_messages(inputs: Inputs, name: str, heard: Heard) -> Inputs:
    """Inputs with messages beside what hands do: a like one right behind another is a new one all the same."""
    cells: dict[int, float] = {}
    own = inputs.channels.get(name)
    if own is not None:
        cells = {int(t): float(v) for t, v in zip(inputs.times, own, strict=True) if v == v}
    last = ""
    for tick, text in heard:
        if text == last:
            cells.setdefault(tick - 1, GONE)
        cells[tick], last = text_code(text), text
    times = np.union1d(inputs.times, np.array(sorted(cells), np.int64))
    place = np.searchsorted(times, inputs.times)

    def spread(values: np.ndarray) -> np.ndarray:
        column = np.full(len(times), np.nan)
        column[place] = values
        return column

    channels = {key: spread(values) for key, values in inputs.channels.items() if key != name}
    channels[name] = np.array([cells.get(int(tick), np.nan) for tick in times.tolist()])
    places = {key: spread(values) for key, values in inputs.places.items()}
    texts = {**inputs.texts, **{text_code(text): text for _, text in heard}}
    return Inputs(times, channels, places, texts, inputs.stop_us)
