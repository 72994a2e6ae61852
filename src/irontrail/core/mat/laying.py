"""Laying tape: pieces of a stroke put in, taken out, turned round and dragged, and a circuit kept closed meanwhile."""

from dataclasses import dataclass, replace

import numpy as np

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.seal import sealed, spelled_out
from irontrail.core.mat.tape import Bend, Corner, Gap, Piece, Straight, Stroke, Wiggle
from irontrail.core.quantity import quantities

# What a hand snaps to.
GRID_MM = 10.0
GRID_DEG = 5.0
# A new piece of each kind, as it is first laid.
NEW_PIECES: dict[str, Piece] = {
    "straight": Straight(200.0),
    "bend": Bend(150.0, 90.0),
    "corner": Corner(90.0),
    "wiggle": Wiggle(2, 80.0, 45.0),
    "gap": Gap(20.0),
}


@dataclass(frozen=True)
class Snap:
    """Whole steps that a dragged length and angle land on; `FREE` for none."""

    length_mm: float = GRID_MM
    angle_deg: float = GRID_DEG

    def length(self, value: float) -> float:
        """The nearest whole length."""
        return round(value / self.length_mm) * self.length_mm

    def angle(self, value: float) -> float:
        """The nearest whole angle."""
        return round(value / self.angle_deg) * self.angle_deg


GRID = Snap()
FREE = Snap(0.1, 0.1)


# --- pieces


def inserted(stroke: Stroke, at: int, piece: Piece) -> Stroke:
    """A piece more, before the one at a place, or at the open end; a circuit closes anew around it."""
    pieces = spelled_out(stroke).pieces
    return sealed(replace(stroke, pieces=(*pieces[:at], piece, *pieces[at:])), at)


def removed(stroke: Stroke, at: int) -> Stroke:
    """A piece less; IronTrailError if it is the last one, or if the circuit cannot close without it."""
    if len(stroke.pieces) == 1:
        raise IronTrailError("a line needs at least one piece", "line", "Lay another piece before taking this one up.")
    pieces = spelled_out(stroke).pieces
    return sealed(replace(stroke, pieces=pieces[:at] + pieces[at + 1 :]), None)


def replaced(stroke: Stroke, at: int, piece: Piece) -> Stroke:
    """Another piece in the place of one."""
    pieces = spelled_out(stroke).pieces
    return sealed(replace(stroke, pieces=(*pieces[:at], piece, *pieces[at + 1 :])), at)


def reversed_stroke(stroke: Stroke) -> Stroke:
    """The same tape, laid from its other end."""
    x, y, heading = piece_joints(stroke)[-1] if not stroke.closed else piece_joints(stroke)[0]
    back = tuple(_backward(piece) for piece in reversed(stroke.pieces))
    return set_down(replace(stroke, pieces=back), x, y, float(np.degrees(heading)) + 180.0)


def _backward(piece: Piece) -> Piece:
    if isinstance(piece, Bend | Corner):
        return replace(piece, angle_deg=-piece.angle_deg)
    return replace(piece, swing_deg=-piece.swing_deg) if isinstance(piece, Wiggle) else piece


def opened(stroke: Stroke) -> Stroke:
    """A circuit with its ends let go."""
    return replace(stroke, closed=False)


def moved(stroke: Stroke, x_mm: float, y_mm: float) -> Stroke:
    """The whole stroke with its start elsewhere."""
    return set_down(stroke, x_mm, y_mm, stroke.heading_deg)


def turned(stroke: Stroke, heading_deg: float) -> Stroke:
    """The whole stroke turned about its start."""
    return set_down(stroke, stroke.x_mm, stroke.y_mm, heading_deg)


def set_down(stroke: Stroke, x_mm: float, y_mm: float, heading_deg: float) -> Stroke:
    """A stroke that begins somewhere else, as far as a mat reaches, and heads another way."""
    ranges = quantities(Stroke)
    heading = (heading_deg + 180.0) % 360.0 - 180.0
    return replace(
        stroke,
        x_mm=ranges["x_mm"].clamped(x_mm),
        y_mm=ranges["y_mm"].clamped(y_mm),
        heading_deg=round(heading, 9),
    )


# --- a hand on a joint


def drag_end(stroke: Stroke, at: int, x_mm: float, y_mm: float, snap: Snap = GRID) -> Stroke:
    """The end of a piece drawn towards a place, as far as that piece and the bend before it can follow.

    The end of a straight takes the bend or corner before it along; that of a straight which is the first of an open
    line turns the line. What comes after keeps its shape.
    """
    piece, before = stroke.pieces[at], stroke.pieces[at - 1] if at > 0 else None
    x, y, heading = piece_joints(stroke)[at]
    if isinstance(piece, Straight) and at == 0 and not stroke.closed:
        dx, dy = x_mm - x, y_mm - y
        away = replace(piece, length_mm=_length(snap.length(float(np.hypot(dx, dy))), piece))
        return turned(replaced(stroke, at, away), snap.angle(float(np.degrees(np.arctan2(dy, dx)))))
    if isinstance(piece, Straight) and isinstance(before, Bend | Corner):
        bent, far = _toward(before, piece_joints(stroke)[at - 1], x_mm, y_mm, snap)
        straight = replace(piece, length_mm=_length(snap.length(far), piece))
        pieces = (*stroke.pieces[: at - 1], bent, straight, *spelled_out(stroke).pieces[at + 1 :])
        return sealed(replace(stroke, pieces=pieces), at, at - 1)
    if isinstance(piece, Bend):
        return replaced(stroke, at, replace(piece, angle_deg=_angle_to(piece, (x, y, heading), x_mm, y_mm, snap)))
    if isinstance(piece, Corner):
        came = heading
        way = float(np.degrees(np.arctan2(y_mm - y, x_mm - x) - came))
        angle = _angle(snap.angle((way + 180.0) % 360.0 - 180.0), piece)
        return replaced(stroke, at, replace(piece, angle_deg=angle))
    along = (x_mm - x) * float(np.cos(heading)) + (y_mm - y) * float(np.sin(heading))
    if isinstance(piece, Wiggle):
        wave = 4.0 * piece.radius_mm * abs(float(np.sin(np.radians(piece.swing_deg))))
        waves = quantities(Wiggle)["waves"].clamped(round(along / max(wave, 1.0)))
        return replaced(stroke, at, replace(piece, waves=int(waves)))
    return replaced(stroke, at, replace(piece, length_mm=_length(snap.length(along), piece)))


def drag_middle(stroke: Stroke, at: int, x_mm: float, y_mm: float, snap: Snap = GRID) -> Stroke:
    """The middle of a bend, or the first crest of a wiggle, drawn towards a place: another radius, another swing."""
    piece = stroke.pieces[at]
    x, y, heading = piece_joints(stroke)[at]
    if isinstance(piece, Bend):
        # The middle moves along a ray from the bend's start as its radius grows.
        quarter = float(np.radians(piece.angle_deg)) / 4.0
        reach = 2.0 * abs(float(np.sin(quarter)))
        way = heading + quarter
        along = (x_mm - x) * float(np.cos(way)) + (y_mm - y) * float(np.sin(way))
        radius = snap.length(along / max(reach, 1e-3))
        return replaced(stroke, at, replace(piece, radius_mm=quantities(Bend)["radius_mm"].clamped(radius)))
    if isinstance(piece, Wiggle):
        aside = (y_mm - y) * float(np.cos(heading)) - (x_mm - x) * float(np.sin(heading))
        bow = 1.0 - abs(aside) / (2.0 * piece.radius_mm)
        swing = float(np.degrees(np.arccos(min(max(bow, -0.5), 1.0))))
        swing = max(snap.angle(swing), 1.0) * (1.0 if aside >= 0.0 else -1.0)
        return replaced(stroke, at, replace(piece, swing_deg=swing))
    return stroke


def middle_place(stroke: Stroke, at: int) -> tuple[float, float] | None:
    """Where `drag_middle` takes hold of a piece; None if it has no such place."""
    piece = stroke.pieces[at]
    x, y, heading = piece_joints(stroke)[at]
    if isinstance(piece, Bend):
        quarter = float(np.radians(piece.angle_deg)) / 4.0
        chord, way = 2.0 * piece.radius_mm * abs(float(np.sin(quarter))), heading + quarter
        return x + chord * float(np.cos(way)), y + chord * float(np.sin(way))
    if isinstance(piece, Wiggle):
        swing = float(np.radians(piece.swing_deg))
        along = 2.0 * piece.radius_mm * abs(float(np.sin(swing)))
        aside = 2.0 * piece.radius_mm * (1.0 - float(np.cos(swing))) * (1.0 if swing >= 0.0 else -1.0)
        c, s = float(np.cos(heading)), float(np.sin(heading))
        return x + along * c - aside * s, y + along * s + aside * c
    return None


def _toward(
    bent: Bend | Corner, start: tuple[float, float, float], x_mm: float, y_mm: float, snap: Snap
) -> tuple[Bend | Corner, float]:
    """A bend or corner turned so that the straight after it points at a place, and how far that place then is."""
    x, y, heading = start
    if isinstance(bent, Corner):
        dx, dy = x_mm - x, y_mm - y
        way = float(np.degrees(np.arctan2(dy, dx) - heading))
        angle = _angle(snap.angle((way + 180.0) % 360.0 - 180.0), bent)
        out = heading + float(np.radians(angle))
        return replace(bent, angle_deg=angle), dx * float(np.cos(out)) + dy * float(np.sin(out))
    return min((_tangent(bent, side, start, x_mm, y_mm, snap) for side in (1.0, -1.0)), key=lambda way: way[0])[1:]


def _tangent(
    bent: Bend, side: float, start: tuple[float, float, float], x_mm: float, y_mm: float, snap: Snap
) -> tuple[float, Bend, float]:
    """How far a bend to one side turns (rad) till its tangent meets a place; that bend, and the place's distance."""
    x, y, heading = start
    radius = bent.radius_mm
    cx, cy = x - side * radius * float(np.sin(heading)), y + side * radius * float(np.cos(heading))
    dx, dy = x_mm - cx, y_mm - cy
    far = float(np.sqrt(max(dx * dx + dy * dy - radius * radius, 0.0)))
    out = float(np.arctan2(dy, dx)) - float(np.arctan2(-side * radius, far))
    turn = side * (out - heading) % (2.0 * np.pi)
    angle = _angle(snap.angle(side * float(np.degrees(turn))), bent)
    out = heading + float(np.radians(angle))
    end_x, end_y = cx + side * radius * float(np.sin(out)), cy - side * radius * float(np.cos(out))
    along = (x_mm - end_x) * float(np.cos(out)) + (y_mm - end_y) * float(np.sin(out))
    return turn, replace(bent, angle_deg=angle), along


def _angle_to(bent: Bend, start: tuple[float, float, float], x_mm: float, y_mm: float, snap: Snap) -> float:
    """By how much a bend turns if it ends where a ray from its centre through a place leaves it."""
    x, y, heading = start
    side = 1.0 if bent.angle_deg >= 0.0 else -1.0
    cx, cy = x - side * bent.radius_mm * float(np.sin(heading)), y + side * bent.radius_mm * float(np.cos(heading))
    out = float(np.arctan2(y_mm - cy, x_mm - cx)) + side * 0.5 * np.pi
    turn = side * (out - heading) % (2.0 * np.pi)
    # A hand a little behind the start means hardly any bend, not nearly a whole turn, unless it came that way.
    if turn > np.pi and abs(turn - abs(np.radians(bent.angle_deg))) > np.pi:
        turn = 0.0
    return _angle(snap.angle(side * float(np.degrees(turn))), bent)


def _angle(value: float, piece: Bend | Corner) -> float:
    """An angle inside the range of a piece, never quite 0."""
    limit = quantities(type(piece))["angle_deg"]
    least = 1.0 if piece.angle_deg >= 0.0 else -1.0
    return limit.clamped(value) if abs(value) >= 1.0 else least


def _length(value: float, piece: Straight | Gap) -> float:
    return quantities(type(piece))["length_mm"].clamped(value)


def in_words(piece: Piece) -> str:
    """A piece's measures, short enough to stand beside it."""

    def turn(angle: float) -> str:
        return f"{abs(angle):.4g}° {'left' if angle >= 0.0 else 'right'}"

    if isinstance(piece, Bend):
        return f"R {piece.radius_mm:.4g} mm, {turn(piece.angle_deg)}"
    if isinstance(piece, Corner):
        return f"corner {turn(piece.angle_deg)}"
    if isinstance(piece, Wiggle):
        return f"{piece.waves} waves, R {piece.radius_mm:.4g} mm, {abs(piece.swing_deg):.4g}°"
    return f"{'gap ' if isinstance(piece, Gap) else ''}{piece.length_mm:.4g} mm"
