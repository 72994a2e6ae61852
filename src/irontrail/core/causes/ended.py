"""Where runs that go wrong end."""

from collections import Counter
from collections.abc import Sequence

from irontrail.core import derive
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.stretches import stretches


def where_most_end(setup: Setup, starts: Sequence[int]) -> tuple[str, int]:
    """The stretch that most of some shaken starts of a setup, by number from 1, end in; and how many of them."""
    ended: Counter[str] = Counter()
    for number in starts:
        run = derive.run_once(perturbed(setup, number))
        last = stretches(run)[-1]
        ended[last.name if run.legs else f"bend {last.name}" if last.bend else f"the straight {last.name}"] += 1
    name, count = ended.most_common(1)[0]
    return name, count
