"""A high-order integration of a ride, written down from the equations alone: what the kernel is held against."""

import math

import numpy as np
from scipy.integrate import solve_ivp


def ride(rig, commands, seconds):
    """The pose (m, m, deg) after a ride with power commands `(seconds, left, right)`, all ahead, from 5 m, 5 m.

    Each wheel nears the speed of its straight torque line with its own lag; the pose follows the wheels.
    """
    wheel, track = rig.drive.wheel_diameter / 200, rig.drive.track_width / 100
    motors = [rig.physics.motor(name) for name in (rig.drive.left, rig.drive.right)]
    full = [math.radians(rig.parts[name].full_speed) for name in (rig.drive.left, rig.drive.right)]
    state = np.array([5.0, 5.0, 0.0, 0.0, 0.0])
    for index, (start, *powers) in enumerate(commands):
        stop = commands[index + 1][0] if index + 1 < len(commands) else seconds
        target = [
            (power / 100 * motor.gain - motor.dead_zone / 100) * speed / (1 - motor.dead_zone / 100)
            for power, motor, speed in zip(powers, motors, full, strict=True)
        ]

        def slope(_, s, target=target):
            v, w = wheel * (s[3] + s[4]) / 2, wheel * (s[4] - s[3]) / track
            left, right = ((t - now) / m.lag for t, now, m in zip(target, s[3:], motors, strict=True))
            return [v * math.cos(s[2]), v * math.sin(s[2]), w, left, right]

        found = solve_ivp(slope, (start, stop), state, method="DOP853", rtol=1e-11, atol=1e-13)
        state = found.y[:, -1]
    return state[0], state[1], math.degrees(state[2])
