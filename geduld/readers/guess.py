"""Which language a text is in that comes without a file's name, by what its lines look like."""

from __future__ import annotations

import re
from collections.abc import Collection

from geduld.readers.reading import NOTATION, PYTHON, C

_MOST_LINES = 2_000
# What only one of the languages has at a line's beginning or end; a sign that settles it counts for many lines.
_SIGNS: dict[str, tuple[tuple[re.Pattern[str], int], ...]] = {
    NOTATION: (
        (re.compile(r'\s*(behaviour|library)\s+"'), 20),
        (re.compile(r'\s*for\s+rig\s+"'), 20),
        (re.compile(r"\s*begin\s*:\s*(#.*)?$"), 10),
        (re.compile(r"\s*(wait|drive|finish|stop|turn|repeat)\s+[\w\"-]"), 2),
        (re.compile(r"\s*let\s+\w+\s*="), 2),
        (re.compile(r"[^\"'#]*\d\s*(%|cm|ms|s|deg)(\s|,|:|$)"), 1),
    ),
    PYTHON: (
        (re.compile(r"\s*(def|class)\s+\w+.*:\s*(#.*)?$"), 5),
        (re.compile(r"\s*(import\s+\w|from\s+[\w.]+\s+import\b)"), 10),
        (re.compile(r"\s*(if|elif|while|for|with|try|except|else)\b[^;{]*:\s*(#.*)?$"), 1),
        (re.compile(r"\s*(elif|except|pass|print\s*\(|global)\b"), 3),
        (re.compile(r"\s*[\w.]+\s*=[^=;]*$"), 1),
        (re.compile(r"\s*[\w.]+\([^;{]*\)\s*(#.*)?$"), 2),
    ),
    C: (
        (re.compile(r"\s*#\s*(include|define|if|ifdef|ifndef|endif|pragma)\b"), 10),
        (re.compile(r"\s*(int|void|float|double|bool|char|unsigned|static|const|long)\s+\**\w+\s*[(=;\[]"), 5),
        (re.compile(r".*[;{}]\s*(//.*)?$"), 2),
        (re.compile(r"\s*(//|/\*)"), 3),
    ),
}


def guessed_language(text: str, among: Collection[str]) -> str:
    """The language, of those that can be read, that a text most looks like; of equals the notation."""
    lines = [line for line in text.splitlines()[:_MOST_LINES] if line.strip()]
    cut = [line[:200] for line in lines]
    points = {
        language: sum(weight for line in cut for sign, weight in _SIGNS[language] if sign.match(line))
        for language in (NOTATION, *sorted(set(among) - {NOTATION}))
    }
    return max(points, key=lambda language: points[language])
