"""Behaviours written out in Python and C: what comes back does what the behaviour does."""

import os
import subprocess
import sys
import unittest
from itertools import chain

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.readers.c.program import CProgram
from geduld.readers.notation import runner_for
from geduld.readers.python.program import PythonProgram
from geduld.run.runner import Runner
from geduld.translation.translate import translate
from geduld.wordbook.binder import good_wordbook
from tests.glasshouse import DEMO, cart, trace

WORDS = """
word roll(left in %, right in %):
    drive at left, right
word glow(share in %):
    lamp at share
word park():
    stop drive by braking
word rest(time in ms):
    wait time
word ahead() in cm, absent is -1 = range
word turn() in %, absent is -1 = knob
word bumped() = nose is pressed
word ticking() in ms = clock
word heard() = message
word shout(text):
    send text
"""
BY_WHEELS = """
word glow(share from 0 to 1):
    lamp at share
word rest(time in s):
    wait time
word ahead() in mm = range
word turn() from 0 to 100 = knob
word bumped() = nose is pressed
word ticking() in s = clock
word heard() = message
word shout(text):
    send text
object Wheel(port):
    word spin(share from -100 to 100):
        part at share
    word hold():
        stop part by braking
"""
BOOKS = {
    "python by wheels": ('wordbook "wheels"\nreads python\nmodule barrow\n' + BY_WHEELS, PythonProgram),
    "python": ('wordbook "exact"\nreads python\nmodule barrow\n' + WORDS, PythonProgram),
    "c": ('wordbook "exact"\nreads c\nheader "barrow.h"\n' + WORDS, CProgram),
}
EXAMPLES = 1500 if os.environ.get("GEDULD_SEARCH") else 60

VALUES = st.sampled_from(
    [
        "range * 1 %/cm",
        "knob",
        "-20 %",
        "35.5 %",
        "n",
        "n + 5 %",
        "max(knob, 20 %)",
        "clamp((range - 4 cm) * 0.8 %/cm, 14 %, 45 %)",
        "abs(n - knob)",
    ]
)
CONDITIONS = st.recursive(
    st.sampled_from(
        [
            "range < 40 cm",
            "range > near",
            "knob >= 50 %",
            "knob != 0 %",
            "nose is pressed",
            "n < 30 %",
            "range is absent",
            'message is "go"',
            "clock >= 1 s",
            "knob * 1 cm/% < range",
            "n / knob > 0.5",
            "tea >= 200 ms",
            "tea < 1 s",
            "not (range < 60 cm)",
        ]
    ),
    lambda inner: st.builds("({}) {} ({})".format, inner, st.sampled_from(["and", "or"]), inner),
    max_leaves=3,
)
TIMES = st.sampled_from(["10 ms", "0.25 s", "300 ms", "1 s"])
ENDINGS = st.one_of(
    st.builds("for {}".format, TIMES),
    st.builds("until {}".format, CONDITIONS),
    st.sampled_from(["until nose is just pressed", "until nose is just released, patience 300 ms"]),
    st.builds("until {}, patience {}".format, CONDITIONS, TIMES),
    st.builds("until {}, held {}, patience {}".format, CONDITIONS, TIMES, TIMES),
)
PLAIN = st.one_of(
    st.builds("drive at {}".format, VALUES),
    st.builds("lamp at {}".format, VALUES),
    st.builds(
        "drive at {} {}{}".format,
        st.sampled_from(["30 %", "-15 %, 20 %"]),
        ENDINGS,
        st.sampled_from(["", ", keep going"]),
    ),
    st.builds("set n to {}".format, VALUES),
    st.builds("wait {}".format, TIMES | ENDINGS.filter(lambda ending: ending[0] == "u")),
    st.just("stop drive by braking"),
    st.just("stop lamp"),
    st.just("start timer tea"),
    st.just('send "here"'),
)


def _indented(lines):
    return ["    " + line for line in lines]


def _blocks(inner):
    body = st.lists(inner, min_size=1, max_size=3).map(lambda found: [line for lines in found for line in lines])
    pause = body.map(lambda lines: [*lines, "wait 20 ms"])
    return st.one_of(
        st.builds(lambda c, b: [f"if {c}:", *_indented(b)], CONDITIONS, body),
        st.builds(lambda c, b, d: [f"if {c}:", *_indented(b), "else:", *_indented(d)], CONDITIONS, body, body),
        st.builds(lambda n, b: [f"repeat {n} times:", *_indented(b)], st.integers(0, 3), body),
        st.builds(
            lambda w, c, b: [f"repeat {w} {c}:", *_indented(b)], st.sampled_from(["while", "until"]), CONDITIONS, pause
        ),
        st.builds(
            lambda s, a, b, c, d: [
                f"by range{s}:",
                "    over 50 cm:",
                *_indented(_indented(a)),
                "    20 cm to 50 cm:",
                *_indented(_indented(b)),
                "    under 20 cm:",
                *_indented(_indented(c)),
                "    absent:",
                *_indented(_indented(d)),
            ],
            st.sampled_from(["", ", slack 6 cm"]),
            body,
            body,
            body,
            body,
        ),
    )


STEPS = st.recursive(PLAIN.map(lambda line: [line]), _blocks, max_leaves=6)
PLANS = st.lists(STEPS, min_size=1, max_size=5).map(
    lambda found: (
        "\n".join(
            [
                'behaviour "Test"',
                "let near = 45 cm",
                "begin:",
                "    start timer tea",
                "    set n to 5 %",
                *_indented(chain.from_iterable(found)),
            ]
        )
        + "\n"
    )
)


def _worlds():
    draws = np.random.default_rng(8)
    return [
        trace(
            step,
            range=np.where(draws.random(count) < 0.15, np.nan, draws.integers(2, 90, count)),
            knob=draws.integers(0, 100, count),
            nose=draws.integers(0, 2, count),
        )
        for step, count in ((100_000, 50), (10_000, 400), (250_000, 20))
    ]


WORLDS = _worlds()


def done(record):
    commands = {
        part: list(
            zip(signal.times.tolist(), np.round(np.nan_to_num(signal.values, nan=-1e9), 9).tolist(), strict=True)
        )
        for part, signal in record.commands.items()
    }
    return commands, [(event.tick, event.text) for event in record.events if event.kind == "send"]


class Translated(unittest.TestCase):
    @settings(max_examples=EXAMPLES, deadline=None)
    @given(PLANS)
    def test_what_comes_back_does_what_the_behaviour_does(self, text):
        expected = [done(runner_for(text, cart()).run(world, 4_000_000)) for world in WORLDS]
        for language, (words, reads) in BOOKS.items():
            translated = translate(text, cart(), good_wordbook(words, cart()))
            self.assertEqual(translated.left_out, (), text)
            program = reads(translated.text, cart(), [words])
            self.assertEqual([hint for hint in program.hints if hint.level == "error"], [], translated.text)
            runner = Runner(program)
            for world, wanted in zip(WORLDS, expected, strict=True):
                self.assertEqual(done(runner.run(world, 4_000_000)), wanted, f"{language}\n{text}\n{translated.text}")

    def test_what_the_words_cannot_say_is_left_out_and_listed(self):
        book = good_wordbook(BOOKS["python"][0], cart())
        cases = {
            "left at 30 %": "setting left",
            "wait until nose.presses > 2": "reading nose.presses",
            "drive from 0 % to 50 % over 2 s": "going evenly",
            "stop drive by coasting": "by coasting",
            "drive at 30 cm/s for 1 s": "a kept speed",
            "do:\n        wait 1 s\n    unless nose is pressed:\n        stop drive": "do and unless",
        }
        for step, what in cases.items():
            with self.subTest(step):
                found = translate(
                    f'behaviour "Test"\nbegin:\n    lamp at 50 %\n    {step}\n    stop lamp\n', cart(), book
                )
                (hint,) = found.left_out
                self.assertEqual((hint.code, hint.line), ("no-word", 4))
                self.assertIn(what, hint.message)
                self.assertIn("# not said: line 4 of the behaviour\nglow(0)", found.text)

    def test_the_command_prints_the_program_and_says_what_is_missing(self):
        command = [sys.executable, "-m", "geduld", "translate", "--rig", DEMO / "rigs" / "glasshouse-cart.json"]
        for name, language in (("dock-at-the-barrel", "python"), ("stay-on-the-line", "c")):
            words = DEMO / "wordbooks" / f"barrow-{language}.geduld"
            behaviour = DEMO / "behaviours" / f"{name}.geduld"
            ran = subprocess.run([*command, "--words", words, behaviour], capture_output=True, text=True, check=False)
            missing = "no-word" in ran.stderr
            self.assertEqual((ran.returncode, missing), (1, True) if language == "c" else (0, False), ran.stderr)
            self.assertIn('#include "barrow.h"' if language == "c" else "from barrow import ahead", ran.stdout)


if __name__ == "__main__":
    unittest.main()
