"""Reads values out of JSON documents: every error names its place as a path into the document."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar

from geduld.errors import InputError, Place
from geduld.language.messages import listed, nearest
from geduld.language.quantities import Dimension, exact, unit_from_text

_QUANTITY = re.compile(r"\s*(-?[0-9]+(?:\.[0-9]+)?)\s*(\S*)\s*", re.ASCII)
Read = TypeVar("Read")
MASS = {"kg": 1.0, "g": 0.001}
TORQUE = {"Nm": 1.0, "Ncm": 0.01, "mNm": 0.001}


@dataclass(frozen=True)
class Values:
    """The reading of one kind of document: `error` is what is raised, `what` the document's name (`rig`)."""

    error: type[InputError]
    what: str

    @property
    def one(self) -> str:
        """One such document, with its article."""
        return f"{'an' if self.what[0] in 'aeiou' else 'a'} {self.what}"

    def wrong(self, path: str, message: str, remedy: str, code: str = "") -> InputError:
        """An error at a place in the document."""
        return self.error(code or f"{self.what}-value", message, remedy, Place(path=path))

    def file(self, path: Path, read: Callable[[bytes], Read]) -> Read:
        """What `read` makes of a file; its errors name the file."""
        try:
            data = path.read_bytes()
        except OSError as problem:
            message = f"The {self.what} cannot be opened: {problem.strerror}."
            raise self.error("cannot-open", message, place=Place(str(path))) from None
        try:
            return read(data)
        except self.error as problem:
            raise problem.in_file(path.name) from None

    def named(
        self, source: Any, known: tuple[str, ...], rest: str, example: str, key: str = "name"
    ) -> tuple[dict[str, Any], str]:
        """The table of a whole document and its name, or title. `rest` is what else its remedy shows."""
        mark = f"{self.what}/1"
        if not isinstance(source, dict) or source.get("geduld") != mark:
            remedy = f'Start it with {{"geduld": "{mark}", "{key}": …, {rest}}}.'
            message = f"This JSON does not say that it is {self.one}."
            raise self.wrong("geduld", message, remedy, f"not-{self.one.replace(' ', '-')}")
        self.known_keys(source, known, "")
        name = source.get(key)
        if not isinstance(name, str) or not name.strip():
            message = f"The {self.what} needs a {key} in quotation marks."
            raise self.wrong(key, message, f'For example: "{example}"')
        return source, name

    def document(self, data: bytes | str, most_bytes: int) -> Any:
        """The JSON value in a text."""
        if len(data) > most_bytes:
            message = f"{self.one.capitalize()} has at most {most_bytes:,} bytes."
            raise self.error(f"{self.what}-too-large", message, f"Check that this is {self.one}.")
        try:
            value = json.loads(data, object_pairs_hook=self._no_key_twice)
            # JSON can spell half a surrogate pair, which is no character and could never be written
            json.dumps(value, ensure_ascii=False).encode()
            return value
        except json.JSONDecodeError as problem:
            place = Place(row=problem.lineno, column=problem.colno)
            raise self.error("not-json", f"This is not JSON: {problem.msg}.", "Mend it there.", place) from None
        except (UnicodeError, RecursionError):
            raise self.error("not-json", "This is not JSON text.", "Save it as UTF-8 JSON.") from None

    def _no_key_twice(self, pairs: list[tuple[str, Any]]) -> dict[str, Any]:
        table = dict(pairs)
        if len(table) < len(pairs):
            keys = [key for key, _ in pairs]
            twice = next(key for key in keys if keys.count(key) > 1)
            raise self.wrong(twice, f'"{twice}" stands twice in one table.', "Give each its own name.", "key-twice")
        return table

    def table(self, value: Any, path: str, known: tuple[str, ...], example: str) -> dict[str, Any]:
        """A table with known keys alone."""
        if not isinstance(value, dict):
            raise self.wrong(path, "A table in { } belongs here.", f"For example: {example}")
        self.known_keys(value, known, f"{path}." if path else "")
        return value

    def known_keys(self, table: Mapping[str, Any], known: tuple[str, ...], path: str) -> None:
        """Refuses keys that are not known."""
        for key in table:
            if key not in known:
                like = nearest(key, known)
                remedy = f'Did you mean "{like}"?' if like else f"Known here: {listed(known)}."
                raise self.wrong(f"{path}{key}", f'"{key}" is not known here.', remedy, "unknown-key")

    def _parts(self, value: Any, path: str, example: str) -> tuple[str, str, str]:
        """A number and its unit as written, and what to do when they are wrong."""
        remedy = f'Write it in quotation marks with its unit, for example: "{example}"'
        if isinstance(value, int | float) and not isinstance(value, bool):
            raise self.wrong(path, f"The number {value} has no unit.", remedy, "number-without-unit")
        match = _QUANTITY.fullmatch(value) if isinstance(value, str) else None
        if match is None:
            raise self.wrong(path, "Here a number with its unit belongs.", remedy)
        if not match.group(2):
            raise self.wrong(path, f"The number {match.group(1)} has no unit.", remedy, "number-without-unit")
        return match.group(1), match.group(2), remedy

    def quantity(self, value: Any, dimension: Dimension, path: str, example: str) -> float:
        """A number with its unit, in the dimension's base unit."""
        number, word, remedy = self._parts(value, path, example)
        unit = unit_from_text(word)
        if unit is None:
            raise self.wrong(path, f'"{word}" is not a unit.', remedy, "unknown-unit")
        if unit.dimension != dimension:
            raise self.wrong(
                path, f"This is {unit.dimension}, and {dimension} belongs here.", remedy, "wrong-dimension"
            )
        found = exact(number, unit)
        if not math.isfinite(found):
            raise self.wrong(path, "This number is too large.", remedy)
        return found

    def within(self, value: Any, dimension: Dimension, path: str, example: str, low: float, high: float) -> float:
        """A number with its unit between two bounds in the base unit, both allowed."""
        found = self.quantity(value, dimension, path, example)
        if not low <= found <= high:
            unit = dimension.unit
            message = f"This must lie between {low:g} {unit} and {high:g} {unit}."
            raise self.wrong(path, message, f'For example: "{example}"')
        return found

    def above_nothing(self, value: Any, dimension: Dimension, path: str, example: str) -> float:
        """A number with its unit that is more than nothing."""
        found = self.quantity(value, dimension, path, example)
        if found <= 0:
            raise self.wrong(path, "This must be more than nothing.", f'For example: "{example}"')
        return found

    def scaled(self, value: Any, units: Mapping[str, float], path: str, example: str) -> float:
        """A positive number in one of a few units that only documents use: masses in kg, torques in N·m."""
        number, word, remedy = self._parts(value, path, example)
        if word not in units:
            raise self.wrong(path, f'"{word}" is not a unit here.', f"The units are {listed(units)}.", "unknown-unit")
        found = float(number) * units[word]
        if not 0 < found < 1e6:
            raise self.wrong(path, "This must be more than nothing.", remedy)
        return found
