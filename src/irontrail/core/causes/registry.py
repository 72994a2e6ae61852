"""Every supposition, a line each; which of them is said does not depend on their order."""

from irontrail.core.causes.supposition import Supposition
from irontrail.core.causes.suppositions.ahead import AHEAD
from irontrail.core.causes.suppositions.aside import ASIDE
from irontrail.core.causes.suppositions.asleep import ASLEEP
from irontrail.core.causes.suppositions.battery import BATTERY
from irontrail.core.causes.suppositions.calibration import CALIBRATION
from irontrail.core.causes.suppositions.contrast import CONTRAST
from irontrail.core.causes.suppositions.dead_band import DEAD_BAND
from irontrail.core.causes.suppositions.delay import DELAY
from irontrail.core.causes.suppositions.derivative import DERIVATIVE
from irontrail.core.causes.suppositions.ease_off import EASE_OFF
from irontrail.core.causes.suppositions.edge import EDGE
from irontrail.core.causes.suppositions.finish import FINISH
from irontrail.core.causes.suppositions.gain_high import GAIN_HIGH
from irontrail.core.causes.suppositions.gain_low import GAIN_LOW
from irontrail.core.causes.suppositions.gap import GAP
from irontrail.core.causes.suppositions.grip import GRIP
from irontrail.core.causes.suppositions.hand import HAND
from irontrail.core.causes.suppositions.height import HEIGHT
from irontrail.core.causes.suppositions.held import HELD
from irontrail.core.causes.suppositions.integral import INTEGRAL
from irontrail.core.causes.suppositions.lamp import LAMP
from irontrail.core.causes.suppositions.line import LINE
from irontrail.core.causes.suppositions.loop import LOOP
from irontrail.core.causes.suppositions.mixing import MIXING
from irontrail.core.causes.suppositions.motors import MOTORS
from irontrail.core.causes.suppositions.names import NAMES
from irontrail.core.causes.suppositions.no_room import NO_ROOM
from irontrail.core.causes.suppositions.noise import NOISE
from irontrail.core.causes.suppositions.other_lines import OTHER_LINES
from irontrail.core.causes.suppositions.parts_order import PARTS_ORDER
from irontrail.core.causes.suppositions.power_step import POWER_STEP
from irontrail.core.causes.suppositions.powers import POWERS
from irontrail.core.causes.suppositions.reading_step import READING_STEP
from irontrail.core.causes.suppositions.sensor_lag import SENSOR_LAG
from irontrail.core.causes.suppositions.set_down import SET_DOWN
from irontrail.core.causes.suppositions.shadow import SHADOW
from irontrail.core.causes.suppositions.speed import SPEED
from irontrail.core.causes.suppositions.stop import STOP
from irontrail.core.causes.suppositions.target import TARGET
from irontrail.core.causes.suppositions.time_limit import TIME_LIMIT
from irontrail.core.causes.suppositions.uneven import UNEVEN
from irontrail.core.causes.suppositions.unfiltered import UNFILTERED
from irontrail.core.causes.suppositions.wheels import WHEELS

SUPPOSITIONS: tuple[Supposition, ...] = (
    LINE,
    POWERS,
    STOP,
    TIME_LIMIT,
    SET_DOWN,
    HAND,
    CALIBRATION,
    TARGET,
    LAMP,
    NAMES,
    CONTRAST,
    NOISE,
    READING_STEP,
    HEIGHT,
    AHEAD,
    ASIDE,
    SHADOW,
    LOOP,
    HELD,
    DELAY,
    SENSOR_LAG,
    MOTORS,
    BATTERY,
    WHEELS,
    GRIP,
    DEAD_BAND,
    POWER_STEP,
    GAP,
    OTHER_LINES,
    UNEVEN,
    DERIVATIVE,
    INTEGRAL,
    MIXING,
    EASE_OFF,
    GAIN_LOW,
    GAIN_HIGH,
    SPEED,
    EDGE,
    PARTS_ORDER,
    UNFILTERED,
    FINISH,
    ASLEEP,
    NO_ROOM,
)
