"""Compiles the kernel, once for each version of its sources; `GEDULD_KERNEL=plain` leaves it as Python."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

PLAIN = os.environ.get("GEDULD_KERNEL", "") == "plain"
_HERE = Path(__file__).parent


def _sources() -> str:
    """A hash of the kernel's sources: a change in one file must not leave what others compiled from it."""
    digest = hashlib.sha256()
    for path in sorted(_HERE.glob("*.py")):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


def compiled(function: Callable[..., Any]) -> Callable[..., Any]:
    """The function as machine code. No fast arithmetic: every operation is rounded as Python rounds it."""
    if PLAIN:
        return function
    import numba

    numba.config.CACHE_DIR = str(_HERE / "__pycache__" / _sources())  # type: ignore[attr-defined]
    found: Callable[..., Any] = numba.njit(cache=True, fastmath=False, error_model="numpy")(function)
    return found
