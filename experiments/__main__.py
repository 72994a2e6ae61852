"""`python -m experiments`: run every experiment and write docs/experiments.md with its figures and plots."""

import platform
import sys
from importlib.metadata import version
from pathlib import Path
from typing import Any

from experiments import pair_trials, trials, trip_trials
from experiments.plot import draw
from experiments.trials import Outcome

DOCS = Path(__file__).parent.parent / "docs"


def cell(value: Any) -> str:
    """A value as it stands in a table."""
    return f"{value:.2f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)


def table(found: Outcome) -> str:
    """A Markdown table."""
    lines = ["| " + " | ".join(found.head) + " |", "|" + "---|" * len(found.head)]
    lines += ["| " + " | ".join(cell(value) for value in row) + " |" for row in found.rows]
    return "\n".join(lines)


def main() -> int:
    """Write the page and a picture for each experiment."""
    pictures = DOCS / "experiments"
    pictures.mkdir(parents=True, exist_ok=True)
    machine = f"{platform.machine()}, Python {platform.python_version()}, Numba {version('numba')}"
    parts = [
        "# Experiments",
        "What a team sees on a real mat, asked of the engine. Written by `.venv/bin/python -m experiments` from the engine "
        "itself; the tests hold each to what must come out. All on the demo unless said otherwise. No figure depends on "
        f"how fast the machine is; these were made on Linux, {machine}.",
    ]
    every = (*trials.EXPERIMENTS, *trip_trials.EXPERIMENTS, *pair_trials.EXPERIMENTS)
    for number, experiment in enumerate(every, 1):
        found = experiment.run()
        picture = pictures / f"{number:02d}.svg"
        picture.write_text(draw(found), encoding="utf-8")
        parts += [
            f"## {number}. {experiment.name}",
            f"*{experiment.question}*",
            experiment.answer(found),
            f"![{experiment.name}](experiments/{picture.name})",
            table(found),
        ]
        print(f"{number:2} {experiment.name}: {experiment.answer(found)}")
    (DOCS / "experiments.md").write_text("\n\n".join(parts) + "\n", encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())
