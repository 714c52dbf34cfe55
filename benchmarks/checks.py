"""What judging a check costs, beside the same sentence written by hand in NumPy on the same record.

.venv/bin/python benchmarks/checks.py

Each sentence is judged on the runs of seven programs on twelve rides of 60 s. By hand too there is a verdict, a margin,
windows, and a sentence with the numbers. `first` looks at rides that nobody has looked at before, `next` at those that
another program was judged on before, as in a class.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from benchmarks.grading import exercise, hand_ins  # noqa: E402
from geduld.checks.judge import judge  # noqa: E402
from geduld.checks.verdicts import Verdict  # noqa: E402
from geduld.grading.exercise import good_checks  # noqa: E402
from geduld.readers.notation import runner_for  # noqa: E402
from geduld.run.record.record import Record  # noqa: E402
from geduld.worlds.signal import Signal  # noqa: E402

DUE, SHIFT = 150_000, 150_000
Told = tuple[str, float, list[tuple[int, int]], str]


def at(signal: Signal, ticks: Any) -> Any:
    """The values that hold at some instants."""
    index = signal.times.searchsorted(ticks, "right") - 1
    return np.where(index < 0, np.nan, signal.values[np.maximum(index, 0)])


def union(*signals: Signal) -> Any:
    """All instants at which one of the signals changes."""
    return rising(np.concatenate([signal.times for signal in signals]))


def rising(ticks: Any) -> Any:
    """Each of some instants once, in order; `np.unique` takes many times as long."""
    ticks = np.sort(ticks, kind="stable")
    return ticks[np.concatenate(([True], ticks[1:] != ticks[:-1]))]


def stretches(true: Any) -> tuple[Any, Any]:
    """The places at which a truth begins, and the first ones behind it."""
    edges = np.flatnonzero(np.diff(np.concatenate(([0], true.view(np.int8), [0]))))
    return edges[::2], edges[1::2]


def told(windows: Any, margins: Any, at_: Any, because: str, unit: str = "%") -> Told | None:
    """A verdict's worth of what was found: the first window that failed, else the one with the least margin."""
    if not len(margins):
        return None
    passed = margins >= 0
    number = int(margins.argmin()) if passed.all() else int(passed.argmin())
    verdict = "pass" if passed.all() else "fail"
    because = f"{because}: {margins[number]:.2f} {unit} to spare at {at_[number] / 1e6:.3f} s, {passed.sum()} passed"
    return verdict, float(margins[number]), list(zip(*(item.tolist() for item in windows), strict=True)), because


def worst(ticks: Any, margin: Any, starts: Any, stops: Any, because: str) -> Told | None:
    """The same of stretches in which a margin must not fall below nothing."""
    if not len(starts):
        return None
    bounds = np.column_stack((starts, stops)).ravel()
    margins = np.minimum.reduceat(np.append(margin, 0.0), bounds)[::2]
    number = int(margins.argmin())
    place = starts[number] + int(margin[starts[number] : stops[number]].argmin())
    ends = ticks[np.minimum(stops, len(ticks) - 1)]
    return told((ticks[starts], ends), margins, np.full(len(margins), ticks[place]), because)


def drive(record: Record, ticks: Any) -> Any:
    """The power of both wheels, the smaller one."""
    return np.minimum(at(record.commands["left"], ticks), at(record.commands["right"], ticks))


def of(record: Record, *names: str) -> tuple[Any, ...]:
    """All instants of the wheels and of some signals, and the values of these."""
    found = [record.commands.get(name) or record.readings[name] for name in names]
    ticks = union(record.commands["left"], record.commands["right"], *found)
    return ticks, *(at(signal, ticks) for signal in found)


def never_while(record: Record) -> Told | None:
    """never drive > 0 % while knob < 50 %"""
    ticks, knob = of(record, "knob")
    return worst(ticks, -drive(record, ticks), *stretches(knob < 50), "drove")


def always(record: Record) -> Told | None:
    """always range > 3 cm or range is absent"""
    gap = record.readings["range"]
    margin = np.where(np.isnan(gap.values), np.inf, gap.values - 3)
    return worst(gap.times, margin, np.zeros(1, np.intp), np.full(1, len(margin)), "near")


def while_(record: Record) -> Told | None:
    """while range between 8 cm and 34 cm, drive = 20 % +- 5 %"""
    ticks, gap = of(record, "range")
    return worst(ticks, 5 - np.abs(drive(record, ticks) - 20), *stretches((gap >= 8) & (gap <= 34)), "speed")


def before(record: Record) -> Told | None:
    """before knob > 62 %, never drive > 0 %"""
    ticks, knob = of(record, "knob")
    high = knob > 62
    stop = int(high.argmax()) if high.any() else len(ticks)
    if not stop:
        return None
    return worst(ticks, -drive(record, ticks), np.zeros(1, np.intp), np.full(1, stop), "drove")


def from_to(record: Record) -> Told | None:
    """from knob > 62 % to nose is pressed, drive >= 1 %"""
    ticks, knob, nose = of(record, "knob", "nose")
    found: list[tuple[int, int]] = []
    pressed = np.flatnonzero(nose > 0)
    for start in stretches(knob > 62)[0].tolist():
        if found and start < found[-1][1]:
            continue
        index = int(pressed.searchsorted(start))
        found.append((start, int(pressed[index]) if index < len(pressed) else len(ticks)))
    starts, stops = np.array(found, np.intp).reshape(-1, 2).T
    return worst(ticks, drive(record, ticks) - 1, starts, stops, "stood")


def after(record: Record) -> Told | None:
    """after nose is pressed, within 150 ms, drive = 0 %"""
    ticks, nose = of(record, "nose")
    still = np.flatnonzero(drive(record, ticks) == 0)
    triggers = ticks[stretches(nose > 0)[0]]
    index = still.searchsorted(ticks.searchsorted(triggers))
    came = np.append(ticks[still], np.iinfo(np.int64).max)[index]
    windows = triggers, np.minimum(triggers + DUE, record.lasted)
    return told(windows, (DUE - (came - triggers)) / 1e6, triggers, "drove on", "s")


def lasts(record: Record) -> Told | None:
    """valve > 0 % lasts 1.5 s +- 0.2 s"""
    valve = record.commands["valve"]
    starts, stops = stretches(valve.values > 0)
    begins, ends = valve.times[starts], np.append(valve.times, record.lasted)[stops]
    return told((begins, ends), (200_000 - np.abs(ends - begins - 1_500_000)) / 1e6, begins, "opened", "s")


def happens(record: Record) -> Told | None:
    """nose is pressed happens at most 1 time"""
    nose = record.readings["nose"]
    starts = nose.times[stretches(nose.values > 0)[0]]
    return told(
        (np.zeros(1, int), np.array([record.lasted])),
        np.array([1.0 - len(starts)]),
        [record.lasted],
        f"pressed at {starts}",
        "",
    )


def first(record: Record) -> Told | None:
    """first ever range < 40 cm, then nose is pressed, then valve > 0 %"""
    gap, nose, valve = record.readings["range"], record.readings["nose"], record.commands["valve"]
    truths = (gap.times, gap.values < 40), (nose.times, nose.values > 0), (valve.times, valve.values > 0)
    found = [int(times[true.argmax()]) if true.any() else None for times, true in truths]
    known = [tick for tick in found if tick is not None]
    if len(known) < len(found):
        return "fail", -np.inf, [(0, record.lasted)], "one of them never came"
    gaps = np.diff(known) / 1e6
    order = ", then ".join(f"{tick / 1e6:.3f} s" for tick in known)
    return told((np.array(known[:1]), np.array(known[-1:])), gaps[[gaps.argmin()]], known[1:], order, "s")


def at_time(record: Record) -> Told | None:
    """at 20 s, range < 100 cm"""
    tick = np.array([20_000_000])
    value = at(record.readings["range"], tick)
    return told((tick, tick), np.where(np.isnan(value), -np.inf, 100 - value), tick, f"range was {value[0]:.2f} cm")


def at_the_end(record: Record) -> Told | None:
    """at the end, drive = 0 %"""
    tick = np.array([record.lasted])
    value = drive(record, tick)
    return told((tick, tick), -np.abs(value), tick, f"drive was {value[0]:.2f} %")


def matches(record: Record) -> Told | None:
    """left matches reference.left within 5 %, shifted by at most 150 ms"""
    left = record.commands["left"]  # the reference is the run itself
    found = []
    for ours, theirs in ((left, left), (left, left)):
        ticks = rising(np.concatenate(([0, record.lasted], ours.times, theirs.times - SHIFT, theirs.times + SHIFT)))
        ticks = ticks[(ticks >= 0) & (ticks <= record.lasted)]
        begins = theirs.times.searchsorted(np.maximum(ticks - SHIFT, 0), "right") - 1
        stops = theirs.times.searchsorted(np.minimum(ticks + SHIFT, record.lasted), "right")
        pairs = zip(at(ours, ticks).tolist(), begins.tolist(), stops.tolist(), strict=True)
        gaps = np.array([np.abs(theirs.values[begin:stop] - value).min() for value, begin, stop in pairs])
        found.append((5 - gaps.max(), ticks[gaps.argmax()]))
    margin, tick = min(found)
    return told((np.zeros(1, int), np.array([record.lasted])), np.array([margin]), [tick], "apart")


BY_HAND = (
    never_while, always, while_, before, from_to, after, lasts, happens, first, at_time, at_the_end, matches,
)  # fmt: skip


def runs(count: int) -> list[list[Record]]:
    """For each of seven programs its runs on rides that no check has looked at."""
    task = exercise(count, 60)
    texts = [item.data.decode() for item in hand_ins(7)]
    found = [[case.world.run(runner_for(text, task.rig, task.library))[0] for case in task.cases] for text in texts]
    for record in (record for records in found for record in records):
        assert record.readings is not None and record.commands["left"] is not None and not record.trust
        assert record.commands["right"] is not None and record.commands["valve"] is not None
    return found


def seconds(work: Callable[[Record], Any], records: list[Record]) -> float:
    """The time for one record, in seconds."""
    start = time.perf_counter()
    for record in records:
        work(record)
    return (time.perf_counter() - start) / len(records)


def same(verdict: Verdict, by_hand: Told | None, sentence: str) -> None:
    """Raises AssertionError when the two do not say the same."""
    if by_hand is None:
        assert verdict.verdict == "not exercised", sentence
    elif verdict.verdict not in ("not certain", "part"):
        word, margin, windows, _ = by_hand
        ours = [(window.start, window.stop) for window in verdict.windows]
        assert verdict.verdict == word and (verdict.margin is None or abs(verdict.margin - margin) < 1e-9), sentence
        assert ours == windows or verdict.margin is None, sentence


def main() -> None:
    """Prints the table."""
    rig = exercise(1, 1).rig
    print(f"{'':<66}by hand   first            next")
    for work in BY_HAND:
        sentence = work.__doc__ or ""
        check = good_checks(f'check "a", 1 point:\n    {sentence}\n', rig).checks[0]

        def judged(record: Record, check: Any = check) -> Any:
            return judge(check, record, record)

        for record in (record for records in runs(2) for record in records):
            same(judged(record), work(record), sentence)
        hand, new, known = [], [], []
        for _ in range(5):
            unseen, *others = runs(12)
            new.append(seconds(judged, unseen))
            known += [seconds(judged, records) for records in others]
            hand += [seconds(work, records) for records in (unseen, *others)]
        base, once, again = min(hand), min(new), min(known)
        print(f"{sentence:<66}{base * 1e6:4.0f} us   {once * 1e6:4.0f} us {once / base:4.2f} x   "
              f"{again * 1e6:4.0f} us {again / base:4.2f} x")  # fmt: skip


if __name__ == "__main__":
    main()
