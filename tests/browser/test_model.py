"""The web's model, which knows no React: compiled as it stands, and asked from here."""

import json
import re
import shutil
import subprocess
import tempfile
import unittest
from dataclasses import asdict
from pathlib import Path

from geduld.binding.library import library_of
from geduld.checks.patterns import PATTERNS
from geduld.grading.exercise import checks_for
from geduld.language.parser import parse
from geduld.readers.notation import NotationProgram
from geduld.rig.reader import rig_from_json
from server.shelf.serializers import part_as_json
from tests.glasshouse import DEMO, ROOT, SMALL, cart, program

WEB = ROOT / "web"
ASK = """
import fs from "node:fs";
const asked = JSON.parse(fs.readFileSync(0, "utf8"));
const said = [];
for (const [file, name, values] of asked) said.push((await import(`./model/${file}.js`))[name](...values));
console.log(JSON.stringify(said));
"""

# A server that answers when it is told to: what is sent to it, and what the saver says then.
SAVER = """
import { Saver } from "./model/saver.js";
const log = [], pending = [];
const send = (change, from) => { log.push(["sent", change, from]); return new Promise((kept, not) => pending.push({ kept, not })); };
const step = () => new Promise((go) => setTimeout(go, 5));
const state = (word) => log.push([word, saver.current().state]);
const saver = new Saver(send, { text: "v0" });
saver.save({ text: "a" }); saver.flush();
saver.save({ text: "ab" }); saver.flush();            // the first is on its way: it may not be overtaken
log.push(["on the way", pending.length]);
saver.save({ world: 1 });
pending.shift().kept({ text: "v1" }); await step();
saver.flush(); await step();
pending.shift().kept({ text: "v2" }); await step();
state("kept");
saver.save({ text: "bad" }); saver.flush();
pending.shift().not({ status: 422 }); await step();
state("refused"); saver.flush();                      // asked for by hand, it may be sent again
pending.shift().not({ status: 0 }); await step();
state("no server"); saver.flush();
pending.shift().not({ status: 409, code: "changed-elsewhere", more: { field: "text", theirs: "other", version: "v9" } }); await step();
state("elsewhere");
saver.save({ text: "badly" }); saver.flush();         // typed on: kept here, not sent
log.push(["both", saver.current().mine, saver.current().theirs, pending.length, saver.flush()]);
saver.keepMine();
pending.shift().kept({ text: "v10" }); await step();
state("mine");
saver.save({ text: "x" }); saver.flush();
pending.shift().not({ status: 409, code: "changed-elsewhere", more: { field: "text", theirs: "other", version: "v11" } }); await step();
log.push(["theirs", saver.takeTheirs()]); state("taken");
saver.save({ text: "y" });
const done = saver.settled(); pending.shift().kept({ text: "v12" }); await done; state("settled");
let unsent = null;
const memory = { read: () => unsent, write: (now) => { unsent = now; } };
const lost = new Saver(send, { text: "v12" }, memory);
lost.save({ text: "z" }); log.push(["remembered", unsent]); lost.flush();
lost.save({ world: 2 });
pending.shift().not({ status: 0 }); await step();     // and now the page goes
log.push(["unsent", unsent]);
const again = new Saver(send, { text: "v13" }, memory);
log.push(["left", again.left]); await step();
pending.shift().not({ status: 409, code: "changed-elsewhere", more: { field: "text", theirs: "other", version: "v13" } }); await step();
log.push(["still", unsent]); await step();
pending.shift().kept({}); await step();               // what nobody else changed is kept meanwhile
again.keepMine(); pending.shift().kept({ text: "v14" }); await step();
log.push(["forgotten", unsent]);
console.log(JSON.stringify(log)); process.exit(0);
"""
SAVED = [
    ["sent", {"text": "a"}, {"text": "v0"}],
    ["on the way", 1],
    ["sent", {"text": "ab", "world": 1}, {"text": "v1"}],
    ["kept", "saved"],
    ["sent", {"text": "bad"}, {"text": "v2"}],
    ["refused", "refused"],
    ["sent", {"text": "bad"}, {"text": "v2"}],
    ["no server", "failed"],
    ["sent", {"text": "bad"}, {"text": "v2"}],
    ["elsewhere", "conflict"],
    ["both", "badly", "other", 0, True],
    ["sent", {"text": "badly"}, {"text": "v9"}],
    ["mine", "saved"],
    ["sent", {"text": "x"}, {"text": "v10"}],
    ["theirs", {"text": "other"}],
    ["taken", "saved"],
    ["sent", {"text": "y"}, {"text": "v11"}],
    ["settled", "saved"],
    ["remembered", {"change": {"text": "z"}, "versions": {"text": "v12"}}],
    ["sent", {"text": "z"}, {"text": "v12"}],
    ["unsent", {"change": {"text": "z", "world": 2}, "versions": {"text": "v12"}}],
    ["left", {"text": "z", "world": 2}],
    ["sent", {"text": "z", "world": 2}, {"text": "v12"}],
    ["sent", {"world": 2}, {}],
    ["still", {"change": {"world": 2, "text": "z"}, "versions": {"text": "v12"}}],
    ["sent", {"text": "z"}, {"text": "v13"}],
    ["forgotten", None],
]


# file, function, values, what it gives
def at(line, **more):
    return {"part": "range" if more.get("what") != "time" else "", "line": line, "column": 9, "value": 40, **more}


TABLE = [
    ("numbers", "show", [2.5, "cm"], "2.5 cm"),
    ("numbers", "show", [-0.001, "%"], "0 %"),
    ("numbers", "show", [12.3456, "", 3], "12.346"),
    ("numbers", "show", [100, "Hz", 0], "100 Hz"),
    ("numbers", "showSeconds", [1.5, 0.5], "1.5"),
    ("numbers", "showSeconds", [1.5, 5], "2"),
    ("numbers", "niceStep", [60, 7], 10),
    ("numbers", "niceStep", [0.9, 10], 0.1),
    ("numbers", "ticksBetween", [0.3, 2.1, 0.5], [0.5, 1, 1.5, 2]),
    ("signals", "indexAt", [[0, 1, 2], 1.5], 1),
    ("signals", "indexAt", [[0, 1, 2], 1], 1),
    ("signals", "indexAt", [[1, 2], 0.5], -1),
    ("signals", "valueAt", [{"part": "a", "times": [0, 2], "values": [5, None]}, 1], 5),
    ("signals", "valueAt", [{"part": "a", "times": [0, 2], "values": [5, None]}, 3], None),
    ("signals", "together", [[{"part": "a", "times": [0, 1], "values": [5, 6]}, {"part": "b", "times": [0.5], "values": [7]}], 2],
     [[0, 0.5, 1, 2], [5, 5, 6, 6], [None, 7, 7, 7]]),
    ("signals", "rangeOf", [[{"part": "a", "times": [0, 1], "values": [0, 10]}], [20]], [-2, 22]),
    ("signals", "rangeOf", [[{"part": "a", "times": [0], "values": [None]}], []], [0, 1]),
    ("signals", "isLively", [{"part": "a", "times": [0, 1], "values": [0, None]}], False),
    ("signals", "instants", [[[2, 1], [1.0000001]]], [1, 2]),
    ("handles", "asWritten", [12.3456, 1], "12"),
    ("handles", "asWritten", [12.3456, 0.1], "12.3"),
    ("handles", "numberText", [{"unit": "mm", "per_part_unit": 10, "zero": 0}, 4.27, 1], "40 mm"),
    ("handles", "numberText", [{"unit": "cm", "per_part_unit": 1, "zero": 0}, 4.27, 0.1], "4.3 cm"),
    ("handles", "numberText", [{"unit": "cm", "per_part_unit": 1, "zero": 0}, 33.75, 0.0001], "33.75 cm"),
    ("handles", "numberText", [{"unit": "", "per_part_unit": 10.23, "zero": 12}, 50, 1], "524"),
    ("handles", "numberLength", ["40 cm until", "cm"], 5),
    ("handles", "numberLength", ["0.5", ""], 3),
    ("handles", "numberLength", ["- 30 % until", "%"], 6),
    ("handles", "numberLength", ["1e2 cm", "cm"], 6),
    ("handles", "numberText", [{"unit": "%", "per_part_unit": -1, "zero": 0}, -27.3, 1], "27 %"),
    ("handles", "moved", [[at(1), at(1), at(4)], [at(5, what="edge", step=4), at(6, what="edge", step=4), at(7, what="time", step=7), at(8, what="near", step=8)]],
     [{**at(1), "places": [at(1)]}, {**at(4), "places": [at(4)]}, {**at(5, what="edge", step=4), "places": [at(5, what="edge", step=4), at(6, what="edge", step=4)]},
      {**at(8, what="near", step=8), "places": [at(8, what="near", step=8)]}]),
    ("handles", "fixWords", [""], "delete it"),
    ("handles", "fixWords", ["reset left.angle\n    wait 1 s"], "write reset left.angle / wait 1 s"),
]  # fmt: skip


def rig_for_web(rig, libraries=()):
    names = [name for name in rig.channels if name not in rig.parts]
    return {
        "id": 1,
        "name": rig.name,
        "parts": [part_as_json(part, rig) for part in rig.parts.values()],
        "properties": [part_as_json(rig.channels[name], rig) for name in names],
        "libraries": list(libraries),
        "has_drive": rig.drive is not None,
        "drive_is_measured": rig.drive_is_measured,
        "drive_is_timed": rig.drive_is_timed,
    }


class Model(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.folder = Path(tempfile.mkdtemp(prefix="geduld-model-"))
        cls.addClassCleanup(shutil.rmtree, cls.folder)
        files = [
            f"src/model/{name}.ts"
            for name in (
                "numbers",
                "signals",
                "handles",
                "forms",
                "checkForms",
                "checkDraft",
                "saver",
                "steps",
                "suggested",
            )
        ]
        options = "--module esnext --target es2023 --moduleResolution bundler --ignoreConfig --outDir"
        command = ["node", "node_modules/typescript/bin/tsc", *files, *options.split(), str(cls.folder)]
        subprocess.run(command, cwd=WEB, check=True, capture_output=True)
        for path in (cls.folder / "model").glob("*.js"):
            # the bundler finds a neighbour by its bare name, Node by its file's
            path.write_text(re.sub(r'from "(\./\w+)"', r'from "\1.js"', path.read_text()))
        (cls.folder / "ask.mjs").write_text(ASK)
        (cls.folder / "package.json").write_text('{"type": "module"}')

    def ask(self, questions):
        done = subprocess.run(
            ["node", "ask.mjs"],
            cwd=self.folder,
            input=json.dumps(questions),
            capture_output=True,
            text=True,
            check=True,
        )
        return json.loads(done.stdout)

    def test_what_is_typed_is_saved_in_order_and_never_lost(self):
        (self.folder / "saver-test.mjs").write_text(SAVER)
        done = subprocess.run(["node", "saver-test.mjs"], cwd=self.folder, capture_output=True, text=True, timeout=60)
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(json.loads(done.stdout), SAVED)

    def test_functions_of_the_model(self):
        said = self.ask([row[:3] for row in TABLE])
        for (file, name, values, expected), found in zip(TABLE, said, strict=True):
            with self.subTest(f"{file}.{name}", values=values):
                self.assertEqual(found, expected)

    def test_what_is_done_to_a_step_is_done_to_its_lines_and_undone_by_its_opposite(self):
        text = (
            'behaviour "A"\n\nbegin:\n    lamp on\n    if nose is pressed:\n        lamp off\n    else:\n        wait 1 s\n'
            "    do:\n        wait 2 s\n    unless nose is pressed:\n        lamp off\n\n    stop all\n"
        )

        def step(name, line, *more, of=text):
            return self.ask([("steps", name, [of, line, *more])])[0]

        down = step("moveStep", 4, 1)
        self.assertEqual(down["text"].splitlines()[3:8], ["    if nose is pressed:", "        lamp off", "    else:", "        wait 1 s", "    lamp on"])  # fmt: skip
        self.assertEqual(down["line"], 8)
        self.assertEqual(step("moveStep", 8, -1, of=down["text"]), {"text": text, "line": 4}, "and up again")
        for line, by in ((4, -1), (6, 1), (14, 1), (1, 1)):
            self.assertEqual(
                step("moveStep", line, by), {"text": text, "line": line}, "past the end of its block nothing goes"
            )
        inside = step("stepIn", 9)
        self.assertEqual(inside["text"].splitlines()[8:12], ["        do:", "            wait 2 s", "        unless nose is pressed:", "            lamp off"])  # fmt: skip
        out = step("stepOut", inside["line"], of=inside["text"])
        self.assertEqual(out, {"text": text, "line": 9}, "behind the if and its else, with what belongs to it")
        self.assertEqual(step("stepIn", 4), {"text": text, "line": 4}, "no block stands in front of it")
        off = step("switchStep", 5)["text"]
        self.assertEqual(off.splitlines()[4:8], ["    # off: if nose is pressed:", "        # off: lamp off", "    # off: else:", "        # off: wait 1 s"])  # fmt: skip
        self.assertTrue(NotationProgram(off, cart()).good)
        self.assertEqual(step("switchStep", 5, of=off)["text"], text)
        twice = step("copyStep", 9)
        self.assertEqual((twice["line"], twice["text"].count("unless")), (13, 2))
        self.assertEqual(step("dropStep", 13, of=twice["text"])["text"], text)
        places = [step("placeBelow", line) for line in (1, 3, 4, 5, 13)]
        self.assertEqual(
            [(item["after"], item["indent"]) for item in places], [(3, 4), (3, 4), (4, 4), (5, 8), (12, 8)]
        )
        rows = self.ask([("steps", "rowsOf", [off])])[0]
        self.assertEqual([(row["line"], row["level"], row["off"], row["step"]) for row in rows[:5]],
                         [(1, 0, False, False), (3, 0, False, False), (4, 1, False, True), (5, 1, True, True), (6, 2, True, True)])  # fmt: skip

    def test_checks_are_moved_past_each_other_with_their_comments(self):
        checks = [
            'let near = 40 cm\n',
            '# first\ncheck "A", 2 points:\n    always range < near\n',
            '\n\n',
            '# second,\n# in two lines\ncheck "B", 1 point:\n    in turn:\n        drive > 0 % for 1 s +- 1 s\n\n        drive = 0 %\n',
            '\n',
            'check "C", 1 point:\n    at the end, drive = 0 %\n',
        ]  # fmt: skip
        names, first, gap, second, blank, third = checks
        text = "".join(checks)
        line = {name: text[: text.index(f'check "{name}"')].count("\n") + 1 for name in "ABC"}

        def done(name, line, *more, of=text):
            return self.ask([("steps", name, [of, line, *more])])[0]

        swapped = names + second + gap + first + blank + third
        down = done("moveStep", line["A"], 1)
        self.assertEqual(down["text"], swapped)
        self.assertEqual(swapped.splitlines()[down["line"] - 1], 'check "A", 2 points:')
        self.assertEqual(done("moveStep", line["B"], -1), {"text": swapped, "line": 4})
        self.assertEqual(done("moveStep", down["line"], -1, of=swapped), {"text": text, "line": line["A"]})
        for name, by in (("A", -1), ("C", 1)):
            self.assertEqual(done("moveStep", line[name], by)["text"], text, "names stay on top, and the last is last")
        twice = done("copyStep", line["C"])
        self.assertEqual(twice["text"], text + '\ncheck "C (2)", 1 point:\n    at the end, drive = 0 %\n')
        self.assertIn('check "C (3)"', done("copyStep", twice["line"], of=twice["text"])["text"])
        self.assertEqual(done("dropStep", line["B"])["text"], names + first + gap + third)
        off = done("switchStep", line["B"])["text"]
        self.assertEqual([check.title for check in checks_for(off, cart()).checks], ["A", "C"])
        self.assertEqual(done("switchStep", line["B"], of=off)["text"], text)
        rows = self.ask([("steps", "rowsOf", [off])])[0]
        self.assertEqual([row["line"] for row in rows if row["step"]], list(line.values()))

    def test_what_a_step_can_wait_for_has_numbers_from_the_trace(self):
        part = {"contact": False, "says": False, "unit": "cm"}
        parts = [
            {**part, "name": "range"},
            {**part, "name": "soil", "unit": "%"},
            {**part, "name": "nose", "contact": True},
            {**part, "name": "radio", "says": True},
            {**part, "name": "gone"},
        ]
        lanes = [
            {"part": "range", "times": [0, 1], "values": [90, 5]},
            {"part": "soil", "times": [0, 1], "values": [None, 3]},
            {"part": "radio", "times": [0, 2], "values": [], "texts": [None, "water"]},
        ]
        script = self.folder / "suggested-test.mjs"
        script.write_text(
            'import { conditionsOf } from "./model/suggested.js";\n'
            f"console.log(JSON.stringify(conditionsOf({json.dumps(parts)}, {json.dumps(lanes)}, new Map([['range', {{threshold: 42}}]]))));"
        )
        done = subprocess.run(["node", script.name], cwd=self.folder, capture_output=True, text=True, check=True)
        self.assertEqual(
            json.loads(done.stdout),
            [
                "range < 42 cm",
                "range > 42 cm",
                "soil > 3 %",
                "soil < 3 %",
                "nose is pressed",
                "nose is released",
                'message is "water"',
            ],
        )

    def test_every_form_that_is_offered_is_one_that_the_rig_can_do(self):
        """Each form, with its slots filled by a step, a condition or what stands in them, is a program without an error."""
        bare = rig_from_json(
            {**SMALL, "drive": None, "parts": {k: SMALL["parts"][k] for k in ("lamp", "nose", "range")}}
        )
        library = library_of([(DEMO / "behaviours" / "library" / "garden-moves.geduld").read_text()])
        motors = {side: {"kind": "motor", "port": port} for side, port in (("left", "M1"), ("right", "M2"))}
        plain = rig_from_json({**SMALL, "parts": {**SMALL["parts"], **motors}})
        counted = {side: part | {"encoder": {"counts_per_turn": 360}} for side, part in motors.items()}
        timed = {side: part | {"full_speed": "90 rpm"} for side, part in motors.items()}
        others = [rig_from_json({**SMALL, "parts": {**SMALL["parts"], **pair}}) for pair in (counted, timed)]
        for rig, known in ((cart(), library), (bare, {}), (plain, {}), *((other, {}) for other in others)):
            (forms,) = self.ask([("forms", "formsOf", [rig_for_web(rig, known)])])
            contact = "nose is pressed"
            step = "wait 1 s"
            fillings = {"step": step, "condition": contact, "value": "knob", "n": "n", "why": "done", "text": "go"}
            if rig is bare:
                fillings["value"] = "range"
            for group, offered in forms.items():
                self.assertTrue(offered)
                for form in offered:
                    text = re.sub(
                        r"\$\{\d+:([^}]*)\}", lambda slot, f=fillings: f.get(slot[1], slot[1]), form["insert"]
                    )
                    with self.subTest(rig.name, group=group, form=form["label"]):
                        source = self.placed(group, text, rig)
                        hints = [*parse(source).hints, *NotationProgram(source, rig, known).hints]
                        self.assertEqual([h.message for h in hints if h.level == "error"], [])

    def test_every_check_that_is_offered_can_be_judged(self):
        """Each sentence as it is offered, whole, is a check without an error, on a rig with all and on one with little."""
        bare = rig_from_json(
            {**SMALL, "drive": None, "parts": {k: SMALL["parts"][k] for k in ("lamp", "nose", "range")}}
        )
        offered = [asdict(form) for pattern in PATTERNS.values() for form in pattern.forms]
        for rig in (cart(), bare):
            places = {"marks": ["A", "back row"], "corridors": ["aisle"], "things": ["barrel"]}
            sentences, without = self.ask(
                [("checkForms", "sentencesOf", [offered, rig_for_web(rig), *given]) for given in ([places], [])]
            )
            self.assertGreaterEqual(len(sentences), 18)
            self.assertEqual(len(sentences) - len(without), 5, "without a floor nothing is asked about places")
            filled = self.ask([("checkDraft", "firstFillings", [sentence["insert"]]) for sentence in sentences])
            said = self.ask(
                [
                    ("checkDraft", "sentenceWith", [sentence["insert"], *more])
                    for sentence, *more in zip(sentences, filled, strict=True)
                ]
            )
            titles = self.ask([("checkDraft", "titleFor", [words, ""]) for words in said])
            wholes = self.ask(
                [("checkDraft", "checkText", [title, "1.5", words]) for title, words in zip(titles, said, strict=True)]
            )
            again = self.ask(
                [("checkDraft", "titleFor", [words, text]) for words, text in zip(said, wholes, strict=True)]
            )
            for sentence, text, other in zip(sentences, wholes, again, strict=True):
                with self.subTest(rig.name, form=sentence["label"]):
                    checks = checks_for(text, rig)
                    self.assertEqual(([h.message for h in checks.hints], len(checks.checks)), ([], 1), text)
                    self.assertEqual(other, f"{checks.checks[0].title} (2)", "a title is given once")

    @staticmethod
    def placed(group, text, rig):
        """A program in which a form stands where it is offered."""
        if group == "sections":
            if text.startswith(("behaviour", "library")):
                return (
                    text + "\n" + ("\nbegin:\n    wait 1 s\n" if text.startswith("b") else "\nto go:\n    wait 1 s\n")
                )
            if text.startswith("begin"):
                return 'behaviour "T"\n' + text
            text = text.replace("gap * 2 %/cm", "gap * 2")
            return f'behaviour "T"\n{text}\n\nbegin:\n    wait 1 s\n'
        if group == "steps":
            steps = f"repeat:\n    {text}" if text == "leave" else text.replace("set n to 0", "set k to 0")
            return program("set n to 0\n" + steps)
        if group == "values":
            if text.startswith(("is absent", "between")):
                return program(f"wait until range {text}")
            if text.startswith(("scale", "clamp")):
                value = text.replace("range", "10 %")
                return program(f"lamp at {value}" if "deg" not in value else f"wait until {value} > 1 deg")
            if " is " in text:
                return program(f"wait until {text}")
            return program(f"set n to {text}")
        target = "turn left" if text.startswith("about") else "drive" if rig.drive else "lamp"
        if text.startswith("by "):
            return program(f"stop drive {text}") if rig.drive else program("wait 1 s")
        if text.startswith("about"):
            return program(f"turn left at 30 % {text} for 1 s")
        return program(
            f"{target} at 30 % {'until nose is pressed' if text.startswith(',') else ''}{text if text.startswith(',') else ' ' + text}"
        )
