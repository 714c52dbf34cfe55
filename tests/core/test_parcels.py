"""Parcels: what goes into the zip of an exercise comes out of it equal, and hostile zips are refused."""

import io
import stat
import struct
import tempfile
import unittest
import zipfile
from contextlib import redirect_stdout
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from unittest import mock

from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.cli.main import main
from geduld.errors import ExerciseError
from geduld.grading.parcel import zipped as zips
from geduld.grading.parcel.pieces import CasePiece, HandInPiece, PartnerPiece, Surroundings, TracePiece
from geduld.grading.parcel.reading import Folder, read_pieces
from geduld.grading.parcel.writing import exercise_files
from geduld.grading.parcel.zipped import unzip, zipped
from geduld.grading.points import PointRules
from tests.glasshouse import DEMO, EXERCISE

BASE = read_pieces(Folder(DEMO / "gentle-docking"))
FLOOR = BASE.cases[0].surroundings.floor
PARTNER = read_pieces(Folder(DEMO / "come-when-called")).cases[0].partner
READINGS = b"time [s],nose,range [cm]\n0,0,90\n0.5,1,12.25\n1,0,\n"

text = st.text(st.characters(codec="utf-8", exclude_categories=["Cs"]), max_size=30)
names = text.map(str.strip).filter(bool)
ticks = st.integers(1_000, 600_000_000)
whens = st.datetimes(datetime(1990, 1, 1), datetime(2090, 1, 1), timezones=st.just(UTC))
notes = st.lists(st.tuples(st.floats(0, 900), names), max_size=2).map(tuple)
shares = st.floats(0, 1)
on_traces = st.builds(
    Surroundings,
    trace=st.builds(TracePiece, names, st.sampled_from([READINGS, READINGS.replace(b"90", b"80")]), notes),
    limit_us=st.none() | ticks,
    inputs=st.sampled_from(["", "time [s],nose\n0.1,1\n", "time [s],nose\r\n0.1,1\r\n"]),
)
on_floors = st.builds(
    Surroundings,
    floor=st.sampled_from([FLOOR, {**FLOOR, "name": "Nordgang ä/ö"}]),
    start=st.sampled_from(["", "A"]),
    seed=st.none() | st.integers(0, 2**32 - 1),
    faults=st.sampled_from([(), ("left jammed",)]),
    limit_us=st.none() | ticks,
)
in_time = st.builds(Surroundings, lasts_us=ticks)
partners = st.builds(
    lambda around, delay, lost: replace(PARTNER, surroundings=around, delay_us=delay, lost=lost),
    st.just(PARTNER.surroundings) | on_floors.map(lambda around: replace(around, faults=(), start="A")),
    st.integers(1_000, 10_000_000),
    st.floats(0, 100),
)
cases = st.builds(CasePiece, names, on_traces | on_floors | in_time)
cases_of_two = st.builds(
    lambda name, seed, partner: CasePiece(name, Surroundings(lasts_us=3_000_000, seed=seed), partner),
    names, st.integers(0, 99), partners,
)  # fmt: skip
hand_ins = st.lists(
    st.builds(HandInPiece, names, st.binary(max_size=60).map(lambda data: b"#" + data), whens,
              st.sampled_from(["notation", "python", "c"]), due=st.none() | whens, sourced_id=names | st.just("")),
    max_size=3, unique_by=lambda item: item.student,
)  # fmt: skip
recorded = st.builds(HandInPiece, names.map("recorded ".__add__), st.just(READINGS), whens, recorded=st.just(True))
rules = st.builds(PointRules, st.none() | whens, shares, shares, st.floats(0, 100))


def through_a_zip(pieces):
    with tempfile.TemporaryDirectory() as folder:
        files = Folder(unzip(io.BytesIO(zipped(exercise_files(pieces))), Path(folder)))
        return read_pieces(files), files.unused()


class Roundtrip(unittest.TestCase):
    def test_the_demonstrations_exercises_come_out_equal(self):
        for path in sorted(DEMO.glob("*/exercise.json")):
            with self.subTest(path.parent.name):
                pieces = read_pieces(Folder(path.parent))
                self.assertEqual(through_a_zip(pieces), (pieces, []))

    @settings(max_examples=60, deadline=None)
    @given(names, text, rules, st.sampled_from(["mean", "least", "each"]), st.data())
    def test_any_exercise_comes_out_equal(self, title, brief, points, over, data):
        found = data.draw(st.lists(cases | cases_of_two, min_size=1, max_size=4, unique_by=lambda case: case.name))
        pieces = replace(
            BASE, title=title, brief=brief, rules=points, over_cases=over, cases=tuple(found),
            checks='check "Is short", 1 point:\n    program has at most 20 steps\n',
            libraries=data.draw(st.sampled_from([(), ('library "a/b"\nfor rig "glasshouse-cart"\n',)])),
            hand_ins=tuple(data.draw(hand_ins)) + tuple(data.draw(st.lists(recorded, max_size=1))),
        )  # fmt: skip
        files = exercise_files(pieces)
        self.assertEqual(len({name.casefold() for name in files}), len(files))
        self.assertEqual(through_a_zip(pieces), (pieces, []))

    @settings(max_examples=60, deadline=None)
    @given(
        st.lists(
            st.sampled_from(
                ["../../x", "/etc/passwd", "Lauf 3.12./13.12.", "CON", "a/b/..", "C:\\x", ". ./", "\u202ex"]
            )
            | st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=30).filter(str.strip),
            min_size=2,
            max_size=2,
        )
    )
    def test_no_name_leads_out_of_the_folder(self, odd):
        """Whatever a case, a recording, a rig or a student is called: the zip is one that Geduld reads itself."""
        pieces = read_pieces(Folder(EXERCISE))
        case, *others = pieces.cases
        trace = replace(case.surroundings.trace, name=odd[0])
        student = HandInPiece(odd[1].strip(), b"#x", datetime.now(UTC))
        pieces = replace(
            pieces,
            cases=(replace(case, name=odd[1], surroundings=replace(case.surroundings, trace=trace)), *others),
            rig={**pieces.rig, "name": odd[0]},
            hand_ins=(student,),
        )
        for name in exercise_files(pieces):
            self.assertRegex(name, r"^(hand-ins/)?[^/\\]+$")
            self.assertNotIn("..", name)
        with tempfile.TemporaryDirectory() as folder:
            unzip(io.BytesIO(zipped(exercise_files(pieces))), Path(folder))

    def test_the_same_exercise_is_the_same_zip_and_can_be_graded_as_it_is(self):
        pieces = read_pieces(Folder(EXERCISE))
        data = zipped(exercise_files(pieces))
        self.assertEqual(data, zipped(exercise_files(pieces)))
        with tempfile.TemporaryDirectory() as name:
            packed, marks = Path(name) / "task.zip", [Path(name) / "a.csv", Path(name) / "b.csv"]
            packed.write_bytes(data)
            for exercise, out in zip((EXERCISE, packed), marks, strict=True):
                with redirect_stdout(io.StringIO()):
                    code = main(["grade", str(exercise), str(DEMO / "hand-ins"), "--marks", str(out), "--workers", "1"])
                self.assertEqual(code, 0)
            self.assertEqual(marks[0].read_text(), marks[1].read_text())

    def test_a_folder_in_the_zip_and_what_systems_put_there_are_no_matter(self):
        files = {f"dock/{name}": data for name, data in exercise_files(BASE).items()}
        extra = {"__MACOSX/dock/._rig.json": b"x", "dock/.DS_Store": b"x", "dock/notes.md": b"mine"}
        with tempfile.TemporaryDirectory() as folder:
            found = Folder(unzip(io.BytesIO(zipped({**files, **extra})), Path(folder)))
            self.assertEqual((read_pieces(found), found.unused()), (BASE, ["notes.md"]))


def entry(name, mode=stat.S_IFREG | 0o644):
    info = zipfile.ZipInfo(name)
    info.external_attr = mode << 16
    info.compress_type = zipfile.ZIP_DEFLATED
    return info


def zip_with(*entries, good=True):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for info, data in entries:
            archive.writestr(info, data)
        for name, data in exercise_files(BASE).items() if good else ():
            archive.writestr(name, data)
    return out.getvalue()


def lying(data, entry_name, said):
    """A zip whose directory says another size of an entry than it has."""
    place = data.rindex(entry_name) - 46
    assert data[place : place + 4] == b"PK\x01\x02"
    return data[: place + 24] + struct.pack("<L", said) + data[place + 28 :]


HOSTILE = [
    ("a step up", zip_with((entry("../out.json"), b"x")), "zip-name", "../out.json"),
    ("a step up inside", zip_with((entry("a/../../out.json"), b"x")), "zip-name", "a/../../out.json"),
    ("a root", zip_with((entry("/etc/out.json"), b"x")), "zip-name", "/etc/out.json"),
    ("a drive", zip_with((entry("C:out.json"), b"x")), "zip-name", "C:out.json"),
    ("other slashes", zip_with((entry("..\\out.json"), b"x")), "zip-name", "..\\out.json"),
    ("a device", zip_with((entry("nul.json"), b"x")), "zip-name", "nul.json"),
    ("a dot at the end", zip_with((entry("rig.json."), b"x")), "zip-name", "rig.json."),
    ("a nought", zip_with((entry("a.json"), b"x")).replace(b"a.json", b"a\0json"), "zip-name", "a\0json"),
    ("a long name", zip_with((entry("a" * 300 + ".json"), b"x")), "zip-name", "aaa"),
    ("a link", zip_with((entry("link.json", stat.S_IFLNK | 0o777), b"/etc/passwd")), "zip-link", "link.json"),
    ("a pipe", zip_with((entry("pipe.json", stat.S_IFIFO | 0o644), b"")), "zip-link", "pipe.json"),
    ("two of one name", zip_with((entry("RIG.json"), b"x")), "zip-name", "rig.json"),
    ("a program", zip_with((entry("run.exe"), b"MZ")), "zip-kind", "run.exe"),
    ("a page", zip_with((entry("x/index.html"), b"<script>")), "zip-kind", "x/index.html"),
    ("no ending", zip_with((entry("Makefile"), b"all:")), "zip-kind", "Makefile"),
    ("a zip in it", zip_with((entry("inner.zip"), b"PK")), "zip-kind", "inner.zip"),
    ("too many", zip_with(*((entry(f"{n}.md"), b"") for n in range(5001))), "zip-too-large", ""),
    ("no exercise", zip_with((entry("rig.json"), b"{}"), good=False), "no-exercise", ""),
    ("two exercises", zip_with((entry("a/exercise.json"), b""), (entry("b/exercise.json"), b""), good=False),
     "no-exercise", ""),
    ("no zip", b"time [s],nose\n0,1\n", "zip-damaged", ""),
    ("nothing", b"", "zip-damaged", ""),
    ("cut off", zip_with()[:-30], "zip-damaged", ""),
    ("damaged inside", zip_with()[:80] + b"\xff\xff\xff" + zip_with()[83:], "zip-damaged", ""),
    ("a password", zip_with((entry("a.json"), b"x")).replace(b"PK\x01\x02\x14\x03\x14\0\0\0", b"PK\x01\x02\x14\x03\x14\0\1\0"),
     "zip-password", ""),
    ("a file and a folder", zip_with((entry("rig.json/a.md"), b"x")), "zip-damaged", ""),
    ("a size that is a lie", lying(zip_with((entry("a.md"), b"x" * 90_000)), b"a.md", 7), "zip-damaged", ""),
]  # fmt: skip


class Hostile(unittest.TestCase):
    def test_it_is_refused_and_nothing_leaves_the_folder(self):
        for what, data, code, place in HOSTILE:
            with self.subTest(what), tempfile.TemporaryDirectory() as name:
                inner = Path(name) / "inner"
                inner.mkdir()
                with self.assertRaises(ExerciseError) as caught:
                    unzip(io.BytesIO(data), inner)
                self.assertEqual(caught.exception.code, code, str(caught.exception))
                self.assertIn(place, caught.exception.place.file)
                self.assertEqual([path.name for path in Path(name).iterdir()], ["inner"])
                self.assertFalse(any(path.is_symlink() for path in inner.rglob("*")))

    def test_no_more_is_unpacked_than_an_exercise_has(self):
        bomb = zip_with((entry("a.csv"), b"0" * 3_000_000))
        self.assertLess(len(bomb), 20_000)
        liar = lying(bomb, b"a.csv", 10)
        for data, written in ((bomb, 0), (liar, 1_100_000)):
            with mock.patch.object(zips, "MOST_UNPACKED_BYTES", 1_000_000), tempfile.TemporaryDirectory() as name:
                with self.assertRaises(ExerciseError):
                    unzip(io.BytesIO(data), Path(name))
                self.assertLessEqual(sum(path.stat().st_size for path in Path(name).rglob("*")), written)

    @settings(max_examples=200, deadline=None)
    @given(st.data())
    def test_whatever_is_changed_in_a_zip_it_is_read_or_refused(self, data):
        good = zipped(exercise_files(BASE))
        bad = bytearray(good)
        for _ in range(data.draw(st.integers(1, 6))):
            bad[data.draw(st.integers(0, len(bad) - 1))] = data.draw(st.integers(0, 255))
        with tempfile.TemporaryDirectory() as name:
            try:
                read_pieces(Folder(unzip(io.BytesIO(bytes(bad)), Path(name))))
            except ExerciseError as problem:
                self.assertTrue(problem.remedy)

    def test_a_list_of_hand_ins_is_looked_through(self):
        files = exercise_files(replace(BASE, hand_ins=(HandInPiece("Ada", b"x", datetime.now(UTC)),)))
        head, row = files["hand-ins.csv"].decode().splitlines()
        for changed, said in (
            (row.replace("+00:00", ""), "a moment with its time zone"), (row.replace("notation", "latin"), "its language"),
            (row.replace("hand-ins/", "../"), "outside"), (row.replace("ada.geduld", "no.geduld"), "no file"),
            (f"{row}\n{row}", "twice"), (row.replace("Ada,", ","), "A name"), (row.replace("notation,", "notation,soon"), "deadline"),
        ):  # fmt: skip
            with self.subTest(said), tempfile.TemporaryDirectory() as name:
                listed = {"hand-ins.csv": f"{head}\n{changed}\n".encode()}
                folder = unzip(io.BytesIO(zipped({**files, **listed})), Path(name))
                with self.assertRaises(ExerciseError) as caught:
                    read_pieces(Folder(folder))
                self.assertIn(said, str(caught.exception))
                self.assertIn("row", str(caught.exception.place))

    def test_a_partner_has_libraries_of_its_own(self):
        library = 'library "calls"\nfor rig "door-handset"\n\nlet pause = 2 s\n'
        begin = PARTNER.program.index("begin")
        program = PARTNER.program[:begin] + 'include "calls"\n\n' + PARTNER.program[begin:]
        partner = PartnerPiece(**{**vars(PARTNER), "program": program, "libraries": (library,)})
        pieces = replace(BASE, cases=(CasePiece("two", Surroundings(lasts_us=1_000_000, seed=0), partner),),
                         checks='check "Is short", 1 point:\n    program has at most 20 steps\n')  # fmt: skip
        self.assertEqual(through_a_zip(pieces), (pieces, []))
