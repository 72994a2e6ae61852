"""Colours: which lines can be told from which surrounds by this sensor and lamp; and what the sensor gives."""

from dataclasses import replace

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.colour_matrix import Cell, ColourMatrix
from irontrail.core.errors import IronTrailError
from irontrail.core.light.contrast import COLOURS, all_told_apart, noise_band
from irontrail.core.light.sensor import Light, Sensor
from irontrail.core.setup import Setup

LAMPS = ("white", "red", "green", "blue")
SCALES = {"percent": "percent", "counts": "counts", "names": "colour names"}
WAYS = {"bright": "bright", "dark": "dark"}


class ColoursSheet(Panel):
    """The lamp and the scale to choose, and the matrix; a pair that is pressed is put on the mat."""

    SAYS = "Which lines this sensor can tell from which mats."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.add_sensor_choice()
        self.lamps = self.add_choice(
            "Lamp", LAMPS, lambda lamp: self._change(f"{lamp} lamp", lamp=lamp), says="The sensor lights the mat in {}."
        )
        self.scales = self.add_choice(
            "It gives",
            tuple(SCALES),
            lambda name: self._change(f"a sensor that gives {name}", scale=SCALES[name]),
            says="What the sensor gives: {}.",
        )
        self.ways = self.add_choice(
            "Reads high",
            tuple(WAYS),
            lambda way: self._change(f"reads high on {way}", reads_high_on=way),
            says="The sensor gives more on what is {}.",
        )
        self.add_heading("A line (down) on a surround (across)")
        self.matrix = ColourMatrix(theme)
        self.matrix.chosen.connect(self._on_chosen)
        self.column.addWidget(self.matrix)
        self.says = self.add_words("", "quiet")
        self.add_dial("light.sensor.noise", 0.0, 5.0)
        self.add_dial("light.sensor.highest_count", 2.0, 4095.0)
        self.add_dial("light.sensor.lag_s", 0.0, 0.1)
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        setup = self.seen
        light, height, gloss = setup.light, setup.robot.mount.height_mm, setup.mat.gloss
        for buttons, chosen in (
            (self.lamps, light.sensor.lamp),
            (self.scales, next(name for name, scale in SCALES.items() if scale == light.sensor.scale)),
            (self.ways, light.sensor.reads_high_on),
        ):
            for name, button in buttons.items():
                button.setChecked(name == chosen)
        names = light.sensor.names_colours
        for lamp, button in self.lamps.items():
            button.setEnabled(not names or lamp == "white")
        self.dials["light.sensor.highest_count"].setVisible(light.sensor.scale == "counts")
        pairs = all_told_apart(light, height, gloss)
        self.matrix.set_cells(COLOURS, tuple(tuple(Cell(pair.apart, pair.verdict) for pair in row) for row in pairs))
        self.says.setText(self._words(light))

    def _words(self, light: Light) -> str:
        if light.sensor.names_colours:
            return (
                "Numbers that the names are taken for; in brackets: a name with little margin. Press a pair to lay it."
            )
        return (
            f"How far apart they are read; readings of one place scatter over {noise_band(light):.0f}. Framed: far "
            "enough to steer by; in brackets: hardly. Press a pair to lay it on the mat."
        )

    def _change(self, label: str, **values: str) -> None:
        setup = self.session.setup
        try:
            sensor: Sensor = replace(self.seen.light.sensor, **values)  # type: ignore[arg-type]
        except IronTrailError as error:
            self.session.notice(f"{error} Choose the white lamp first.")
            self.show_project()
            return
        self.session.edit(label, setup.with_eye(self.which, sensor=sensor))
        self.show_project()

    def _on_chosen(self, line: int, surround: int) -> None:
        (line_name, line_colour), (mat_name, mat_colour) = COLOURS[line], COLOURS[surround]
        if line != surround:
            setup: Setup = self.session.setup
            followed = replace(setup.mat.line, colour=line_colour)
            mat = replace(setup.mat, colour=mat_colour, line=followed)
            self.session.edit(f"a {line_name} line on {mat_name}", replace(setup, mat=mat))
