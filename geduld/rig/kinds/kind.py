"""What a kind of part is: everything that the rest of Geduld asks about it."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.language.quantities import TRUTH, Dimension

PLACED = ("ahead", "left", "facing", "period", "noise", "resolution", "note")  # physics of a sensor that sits somewhere
MEASURED = ("noise", "period", "resolution", "note")  # physics of a sensor that sits anywhere


@dataclass(frozen=True)
class Kind:
    """A kind of part.

    `role` is `output` or `sensor`. `dimensions` are those its value may have, the first by default; `unit` is the
    default unit. `low` and `high` bound an output, `low` is a sensor's least reading, in base units. `follows` is what
    a sensor's reading follows: `hand`, `place` or `motors`.

    An output: `rest` is what it does before any command, None where nobody knows. `stops` when it can be stopped,
    `switches` when it can be on and off, `reversible` when its direction can be turned round, `counted` when an encoder
    can count its turns. `spins` when it turns for as long as it is commanded, keeps speeds, brakes and coasts;
    `positions` when it goes to an angle and stays there, and `steps` when it does so in whole steps.
    `rolling` is what it is as a wheel of the drive, where that is something else.

    A sensor: `axes` are the directions it can be read along, `has_keys` when it has keys to be read, each by its name;
    `whole` when it can be read as a whole too. `full_turn` is where its values begin again, 0 where they
    do not. On a floor, `measures` is what the simulation measures for it (a word of `worlds.floor.packing`), empty for
    what nothing there moves; `untouched` what it says then until a hand does, None where it is absent; `all_round` when
    it looks everywhere unless it is said to face somewhere. `misses` when it has no reading at times by its nature.

    `physics` are the keys of its `physics` in a rig, None where it has none. `called` is what recordings call such a
    part, beside its own word.
    """

    word: str
    role: str
    dimensions: tuple[Dimension, ...]
    unit: str
    low: float = 0.0
    high: float = 100.0
    follows: str = "hand"
    rest: float | None = 0.0
    stops: bool = False
    switches: bool = False
    reversible: bool = False
    counted: bool = False
    spins: bool = False
    positions: bool = False
    steps: bool = False
    rolling: Kind | None = None
    axes: tuple[str, ...] = ()
    has_keys: bool = False
    whole: bool = True
    full_turn: float = 0.0
    measures: str = ""
    untouched: float | None = None
    all_round: bool = False
    misses: bool = False
    physics: tuple[str, ...] | None = None
    called: tuple[str, ...] = ()

    @property
    def has_lag(self) -> bool:
        """Whether its physics say how it comes up to speed."""
        return self.physics is not None and "lag" in self.physics

    @property
    def is_contact(self) -> bool:
        """Whether its reading is a yes or no."""
        return self.dimensions == (TRUTH,)
