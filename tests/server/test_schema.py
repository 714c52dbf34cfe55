"""Every operation of the interface, asked oddly: nothing breaks, and every answer is one that the description knows."""

import json
import random
from urllib.parse import quote

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from server.exercises.models import HandIn
from tests.glasshouse import ROOT, SMALL, program
from tests.odd import ODD
from tests.server.described import description, not_described
from tests.server.test_server import ServerTest

KEYS = ["0", "-1", "9" * 18, "9" * 30, "x", "1.5", "%00", "", "１"]
QUERIES = ["", "?limit=0", "?limit=-1&offset=x", "?limit=9999999999999999999&offset=99999999999999999999999", "?from=nan&to=inf",
           "?from=1e308&columns=-5", "?to=%00&columns=1e9", "?format=xml", "?from=1&to=2&columns=10"]  # fmt: skip
ACCEPT = [None, None, None, "application/xml", "*/*", "text/csv", "nonsense"]
BODIES = [
    "",
    "{",
    "[]",
    "null",
    "[" * 5000 + "]" * 5000,
    '{"a": ' * 400 + "1" + "}" * 400,
    '"\\ud800"',
    "NaN",
    '{"points": Infinity}',
]


def values_of(schema, components, depth=3):
    """Values as a schema describes them, and now and then one that nobody means."""
    if "$ref" in schema:
        return values_of(components[schema["$ref"].rpartition("/")[2]], components, depth)
    if depth == 0:
        return st.sampled_from(ODD)
    if "enum" in schema:
        good = st.sampled_from(schema["enum"])
    elif "oneOf" in schema or "anyOf" in schema or "allOf" in schema:
        options = schema.get("oneOf") or schema.get("anyOf") or schema["allOf"]
        good = st.one_of([values_of(option, components, depth) for option in options])
    else:
        kinds = schema.get("type", "any")
        good = st.one_of(
            [_of_kind(k, schema, components, depth) for k in (kinds if isinstance(kinds, list) else [kinds])]
        )
    return st.one_of(good, good, good, st.sampled_from(ODD))


def _of_kind(kind, schema, components, depth):
    if kind == "object":
        known = {
            n: values_of(s, components, depth - 1)
            for n, s in schema.get("properties", {}).items()
            if not s.get("readOnly")
        }
        return st.fixed_dictionaries({}, optional=known)
    if kind == "array":
        return st.lists(values_of(schema.get("items", {}), components, depth - 1), max_size=3)
    return {
        "integer": st.sampled_from([0, 1, 2, 3, -1, 2**31, 2**63, 10**30]),
        "number": st.sampled_from([0, 0.5, 1, 2, -1, 1e308, 1e-308, 5e-324]),
        "boolean": st.booleans(),
        "null": st.none(),
        "string": st.sampled_from(["", "A", "knob", "nose", "stop", "time", "travel", "mean", "2026-11-20T15:00:00Z", program("wait 1 s"), "x" * 150]),
    }.get(kind, st.sampled_from(ODD))  # fmt: skip


class Schema(ServerTest):
    def setUp(self):
        super().setUp()
        self.schema = self.get("schema")
        self.components = self.schema["components"]["schemas"]
        hand_in = HandIn.objects.filter(exercise=self.exercise["id"]).first().pk
        self.keys = {
            "rigs": self.rig["id"], "traces": self.trace["id"], "exercises": self.exercise["id"], "hand-ins": hand_in,
            "cases": self.exercise["cases"][0]["id"], "floors": self.get("floors")[0]["id"],
            "behaviours": self.get("behaviours")[0]["id"], "inputs": self.get("inputs")[0]["id"],
        }  # fmt: skip

    def operations(self):
        for path, methods in self.schema["paths"].items():
            for method, operation in methods.items():
                yield method, path, operation

    def assert_described(self, method, path, operation, response):
        """The status, the type and the body of an answer are those that the description has for the operation."""
        said = f"{method} {path}: {response.status_code}"
        self.assertLess(response.status_code, 500, said)
        if response.status_code == 404 and not response.get("Content-Type", "").startswith("application/problem"):
            return  # an address that is none of the interface's
        self.assertEqual(not_described(operation, response), [], said)

    def ask(self, method, address, body, accept=None):
        headers = {"HTTP_ACCEPT": accept} if accept else {}
        with transaction.atomic():
            point = transaction.savepoint()
            response = self.client.generic(method.upper(), address, body, content_type="application/json", **headers)
            transaction.savepoint_rollback(point)
        return response

    def test_the_web_is_made_from_the_description_as_it_is(self):
        """The web's types and client come from this file: after a change make it anew, as docs/architecture.md says."""
        kept = json.loads((ROOT / "web" / "openapi.json").read_text())
        self.assertEqual(kept, json.loads(json.dumps(description())))
        self.assertEqual(kept, self.schema)
        loose = [
            f"{method} {path} {status}"
            for method, path, operation in self.operations()
            for status, answer in operation["responses"].items()
            if status < "300"
            for content in [answer.get("content", {}).get("application/json")]
            if content and not {"$ref", "items"} & content["schema"].keys()
        ]
        self.assertEqual(loose, [], "every answer has its type")

    def test_odd_keys_queries_and_bodies(self):
        chance = random.Random(3)
        for method, path, operation in self.operations():
            place = path.strip("/").split("/")[1]
            for key in [str(self.keys.get(place, "")), *KEYS]:
                address = path.replace("{id}", quote(key, safe="%"))
                if "{" in address:
                    continue
                for body in chance.sample(BODIES, 3) if method in ("post", "patch") else [""]:
                    with self.subTest(f"{method} {address}", body=body[:40]):
                        response = self.ask(method, address + chance.choice(QUERIES), body, chance.choice(ACCEPT))
                        self.assert_described(method, path, operation, response)
                if "{id}" not in path:
                    break
            for other in ("put", "head", "options", "trace"):
                if other not in self.schema["paths"][path]:
                    address = path.replace("{id}", str(self.keys.get(place, 1)))
                    response = self.ask(other, address, "")
                    self.assertLess(response.status_code, 500, (other, address))
                    if other == "head":
                        self.assertEqual(response.content, b"", "a body would be taken for the next answer")

    def test_bodies_made_from_the_description(self):
        for method, path, operation in self.operations():
            content = operation.get("requestBody", {}).get("content", {}).get("application/json")
            if content is None:
                continue
            place = path.strip("/").split("/")[1]
            address = path.replace("{id}", str(self.keys.get(place, 1)))

            @settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
            @given(
                st.just((method, path, operation, address)),
                values_of(content["schema"], self.components),
                st.integers(0, 63),
            )
            def asked(asking, body, there):
                if isinstance(body, dict):  # now and then references to what is there, and texts that can be read
                    for bit, name in enumerate(("rig", "trace", "floor", "exercise")):
                        if name in body and there >> bit & 1:
                            body[name] = self.keys[f"{name}s"]
                    if "source" in body and there >> 4 & 1:
                        body["source"] = SMALL
                    if "text" in body and there >> 5 & 1:
                        body["text"] = program("drive at 40 % for 1 s")
                method, path, operation, address = asking
                response = self.ask(method, address, json.dumps(body))
                self.assert_described(method, path, operation, response)

            with self.subTest(f"{method} {path}"):
                asked()

    def test_uploads(self):
        files = [b"", b"x", b"time [s],nose\n0,1\n", bytes(range(256)), b"\xff" * 100]
        names = ["a.csv", "a.geduld", "x" * 300 + ".csv", "a\u202eb.csv", "=1.csv", ""]
        for path, field in (("traces", "file"), (f"exercises/{self.exercise['id']}/hand-ins", "files")):
            described = next(p for p in self.schema["paths"] if p.endswith(path.rpartition("/")[2]))
            operation = self.schema["paths"][described]["post"]
            for name in names:
                for content in files:
                    sent = {field: SimpleUploadedFile(name or "n", content), "rig": self.rig["id"]}
                    with self.subTest(path, name=name[:20]):
                        self.assert_described("post", path, operation, self.client.post(f"/api/{path}", sent))
            for sent in ({}, {field: "text"}, {f"f{k}": "1" for k in range(2000)}, {"rig": "inf", field: "x"}):
                self.assert_described("post", path, operation, self.client.post(f"/api/{path}", sent))
            for count in (150, 201):
                many = [SimpleUploadedFile(f"s{k}.geduld", b"x") for k in range(count)]
                response = self.client.post(f"/api/{path}", {field: many, "rig": self.rig["id"]})
                self.assert_described("post", path, operation, response)
        large = self.client.post("/api/behaviours", " " * 5_000_000, content_type="application/json")
        self.assertEqual((large.status_code, large.json()["code"]), (413, "too-much"))
        form = self.client.post("/api/behaviours", "a=1&" * 3000, content_type="application/x-www-form-urlencoded")
        self.assertEqual(form.status_code, 415)
