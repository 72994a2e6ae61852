"""What is said of a map: how far today's numbers may move, what its best cell does, and what any cell does."""

from irontrail.core.tune.batch import MEASURES
from irontrail.core.tune.grid import LEEWAY_STARTS, BestCell, GridMap, GridSpec, Leeway


def numbers_of(spec: GridSpec, i: int, j: int) -> str:
    """The two numbers of a cell."""
    return ", ".join(
        f"{axis.quantity.label} {axis.shown(spec.value(axis, place))}" for axis, place in ((spec.x, i), (spec.y, j))
    )


def of_cell(made: GridMap, measure: str, i: int, j: int) -> str:
    """The numbers of a cell, how often it finishes, and the measure there."""
    values, share = made.shown(measure)
    often, shown = share[j, i], MEASURES[measure]
    told = "not run yet" if often != often else f"finishes {100 * often:.0f} %, {shown.in_unit(values[j, i])}"
    return f"{numbers_of(made.spec, i, j)}: {told}"


def of_today(made: GridMap, leeway: Leeway | None) -> str:
    """Where today's numbers lie, and how far each may move alone; nothing while that is not known."""
    spec = made.spec
    if made.off:
        names = " and ".join(f"{axis.quantity.label} {axis.in_unit(axis.of(spec.setup))}" for axis in made.off)
        return f"Today's {names} lies off the map."
    if leeway is None:
        return ""
    if leeway.today < spec.share:
        return f"Today's numbers finish {100 * leeway.today:.0f} % of {LEEWAY_STARTS} fresh starts."
    said = []
    for name, axis in (("x", spec.x), ("y", spec.y)):
        for way, verb in (("above", "rise"), ("below", "fall")):
            by = leeway.to_cliff[f"{name} {way}"]
            if by is not None:
                said.append(f"{axis.quantity.label} may {verb} by {axis.in_unit(by)}")
    if not said:
        return "No cliff is on the map beside today's numbers."
    return f"Alone, and still {100 * spec.share:g} % finish: {', '.join(said)}."


def of_best(made: GridMap, measure: str, best: BestCell | None) -> str:
    """What the best cell does that holds with all beside it, or that there is none."""
    if best is None:
        return f"No cell holds {100 * made.spec.share:g} % together with all beside it."
    shown = MEASURES[measure]
    return (
        f"Best with all beside it: {numbers_of(made.spec, *best.cell)}: {shown.in_unit(best.value)}, "
        f"{best.good} of {best.starts} fresh starts."
    )
