"""The floor's physics: against closed forms, a reference integration, and laws."""

import math
import os
import secrets
import unittest

import numpy as np

from geduld.errors import FloorError
from geduld.readers.notation import runner_for
from geduld.rig.reader import rig_from_json
from geduld.worlds.floor.faults import read_faults
from geduld.worlds.floor.reader import floor_from_json
from geduld.worlds.floor.simulation import Simulation
from geduld.worlds.kernel import layout
from tests.core.reference_ride import ride
from tests.glasshouse import SMALL, program

SEARCHED = 600 if os.environ.get("GEDULD_SEARCH") else 0
FAULTS = ["left wired round", "left and right swapped", "nose inverted", "range loose 20 %", "battery at 60 %",
          "left jammed", "range knocked by 30 deg"]  # fmt: skip

OPEN = {
    "geduld": "floor/1",
    "name": "Yard",
    "size": ["1000 cm", "1000 cm"],
    "edge": "open",
    "start": {"at": ["500 cm", "500 cm"]},
}


def robot(body=None, left=None, right=None, **parts):
    """The small rig with other physics."""
    source = {**SMALL, "parts": {name: dict(part) for name, part in SMALL["parts"].items()}}
    for name, physics in (("left", left), ("right", right)):
        source["parts"][name]["physics"] = {"dead_zone": "0 %", "lag": "1 ms", **(physics or {})}
    for name, physics in parts.items():
        source["parts"][name] = {**source["parts"][name], **physics}
    return rig_from_json({**source, "body": {"sag": "0 %", **(body or {})}})


def place(**things):
    return floor_from_json({**OPEN, "surface": {"rolling": "0 %"}, **things})


def drive(rig, floor, left, right, seconds, **options):
    world = Simulation(rig, floor, end=round(seconds * 1e6), **options)
    world.command("left", left, 0)
    world.command("right", right, 0)
    world.go(world.end)
    return world


def pose(world):
    x, y, heading = world.poses()[1][-1].tolist()
    return x, y, heading


def ran(steps, rig, floor, seconds=20.0, **options):
    world = Simulation(rig, floor, end=round(seconds * 1e6), **options)
    return world, runner_for(program(steps), rig).run_on(world)


WHEEL, TRACK, FULL = 0.065 / 2, 0.14, math.radians(600)
LAGGING = {"left": {"lag": "120 ms", "gain": "93 %", "dead_zone": "5 %"}, "right": {"lag": "60 ms", "dead_zone": "3 %"}}


class ClosedForms(unittest.TestCase):
    def test_wheels_that_turn_steadily_make_lines_circles_pivots_and_spins(self):
        way = WHEEL * FULL * 0.5 * (4.0 - 0.001 * (1 - math.exp(-4 / 0.001)))
        turned = way / TRACK
        radius = TRACK / 2 * (0.6 + 0.2) / (0.6 - 0.2)
        angle = WHEEL * FULL * (0.6 - 0.2) / TRACK * (4.0 - 0.001)
        for left, right, x, y, heading in (
            (50, 50, way, 0.0, 0.0),
            (-50, -50, -way, 0.0, 0.0),
            (-50, 50, 0.0, 0.0, 2 * turned),
            (20, 60, radius * math.sin(angle), radius * (1 - math.cos(angle)), angle),
            (0, 50, TRACK / 2 * math.sin(turned), TRACK / 2 * (1 - math.cos(turned)), turned),
        ):
            with self.subTest(left=left, right=right):
                found = pose(drive(robot(), place(), left, right, 4.0))
                np.testing.assert_allclose(found[:2], (5 + x, 5 + y), atol=1e-5)
                self.assertAlmostEqual(found[2], math.degrees(heading), delta=2e-3)

    def test_wheel_turns_make_15_30_and_90_cm(self):
        rig = robot(left={"lag": "1 ms"}, right={"lag": "1 ms"})
        for centimetres in (15, 30, 90):
            world, _ = ran(f"drive at 20 % for {centimetres} cm", rig, place())
            turns = centimetres / (math.pi * 6.5)
            counted = world.trace().channels["left.angle"][-1]
            self.assertAlmostEqual(counted, 360 * turns, delta=2.5, msg="two counts and the way of one sample")
            self.assertAlmostEqual(pose(world)[0] - 5, centimetres / 100, delta=0.0015)

    def test_range_to_a_wall_at_every_incidence(self):
        straight = {"physics": {"ahead": "0 cm", "cone": "0 deg", "grazing": "65 deg"}, "greatest": "400 cm"}
        wall = {"from": ["600 cm", "0 cm"], "to": ["600 cm", "1000 cm"]}
        for degrees in range(0, 90, 5):
            floor = place(walls=[wall], start={"at": ["500 cm", "500 cm"], "heading": f"{degrees} deg"})
            world = Simulation(robot(range=straight), floor, end=1000)
            seen = world.trace().channels["range"][0]
            if degrees <= 65:
                self.assertAlmostEqual(seen, 100 / math.cos(math.radians(degrees)), places=9)
            else:
                self.assertTrue(math.isnan(seen), "a wall at a grazing angle gives no echo")

    def test_light_falls_with_the_square_of_the_distance(self):
        rig = robot(knob={"kind": "light", "port": "A2", "unit": "lx", "raw": [0, 1]})
        for away in (50, 100, 173, 300):
            lamp = {"at": [f"{500 + away} cm", "500 cm"], "height": "30 cm", "light": "900 lx"}
            world = Simulation(rig, place(ambient="40 lx", lamps=[lamp]), end=1000)
            expected = 40 + 900 / ((away / 100) ** 2 + 0.3**2)
            self.assertAlmostEqual(world.trace().channels["knob"][0], expected, places=9)

    def test_slip_and_slope(self):
        slippery = place(surface={"rolling": "0 %", "travel_slip": "10 %", "turn_slip": "25 %"})
        self.assertAlmostEqual(pose(drive(robot(), slippery, 50, 50, 2.0))[0] - 5, 0.9 * WHEEL * FULL / 2 * 1.999, 5)
        spun = pose(drive(robot(), slippery, -50, 50, 2.0))[2]
        self.assertAlmostEqual(spun, math.degrees(0.75 * WHEEL * FULL / TRACK * 1.999), places=2)
        hill = {"corners": [["0 cm", "0 cm"], ["999 cm", "0 cm"], ["999 cm", "999 cm"], ["0 cm", "999 cm"]]}
        floor = place(ramps=[{**hill, "slope": "8 deg", "uphill": "0 deg"}])
        load = 9.81 * math.sin(math.radians(8)) * WHEEL / 2 / 0.15
        climbed = pose(drive(robot(), floor, 50, 50, 2.0))[0] - 5
        self.assertAlmostEqual(climbed, WHEEL * FULL * (0.5 - load) * 1.999, places=5)


class Accuracy(unittest.TestCase):
    def test_twenty_seconds_of_unequal_lagging_motors_against_a_high_order_integration(self):
        rig = robot(**LAGGING)
        commands = [(0.0, 40, 55), (3.3333, 80, 30), (7.0, 25, 25), (11.11, 60, 95), (15.0, 90, 20)]
        expected = ride(rig, commands, 20.0)
        world = Simulation(rig, place(), end=20_000_000)
        for seconds, left, right in commands:
            world.go(round(seconds * 1e6))
            world.command("left", left, 0)
            world.command("right", right, 0)
        world.go(world.end)
        found = pose(world)
        self.assertLess(math.dist(found[:2], expected[:2]), 1e-5, "a hundredth of a millimetre")
        self.assertLess(abs(found[2] - expected[2]), 1e-4)

    def test_where_it_stops_does_not_depend_on_the_step(self):
        wall = [{"from": ["560 cm", "300 cm"], "to": ["580 cm", "700 cm"]}]
        square = {"outline": [["10 cm", "8 cm"], ["-6 cm", "8 cm"], ["-6 cm", "-8 cm"], ["10 cm", "-8 cm"]]}
        for steps in (
            "drive at 60 %, 55 % until nose is pressed",
            "drive at 60 %, 55 % until range < 25 cm",
            "drive at 70 % until nose is pressed\ndrive at -40 % for 7 cm\nturn left at 30 % for 30 deg",
        ):
            for body in (None, square):
                rig = robot(body, **LAGGING)
                places = [
                    pose(ran(steps, rig, place(walls=wall), 6.0, step_us=step)[0]) for step in (10_000, 5_000, 1_000)
                ]
                for other in places[1:]:
                    self.assertLess(math.dist(places[0][:2], other[:2]), 1e-4, (steps, body))
                    self.assertLess(abs(places[0][2] - other[2]), 0.01)


class Motors(unittest.TestCase):
    def test_a_mismatch_bends_the_line_and_regulation_straightens_it(self):
        rig = robot(left={"gain": "94 %"})
        bent = pose(drive(rig, place(), 50, 50, 4.0))[2]
        kept = pose(ran("drive at 16 cm/s for 4 s", rig, place(), 4.0)[0])[2]
        self.assertGreater(bent, 15)
        self.assertLess(abs(kept), 3)

    def test_load_slows_power_and_not_a_kept_speed(self):
        def way(steps, rolling):
            world, _ = ran(steps, robot(left={"lag": "80 ms"}, right={"lag": "80 ms"}),
                           place(surface={"rolling": rolling}), 4.0)  # fmt: skip
            return pose(world)[0] - 5

        self.assertLess(way("drive at 40 % for 4 s", "30 %"), 0.7 * way("drive at 40 % for 4 s", "0 %"))
        self.assertAlmostEqual(way("drive at 14 cm/s for 4 s", "30 %"), 0.56, delta=0.02)
        self.assertAlmostEqual(way("drive at 14 cm/s for 4 s", "0 %"), 0.56, delta=0.02)

    def test_a_motor_that_coasts_rolls_on_and_one_that_brakes_stops(self):
        rig = robot(left={"lag": "80 ms", "dead_zone": "4 %"}, right={"lag": "80 ms", "dead_zone": "4 %"})
        ways = {}
        for style in ("braking", "coasting"):
            world, _ = ran(f"drive at 60 %\nwait 1 s\nstop drive by {style}", rig, place(), 4.0)
            path = world.poses()[1][:, 0]
            ways[style] = path[-1] - path[100]
            self.assertEqual(path[-1], path[-50], "it stands")
        self.assertGreater(ways["coasting"], 5 * ways["braking"])

    def test_too_much_load_is_a_stall(self):
        floor = place(walls=[{"from": ["540 cm", "400 cm"], "to": ["540 cm", "600 cm"]}])
        world, record = ran("drive at 30 % for 5 s", robot(), floor, 6.0)
        stalls = [event for event in record.events if event.kind == "stall"]
        self.assertEqual(len(stalls), 2)
        self.assertIn('Motor "left" stood still although it had power', stalls[0].text)
        self.assertEqual(world.trace().channels["left.angle"][-1], world.trace().channels["left.angle"][-250])
        strong = robot(left={"torque": "5 Nm"}, right={"torque": "5 Nm"})
        world, record = ran("drive at 30 % for 5 s", strong, floor, 6.0)
        self.assertEqual([event.kind for event in record.events], ["contact"])
        angles = world.trace().channels["left.angle"]
        self.assertGreater(angles[-1], angles[-300] + 100, "wheels stronger than their grip spin on the spot")

    def test_a_timed_turn_tuned_on_tiles_misses_on_gravel(self):
        source = {**robot().source, "calibration": {"surface": "tiles", "turn": {
            "power": "30 %", "angle": "360 deg", "time": "4.309 s"}}}  # fmt: skip
        rig = rig_from_json(source)
        gravel = {"name": "gravel", "turn_slip": "18 %", "rolling": "0 %"}
        steps = "turn left at 30 % for 90 deg by time"
        self.assertAlmostEqual(pose(ran(steps, rig, place(), 6.0)[0])[2], 90, delta=0.5)
        self.assertAlmostEqual(pose(ran(steps, rig, place(surface=gravel), 6.0)[0])[2], 90 * 0.82, delta=0.5)

    def test_a_counter_runs_over(self):
        encoder = {"encoder": {"counts_per_turn": 360, "counter_bits": 10}}
        source = robot().source
        parts = {**source["parts"], "left": {**source["parts"]["left"], **encoder}}
        world = drive(rig_from_json({**source, "parts": parts}), place(), 50, 50, 4.0)
        angles = world.trace().channels["left.angle"]
        self.assertEqual(angles.min(), -512)
        self.assertIn(angles.max(), range(508, 512), "a wheel turns three counts from sample to sample")


class Things(unittest.TestCase):
    def test_a_box_is_pushed_until_it_stands_against_a_wall(self):
        crate = {
            "name": "crate",
            "corners": [["520 cm", "493 cm"], ["534 cm", "493 cm"], ["534 cm", "507 cm"], ["520 cm", "507 cm"]],
            "movable": True,
        }
        wall = {"from": ["560 cm", "400 cm"], "to": ["560 cm", "600 cm"]}
        world = drive(robot(), place(obstacles=[crate], walls=[wall]), 60, 60, 6.0)
        x = world.moved()["crate"][:, 0]
        self.assertAlmostEqual(x[0], 5.27)
        self.assertAlmostEqual(x[-1], 5.53, places=4)
        self.assertAlmostEqual(pose(world)[0], 5.60 - 0.14 - 0.09, places=4)
        self.assertEqual(world.trace().channels["nose"][-1], 1.0)
        self.assertTrue((np.diff(x) >= 0).all())

    def test_a_contact_bounces_when_there_is_noise_and_only_on_its_part_of_the_rail(self):
        wall = [{"from": ["530 cm", "400 cm"], "to": ["530 cm", "600 cm"]}]
        bump = {"nose": {"physics": {"bounce": "10 ms", "rail": ["-30 deg", "30 deg"]}}}
        for seed, presses in ((None, 1), (2, 3)):
            world = drive(robot(**bump), place(walls=wall), 50, 50, 3.0, seed=seed)
            self.assertEqual(world.column("nose.presses")[world.place], presses)
        back = drive(robot(**bump), place(walls=[{"from": ["470 cm", "400 cm"], "to": ["470 cm", "600 cm"]}]),
                     -50, -50, 3.0)  # fmt: skip
        self.assertEqual(back.trace().channels["nose"].max(), 0.0, "the rail is in front")


class Laws(unittest.TestCase):
    def test_a_robot_stays_outside_of_what_it_is_pressed_against_and_contact_gives_no_energy(self):
        chance = np.random.default_rng(20)
        runs = 0
        while runs < 10_000:
            floor, rig = self.random_place(chance)
            try:
                world = Simulation(rig, floor, end=1_000_000)
            except FloorError as problem:
                self.assertEqual(problem.code, "start-inside")
                continue
            k, f = world.k.copy(), world.f.copy()
            poses = []
            for _ in range(150):
                world.k[:], world.f[:], world.place, world.now = k, f, 0, 0
                poses += self.one_run(world, chance)
                runs += 1
            self.assertGreaterEqual(room(np.array(poses), world).min(), -1e-7)

    def test_things_slide_before_a_robot_that_turns_and_one_at_rest_measures_what_it_measured(self):
        chance = np.random.default_rng(24)
        for _ in range(40):
            floor, rig = self.random_store(chance)
            world, anew = (Simulation(rig, floor, end=8_000_000) for _ in range(2))
            for at in range(0, world.end, 1_000_000):
                powers = chance.uniform(-100, 100, 2) * chance.integers(0, 2)
                for each in (world, anew):
                    each.command("left", float(powers[0]), 0)
                    each.command("right", float(powers[1]), 0)
                for now in range(at + 50_000, at + 1_050_000, 50_000):
                    anew.k[layout.STILL] = 0  # all is looked at anew
                    for each in (world, anew):
                        each.skip(now)
            np.testing.assert_array_equal(world.table[: world.place], anew.table[: world.place])
            things = {name: points for name, points in world.moved().items() if name != "hand"}
            for name, points in things.items():
                steps = np.linalg.norm(np.diff(points[: world.place], axis=0), axis=1)
                self.assertLess(steps.max(), 0.04, f"{name} slides, and is not thrown through the robot")

    def test_a_world_filled_ahead_and_taken_back_is_one_that_goes_from_sample_to_sample(self):
        for seed in [secrets.randbits(32) for _ in range(SEARCHED)] or range(25):
            with self.subTest(seed=seed):
                chance = np.random.default_rng(seed)
                floor, rig = (self.random_store, self.random_place)[int(chance.integers(2))](chance)
                faults = read_faults(list(chance.choice(FAULTS, int(chance.integers(3)), replace=False)), rig)
                noise = int(chance.integers(100)) if chance.random() < 0.5 else None
                told = runner_for(program(self.random_steps(chance)), rig)
                try:
                    ahead, single = (Simulation(rig, floor, None, noise, 10_000_000, faults=faults) for _ in range(2))
                except FloorError:
                    continue
                single._fill_ahead = lambda world=single: world._fill(world.end, 1)
                one, other = (told.run_on(world) for world in (ahead, single))
                for name, signal in one.commands.items():
                    np.testing.assert_array_equal(signal.times, other.commands[name].times)
                    np.testing.assert_array_equal(signal.values, other.commands[name].values)
                self.assertEqual((one.program, one.events), (other.program, other.events))
                self.assertEqual(ahead.place, single.place)
                np.testing.assert_array_equal(ahead.table[: ahead.place + 1], single.table[: single.place + 1])
                self.assertEqual(ahead.events(), single.events())

    @staticmethod
    def random_steps(chance):
        """A program that looks and waits, and keeps changing what it commands."""

        def power():
            return f"{int(chance.integers(-90, 91))} %"

        forms = (
            lambda: f"drive at {power()} until range < {int(chance.integers(5, 120))} cm, patience 900 ms",
            lambda: f"turn left at {power()} for {int(chance.integers(1, 90)) * 10} ms",
            lambda: f"drive at {power()} until nose is pressed, patience 700 ms",
            lambda: f"stop drive by {chance.choice(['braking', 'coasting'])}\nwait {int(chance.integers(1, 500))} ms",
            lambda: (
                f"set n to 0\nrepeat while n < {int(chance.integers(2, 60))}:\n"
                f"    set n to n + 1\n    if range < {int(chance.integers(10, 100))} cm:\n        drive at {power()}\n"
                f"    else:\n        drive at {power()}"
            ),
            lambda: f"drive at {power()}, {power()} for {int(chance.integers(5, 80)) * 10} ms",
        )
        steps = "\n".join(forms[int(chance.integers(len(forms)))]() for _ in range(int(chance.integers(1, 6))))
        return "repeat:\n" + "\n".join(f"    {line}" for line in steps.splitlines())

    @staticmethod
    def random_store(chance):
        """Things all around, that give way."""
        things = []
        for number in range(6):
            turn, size = math.radians(60 * number), chance.uniform(4, 9)
            x, y = 100 + math.cos(turn) * chance.uniform(28, 50), 100 + math.sin(turn) * chance.uniform(28, 50)
            square = [[x - size, y - size], [x + size, y - size], [x + size, y + size], [x - size, y + size]]
            corners = {"corners": [[f"{v:.2f} cm" for v in corner] for corner in square]}
            disc = {"at": [f"{x:.2f} cm", f"{y:.2f} cm"], "radius": f"{size:.2f} cm"}
            things.append({"name": f"t{number}", "movable": True, **(corners if number % 3 else disc)})
        floor = floor_from_json({**OPEN, "edge": "wall", "size": ["200 cm", "200 cm"], "obstacles": things,
                                 "start": {"at": ["100 cm", "100 cm"]}})  # fmt: skip
        long = {"outline": [["13 cm", "7 cm"], ["-7 cm", "7 cm"], ["-7 cm", "-7 cm"], ["13 cm", "-7 cm"]]}
        return floor, robot(long, left={"lag": "50 ms"}, right={"lag": "50 ms"})

    @staticmethod
    def random_place(chance):
        walls = []
        for _ in range(8):
            x, y = chance.uniform(10, 190, 2)
            dx, dy = chance.uniform(-60, 60, 2)
            walls.append({"from": [f"{x:.3f} cm", f"{y:.3f} cm"], "to": [f"{x + dx:.3f} cm", f"{y + dy + 0.5:.3f} cm"]})
        disc = {"at": [f"{v:.2f} cm" for v in chance.uniform(20, 180, 2)], "radius": f"{chance.uniform(3, 20):.2f} cm"}
        shapes = [None, {"outline": [["9 cm", "7 cm"], ["-7 cm", "7 cm"], ["-7 cm", "-7 cm"], ["9 cm", "-7 cm"]]}]
        floor = floor_from_json({**OPEN, "edge": "wall", "size": ["200 cm", "200 cm"], "walls": walls, "obstacles": [disc],
                                 "start": {"at": [f"{v:.2f} cm" for v in chance.uniform(20, 180, 2)]}})  # fmt: skip
        return floor, robot(shapes[int(chance.integers(2))], left={"lag": "50 ms"}, right={"lag": "50 ms"})

    def one_run(self, world, chance):
        for motor in ("left", "right"):
            world.f[world.motors[motor] + layout.W] = chance.uniform(-8, 8)
        powered = chance.random() < 0.7
        for motor in ("left", "right"):
            world.command(motor, float(chance.uniform(-100, 100)) if powered else 0.0, 0 if powered else 3)
        speeds, poses = [self.speed(world)], []
        while world.now < 400_000:
            world.skip(world.now + 20_000)
            speeds.append(self.speed(world))
            poses.append(world.f[[layout.X, layout.Y, layout.HEADING]])
        if not powered:
            self.assertTrue((np.diff(speeds) <= 1e-12).all(), "a robot that coasts never speeds up")
        return poses

    @staticmethod
    def speed(world):
        return sum(world.f[world.motors[name] + layout.W] ** 2 for name in ("left", "right"))


def room(poses, world):
    """How far the body is from everything at each pose, worked out by other means than the kernel's: negative inside."""
    at, outline = poses[:, :2], np.array(world.rig.physics.body.outline) / 100
    walls = [np.array([wall.start, wall.stop]) / 100 for wall in world.floor.walls]
    if not len(outline):
        ((centre,), radius) = world.floor.obstacles[0].shape.points, world.floor.obstacles[0].shape.size / 100
        barrel = np.linalg.norm(at - np.array(centre) / 100, axis=1) - radius
        away = np.min([distances(at, *wall) for wall in walls] + [barrel, *at.T, *(2 - at).T], axis=0)
        return away - world.rig.physics.body.radius / 100
    cos, sin = np.cos(poses[:, 2])[:, None], np.sin(poses[:, 2])[:, None]
    corners = np.stack((cos * outline[:, 0] - sin * outline[:, 1], sin * outline[:, 0] + cos * outline[:, 1]), axis=2)
    corners += at[:, None]
    inside = np.minimum(corners.min(axis=(1, 2)), (2 - corners).min(axis=(1, 2)))
    return np.minimum(inside, -np.max([depths(corners, wall) for wall in walls], axis=0))


def distances(points, a, b):
    """How far points are from a segment."""
    t = np.clip((points - a) @ (b - a) / ((b - a) @ (b - a)), 0, 1)
    return np.linalg.norm(points - a - t[:, None] * (b - a), axis=1)


def depths(corners, segment):
    """How deep convex outlines of shape (n, corners, 2) and a segment overlap, by separating axes."""
    sides = np.roll(corners, -1, axis=1) - corners
    along = np.broadcast_to(segment[1] - segment[0], (len(corners), 1, 2))
    axes = np.concatenate((sides[..., ::-1] * (1, -1), along[..., ::-1] * (1, -1), along), axis=1)
    axes /= np.linalg.norm(axes, axis=2, keepdims=True)
    ours = np.einsum("nck,nak->nca", corners, axes)
    theirs = np.einsum("ck,nak->nca", segment, axes)
    shared = np.minimum(ours.max(1), theirs.max(1)) - np.maximum(ours.min(1), theirs.min(1))
    return np.maximum(shared.min(axis=1), 0.0)
