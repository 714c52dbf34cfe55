"""Values that nobody means, to be put in the place of good ones."""

import copy

ODD = [None, True, -1, 0, 1.5, 10**30, -(10**30), 1e308, "", " ", "x", "x" * 3000, "a\u0000b", "\ud800", "-1 cm", "9e99",
       [], {}, [[]], [None], {"x": None}, [1, 2, 3], "2026-13-45", "\u202e"]  # fmt: skip


def places(value, path=()):
    """The ways to everything inside a JSON value."""
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        yield (*path, key)
        yield from places(inner, (*path, key))


def with_odd(body, path, odd):
    """The value with another one at one place."""
    changed = copy.deepcopy(body)
    around = changed
    for key in path[:-1]:
        around = around[key]
    around[path[-1]] = odd
    return changed
