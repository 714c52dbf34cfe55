"""Programs in Python and C beside the same behaviour in the notation, and beside Python itself with stub words.

.venv/bin/python -m benchmarks.students
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial

from benchmarks.grading import exercise, ride
from geduld.grading.grade import HandIn, grade_each, prepare
from geduld.readers.c.program import CProgram
from geduld.readers.notation import NotationProgram
from geduld.readers.python.program import PythonProgram
from geduld.rig.reader import read_rig
from geduld.run.runner import Runner
from tests.glasshouse import ROOT
from tests.students import native_python

STUDENTS = ROOT / "tests" / "students"
FAR = "word far() in cm, absent is 500 = range\n"
WORDS = [(STUDENTS / name).read_text() + FAR for name in ("words.geduld", "words-c.geduld")]
HEAD = 'behaviour "b"\nfor rig "glasshouse-cart"\n\nbegin:\n'

# The same behaviour in three languages: (what it is, the notation, Python, C).
PAIRS = [
    (
        "waits for readings",
        "    wait until knob > 62 %\n    drive at 45 %\n    wait until range < 40 cm\n    drive at 20 %\n"
        "    wait until nose is pressed\n    stop drive\n",
        "from cart import *\nwhile dose() < 634:\n    pause(0.01)\nwheels(45, 45)\nwhile far() > 40:\n    pass\n"
        "wheels(20, 20)\nwhile not touched():\n    pass\nhalt()\n",
        '#include "cart.h"\nint main() {\nwhile (dose() < 634) pause(0.01);\nwheels(45, 45);\n'
        "while (far() > 40);\nwheels(20, 20);\nwhile (!touched());\nhalt();\n}\n",
    ),
    (
        "polls with state",
        "    set n to 0\n    repeat until nose is pressed:\n        if range < 60 cm:\n            set n to n + 1\n"
        "            drive at 20 %\n        else:\n            drive at 45 %\n    stop drive\n",
        "from cart import *\nn = 0\nwhile not touched():\n    if far() < 60:\n        n += 1\n        wheels(20, 20)\n"
        "    else:\n        wheels(45, 45)\nhalt()\n",
        '#include "cart.h"\nint n = 0;\nint main() {\nwhile (!touched()) {\nif (far() < 60) { n++; wheels(20, 20); }\n'
        "else wheels(45, 45);\n}\nhalt();\n}\n",
    ),
]


def best(work: Callable[[], object], rounds: int = 7) -> float:
    """The least time of some rounds, in s."""
    found = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        found.append(time.perf_counter() - began)
    return min(found)


def texts_of(lines: int) -> dict[str, str]:
    """A program of about so many lines in each language."""
    python = "".join((STUDENTS / "python" / f"{name}.py").read_text() for name in ("small_class", "proportional"))
    c = (STUDENTS / "c" / "everything.c").read_text()
    return {"python": "\n".join(python.split("\n")[: lines + 5]), "c": c}


def main() -> None:
    """Prints the tables."""
    rig = read_rig(ROOT / "demo" / "rigs" / "glasshouse-cart.json")
    trace = ride(1, 60)
    trace = replace(trace, channels={**trace.channels, "light": trace.channels["range"] * 0 + 300})
    readers = {"python": lambda text: PythonProgram(text, rig, WORDS), "c": lambda text: CProgram(text, rig, WORDS)}
    for language, text in texts_of(60).items():
        read = partial(readers[language], text)
        assert read().good, read().errors
        own = best(lambda: compile(texts_of(60)["python"], "", "exec"))
        told = f"{best(read) * 1000:.1f} ms ({best(read) / own:.1f} times what Python's compiler takes for 60 lines)"
        print(f"{language}: {len(text.splitlines())} lines to something runnable {told}")
    print(f"{'':20} {'notation':>9} {'Python':>14} {'C':>14} {'native Python':>16}")
    for what, notation, python, c in PAIRS:
        runners = [
            Runner(NotationProgram(HEAD + notation, rig)),
            Runner(PythonProgram(python, rig, WORDS)),
            Runner(CProgram(c, rig, WORDS)),
        ]
        times = [best(lambda runner=runner: runner.run(trace)) for runner in runners]  # type: ignore[misc]
        native = best(lambda text=python: native_python.run(text.replace("far()", "gap()"), trace, rig))  # type: ignore[misc]
        told = "".join(f"{taken * 1000:8.2f} ({taken / times[0]:.1f})" for taken in times[1:])
        print(f"{what:20} {times[0] * 1000:6.2f} ms {told} {native * 1000:9.2f} ({native / times[1]:.1f} of ours)")
    task = replace(exercise(12, 60), words=tuple(WORDS))
    programs = [python for _, _, python, _ in PAIRS]
    programs += [(STUDENTS / "python" / f"{name}.py").read_text() for name in ("straight", "from_star", "flags")]
    class_ = [HandIn(str(k), f"{programs[k % len(programs)]}# {k}\n".encode(), language="python") for k in range(30)]
    prepared = prepare(task)
    taken = best(lambda: list(grade_each(prepared, [(item, None) for item in class_], 0)), 3)
    print(f"a class of 30 Python programs, 12 traces of 60 s, 8 checks: {taken:.2f} s on one core")


if __name__ == "__main__":
    main()
