"""`irontrail export listing FILE-or-demo OUT`: the program as a listing; needs no display."""

import argparse
from pathlib import Path

from irontrail.cli.project_argument import load
from irontrail.core.errors import IronTrailError

LANGUAGES = {"python": "Python", "c": "C", "words": "words"}


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    parser = commands.add_parser("export", help="write the program as a listing for your own controller")
    what = parser.add_subparsers(metavar="WHAT", required=True)
    listing = what.add_parser("listing", help="the program in Python, C or words")
    listing.add_argument("project", metavar="FILE-or-demo")
    listing.add_argument("out", type=Path, metavar="OUT")
    listing.add_argument("--language", choices=tuple(LANGUAGES), help="by the ending of OUT if not given")
    listing.add_argument("--calibrate", choices=("no", "by a sweep", "by hand"), default="no", help="at the start")
    listing.add_argument("--log", action="store_true", help="keep a log and print it at the end")
    listing.add_argument("--wheels", action="store_true", help="with both wheels' counts in the log")
    listing.add_argument("--stop-button", action="store_true", help="end when the button is pressed")
    listing.set_defaults(act=act)


def act(options: argparse.Namespace) -> int:
    """Write the listing."""
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
