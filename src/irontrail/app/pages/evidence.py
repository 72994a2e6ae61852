"""The pages for judges: one HTML file with its pictures inside, or PDF."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PySide6.QtGui import QTextDocument

from irontrail.app.pages import charts, paper
from irontrail.app.pages.mat import LOOKS, mat_picture
from irontrail.app.pages.pictures import Picture
from irontrail.app.widgets.spread_bars import Spread
from irontrail.core import derive
from irontrail.core.capital import capital
from irontrail.core.pit.card import numbers
from irontrail.core.pit.evidence import Account, Step
from irontrail.core.pit.venue import Foretold
from irontrail.core.quantity import quantity_at, value_at
from irontrail.core.setup import Setup
from irontrail.core.tune.differences import Difference
from irontrail.files import atomic

# So wide is the text of a page of A4, in dots of 96 to the inch; of pictures beside words, and of the map.
WIDE, BESIDE, MAP_WIDE = 690, 330, 420
# What the robot is, in numbers.
OF_ROBOT = (
    "robot.drive.track_width_mm",
    "robot.drive.wheel_diameter_mm",
    "robot.drive.top_speed_mm_s",
    "robot.drive.response_time_s",
    "robot.mount.ahead_mm",
    "robot.mount.aside_mm",
    "robot.mount.height_mm",
)
SPREADS = (("Time", "times_s", "s"), ("Swing", "swings_mm", "mm"))
SIGNS = ("━━━", "━ ━", "· · ·", "━ · ━")


@dataclass(frozen=True)
class Row:
    """A run in the table of what was tried."""

    number: int
    star: bool
    changed: str
    note: str
    time: str
    swing: str
    through: str
    sign: str
    colour: str


def html_of(account: Account, for_paper: bool = False) -> str:
    """The pages as one HTML file."""
    last = account.steps[-1].kept
    same = [step for step in account.steps if step.kept.setup.mat == last.setup.mat][-len(LOOKS) :]
    laid = [(step.kept.setup, derive.run(step.kept.setup)) for step in same]
    lanes = ("reading", "wheels", "off edge")
    said = account.project.evidence
    return paper.filled(
        "evidence.html",
        said=said,
        title=title_of(account),
        setup=last.setup,
        robot=charts.robot_of(last.setup),
        facts=_facts(last.setup),
        mat=mat_picture(last.setup, laid, WIDE),
        strip=charts.strip_of(last, [step.kept for step in same[:-1]], lanes, WIDE),
        rows=[_row(step, same) for step in account.steps],
        laid=[_row(step, same) for step in same],
        numbers=numbers(last.setup),
        spreads=[(what, _spreads(account, name, unit)) for what, name, unit in SPREADS if _came_through(account)],
        better=_better(account),
        map=charts.map_of(account.map, MAP_WIDE) if account.map is not None else None,
        map_says=_map_words(account),
        foretold=[
            (step.kept.number, ", ".join(_real(step)), Foretold(step.kept, step.tried).says)
            for step in account.steps
            if step.kept.real and step.tried is not None
        ],
        runs=account.runs,
        starts=account.steps[-1].tried.starts if account.steps[-1].tried is not None else 0,
        for_paper=for_paper,
    )


def title_of(account: Account) -> str:
    """What the team calls its pages, or what they are about."""
    setup = account.steps[-1].kept.setup
    return account.project.evidence.title.strip() or f"{setup.mat.name}: how {setup.robot.name} was tuned"


def write(path: Path, account: Account) -> None:
    """Write the pages as HTML, or as PDF where the name ends so; IronTrailError if they cannot be written."""
    if path.suffix.lower() == ".pdf":
        size = paper.PAPERS["A4"]
        atomic.write_bytes(path, paper.pdf(pages_of(account, size), size, title_of(account)))
    else:
        atomic.write_text(path, html_of(account))


def pages_of(account: Account, size_mm: tuple[float, float] = paper.PAPERS["A4"]) -> QTextDocument:
    """The pages set on paper."""
    return paper.laid_out(html_of(account, for_paper=True), size_mm)


def _facts(setup: Setup) -> list[tuple[str, str]]:
    facts = []
    for path in OF_ROBOT:
        quantity = quantity_at(setup, path)
        facts.append((quantity.label, quantity.in_unit(value_at(setup, path))))
    mat = setup.mat
    facts.append(("mat", f"{mat.width_mm:.0f} × {mat.height_mm:.0f} mm"))
    facts.append(("line", f"{mat.followed.width_mm:g} mm wide, {_length_m(setup):.2f} m long"))
    return facts


def _length_m(setup: Setup) -> float:
    return derive.route(setup.mat, setup.trial.reverse).length_mm / 1000.0


def _row(step: Step, same: list[Step]) -> Row:
    kept, tried = step.kept, step.tried
    done = kept.figures.outcome == "finished"
    place = (len(same) - 1 - same.index(step)) % len(LOOKS) if step in same else None
    return Row(
        number=kept.number,
        star=kept.star,
        changed=step.changed,
        note=kept.note,
        time=f"{kept.figures.time_s:.2f} s" if done else kept.figures.outcome.replace("-", " "),
        swing=f"{kept.figures.wobble_mm:.1f} mm",
        through=tried.of_starts if tried is not None else "",
        sign=SIGNS[place] if place is not None else "",
        colour=LOOKS[place][0] if place is not None else "",
    )


def _real(step: Step) -> list[str]:
    return [f"{real.time_s:.2f} s" if real.finished else "failed" for real in step.kept.real]


def _came_through(account: Account) -> bool:
    return any(step.tried is not None and step.tried.good for step in account.steps)


def _spreads(account: Account, name: str, unit: str) -> Picture:
    """A figure of each run over its starts, of those of which one came through."""
    found = []
    for step in account.steps:
        tried = step.tried
        if tried is not None and tried.good:
            values = getattr(tried, name)
            least, middle, most = (float(each(values)) for each in (np.nanmin, np.nanmedian, np.nanmax))
            found.append(Spread(f"run {step.kept.number}, {tried.of_starts}", unit, 2, least, middle, most, None))
    return charts.spreads_of(found, BESIDE)


def _better(account: Account) -> list[str]:
    """Whether the last run is better than the first, or was lucky, in sentences."""
    first, last = account.first, account.steps[-1]
    if first is None or first.tried is None or last.tried is None:
        return []
    names = f"run {last.kept.number}", f"run {first.kept.number}"
    said = [
        f"Over the same {last.tried.starts} shaken starts {names[0]} came through {last.tried.good} times, "
        f"{names[1]} {first.tried.good} times."
    ]
    for what, difference, unit in (("took", account.faster, "s"), ("swung", account.calmer, "mm")):
        if difference is not None:
            said.append(difference_words(what, difference, unit, names))
    return said


def difference_words(what: str, difference: Difference, unit: str, names: tuple[str, str]) -> str:
    """How much less of something the first took than the second, with its interval; or that it is not known."""
    low, high = difference.low, difference.high
    if low <= 0.0 <= high:
        return (
            f"No difference is shown in what they {what}: {names[1]} {what} between {_signed(low)} and {_signed(high)} "
            f"{unit} more (95 %, {difference.starts} starts that both came through)."
        )
    better, worse = names if low > 0.0 else names[::-1]
    least, most = sorted((abs(low), abs(high)))
    return (
        f"{capital(better)} {what} {abs(difference.mean):.2f} {unit} less than {worse} "
        f"({least:.2f} to {most:.2f} at 95 %, {difference.starts} starts that both came through)."
    )


def _signed(value: float) -> str:
    return f"{value:+.2f}".replace("-", "−")


def _map_words(account: Account) -> str:
    if account.map is None:
        return ""
    spec = account.map.spec
    return (
        f"Each of {spec.cells * spec.cells} squares is a {spec.x.quantity.label} and a {spec.y.quantity.label}, run "
        f"{spec.repeats} times from shaken starts; blank where most were lost. The ring is run "
        f"{account.steps[-1].kept.number}."
    )
