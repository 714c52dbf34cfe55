"""A program with notes in front of steps, so that its run tells which of them it came to.

A note takes no time and changes nothing: the run with notes is the run without.
"""

from __future__ import annotations

from dataclasses import replace

from geduld.binding import terms
from geduld.run.record.record import Record
from geduld.why.places import Block, Place

_MARK = "\x00came to"  # no text of a program can hold it


def probed(place: Place) -> Block:
    """The program's steps, with a note before each step on the way to a place, in each block that it stands in."""
    return _block(place, 0)


def came_to(record: Record) -> dict[tuple[int, int], int]:
    """When a run with notes first came to which step: by the block's depth on the way and the step's index in it."""
    found: dict[tuple[int, int], int] = {}
    for event in record.events:
        if event.kind == "note" and event.text.startswith(_MARK):
            depth, index = (int(word) for word in event.text.removeprefix(_MARK).split())
            found.setdefault((depth, index), event.tick)
    return found


def _block(place: Place, depth: int) -> Block:
    _, block, last = place.path[depth]
    steps: list[terms.Step] = []
    for index, step in enumerate(block):
        if index <= last:
            steps.append(terms.Note(step.line, f"{_MARK}{depth} {index}"))
        inner = index == last and depth + 1 < len(place.path)
        steps.append(_with(step, place.path[depth + 1][1], _block(place, depth + 1)) if inner else step)
    return tuple(steps)


def _with(step: terms.Step, old: Block, new: Block) -> terms.Step:
    """A step with another block in the place of one of its own."""

    def put(block: Block) -> Block:
        return new if block is old else block

    match step:
        case terms.Command() | terms.Wait() | terms.Follow():
            assert isinstance(step.ending, terms.Until)
            return replace(step, ending=replace(step.ending, otherwise=put(step.ending.otherwise)))
        case terms.Repeat():
            return replace(step, body=put(step.body))
        case terms.Guarded():
            return replace(step, body=put(step.body), handler=put(step.handler))
        case terms.Side():
            return replace(step, lanes=tuple((name, put(body)) for name, body in step.lanes))
        case terms.Branches():
            return replace(step, arms=tuple((condition, put(body)) for condition, body in step.arms))
        case terms.Bands():
            return replace(step, bodies=tuple(put(body) for body in step.bodies), absent=put(step.absent))
    raise TypeError(f"no blocks in {step!r}")
