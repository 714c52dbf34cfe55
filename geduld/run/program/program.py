"""What a program is to those who run it, judge it and show it, whatever language it is written in."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

from geduld.binding.terms import Bound, Setting, Threshold
from geduld.language.messages import Hint
from geduld.rig.model import Rig
from geduld.run.program.compiler import Compiled, compile_program
from geduld.run.record.record import Record
from geduld.worlds.trace import Trace


@dataclass(frozen=True)
class Facts:
    """What checks may ask of a program: the words that stand in it, its steps, and the codes of its hints."""

    words: frozenset[str]
    steps: int
    hints: frozenset[str]


class Runnable(Protocol):
    """What can be run: compiled for recordings, where all can be looked at ahead, and for worlds where nothing can."""

    @property
    def rig(self) -> Rig:
        """The robot it is for."""

    @property
    def recorded(self) -> Compiled:
        """Compiled for recordings. It must have no errors."""

    @property
    def feedback(self) -> Compiled:
        """Compiled for worlds in which what it does changes what it reads. It must have no errors."""


class Program(Runnable, Protocol):
    """A text that was read: what can be run of it, and what can be said of it."""

    @property
    def good(self) -> bool:
        """Whether it can be run."""

    @property
    def errors(self) -> tuple[Hint, ...]:
        """Why it cannot, in the order of its text."""

    @property
    def hints(self) -> tuple[Hint, ...]:
        """Every message about it that needs no world, in the order of its text."""

    @property
    def thresholds(self) -> tuple[Threshold, ...]:
        """The numbers in it that readings are compared with."""

    @property
    def settings(self) -> tuple[Setting, ...]:
        """The numbers in it that set something: outputs, how long a step lasts, the edges of bands."""

    @property
    def facts(self) -> Facts:
        """What checks may ask of it."""

    def hints_in(self, seen: Trace, record: Record) -> tuple[Hint, ...]:
        """What a run of it shows about it; `seen` is what it could see."""


class CompiledTwice(ABC):
    """What is compiled for either kind of world when it is first run there."""

    @cached_property
    def recorded(self) -> Compiled:
        """Compiled for recordings."""
        return self._compiled(False)

    @cached_property
    def feedback(self) -> Compiled:
        """Compiled for worlds in which what it does changes what it reads."""
        return self._compiled(True)

    @abstractmethod
    def _compiled(self, closed: bool) -> Compiled:
        """Compiled for recordings, or for worlds that answer (`closed`)."""


class BoundProgram(CompiledTwice):
    """A bound plan as what can be run. Raises ValueError when a plan with errors is to be run."""

    def __init__(self, bound: Bound, rig: Rig) -> None:
        self.bound = bound
        self.rig = rig

    def _compiled(self, closed: bool) -> Compiled:
        if not self.bound.good:
            raise ValueError("a program with errors cannot be run")
        return compile_program(self.bound, self.rig, closed)
