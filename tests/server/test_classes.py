"""Classes that hand in by themselves: tries, receipts, deadlines, marks given back; what students never see."""

import io
import json
import random
import zipfile
from datetime import timedelta

from django.test import Client
from django.utils import timezone

from server.classes.codes import LETTERS, plain, shown
from server.classes.handing_in import known, sent, wrong
from server.classes.models import Assignment, SchoolClass, Student, Try
from server.classes.receipts import is_of
from server.classes.tries import take_up
from server.exercises.models import Exercise, HandIn
from tests.glasshouse import DEMO
from tests.server.test_server import ServerTest

NAMES = "1. Ida Mårtensson\n2. Tomo Brandt\n\n3) Ida Mårtensson\nWren O'Dell; Pia Sand"
REFERENCE = (DEMO / "gentle-docking" / "reference.geduld").read_text()
CODE = DEMO / "code-class"
HASTY = (DEMO / "gentle-class" / "tariq-holloway.geduld").read_text()


class Classes(ServerTest):
    def setUp(self):
        super().setUp()
        for bound in (known, wrong, sent):
            bound.forget()
        self.task = next(item for item in self.get("exercises") if item["title"] == "Dock gently")
        Exercise.objects.filter(pk=self.task["id"]).update(due=None)
        SchoolClass.objects.all().delete()
        HandIn.objects.filter(exercise=self.task["id"]).delete()
        self.room = self.send("post", "classes", {"name": "8b", "names": NAMES}, 201)
        self.students = {item["name"]: item for item in self.get(f"classes/{self.room['id']}/students")}
        body = {"exercise": self.task["id"], "school_class": self.room["id"]}
        self.assignment = self.send("post", "assignments", body, 201)
        self.path = f"assignments/{self.assignment['id']}"
        self.phone = Client()

    def headers(self, name, exercise=None):
        return {
            "X-Geduld-Exercise": exercise or self.assignment["code"],
            "X-Geduld-Student": self.students[name]["code"],
        }

    def desk(self, name, status=200, **more):
        response = self.phone.get("/api/desk", headers=self.headers(name, **more))
        return self.answered("get", "desk", response, status)

    def hand_in(self, name, text, key=None, status=201, file=""):
        body = json.dumps({"text": text, "file": file, "key": key or f"{random.random()}"})
        response = self.phone.post("/api/desk/tries", body, content_type="application/json", headers=self.headers(name))
        return self.answered("post", "desk/tries", response, status)

    def standing(self, name):
        return next(row for row in self.get(f"{self.path}/standings") if row["student"]["name"] == name)

    def due(self, **ago):
        Exercise.objects.filter(pk=self.task["id"]).update(due=timezone.now() - timedelta(**ago))


class Rosters(Classes):
    def test_pasted_names_get_codes_that_nobody_confuses(self):
        self.assertEqual(sorted(self.students), ["Ida Mårtensson", "Pia Sand", "Tomo Brandt", "Wren O'Dell"])
        codes = [item["code"] for item in self.students.values()]
        self.assertTrue(all(set(plain(code)) <= set(LETTERS) and len(plain(code)) == 9 for code in codes))
        self.assertEqual(len(set(codes)), 4)
        self.assertEqual(shown(plain(codes[0].lower().replace("-", " "))), codes[0])
        again = self.send("post", f"classes/{self.room['id']}/students", {"names": "Tomo Brandt\nZoe Ahn"}, 201)
        self.assertEqual(len(again), 5)
        # in composed and decomposed letters, with signs that nobody sees and that turn the direction of writing
        same = "Ida M\u0061\u030artensson\n\u202eTomo\u200b Brandt\u202c\nZoe \u2068Ahn\u2069"
        self.assertEqual(len(self.send("post", f"classes/{self.room['id']}/students", {"names": same}, 201)), 5)
        tomo = self.students["Tomo Brandt"]
        changed = self.send("patch", f"classes/{self.room['id']}/students/{tomo['id']}", {"new_code": True})
        self.assertNotEqual(changed["code"], tomo["code"])
        self.desk("Tomo Brandt", 404)

    def test_a_school_s_register_comes_in_and_results_go_back_with_its_identifiers(self):
        files = {
            "users.csv": "sourcedId,status,givenName,familyName\nu1,active,Ada,Falk\nu2,active,Bo,Falk\nu3,tobedeleted,X,Y\nt1,active,T,T\n",
            "classes.csv": "sourcedId,title\nc1,Robotics 9\n",
            "enrollments.csv": "classSourcedId,userSourcedId,role\nc1,u1,student\nc1,u2,student\nc1,t1,teacher\n",
            "orgs.csv": "sourcedId,name\no1,School\n",
        }

        def zipped(**changed):
            out = io.BytesIO()
            with zipfile.ZipFile(out, "w") as archive:
                for name, text in {**files, **changed}.items():
                    archive.writestr(name, text)
            return out.getvalue()

        made = self.upload("class-roster", "roster.zip", zipped(), 201)
        self.assertEqual([(item["name"], item["sourced_id"], item["size"]) for item in made], [("Robotics 9", "c1", 2)])
        self.assertEqual(self.upload("class-roster", "roster.zip", zipped(), 201)[0]["size"], 2, "twice is once")
        self.students = {item["name"]: item for item in self.get(f"classes/{made[0]['id']}/students")}
        body = {"exercise": self.task["id"], "school_class": made[0]["id"]}
        self.assignment = self.send("post", "assignments", body, 201)
        self.hand_in("Ada Falk", REFERENCE)
        rows = self.client.get(f"/api/exercises/{self.task['id']}/results.csv").content.decode().splitlines()
        self.assertTrue(any(",u1,fully graded,19," in row for row in rows), rows)
        for data, said in (
            (b"PK", "no zip"), (zipped(**{"users.csv": "a,b\n1,2\n"}), "has no column sourcedId"),
            (zipped(**{"enrollments.csv": "classSourcedId,userSourcedId,role\nc9,u1,student\n"}), "row 2: the class c9"),
            (zipped(**{"users.csv": "\xff\xfe"}), "no column"), (zipped(**{"users.csv": "x" * 6_000_000}), "5,000,000"),
        ):  # fmt: skip
            self.assertIn(said, self.upload("class-roster", "x.zip", data, 400)["detail"])


class HandingIn(Classes):
    def test_what_cannot_be_read_uses_up_nothing_and_replaces_nothing(self):
        for counts in ("last", "best"):
            self.send("patch", self.path, {"counts": counts, "tries": 3})
            name = "Pia Sand" if counts == "last" else "Tomo Brandt"
            good = self.hand_in(name, REFERENCE)
            typo = self.hand_in(name, REFERENCE.replace("begin:", "begn:", 1))
            self.assertTrue(typo["feedback"]["problem"])
            self.assertEqual((good["left"], typo["left"]), (2, 2), counts)
            self.assertFalse(typo["receipt"]["counts"])
            self.assertEqual([made.number for made in Try.objects.filter(hand_in__student=name) if made.points], [1])
            mine = HandIn.objects.get(student=name)
            self.assertEqual(bytes(mine.data).decode(), REFERENCE)
        self.send("patch", self.path, {"counts": "last", "tries": None})

    def test_a_try_is_kept_looked_at_and_counts(self):
        desk = self.desk("Pia Sand")
        self.assertEqual(
            (desk["title"], desk["left"], desk["tries"], desk["private_checks"]), ("Dock gently", None, [], 1)
        )
        self.assertNotIn("Stands still at the end", json.dumps(desk))
        made = self.hand_in("Pia Sand", HASTY, "one")
        verdicts = {check["check"]: check["verdict"] for check in made["feedback"]["checks"]}
        self.assertEqual((verdicts["Stops when it touches"], verdicts["Arrives gently"]), ("pass", "fail"))
        gently = next(check for check in made["feedback"]["checks"] if check["check"] == "Arrives gently")
        self.assertTrue(gently["margin"] < 0 and gently["because"] and gently["at"] is not None)
        picture = made["feedback"]["picture"]
        self.assertTrue(picture["at"] and picture["run"]["ride"] and picture["floor"]["name"] == "North aisle")
        self.assertEqual(self.hand_in("Pia Sand", "something else", "one")["receipt"], made["receipt"], "sent twice")
        kept = Try.objects.get()
        proof = (self.assignment["code"].replace("-", ""), kept.student.code, 1, kept.received)
        self.assertTrue(is_of(made["receipt"]["fingerprint"], *proof, HASTY.encode()))
        self.assertFalse(is_of(made["receipt"]["fingerprint"], *proof, REFERENCE.encode()))
        self.assertEqual(self.desk("Pia Sand")["last"]["picture"], picture, "who comes back sees it again")
        better = self.hand_in("Pia Sand", REFERENCE)
        self.assertEqual(Try.objects.filter(picture__isnull=False).count(), 1, "of the last try alone")
        self.assertEqual((better["receipt"]["number"], better["receipt"]["counts"]), (2, True))
        standing = self.standing("Pia Sand")
        self.assertEqual((standing["tries"], standing["points"]), (2, 19))
        sheet = self.get(f"exercises/{self.task['id']}/sheet")
        row = next(row for row in sheet["rows"] if row["student"] == "Pia Sand")
        self.assertEqual((row["graded"], row["stale"], row["points"]), (True, False, 19))
        self.assertEqual(self.desk("Pia Sand")["text"], REFERENCE)

    def test_programs_with_errors_and_other_languages_are_told_so(self):
        broken = self.hand_in("Pia Sand", HASTY.replace("until", "utnil"))["feedback"]
        self.assertTrue(broken["problem"] and broken["hints"][0]["line"] == 5 and broken["picture"] is None)
        self.hand_in("Pia Sand", "print(1)", file="mine.exe", status=400)
        python = self.hand_in("Pia Sand", "go(1)\n", file="mine.py")["feedback"]
        self.assertEqual((python["hints"][0]["code"], len(python["understood"])), ("unknown-name", 1))
        for text in ("", " \n", "x" * 300_000):
            self.hand_in("Pia Sand", text, status=400)
        # what is pasted has no ending: it is read as what it looks like, of what the exercise reads
        pasted = (CODE / "alva-brandt.py").read_text()
        self.assertEqual(self.hand_in("Pia Sand", pasted)["receipt"]["language"], "notation")
        self.send(
            "patch", f"exercises/{self.task['id']}", {"wordbooks": [book["id"] for book in self.get("wordbooks")]}
        )
        for text, language in ((pasted, "python"), ((CODE / "nadja-everett.c").read_text(), "c"), (HASTY, "notation")):
            self.assertEqual(self.hand_in("Pia Sand", text)["receipt"]["language"], language)

    def test_tries_run_out_late_ones_are_few_and_an_extension_helps(self):
        self.send("patch", self.path, {"tries": 2, "after_due": 1})
        self.assertEqual(self.hand_in("Pia Sand", HASTY)["left"], 1)
        self.assertEqual(self.hand_in("Pia Sand", REFERENCE)["left"], 0)
        self.hand_in("Pia Sand", HASTY, status=409)
        self.due(hours=3)
        late = self.hand_in("Tomo Brandt", REFERENCE)
        self.assertEqual((late["receipt"]["late"], late["left"]), (True, 0))
        self.hand_in("Tomo Brandt", HASTY, status=409)
        more = {
            "student": self.students["Tomo Brandt"]["id"],
            "until": (timezone.now() + timedelta(hours=2)).isoformat(),
        }
        self.send("post", f"{self.path}/extension", more, 204)
        desk = self.desk("Tomo Brandt")
        self.assertEqual((desk["extended"], desk["left"], desk["tries"][0]["late"]), (True, 1, False))
        self.assertTrue(HandIn.objects.get(student="Tomo Brandt").due)
        self.send("patch", self.path, {"closed": True})
        self.hand_in("Tomo Brandt", HASTY, status=409)
        self.send("post", f"{self.path}/extension", more | {"until": None}, 204)
        self.assertTrue(self.standing("Tomo Brandt")["late"])

    def test_the_best_counts_where_it_is_said_so(self):
        self.send("patch", self.path, {"counts": "best"})
        self.hand_in("Pia Sand", REFERENCE)
        worse = self.hand_in("Pia Sand", HASTY)
        self.assertFalse(worse["receipt"]["counts"])
        self.assertEqual(self.standing("Pia Sand")["points"], 19)
        self.assertEqual(bytes(HandIn.objects.get(student="Pia Sand").data).decode(), REFERENCE)
        self.send("patch", self.path, {"counts": "last"})
        self.assertEqual(bytes(HandIn.objects.get(student="Pia Sand").data).decode(), HASTY)

    def test_marks_are_given_back_and_taken_back(self):
        self.hand_in("Pia Sand", HASTY)
        self.assertIsNone(self.desk("Pia Sand")["returned"])
        hand_in = HandIn.objects.get(student="Pia Sand")
        given = {"check": "Arrives gently", "points": 1, "reason": "It was nearly so."}
        self.send("post", f"hand-ins/{hand_in.pk}/overrides", given, 201)
        self.send("post", f"{self.path}/release", None)
        told = self.desk("Pia Sand")["returned"]
        gently = next(check for check in told["checks"] if check["check"] == "Arrives gently")
        self.assertEqual((gently["points"], told["of"]), (1, 19))
        self.assertNotIn("Stands still", json.dumps(told))
        self.send("delete", f"{self.path}/release", None)
        self.assertIsNone(self.desk("Pia Sand")["returned"])

    def test_what_was_not_looked_at_is_taken_up(self):
        self.hand_in("Pia Sand", HASTY)
        Try.objects.update(feedback=None, points=None)
        take_up()
        self.assertEqual(self.standing("Pia Sand")["points"], 13)


class Secrets(Classes):
    def test_nothing_of_others_and_of_the_reference_is_told(self):
        checks = Exercise.objects.get(pk=self.task["id"]).checks
        checks += '\ncheck "Like the teacher", 1 point:\n    left matches reference.left within 90 %, shifted by at most 9 s\n'
        Exercise.objects.filter(pk=self.task["id"]).update(checks=checks)
        self.hand_in("Tomo Brandt", REFERENCE + "\n# the very own text of Tomo\n")
        told = [self.desk("Pia Sand"), self.hand_in("Pia Sand", HASTY)]
        self.send("post", f"{self.path}/release", None)
        told.append(self.desk("Pia Sand"))
        said = json.dumps(told)
        alike = next(check for check in told[1]["feedback"]["checks"] if check["check"] == "Like the teacher")
        self.assertEqual((alike["because"], alike["margin"], alike["at"]), ("", None, None))
        reference = [line.strip() for line in REFERENCE.splitlines() if len(line.strip()) > 25]
        for secret in (*reference, "Stands still at the end", "Tomo", self.students["Tomo Brandt"]["code"]):
            self.assertNotIn(secret, said)
        # nor does the picture of the run show the moment at which it went another way
        only = (
            'check "Like the teacher", 1 point:\n    left matches reference.left within 1 %, shifted by at most 0 s\n'
        )
        Exercise.objects.filter(pk=self.task["id"]).update(checks=only)
        feedback = self.hand_in("Wren O'Dell", HASTY)["feedback"]
        self.assertEqual((feedback["checks"][0]["verdict"], feedback["picture"]["at"]), ("fail", None))

    def test_codes_do_not_open_what_they_are_not_for(self):
        other = self.send("post", "classes", {"name": "9a", "names": "Kim Vale"}, 201)
        kim = self.get(f"classes/{other['id']}/students")[0]
        self.students["Kim Vale"] = kim
        self.desk("Kim Vale", 404)
        self.desk("Pia Sand", 404, exercise="AAA-AAA")
        same = {self.phone.get("/api/desk", headers=headers).content for headers in (
            {}, {"X-Geduld-Exercise": self.assignment["code"]}, self.headers("Kim Vale"), self.headers("Pia Sand", "XXX-XXX"),
        )}  # fmt: skip
        self.assertEqual(len(same), 1, "a wrong code tells nothing about which it was")
        self.desk("Tomo Brandt")
        for _ in range(30):
            self.phone.get("/api/desk", headers=self.headers("Kim Vale"))
        self.assertEqual(self.phone.get("/api/desk", headers=self.headers("Pia Sand")).status_code, 429)
        self.desk("Tomo Brandt")  # who got in from there before goes on
        self.assertEqual(self.phone.get("/api/desk", headers=self.headers("Tomo Brandt", "XXX-XXX")).status_code, 429)

    def test_alike_hand_ins_are_found_and_nobody_else(self):
        renamed = HASTY.replace("Straight to the barrel", "Mine").replace("\n    valve", "\n    # water\n    valve")
        for name, text in (("Pia Sand", HASTY), ("Tomo Brandt", renamed), ("Wren O'Dell", REFERENCE)):
            self.hand_in(name, text)
        groups = self.get(f"exercises/{self.task['id']}/alike")
        texts = [set(group["students"]) for group in groups if group["how"] == "text"]
        self.assertTrue(any({"Pia Sand", "Tomo Brandt"} <= group for group in texts), groups)
        self.assertFalse(any("Wren O'Dell" in group and "Pia Sand" in group for group in texts))


class Counting(Classes):
    def test_whatever_comes_in_whatever_order_the_rules_hold(self):
        """Random tries by random rules: as many as allowed are taken, numbered on, and the right one counts."""
        chance = random.Random(11)
        texts = [HASTY, REFERENCE, HASTY.replace("45 %", "30 %")]
        for round_ in range(6):
            sent.forget()
            tries, counts = chance.choice([None, 1, 2, 3]), chance.choice(["last", "best"])
            Try.objects.all().delete()
            HandIn.objects.filter(student="Wren O'Dell").delete()
            self.send("patch", self.path, {"tries": tries, "counts": counts})
            taken = []
            for number in range(4):
                full = tries is not None and len(taken) >= tries
                text = chance.choice(texts)
                made = self.hand_in("Wren O'Dell", text, status=409 if full else 201)
                if not full:
                    taken.append((Try.objects.latest("number").points, text))
                    self.assertEqual(made["receipt"]["number"], len(taken), (round_, number))
            best = max(range(len(taken)), key=lambda at: (taken[at][0], -at))
            wanted = taken[-1 if counts == "last" else best][1]
            self.assertEqual(bytes(HandIn.objects.get(student="Wren O'Dell").data).decode(), wanted)
        self.assertEqual(Assignment.objects.count(), 1)
        self.assertEqual(Student.objects.count(), 4)
