"""Looks through a large database while it serves: damaged pages are said before they are met."""

from __future__ import annotations

import threading
from pathlib import Path

from server.serving.folder import looked_at
from server.serving.trouble import Trouble


def look_through(database: Path) -> None:
    """Reads every page of it, beside the server, and says what is broken."""
    threading.Thread(target=_look, args=(database,), daemon=True).start()


def _look(database: Path) -> None:
    try:
        looked_at(database, whole=True)
    except Trouble as trouble:
        print(trouble, flush=True)
