"""The usual mistakes of beginners, planted in a program one at a time."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from decimal import Decimal

from geduld.grading.surgery import Path, line_of, nodes, put, spliced
from geduld.language import tree
from geduld.language.formatter import expression_text, format_plan
from geduld.language.nodes import changed
from geduld.rig.model import Rig

Planting = Iterator[tuple[Path, str, tree.Plan | None]]
Pair = tuple[str, str]  # the names of the drive's two motors; empty where the rig has no drive


@dataclass(frozen=True)
class Mistake:
    """A program with one mistake: its kind, the line of the original where it is, what was done, and the text."""

    kind: str
    line: int
    what: str
    text: str


@dataclass(frozen=True)
class LeftOut:
    """A mistake that was not tried, and why not."""

    kind: str
    line: int
    what: str
    why: str


EMPTY = "its block would be empty, which is an error and no behaviour"


def plant(plan: tree.Plan, rig: Rig) -> tuple[list[Mistake], list[LeftOut]]:
    """Every usual mistake at every place of a program where it can be made, and those that cannot be made."""
    pair = (rig.drive.left, rig.drive.right) if rig.drive else ("", "")
    found, left_out = [], []
    for kind, planting in KINDS.items():
        for path, what, wrong in planting(plan, pair):
            line = line_of(plan, path)
            if wrong is None:
                left_out.append(LeftOut(kind, line, what, EMPTY))
            else:
                found.append(Mistake(kind, line, what, format_plan(wrong)))
    return found, left_out


def _scaled(number: tree.Number, factor: str) -> tree.Number:
    value = Decimal(number.text) * Decimal(factor)
    return changed(number, text=f"{value.normalize():f}")


def _said(before: tree.Expression, after: tree.Expression) -> str:
    return f"{expression_text(before)} became {expression_text(after)}"


def _compared_numbers(plan: tree.Plan) -> Iterator[tuple[Path, tree.Number]]:
    """The numbers that a condition compares with, and those that a let names."""
    for path, node in nodes(plan):
        if isinstance(node, tree.Binary) and node.sign in ("<", "<=", ">", ">="):
            yield from (
                ((*path, side), value)
                for side in ("left", "right")
                if isinstance(value := getattr(node, side), tree.Number)
            )
        elif isinstance(node, tree.Between):
            yield from (
                ((*path, side), n) for side in ("low", "high") if isinstance(n := getattr(node, side), tree.Number)
            )
        elif isinstance(node, tree.Let) and isinstance(node.value, tree.Number):
            yield (*path, "value"), node.value


def _threshold_moved(plan: tree.Plan, pair: Pair) -> Planting:
    for path, number in _compared_numbers(plan):
        for factor in ("0.7", "1.4"):
            moved = _scaled(number, factor)
            yield path, _said(number, moved), put(plan, path, moved)


_FLIPPED = {"<": ">", ">": "<", "<=": ">=", ">=": "<=", "=": "!=", "!=": "="}


def _comparison_flipped(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Binary) and node.sign in _FLIPPED:
            other: tree.Expression = changed(node, sign=_FLIPPED[node.sign])
        elif isinstance(node, tree.Is) and node.state in ("pressed", "released"):
            other = changed(node, state="released" if node.state == "pressed" else "pressed")
        else:
            continue
        yield path, _said(node, other), put(plan, path, other)


def _sides_swapped(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Action) and node.target == "drive" and len(node.values) == 2:
            yield path, f"{' and '.join(pair)} changed places", put(plan, path, changed(node, values=node.values[::-1]))
        elif isinstance(node, tree.Action) and node.turn:
            other = "right" if node.turn == "left" else "left"
            yield path, f"it turns {other} in place of {node.turn}", put(plan, path, changed(node, turn=other))
        elif isinstance(node, tree.Action) and node.target in pair:
            other = pair[1] if node.target == pair[0] else pair[0]
            yield path, f"{other} in place of {node.target}", put(plan, path, changed(node, target=other))


def _one_side_missing(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Action) and node.target == "drive":
            for side, value in zip(pair, (node.values[0], node.values[-1]), strict=True):
                alone = changed(node, target=side, values=(value,))
                yield path, f"only {side} is driven", put(plan, path, alone)


def _stop_missing(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Stop):
            yield path, "the stop was left out", spliced(plan, path, ())
        elif isinstance(node, tree.Action) and isinstance(node.ending, tree.Until) and not node.keep_going:
            yield path, "it keeps going behind the condition", put(plan, path, changed(node, keep_going=True))


def _times(plan: tree.Plan) -> Iterator[tuple[Path, tree.Number]]:
    for path, node in nodes(plan):
        if isinstance(node, tree.For) and isinstance(node.quantity, tree.Number):
            yield (*path, "quantity"), node.quantity
        elif isinstance(node, tree.Ramp) and isinstance(node.over, tree.Number):
            yield (*path, "over"), node.over


def _time_scaled(plan: tree.Plan, pair: Pair) -> Planting:
    for path, number in _times(plan):
        for factor in ("0.5", "2"):
            other = _scaled(number, factor)
            yield path, _said(number, other), put(plan, path, other)


_SLIPS = {"cm": "mm", "mm": "cm", "m": "cm", "s": "ms", "ms": "s", "inch": "cm", "deg": "rev", "rev": "deg"}


def _unit_slipped(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Number) and node.unit in _SLIPS and path[-3:-2] != ("bands",):
            other = changed(node, unit=_SLIPS[node.unit])
            yield path, _said(node, other), put(plan, path, other)
    for path, by, edge in _edges(plan):
        if edge.unit in _SLIPS:
            other = changed(edge, unit=_SLIPS[edge.unit])
            yield path, _said(edge, other), put(plan, path, _with_edge(by, edge, other))


def _debounce_removed(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Until) and node.held is not None:
            yield path, f"held {expression_text(node.held)} was left out", put(plan, path, changed(node, held=None))


def _patience_missing(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Until) and node.patience is not None:
            without = changed(node, patience=None, otherwise=None, otherwise_comments=((), ""))
            yield path, f"patience {expression_text(node.patience)} was left out", put(plan, path, without)


def _edges(plan: tree.Plan) -> Iterator[tuple[Path, tree.By, tree.Number]]:
    """The numbers at which bands meet."""
    for path, node in nodes(plan):
        if isinstance(node, tree.By):
            edges = {band.low for band in node.bands if isinstance(band.low, tree.Number)}
            for edge in sorted(edges, key=lambda number: Decimal(number.text)):
                yield path, node, edge


def _with_edge(by: tree.By, edge: tree.Number, other: tree.Number) -> tree.By:
    """An edge is changed in both bands that share it, as it is one value."""
    bands = (
        changed(band, low=other if band.low == edge else band.low, high=other if band.high == edge else band.high)
        for band in by.bands
    )
    return changed(by, bands=tuple(bands))


def _band_edge_moved(plan: tree.Plan, pair: Pair) -> Planting:
    for path, by, edge in _edges(plan):
        moved = _scaled(edge, "1.4")
        yield path, _said(edge, moved), put(plan, path, _with_edge(by, edge, moved))
    for path, node in nodes(plan):
        if isinstance(node, tree.By) and node.slack is not None:
            yield path, "the slack was left out", put(plan, path, changed(node, slack=None))


def _order_changed(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Block):
            for index in range(len(node.steps) - 1):
                steps = list(node.steps)
                steps[index], steps[index + 1] = steps[index + 1], steps[index]
                place = (*path, "steps")
                yield (*place, index), "two steps changed places", put(plan, place, tuple(steps))


def _loop_missing(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Repeat):
            yield path, "its steps run once", spliced(plan, path, node.body.steps)
            if node.form:
                yield path, "it repeats without end", put(plan, path, changed(node, form="", value=None))


def _step_missing(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Action | tree.Wait | tree.Perform | tree.Ramp | tree.Set | tree.Reset | tree.Finish):
            yield path, "the step was left out", spliced(plan, path, ())


def _power_changed(plan: tree.Plan, pair: Pair) -> Planting:
    for path, node in nodes(plan):
        if isinstance(node, tree.Action):
            for index, value in enumerate(node.values):
                if isinstance(value, tree.Number):
                    weaker = _scaled(value, "0.6")
                    yield path, _said(value, weaker), put(plan, (*path, "values", index), weaker)


KINDS: dict[str, Callable[[tree.Plan, Pair], Planting]] = {
    "threshold moved": _threshold_moved,
    "comparison flipped": _comparison_flipped,
    "sides swapped": _sides_swapped,
    "one side missing": _one_side_missing,
    "stop missing": _stop_missing,
    "time scaled": _time_scaled,
    "unit slipped": _unit_slipped,
    "debounce removed": _debounce_removed,
    "band edge moved": _band_edge_moved,
    "order changed": _order_changed,
    "loop missing": _loop_missing,
    "patience missing": _patience_missing,
    "step missing": _step_missing,
    "power changed": _power_changed,
}
