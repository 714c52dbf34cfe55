"""Makes the programs of an invented class out of the usual mistakes: `.venv/bin/python -m demo.make_class`."""

from __future__ import annotations

import random
from datetime import datetime, timedelta, timezone
from pathlib import Path

from geduld.grading.mistakes import Mistake, plant
from geduld.grading.rewrites import rewrite
from geduld.language.parser import parse
from geduld.rig.reader import read_rig

HERE = Path(__file__).resolve().parent
CLASS = HERE / "class"
RECEIVED = HERE / "class-received.csv"
DUE = datetime(2026, 11, 20, 16, 0, tzinfo=timezone(timedelta(hours=1)))
SEED = 28
NAMES = (
    "amara-fjeld", "bastian-oyelaran", "cleo-varga", "dmitri-solheim", "elif-marchetti", "fabio-lindgren",
    "gwen-abara", "hugo-petrov", "iris-tanaka-bloom", "jonas-adeyemi", "kaia-romero", "leif-osterhaus",
    "mina-calloway", "nils-okafor", "oda-beaumont", "pavel-ruiz", "quinn-haugen", "rosa-eklund", "samir-voss",
    "tilda-mensah", "ulla-keating", "viktor-amsel", "wanda-lopes", "xenia-holt", "yara-nordin", "zeno-fabre",
    "alma-winter", "boris-quist",
)  # fmt: skip
FAVOURITES = (
    "stop missing", "debounce removed", "power changed", "threshold moved", "time scaled", "one side missing",
    "sides swapped", "order changed", "step missing", "unit slipped", "comparison flipped",
)  # fmt: skip


def programs() -> dict[str, str]:
    """The text of each student's program: a third is right in other words, most have one mistake, some two."""
    chance = random.Random(SEED)
    reference = (HERE / "dock-at-the-barrel-mended" / "reference.geduld").read_text()
    right = [reference, *(item.text for item in rewrite(parse(reference).tree))]
    found = {}
    for number, name in enumerate(NAMES):
        text = chance.choice(right)
        mistakes = 0 if number % 3 == 0 else 2 if number % 7 == 5 else 1
        for _ in range(mistakes):
            text = _mistaken(text, chance).text
        if number == 16:
            text = text.replace("drive at", "drvie at", 1)
        found[name] = text
    return found


def _mistaken(text: str, chance: random.Random) -> Mistake:
    kind = chance.choice(FAVOURITES)
    planted, _ = plant(parse(text).tree, read_rig(HERE / "rigs" / "glasshouse-cart.json"))
    return chance.choice([item for item in planted if item.kind == kind] or planted)


def received() -> str:
    """When each hand-in came, as CSV: most on the last two days, every ninth one a day or two late."""
    chance = random.Random(SEED)
    lines = ["hand_in,received"]
    for number, name in enumerate(sorted(NAMES)):
        minutes = chance.randrange(10, 1600) if number % 9 == 4 else -chance.randrange(20, 2900)
        lines.append(f"{name},{(DUE + timedelta(minutes=minutes)).isoformat()}")
    return "\n".join(lines) + "\n"


def main() -> None:
    """Writes one file a student, and when each came."""
    RECEIVED.write_text(received())
    CLASS.mkdir(exist_ok=True)
    for name, text in programs().items():
        (CLASS / f"{name}.geduld").write_text(text)


if __name__ == "__main__":
    main()
