"""Reading a one-hour trace: 360,000 rows at 100 Hz, 9 channels, beside numpy.loadtxt alone.

.venv/bin/python benchmarks/trace_csv.py
"""

from __future__ import annotations

import io
import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from geduld.errors import TraceError  # noqa: E402
from geduld.rig.reader import rig_from_json  # noqa: E402
from geduld.worlds.packing import pack, unpack  # noqa: E402
from geduld.worlds.trace_csv import trace_from_csv  # noqa: E402

ROWS, CHANNELS = 360_000, 9
RIG = {
    "geduld": "rig/1",
    "name": "wide",
    "parts": {f"eye{k}": {"kind": "range", "port": f"A{k}"} for k in range(CHANNELS)},
}


def file() -> bytes:
    """The CSV, with an empty cell in every hundredth row."""
    noise = np.random.default_rng(3)
    values = np.round(noise.uniform(3, 200, (ROWS, CHANNELS)), 2)
    header = "time [s]," + ",".join(f"eye{k} [cm]" for k in range(CHANNELS))
    rows = [f"{k / 100:.2f}," + ",".join(map(str, row)) for k, row in enumerate(values.tolist())]
    rows[::100] = [row[: row.rindex(",") + 1] for row in rows[::100]]
    return ("\n".join([header, *rows]) + "\n").encode()


def median(call: Callable[[], object]) -> float:
    """The median time of five calls, in seconds."""
    times = []
    for _ in range(5):
        start = time.perf_counter()
        call()
        times.append(time.perf_counter() - start)
    return statistics.median(times)


def refused(data: bytes, rig: object) -> None:
    """Reads a file whose last cell is bad."""
    try:
        trace_from_csv(data, rig)  # type: ignore[arg-type]
    except TraceError:
        return
    sys.exit("the bad cell was not found")


def main() -> None:
    """Prints the times and ratios."""
    data, rig = file(), rig_from_json(RIG)
    plain = data.replace(b",\n", b",nan\n")
    alone = median(lambda: np.loadtxt(io.BytesIO(plain), delimiter=",", skiprows=1))
    ours = median(lambda: trace_from_csv(data, rig))
    trace = trace_from_csv(data, rig)
    bad = median(lambda: refused(data[:-1] + b"x\n", rig))
    packed = pack(trace)
    print(f"file                       {len(data) / 1e6:.1f} MB, {ROWS:,} rows, {CHANNELS} channels")
    print(f"numpy.loadtxt alone        {alone:.2f} s")
    print(f"Geduld, checked            {ours:.2f} s, {ours / alone:.2f} times")
    print(f"bad last cell, pinned      {bad:.2f} s, {bad / alone:.2f} times")
    print(f"packed                     {len(packed) / 2**20:.1f} MiB, written in {median(lambda: pack(trace)):.2f} s, "
          f"read in {median(lambda: unpack(packed)):.2f} s")  # fmt: skip


if __name__ == "__main__":
    main()
