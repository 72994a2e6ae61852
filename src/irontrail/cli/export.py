"""`irontrail export listing|card|evidence|film FILE-or-demo OUT`: what goes to the table; needs no display."""

import argparse
import os
import sys
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

from irontrail.cli.project_argument import load
from irontrail.core.counted import counted
from irontrail.core.errors import IronTrailError

if TYPE_CHECKING:
    from irontrail.core.project import Project

LANGUAGES = {"python": "Python", "c": "C", "words": "words"}
SPEEDS = ("0.5", "1", "2", "4")


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    parser = commands.add_parser("export", help="write a listing, a card, pages for judges or a film")
    what = parser.add_subparsers(metavar="WHAT", required=True)
    listing = _kind(what, "listing", "the program in Python, C or words", _listing)
    listing.add_argument("--language", choices=tuple(LANGUAGES), help="by the ending of OUT if not given")
    listing.add_argument("--calibrate", choices=("no", "by a sweep", "by hand"), default="no", help="at the start")
    listing.add_argument("--log", action="store_true", help="keep a log and print it at the end")
    listing.add_argument("--wheels", action="store_true", help="with both wheels' counts in the log")
    listing.add_argument("--stop-button", action="store_true", help="end when the button is pressed")
    card = _kind(what, "card", "a page for the table: the numbers, and what to do if (PDF)", _card)
    card.add_argument("--paper", choices=("A5", "A4"), default="A5", help="its size")
    evidence = _kind(what, "evidence", "pages for judges from the kept runs (HTML or PDF)", _evidence)
    evidence.add_argument(
        "--runs", metavar="1,3,4", help="the numbers of the kept runs to show; those chosen if not given"
    )
    evidence.add_argument("--no-map", action="store_true", help="without the map of two numbers")
    film = _kind(what, "film", "a film of the run (MP4 or WebP)", _film)
    film.add_argument("--race", action="store_true", help="with the newest kept runs on its mat")
    film.add_argument("--width", choices=("640", "960", "1280"), default="960", help="in pixels")
    film.add_argument("--speed", choices=SPEEDS, default="1", help="how many times as fast as it drives")


def _kind(what: Any, name: str, says: str, act: Callable[[argparse.Namespace], int]) -> argparse.ArgumentParser:
    parser: argparse.ArgumentParser = what.add_parser(name, help=says)
    parser.add_argument("project", metavar="FILE-or-demo")
    parser.add_argument("out", type=Path, metavar="OUT")
    parser.set_defaults(act=act)
    return parser


def _listing(options: argparse.Namespace) -> int:
    from irontrail.core.listing.languages import LANGUAGES as PRINTED
    from irontrail.core.listing.languages import listing
    from irontrail.core.listing.robot import Options
    from irontrail.files import atomic

    by_ending = {suffix: name for name, (suffix, _) in PRINTED.items()}
    language = LANGUAGES[options.language] if options.language else by_ending.get(options.out.suffix)
    if language is None:
        endings = ", ".join(by_ending)
        raise IronTrailError(
            "the language cannot be told", str(options.out), f"End it in {endings}, or give --language."
        )
    if options.wheels and not options.log:
        raise IronTrailError("the wheels are for the log", "--wheels", "Give --log too.")
    beside = Options(options.calibrate, options.log, options.wheels, options.stop_button)
    made = listing(load(options.project).setup, language, beside)
    atomic.write_text(options.out, made.text)
    print(f"{options.out}: {len(made.lines)} lines")
    return 0


def _card(options: argparse.Namespace) -> int:
    _ending(options.out, (".pdf",))
    project = load(options.project)
    _begin_pages()
    from irontrail.app.pages import card as page
    from irontrail.app.pages import paper
    from irontrail.core.pit.card import card_of
    from irontrail.files import atomic

    card = card_of(project.setup, lambda _card, done: _told(done, "runs"))
    _told(0, "")
    size = paper.PAPERS[options.paper]
    atomic.write_bytes(options.out, paper.pdf(page.page_of(card, size), size, f"{project.setup.title}: card"))
    print(f"{options.out}: a card on {options.paper}, from {card.runs:,} runs")
    return 0


def _evidence(options: argparse.Namespace) -> int:
    _ending(options.out, (".html", ".pdf"))
    project = _with_runs(load(options.project), options.runs)
    _begin_pages()
    from irontrail.app.pages import evidence as pages
    from irontrail.core.pit.evidence import account_of

    account = account_of(project, not options.no_map, lambda _account, done: _told(done, "runs"))
    _told(0, "")
    pages.write(options.out, account)
    print(f"{options.out}: pages on {counted(len(account.steps), 'run')}, from {account.runs:,} runs of the model")
    return 0


def _film(options: argparse.Namespace) -> int:
    kind = _ending(options.out, (".mp4", ".webp"))
    project = load(options.project)
    _begin_pages()
    from irontrail.app.pages.film import Driven, FilmSpec, film_of
    from irontrail.core import derive
    from irontrail.files import atomic

    setup = project.setup
    driven = [Driven("now" if options.race else "", setup, derive.run(setup))]
    if options.race:
        beside = [run for run in project.kept if run.setup.mat == setup.mat and run.setup != setup][-3:]
        if not beside:
            raise IronTrailError("no other run is kept on this mat", "--race", "Keep one with K in the window first.")
        driven = [Driven(str(run.number), run.setup, derive.run(run.setup)) for run in beside] + driven
    spec = FilmSpec(tuple(driven), int(options.width), float(options.speed), kind)
    made = film_of(spec, lambda done: _told(done, f"of {spec.frames:,} frames"))
    _told(0, "")
    atomic.write_bytes(options.out, made)
    wide, high = spec.size
    print(f"{options.out}: {spec.seconds:.1f} s, {wide} × {high}, {len(made) / 1e6:.2f} MB")
    return 0


def _ending(out: Path, endings: tuple[str, ...]) -> str:
    """What kind of file is asked for, by its ending; refused before anything is worked out."""
    ending = out.suffix.lower()
    if ending not in endings:
        raise IronTrailError(
            "what kind of file it is to be cannot be told", str(out), f"End it in {' or '.join(endings)}."
        )
    if not out.resolve().parent.is_dir():
        raise IronTrailError("there is no such folder", str(out.parent), "Make it first, or choose another.")
    return ending


def _with_runs(project: "Project", asked: str | None) -> "Project":
    """The project with the runs asked for on its pages; one without any shows its settings as they are."""
    from irontrail.core import derive
    from irontrail.core.project import KeptRun

    if not project.kept:
        now = KeptRun(1, project.setup, derive.figures(project.setup))
        project = replace(project, kept=(now,))
    if asked is None:
        return project
    known = [run.number for run in project.kept]
    wanted = [part.strip() for part in asked.split(",")]
    strange = [part for part in wanted if not part.isdigit() or int(part) not in known]
    if strange:
        there = ", ".join(str(number) for number in known)
        raise IronTrailError(f"there is no kept run {strange[0]!r}", "--runs", f"The kept runs are: {there}.")
    return replace(project, evidence=replace(project.evidence, runs=tuple(int(part) for part in wanted)))


def _begin_pages() -> None:
    """What draws pages is made ready, without a screen."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    try:
        from irontrail.app.main import application
    except ImportError as error:
        raise IronTrailError(
            f"a system library is missing ({error})", "Qt", "Start it with ./start, which names the package to install."
        ) from error
    application()


def _told(done: int, what: str) -> bool:
    """How far it has come, on a terminal; always goes on."""
    if sys.stderr.isatty():
        print(f"\r{done:,} {what}" if what else "\r\x1b[K", end="", file=sys.stderr, flush=True)
    return True
