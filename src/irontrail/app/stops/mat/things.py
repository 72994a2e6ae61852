"""Things on the table: patches, shadows, spots, where the run starts and finishes; the mat's own surface."""

from PySide6.QtWidgets import QGridLayout, QPushButton

from irontrail.app.column import clear
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.swatches import Swatches
from irontrail.app.widgets.thing_hand import ThingHand
from irontrail.core.capital import capital
from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.surface import SURFACES
from irontrail.core.mat.tape import Patch, Spot, Zone
from irontrail.core.quantity import Part, quantities, value_at, with_value
from irontrail.core.table import KINDS, Box, Kind, Thing, box_of, doubled, laid, placed, taken_away, things

PLACE = {"x_mm": (0.0, 2000.0), "y_mm": (0.0, 1000.0)}
SIZE = {"width_mm": (10.0, 600.0), "height_mm": (10.0, 600.0)}
TRACKS: dict[type[Part], dict[str, tuple[float, float]]] = {
    Patch: PLACE | SIZE | {"shine": (1.0, 3.0)},
    Zone: PLACE | SIZE | {"turned_deg": (-90.0, 90.0)},
    Spot: PLACE | {"heading_deg": (-180.0, 180.0), "within_mm": (1.0, 100.0), "within_deg": (1.0, 45.0)},
    LightArea: PLACE
    | {"half_width_mm": (10.0, 400.0), "half_height_mm": (10.0, 400.0), "factor": (0.0, 4.0), "soft_mm": (1.0, 200.0)},
}


class ThingsSheet(Panel):
    """What lies on the table, as a list; one of them chosen, with its numbers, and dragged on the mat."""

    SAYS = "Patches, markers, shadows and zones on the mat."

    hand: ThingHand

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = hand = ThingHand(self)
        hand.picked.connect(self.choose)
        hand.laid.connect(self._on_laid)
        hand.taken_away.connect(self.take_away)
        hand.doubled.connect(self.double)
        self.chosen: Thing | None = None
        self.add_heading("Lay down")
        grid = QGridLayout()
        grid.setSpacing(5)
        self.kinds: dict[str, QPushButton] = {}
        for i, kind in enumerate(KINDS):
            button = QPushButton(capital(kind))
            button.setAccessibleName(f"lay down a {kind}")
            button.setToolTip(f"Put a {kind} on the mat")
            button.clicked.connect(lambda _checked=False, kind=kind: self.lay(kind))
            grid.addWidget(button, i // 3, i % 3)
            self.kinds[kind] = button
        self.column.addLayout(grid)
        self.heading = self.add_heading("On the table")
        self._list = QGridLayout()
        self._list.setSpacing(4)
        self.column.addLayout(self._list)
        self.listed: dict[Thing, QPushButton] = {}
        self._lay_out_thing()
        self._lay_out_mat()
        self.finish()

    def _lay_out_thing(self) -> None:
        row = self.add_row()
        self.double_button = self.add_act(
            "Double", "Put the same thing down once more (Insert on the mat)", self.double, row
        )
        self.away_button = self.add_act(
            "Take away", "Take the chosen thing off the mat (Delete on the mat)", self.take_away, row
        )
        self.over = QPushButton("Over the line")
        self.over.setToolTip("Whether the patch covers the line or lies under it")
        self.over.setCheckable(True)
        self.over.clicked.connect(lambda on: self._set("over_line", on, True))
        self.over.setProperty("small", "true")
        row.addWidget(self.over)
        row.addStretch(1)
        self.numbers: dict[tuple[type[Part], str], Dial] = {}
        for kind, tracks in TRACKS.items():
            for name, track in tracks.items():
                dial = Dial(quantities(kind)[name], self.theme, *track)
                dial.setObjectName(f"{kind.__name__}.{name}")
                dial.edited.connect(lambda value, settled, name=name: self._set(name, value, settled))
                self.column.addWidget(dial)
                self.numbers[kind, name] = dial
        self.colour = Swatches("Colour", self.theme)
        self.colour.chosen.connect(lambda colour: self._set("colour", colour, True))
        self.column.addWidget(self.colour)

    def _lay_out_mat(self) -> None:
        self.add_rule()
        self.add_heading("The mat")
        self.add_dial("mat.width_mm", 300.0, 4000.0)
        self.add_dial("mat.height_mm", 300.0, 2000.0)
        self.surfaces = self.add_choice("Surface", tuple(SURFACES), self._set_surface, says="The mat is of {}.")
        self.surface_says = self.add_words("", "quiet")
        self.ground = Swatches("Ground", self.theme)
        self.ground.chosen.connect(lambda colour: self._of_mat("mat colour", "mat.colour", colour))
        self.column.addWidget(self.ground)

    # --- acting

    def choose(self, thing: Thing) -> None:
        """Work on a thing."""
        self.take_typed()
        self.chosen = thing
        self.show_project()

    def lay(self, kind: Kind) -> None:
        """Lay a thing down in the middle of the mat."""
        self.take_typed()
        mat = self.session.setup.mat
        try:
            setup, thing = laid(self.session.setup, kind, 0.5 * mat.width_mm, 0.5 * mat.height_mm)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit(f"lay down a {kind}", setup)
        self.choose(thing)

    def double(self) -> None:
        """Lay the chosen thing down once more."""
        self.take_typed()
        if self.chosen is None:
            return
        try:
            setup, thing = doubled(self.session.setup, self.chosen)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit(f"double the {thing.kind}", setup)
        self.choose(thing)

    def take_away(self) -> None:
        """Take the chosen thing off the table."""
        self.take_typed()
        if self.chosen is not None:
            thing, self.chosen = self.chosen, None
            self.session.edit(f"take away the {thing.kind}", taken_away(self.session.setup, thing))
            self.show_project()

    def _on_laid(self, thing: Thing, box: Box, label: str, settled: bool) -> None:
        self.session.edit(label, placed(self.session.setup, thing, box), label)
        if settled:
            self.session.settle()

    def _set(self, name: str, value: float | str | bool, settled: bool) -> None:
        """A number of the chosen thing; it may have been typed for one that is there no more."""
        setup = self.session.setup
        if self.chosen not in things(setup) or not hasattr(value_at(setup, self.chosen.path), name):
            return
        try:
            setup = with_value(setup, f"{self.chosen.path}.{name}", value)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit(f"{self.chosen.kind}: {name.removesuffix('_mm').replace('_', ' ')}", setup, f"thing {name}")
        if settled:
            self.session.settle()

    def _set_surface(self, name: str) -> None:
        self._of_mat(f"a {name} mat", "mat.surface", name)

    def _of_mat(self, label: str, path: str, value: str) -> None:
        self.session.edit(label, with_value(self.session.setup, path, value))
        self.show_project()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        there = things(setup)
        if self.chosen not in there:
            # A shadow that is made brighter than the room has become a glare, in the same place.
            same = [thing for thing in there if self.chosen is not None and thing.path == self.chosen.path]
            self.chosen = same[0] if same else there[0] if there else None
        self.hand.set_things({thing: box_of(setup, thing) for thing in there}, self.chosen)
        self._show_list(there)
        self._show_chosen(setup.mat.surface)
        self.ground.set_colour(setup.mat.colour)

    def _show_list(self, there: tuple[Thing, ...]) -> None:
        if tuple(self.listed) != there:
            clear(self._list)
            self.listed = {}
            for i, thing in enumerate(there):
                number = sum(other.kind == thing.kind for other in there[: i + 1])
                several = sum(other.kind == thing.kind for other in there) > 1
                button = QPushButton(f"{thing.kind} {number}" if several else thing.kind)
                button.setCheckable(True)
                button.setProperty("choice", "true")
                button.setToolTip(f"Work on this {thing.kind} (Page Up and Page Down on the mat)")
                button.clicked.connect(lambda _checked=False, thing=thing: self.choose(thing))
                self._list.addWidget(button, i // 4, i % 4)
                self.listed[thing] = button
            one_of(self, self.listed.values())
        for thing, button in self.listed.items():
            button.setChecked(thing == self.chosen)
        self.heading.setText("On the table" if there else "Nothing lies on the table but the tape.")

    def _show_chosen(self, surface: str) -> None:
        part = value_at(self.session.setup, self.chosen.path) if self.chosen is not None else None
        for (kind, name), dial in self.numbers.items():
            dial.setVisible(type(part) is kind)
            if type(part) is kind:
                dial.set_value(float(getattr(part, name)))
        for widget in (self.double_button, self.away_button):
            widget.setVisible(part is not None)
        self.over.setVisible(isinstance(part, Patch))
        self.colour.setVisible(isinstance(part, Patch))
        if isinstance(part, Patch):
            self.over.setChecked(part.over_line)
            self.colour.set_colour(part.colour)
        for name, button in self.surfaces.items():
            button.setChecked(name == surface)
        says = {
            "paper": "Matt: gives back light by its colour alone.",
            "vinyl": "Shines: some of the room's light comes back from any colour.",
            "wood": "Its grain makes it uneven; it shines a little.",
        }
        self.surface_says.setText(says[surface])
