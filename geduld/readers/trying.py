"""Tries one word of a wordbook: called with values at an instant of a recording, what does it read or command?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from geduld.language.nodes import changed
from geduld.readers.python.program import PythonProgram
from geduld.rig.model import Rig
from geduld.run.runner import Runner
from geduld.wordbook.binder import read_wordbook
from geduld.wordbook.bound import FUNCTION, PART
from geduld.wordbook.printing import format_wordbook
from geduld.wordbook.reading import parse_wordbook
from geduld.wordbook.tree import PYTHON, Head
from geduld.worlds.trace import Trace

MODULE = "words_"
# What a word does that asks for something to be performed: it says each time, to the end of the recording.
_PERFORMED = """\
began_ = time.time()
def performed_():
    print("It is performed after %.2f s." % (time.time() - began_))
{}
time.sleep(1000000)
"""


@dataclass(frozen=True)
class Tried:
    """What a word did: the value it gave (as the student's program has it), the commands it gave with their instants
    in us since it was called, what it sent or noted, how long it took, and why it could not be called.
    """

    value: str
    commands: tuple[tuple[str, int, float], ...]
    said: tuple[str, ...]
    lasted_us: int
    problem: str


def try_word(source: str, rig: Rig, word: str, values: Sequence[str | float], trace: Trace, at_us: int) -> Tried:
    """Calls a word of a wordbook. An object's word is named `Motor.power`, and its first value is the part or port.

    Never raises on any word or values: what is wrong is the answer's `problem`.
    """
    book = parse_wordbook(source).tree
    heads = tuple(head for head in book.heads if head.what not in ("reads", "module", "header"))
    plain = changed(book, heads=(*heads, Head("reads", (PYTHON,)), Head("module", (MODULE,))))
    head, _, rest = word.partition(".")
    things = {item.name for item in book.words if not hasattr(item, "body")}
    given = [repr(value) for value in values]
    asks = [place for place, what in enumerate(_kinds(source, rig, head, rest)) if what == FUNCTION]
    for place in asks:
        given[place : place + 1] = ["performed_"]
    if head in things:
        call = f"{MODULE}.{head}({', '.join(given[:1])}).{rest}({', '.join(given[1:])})"
    else:
        call = f"{MODULE}.{word}({', '.join(given)})"
    text = f"import {MODULE}\nimport time\ntime.sleep({at_us / 1e6!r})\n"
    text += _PERFORMED.format(call) if asks else f"print(repr({call}))\n"
    program = PythonProgram(text, rig, [format_wordbook(plain)])
    if not program.good:
        return Tried("", (), (), 0, program.errors[0].message)
    record = Runner(program).run(trace)
    commands = tuple(
        (name, tick - at_us, value)
        for name, signal in record.commands.items()
        for tick, value in zip(signal.times.tolist(), signal.values.tolist(), strict=True)
        if tick >= at_us and not (tick == 0 and len(signal.times) == 1)
    )
    notes = [event.text for event in record.events if event.kind in ("note", "send") and event.tick >= at_us]
    problem = next((event.text for event in record.events if event.kind in ("error", "limit")), "")
    finished = record.why == "finished"
    value = notes.pop() if finished and notes else ""
    lasted = record.ended_at - at_us
    if not finished and not problem and not asks:
        problem = "The recording ended before the word did."
    lasted = 0 if asks else lasted
    return Tried("" if value == "None" else value, commands, tuple(notes), max(0, lasted), problem)


def _kinds(source: str, rig: Rig, head: str, rest: str) -> list[str]:
    """What is given for each parameter of a word."""
    book = read_wordbook(source, rig)
    thing = book.things.get(head)
    word = thing.words.get(rest) if thing is not None else book.words.get(f"{head}.{rest}" if rest else head)
    before = [PART] if thing is not None else []
    return before + [one.what for one in (word.given or () if word is not None else ())]
