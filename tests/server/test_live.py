"""Live readings over HTTP: with a key, from a cable, recorded and kept; a wrong key gets nothing."""

import threading
import unittest

import numpy as np

from geduld.recordings.sketch import drawn_trace, sketch_from_json
from geduld.standin.lines import lines_of
from geduld.standin.sending import posted, send
from server.live.feeds import _feeds
from server.shelf.models import Rig, Trace
from server.shelf.services import core_rig
from server.shelf.unpacked import core_trace
from tests.core.test_traces import SKETCH
from tests.served import Server
from tests.server.test_server import ServerTest


class Live(ServerTest):
    def setUp(self):
        super().setUp()
        _feeds.clear()
        self.cart = next(rig for rig in self.get("rigs") if rig["name"] == "glasshouse-cart")
        self.path = f"rigs/{self.cart['id']}/live"

    def post(self, key, lines, first=None):
        headers = {"X-Geduld-Key": key} | ({} if first is None else {"X-Geduld-First": str(first)})
        return self.client.post("/api/live", "\n".join(lines), content_type="application/x-ndjson", headers=headers)

    def test_lines_with_a_key_are_read_recorded_and_kept(self):
        self.assertEqual(self.get(self.path)["heard"], False)
        key = self.send("post", f"{self.path}/key", None, 201)["key"]
        rig = core_rig(Rig.objects.get(pk=self.cart["id"]))
        trace = drawn_trace(sketch_from_json(SKETCH, rig))
        lines = [line for _, line in lines_of(trace, rig, 50, "json")]
        self.client.logout()
        for first in range(0, len(lines), 10):
            answer = self.post(key, lines[first : first + 10], first)
            self.assertEqual((answer.status_code, answer.json()["taken"]), (200, len(lines[first : first + 10])))
        again = self.post(key, lines[-10:], len(lines) - 10)
        self.assertEqual(again.json()["taken"], 0, "nothing is taken twice")
        for wrong in ("", "x", key + "x"):
            self.assertEqual(self.post(wrong, lines[:5]).status_code, 404)
        self.assertEqual(self.post(key, ["x" * 2_500_000]).status_code, 400)
        self.client.force_login(self.teacher)
        told = self.get(self.path)
        self.assertEqual((told["connected"], told["lines"], told["unread"]), (True, len(lines), 0))
        readings = {item["name"]: item for item in told["readings"]}
        self.assertAlmostEqual(readings["knob"]["value"], 80, places=2)
        self.assertEqual(readings["nose"]["contact"], True)
        text = 'behaviour "Along"\nbegin:\n    wait 0.1 s\n    lamp at 30 %\n    wait until range < 0 cm\n'
        played = self.send("post", f"{self.path}/play", {"text": text, "since": 0})
        lamp = next(lane for lane in played["run"]["outputs"] if lane["part"] == "lamp")
        self.assertEqual((lamp["times"][-1], lamp["values"][-1]), (0.1, 30))
        last = played["run"]["program"][-1]
        self.assertEqual((last["line"], last["to"], last["state"]), (5, played["run"]["lasted"], "waiting"))
        self.assertEqual(
            [hint["code"] for hint in played["hints"]], ["never-true"], "what a whole run shows is not known yet"
        )
        wrong = self.send("post", f"{self.path}/play", {"text": text + "    lamp at\n", "since": 0})
        self.assertEqual((wrong["run"], wrong["hints"][0]["line"]), (None, 6))
        self.send("post", f"{self.path}/play", {"text": text, "since": told["clock"] + 5}, 422)
        made = self.send("post", f"{self.path}/keep", {"name": "From the air"}, 201)
        kept = core_trace(Trace.objects.get(pk=made["id"]))
        np.testing.assert_allclose(kept.channels["range"], trace.channels["range"], rtol=1e-5)
        self.assertEqual(self.send("post", f"{self.path}/do", {"do": "record"})["recording"], True)
        self.send("post", f"{self.path}/keep", {"name": "Nothing"}, 422)
        newer = self.send("post", f"{self.path}/key", None, 201)["key"]
        self.assertEqual((self.post(key, lines[:5]).status_code, self.post(newer, lines[:5]).status_code), (404, 200))
        self.client.force_login(self.stranger)
        self.get(self.path, 404)
        self.send("post", f"{self.path}/play", {"text": text, "since": 0}, 404)
        self.send("post", f"{self.path}/lines", {"lines": ["a=1"]}, 404)

    def test_lines_from_a_cable_get_another_meaning(self):
        lines = [f"front={148 + k} D1={k % 2}" for k in range(30)]
        self.send("post", f"{self.path}/lines", {"lines": lines})
        found = self.get(f"{self.path}/meaning")
        self.assertEqual([column["name"] for column in found["columns"]], ["front", "D1"])
        recipe = found["recipe"]
        recipe["columns"] = [
            {
                "column": "front",
                "channel": "range",
                "unit": "raw",
                "absent": [],
                "absent_words": [],
                "points": [[148, 10], [620, 60]],
                "inverted": False,
            }
        ]
        self.send("post", f"{self.path}/meaning", {"recipe": recipe}, 204)
        self.send("post", f"{self.path}/lines", {"lines": ["front=620 D1=1"]})
        self.assertEqual([item["value"] for item in self.get(self.path)["readings"]], [60.0])
        self.assertEqual(self.send("post", f"{self.path}/meaning", {"recipe": {}}, 422)["path"], "geduld")


class TenRobots(unittest.TestCase):
    def test_nothing_is_lost_from_ten_stand_ins_at_once(self):
        """In real time they would send for a minute (benchmarks/live.py); here they send as fast as they can."""
        import http.cookiejar
        import json
        import urllib.request

        server = Server()
        self.addCleanup(server.stop)
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        page = opener.open(server.link).read().decode()
        token = page.split('name="csrfmiddlewaretoken" value="')[1].split('"')[0]
        opener.open(
            urllib.request.Request(server.link, f"csrfmiddlewaretoken={token}".encode(), {"Referer": server.link})
        )
        opener.open(f"{server.address}/api/me").read()

        def ask(path, body=None):
            cookie = next(
                c.value
                for h in opener.handlers
                if hasattr(h, "cookiejar")
                for c in h.cookiejar
                if c.name == "csrftoken"
            )
            headers = {"X-CSRFToken": cookie, "Content-Type": "application/json", "Referer": server.address}
            data = None if body is None else json.dumps(body).encode()
            return json.loads(opener.open(urllib.request.Request(f"{server.address}/api/{path}", data, headers)).read())

        source = next(rig["source"] for rig in ask("rigs") if rig["name"] == "glasshouse-cart")
        rig = core_rig(Rig(source=source))
        lines = list(lines_of(drawn_trace(sketch_from_json(SKETCH, rig)), rig, 50, "pairs"))
        robots = [ask("rigs", {"source": source | {"name": f"cart {k}"}})["id"] for k in range(10)]
        keys = [ask(f"rigs/{robot}/live/key", {})["key"] for robot in robots]

        def drive(key):
            send(
                lines,
                lambda batch, first: posted(f"{server.address}/api/live", key, batch, first),
                self.fail,
                sleep=lambda s: None,
            )

        threads = [threading.Thread(target=drive, args=(key,)) for key in keys]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        for robot in robots:
            told = ask(f"rigs/{robot}/live")
            self.assertEqual((told["lines"], told["unread"], round(told["seconds"], 2)), (len(lines), 0, 10.0))
