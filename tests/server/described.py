"""The interface as it is described, and whether an answer is one of those."""

import json
import re
from functools import cache
from pathlib import Path

from drf_spectacular import validation
from drf_spectacular.generators import SchemaGenerator
from jsonschema_rs import Draft202012Validator


@cache
def description():
    """The served description."""
    return SchemaGenerator().get_schema(request=None, public=True)


def wrong_in_description():
    """What of the description is not as OpenAPI has it: sentences, none where all is."""
    told = json.loads(json.dumps(description()))
    form = "openapi_{}_{}_schema.json".format(*told["openapi"].split("."))
    openapi = json.loads(Path(validation.__file__).with_name(form).read_text())
    return [problem.message[:300] for problem in Draft202012Validator(openapi).iter_errors(told)]


@cache
def operations():
    """Every operation by its method, the form of its address, and itself."""
    found = []
    # an address as it stands comes before one with a place for any word
    for path, methods in sorted(description()["paths"].items(), key=lambda item: item[0].count("{")):
        form = re.compile(re.sub(r"\\\{[^}]*\}", "[^/]+", re.escape(path)) + r"(\?.*)?")
        found += [(method, form, operation) for method, operation in methods.items()]
    return found


def operation_of(method, address):
    """The operation at an address; None where there is none."""
    return next((op for known, form, op in operations() if known == method and form.fullmatch(address)), None)


def not_described(operation, response):
    """What of an answer is not as the description has it: sentences, none where all is."""
    described = operation["responses"].get(str(response.status_code))
    if described is None:
        return [f"status {response.status_code}"]
    content = described.get("content")
    if content is None:
        return [f"a body: {response.content[:80]}"] if response.content else []
    kind = response["Content-Type"].partition(";")[0]
    if kind not in content:
        return [f"type {kind}"]
    if not kind.endswith("json"):
        return []
    problems = _validator(json.dumps(content[kind]["schema"])).iter_errors(json.loads(response.content))
    return [f"{problem.instance_path}: {problem.message}"[:300] for problem in problems]


@cache
def _validator(schema):
    return Draft202012Validator(
        {**json.loads(schema), "components": description()["components"]}, validate_formats=True
    )
