"""Recordings over HTTP: sent, understood, corrected, imported; and what is done with traces."""

import gzip
import json

from django.test import override_settings

from server.recordings.models import Recipe, Recording
from server.shelf.models import Trace
from server.shelf.unpacked import core_trace
from tests.core.test_traces import SKETCH
from tests.server.test_server import ServerTest

GERMAN = "Zeit (ms);Abstand (mm);Stoßtaster\r\n" + "".join(
    f"{20 * k};{1800 - 3 * k},5;{int(k > 40)}\r\n" if k != 7 else "140;-1;0\r\n" for k in range(50)
)


class Importing(ServerTest):
    def sent(self, data, name="morning.csv"):
        return self.upload("recordings", name, data, 201, rig=self.rig["id"])

    def understood(self, recording, **question):
        return self.send("post", f"recordings/{recording['id']}/understood", question)

    def test_a_foreign_file_becomes_a_trace_and_its_recipe_is_remembered(self):
        recording = self.sent(GERMAN.encode("latin-1"))
        found = self.understood(recording)
        self.assertIsNone(found["problem"])
        self.assertEqual((found["samples"], found["rate"], found["remembered"]), (50, 50.0, False))
        self.assertIn("semicolons", found["said"])
        self.assertEqual([line["role"] for line in found["lines"][:2]], ["heading", "row"])
        uses = {use["column"]: (use["channel"], use["unit"], use["absent"]) for use in found["recipe"]["columns"]}
        self.assertEqual(uses, {"Abstand (mm)": ("range", "mm", [-1.0]), "Stoßtaster": ("nose", "", [])})
        recipe = found["recipe"]
        recipe["columns"][1]["channel"] = "nose_left"
        made = self.send("post", f"recordings/{recording['id']}/import", {"recipe": recipe, "name": "Morning"}, 201)
        self.assertEqual((made["name"], made["channels"]), ("Morning", ["range", "nose_left"]))
        self.assertFalse(Recording.objects.filter(pk=recording["id"]).exists())
        values = core_trace(Trace.objects.get(pk=made["id"])).channels["range"]
        self.assertEqual((values[0], values[7] != values[7]), (180.05, True))
        noon = self.sent(gzip.compress(("# noon\n" + GERMAN).encode()), "noon.csv.gz")
        again = self.understood(noon)
        self.assertTrue(again["remembered"])
        self.assertEqual({use["channel"] for use in again["recipe"]["columns"]}, {"range", "nose_left"})
        anew = self.understood(noon, anew=True)
        self.assertFalse(anew["remembered"])
        self.assertEqual(Recipe.objects.count(), 1)

    def test_bad_rows_are_told_and_chosen_about(self):
        recording = self.sent(GERMAN.replace("60;", "sixty;", 1).encode())
        found = self.understood(recording)
        self.assertEqual((found["problem"]["code"], found["problem"]["row"], found["bad_count"]), ("bad-row", 5, 1))
        self.assertEqual(found["samples"], 49, "what it would become without them is shown")
        refused = self.send("post", f"recordings/{recording['id']}/import", {"recipe": found["recipe"]}, 422)
        self.assertEqual(refused["row"], 5)
        found = self.understood(recording, recipe=found["recipe"] | {"bad_rows": "drop"})
        self.assertIsNone(found["problem"])
        self.assertEqual(self.understood(recording)["recipe"]["bad_rows"], "drop", "what was chosen is kept")
        self.send("post", f"recordings/{recording['id']}/import", {"recipe": found["recipe"]}, 201)

    def test_another_layout_is_looked_at_anew(self):
        recording = self.sent(b"12;0\n13;1\n12;0\n")
        found = self.understood(recording)
        self.assertEqual(found["problem"]["code"], "channel-without-part")
        layout = found["recipe"]["layout"] | {"delimiter": ","}
        other = self.understood(recording, layout=layout)
        self.assertEqual([column["name"] for column in other["columns"]], ["column 1"])
        self.assertEqual(
            self.send("post", f"recordings/{recording['id']}/understood", {"recipe": {"geduld": "x"}}, 422)["path"],
            "geduld",
        )

    def test_what_is_too_large_or_somebody_elses_is_refused(self):
        recording = self.sent(GERMAN.encode())
        answer = self.client.post("/api/recordings", {"rig": self.rig["id"]}, CONTENT_LENGTH="250000000")
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "trace-too-large"))
        self.client.force_login(self.stranger)
        self.send("post", f"recordings/{recording['id']}/understood", {}, 404)
        self.send("post", f"traces/{self.trace['id']}/make", {"how": "cut"}, 404)
        for path in ("stretch", "levels?channel=knob", "notes", "csv-metadata", "drawing"):
            self.get(f"traces/{self.trace['id']}/{path}", 404)
        self.assertEqual(self.get("recordings"), [])

    @override_settings(WORK_INLINE=True)
    def test_odd_bytes_never_break_the_server(self):
        for data in (b"", b"\x00" * 999, b"\x1f\x8b\x08", bytes(range(256)) * 40, b"$var", b"{" * 5000, b"a,b\n" * 3):
            recording = self.upload("recordings", "odd.bin", data, 201, rig=self.rig["id"])
            answer = self.client.post(
                f"/api/recordings/{recording['id']}/understood", "{}", content_type="application/json"
            )
            self.assertIn(answer.status_code, (200, 422), data[:20])
            if answer.status_code == 200:
                self.assertIsNotNone(answer.json()["problem"])


class Traces(ServerTest):
    def test_stretches_and_levels(self):
        path = f"traces/{self.trace['id']}"
        found = self.get(f"{path}/stretch?from=1&to=2")
        self.assertEqual((found["samples"], found["rate"]), (101, 100.0))
        levels = self.get(f"{path}/levels?channel=knob")
        self.assertTrue(35 < levels["threshold"] < 65)
        self.assertEqual(self.get(f"{path}/levels?channel=nose", 422)["code"], "no-levels")
        self.assertEqual(self.get(f"{path}/levels?channel=what", 422)["code"], "unknown-channel")

    def test_notes_go_along_with_what_is_exported(self):
        path = f"traces/{self.trace['id']}"
        note = self.send("post", f"{path}/notes", {"at": 3.25, "text": "the hand slipped"}, 201)
        self.send("patch", f"{path}/notes/{note['id']}", {"text": "the hand let go"})
        self.assertEqual(self.get(f"{path}/notes"), [{"id": note["id"], "at": 3.25, "text": "the hand let go"}])
        told = json.loads(self.client.get(f"/api/{path}/csv-metadata").content)
        self.assertEqual(told["notes"], [{"schema:startOffset": 3.25, "schema:text": "the hand let go"}])
        self.send("delete", f"{path}/notes/{note['id']}", None, 204)
        self.assertEqual(self.get(f"{path}/notes"), [])
        self.send("post", f"{path}/notes", {"at": -1, "text": "x"}, 400)

    def test_what_is_exported_is_imported_unchanged(self):
        for trace in self.get("traces"):
            data = self.client.get(f"/api/traces/{trace['id']}/csv").content
            rig = trace["rig"]
            recording = self.upload("recordings", "again.csv", data, 201, rig=rig)
            found = self.send("post", f"recordings/{recording['id']}/understood", {})
            made = self.send("post", f"recordings/{recording['id']}/import", {"recipe": found["recipe"]}, 201)
            kept = [Trace.objects.get(pk=pk).fingerprint for pk in (trace["id"], made["id"])]
            self.assertEqual(kept[0], kept[1], trace["name"])
        slow = self.client.get(f"/api/traces/{self.trace['id']}/csv?rate=10").content.decode().splitlines()
        self.assertEqual((len(slow), slow[2].split(",")[0]), (302, "0.1"))
        self.assertEqual(self.client.get(f"/api/traces/{self.trace['id']}/csv?rate=x").status_code, 400)

    def test_traces_from_a_trace(self):
        path = f"traces/{self.trace['id']}/make"
        cut = self.send("post", path, {"how": "cut", "start": 2, "stop": 5}, 201)
        self.assertEqual([(made["name"], made["duration_us"]) for made in cut], [("Dry day, a part", 3_000_000)])
        first, second = self.send("post", path, {"how": "split", "at": 10, "name": "Halves"}, 201)
        self.assertEqual((first["name"], second["name"]), ("Halves, first part", "Halves, second part"))
        self.assertEqual(first["samples"] + second["samples"], self.trace["samples"])
        moved = self.send("post", path, {"how": "move", "by": 1.5}, 201)[0]
        self.assertEqual(moved["duration_us"], self.trace["duration_us"] + 1_500_000)
        self.assertEqual(self.send("post", path, {"how": "move", "by": -1.5}, 422)["code"], "time-out-of-reach")
        ride = next(trace for trace in self.get("traces") if trace["name"] == "Round of a bed")
        both = self.send("post", path, {"how": "merge", "other": ride["id"], "by": 2}, 201)[0]
        self.assertEqual(set(both["channels"]), set(self.trace["channels"]) | set(ride["channels"]))
        self.assertEqual(self.send("post", path, {"how": "merge"}, 422)["code"], "unknown-trace")

    def test_a_drawn_trace_is_kept_as_points_and_seed(self):
        source = SKETCH | {"channels": {**SKETCH["channels"]}}
        made = self.send("post", "traces/draw", {"rig": self.rig["id"], "name": "Drawn", "source": source}, 201)
        path = f"traces/{made['id']}/drawing"
        self.assertEqual(self.get(path), {"source": source})
        before = Trace.objects.get(pk=made["id"]).fingerprint
        self.send("patch", path, {"source": source | {"seed": 9}})
        self.assertNotEqual(Trace.objects.get(pk=made["id"]).fingerprint, before)
        self.send("patch", path, {"source": source})
        self.assertEqual(Trace.objects.get(pk=made["id"]).fingerprint, before)
        self.assertEqual(self.send("patch", path, {"source": source | {"lasts": "-1 s"}}, 422)["path"], "lasts")
        self.assertEqual(self.get(f"traces/{self.trace['id']}/drawing"), {"source": None})
