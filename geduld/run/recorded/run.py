"""A run on a trace by time."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping
from typing import Any

from geduld.rig.model import Rig
from geduld.run.program.compiler import Compiled, Lane
from geduld.run.program.requests import AWAIT, OVER, POLL, Request
from geduld.run.program.run import Run
from geduld.run.record.record import Readings
from geduld.run.record.trust import trust_horizons
from geduld.run.recorded.lanes import Lanes
from geduld.run.recorded.polling import Polling
from geduld.run.recorded.waits import Waits
from geduld.worlds.signal import Signal
from geduld.worlds.trace import Trace

MOST_SHOWN = 4  # lengths of runs whose readings a trace keeps


class TraceRun(Run):
    """A run on a trace by time."""

    def __init__(
        self, compiled: Compiled, rig: Rig, trace: Trace, limit_us: int | None, text: str, stop_us: int | None = None
    ) -> None:
        lasts = trace.duration_us if limit_us is None else min(limit_us, trace.duration_us)
        super().__init__(compiled, rig, lasts, text, stop_us)
        self.recording = trace
        self.trace = trace.from_the_start
        self.limit = limit_us if limit_us is not None and limit_us < trace.duration_us else None
        self.waits = Waits(compiled, self.rig, self.trace, self.end, self.journal)

    def _lane(self) -> Lane:
        ahead = self.trace.ticks_view if self.compiled.looks_ahead else None
        return self._begin(self.waits.set_known, self.trace.values_view, self.waits.encoder, ahead)

    def _execute(self, lane: Lane) -> int | None:
        if self.compiled.has_lanes:
            Lanes(self.waits, self.trace, self.end, self.values, self.at_once, self.lane_budget, self.calls).run(lane)
            return None
        return self._alone(lane)

    def _go_on(self) -> None:
        """A recording is all there already."""

    def _texts(self) -> Mapping[float, str]:
        return self.trace.texts

    def _alone(self, lane: Lane) -> int | None:
        """Runs a program without side by side, one wait after another: when it ends; None when the world ends first."""
        waits, end, times, send = self.waits, self.end, self.trace.times_view, lane.send
        try:
            request, stop, place = next(lane), 0, 0
            while True:
                op, now = request[0], request[1]
                if len(request) == 2 and op.kind <= AWAIT:
                    if now != stop:
                        place = bisect_right(times, now) - 1
                    stop, place, came = waits.plain(op, now, place)
                else:
                    if op.kind == OVER:
                        return None
                    stop, came = (
                        self._poll(Request(*request)) if op.kind == POLL else self._whole(Request(*request), now)
                    )
                    place = bisect_right(times, stop) - 1
                if stop > end and came >= 0:
                    return None
                if stop == now and came == 1:
                    self.at_once.setdefault(op.line, now)
                request = send((stop, place, came))
        except StopIteration as done:
            ended: int = done.value
            return ended

    def _whole(self, request: Request, now: int) -> tuple[int, int]:
        """Makes a step that takes time, past the end of the world at most: when it ends, and why."""
        waits = self.waits
        request = waits.begin(request)
        stop, came = waits.ends(request, now)
        if stop > self.end:
            waits.write_down(request, stop, "begin", ())
        else:
            waits.finish(request, stop, came)
        return stop, came

    def _poll(self, request: Request) -> tuple[int, int]:
        """Goes round a loop without state: when it is left, and how many steps it took; -1 past the budget."""
        op, now, kept, (cost, budget) = request.op, request.now, request.kept, request.amount
        loop, affordable = self.rig.loop_us, budget // cost
        possible = (self.end - now) // loop + 1
        polling = Polling(self.compiled.polls[op.index], self.trace, self.journal, dict(kept), loop)
        done, left = polling.run(now, min(possible, affordable))
        stop = now + done * loop
        self.journal.looped(op.line, now, stop)
        return stop, done * cost if left or possible <= affordable else -1

    def readings(self) -> Readings:
        """What the program could see: the trace's sensors, up to the end of the run."""
        parts, trace = self.rig.channels, self.trace
        sensors = tuple(name for name in trace.channels if name in parts and not parts[name].is_output)
        found: Readings | None = trace.shown.get((self.lasts, sensors))
        if found is None:
            last = int(trace.times.searchsorted(self.lasts, "right"))
            times = trace.times[:last]
            found = Readings({name: Signal(times, trace.channels[name][:last]) for name in sensors})
            if len(trace.shown) >= MOST_SHOWN:
                trace.shown.clear()
            trace.shown[self.lasts, sensors] = found
        return found

    def trust(self, commands: Mapping[str, Signal]) -> Mapping[str, int]:
        """For each channel that parts from the recording, the tick past which it is not to be trusted."""
        return trust_horizons(self.rig, self.recording, commands, self.lasts)

    def made_from(self) -> Mapping[str, Any]:
        """Hashes of what the run was made from."""
        limit = None if self.limit is None else self.limit / 1_000_000
        return {**super().made_from(), "trace": self.recording.fingerprint, "limit": limit}
