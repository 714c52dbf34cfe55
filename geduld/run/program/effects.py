"""What steps do to the outputs when they start and when they end, in whatever world."""

from __future__ import annotations

from geduld.run.program.requests import CALLED, PASS, RAMP, Op, Request
from geduld.run.record.journal import Journal


class Effects:
    """The beginnings and ends of steps, written into the journal."""

    def __init__(self, journal: Journal) -> None:
        self.journal = journal

    def set_known(self, op: Op, now: int) -> None:
        """Sets outputs to what is known beforehand."""
        for part, code in op.controls:
            self.journal.control(part, code, now)
        if op.fixed:
            self.journal.put_fixed(op.fixed, now, op.line)

    def begin(self, request: Request) -> Request:
        """Sets the outputs that a step sets when it starts; the request, knowing where a ramp goes on from."""
        op, now = request.op, request.now
        self.set_known(op, now)
        if op.onwards:
            level = float(self.journal.levels[op.sets[0]][-1])
            request = request._replace(values=tuple(level + way for way in request.values))
        if op.sets:
            values = request.values[:1] * len(op.sets) if op.kind == RAMP else request.values
            for part, value in zip(op.sets, values, strict=True):
                self.journal.put(part, value, now, op.line)
        return request

    def finish(self, request: Request, stop: int, came: int, lane: str = "begin", order: tuple[int, ...] = ()) -> None:
        """Writes a wait down up to `stop`, and stops what it stops."""
        op, journal = request.op, self.journal
        self.write_down(request, stop, lane, order)
        if came > 1:
            self.rest(op.abandons, op, stop)
            return
        if op.kind == RAMP:
            for part, code in op.controls:
                journal.control(part, code, stop)
            for part in op.sets:
                journal.put(part, request.values[1], stop, op.line)
        if op.stops:
            self.rest(op.stops, op, stop)
        if not came:
            journal.event(stop, "patience", op.line, -1)

    def rest(self, stops: tuple[tuple[str, float], ...], op: Op, now: int) -> None:
        """Stops outputs in their stop style."""
        for part, code in op.rests:
            self.journal.control(part, code, now)
        self.journal.put_fixed(stops, now, op.line)

    def write_down(self, request: Request, stop: int, lane: str, order: tuple[int, ...]) -> None:
        """Notes a wait up to `stop`."""
        op, start = request.op, request.now
        if op.kind in (PASS, CALLED):
            self.journal.looped(op.line, start, stop, lane, order)
        elif stop > start:
            self.journal.waited(op.line, start, stop, lane, order)
