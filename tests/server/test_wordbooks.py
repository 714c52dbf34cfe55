"""Wordbooks over HTTP, and hand-ins in Python and C from the upload to the mark sheet."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile

from server.exercises.models import Exercise
from server.shelf.models import Wordbook
from tests.core.test_lines import DRIVERS, WORDS, dump
from tests.core.test_several_files import archive
from tests.glasshouse import DEMO
from tests.server.test_server import ServerTest

CLASS = DEMO / "code-class"


class Wordbooks(ServerTest):
    def setUp(self):
        super().setUp()
        self.exercise = Exercise.objects.get(title="Docking in Python and C")
        self.books = {book["language"]: book for book in self.get("wordbooks")}

    def test_a_wordbook_is_written_tried_and_kept(self):
        book = self.books["python"]
        self.assertEqual(
            (book["title"], book["hints"], book["used_by"]), ("barrow in Python", [], [self.exercise.title])
        )
        self.assertIn("Wheel.spin", [word["name"] for word in book["words"]])
        path = f"wordbooks/{book['id']}"
        wrong = book["text"].replace("valve at share", "valvve at share")
        kept = self.send("patch", path, {"text": wrong, "started_from": book["version"]})
        self.assertEqual([(hint["code"], hint["line"]) for hint in kept["hints"]], [("unknown-part", 13)])
        self.send("patch", path, {"text": "late", "started_from": book["version"]}, 409)
        self.send("patch", path, {"text": book["text"] + "\n\n\n", "started_from": kept["version"]})
        tidied = self.send("post", f"{path}/tidy", {"rig": book["rig"]})
        self.assertEqual(tidied["text"], book["text"])
        trace = next(item for item in self.get("traces") if item["name"] == "Dry day")["id"]
        asked = {"text": book["text"], "trace": trace, "at": 5}
        tried = self.send("post", f"{path}/try", {**asked, "word": "ahead", "values": []})
        self.assertEqual((tried["lasted"], tried["problem"]), (0.004, ""))
        self.assertGreater(float(tried["value"]), 50)
        tried = self.send("post", f"{path}/try", {**asked, "word": "Wheel.spin", "values": ["M1", 30]})
        self.assertEqual(tried["commands"], [{"part": "left", "after": 0.0, "value": 30.0, "unit": "%"}])
        self.send("post", f"{path}/try", {**asked, "word": "ahead", "values": [{}]}, 400)
        self.send("delete", path, None, 409)
        made = self.send("post", "wordbooks", {"rig": book["rig"], "text": 'wordbook "mine"\nreads c\n'}, 201)
        self.assertEqual((made["title"], made["language"]), ("mine", "c"))
        self.send("delete", f"wordbooks/{made['id']}", None, 204)

    def test_a_behaviour_is_written_out_for_the_class(self):
        behaviours = {item["title"]: item for item in self.get("behaviours")}
        for language, sign in (("python", "from barrow import"), ("c", '#include "barrow.h"')):
            path = f"wordbooks/{self.books[language]['id']}/translate"
            told = self.send("post", path, {"text": behaviours["Dock at the barrel"]["text"]})
            self.assertIn(sign, told["text"])
            self.assertEqual({hint["code"] for hint in told["left_out"]}, {"not-exact"})
            told = self.send("post", path, {"text": behaviours["Stay on the line"]["text"]})
            self.assertIn("no-word", [hint["code"] for hint in told["left_out"]])
            wrong = self.send("post", path, {"text": 'behaviour "x"\nbegin:\n    drive att 3 %\n'}, 422)
            self.assertEqual([hint["line"] for hint in wrong["hints"]], [3])

    def test_hand_ins_in_two_languages_from_upload_to_marks(self):
        path = f"exercises/{self.exercise.pk}"
        self.exercise.hand_ins.all().delete()
        for name in ("bela-torvald.py", "nadja-everett.c", "wilma-doherty.c", "xaver-molina.c"):
            made = self.upload(f"{path}/hand-ins", name, (CLASS / name).read_bytes(), 201)[0]
            self.assertEqual(
                (made["student"], made["language"]),
                (name.split(".")[0], {"py": "python", "c": "c"}[name.split(".")[1]]),
            )
        rows = {row["student"]: row for row in self.graded(self.exercise)["rows"]}
        self.assertEqual([rows[name]["points"] for name in ("bela-torvald", "nadja-everett")], [14, 14])
        self.assertEqual(rows["xaver-molina"]["unread"], [])
        self.assertIn('There is nothing called "flash_lights" here.', rows["wilma-doherty"]["unread"])
        self.assertEqual({mark["verdict"] for mark in rows["wilma-doherty"]["marks"]}, {"not read"})
        # A word more, and what was written with it is stale.
        book = Wordbook.objects.get(title="barrow in C")
        book.text += "\nword flash_lights(times):\n    lamp at 100 % for 0.1 s\n"
        book.save()
        self.assertTrue(all(row["stale"] for row in self.get(f"{path}/sheet")["rows"]))
        rows = {row["student"]: row for row in self.graded(self.exercise)["rows"]}
        self.assertFalse(any("flash_lights" in what for what in rows["wilma-doherty"]["unread"]))

    def test_programs_of_several_files_come_as_zips_and_as_a_folder_of_the_class(self):
        path = f"exercises/{self.exercise.pk}"
        self.exercise.hand_ins.all().delete()
        head, body = (CLASS / "alva-brandt.py").read_text().split("\n\n", 1)
        files = {
            "walk.py": f"{head}\nfrom rest_of_it import go\ngo()\n",
            "rest_of_it.py": f"{head}\ndef go():\n" + "".join(f"    {line}\n" for line in body.splitlines()),
        }
        (made,) = self.upload(f"{path}/hand-ins", "ada.zip", archive(files), 201)
        self.assertEqual((made["student"], made["language"], made["files"]["begins"]), ("ada", "python", "walk.py"))
        self.upload(f"{path}/hand-ins", "bad.zip", b"PK", 400)
        (empty,) = self.upload(f"{path}/hand-ins", "empty.zip", archive({"readme.txt": "x"}), 201)
        self.assertIn("no program in it", empty["text"])
        whole = {f"Ben Noor_{41}_assignsubmission_file_/{name}": text for name, text in files.items()}
        whole |= {"Cem_412_assignsubmission_file_/one.py": "x = 1\n", "Dana_413_assignsubmission_file_/a.docx": "x"}
        looked = self.upload(f"{path}/hand-ins/look", "class.zip", archive(whole), 200)
        self.assertEqual(
            [(row["student"], row["files"], row["replaces"]) for row in looked],
            [("Ben Noor", 2, False), ("Cem", 1, False), ("Dana", 0, False)],
        )
        self.assertEqual(self.exercise.hand_ins.count(), 2, "looking keeps nothing")
        sent = {"files": SimpleUploadedFile("class.zip", archive(whole))}
        pairs = {"sources": [looked[0]["came_as"], looked[1]["came_as"]], "students": ["Ben", "Cem\u202e N."]}
        answer = self.client.post(f"/api/{path}/hand-ins", {**sent, **pairs})
        self.assertEqual(
            [item["student"] for item in self.answered("post", f"{path}/hand-ins", answer, 201)], ["Ben", "Cem N."]
        )
        sent = {"files": SimpleUploadedFile("class.zip", archive(whole)), "single": ["class.zip"]}
        answer = self.client.post(f"/api/{path}/hand-ins/look", sent)
        self.assertEqual(
            [row["student"] for row in self.answered("post", f"{path}/hand-ins/look", answer, 200)], ["class"]
        )
        self.exercise.hand_ins.exclude(student="ada").delete()
        folder = {f"class/ben/{name}": text for name, text in files.items()} | {"class/cleo.py": files["rest_of_it.py"]}
        folder |= {"class/dora/one.py": "x = 1\n", "class/dora/two.py": "x = 2\n"}
        sent = [SimpleUploadedFile(name.rsplit("/", 1)[-1], text.encode()) for name, text in folder.items()]
        answer = self.client.post(f"/api/{path}/hand-ins", {"files": sent, "paths": list(folder)})
        made = {item["student"]: item for item in self.answered("post", f"{path}/hand-ins", answer, 201)}
        self.assertEqual(sorted(made), ["ben", "cleo", "dora"])
        self.assertEqual(made["dora"]["files"], {"may_begin": ["one.py", "two.py"], "begins": ""})
        rows = {row["student"]: row for row in self.graded(self.exercise)["rows"]}
        self.assertEqual([rows[name]["points"] for name in ("ada", "ben")], [14, 14])
        self.assertLess(rows["cleo"]["points"], 14)
        self.assertIn("one.py or two.py", rows["dora"]["problem"])
        self.assertEqual({mark["verdict"] for mark in rows["dora"]["marks"]}, {"not read"})
        self.send("patch", f"hand-ins/{made['dora']['id']}", {"begins": "three.py"}, 400)
        chosen = self.send("patch", f"hand-ins/{made['dora']['id']}", {"begins": "two.py"})
        self.assertEqual(chosen["files"]["begins"], "two.py")
        self.assertTrue(chosen["text"].startswith("# ==== file: two.py ====\nx = 2\n"))
        rows = {row["student"]: row for row in self.graded(self.exercise)["rows"]}
        self.assertEqual({mark["verdict"] for mark in rows["dora"]["marks"]} & {"not read"}, set())

    def test_the_bench_runs_programs_with_their_words(self):
        trace = next(item for item in self.get("traces") if item["name"] == "Dry day")
        question = {
            "rig": trace["rig"],
            "trace": trace["id"],
            "text": (CLASS / "tadeo-klein.c").read_text(),
            "language": "c",
        }
        without = self.send("post", "bench/run", question)
        self.assertEqual(without["hints"][0]["code"], "unknown-module")
        answer = self.send("post", "bench/run", {**question, "wordbooks": [book["id"] for book in self.books.values()]})
        self.assertEqual(answer["run"]["why"], "idle")
        codes = {hint["code"] for hint in answer["hints"]}
        self.assertTrue({"empty-body", "never-changes", "left-running"} <= codes)
        handles = {(item["part"], item["line"]): item for item in answer["thresholds"]}
        self.assertEqual(round(handles["knob", 6]["per_part_unit"], 6), 10.23)
        self.assertEqual(answer["run"]["program"][0]["line"], 7)

    def test_lines_of_the_controller_are_recorded_imported_and_drawn(self):
        source = json.loads((DEMO / "rigs" / "glasshouse-cart.json").read_text())
        rig = self.send("post", "rigs", {"source": {**source, "name": "pins", "drivers": DRIVERS}}, 201)
        book = self.send(
            "post", "wordbooks", {"rig": rig["id"], "text": WORDS.format("c").replace("glasshouse-cart", "pins")}, 201
        )
        held = dump({"7": [(0, 0), (400_000, 100)], "5": [(0, 0), (400_000, 60)], "9": [(0, 100)], "6": [(0, 100)]})
        trace = self.upload("traces", "bench.vcd", held, 201, rig=rig["id"])
        self.assertEqual(sorted(trace["channels"]), ["left", "right"])
        shown = {lane["part"]: lane for lane in self.get(f"traces/{trace['id']}/lanes")["lanes"]}
        self.assertEqual(shown["left"]["values"][:2], [0, 60])
        text = "int main() { write(7, HIGH); duty(5, 51); rest(100); write(7, LOW); rest(50); }\n"
        asked = {"rig": rig["id"], "trace": trace["id"], "text": text, "language": "c", "wordbooks": [book["id"]]}
        run = self.send("post", "bench/run", asked)["run"]
        lines = {lane["part"]: lane for lane in run["lines"]}
        self.assertEqual(list(lines), ["7 left a", "5 left enable"])
        self.assertEqual(lines["5 left enable"]["values"], [20])
        self.assertEqual(lines["7 left a"]["times"], [0, 0.1])

    def test_another_teachers_wordbooks_are_not_there(self):
        Wordbook.objects.update(owner=self.stranger)
        self.assertEqual(self.get("wordbooks"), [])
        self.send("patch", f"exercises/{self.exercise.pk}", {"wordbooks": [self.books["c"]["id"]]}, 400)
        trace = self.get("traces")[0]
        asked = {"rig": trace["rig"], "text": "import barrow\n", "language": "python"}
        answer = self.send("post", "bench/run", {**asked, "wordbooks": [self.books["python"]["id"]]})
        self.assertEqual(answer["hints"][0]["code"], "unknown-module")

    def graded(self, exercise):
        self.send("post", f"exercises/{exercise.pk}/grade", {})
        return self.get(f"exercises/{exercise.pk}/sheet")
