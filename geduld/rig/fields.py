"""What can be said of a rig and of its parts: each field with its name, its default, and why it matters."""

from __future__ import annotations

from dataclasses import dataclass

from geduld.language.quantities import ANGLE, LENGTH, RATIO, TIME, TURN_RATE, UNITS, Dimension
from geduld.rig.kinds import FOLLOWS
from geduld.rig.kinds.kind import Kind

QUANTITY, WHOLE, NUMBER, YES, CHOICE, PAIR, QUANTITIES, WORDS, TEXT = (
    "quantity", "whole", "number", "yes", "choice", "pair", "quantities", "words", "text",
)  # fmt: skip


@dataclass(frozen=True)
class Field:
    """One thing that can be said: its key (a path with points), its name, what it is (`form`), the units or words to
    choose from, what holds where nothing is said, and why it matters on a real robot."""

    key: str
    name: str
    form: str
    choices: tuple[str, ...]
    default: str
    why: str


def units_of(dimension: Dimension) -> tuple[str, ...]:
    """The units of a dimension."""
    return tuple(unit.word for unit in UNITS.values() if unit.dimension == dimension)


_LENGTHS, _ANGLES, _TIMES, _RATES, _SHARES = (units_of(d) for d in (LENGTH, ANGLE, TIME, TURN_RATE, RATIO))
_RATES = (*_RATES, "deg/s")
_PHYSICS = (
    Field("ahead", "sits ahead", QUANTITY, _LENGTHS, "0 cm", "A range from the nose is not one from the axle."),
    Field("left", "sits to the left", QUANTITY, _LENGTHS, "0 cm", "To the right is less than 0."),
    Field("facing", "looks towards", QUANTITY, _ANGLES, "straight ahead", "To the left is more than 0 deg."),
    Field("cone", "cone", QUANTITY, _ANGLES, "20 deg", "A wide cone sees things beside the way."),
    Field("grazing", "no echo beyond", QUANTITY, _ANGLES, "65 deg", "A wall seen at a slant sends no echo back."),
    Field("spot", "radius of its spot", QUANTITY, _LENGTHS, "0.8 cm", "A line thinner than the spot looks grey."),
    Field("rail", "closes between", QUANTITIES, _ANGLES, "-75 deg to 75 deg", "Touched beside it, it stays open."),
    Field("bounce", "bounces for", QUANTITY, _TIMES, "4 ms", "One press can be counted as several."),
    Field("period", "measures every", QUANTITY, _TIMES, "each sample", "A slow sensor tells of what was."),
    Field("noise", "noise", QUANTITY, (), "none", "A threshold without slack chatters."),
    Field("resolution", "resolution", QUANTITY, (), "none", "Readings come in steps of it."),
    Field("dead_zone", "dead zone", QUANTITY, _SHARES, "4 %", "Below it the motor hums and stands."),
    Field("lag", "lag", QUANTITY, _TIMES, "80 ms", "Short moves are shorter than they should be."),
    Field("torque", "stalls at", QUANTITY, ("Ncm", "Nm", "mNm"), "15 Ncm", "A weak motor stops at a ramp."),
    Field("gain", "makes of a command", QUANTITY, _SHARES, "100 %", "Unequal motors bend a straight line."),
    Field("load", "load that hangs on it", QUANTITY, ("Ncm", "Nm", "mNm"), "none", "It slows, stalls, or sinks."),
    Field("level_at", "arm is level at", QUANTITY, _ANGLES, "no arm", "There the load pulls the most."),
    Field("gear", "gear", NUMBER, (), "1", "It turns so often while what it moves turns once."),
    Field("stops", "end stops", QUANTITIES, _ANGLES, "none", "Driven against one, it stalls and grows hot."),
    Field("on", "sits at the motor", TEXT, (), "none", "It is pressed by what that motor moves."),
    Field("closes", "is pressed from", QUANTITIES, _ANGLES, "never", "Angles of what the motor moves, from the start."),
    Field("trim", "trimmer", QUANTITY, _SHARES, "50 %", "A ground lighter than that closes it."),
    Field("reach", "sees as far as", QUANTITY, _LENGTHS, "10 cm", "For one that looks ahead and not down."),
    Field("slew", "turns at", QUANTITY, _RATES, "400 deg/s", "A servo is not there at once."),
    Field("step", "one step", QUANTITY, _ANGLES, "1.8 deg", "It stands at whole steps alone."),
)  # fmt: skip


def fields_of(kind: Kind) -> tuple[Field, ...]:
    """What can be said of a part of some kind, beside its name, its kind and its port."""
    units = tuple(word for dimension in kind.dimensions for word in units_of(dimension))
    output = kind.role == "output"
    found: list[Field] = []
    if kind.reversible:
        found.append(Field("reversed", "turned round", YES, (), "no", "Mounted the other way, forward goes backwards."))
    if len(units) > 1 and not output:
        found.append(Field("unit", "read in", CHOICE, units, kind.unit, "Programs and traces use it."))
    if kind.unit:
        why = "Commands end here." if output else "Beyond it there is no reading."
        least = f"{kind.low:g} {kind.unit}" if output else "none"
        most = f"{kind.high:g} {kind.unit}" if output else "none"
        found.append(Field("least", "least", QUANTITY, units, least, why))
        found.append(Field("greatest", "greatest", QUANTITY, units, most, why))
    if not output and kind.unit:
        found.append(Field("raw", "converter's ends", PAIR, (), "unknown", "Boards print its numbers, not units."))
    if kind.counted:
        found.append(
            Field(
                "encoder.counts_per_turn",
                "encoder counts a turn",
                WHOLE,
                (),
                "no encoder",
                "Without one it cannot measure ways or keep speeds.",
            )
        )
        found.append(
            Field("encoder.counter_bits", "bits of its counter", WHOLE, (), "unknown", "A full counter begins again.")
        )
    if kind.spins:
        found.append(
            Field("full_speed", "full speed", QUANTITY, _RATES, "600 deg/s", "Timed moves are worked out with it.")
        )
        found.append(Field("stop", "stops by", CHOICE, ("brake", "coast"), "brake", "A coasting motor rolls on."))
        found.append(
            Field("scale", "its own numbers", PAIR, (), "%", "Commands are these numbers then, such as -127 to 127.")
        )
    if not output:
        found.append(
            Field("follows", "follows", CHOICE, FOLLOWS, kind.follows, "Says what a recording can be trusted for.")
        )
    if kind.has_keys:
        found.append(Field("keys", "keys", WORDS, (), "", "Programs ask for them: is pad.up pressed?"))
        found.append(Field("channels", "channels", WHOLE, (), "1", "Two carts on one channel obey one hand."))
    elif kind.is_contact:
        why = "Taken the wrong way round, the robot has crashed at once."
        found.append(Field("active", "its line, pressed, is", CHOICE, ("high", "low"), "high", why))
    for field in _PHYSICS:
        if kind.physics is not None and field.key in kind.physics:
            choices = field.choices or units
            found.append(Field(f"physics.{field.key}", field.name, field.form, choices, field.default, field.why))
    found.append(Field("note", "note", TEXT, (), "", ""))
    return tuple(found)


RIG_FIELDS = (
    Field("loop", "one pass of its loop", QUANTITY, _TIMES, "10 ms", "Nothing is answered faster than that."),
    Field("at_end", "at the end outputs", CHOICE, ("keep", "stop"), "keep", "A motor that keeps on drives on."),
    Field("drive.wheel_diameter", "wheel diameter", QUANTITY, _LENGTHS, "", "Every way is worked out with it."),
    Field("drive.track_width", "track width", QUANTITY, _LENGTHS, "", "Every turn is worked out with it."),
    Field("calibration.prefers", "measures ways by", CHOICE, ("encoder", "time"), "what it has", "Unless a move says."),
    Field("calibration.surface", "calibrated on", TEXT, (), "", "On another ground the same move is another way."),
    Field("calibration.travel.power", "straight move, power", QUANTITY, _SHARES, "", ""),
    Field("calibration.travel.distance", "straight move, way", QUANTITY, _LENGTHS, "", ""),
    Field("calibration.travel.time", "straight move, time", QUANTITY, _TIMES, "", "Timed ways are worked out with it."),
    Field("calibration.turn.power", "turn, power", QUANTITY, _SHARES, "", ""),
    Field("calibration.turn.angle", "turn, angle", QUANTITY, _ANGLES, "", ""),
    Field("calibration.turn.time", "turn, time", QUANTITY, _TIMES, "", "Timed turns are worked out with it."),
    Field("calibration.ways", "ways that were measured", QUANTITIES, _LENGTHS, "", "Far outside nobody knows."),
    Field("calibration.angles", "turns that were measured", QUANTITIES, _ANGLES, "", "Far outside nobody knows."),
    Field("body.radius", "radius of the body", QUANTITY, _LENGTHS, "9 cm", "It bumps into things there."),
    Field("body.mass", "mass", QUANTITY, ("kg", "g"), "1 kg", "A heavy robot is slow to start and stop."),
    Field("body.grip", "grip of the tyres", QUANTITY, _SHARES, "70 %", "Without grip wheels spin."),
    Field("body.supply", "battery", QUANTITY, _SHARES, "100 %", "A flat battery makes everything slower."),
    Field("body.sag", "sags at full power", QUANTITY, _SHARES, "4 %", "Both motors at once get less."),
    Field("note", "note", TEXT, (), "", ""),
)  # fmt: skip
