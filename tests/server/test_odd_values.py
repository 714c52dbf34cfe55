"""Whatever stands in the place of one value in what is sent: it is refused with a reason or taken, and nothing breaks."""

import json
import random

from django.db import transaction

from server.exercises.models import HandIn
from server.marks.models import Override
from server.shelf.models import Behaviour, Floor, Inputs, Rig, Trace
from tests.glasshouse import SMALL, program
from tests.odd import ODD, places, with_odd
from tests.server.test_server import ServerTest

FLOOR = {
    "geduld": "floor/1",
    "name": "Yard",
    "size": ["300 cm", "200 cm"],
    "start": {"at": ["50 cm", "100 cm"], "heading": "10 deg"},
    "walls": [{"from": ["10 cm", "10 cm"], "to": ["90 cm", "10 cm"], "name": "low"}],
    "obstacles": [{"name": "tub", "at": ["150 cm", "100 cm"], "radius": "20 cm", "movable": False}],
    "tones": [{"name": "line", "at": ["50 cm", "50 cm"], "radius": "5 cm", "tone": "20 %"}],
    "marks": [{"name": "A", "at": ["120 cm", "100 cm"], "heading": "0 deg"}],
}


class OddValues(ServerTest):
    def bodies(self):
        """What a browser sends: method, path, body."""
        rig, exercise = self.rig["id"], self.exercise["id"]
        floor = next(floor for floor in self.get("floors") if floor["name"] == "North aisle")["id"]
        doings = [{"at": 1, "name": "knob", "value": 80}, {"at": 2, "name": "stop", "value": 1}]
        world = {"floor": floor, "start": "A", "seed": 1, "limit": 2, "doings": doings, "follow": "time"}
        text = program("drive at 40 % until nose is pressed, patience 1 s")
        case = {"exercise": exercise, "name": "odd", "floor": floor, "start": "A", "doings": doings, "seed": 2,
                "limit_us": 2_000_000, "follow": "time"}  # fmt: skip
        rules = {"title": "T", "brief": "b", "over_cases": "mean", "due": "2026-11-20T15:00:00Z", "late_per_day": 0.1,
                 "late_at_most": 0.5, "round_to": 0.5, "checks": self.exercise["checks"], "reference": text}  # fmt: skip
        hand_in = HandIn.objects.filter(exercise=exercise).first().pk
        return [
            ("post", "rigs", {"source": SMALL}),
            ("post", "floors", {"source": FLOOR}),
            ("post", "inputs", {"rig": rig, "name": "twist", "doings": doings}),
            ("post", "behaviours", {"rig": rig, "title": "B", "text": text, "world": world}),
            ("patch", f"behaviours/{Behaviour.objects.first().pk}", {"title": "B", "text": text, "world": world}),
            ("post", "cases", case),
            ("patch", f"cases/{self.exercise['cases'][0]['id']}", {"name": "n", "limit_us": 3_000_000, "seed": None}),
            ("post", "exercises", {"rig": rig, **rules}),
            ("patch", f"exercises/{exercise}", rules),
            ("patch", f"hand-ins/{hand_in}", {"received": "2026-11-21T10:00:00Z"}),
            ("post", f"hand-ins/{hand_in}/overrides", {"check": "Waters for 1.5 s", "points": 1, "reason": "It did."}),
            ("post", "bench/run", {"rig": rig, "text": text, **world, "checks": self.exercise["checks"],
                                   "window": {"from": 0, "to": 1, "columns": 20}}),
            ("post", "bench/keep", {"rig": rig, "text": text, "name": "Kept", **world}),
        ]  # fmt: skip

    def test_one_odd_value_anywhere(self):
        kept = (Rig, Floor, Inputs, Behaviour, Trace, HandIn, Override)
        chance = random.Random(11)
        for method, path, body in self.bodies():
            for place in places(body):
                before = [model.objects.count() for model in kept]
                for odd in chance.sample(ODD, 4):
                    sent = json.dumps(with_odd(body, place, odd))
                    point = transaction.savepoint()
                    with self.subTest(f"{method} {path}", place=place, odd=odd if len(repr(odd)) < 99 else "long"):
                        answer = getattr(self.client, method)(f"/api/{path}", sent, content_type="application/json")
                        self.assertIn(answer.status_code // 100, (2, 4))
                        if answer.status_code // 100 == 4:
                            self.assertTrue(answer.json()["title"], answer.content)
                            self.assertEqual([model.objects.count() for model in kept], before)
                    transaction.savepoint_rollback(point)
