"""Hand-ins of a whole class in one zip or folder: whose they are, however platforms and file managers write names."""

import io
import unicodedata
import unittest
import zipfile

from hypothesis import given, settings
from hypothesis import strategies as st

from geduld.readers.collected import class_zip, collected, one_program
from geduld.readers.files import why_no_program


def archive(files):
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w") as zipped:
        for path, data in files.items():
            zipped.writestr(path, data)
    return packed.getvalue()


def of(files, name="hand-ins", **options):
    """Each student with the number of programs that came from them."""
    read = class_zip(archive({path: data.encode() if isinstance(data, str) else data for path, data in files.items()}))
    return {item.student: "recorded" if item.recorded else item.files for item in collected(read, name, **options)}


def archive_packed(files):
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as zipped:
        for path, data in files.items():
            zipped.writestr(path, data)
    return packed.getvalue()


TABLE = [
    # folders, files, and both
    ({"Ada/main.py": "", "Ada/h.py": "", "Ben/go.c": ""}, {"Ada": 2, "Ben": 1}),
    ({"class/Ada/main.py": "", "class/Ada/h.py": "", "class/Ben.py": ""}, {"Ada": 2, "Ben": 1}),
    ({"7b/hand-ins/Ada.py": "", "7b/hand-ins/Ben.geduld": "", "7b/hand-ins/Cem.csv": "t,x\n"}, {"Ada": 1, "Ben": 1, "Cem": "recorded"}),
    ({"Ada.py": "", "Ben.py": "", "__MACOSX/._Ada.py": "x", ".DS_Store": "x", "Thumbs.db": "x"}, {"Ada": 1, "Ben": 1}),
    ({"Ada/src/main.py": "import h", "Ada/src/h.py": "", "Ben/out.csv": "t,x\n", "Cem/why.docx": "x"}, {"Ada": 2, "Ben": "recorded", "Cem": 0}),
    # as platforms write them
    ({"Ada Lov_412_assignsubmission_file_/main.py": "", "Ben Noor_9_assignsubmission_file_/x.py": ""}, {"Ada Lov": 1, "Ben Noor": 1}),
    ({"Ada Lov_412_assignsubmission_file_main.py": "", "Ada Lov_412_assignsubmission_file_h.py": "", "Ben_418_assignsubmission_file_x.py": ""}, {"Ada Lov": 2, "Ben": 1}),
    ({"lovada_20412_88112_main.py": "", "lovada_20412_88113_help.py": "", "noorben_LATE_20413_88119_my_robot.py": ""}, {"lovada": 2, "noorben": 1}),
    ({"Stop_alov_attempt_2026-11-02-10-11-12_go.py": "", "Stop_bnoor_attempt_2026-11-02-10-12-13_go.py": "", "Stop_cem_attempt_2026-11-03-09-00-00_go.py": "", "Stop_cem_attempt_2026-11-03-09-00-00.txt": "x"}, {"alov": 1, "bnoor": 1, "cem": 1}),
    ({"4120-9 - Ada Lov - Nov 2, 2026 1011 AM/go.py": "", "4121-9 - Ben Noor - 3 November, 2026 9.05/go.py": "", "index.html": "x"}, {"Ada Lov": 1, "Ben Noor": 1}),
    ({"Lov, Ada/Submission attachment(s)/go.py": "", "Noor, Ben/Submission attachment(s)/go.py": "", "Noor, Ben/timestamp.txt": ""}, {"Lov, Ada": 1, "Noor, Ben": 1}),
    ({"Lov_Ada_2026-12-02.py": "", "Lov_Ben_2026-12-02.py": ""}, {"Lov Ada": 1, "Lov Ben": 1}),
    # two of one name, and one student twice
    ({"Ada Lov_411_assignsubmission_file_/a.py": "", "Ada Lov_412_assignsubmission_file_/a.py": ""}, {"Ada Lov 411": 1, "Ada Lov 412": 1}),
    ({"x_alov_attempt_2026-11-02-10-11-12_go.py": "", "x_alov_attempt_2026-11-04-10-11-12_go.py": "", "x_ben_attempt_2026-11-04-10-11-12_a.py": ""}, {"alov": 1, "ben": 1}),
    # one program
    ({"ada/main.py": "import h\n", "ada/h.py": ""}, {"hand-ins": 2}),
    ({"go.py": "from parts import legs\n", "parts/legs.py": "", "pictures/robot.png": "x"}, {"hand-ins": 2}),
    ({"m.c": '#include "h.h"\n', "h.h": ""}, {"hand-ins": 2}),
    ({"main.py": "", "photo/x.png": "x"}, {"hand-ins": 1}),
    ({"all/Ada_412_file_/main.py": "import h\n", "all/Ada_412_file_/h.py": ""}, {"Ada": 2}),
    ({"Ada.py": ""}, {"Ada": 1}),
    ({"picture.png": "x"}, {"hand-ins": 0}),
]  # fmt: skip
LETTERS = st.characters(categories=("Lu", "Ll"), include_characters="äöüßéÅñşŁ", max_codepoint=0x24F)
PERSON = st.lists(st.text(LETTERS, min_size=2, max_size=9), min_size=1, max_size=3).map(" ".join)
FIVE, DAY = st.integers(10_000, 9_999_999), st.integers(1, 28)
WAYS = {
    "folder": lambda who, one, two, day: f"{who}/prog.py",
    "file": lambda who, one, two, day: f"{who}.py",
    "zip": lambda who, one, two, day: f"{who}.zip",
    "id behind, folder": lambda who, one, two, day: f"{who}_{one}_assignsubmission_file_/my_prog.py",
    "ids behind, file": lambda who, one, two, day: f"{who}_{one}_{two}_my_prog.py",
    "date behind": lambda who, one, two, day: f"{who}_2026-11-{day:02}.py",
    "id before, date behind": lambda who, one, two, day: f"{one}-{two} - {who} - Nov {day}, 2026 1011 AM/prog.py",
    "task before": lambda who, one, two, day: f"Bump stop 2_{who}_attempt_2026-11-{day:02}-10-11-{day:02}_prog.py",
}


class Collecting(unittest.TestCase):
    def test_whose_they_are(self):
        for files, wanted in TABLE:
            with self.subTest(files=list(files)):
                self.assertEqual(of(files), wanted)
        self.assertEqual(of({"Ada.py": ""}, "Ben", alone=False), {"Ben": 1}, "one of several zips is one student's")
        two = class_zip(archive({"Ada.py": "", "Ben.py": ""}))
        self.assertEqual(one_program(two, "Cem").files, 2)

    @settings(max_examples=300, deadline=None)
    @given(st.lists(PERSON, min_size=3, max_size=6, unique_by=str.casefold), st.sampled_from(sorted(WAYS)), st.data())
    def test_every_student_is_found_by_name(self, people, way, data):
        """In every way of writing, in composed and in decomposed letters, below folders and beside rubbish."""
        form, root = data.draw(st.sampled_from(("NFC", "NFD"))), data.draw(st.sampled_from(("", "x/", "7b/hand-ins/")))
        files = {f"{root}.DS_Store": b"x", f"__MACOSX/{root}._x.py": b"x"}
        for person in people:
            path = WAYS[way](unicodedata.normalize(form, person), data.draw(FIVE), data.draw(FIVE), data.draw(DAY))
            text = f"note = {person!r}\n".encode()
            files[root + path] = archive({"main.py": text, "h.py": b"import main\n"}) if way == "zip" else text
        found = collected(class_zip(archive(files)), "class")
        self.assertEqual(
            sorted(item.student for item in found), sorted(unicodedata.normalize("NFC", who) for who in people)
        )
        for item in found:
            self.assertIn(item.student, unicodedata.normalize("NFC", item.data.decode()))

    def test_a_zip_in_a_folder_is_one_students_program_and_a_bad_one_costs_only_itself(self):
        good = archive({"deep/er/main.py": b"import h\n", "deep/er/h.py": b"x = 1\n"})
        files = {
            "Ada/work.zip": good,
            "Ben.zip": good,
            "Cem/work.zip": good[:40],
            "Dana/b.zip": archive({"a.py": b"#" * 3_000_000}),
        }
        found = {item.student: item for item in collected(class_zip(archive(files)), "class")}
        self.assertEqual({name: item.files for name, item in found.items()}, {"Ada": 2, "Ben": 2, "Cem": 0, "Dana": 0})
        for name, said in (("Cem", "damaged"), ("Dana", "2,000,000 bytes")):
            self.assertIn(said, found[name].trouble)
            self.assertEqual(why_no_program(found[name].data.decode()), found[name].trouble)

    def test_small_zips_in_a_zip_do_not_unpack_to_more_than_a_class_may(self):
        bomb = archive_packed({"a.py": b"#" * 1_900_000})
        for paths in ([f"s{number}/p.zip" for number in range(30)], [f"s/p{number}.zip" for number in range(30)]):
            files = class_zip(archive(dict.fromkeys(["t/x.py", *paths], bomb)))
            try:
                found = collected(files, "class")
            except ValueError as problem:
                self.assertIn("40,000,000 bytes", str(problem))
            else:
                self.assertIn("40,000,000 bytes", found[0].trouble)

    def test_what_is_too_large_or_no_zip_is_said(self):
        many = archive({f"{number}.py": b"" for number in range(4_001)})
        heavy = archive({f"{number}.csv": b"0" * 3_900_000 for number in range(11)})
        for data, said in ((b"no zip", "damaged"), (many, "4,000 files"), (heavy, "40,000,000 bytes")):
            with self.assertRaisesRegex(ValueError, said):
                class_zip(data)


if __name__ == "__main__":
    unittest.main()
