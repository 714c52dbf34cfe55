"""A rig says the same in any unit, and its numbers reach the model as they were written."""

import json
import unittest

from geduld.rig.physics import MotorPhysics, Mount, Positioner
from geduld.rig.reader import rig_from_json
from tests.glasshouse import SMALL

# where in the rig; the same value in several units; the attribute that holds it, and what it must be
SAME = [
    (("drive", "wheel_diameter"), ("6.5 cm", "65 mm", "0.065 m"), lambda rig: rig.drive.wheel_diameter, 6.5),
    (("drive", "track_width"), ("12.7 cm", "127 mm", "5 inch"), lambda rig: rig.drive.track_width, 12.7),
    (("body", "radius"), ("9 cm", "90 mm"), lambda rig: rig.physics.body.radius, 9),
    (("body", "mass"), ("1.2 kg", "1200 g"), lambda rig: rig.physics.body.mass, 1.2),
    (("body", "sag"), ("6 %",), lambda rig: rig.physics.body.sag, 0.06),
    (("body", "grip"), ("80 %",), lambda rig: rig.physics.body.grip, 0.8),
    (("body", "supply"), ("90 %",), lambda rig: rig.physics.body.supply, 0.9),
    (("left", "torque"), ("15 Ncm", "0.15 Nm", "150 mNm"), lambda rig: rig.physics.motors["left"].torque, 0.15),
    (("left", "lag"), ("120 ms", "0.12 s"), lambda rig: rig.physics.motors["left"].lag, 0.12),
    (("left", "gain"), ("97 %",), lambda rig: rig.physics.motors["left"].gain, 0.97),
    (("left", "dead_zone"), ("7 %",), lambda rig: rig.physics.motors["left"].dead_zone, 7),
    (("nozzle", "slew"), ("180 deg/s", "0.5 rev/s"), lambda rig: rig.physics.positioners["nozzle"].slew, 180),
    (("shade", "step"), ("7.5 deg",), lambda rig: rig.physics.positioners["shade"].step, 7.5),
    (("range", "ahead"), ("8 cm", "80 mm"), lambda rig: rig.physics.mounts["range"].ahead, 8),
    (("range", "left"), ("-3 cm", "-30 mm"), lambda rig: rig.physics.mounts["range"].left, -3),
    (("range", "facing"), ("-90 deg", "-0.25 rev"), lambda rig: rig.physics.mounts["range"].facing, -90),
    (("range", "cone"), ("12 deg",), lambda rig: rig.physics.mounts["range"].cone, 12),
    (("range", "grazing"), ("55 deg",), lambda rig: rig.physics.mounts["range"].grazing, 55),
    (("range", "period"), ("50 ms", "0.05 s"), lambda rig: rig.physics.mounts["range"].period, 0.05),
    (("range", "noise"), ("0.4 cm", "4 mm"), lambda rig: rig.physics.mounts["range"].noise, 0.4),
    (("range", "resolution"), ("1 cm", "10 mm"), lambda rig: rig.physics.mounts["range"].resolution, 1),
    (("nose", "bounce"), ("6 ms", "0.006 s"), lambda rig: rig.physics.mounts["nose"].bounce, 0.006),
    (("nose", "rail"), (["-30 deg", "45 deg"],), lambda rig: rig.physics.mounts["nose"].rail, (-30, 45)),
]  # fmt: skip


def written(place, value):
    """The small rig with one value in it."""
    part, key = place
    source = json.loads(json.dumps(SMALL)) | {"body": {}}
    if part in ("drive", "body"):
        source[part][key] = value
    else:
        source["parts"][part]["physics"] = {key: value}
    return source


def everything(rig):
    """All that the physics of a rig holds, by part and name; what is not said has its default."""
    found = {f"body.{name}": value for name, value in vars(rig.physics.body).items()}
    found |= {f"drive.{name}": value for name, value in vars(rig.drive).items()}
    for group, default in (("motors", MotorPhysics()), ("mounts", Mount()), ("positioners", Positioner())):
        for part in SMALL["parts"]:
            item = getattr(rig.physics, group).get(part, default)
            found |= {f"{part}.{name}": value for name, value in vars(item).items()}
    return found


class RigUnits(unittest.TestCase):
    def test_one_value_in_any_unit(self):
        for place, values, held, expected in SAME:
            for value in values:
                with self.subTest(place=place, value=value):
                    found = held(rig_from_json(written(place, value)))
                    self.assertEqual(found, expected)

    def test_each_value_is_held_once(self):
        plain = everything(rig_from_json({**SMALL, "body": {}}))
        for (part, key), values, _, expected in SAME:
            with self.subTest(part=part, key=key):
                now = everything(rig_from_json(written((part, key), values[0])))
                name = f"{part}.{key}"
                changed = {item for item in now if now[item] != plain[item]}
                self.assertEqual(changed, {name} if plain[name] != expected else set())


if __name__ == "__main__":
    unittest.main()
