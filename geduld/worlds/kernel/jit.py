"""Compiles the kernel, once for each version of its sources; `GEDULD_KERNEL=plain` leaves it as Python."""

from __future__ import annotations

import hashlib
import os
import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path
from typing import Any

PLAIN = os.environ.get("GEDULD_KERNEL", "") == "plain"
_HERE = Path(__file__).parent
# What Numba supports where it finds it, and the kernel does not use: to load it takes a fifth of a short run's time.
_UNUSED = ("scipy.linalg.cython_blas", "cffi")


def _sources() -> str:
    """A hash of the kernel's sources: a change in one file must not leave what others compiled from it."""
    digest = hashlib.sha256()
    for path in sorted(_HERE.glob("*.py")):
        digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


@contextmanager
def _unseen(names: tuple[str, ...]) -> Iterator[None]:
    """Modules that are not loaded yet cannot be imported for now; not where another thread might want one."""
    hidden = [name for name in names if name not in sys.modules and threading.active_count() == 1]
    sys.modules.update(dict.fromkeys(hidden))  # type: ignore[arg-type]  # None: an import of it fails
    try:
        yield
    finally:
        for name in hidden:
            del sys.modules[name]


@cache
def _numba() -> Any:
    with _unseen(_UNUSED):
        import numba
        from numba.core.registry import cpu_target

        cpu_target.typing_context.refresh()
        cpu_target.target_context.refresh()
    numba.config.CACHE_DIR = str(_HERE / "__pycache__" / _sources())  # type: ignore[attr-defined]
    return numba


def compiled(function: Callable[..., Any]) -> Callable[..., Any]:
    """The function as machine code. No fast arithmetic: every operation is rounded as Python rounds it."""
    if PLAIN:
        return function
    found: Callable[..., Any] = _numba().njit(cache=True, fastmath=False, error_model="numpy")(function)
    return found
