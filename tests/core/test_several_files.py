"""Programs of several files: what they mean, how they come in, and what is wrong with them."""

import io
import random
import tempfile
import unittest
import zipfile
from pathlib import Path

from geduld.grading.exercise import read_exercise
from geduld.grading.folders import read_hand_ins
from geduld.grading.grade import grade_all
from geduld.readers.bundle import begins_with, program_in, zip_files
from geduld.readers.files import files_in, joined, place_in
from geduld.readers.guess import guessed_language
from geduld.readers.reading import LANGUAGES, NOTATION, language_of
from geduld.run.runner import Runner
from geduld.worlds.recording import read_trace
from tests.core import test_c_programs, test_python_programs
from tests.glasshouse import DEMO, cart
from tests.students import native_python

PYTHON = {
    "main.py": """\
from cart import *
import helper
from moves import forward as go, LIMIT
import parts.legs as legs
from tables import *
speed = 5
count = helper.count
def main():
    helper.count += 1
    helper.bump(2)
    go(speed)
    wheels(helper.count, count)
    pause(0.1)
    leg = legs.Leg(3)
    wheels(leg.twice(), LIMIT)
    pause(0.1)
    for left, right in STEPS:
        wheels(left, right)
        pause(0.05)
    while not near():
        pause(0.02)
    helper.mode = "done"
    wheels(helper.size(), len(helper.mode))
    pause(0.1)
if __name__ == "__main__":
    main()
""",
    "helper.py": """\
from cart import pause
import moves
count = 10
speed = 99
mode = "x"
def bump(by):
    global count
    count += by
    moves.forward(7)
    pause(0.1)
def size(mode=mode):
    return len(mode) + [count for count in [4]][0] + count
if __name__ == "__main__":
    bump(1000)
""",
    "moves.py": """\
import cart
import time as clock
speed = 3
LIMIT = 20
def forward(p, speed=speed):
    cart.wheels(p + speed, p)
    clock.sleep(0.1)
try:
    LIMIT // 0
except ZeroDivisionError as speed_problem:
    speed = 4
""",
    "parts/legs.py": """\
from moves import *
class Base:
    times = 2
class Leg(Base):
    def __init__(self, n):
        self.n = n
    def twice(self):
        return [self.n * LIMIT for LIMIT in [self.times]][0] + LIMIT
""",
    "tables.py": """\
from cart import gap as distance
_hidden = 50
STEPS = [(k, k * 2) for k in range(1, 4)]
def near(limit=_hidden):
    return 0 < distance() < limit
""",
    "old.py": "def (:\n",
    "notes.txt": "nothing",
    "cart.py": "raise SystemExit  # a copy of the library lies beside the program\n",
}
C = {
    "main.c": """\
#include "cart.h"
#include "walk.h"
#define FAST 40
int turns = 3;
int main(void) {
    Leg leg = { 10, 2 };
    walk(leg, FAST);
    steps_made += SLOW;
    wheels(steps_made, twice(turns));
    rest(100);
    halt();
}
""",
    "walk.h": """\
#ifndef WALK_H
#define WALK_H
#include "util/types.h"
#define SLOW 5
extern int steps_made;
void walk(Leg leg, int power);
static inline int twice(int v) { return 2 * v; }
#endif
""",
    "walk.c": """\
#include "walk.h"
#include <cart.h>
#define FAST 35
extern int turns;
int steps_made;
static int limit(int v) { return v > FAST ? FAST : v; }
void walk(Leg leg, int power) {
    for (int i = 0; i < leg.times; i++) {
        wheels(limit(power), leg.share);
        rest(100);
        steps_made++;
    }
    turns = 7;
}
""",
    "util/types.h": "#pragma once\ntypedef struct { int share; int times; } Leg;\n",
    "old_main.c": "int main() { return 1; }\n",
    "cart.h": "void wheels(int left, int right);\n#error a copy of the library lies beside the program\n",
}
C_IN_ONE = """\
#include "cart.h"
typedef struct { int share; int times; } Leg;
int steps_made, turns = 3;
static int limit(int v) { return v > 35 ? 35 : v; }
void walk(Leg leg, int power) {
    for (int i = 0; i < leg.times; i++) { wheels(limit(power), leg.share); rest(100); steps_made++; }
    turns = 7;
}
int main(void) {
    Leg leg = { 10, 2 };
    walk(leg, 40);
    steps_made += 5;
    wheels(steps_made, 2 * turns);
    rest(100);
    halt();
}
"""


def packed(files):
    return {name: text.encode() for name, text in files.items()}


def read(files, begins=""):
    data, language = program_in(packed(files), begins)
    reader = test_c_programs.read if language == "c" else test_python_programs.read
    return reader(data.decode())


def moved(program, trace):
    """What a run of a program did; of outputs that it never set nothing."""
    commands, sent, ended, _ = test_python_programs.done(Runner(program).run(trace))
    return {part: entries for part, entries in commands.items() if len(entries) > 1}, sent, ended


def archive(files, **how):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as file:
        for name, data in files.items():
            file.writestr(name, data, **how)
    return out.getvalue()


class Meaning(unittest.TestCase):
    def setUp(self):
        self.trace = read_trace(DEMO / "traces" / "missed-echoes.csv", cart())

    def test_python_does_what_python_makes_of_the_files(self):
        program = read(PYTHON)
        self.assertEqual(program.hints, ())
        files = {name: text for name, text in PYTHON.items() if name not in ("main.py", "cart.py", "old.py")}
        clock, why, _ = native_python.run(PYTHON["main.py"], self.trace.from_the_start, cart(), files=files)
        commands, sent, ended = moved(program, self.trace)
        native = {part: entries for part, entries in clock.commands.items() if len(entries) > 1}
        self.assertEqual(commands, native)
        self.assertEqual((sent, ended), (clock.said, why))
        self.assertGreater(len(native["left"]), 6)

    def test_c_does_what_the_same_program_in_one_file_does(self):
        program = read(C, "main.c")
        self.assertEqual([hint for hint in program.hints if hint.level == "error"], [])
        alone = moved(test_c_programs.read(C_IN_ONE), self.trace)
        self.assertEqual(moved(program, self.trace), alone)
        self.assertEqual([value for _, value in alone[0]["left"]], [35, 7, 0])

    def test_what_is_wrong_is_said_in_its_file(self):
        main = "from cart import *\nimport a\n"
        table = [
            ({"main.py": main + "a.go()\n", "a.py": "x = 1\n"}, "unknown-import", 'has nothing called "go"', "main.py", 3),
            ({"main.py": main + "from a import y\n", "a.py": "x = 1\n"}, "unknown-import", '"y"', "main.py", 3),
            ({"main.py": main + "b = a\n", "a.py": "x = 1\n"}, "not-read", "a file as a value", "main.py", 3),
            ({"main.py": "def f():\n    import a\n", "a.py": "import main\n"}, "not-read", "own file here", "main.py", 2),
            ({"main.py": main, "a.py": "x = 1\n\nif x\n"}, "syntax", "colon", "a.py", 3),
            ({"main.py": main, "a.py": "import b\n"}, "unknown-module", '"b"', "a.py", 1),
            ({"one.py": "x = 1\n", "two.py": "y = 2\n"}, "begins-unclear", "one.py or two.py", "", 1),
            ({"a.c": "int main() {}\n", "b.c": "int main() { return 1; }\n"}, "begins-unclear", "a.c or b.c", "", 1),
            ({"a.py": "x = 1\n", "b.c": "int main() {}\n"}, "no-program", "several languages", "", 1),
            ({"readme.txt": "hello\n"}, "no-program", "no program in it", "", 1),
            ({"m.c": "int x;\nint main() { x = 1; }\n", "n.c": "static int x;\n"}, "not-read", "Two files", "n.c", 1),
            ({"m.c": "extern int y;\nint main() { y = 1; }\n", "n.c": "int z;\n"}, "not-read", "extern", "m.c", 1),
            (
                {"m.c": '#include "h.h"\nint main() {}\n', "n.c": '#include "h.h"\n', "h.h": "static int k = 3;\n"},
                "not-read", "static variables", "h.h", 1,
            ),
            (
                {"m.c": "static int f() { return 1; }\nint main() {}\n", "n.c": "static int f() { return 2; }\n"},
                "not-read", "two functions", "n.c", 1,
            ),
        ]  # fmt: skip
        for files, code, said, file, line in table:
            with self.subTest(said, files=files):
                program = read(files)
                hint = next(hint for hint in program.errors if hint.code == code)
                self.assertIn(said, hint.message)
                if file:
                    self.assertEqual(place_in(program.text, hint.line), (file, line))

    def test_random_splits_of_a_program_mean_the_same(self):
        rng = random.Random(4)
        helpers = [
            f"def f{k}(p):\n    wheels(p + {k}, p - {k})\n    pause(0.0{k + 1})\n    return p + {k}\n" for k in range(6)
        ]
        calls = [f"x = f{rng.randrange(6)}(x)\n" for _ in range(20)]
        whole = "from cart import *\n" + "".join(helpers) + "x = 1\n" + "".join(calls)
        wanted = moved(test_python_programs.read(whole), self.trace)
        for _ in range(12):
            homes = [rng.choice(["", "a", "b", "c"]) for _ in helpers]
            files = {f"{name}.py": "from cart import *\n" for name in "abc"}
            main = "from cart import *\n"
            names = []
            for number, (home, text) in enumerate(zip(homes, helpers, strict=True)):
                if not home:
                    main += text
                    names.append(f"f{number}")
                    continue
                files[f"{home}.py"] += text
                way = rng.randrange(3)
                main += [
                    f"from {home} import f{number}\n",
                    f"import {home}\n",
                    f"from {home} import f{number} as g{number}\n",
                ][way]
                names.append([f"f{number}", f"{home}.f{number}", f"g{number}"][way])
            main += "x = 1\n"
            for call in calls:
                number = int(call[5])
                main += call.replace(f"f{number}", names[number])
            with self.subTest(main=main):
                self.assertEqual(moved(read({"main.py": main, **files}), self.trace), wanted)


class ComingIn(unittest.TestCase):
    def test_the_file_that_begins(self):
        other = "from cart import *\n"
        table = [
            ({"walk.py": "import legs\n", "legs.py": other}, "walk.py"),
            ({"walk.py": "import legs\n", "legs.py": other, "try.py": other}, "walk.py"),
            ({"walk.py": "import legs\n", "legs.py": other, "main.py": other}, "main.py"),
            ({"p/walk.py": "from p.legs import x\n", "p/legs.py": other}, "walk.py"),
            ({"a.c": "void f() {}\n", "b.c": "int main(void)\n{\n}\n"}, "b.c"),
            ({"a.c": "void turn() {}\n", "b.c": "void prepare() {}\n"}, "a.c"),
            ({"__MACOSX/main.py": "", ".x.py": "", "go/run.py": other, "go/legs.py": other, "go/deep/m.py": "import legs"}, None),
        ]  # fmt: skip
        for files, first in table:
            with self.subTest(files=files):
                data, language = program_in(packed(files))
                found = files_in(data.decode())
                self.assertEqual(found[0].name if first else place_in(data.decode(), 1)[0], first or "")
                chosen = begins_with(data, found[-1].name, language)
                self.assertEqual(files_in(chosen.decode())[0].name, found[-1].name)
                texts = [{f.name: f.text.strip() for f in files_in(text.decode())} for text in (data, chosen)]
                self.assertEqual(texts[0], texts[1])
        self.assertEqual(program_in({"x/only.py": b"y = 1\n"}), (b"y = 1\n", "python"))

    def test_hostile_zips_cost_only_themselves(self):
        bomb = archive({"a.py": b"#" * 50_000_000})
        table = {
            "bomb": (bomb, "more than 2,000,000 bytes"),
            "many": (archive({f"{n}.py": b"" for n in range(300)}), "more than 200 programs"),
            "damaged": (archive({"a.py": b"x = 1\n" * 99})[:60], "damaged"),
            "none": (b"no zip", "damaged"),
            "broken inside": (
                archive({"a.py": bytes(random.Random(1).randbytes(4000))}).replace(b"\x00\x00", b"\x00\x01", 1),
                "",
            ),
        }
        for name, (data, said) in table.items():
            with self.subTest(name):
                try:
                    zip_files(data)
                except ValueError as problem:
                    self.assertIn(said, str(problem))
                else:
                    self.assertEqual(said, "")
        upwards = {
            "../../etc/main.py": b"x = 1\n",
            "/abs/helper.py": b"y = 2\n",
            "C:\\w\\more.py": b"z = 3\n",
            "a.zip": bomb,
        }
        self.assertEqual(set(zip_files(archive(upwards))), {"etc/main.py", "abs/helper.py", "C:/w/more.py"})
        rng = random.Random(3)
        good = archive(packed(PYTHON))
        for _ in range(300):
            broken = bytearray(good)
            for _ in range(rng.randint(1, 6)):
                broken[rng.randrange(len(broken))] = rng.randrange(256)
            try:
                program_in(zip_files(bytes(broken)))
            except ValueError as problem:
                self.assertTrue(str(problem).endswith("."))

    def test_a_class_of_files_folders_and_zips_is_graded(self):
        exercise = read_exercise(DEMO / "dock-in-code")
        whole = (DEMO / "code-class" / "alva-brandt.py").read_text()
        head, body = whole.split("\n\n", 1)
        files = {"main.py": f"{head}\nfrom rest_of_it import go\ngo()\n", "rest_of_it.py": f"{head}\ndef go():\n"}
        files["rest_of_it.py"] += "".join(f"    {line}\n" for line in body.splitlines())
        with tempfile.TemporaryDirectory() as folder:
            place = Path(folder)
            (place / "alone.py").write_text(whole)
            (place / "packed.zip").write_bytes(archive({f"work/{name}": text for name, text in files.items()}))
            (place / "broken.zip").write_bytes(b"PK")
            (place / "unclear").mkdir()
            for name, text in {"go.py": whole, "try.py": whole}.items():
                (place / "unclear" / name).write_text(text)
            (place / "folder").mkdir()
            for name, text in files.items():
                (place / "folder" / name).write_text(text)
            marks = {one.name: one for one in grade_all(exercise, read_hand_ins(place))}
            self.assertEqual({name: one.points for name, one in marks.items() if name in ("folder", "packed")},
                             dict.fromkeys(("folder", "packed"), marks["alone"].points))  # fmt: skip
            self.assertGreater(marks["alone"].points, 0)
            for name, said in {"broken": "damaged", "unclear": "go.py or try.py"}.items():
                self.assertIn("could not read", marks[name].problem)
                self.assertIn(said, marks[name].problem)
            told = {one.name: one for one in grade_all(exercise, read_hand_ins(place, "try.py"))}
            self.assertEqual(told["unclear"].points, marks["alone"].points)

    def test_what_is_joined_comes_apart_again(self):
        rng = random.Random(2)
        for _ in range(50):
            files = {
                f"f{k}.py": "".join(rng.choice(["x = 1\n", "\n", "# é\n"]) for _ in range(rng.randrange(5)))
                for k in range(4)
            }
            data = joined({name: text.encode() for name, text in files.items()}, "f2.py", "python").decode()
            found = files_in(data)
            self.assertEqual(found[0].name, "f2.py")
            for file in found:
                self.assertEqual(file.text.rstrip("\n"), files[file.name].rstrip("\n"))
                self.assertEqual(place_in(data, file.first), (file.name, 1))
                self.assertEqual(language_of(file.name), "python")


class Pasted(unittest.TestCase):
    def test_a_text_without_a_name_is_read_as_what_it_looks_like(self):
        texts = [(text, "python") for text in test_python_programs.PROGRAMS.values()]
        texts += [(text, "c") for text in test_c_programs.PROGRAMS.values()]
        texts += [
            (path.read_text(), language_of(path.name)) for path in DEMO.glob("*-class/*.*") if path.suffix != ".csv"
        ]
        self.assertGreater(len(texts), 120)
        for text, language in texts:
            # from the first line on, from its middle on, and with a mistake in it
            lines = text.splitlines(keepends=True)
            for part in (text, "".join(lines[len(lines) // 2 :]), text.replace("(", "", 1)):
                if len(part.splitlines()) > 4:
                    self.assertEqual(guessed_language(part, LANGUAGES), language, part)
            self.assertEqual(guessed_language(text, [NOTATION]), NOTATION)
        self.assertEqual(guessed_language("", LANGUAGES), NOTATION)
