"""A small plot as SVG: lines with dots, two axes, a name for each line."""

from xml.sax.saxutils import escape

import numpy as np

from experiments.trials import Outcome

WIDTH, HEIGHT = 460, 250
LEFT, RIGHT, TOP, BOTTOM = 52, 130, 14, 40
COLOURS = ("#B3471D", "#2E4C78", "#2F6B4F", "#7A3E6B")
DASHES = ("none", "6 3", "2 3", "9 3 2 3")


def ticks(low: float, high: float) -> list[float]:
    """Round numbers across a range, about five."""
    raw = max(high - low, 1e-9) / 4
    power = 10.0 ** np.floor(np.log10(raw))
    step = next(each * power for each in (1.0, 2.0, 5.0, 10.0) if each * power >= raw)
    return [float(v) for v in np.arange(np.ceil(low / step) * step, high + step * 1e-6, step)]


def draw(found: Outcome) -> str:
    """The plot of an outcome."""
    xs = [x for line in found.series for x in line.x]
    ys = [y for line in found.series for y in line.y]
    x_low, x_high, y_low, y_high = min(xs), max(xs), min(0.0, *ys), max(ys)

    def px(x: float) -> float:
        return LEFT + (x - x_low) / ((x_high - x_low) or 1.0) * (WIDTH - LEFT - RIGHT)

    def py(y: float) -> float:
        return HEIGHT - BOTTOM - (y - y_low) / ((y_high - y_low) or 1.0) * (HEIGHT - TOP - BOTTOM)

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" height="{HEIGHT}" font-family="sans-serif" font-size="11">',
        f'<rect width="{WIDTH}" height="{HEIGHT}" fill="#FFFDF8"/>',
    ]
    for y in ticks(y_low, y_high):
        parts.append(f'<line x1="{LEFT}" x2="{WIDTH - RIGHT}" y1="{py(y):.1f}" y2="{py(y):.1f}" stroke="#D5CCBB"/>')
        parts.append(f'<text x="{LEFT - 6}" y="{py(y) + 4:.1f}" text-anchor="end" fill="#555B61">{y:g}</text>')
    for x in ticks(x_low, x_high):
        parts.append(
            f'<text x="{px(x):.1f}" y="{HEIGHT - BOTTOM + 15}" text-anchor="middle" fill="#555B61">{x:g}</text>'
        )
    middle = LEFT + (WIDTH - LEFT - RIGHT) / 2
    parts.append(
        f'<text x="{middle}" y="{HEIGHT - 8}" text-anchor="middle" fill="#23272B">{escape(found.x_label)}</text>'
    )
    label = f'<text transform="translate(13 {HEIGHT / 2}) rotate(-90)" text-anchor="middle" fill="#23272B">'
    parts.append(f"{label}{escape(found.y_label)}</text>")
    for i, line in enumerate(found.series):
        colour, dash = COLOURS[i % len(COLOURS)], DASHES[i % len(DASHES)]
        points = " ".join(f"{px(x):.1f},{py(y):.1f}" for x, y in zip(line.x, line.y, strict=True))
        parts.append(
            f'<polyline points="{points}" fill="none" stroke="{colour}" stroke-width="1.8" stroke-dasharray="{dash}"/>'
        )
        parts += [
            f'<circle cx="{px(x):.1f}" cy="{py(y):.1f}" r="2.6" fill="{colour}"/>'
            for x, y in zip(line.x, line.y, strict=True)
        ]
        if line.name:
            y = TOP + 16 * i + 8
            parts.append(f'<text x="{WIDTH - RIGHT + 12}" y="{y}" fill="{colour}">{escape(line.name)}</text>')
    return "\n".join([*parts, "</svg>"]) + "\n"
