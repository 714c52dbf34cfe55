"""Where the step of a line stands among the others."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.binding import terms

Block = tuple[terms.Step, ...]
Path = tuple[tuple[terms.Step | None, Block, int], ...]


@dataclass(frozen=True)
class Place:
    """A step with what it stands in: the blocks from the outermost in, each with the step that it belongs to.

    `path` holds (the owner, its block, the index in that block); the owner of the outermost block is None.
    """

    step: terms.Step
    path: Path


def places_of(line: int, block: Block, owner: terms.Step | None = None, path: Path = ()) -> list[Place]:
    """The steps of a line, in the order of the text: a routine that is performed twice stands there twice.

    `owner` and `path` say where the block itself stands.
    """
    found = []
    for index, step in enumerate(block):
        here = (*path, (owner, block, index))
        if step.line == line:
            found.append(Place(step, here))
        for inner in terms.bodies(step):
            found += places_of(line, inner, step, here)
    return found


def guard_of(place: Place, inside: Place) -> terms.Guarded | None:
    """The `do` whose handler a place stands in and whose body another one stood in; None where there is none."""
    bodies = {id(block) for _, block, _ in inside.path}
    for owner, block, _ in place.path:
        if isinstance(owner, terms.Guarded) and block is owner.handler and id(owner.body) in bodies:
            return owner
    return None


def condition_of(step: terms.Step) -> terms.Term | None:
    """What a step waits for, where that is a condition."""
    ending = step.ending if isinstance(step, terms.Command | terms.Wait | terms.Follow) else None
    if isinstance(ending, terms.Until):
        return ending.condition
    return step.value if isinstance(step, terms.Repeat) and step.form in ("while", "until") else None
