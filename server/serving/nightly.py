"""A copy of what is kept, every night."""

from __future__ import annotations

import threading
import time
from datetime import datetime, timedelta
from pathlib import Path

from server.serving.backup import backup
from server.serving.folder import prepared
from server.serving.trouble import Trouble

HOUR, KEPT, LOOK_S = 3, 14, 300.0


def missed(now: datetime, newest: datetime | None) -> bool:
    """Whether a copy is due: since the last 3 o'clock in the morning there was none."""
    night = now.replace(hour=HOUR, minute=0, second=0, microsecond=0)
    if night > now:
        night -= timedelta(days=1)
    return newest is None or newest < night


def copy_nightly(folder: Path) -> None:
    """Copies what is kept into `nightly` every night, or as soon as it can when it did not run then."""
    threading.Thread(target=_go_on, args=(folder / "nightly",), daemon=True).start()


def _go_on(into: Path) -> None:
    while True:
        try:
            _copy(prepared(into), datetime.now())
        except Trouble as trouble:  # a full disk may have room again later
            print(f"No nightly copy: {trouble}", flush=True)
        time.sleep(LOOK_S)


def _copy(into: Path, now: datetime) -> None:
    """Makes the copy that is due, and drops those before the last 14."""
    copies = sorted(into.glob("geduld-*.sqlite3"))
    newest = datetime.fromtimestamp(copies[-1].stat().st_mtime) if copies else None
    if not missed(now, newest):
        return
    made = into / f"geduld-{now:%Y-%m-%d}.sqlite3"
    backup(made)
    for old in sorted({*copies, made})[:-KEPT]:
        old.unlink(missing_ok=True)
