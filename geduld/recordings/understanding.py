"""A recording looked at as a whole: what it was understood as, the trace it makes, and why it makes none."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from geduld.errors import TraceError
from geduld.recordings.absent import codes_of
from geduld.recordings.forms import VCD
from geduld.recordings.laying_out import layout_of
from geduld.recordings.layout import Layout, Table
from geduld.recordings.matching import channels_of, part_of
from geduld.recordings.proposal import meaning_of, propose, table_of
from geduld.recordings.reading import Report, read
from geduld.recordings.recipe import Recipe, Use
from geduld.recordings.text import text_of
from geduld.rig.model import Rig
from geduld.worlds.trace import Trace
from geduld.worlds.vcd import is_vcd, trace_from_vcd

HEAD = 14  # lines


@dataclass(frozen=True)
class Understanding:
    """What a recording was understood as.

    `recipe` is how it was read, `head` the text's first lines; `time_because` and `because`, by column, are the reasons
    where they were found out; `remembered` whether the recipe is one that was kept from an earlier file. `trace` and
    `report` are there when it can be read, and `problem` when it cannot.
    """

    recipe: Recipe
    encoding: str
    packed: bool
    head: tuple[str, ...] = ()
    table: Table | None = None
    time_because: str = ""
    because: dict[str, str] = field(default_factory=dict)
    remembered: bool = False
    trace: Trace | None = None
    report: Report | None = None
    problem: TraceError | None = None


def understood(
    data: bytes, rig: Rig, recipe: Recipe | None = None, kept: Iterable[Recipe] = (), layout: Layout | None = None
) -> Understanding:
    """What a file's bytes are understood as, for a rig.

    With a `recipe` it is read by that; else by the first of the `kept` ones that names the file's columns; else by what
    is found out, where a `layout` is given for a text that is laid out so.

    Raises TraceError for a file that is too large, or damaged.
    """
    text = text_of(data, recipe.encoding if recipe else "")
    head = tuple(itertools.islice(text.lines(), HEAD))
    chosen = recipe.layout if recipe else layout
    if is_vcd(text.text[:1000].encode()) and (chosen is None or chosen.form == VCD):
        found = Understanding(Recipe(Layout(VCD), encoding=text.encoding), text.encoding, text.packed, head)
        try:
            return replace(found, trace=trace_from_vcd(text.text.encode(), rig), report=Report())
        except TraceError as problem:
            return replace(found, problem=problem)
    layout = recipe.layout if recipe else layout or layout_of(text)
    if layout.form == VCD:
        no_dump = TraceError("not-vcd", "This is no value change dump.", "Choose another form.")
        return Understanding(recipe or Recipe(), text.encoding, text.packed, head, problem=no_dump)
    table = table_of(text, layout)
    proposal = propose(text, rig, layout, table)
    remembered = False
    if recipe is None:
        names = {column.name for column in table.columns}
        recipe = next((other for other in kept if _fits(other, layout, names)), None)
        remembered = recipe is not None
        recipe = proposal.recipe if recipe is None else for_this_table(recipe, proposal.recipe, table, rig)
    found = Understanding(
        recipe, text.encoding, text.packed, head, table, proposal.time_because, proposal.because, remembered
    )
    try:
        trace, report = read(table, recipe, rig)
    except TraceError as problem:
        return replace(found, problem=problem)
    return replace(found, trace=trace, report=report)


def _fits(recipe: Recipe, layout: Layout, names: set[str]) -> bool:
    """Whether a recipe from an earlier file is one for this: of the same form, with the same columns."""
    used = {use.column for use in recipe.uses if use.channel} | {
        *filter(None, (recipe.timing.column, recipe.timing.date))
    }
    return recipe.layout.form == layout.form and bool(used) and used <= names


def for_this_table(kept: Recipe, found: Recipe, table: Table, rig: Rig) -> Recipe:
    """A recipe from an earlier file for this one's table: the layout is this file's, and so is what columns are that it
    does not know; numbers that mean "no reading" in this file join those that did in that one."""
    known = {use.column for use in kept.uses}
    taken = {use.channel for use in kept.uses}
    new = [use for use in found.uses if use.column not in known and use.channel not in taken]
    joined = (_with_codes(use, table, rig) for use in kept.uses)
    return replace(kept, layout=found.layout, encoding=found.encoding, uses=(*joined, *new))


def _with_codes(use: Use, table: Table, rig: Rig) -> Use:
    column = next((column for column in table.columns if column.name == use.column), None)
    if column is None or use.channel not in channels_of(rig) or use.points:
        return use
    part = part_of(use.channel, rig)
    codes, _ = codes_of(column.numbers, part, meaning_of(use.unit, part, use.channel), own=False)
    return replace(use, absent=(*use.absent, *(code for code in codes if code not in use.absent)))


def imported(data: bytes, rig: Rig, recipe: Recipe | None = None) -> tuple[Trace, Report]:
    """The trace in a file, and what happened while it was read. Raises TraceError where it cannot be read."""
    found = understood(data, rig, recipe)
    if found.trace is None or found.report is None:
        assert found.problem is not None
        raise found.problem
    return found.trace, found.report
