"""What a recording was understood as: a recipe for it, with the reason of each choice."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from geduld.language.quantities import TRUTH, UNITS, Unit, unit_from_text
from geduld.recordings.absent import codes_of
from geduld.recordings.cells import Column
from geduld.recordings.contacts import CONTACT_WORDS
from geduld.recordings.finding_time import OWN, timing_of
from geduld.recordings.forms import FORMS
from geduld.recordings.headings import heading_of, unit_word
from geduld.recordings.laying_out import layout_of
from geduld.recordings.layout import Layout, Table
from geduld.recordings.matching import ENCODERS, Match, matches, part_of
from geduld.recordings.recipe import ABSENT, HOLD, Recipe, Use
from geduld.recordings.sizes import RAW_UNIT, by_size
from geduld.recordings.text import Text
from geduld.rig.model import Part, Rig
from geduld.worlds.trace_csv import RAW

COUNTS = "counts"


@dataclass(frozen=True)
class Proposal:
    """A recipe, why the time is read so, and of each column, by its name, why it is used so."""

    recipe: Recipe
    time_because: str
    because: dict[str, str]


def table_of(text: Text, layout: Layout) -> Table:
    """The table in a text that is laid out so."""
    return FORMS[layout.form](text.lines(), layout, '"' in text.text)


def propose(text: Text, rig: Rig, layout: Layout | None = None, table: Table | None = None) -> Proposal:
    """How a text is probably read for a rig. `layout` and the table it gives are used where they are known."""
    layout = layout or layout_of(text)
    table = table if table is not None else table_of(text, layout)
    timing, why = timing_of(table)
    own = layout.delimiter == "," and OWN.fullmatch(timing.column) is not None
    rest = [column for column in table.columns if column.name not in (timing.column, timing.date)]
    because: dict[str, str] = {}
    uses: list[Use] = []
    for name, match in matches(rest, rig).items():
        column = next(column for column in rest if column.name == name)
        if match.channel:
            use, because[name] = use_of(column, match, rig, own)
            uses.append(use)
        else:
            because[name] = match.why
    order = {column.name: place for place, column in enumerate(table.columns)}
    uses.sort(key=lambda use: order[use.column])
    missing = HOLD if layout.form != "table" and _some_missing(table.columns) else ABSENT
    return Proposal(Recipe(layout, timing, tuple(uses), text.encoding, missing=missing), why, because)


def _some_missing(columns: Sequence[Column]) -> bool:
    """Whether lines say different things: more of a column's cells are empty than a sensor's echoes are missed."""
    return any(column.is_word("").mean() > 0.3 for column in columns if len(column.codes))


def use_of(column: Column, match: Match, rig: Rig, own: bool = False) -> tuple[Use, str]:
    """How a column is probably used as the channel that it is, and why. `own` when Geduld wrote the file itself."""
    part = part_of(match.channel, rig)
    why = [match.why]
    unit, because = _unit(column, part, match.channel)
    why += [because] if because else []
    channel = match.channel
    if part is not None and unit == RAW_UNIT and not channel.endswith(RAW) and part.raw_unit is not None:
        channel += RAW
    meaning = meaning_of(unit, part, channel)
    absent, because = codes_of(column.numbers, part, meaning, own)
    why += [because] if because else []
    inverted = part is not None and part.active_low and not own and _is_level(column)
    if inverted:
        why.append("its line is low while it is pressed, by the rig")
    elif part is not None and part.dimension == TRUTH and _mostly_pressed(column):
        why.append("it is 1 most of the time: with a pull-up a pressed switch reads as 0")
    return Use(column.name, channel, unit, absent, inverted=inverted), "; ".join(why)


def meaning_of(unit: str, part: Part | None, channel: str) -> Unit | None:
    """The unit of a column's numbers. None where they are plain, as those of a contact or of a line."""
    if part is None:
        return unit_from_text(unit) if unit else None
    if channel.endswith(RAW):
        return part.raw_unit
    if unit == COUNTS and part.counts_per_turn:
        return replace(UNITS["rev"], factor=UNITS["rev"].factor / part.counts_per_turn)
    return (unit_from_text(unit) if unit and unit != RAW_UNIT else None) or part.unit


def _is_level(column: Column) -> bool:
    """Whether a contact's column says how its line was, and not whether it was pressed."""
    return not ({word.lower() for word in column.words} & set(CONTACT_WORDS)) - {"high", "low"}


def _mostly_pressed(column: Column) -> bool:
    known = column.numbers[np.isfinite(column.numbers)]
    return len(known) > 10 and float((known == 1).mean()) > 0.8


def _unit(column: Column, part: Part | None, channel: str) -> tuple[str, str]:
    """The unit of a column, and why where it does not stand there."""
    heading = heading_of(column.name)
    behind = {unit_word(word) for word in column.units}
    if part is None:
        return heading.unit, ""
    if channel.endswith(RAW):
        return RAW_UNIT, "its numbers are the converter's"
    counted = heading.raw or any(word in column.name.lower() for word in ENCODERS)
    if part.counts_per_turn and counted and not heading.unit and not behind - {""} and _whole(column):
        return COUNTS, f"an encoder with {part.counts_per_turn} counts a turn"
    if (
        len(behind) == 1
        and (word := behind.pop())
        and (unit := unit_from_text(word))
        and unit.dimension == part.dimension
    ):
        return word, ""
    said = unit_from_text(heading.unit) if heading.unit else None
    if said is not None and said.dimension == part.dimension:
        return heading.unit, ""
    if part.unit is None or not part.unit.word:
        return "", ""
    return by_size(column.numbers, part)


def _whole(column: Column) -> bool:
    known = column.numbers[np.isfinite(column.numbers)]
    return bool(len(known)) and bool((known == np.round(known)).all())
