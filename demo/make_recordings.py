"""Makes recordings as other tools write them, to be imported. Seeded, so the files come out the same each time.

Run from the project's folder: .venv/bin/python demo/make_recordings.py

One is what a spreadsheet made of a logger's file; the other is what a board printed on its cable.
"""

from __future__ import annotations

import math
import random
from pathlib import Path

HERE = Path(__file__).parent / "recordings"


def spreadsheet() -> bytes:
    """An approach to the barrel: semicolons, decimal commas, milliseconds, Latin-1, lost echoes as -1, two odd rows."""
    chance = random.Random(31)
    rows = ["Aufnahme im Glashaus, Gang 2;;;;", "Zeit (ms);Abstand (mm);Stoßtaster;knob_adc;Helligkeit"]
    for count in range(900):
        time = 20 * count + chance.choice((0, 0, 0, 1))
        gap = max(42.0, 1780 - 2.2 * max(0, count - 90))
        range_ = "-1" if chance.random() < 0.03 else f"{gap + chance.gauss(0, 3):.1f}".replace(".", ",")
        knob = round(248 + 505 * min(1.0, max(0.0, (count - 60) / 25)) + chance.gauss(0, 5))
        light = round(418 + 32 * math.sin(count / 70) + chance.gauss(0, 3))
        rows.append(f"{time};{range_};{int(count > 882)};{knob};{light}")
    rows.insert(402, "Batterie schwach")
    rows.insert(611, "12180;1")
    return ("\r\n".join(rows) + "\r\n").encode("latin-1")


def serial_log() -> bytes:
    """Drying soil, as a board printed it: names and values, its clock in microseconds begins again on the way."""
    chance = random.Random(32)
    rows = ["# greenhouse logger, firmware 7", "sensors found: 3"]
    for count in range(600):
        micros = (4_288_967_296 + 50_000 * count) % 2**32
        soil = 61 - 22 * count / 600 + chance.gauss(0, 0.4)
        echo = "none" if chance.random() < 0.05 else f"{34 + 3 * math.sin(count / 20) + chance.gauss(0, 0.3):.1f}cm"
        rows.append(f"us={micros} soil={soil:.1f}% front={echo} tilt={chance.gauss(1.2, 0.2):.2f}")
    return ("\n".join(rows) + "\n").encode()


FILES = {"gang-2-vormittags.csv": spreadsheet, "soil-over-noon.log": serial_log}

if __name__ == "__main__":
    HERE.mkdir(exist_ok=True)
    for name, made in FILES.items():
        (HERE / name).write_bytes(made())
