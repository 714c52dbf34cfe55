"""The forms that recordings have. A new one is a file, and a line here."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from geduld.recordings.forms import json_lines, pairs, table
from geduld.recordings.layout import Layout, Table

FORMS: dict[str, Callable[[Iterable[str], Layout, bool], Table]] = {
    form.WORD: form.read for form in (table, pairs, json_lines)
}
VCD = "vcd"  # a value change dump tells itself what everything is: `worlds.vcd` reads it
