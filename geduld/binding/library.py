"""Libraries: texts whose routines and names a behaviour includes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from geduld.language import tree
from geduld.language.messages import Hint, Problem, Span, error, listed, nearest
from geduld.language.parser import Parsed, parse

Library = Mapping[str, Parsed[tree.Plan]]


def library_of(texts: Iterable[str | bytes]) -> Library:
    """The libraries among some texts by their titles; of two with one title the first. Other texts are passed over."""
    found: dict[str, Parsed[tree.Plan]] = {}
    for text in texts:
        parsed = parse(text)
        if parsed.tree.is_library:
            found.setdefault(parsed.tree.title, parsed)
    return found


def included(library: Library, include: tree.Include) -> tree.Plan:
    """The library that an `include` names. Raises Problem when there is none, or when it has errors itself."""
    found = library.get(include.name)
    if found is None:
        like = nearest(include.name, library)
        known = listed(library) or "none yet"
        remedy = f'Did you mean "{like}"?' if like else f"The libraries here are {known}."
        message = f'There is no library called "{include.name}".'
        raise Problem(error("no-library", include.span, message, remedy, f'include "{like}"' if like else None))
    errors = [hint for hint in found.hints if hint.level == "error"]
    if errors:
        raise Problem(as_outside(errors[0], include.name, include.span))
    return found.tree


def as_outside(hint: Hint, library: str, span: Span) -> Hint:
    """A hint about a library's text, at the line of this text that brings it in."""
    message = f'In the library "{library}", line {hint.line}: {hint.message}'
    return replace(error(hint.code, span, message, hint.remedy), level=hint.level)
