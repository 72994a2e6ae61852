"""Tape as people lay it: strokes made of straights, bends and corners, on a mat."""

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Predicate

from irontrail.core.errors import OutOfRangeError
from irontrail.core.mat.surface import SURFACES, SurfaceName
from irontrail.core.plain import Name, keep_plain
from irontrail.core.quantity import Part, Quantity


def is_colour(text: str) -> bool:
    """Whether a text is an sRGB colour such as #2a2b2d."""
    return re.fullmatch("#[0-9a-fA-F]{6}", text) is not None


Colour = Annotated[str, Predicate(is_colour)]


def check_colour(colour: str, where: str) -> None:
    """OutOfRangeError if a text is not a colour."""
    if not is_colour(colour):
        raise OutOfRangeError(f"'{colour}' is not a colour", where, "Write it like #2a2b2d.")


@dataclass(frozen=True)
class Straight(Part):
    """A straight piece of tape."""

    length_mm: Annotated[float, Quantity("length", "mm", 1.0, 10_000.0, 10.0, says="How long the straight is.")]
    kind: Literal["straight"] = "straight"


@dataclass(frozen=True)
class Bend(Part):
    """An arc; a positive angle turns left, seen in the stroke's own direction."""

    radius_mm: Annotated[
        float,
        Quantity(
            "radius",
            "mm",
            10.0,
            5_000.0,
            5.0,
            says="How wide the bend is: the distance from its middle point to the line.",
        ),
    ]
    angle_deg: Annotated[
        float, Quantity("angle", "°", -360.0, 360.0, 5.0, says="How far it turns; to the left is more than 0.")
    ]
    kind: Literal["bend"] = "bend"


@dataclass(frozen=True)
class Corner(Part):
    """A change of direction on the spot, as where two pieces of tape meet; positive turns left."""

    angle_deg: Annotated[
        float, Quantity("angle", "°", -170.0, 170.0, 5.0, says="How far it turns; to the left is more than 0.")
    ]
    kind: Literal["corner"] = "corner"


@dataclass(frozen=True)
class Gap(Part):
    """A stretch of the way, straight on, where no tape lies."""

    length_mm: Annotated[float, Quantity("gap", "mm", 1.0, 1000.0, 5.0, says="How long a stretch has no tape.")]
    kind: Literal["gap"] = "gap"


@dataclass(frozen=True)
class Wiggle(Part):
    """Waves about a straight line: arcs that swing to `swing_deg` either side of it, to the left first if positive.

    It ends on the line it began on, heading as it began.
    """

    waves: Annotated[int, Quantity("waves", "", 1, 40, 1, says="How many waves there are.")]
    radius_mm: Annotated[
        float,
        Quantity(
            "radius",
            "mm",
            10.0,
            2_000.0,
            5.0,
            says="How wide the bend is: the distance from its middle point to the line.",
        ),
    ]
    swing_deg: Annotated[float, Quantity("swing", "°", -120.0, 120.0, 5.0, says="How far each wave turns aside.")]
    kind: Literal["wiggle"] = "wiggle"

    @property
    def bends(self) -> tuple[Bend, ...]:
        """The arcs it is made of: half a swing, whole ones to and fro, and half a one at the end."""
        whole = tuple(
            Bend(self.radius_mm, self.swing_deg * (-2.0 if i % 2 == 0 else 2.0)) for i in range(2 * self.waves - 1)
        )
        return (Bend(self.radius_mm, self.swing_deg), *whole, Bend(self.radius_mm, self.swing_deg))


Piece = Straight | Bend | Corner | Wiggle | Gap
MAX_PATCHES = 32
MAX_OTHER_LINES = 16
MAX_SPOTS = 12


@dataclass(frozen=True)
class Stroke(Part):
    """One line of tape: a start and the pieces laid on from there.

    A closed stroke ends where it starts; what little is missing is laid as a straight. A border, if there is one, lies
    along both sides under the tape. `unevenness_mm` is how far each edge of a felt-pen line wanders, RMS.
    """

    x_mm: Annotated[float, Quantity("start x", "mm", 0.0, 10_000.0, 10.0, says="Where the line starts, from the left.")]
    y_mm: Annotated[
        float, Quantity("start y", "mm", 0.0, 10_000.0, 10.0, says="Where the line starts, from the bottom.")
    ]
    heading_deg: Annotated[
        float,
        Quantity("heading", "°", -360.0, 360.0, 5.0, says="Which way the line sets out: 0 is to the right, 90 is up."),
    ]
    pieces: tuple[Piece, ...]
    closed: bool = False
    width_mm: Annotated[float, Quantity("tape width", "mm", 4.0, 80.0, 1.0, says="How wide the tape is.")] = 20.0
    colour: Colour = "#2a2b2d"
    border_mm: Annotated[
        float,
        Quantity(
            "border", "mm", 0.0, 60.0, 1.0, says="How wide a rim of another colour runs along both sides of the tape."
        ),
    ] = 0.0
    border_colour: Colour = "#ffffff"
    unevenness_mm: Annotated[
        float,
        Quantity(
            "unevenness", "mm", 0.0, 6.0, 0.1, 1.0, 1, says="How wavy the tape's edges are, as if drawn by a pen."
        ),
    ] = 0.0
    unevenness_seed: Annotated[
        int, Quantity("unevenness seed", "", 0, 2**31 - 1, 1, says="Another number here gives other waves.")
    ] = 1

    def __post_init__(self) -> None:
        super().__post_init__()
        check_colour(self.colour, "Stroke.colour")
        check_colour(self.border_colour, "Stroke.border_colour")


@dataclass(frozen=True)
class Patch(Part):
    """A coloured rectangle on the mat: a printed surround, or a marker; `shine` above 1 gives back more than white.

    It lies under the line unless it is said to lie over it.
    """

    x_mm: Annotated[float, Quantity("middle x", "mm", 0.0, 4000.0, 10.0, says="Where its middle lies, from the left.")]
    y_mm: Annotated[
        float, Quantity("middle y", "mm", 0.0, 4000.0, 10.0, says="Where its middle lies, from the bottom.")
    ]
    width_mm: Annotated[float, Quantity("width", "mm", 1.0, 4000.0, 10.0, says="How wide it is.")]
    height_mm: Annotated[float, Quantity("height", "mm", 1.0, 4000.0, 10.0, says="How high it is.")]
    colour: Colour = "#7fb7d6"
    shine: Annotated[
        float,
        Quantity(
            "shine", "", 1.0, 3.0, 0.1, 1.0, 1, says="How much it shines: more gives back more of the room's light."
        ),
    ] = 1.0
    over_line: bool = False

    def __post_init__(self) -> None:
        super().__post_init__()
        check_colour(self.colour, "Patch.colour")


@dataclass(frozen=True)
class Zone(Part):
    """A marked rectangle on the mat, turned to the left about its middle."""

    x_mm: Annotated[float, Quantity("middle x", "mm", 0.0, 4000.0, 10.0, says="Where its middle lies, from the left.")]
    y_mm: Annotated[
        float, Quantity("middle y", "mm", 0.0, 4000.0, 10.0, says="Where its middle lies, from the bottom.")
    ]
    width_mm: Annotated[float, Quantity("width", "mm", 10.0, 2000.0, 10.0, says="How wide it is.")]
    height_mm: Annotated[float, Quantity("height", "mm", 10.0, 2000.0, 10.0, says="How high it is.")]
    turned_deg: Annotated[
        float, Quantity("turned", "°", -180.0, 180.0, 5.0, says="By how much it is turned to the left.")
    ] = 0.0


@dataclass(frozen=True)
class Spot(Part):
    """A place to be reached: where the middle of the axle is to stand, which way the robot is to point, how nearly."""

    x_mm: Annotated[
        float, Quantity("x", "mm", 0.0, 4000.0, 10.0, says="Where the axle's middle is to be, from the left.")
    ]
    y_mm: Annotated[
        float, Quantity("y", "mm", 0.0, 4000.0, 10.0, says="Where the axle's middle is to be, from the bottom.")
    ]
    heading_deg: Annotated[
        float,
        Quantity(
            "points to", "°", -180.0, 180.0, 5.0, says="Which way the robot is to point: 0 is to the right, 90 is up."
        ),
    ] = 0.0
    within_mm: Annotated[
        float, Quantity("within", "mm", 1.0, 300.0, 1.0, says="How far off it may stand and still count.")
    ] = 20.0
    within_deg: Annotated[
        float, Quantity("within", "°", 1.0, 180.0, 1.0, says="How far turned it may stand and still count.")
    ] = 10.0


@dataclass(frozen=True)
class Mat(Part):
    """A surface with a line of tape to follow, and what else lies on it: patches and other lines.

    Other lines cross the line or fork off from it; each is laid from its own start, a fork's along the common way, and
    `goal` says which one is to be followed (0: the line itself).

    A run starts at the start zone where there is one, or else at the line's beginning. It is finished when the sensor
    comes into the finish zone (on a closed line for the last of its laps); where there is none, when a closed line has
    been driven round, or the sensor has come to within `zone_mm` of an open line's far end. Spots are to be reached
    where a leg of a trip ends.
    """

    name: Name
    line: Stroke
    width_mm: Annotated[float, Quantity("width", "mm", 200.0, 4_000.0, 50.0, says="How wide it is.")] = 2000.0
    height_mm: Annotated[float, Quantity("height", "mm", 200.0, 4_000.0, 50.0, says="How high it is.")] = 1000.0
    colour: Colour = "#f3f1ea"
    surface: SurfaceName = "paper"
    zone_mm: Annotated[
        float, Quantity("finish zone", "mm", 10.0, 500.0, 10.0, says="How near to its end the line counts as finished.")
    ] = 60.0
    patches: tuple[Patch, ...] = ()
    other_lines: tuple[Stroke, ...] = ()
    goal: Annotated[int, Quantity("goal", "", 0, 16, 1, says="Which of the lines is to be followed.")] = 0
    start: Zone | None = None
    finish: Zone | None = None
    spots: tuple[Spot, ...] = ()

    def __post_init__(self) -> None:
        super().__post_init__()
        keep_plain(self, "name")
        check_colour(self.colour, "Mat.colour")
        for name, most in (("patches", MAX_PATCHES), ("other_lines", MAX_OTHER_LINES), ("spots", MAX_SPOTS)):
            if len(getattr(self, name)) > most:
                raise OutOfRangeError(f"{len(getattr(self, name))} are more than {most}", f"Mat.{name}")
        if self.goal > len(self.other_lines):
            raise OutOfRangeError(
                f"there is no line {self.goal}", "Mat.goal", f"0 to {len(self.other_lines)} are there."
            )

    @property
    def gloss(self) -> float:
        """How much of the room's light under the sensor comes back whatever the colour; see `surface.py`."""
        return SURFACES[self.surface].gloss

    @property
    def lines(self) -> tuple[Stroke, ...]:
        """All lines, the first being the one that goal 0 follows."""
        return (self.line, *self.other_lines)

    @property
    def followed(self) -> Stroke:
        """The line to the goal."""
        return self.lines[self.goal]
