"""The card as a page."""

from PySide6.QtGui import QTextDocument

from irontrail.app.pages import paper
from irontrail.app.pages.mat import mat_picture
from irontrail.core import shaking
from irontrail.core.capital import capital
from irontrail.core.pit.card import Card
from irontrail.core.pit.setting_down import Placing, WheelCheck, set_down

# The mat's picture takes this share of the page's width.
MAT_SHARE, LETTERS = 0.40, 0.62
# Numbers in a row.
ACROSS = 4


def page_of(card: Card, size_mm: tuple[float, float]) -> QTextDocument:
    """A card on one page; IronTrailError if it holds more than that."""
    inner = (size_mm[0] - 2 * paper.MARGIN_MM) * paper.DOTS_PER_INCH / paper.MM_PER_INCH
    picture = mat_picture(card.setup, [], MAT_SHARE * inner, LETTERS)
    # Letters are as large as the page lets them be: those of a sheet of A5 are 8 points.
    large = size_mm[0] / paper.PAPERS["A5"][0]
    rows = [card.numbers[i : i + ACROSS] for i in range(0, len(card.numbers), ACROSS)]

    def fill(scale: float) -> str:
        return paper.filled(
            "card.html",
            card=card,
            rows=rows,
            across=ACROSS,
            mat=picture,
            set_down=set_down(card.setup),
            placing=in_words(card.placing) if card.placing is not None else "",
            wheels=check_words(card.wheels) if card.wheels is not None else "",
            shaken=f"Each start is shaken: {shaking.in_words(card.setup.trial.shaken)}.",
            powers=card.setup.program.chosen.gives == "powers" or card.setup.program.trip is not None,
            pt=lambda points: f"{points * scale * large:.2f}pt",
        )

    return paper.on_one_page(fill, size_mm)


def in_words(placing: Placing) -> str:
    """How exactly the robot is to be set down, in a sentence."""

    def reach(most: float | None, unit: str, what: str, tried: str) -> str:
        if most is None:
            return f"{what} by {tried}{unit} it still came through"
        return f"{what} up to {most:.0f}{unit}" if most > 0.0 else f"{what} as exactly as you can"

    off = reach(placing.off_mm, " mm", "aside", "40")
    turned = reach(placing.turned_deg, "°", "turned", "40")
    return f"{capital(off)}; {turned} ({placing.starts} starts a step, to either side)."


def check_words(check: WheelCheck) -> str:
    """What to look for when both wheels are given one power, in a sentence."""
    says = f"Both wheels at {check.power:.0f}: {check.came_mm:.0f} mm in {check.seconds:.0f} s. "
    metre = f"{check.over_mm / 1000:.0f} m"
    if check.aside_mm is None:
        return says + f"Wheels {check.percent:.0f} % unlike still came through ({check.starts} starts)."
    if check.percent == 0.0:
        return says + "Any drift aside costs starts: mend it first."
    return says + f"Over {metre} it may drift {check.aside_mm:.0f} mm aside, not more ({check.starts} starts a step)."
