"""What a part can be asked for beside its own reading: `left.angle`, `nose.presses`."""

from __future__ import annotations

import math

from geduld.language.quantities import ANGLE, COUNT, TURN_RATE
from geduld.rig.kinds.kind import Kind

ANGLE_OF_A_MOTOR = Kind("encoder", "sensor", (ANGLE,), "deg", low=-math.inf, follows="motors")
SPEED_OF_A_MOTOR = Kind("encoder", "sensor", (TURN_RATE,), "deg/s", low=-math.inf, follows="motors")
PRESSES = Kind("counter", "sensor", (COUNT,), "")
