"""Range readings wherever a robot drives and whatever it touches: against the surfaces' own points."""

import math
import os
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_floor import drive, place, robot

MORE = 130 if os.environ.get("GEDULD_SEARCH") else 1
BODIES = (
    {"radius": "11 cm"},
    {"outline": [["12 cm", "-7 cm"], ["12 cm", "7 cm"], ["-6 cm", "7 cm"], ["-6 cm", "-7 cm"]]},
)
LEAST, GREATEST, FRONTS, CONE = 2.0, 150.0, (11.0, 12.0), 20.0
FINE, SLACK, WIDER = 0.05, 0.06, math.radians(0.2)  # cm between a surface's points; cm; rad


def corners(x, y, wide, deep, turned):
    along, across = math.cos(math.radians(turned)), math.sin(math.radians(turned))
    offsets = ((-wide, -deep), (wide, -deep), (wide, deep), (-wide, deep))
    return [(x + (u * along - v * across) / 2, y + (u * across + v * along) / 2) for u, v in offsets]


def points_of(shape):
    """Points along a shape's outline, `FINE` apart, in cm."""
    if shape["form"] == "round":
        turns = np.linspace(0, 2 * np.pi, round(2 * np.pi * shape["radius"] / FINE))
        return shape["at"] + shape["radius"] * np.column_stack([np.cos(turns), np.sin(turns)])
    ends = np.array(shape["points"])
    pairs = list(zip(ends, np.roll(ends, -1, axis=0), strict=True))[: 1 if shape["form"] == "wall" else None]
    return np.concatenate(
        [a + np.linspace(0, 1, round(np.linalg.norm(b - a) / FINE) + 2)[:, None] * (b - a) for a, b in pairs]
    )


def nearest(points, pose, front, half):
    """The distance in cm of the nearest point in a cone of half an opening `half` (rad), or that the sensor touches."""
    x, y, heading = pose
    along, across = math.cos(heading), math.sin(heading)
    points = points - [x + front * along, y + front * across]
    close = points[:-1][np.hypot(*points[:-1].T) < 0.5], points[1:][np.hypot(*points[:-1].T) < 0.5]
    between = [close[0] + share * (close[1] - close[0]) for share in np.linspace(0, 1, 60)]
    east, north = np.concatenate([points, *between]).T
    depth, aside = east * along + north * across, np.abs(north * along - east * across)
    seen = (aside <= math.tan(half) * depth) | ((aside <= 0.03) & (np.abs(depth) <= 0.04))
    return np.hypot(depth, aside)[seen].min(initial=math.inf)


AROUND = st.integers(-60, 60)
BOX = st.tuples(
    st.just("box"), AROUND, AROUND, st.integers(4, 40), st.integers(4, 40), st.integers(0, 89), st.booleans()
)
POST = st.tuples(st.just("post"), AROUND, AROUND, st.integers(1, 12), st.booleans())
WALL = st.tuples(st.just("wall"), AROUND, AROUND, AROUND, AROUND)
SCENES = st.lists(st.one_of(BOX, POST, WALL), min_size=1, max_size=4)


def built(scene, heading):
    """A floor with what a scene names that does not stand on the robot; and the same as shapes, with the movable ones' names."""
    walls, obstacles, shapes = [], [], []
    for number, (kind, *rest) in enumerate(scene):
        name, movable = f"crate{number}", kind != "wall" and rest[-1]
        x, y = rest[0] + 500.0, rest[1] + 500.0
        if kind == "wall":
            shape = {"form": "wall", "points": [(x, y), (rest[2] + 500.0, rest[3] + 500.0)]}
        elif kind == "post":
            shape = {"form": "round", "at": np.array([x, y]), "radius": float(rest[2])}
        else:
            shape = {"form": "corners", "points": corners(x, y, *rest[2:5])}
        outline = points_of(shape)
        inside = kind == "box" and max(abs(x - 500), abs(y - 500)) < 45
        if np.hypot(*(outline - 500).T).min() < 16 or inside or (kind == "wall" and rest[:2] == rest[2:]):
            continue
        heavy = {"movable": True, "mass": "200 g"} if movable else {}
        if kind == "wall":
            walls.append(
                {
                    side: [f"{u:.9f} cm", f"{v:.9f} cm"]
                    for side, (u, v) in zip(("from", "to"), shape["points"], strict=True)
                }
            )
        elif kind == "post":
            obstacles.append({"name": name, "at": [f"{x} cm", f"{y} cm"], "radius": f"{rest[2]} cm", **heavy})
        else:
            listed = [[f"{u:.9f} cm", f"{v:.9f} cm"] for u, v in shape["points"]]
            obstacles.append({"name": name, "corners": listed, **heavy})
        shapes.append((name if movable else "", outline))
    start = {"at": ["500 cm", "500 cm"], "heading": f"{heading} deg"}
    return place(walls=walls, obstacles=obstacles, start=start), shapes


class Echo(unittest.TestCase):
    seen = 0

    @settings(max_examples=40 * MORE, deadline=None)
    @given(SCENES, st.sampled_from((0, 1)), st.integers(-100, 100), st.integers(-100, 100), st.integers(0, 359))
    def test_no_reading_is_farther_than_the_nearest_surface_in_the_cone(self, scene, body, left, right, heading):
        """In contact too: with boxes, posts and walls that stand, and with those that are pushed along."""
        floor, shapes = built(scene, heading)
        front = FRONTS[body]
        physics = {"ahead": f"{front} cm", "left": "0 cm", "cone": f"{CONE} deg", "grazing": "90 deg"}
        part = {"kind": "range", "port": "A2", "unit": "cm", "least": f"{LEAST} cm", "greatest": f"{GREATEST} cm"}
        rig = robot(BODIES[body], knob={**part, "raw": [0, 1], "physics": physics})
        world = drive(rig, floor, left, right, 4.0)
        (times, poses), moved, readings = world.poses(), world.moved(), world.trace().channels["knob"]
        poses = poses * [100, 100, math.radians(1)]
        half = math.radians(CONE / 2)
        for row in np.flatnonzero(times % 20_000 == 0).tolist()[::3]:
            found = []
            for name, outline in shapes:
                points = outline + (100 * (moved[name][row] - moved[name][0]) if name else 0.0)
                found.append([nearest(points, poses[row], front, half + more) for more in (WIDER, -WIDER)])
            least, most = np.min(found, axis=0, initial=math.inf) if found else (math.inf, math.inf)
            reading, where = readings[row], f"{times[row]} us, {scene}"
            Echo.seen += 1
            if math.isnan(reading):
                self.assertTrue(most > GREATEST - SLACK or least < LEAST + SLACK, f"{where}: none, {least}..{most} cm")
            else:
                self.assertTrue(least - SLACK <= reading <= most + SLACK, f"{where}: {reading}, {least}..{most} cm")


if __name__ == "__main__":
    unittest.main()
