"""What comes from robots, kept in memory for as long as the server runs: a feed for each rig."""

from __future__ import annotations

import threading
import time
from dataclasses import dataclass, field

from geduld.live.feed import Feed
from server.shelf.models import Rig
from server.shelf.services import core_rig

MOST_FEEDS = 60
LOST_AFTER_S = 2.0


@dataclass
class Kept:
    """A rig's feed, with when something came last and how many lines of this sender were taken."""

    feed: Feed
    source: str
    lock: threading.Lock = field(default_factory=threading.Lock)
    heard_at: float = 0.0
    taken: int = 0


_feeds: dict[int, Kept] = {}
_lock = threading.Lock()


def feed_of(rig: Rig) -> Kept:
    """The feed of a rig. One of a rig that was changed begins anew."""
    source = repr(rig.source)
    with _lock:
        kept = _feeds.get(rig.pk)
        if kept is None or kept.source != source:
            if len(_feeds) >= MOST_FEEDS:
                _feeds.pop(min(_feeds, key=lambda pk: _feeds[pk].heard_at))
            kept = _feeds[rig.pk] = Kept(Feed(core_rig(rig)), source)
        return kept


def take(rig: Rig, lines: list[str], first: int | None = None) -> int:
    """Takes lines of a rig; how many were new. `first` numbers the first one, so that none is taken twice."""
    kept = feed_of(rig)
    with kept.lock:
        if first is not None:
            if first == 0:
                kept.taken = 0  # a sender that was started anew
            lines = lines[max(0, kept.taken - first) :]
            kept.taken = max(kept.taken, first + len(lines))
        kept.feed.add(lines, time.monotonic())
        kept.heard_at = time.monotonic()
        return len(lines)
