"""The Saltmarsh team's mats: lamp oil goes from the boathouse to the light."""

from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Patch, Spot, Straight, Stroke, Wiggle, Zone

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


def orchard_straight() -> Mat:
    """A straight line through coloured beds, with a gap in the tape and a marker brighter than the mat at its end."""
    beds = (
        Patch(520.0, 500.0, 300.0, 520.0, "#cfe0b0"),
        Patch(1280.0, 500.0, 340.0, 520.0, "#f0d9c0"),
    )
    marker = Patch(1780.0, 500.0, 60.0, 160.0, "#ffffff", shine=1.6, over_line=True)
    line = Stroke(180.0, 500.0, 0.0, (Straight(700.0), Gap(12.0), Straight(888.0)))
    finish = Zone(1730.0, 500.0, 120.0, 220.0)
    return Mat("Orchard Straight", line, patches=(*beds, marker), finish=finish)


def ferry_fork() -> Mat:
    """A line that forks at the landing: goal 0 the north quay, goal 1 the south quay; a crossing before it."""
    stem = (Straight(420.0), Bend(400.0, 30.0), Bend(400.0, -30.0), Straight(160.0))
    north = Stroke(160.0, 400.0, 0.0, (*stem, Bend(260.0, 60.0), Bend(260.0, -60.0), Straight(320.0)))
    south = Stroke(160.0, 400.0, 0.0, (*stem, Bend(260.0, -60.0), Bend(260.0, 60.0), Straight(320.0)))
    ferry = Stroke(430.0, 150.0, 90.0, (Straight(500.0),), colour="#5a7f9c")
    return Mat("Ferry Fork", north, other_lines=(south, ferry))


def tannery_wiggle() -> Mat:
    """A felt-pen line with light borders on a tanned surface: wave after wave, from the yard to the drying loft."""
    pieces = (
        Straight(160.0), Wiggle(2, 150.0, 45.0), Straight(160.0),
        Bend(190.0, 180.0),
        Straight(120.0), Wiggle(3, 100.0, -50.0), Straight(200.0),
    )  # fmt: skip
    line = Stroke(
        300.0,
        280.0,
        0.0,
        pieces,
        width_mm=22.0,
        colour="#33302e",
        border_mm=14.0,
        border_colour="#f7f2e6",
        unevenness_mm=0.7,
    )
    return Mat(
        "Tannery Wiggle",
        line,
        colour="#d9bd93",
        start=Zone(340.0, 280.0, 130.0, 160.0),
        finish=Zone(330.0, 660.0, 130.0, 160.0),
    )


def lantern_quay() -> Mat:
    """From the boathouse to the quay: two lines cross, the second is the branch to the light; before it a cross line.

    The cross line has light borders, brighter than the mat, and lies over the branch.
    """
    quay = Stroke(430.0, 430.0, 0.0, (Straight(1000.0),))
    jetty = Stroke(760.0, 250.0, 90.0, (Straight(360.0),))
    branch = Stroke(1150.0, 200.0, 90.0, (Straight(400.0), Bend(170.0, -90.0), Straight(470.0)))
    stop = Stroke(1640.0, 670.0, 90.0, (Straight(200.0),), border_mm=28.0)
    lamp = Patch(1860.0, 770.0, 90.0, 150.0, "#e0b04a")
    return Mat(
        "Lantern Quay",
        quay,
        colour="#e9e5d8",
        patches=(lamp,),
        other_lines=(jetty, stop, branch),
        start=Zone(190.0, 250.0, 200.0, 180.0, 30.0),
        spots=(Spot(1566.0, 760.0, 0.0, 10.0, 4.0),),
    )


def rope_walk() -> Mat:
    """Out along the quay over three crossing ropes, sharply back, and home over two of them again."""
    pieces = (
        Straight(560.0), Bend(260.0, -40.0), Bend(260.0, 40.0), Straight(400.0),
        Bend(80.0, -180.0),
        Straight(520.0), Bend(200.0, 60.0), Bend(200.0, -60.0), Straight(300.0),
    )  # fmt: skip
    line = Stroke(150.0, 740.0, 0.0, pieces)
    ropes = (
        Stroke(420.0, 600.0, 90.0, (Straight(280.0),)),
        Stroke(1000.0, 340.0, 75.0, (Straight(420.0),)),
        Stroke(1190.0, 300.0, 105.0, (Straight(370.0),)),
    )
    return Mat("Rope Walk", line, other_lines=ropes)


def blank_mat() -> Mat:
    """A bare mat with the first strip of tape on it, to lay one's own from."""
    return Mat("My mat", Stroke(300.0, 500.0, 0.0, (Straight(400.0),)))


DEMO_MATS = {
    "lighthouse": lighthouse_loop,
    "quarry": quarry_switchback,
    "orchard": orchard_straight,
    "ferry": ferry_fork,
    "tannery": tannery_wiggle,
    "lantern": lantern_quay,
    "ropewalk": rope_walk,
}
