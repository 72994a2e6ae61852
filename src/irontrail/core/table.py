"""What lies on the table beside the tape: patches, markers, zones, spots, shadows and glares.

Each has a place and a size; that of a spot is how nearly it is to be reached.
"""

from dataclasses import dataclass, replace
from typing import Any, Literal

from irontrail.core.errors import OutOfRangeError
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.tape import Patch, Spot, Zone
from irontrail.core.quantity import Part, quantities, value_at, with_value
from irontrail.core.setup import Setup

Kind = Literal["patch", "marker", "start", "finish", "shadow", "glare", "spot"]
KINDS: tuple[Kind, ...] = ("patch", "marker", "shadow", "glare", "start", "finish", "spot")
LEAST_MM = 10.0


@dataclass(frozen=True)
class Thing:
    """One thing on the table: what it is, and where in a setup it stands."""

    kind: Kind
    path: str


@dataclass(frozen=True)
class Box:
    """Where a thing lies: its middle, its whole width and height in mm, turned left by so many degrees."""

    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    turned_deg: float = 0.0


def things(setup: Setup) -> tuple[Thing, ...]:
    """All that lies on the table beside the tape, what is uppermost last."""
    mat, found = setup.mat, []
    for i, patch in enumerate(mat.patches):
        found.append(Thing("marker" if patch.over_line else "patch", f"mat.patches.{i}"))
    found += [Thing(kind, f"mat.{kind}") for kind in ("start", "finish") if getattr(mat, kind) is not None]
    for i, area in enumerate(setup.light.areas):
        found.append(Thing("shadow" if area.factor < 1.0 else "glare", f"light.areas.{i}"))
    found += [Thing("spot", f"mat.spots.{i}") for i in range(len(mat.spots))]
    return tuple(found)


def box_of(setup: Setup, thing: Thing) -> Box:
    """Where a thing lies and how large it is."""
    part = value_at(setup, thing.path)
    if isinstance(part, LightArea):
        return Box(part.x_mm, part.y_mm, 2.0 * part.half_width_mm, 2.0 * part.half_height_mm)
    if isinstance(part, Spot):
        return Box(part.x_mm, part.y_mm, 2.0 * part.within_mm, 2.0 * part.within_mm, part.heading_deg)
    turned = part.turned_deg if isinstance(part, Zone) else 0.0
    return Box(part.x_mm, part.y_mm, part.width_mm, part.height_mm, turned)


def placed(setup: Setup, thing: Thing, box: Box) -> Setup:
    """A setup with a thing laid elsewhere, or made larger or smaller, as far as it can be."""
    part: Part = value_at(setup, thing.path)
    wide, high = max(box.width_mm, LEAST_MM), max(box.height_mm, LEAST_MM)
    values: dict[str, Any] = {"x_mm": box.x_mm, "y_mm": box.y_mm}
    if isinstance(part, Spot):
        # Whichever side of its circle is drawn, both follow.
        before = 2.0 * part.within_mm
        wider = box.width_mm if abs(box.width_mm - before) >= abs(box.height_mm - before) else box.height_mm
        values |= {"within_mm": 0.5 * wider, "heading_deg": (box.turned_deg + 180.0) % 360.0 - 180.0}
    elif isinstance(part, LightArea):
        values |= {"half_width_mm": 0.5 * wide, "half_height_mm": 0.5 * high}
    else:
        values |= {"width_mm": wide, "height_mm": high}
    if isinstance(part, Zone):
        values["turned_deg"] = (box.turned_deg + 180.0) % 360.0 - 180.0
    ranges = quantities(type(part))
    held = {name: ranges[name].clamped(value) for name, value in values.items()}
    return with_value(setup, thing.path, replace(part, **held))


def laid(setup: Setup, kind: Kind, x_mm: float, y_mm: float) -> tuple[Setup, Thing]:
    """A setup with one more thing at a place, and that thing; a start or finish zone that is there moves.

    Raises
    ------
    OutOfRangeError
        If the table holds no more of the kind.
    """
    mat, light = setup.mat, setup.light
    if kind in ("start", "finish"):
        zone = getattr(mat, kind)
        zone = Zone(x_mm, y_mm, 120.0, 160.0) if zone is None else replace(zone, x_mm=x_mm, y_mm=y_mm)
        return with_value(setup, f"mat.{kind}", zone), Thing(kind, f"mat.{kind}")
    if kind in ("patch", "marker"):
        patch = Patch(x_mm, y_mm, 200.0, 150.0, "#7fb7d6")
        if kind == "marker":
            patch = Patch(x_mm, y_mm, 60.0, 120.0, "#ffffff", shine=1.6, over_line=True)
        made = replace(setup, mat=replace(mat, patches=(*mat.patches, patch)))
        return made, Thing(kind, f"mat.patches.{len(mat.patches)}")
    if kind == "spot":
        made = replace(setup, mat=replace(mat, spots=(*mat.spots, Spot(x_mm, y_mm))))
        return made, Thing(kind, f"mat.spots.{len(mat.spots)}")
    area = LightArea(x_mm, y_mm, 120.0, 90.0, 0.3 if kind == "shadow" else 2.5)
    made = replace(setup, light=replace(light, areas=(*light.areas, area)))
    return made, Thing(kind, f"light.areas.{len(light.areas)}")


def taken_away(setup: Setup, thing: Thing) -> Setup:
    """A setup without a thing."""
    parent, _, name = thing.path.rpartition(".")
    if not name.isdigit():
        return with_value(setup, thing.path, None)
    rest: tuple[Part, ...] = value_at(setup, parent)
    i = int(name)
    return with_value(setup, parent, rest[:i] + rest[i + 1 :])


def doubled(setup: Setup, thing: Thing, by_mm: float = 40.0) -> tuple[Setup, Thing]:
    """A setup with a thing once more, a little aside; OutOfRangeError for what there is only one of."""
    parent, _, name = thing.path.rpartition(".")
    if not name.isdigit():
        raise OutOfRangeError(f"a mat has one {thing.kind} zone", thing.path, "Drag it to where it should be.")
    rest: tuple[Any, ...] = value_at(setup, parent)
    other = Thing(thing.kind, f"{parent}.{len(rest)}")
    made = with_value(setup, parent, (*rest, rest[int(name)]))
    box = box_of(made, other)
    return placed(made, other, replace(box, x_mm=box.x_mm + by_mm, y_mm=box.y_mm - by_mm)), other
