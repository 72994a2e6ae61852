"""What a mat asks of a robot: how long, how tight, how much of it straight."""

from dataclasses import dataclass

from irontrail.core.mat.route import Route


@dataclass(frozen=True)
class Demands:
    """Figures of a route for a robot on one edge of it.

    `tightest_mm` is the smallest radius of the followed edge, 0 at a corner; infinite without bends.
    """

    length_mm: float
    bends: int
    corners: int
    straight_share: float
    tightest_mm: float
    tightest_bend: str


def demands(route: Route, tape_mm: float, left_edge: bool) -> Demands:
    """The demands of a route, followed along its left or right edge.

    The edge on the inside of a bend is tighter than the tape's middle by half its width, the one on the outside
    wider by as much.
    """
    tightest, name = float("inf"), ""
    for bend in route.bends:
        inside = bend.turns_left == left_edge
        radius = max(bend.radius_mm + (-0.5 if inside else 0.5) * tape_mm, 0.0) if bend.radius_mm > 0.0 else 0.0
        if radius < tightest:
            tightest, name = radius, bend.name
    bent = sum(bend.end_mm - bend.start_mm for bend in route.bends)
    corners = sum(bend.radius_mm == 0.0 for bend in route.bends)
    straight = 1.0 - bent / route.length_mm
    return Demands(route.length_mm, len(route.bends) - corners, corners, straight, tightest, name)
