"""The Saltmarsh team's mats: lamp oil goes from the boathouse to the light."""

from irontrail.core.mat.tape import Bend, Corner, Mat, Straight, Stroke

# The Loop's hump on the south side: two 40 degree bends of 300 mm and one of 80 degrees between them span
# 4 * 300 * sin(40 deg) = 771.345 mm; the straight after it takes up the rest.
_HUMP_MM = 771.345


def lighthouse_loop() -> Mat:
    """A closed circuit: straights, open bends of 300 mm and a harbour of four tight ones, 80 to 120 mm."""
    pieces = (
        Straight(180.0),
        Bend(300.0, 40.0), Bend(300.0, -80.0), Bend(300.0, 40.0),
        Straight(1580.0 - 640.0 - _HUMP_MM),
        Bend(300.0, 90.0), Straight(160.0), Bend(300.0, 90.0),
        Straight(200.0),
        Bend(100.0, 90.0), Straight(140.0), Bend(120.0, -90.0),
        Straight(260.0),
        Bend(80.0, -90.0), Straight(180.0), Bend(100.0, 90.0),
        Straight(300.0),
        Bend(300.0, 90.0), Straight(160.0), Bend(300.0, 90.0),
        Straight(40.0),
    )  # fmt: skip
    return Mat("Lighthouse Loop", Stroke(460.0, 120.0, 0.0, pieces, closed=True))


def quarry_switchback() -> Mat:
    """An open line up the quarry wall: hairpins of 70 to 90 mm, square corners and two blunt ones."""
    pieces = (
        Straight(1340.0),
        Bend(90.0, 180.0),
        Straight(900.0),
        Corner(-90.0), Straight(170.0), Corner(-90.0),
        Straight(560.0),
        Corner(45.0), Straight(110.0), Corner(45.0),
        Straight(60.0),
        Bend(110.0, 90.0),
        Straight(400.0),
        Bend(80.0, -90.0), Straight(20.0), Bend(80.0, 90.0),
        Straight(330.0),
        Bend(70.0, 180.0),
        Straight(120.0),
        Corner(-60.0), Straight(170.0), Corner(60.0),
        Straight(240.0),
    )  # fmt: skip
    return Mat("Quarry Switchback", Stroke(300.0, 120.0, 0.0, pieces))


DEMO_MATS = {"lighthouse": lighthouse_loop, "quarry": quarry_switchback}
