"""What a script's operations do where Python's own could run away: numbers, texts and lists, each under its limits."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Mapping
from typing import Any

from geduld.run.program.functions import StepsExhausted
from geduld.script.ends import MOST_DEPTH, TooMuch
from geduld.script.memory import SOURCE, Memory
from geduld.script.telling import Teller, plain

MOST_SAID = 400
_CELL, _LETTERS_A_STEP, _ITEMS_A_STEP = 40, 64, 8


class Random:
    """The numbers of `random`, the same in every run of one seed; `drawn` counts them."""

    def __init__(self, seed: int) -> None:
        self.source = random.Random(seed)
        self.drawn = 0

    def draw(self) -> random.Random:
        """The source, from which one number more is drawn."""
        self.drawn += 1
        return self.source


class Machine:
    """One run of a script: what it keeps, how much it has worked, and what it says.

    `event` notes what happens; `most` is how many steps a run may take.
    """

    def __init__(self, event: Callable[..., Any], most: int, texts: Mapping[float, str], seed: int) -> None:
        self.event = event
        self.most = most
        self.texts = texts
        self.memory = Memory()
        self.worked = 0
        self.teller = Teller(self.letters)
        self.random = Random(seed)

    def work(self, steps: int, now: int = 0) -> None:
        """Counts what an operation costs beyond one step. Raises StepsExhausted past the limit."""
        self.worked += steps
        if self.worked > self.most:
            raise StepsExhausted(now)

    def letters(self, count: int) -> None:
        """Counts a text that is made."""
        self.memory.grow(count + 50)
        self.work(count // _LETTERS_A_STEP)

    def items(self, count: int) -> None:
        """Counts items that are made, or copied."""
        self.memory.grow(count * _CELL + 60)
        self.work(count // _ITEMS_A_STEP)

    def looked(self, count: int) -> None:
        """Counts items that are looked at."""
        self.work(count // _ITEMS_A_STEP)

    def named(self, value: Any) -> str:
        """What kind a value is, for messages."""
        return "None" if value is None else f"a {plain(type(value).__name__)}"

    def number(self, value: Any, parameter: str) -> float:
        """A plain number that was given to a word. Raises TypeError for anything else."""
        if type(value) is float:
            return value
        if isinstance(value, int):
            return float(value)
        raise TypeError(f'"{parameter}" is a number, and {self.named(value)} was given')

    def text(self, value: Any, parameter: str) -> str:
        """A text that was given to a word. Numbers are told as texts."""
        if isinstance(value, str | int | float):
            return self.teller.told(value)[:MOST_SAID]
        raise TypeError(f'"{parameter}" is a text, and {self.named(value)} was given')

    def message(self, code: float) -> str | None:
        """The text of a message that was received, or None."""
        return self.texts.get(code) if code == code else None

    def say(self, given: Iterable[Any], separator: str, end: str, now: int, line: int) -> None:
        """`print`: a note in the record, or one for each line of it, at the instant when its values are known."""
        text = separator.join(self.teller.told(value) for value in given)
        self.letters(len(text))
        if end != "\n":
            text += end.rstrip("\n")
        for said in text.split("\n") or [""]:
            self.event(now, "note", line, said[:MOST_SAID])

    def deeper(self, depth: int) -> None:
        """Functions that perform each other. Raises TooMuch past the limit."""
        if depth > MOST_DEPTH:
            message = f"Functions perform each other more than {MOST_DEPTH} deep, so the run was ended here."
            raise TooMuch(message)

    def crashed(self, problem: BaseException, lines: list[int]) -> tuple[int, str]:
        """The line and the sentence of an error that ended the script."""
        found, trace = 0, problem.__traceback__
        while trace is not None:
            if trace.tb_frame.f_code.co_filename == SOURCE:
                found = lines[trace.tb_lineno - 1] or found
            trace = trace.tb_next
        if isinstance(problem, TooMuch):
            return found, str(problem)
        return found, f"The program broke off here with {kind_of(problem)}: {plain(str(problem)) or 'no more is said'}."


def kind_of(problem: BaseException) -> str:
    """The name that the language has for an error."""
    return plain(type(problem).__name__)
