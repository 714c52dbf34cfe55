"""The description of the interface: how errors look is said once, for every operation."""

from __future__ import annotations

from typing import Any

_PROBLEM = {
    "type": "object",
    "description": "What went wrong, as problem details (RFC 9457): what happened, what to do, and where.",
    "required": ["type", "code", "status", "title", "detail", "remedy"],
    "properties": {
        "type": {"type": "string"},
        "code": {"type": "string", "description": "the same for the same kind of error"},
        "status": {"type": "integer"},
        "title": {"type": "string"},
        "detail": {"type": "string"},
        "remedy": {"type": "string"},
        "file": {"type": "string"},
        "row": {"type": ["integer", "null"]},
        "column": {"type": ["integer", "null"]},
        "path": {"type": "string"},
        "fields": {"description": "what is wrong with each field"},
        "hints": {"type": "array", "items": {"type": "object"}},
    },
}
_SAID = {
    "400": "Something in the request is missing or wrong.",
    "403": "Nobody is signed in, or this is not allowed.",
    "404": "This is not there, or belongs to somebody else.",
    "405": "This cannot be asked of this address.",
    "406": "The answer cannot be given in the form that was asked for.",
    "409": "Something else needs what is to be changed, or changed it in the meantime.",
    "413": "The request is too large.",
    "415": "The request is in a form that is not read here.",
    "422": "What was sent can be read, and does not hold together.",
    "429": "Too much waits for this teacher already.",
    "503": "The machine, or the database, has too much to do at this moment.",
    "507": "The disk is full, so nothing was saved.",
}
_METHODS = ("get", "post", "put", "patch", "delete")


def with_problems(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """The description, with what every operation may answer when something is wrong."""
    result.setdefault("components", {}).setdefault("schemas", {})["Problem"] = _PROBLEM
    content = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    for operations in result["paths"].values():
        for method, operation in operations.items():
            if method in _METHODS:
                for parameter in operation.get("parameters", ()):
                    # every row is named by its number; where there is a choice of words, it says so
                    if parameter["in"] == "path" and "enum" not in parameter["schema"]:
                        parameter["schema"] = {"type": "integer"}
                for status, said in _SAID.items():
                    operation["responses"].setdefault(status, {"description": said, "content": content})
    return result


def answers_are_whole(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """The description, with every field required in every answer: what is not known is null or empty, but there."""
    for name, schema in result["components"]["schemas"].items():
        if name == "Problem" or name.endswith("Request"):
            continue
        fields = schema.get("properties", {})
        always = [field for field, known in fields.items() if not known.pop("x-sometimes", False)]
        if always:
            schema["required"] = always
    return result
