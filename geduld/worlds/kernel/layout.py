"""Where things stand in the kernel's arrays. Lengths in m, angles in rad, times in s, instants in ticks (us).

`k` holds whole numbers, `f` what changes, `w` what stays. Blocks of `f` and `w` are tables: `k` has their start and
their number of rows, the width is here.
"""

# k: the clock, counts, and where blocks begin
(
    TICK, ROWS, EVENTS, INPUT, TOUCH, CONTACTS, GRID_ROWS, STILL, STEP, PERIOD, MOST_ROWS, MOST_EVENTS,
    CONTROL_PERIOD, MOTORS, SENSORS, THINGS, DERIVED, TOUCHES,
    BODY, SEGMENTS, CIRCLES, AREAS, VERTICES, LAMPS, NOISE, INPUTS, INPUT_MAP, LOADS, RESTS,
) = range(29)  # fmt: skip
# STILL is nothing, or one more than the instant since which the robot and all around it stand still.
# So many at the front of k change as the world goes on.
CHANGING = 8
# The number of rows of a block stands this far behind its start.
COUNT = 32
K_SIZE = 64

# f: the robot and the place it stands on
(
    X, Y, HEADING, CLEAR, PUSH, NEXT_X, NEXT_Y, NEXT_HEADING, VOLTAGE, TRAVEL, TURN, ROLLING, SLOPE_X, SLOPE_Y,
    MASS, GRIP, SUPPLY, SAG, RADIUS, WHEEL, TRACK, AMBIENT, REACH, BASE_TRAVEL, BASE_TURN, BASE_ROLLING, BASE_TONE,
    PUSHED,
) = range(28)  # fmt: skip
F_HEAD = 32

# a motor
(
    W, ANGLE, COMMAND, CONTROL, APPLIED, WANTED, STALLED, FULL, DEAD, LAG, TORQUE, GAIN, COUNTS, WRAP, RATE, SIDE,
    ANGLE_COLUMN, SPEED_COLUMN, LAST_ANGLE, COASTS, NEXT_W, MEAN, GROUND, GROUND_W, ACTIVE, PASSIVE, LAST_CONTROL,
    TURNED_COLUMN, LOAD, LEVEL_AT, GEAR, STOP_LOW, STOP_HIGH, END_LOW, END_HIGH, HANGS,
) = range(36)  # fmt: skip
MOTOR = 36

# a sensor
(
    KIND, COLUMN, AHEAD, LEFT, FACING, CONE, LEAST, GREATEST, RESOLUTION, GRAZING, NOISY, EVERY, SPOT, RAIL_FROM,
    RAIL_TO, BOUNCE, VALUE, CLOSED_AT, NOISE_ROW, SECOND, THIRD, PERCENT, PULL, AT_MOTOR, LOOKS, AT_REST,
) = range(26)  # fmt: skip
SENSOR = 26
RANGE, LIGHT, TONE, TILT, BUMP, HUE, LIMIT, REFLEX, CURRENT, BATTERY = range(10)

# a load that a motor lifts while another grips it: the motors (-1: none), where it lies (angles of what they move,
# rad), and while it is held how far it lies from where they stand
(
    LIFTED_BY, GRIPPED_BY, ASIDE_1, ASIDE_2, GRIPS_AT, PULLS, WITHIN, HELD, LIES_UP, LIES_1, LIES_2, OFF_UP, OFF_1,
    OFF_2, REACHED, LOAD_COLUMN,
) = range(16)  # fmt: skip
LOADED = 16
# where a load can be put down: which, and the angles there (NaN: at any)
REST_OF, REST_UP, REST_1, REST_2 = range(4)
REST = 4
LOAD_COLUMNS = 4  # held, and where it lies

# a thing: walls share number 0; a hand is a thing that only range sensors notice
THING_X, THING_Y, MOVABLE, FORCE, X_COLUMN, Y_COLUMN, BASE_X, BASE_Y, GHOST = range(9)
THING = 9

# a derived channel
HOW, SOURCE, TARGET, KNOWN, SO_FAR = range(5)
DERIVED_WIDTH = 5
PRESSES, RELEASES, MESSAGES = range(3)

# a place where body and thing touch, seen from the robot: where, the way out, how far apart, whether the thing gives
POINT_X, POINT_Y, OUT_X, OUT_Y, GAP, GIVES = range(6)
TOUCH_WIDTH, MOST_TOUCHES = 6, 16

# w: segments (x1, y1, x2, y2, thing), circles (x, y, radius, thing), corners of the body and of areas (x, y),
# lamps (x, y, height, light), what each column of the inputs sets (how, index)
SEGMENT, CIRCLE, CORNER, LAMP, INPUT_MAP_WIDTH = 5, 4, 2, 4, 2
# an area: what it is, its shape, first corner, number of corners, size, three values
AREA_KIND, SHAPE, FIRST, CORNERS, SIZE, VALUE_1, VALUE_2, VALUE_3 = range(8)
AREA = 8
SURFACE, GROUND_TONE, RAMP, PAINT = range(4)
ROUND, POLYGON, LINE = range(3)
TO_CHANNEL, TO_THING_X, TO_THING_Y = range(3)

# a row of the table of samples begins with the pose
ROW_X, ROW_Y, ROW_HEADING = range(3)
ROW_HEAD = 3
# an event: tick, kind, x, y, which thing or motor
CONTACT, STALL, END, GRIPPED, PUT_DOWN, DROP = range(6)
EVENT = 5

# ways to control a motor, as in geduld.run.program.requests
BY_POWER, BY_SPEED, BY_BRAKE, BY_COAST = range(4)

GRAVITY = 9.81
SKIN = 1e-9  # how deep bodies may overlap by rounding
TOUCHING = 2e-6  # how near a body must be to a thing to push against it
RELEASE = 5e-4  # how far a bump rail must be away to open again
CONTACT_STEP = 1000  # in contact the world moves in steps of 1 ms
STALL_TIME = 0.3
