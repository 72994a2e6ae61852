"""What a listing does beside driving, whatever its language: what is calibrated and how, and what the log keeps."""

from dataclasses import dataclass
from math import ceil

from irontrail.core.listing.robot import Options
from irontrail.core.listing.source import Source
from irontrail.core.setup import Setup
from irontrail.core.steering.listed import Number

# How far a sweep takes the sensor to either side, and the least power for it.
SWEEP_MM = 40.0
LEAST_SWEEP_POWER = 20.0
LOG_ROWS = 2000
# What the calls of the team's own functions are, by what they tell.
READS = {
    "light": "read_light()", "second_light": "read_second_light()", "now": "now", "left_rolled": "left_rolled()",
    "right_rolled": "right_rolled()", "pressed": "button()", "at_finish": "at_finish()",
}  # fmt: skip


@dataclass(frozen=True)
class Calibrated:
    """A sensor that is calibrated.

    How its names end, what reads its light as its numbers are, what was found for dark and for bright, and what is told
    if they are alike.
    """

    end: str
    raw: str
    dark: str
    bright: str
    no_difference: str


@dataclass(frozen=True)
class Beside:
    """What goes with the program.

    `sensors`: those that are calibrated. `over`: what to hold them over for the dark and for the bright reading.
    `columns`: of the log, by name what each is.
    """

    numbers: tuple[Number, ...]
    sensors: tuple[Calibrated, ...]
    over: tuple[tuple[str, str], ...]
    lights: tuple[str, ...]
    columns: dict[str, str]


def beside(setup: Setup, made: Source, options: Options) -> Beside:
    """What goes with a program by what is asked for."""
    lights = tuple(name for name in made.inputs if name in ("light", "second_light")) or ("light",)
    calibrates = options.calibrate != "no" and made.calibrates
    calibrated = tuple(_calibrated(setup, name, len(lights) > 1, options) for name in lights) if calibrates else ()
    columns = {"time_s": "now"} | {name: name for name in lights}
    columns |= {"left_power": "left_power", "right_power": "right_power"}
    columns |= {"left_mm": READS["left_rolled"], "right_mm": READS["right_rolled"]} if options.wheels else {}
    dark, bright = ("the line", "the mat") if setup.program.line == "dark" else ("the mat", "the line")
    return Beside(
        numbers=(*(_sweep(setup) if calibrated and options.calibrate == "by a sweep" else ()), *_log(options)),
        sensors=calibrated,
        over=(("DARK", dark), ("BRIGHT", bright)),
        lights=lights,
        columns=columns if options.log else {},
    )


def _calibrated(setup: Setup, light: str, of_two: bool, options: Options) -> Calibrated:
    second = light == "second_light"
    sensor, end = setup.seen_by("second" if second else "first").light.sensor, "_2" if second else ""
    raw = f"{READS[light]} * RAW_PER_COUNT{end}" if sensor.scale == "counts" else READS[light]
    who = f"The {'second' if second else 'first'} sensor" if of_two else "It"
    # A sweep finds the extremes: which is which is the sensor's to say.
    low, high = ("dark", "bright") if options.calibrate == "by hand" else ("low", "high")
    if options.calibrate == "by a sweep" and sensor.reads_high_on == "dark":
        low, high = high, low
    return Calibrated(end, raw, low + end, high + end, f"{who} saw no difference: its numbers stay as they are.")


def _sweep(setup: Setup) -> tuple[Number, ...]:
    """The power and time that take the sensor, of two the nearer, `SWEEP_MM` aside by turning on the spot."""
    drive = setup.robot.drive
    ahead = min(abs(setup.seen_by(which).robot.mount.ahead_mm) for which in setup.sensors)
    power = drive.power_step * ceil(max(LEAST_SWEEP_POWER, drive.dead_band + 5.0) / drive.power_step)
    angle = min(SWEEP_MM / max(ahead, 1.0), 1.0)
    rim = drive.top_speed_mm_s * drive.battery * power / 100.0
    time = angle * 0.5 * drive.track_width_mm / rim + drive.response_time_s
    return (
        Number("SWEEP_POWER", min(power, 100.0), "power of a sweep, %"),
        Number(
            "SWEEP_TIME", float(f"{time:.3g}"), f"time of a sweep to one side, s: about {SWEEP_MM:.0f} mm at the sensor"
        ),
    )


def _log(options: Options) -> tuple[Number, ...]:
    says = "decisions that the log has room for; fewer if memory is short"
    return (Number("LOG_ROWS", LOG_ROWS, says),) if options.log else ()
