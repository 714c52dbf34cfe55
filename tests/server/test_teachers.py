"""Several teachers: invitations, passwords, lost ones, sessions; and who may ask for what at all."""

import json
import re
import subprocess
import sys
import tempfile

from django.contrib.auth.models import User
from django.test import Client
from django.urls import URLPattern, get_resolver

from server.accounts.links import invite, make_token
from server.accounts.teachers import make_teacher
from server.accounts.views import guesses, of_names
from server.classes.handing_in import wrong
from server.classes.models import Assignment, Student
from server.sharing.looking import new_link
from tests.glasshouse import ROOT
from tests.server.test_server import ServerTest

GOOD = "Elderflower-and-9-snails"


class Teachers(ServerTest):
    def setUp(self):
        super().setUp()
        guesses.forget()
        of_names.forget()

    def enter(self, client, name, password):
        return client.post("/sign-in", {"name": name, "password": password})

    def test_an_invitation_makes_one_account_with_a_good_password(self):
        path = self.send("post", "teachers", {"note": "Rika"}, 201)["path"]
        guest = Client()
        self.assertIn("You are invited", guest.get(path).content.decode())
        for name, password, said in (
            ("Rika Sol", "short", "at least 10"), ("Rika Sol", "12345678901", "numeric"),
            ("Rika Sol", "rika sol rika", "similar"), ("Rika Sol", "password1234", "common"), ("R", GOOD, "2 to 60"),
            ("stranger", GOOD, "already"),
        ):  # fmt: skip
            page = guest.post(path, {"name": name, "password": password})
            self.assertEqual(page.status_code, 400)
            self.assertIn(said, page.content.decode())
        self.assertEqual(guest.post(path, {"name": " Rika  Sol ", "password": GOOD}).url, "/")
        me = guest.get("/api/me").json()
        self.assertEqual(me, {"name": "Rika Sol", "may_invite": False, "asks_old": True})
        self.assertEqual(guest.get("/api/rigs").json(), [], "an empty shelf of one's own")
        self.assertEqual(guest.get("/api/teachers").status_code, 403)
        self.assertEqual(Client().get(path).status_code, 410, "it holds once")
        self.assertTrue(User.objects.get(username="Rika Sol").password.startswith("argon2"))
        self.assertIn("Rika Sol", [item["name"] for item in self.get("teachers")])

    def test_signing_in_by_password_and_who_guesses_waits(self):
        make_teacher("Tamsin Roe", GOOD)
        guest = Client()
        page = self.enter(guest, "Tamsin Roe", "wrong <b>")
        self.assertEqual((page.status_code, page["Cache-Control"]), (403, "no-store"))
        unknown = self.enter(guest, "Nobody", "wrong <b>")
        same = [re.sub(r'value="[^"]*"', "", text.content.decode()) for text in (page, unknown)]
        self.assertEqual(same[0], same[1], "who there is is not told")
        self.assertEqual(self.enter(guest, "Tamsin Roe", GOOD).url, "/")
        for number in range(9):  # however the name is written
            self.enter(Client(), ("Tamsin Roe", "tamsin  roe", "TAMSIN   ROE")[number % 3], "wrong")
        self.assertEqual(self.enter(Client(), "Tamsin Roe", GOOD).status_code, 429, "ten wrong tries for one name")
        self.assertEqual(guest.get("/api/me").status_code, 200, "who is in stays in")

    def test_the_name_that_is_shown_signs_in_and_can_be_changed(self):
        teacher = self.teacher
        shown = self.get("me")["name"]
        teacher.set_password(GOOD)
        teacher.save()
        for name in (shown, shown.upper(), f"  {shown.lower()} "):
            self.assertEqual(self.enter(Client(), name, GOOD).url, "/")
        client = Client()
        self.enter(client, shown, GOOD)
        make_teacher("Tamsin Roe", GOOD)
        for name in ("tamsin roe", "x", "a\u0000b"):
            self.assertEqual(client.patch("/api/me", {"name": name}, "application/json").status_code, 400)
        answer = client.patch("/api/me", {"name": " Ilse  Rowan "}, "application/json").json()
        self.assertEqual(answer["name"], "Ilse Rowan")
        self.assertEqual(client.get("/api/me").json()["name"], "Ilse Rowan", "the session goes on")
        self.assertEqual(self.enter(Client(), "ilse rowan", GOOD).url, "/")
        self.assertEqual(self.enter(Client(), shown, GOOD).status_code, 403)
        # an account of an earlier version: shown under another name than it had
        User.objects.filter(pk=teacher.pk).update(username="demo", first_name="Demonstration teacher")
        for name in ("demo", "Demonstration Teacher"):
            self.assertEqual(self.enter(Client(), name, GOOD).url, "/")

    def test_a_lost_password_a_new_link_and_ending_all_sessions(self):
        teacher = make_teacher("Tamsin Roe", GOOD)
        one, other = Client(), Client()
        for client in (one, other):
            self.enter(client, "Tamsin Roe", GOOD)

        def change(client, old, new):
            body = json.dumps({"old": old, "new": new})
            return client.post("/api/me/password", body, content_type="application/json").status_code

        self.assertEqual(change(one, "not it", GOOD + "2"), 400)
        self.assertEqual(change(one, GOOD, "weak"), 400)
        self.assertEqual(change(one, GOOD, GOOD + "2"), 204)
        self.assertEqual((one.get("/api/me").status_code, other.get("/api/me").status_code), (200, 403))
        link = self.send("post", f"teachers/{teacher.pk}/link", None, 201)["path"]
        found = Client()
        found.post(link)
        self.assertFalse(found.get("/api/me").json()["asks_old"])
        self.assertEqual(change(found, "", GOOD + "3"), 204)
        self.assertEqual(self.enter(other, "Tamsin Roe", GOOD + "3").url, "/")
        self.send("delete", f"teachers/{teacher.pk}/sessions", None, 204)
        self.assertEqual((found.get("/api/me").status_code, other.get("/api/me").status_code), (403, 403))
        self.enter(other, "Tamsin Roe", GOOD + "3")
        other.delete("/api/me/sessions")
        self.assertEqual(other.get("/api/me").status_code, 403)

    def test_headers_are_those_that_a_browser_should_have(self):
        for path in ("/sign-in", "/api/me", "/hand-in", "/api/desk"):
            headers = Client().get(path).headers
            for name, said in (
                ("Content-Security-Policy", "default-src 'self'"), ("X-Content-Type-Options", "nosniff"),
                ("X-Frame-Options", "DENY"), ("Referrer-Policy", "same-origin"), ("Permissions-Policy", "camera=()"),
                ("Cross-Origin-Opener-Policy", "same-origin"), ("Cross-Origin-Resource-Policy", "same-origin"),
                ("Cross-Origin-Embedder-Policy", "require-corp"), ("X-Permitted-Cross-Domain-Policies", "none"),
            ):  # fmt: skip
                self.assertIn(said, headers[name], path)
            self.assertNotIn("Server", headers)
        self.assertIn("no-store", Client().get("/sign-in")["Cache-Control"])

    def test_the_command_line_makes_teachers_and_links(self):
        with tempfile.TemporaryDirectory() as folder:

            def command(*words):
                line = [sys.executable, "-m", "server", "teacher", *words, "--data", folder]
                return subprocess.run(line, cwd=ROOT, capture_output=True, text=True)

            self.assertIn("Run ./start first", command("add", "Odo Pell").stderr)
            environment = {"GEDULD_DATA": folder, "PATH": "/usr/bin:/bin"}
            migrate = [sys.executable, "-m", "server.manage", "migrate", "-v", "0"]
            subprocess.run(migrate, cwd=ROOT, env=environment, check=True)
            self.assertRegex(command("add", "Odo Pell").stdout, r"/sign-in/\S{20}")
            self.assertIn("already", command("add", "odo pell").stderr)
            self.assertRegex(command("link", "Odo Pell").stdout, r"/sign-in/\S{20}")
            self.assertIn("There are: Odo Pell", command("link", "Nobody").stderr)


# What each may ask for: a stranger, a student with both codes, a colleague with a link that looks, another teacher,
# one who may invite (and owns the demonstration).
# A path of the interface that is in none of these lists, or in a wrong one, fails the test.
OPEN = {"desk", "desk/tries", "live", "look", "look/run", "look/sheet", "look/parcel"}  # their own codes, keys or links
OF_LOOKERS = {"look", "look/run", "look/sheet", "look/parcel"}
OF_ALL_TEACHERS = {
    "me", "me/password", "me/sessions", "sign-out", "notation", "rig-words", "rig-check", "schema", "bench/run", "bench/keep", "bench/why",
    "bench/why-not",
    "class-roster", "traces/draw", "rigs", "traces", "recordings", "measurements", "floors", "inputs", "behaviours",
    "wordbooks", "exercises", "cases", "hand-ins", "classes", "assignments", "parcels", "look/copy",
    "shelf", "shelf/<str:kind>", "trash", "find", "exercises/rows",
}  # fmt: skip
OF_WHO_INVITES = {"teachers", "teachers/<int:pk>/link", "teachers/<int:pk>/sessions"}


def addresses():
    """Every path of the interface, as it is written."""

    def walk(patterns, before):
        for item in patterns:
            path = before + str(item.pattern).removeprefix("^").removesuffix("$").removesuffix(r"\Z")
            if isinstance(item, URLPattern):
                yield path
            else:
                yield from walk(item.url_patterns, path)

    whole = walk(get_resolver().url_patterns, "")
    return sorted({path.removeprefix("api/") for path in whole if path.startswith("api/")})


class Roles(ServerTest):
    def test_every_address_for_every_role(self):
        wrong.forget()
        other, colleague = Client(), make_teacher("Tamsin Roe", GOOD)
        assignment, student = Assignment.objects.get(), Student.objects.first()
        codes = {"X-Geduld-Exercise": assignment.code, "X-Geduld-Student": student.code}
        looks = {"X-Geduld-Look": new_link(assignment.exercise, "", False)[1]}
        keys = {"exercises": self.exercise["id"], "rigs": self.rig["id"], "traces": self.trace["id"],
                "teachers": self.teacher.pk, "classes": assignment.school_class_id, "assignments": assignment.pk}  # fmt: skip
        seen = set()
        for written in addresses():
            bare = re.sub(r"\(\?P<\w+>[^)]*\)|<\w+:\w+>", "<>", written)
            head = written.split("/")[0]
            key = keys.get(head) or next((row["id"] for row in self.rows(head)), 1)
            if head in ("shelf", "trash"):
                bare = bare.replace("<>", "exercises", 1)  # of this kind, that which is another's
                key = keys["exercises"]
            path = "/api/" + bare.replace("<>", str(key), 1).replace("<>", "1")
            seen.add(written)
            other.force_login(colleague)  # some of these addresses sign out
            answers = {
                who: {method: getattr(client, method)(path, headers=headers).status_code for method in ("get", "post", "patch", "delete")}
                for who, client, headers in (
                    ("stranger", Client(), {}), ("student", Client(), codes), ("looker", Client(), looks), ("colleague", other, {}),
                )
            }  # fmt: skip
            with self.subTest(written):
                if written in OPEN:
                    self.assertTrue({404, 400, 405} >= set(answers["stranger"].values()), answers)
                    if written in OF_LOOKERS:
                        self.assertEqual({answers["looker"][method] for method in ("post", "patch", "delete")}, {405})
                    else:
                        self.assertTrue({404, 400, 405} >= set(answers["looker"].values()), answers)
                    continue
                for who in ("stranger", "student", "looker"):
                    self.assertEqual(set(answers[who].values()), {403}, (who, answers))
                allowed = set(answers["colleague"].values())
                if written in OF_WHO_INVITES:
                    self.assertEqual(allowed, {403}, answers)
                elif "<>" in bare:
                    # another teacher's row is as if it were not there; the body is looked at first here and there
                    self.assertLessEqual(allowed, {404, 405, 400, 415}, answers)
                    self.assertNotIn(answers["colleague"]["delete"], (200, 204))
                else:
                    self.assertIn(written, OF_ALL_TEACHERS)
        self.assertEqual(self.client.get("/api/me").status_code, 200)
        self.assertTrue(seen >= OPEN | OF_WHO_INVITES)

    def rows(self, head):
        response = self.client.get(f"/api/{head}")
        found = response.json() if response.status_code == 200 else []
        return [row for row in found if isinstance(row, dict) and "id" in row] if isinstance(found, list) else []

    def test_a_link_is_worth_nothing_to_who_guesses(self):
        guesses.forget()
        invite(self.teacher)
        make_token(self.teacher)
        guest = Client()
        for path in ("/join/", "/sign-in/"):
            self.assertEqual(guest.get(f"{path}{'x' * 32}").status_code, 410)
        for _ in range(30):
            guest.get("/join/abc")
        self.assertEqual(guest.get("/join/abc").status_code, 429)
        guesses.forget()
