"""The standard form of check texts."""

from __future__ import annotations

from geduld.checks.patterns import PATTERNS
from geduld.checks.sheet import CheckSheet
from geduld.language.formatter import Printer, expression_text


def format_checks(sheet: CheckSheet) -> str:
    """A check text in its standard form."""
    out = Printer()
    out.lets(sheet.lets)
    for check in sheet.checks:
        out.gap(check.before)
        word = "point" if check.points == "1" else "points"
        over = f", {check.over} over cases" if check.over else ""
        private = ", private" if check.private else ""
        over += f", fading over {expression_text(check.fading)}" if check.fading else ""
        over += ", all or nothing" if check.whole else ""
        out.line(0, f'check "{check.title}", {check.points} {word}{over}{private}:', check.before, check.comment)
        PATTERNS[check.sentence.kind].write(out, check)
    out.comments(0, sheet.trailing)
    return out.text()
