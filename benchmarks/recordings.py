"""How long a foreign recording takes to be understood and read, and a window of a long trace to be drawn.

Run from the project's folder: .venv/bin/python -m benchmarks.recordings

Importing is measured against `numpy.loadtxt` on the same numbers with points and commas, which does nothing but read
them; a window of a long trace against one pass of NumPy over the samples in it (its least and greatest value).
"""

from __future__ import annotations

import io
import json
import os
import time
from collections.abc import Callable
from typing import Any

import numpy as np

from geduld.recordings.understanding import understood
from geduld.rig.reader import read_rig
from geduld.worlds.trace import Trace
from tests.glasshouse import DEMO

ROWS = 200_000
SAMPLES = 1_000_000


def best(work: Callable[[], Any], times: int = 5) -> float:
    """The shortest of several times, in seconds."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return min(found)


def files() -> dict[str, bytes]:
    """The same readings as several tools write them, and as plain numbers."""
    chance = np.random.default_rng(7)
    ranges, knobs = chance.uniform(3, 190, ROWS).round(1), chance.integers(0, 1024, ROWS)
    light, nose = chance.integers(200, 600, ROWS), chance.integers(0, 2, ROWS)
    rows = list(
        zip(
            (20 * np.arange(ROWS)).tolist(), ranges.tolist(), knobs.tolist(), light.tolist(), nose.tolist(), strict=True
        )
    )
    plain = "".join(f"{t},{r},{k},{b},{n}\n" for t, r, k, b, n in rows)
    german = "Zeit (ms);Abstand (cm);knob_adc;light;nose\r\n" + plain.replace(",", ";").replace(".", ",")
    holes = "".join(
        f"{t};{'' if n and k % 9 == 0 else str(r).replace('.', ',')};{k};{b};{n}\n" for t, r, k, b, n in rows
    )
    return {
        "plain": plain.encode(),
        "semicolons, decimal commas": german.encode("latin-1"),
        "the same with empty cells": ("Zeit (ms);Abstand (cm);knob_adc;light;nose\n" + holes).encode(),
        "names and values": "".join(
            f"t={t} range={r}cm knob_adc={k} light={b} nose={n}\n" for t, r, k, b, n in rows
        ).encode(),
        "JSON lines": "".join(
            json.dumps({"t_ms": t, "range": r, "knob_adc": k, "light": b, "nose": n}) + "\n" for t, r, k, b, n in rows
        ).encode(),
    }


def importing() -> None:
    """Prints the times of importing."""
    rig = read_rig(DEMO / "rigs" / "glasshouse-cart.json")
    made = files()
    plain = made.pop("plain")
    least = best(lambda: np.loadtxt(io.BytesIO(plain), delimiter=","))
    print(f"{ROWS:,} rows of 5 cells; numpy.loadtxt {least * 1000:.0f} ms")
    for name, data in made.items():
        found = understood(data, rig)
        assert found.trace is not None and found.trace.samples == ROWS, (name, found.problem)
        took = best(lambda data=data: understood(data, rig), 3)
        print(f"  {name:<28} {len(data) / 1e6:5.1f} MB {took * 1000:6.0f} ms  {took / least:4.1f} times loadtxt")


def drawing() -> None:
    """Prints the times of windows of a long trace."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.config.settings")
    import django

    django.setup()
    from server.shelf.lanes import lanes

    rig = read_rig(DEMO / "rigs" / "glasshouse-cart.json")
    chance = np.random.default_rng(8)
    channels = {name: chance.normal(50, 5, SAMPLES).cumsum() % 100 for name in ("range", "knob", "soil")}
    trace = Trace(np.arange(SAMPLES) * 1000, channels)
    print(f"windows of {SAMPLES:,} samples in 3 channels, 2,700 columns")
    for share in (1.0, 0.3, 0.03, 0.003):
        start, stop = round(0.4 * trace.duration_us * (1 - share)), 0
        stop = start + round(share * trace.duration_us)
        first, last = start // 1000, stop // 1000
        pass_ = best(lambda a=first, b=last: [(v[a:b].min(), v[a:b].max()) for v in channels.values()])
        took = best(lambda a=start, b=stop: lanes(trace, rig, a, b, 2700))
        print(f"  {share * 100:5.1f} % of it {took * 1000:7.1f} ms  {took / pass_:6.1f} times one pass")


if __name__ == "__main__":
    importing()
    drawing()
