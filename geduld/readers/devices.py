"""Programs for two devices in one hand-in: each says with `for rig` which one it is for."""

from __future__ import annotations

import re

from geduld.readers.files import SourceFile, files_in
from geduld.rig.model import Rig

_FOR_RIG = re.compile(r'^for rig "([^"]*)"', re.MULTILINE)


def rig_named(text: str) -> str:
    """The rig that a behaviour is for; empty where it does not say."""
    match = _FOR_RIG.search(text)
    return match[1] if match else ""


def for_device(text: str, rig: Rig) -> str:
    """The behaviour for a device, in its place: the lines of the others are empty. A single text as it is.

    Where none is for it, that of the first file that names no rig; empty where there is none.
    """
    files = files_in(text)
    if len(files) < 2:
        return text
    own = [file for file in files if rig_named(file.text) == rig.name] or [f for f in files if not rig_named(f.text)]
    return _alone(text, own[0]) if own else ""


def is_for_device(text: str, rig: Rig) -> bool:
    """Whether there is a behaviour for a device beside another one's."""
    files = files_in(text)
    return len(files) > 1 and any(rig_named(file.text) == rig.name for file in files)


def _alone(text: str, own: SourceFile) -> str:
    lines = text.split("\n")
    return "\n".join(line if own.first <= number < own.stop else "" for number, line in enumerate(lines, 1))
