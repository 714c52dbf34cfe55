"""Everything in a rig's description that does not hold together, each at its part, while it is being written."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from geduld.errors import RigError
from geduld.language.messages import listed
from geduld.rig.kinds import KINDS
from geduld.rig.reader import rig_from_json


@dataclass(frozen=True)
class Conflict:
    """Something that does not hold together: the parts that it is about, its path, what it is, and what to do."""

    parts: tuple[str, ...]
    path: str
    message: str
    remedy: str


def conflicts(source: Any) -> list[Conflict]:
    """What does not hold together in a rig's JSON; empty when the rig can be read."""
    try:
        rig_from_json(source)
    except RigError as problem:
        found = [*_ports(source)]
        if problem.code not in ("port-taken", "no-such-port", "wrong-port") or not found:
            path = problem.place.path
            part = path.split(".")[1] if path.startswith("parts.") else ""
            found.insert(0, Conflict((part,) if part else (), path, problem.message, problem.remedy))
        return found
    return []


def _ports(source: Any) -> Iterator[Conflict]:
    """Ports that hold two parts, that the controller has not, or that cannot carry what hangs on them."""
    parts = source.get("parts") if isinstance(source, dict) else None
    if not isinstance(parts, dict):
        return
    ports = source.get("ports")
    ports = ports if isinstance(ports, dict) else None
    holders: dict[str, list[str]] = {}
    for name, part in parts.items():
        if isinstance(part, dict) and isinstance(part.get("port"), str) and part["port"].strip():
            holders.setdefault(part["port"], []).append(name)
    for port, names in holders.items():
        if len(names) > 1:
            message = f"Port {port} holds {listed(names).replace(' or ', ' and ')}: one plug fits into it."
            yield Conflict(tuple(names), f"parts.{names[-1]}.port", message, "Plug all but one into other ports.")
    if ports is None:
        return
    for port, names in holders.items():
        carries = ports.get(port)
        for name in names:
            kind = parts[name].get("kind")
            if carries is None:
                message = f'The controller has no port {port} for "{name}".'
                yield Conflict((name,), f"parts.{name}.port", message, f"It has {listed(ports)}.")
            elif isinstance(carries, list) and carries and kind in KINDS and kind not in carries:
                message = f'Port {port} cannot carry "{name}", a {kind}; it carries {listed(carries)}.'
                able = [other for other, kinds in ports.items() if not kinds or kind in kinds]
                remedy = f"A {kind} fits into {listed(able)}." if able else "No port of it can."
                yield Conflict((name,), f"parts.{name}.port", message, remedy)
