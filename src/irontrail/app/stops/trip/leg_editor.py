"""The chosen leg of a trip: its few numbers, its choices, and what ends it."""

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QWidget

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.trip.editing import double_leg, edit_trip, take_out_leg
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.end_editor import NAMES, EndEditor
from irontrail.core.quantity import put, quantities, with_value
from irontrail.core.steering import planning
from irontrail.core.steering.leg_words import leg_title
from irontrail.core.steering.legs import LEGS, MAX_ENDS, CreepLeg, FollowLeg, Leg, StraightLeg, TurnLeg
from irontrail.core.steering.planning import legs_of
from irontrail.core.steering.program import Program

TRACKS: dict[type[Leg], dict[str, tuple[float, float]]] = {
    FollowLeg: {"speed": (0.0, 100.0)},
    StraightLeg: {"power": (-100.0, 100.0)},
    TurnLeg: {"angle_deg": (-180.0, 180.0), "power": (1.0, 100.0)},
    CreepLeg: {
        "power_per_reading": (0.0, 1.0), "least_power": (0.0, 50.0), "dark_reading": (0.0, 100.0),
        "border_reading": (0.0, 100.0),
    },
}  # fmt: skip
# Numbers that are seldom turned, after what ends the leg.
RAMPS: dict[type[Leg], tuple[str, ...]] = {
    FollowLeg: ("ramp_up_mm", "ramp_down_mm"),
    StraightLeg: ("ramp_up_mm", "ramp_down_mm"),
    TurnLeg: ("ramp_down_mm",),
}
# What a number is called where its own name leaves something open.
LABELS: dict[tuple[type[Leg], str], str] = {
    (FollowLeg, "speed"): "speed (0: the program's)",
    (CreepLeg, "dark_reading"): "ends at a reading of",
    (CreepLeg, "border_reading"): "waits for a border of",
}
# Choices of a leg beside its numbers: what stands before them, the field, and each option as it is shown.
CHOICES: dict[type[Leg], tuple[str, str, dict[str, str | bool]]] = {
    FollowLeg: ("Edge", "edge", {"own": "the program's", "left": "left", "right": "right"}),
    StraightLeg: ("Held", "held", {"by its counts": True, "not at all": False}),
    TurnLeg: ("About", "about", {"the spot": "spot", "a wheel": "wheel"}),
    CreepLeg: ("By the", "sensor", {"first sensor": "first", "second sensor": "second"}),
}
CHOICE_SAYS = {
    "edge": "Follow the edge that the program follows, or one of this leg's own: {}.",
    "held": "Whether both wheels' counts are kept alike, so that it runs straight: {}.",
    "sensor": "It creeps by what the {} reads.",
    "about": "Turn about {}: both wheels against each other, or the inner one standing.",
}


class LegEditor(Panel):
    """Shows one leg; what is turned here is a step of the session's history."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.chosen = -1
        self.heading = self.add_heading("")
        row = self.add_row()
        self.double_button = self.add_act(
            "Double",
            "The same leg once more, after it (Insert on the ribbon)",
            lambda: double_leg(session, self.chosen),
            row,
        )
        self.out_button = self.add_act(
            "Take out",
            "Take the chosen leg out of the trip (Delete on the ribbon)",
            lambda: take_out_leg(session, self.chosen),
            row,
        )
        row.addStretch(1)
        self.numbers: dict[tuple[type[Leg], str], Dial] = {}
        self.options: dict[type[Leg], tuple[QWidget, dict[str, QPushButton]]] = {}
        for kind, tracks in TRACKS.items():
            if kind in CHOICES:
                label, field, options = CHOICES[kind]
                self.options[kind] = self._choice(label, field, options, CHOICE_SAYS[field])
            for name, track in tracks.items():
                self._add_number(kind, name, track)
        self.ends_heading = self.add_heading("It ends")
        self.ends: dict[str, list[EndEditor]] = {kind: [] for kind in LEGS}
        self.add_end = self.add_small("Or else …", "Something else that may end the leg: whichever comes first")
        self.add_end.clicked.connect(self._ask_end)
        for kind, names in RAMPS.items():
            for name in names:
                self._add_number(kind, name, (0.0, 300.0))
        says = "When the leg has ended: {}."
        self.then, self.thens = self._choice("Then", "then", {"brake": "brake", "roll on": "roll on"}, says)

    def _add_number(self, kind: type[Leg], name: str, track: tuple[float, float]) -> None:
        dial = Dial(quantities(kind)[name], self.theme, *track, label=LABELS.get((kind, name), ""))
        dial.setObjectName(f"{kind.__name__}.{name}")
        dial.edited.connect(lambda value, settled: self._set(name, value, settled))
        self.column.addWidget(dial)
        self.numbers[kind, name] = dial

    def _choice(
        self, label: str, field: str, options: dict[str, Any], says: str
    ) -> tuple[QWidget, dict[str, QPushButton]]:
        """A row of options of the chosen leg, in a widget of its own, so that it can be out of sight."""
        holder = QWidget()
        inner = QHBoxLayout(holder)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(6)
        buttons = self.add_choice(label, tuple(options), lambda name: self._option(field, options[name]), inner, says)
        self.column.addWidget(holder)
        return holder, buttons

    @property
    def leg(self) -> Leg | None:
        """The chosen leg."""
        legs = legs_of(self.session.setup.program)
        return legs[self.chosen] if 0 <= self.chosen < len(legs) else None

    # --- editing

    def _edit(self, label: str, change: Callable[[Program], Program]) -> None:
        edit_trip(self.session, f"leg {self.chosen + 1} {label}", change)

    def _ask_end(self) -> None:
        """Offer what else may end the chosen leg."""
        leg = self.leg
        if leg is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for kind in planning.ENDS_OF[leg.kind]:
            action = menu.addAction(NAMES[kind])
            action.triggered.connect(lambda _on=False, kind=kind: self.give_end(kind))
        menu.popup(self.add_end.mapToGlobal(self.add_end.rect().bottomLeft()))

    def give_end(self, kind: str) -> None:
        """Let the chosen leg end by something else too."""
        self._edit(
            f"may end {NAMES[kind]}",
            lambda program: planning.with_end(program, self.chosen, kind),
        )

    def _set(self, name: str, value: float, settled: bool) -> None:
        """A number of the chosen leg; it may have been typed for one that is there no more."""
        if self.leg is None or name not in quantities(type(self.leg)):
            return
        path = f"program.trip.legs.{self.chosen}.{name}"
        setup = put(self.session.setup, path, value)
        quantity = quantities(type(self.leg))[name]
        self.session.edit(f"leg {self.chosen + 1} {quantity.label}", setup, f"leg {path}")
        if settled:
            self.session.settle()

    def _option(self, name: str, value: str | bool) -> None:
        if self.leg is not None:
            path = f"program.trip.legs.{self.chosen}.{name}"
            self.session.edit(f"leg {self.chosen + 1} {name}", with_value(self.session.setup, path, value))
            self.show_leg(self.chosen)

    def _set_end(self, end: int, name: str, value: float, settled: bool) -> None:
        """A number of what ends the chosen leg; the same holds for it."""
        if self.leg is None or end >= len(self.leg.ends) or name not in quantities(type(self.leg.ends[end])):
            return
        path = f"program.trip.legs.{self.chosen}.ends.{end}.{name}"
        self.session.edit(f"leg {self.chosen + 1} end", put(self.session.setup, path, value), f"leg {path}")
        if settled:
            self.session.settle()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        self.show_leg(self.chosen)

    def show_leg(self, number: int) -> None:
        """Show a leg of the trip as it stands; -1 for none."""
        self.chosen = number
        leg = self.leg
        self.heading.setText(f"Leg {self.chosen + 1}: {leg_title(leg)}" if leg is not None else "")
        for widget in (self.double_button, self.out_button, self.ends_heading, self.add_end, self.then):
            widget.setVisible(leg is not None)
        for (kind, name), dial in self.numbers.items():
            dial.setVisible(type(leg) is kind)
            if type(leg) is kind:
                dial.set_value(float(getattr(leg, name)))
        for kind, (holder, buttons) in self.options.items():
            # With one sensor there is nothing to choose; astride the line there is no edge.
            setup = self.session.setup
            idle = {CreepLeg: setup.second is None, FollowLeg: setup.program.astride}.get(kind, False)
            holder.setVisible(type(leg) is kind and not idle)
            if type(leg) is kind:
                _, field, options = CHOICES[kind]
                for name, button in buttons.items():
                    button.setChecked(options[name] == getattr(leg, field))
        self._show_ends(leg)
        if leg is not None:
            for then, button in self.thens.items():
                button.setChecked(then == leg.then)

    def _show_ends(self, leg: Leg | None) -> None:
        """An editor for each end; they are kept by the kind of leg, since that tells what may end it."""
        for kind, editors in self.ends.items():
            wanted = len(leg.ends) if leg is not None and leg.kind == kind else 0
            while len(editors) < wanted:
                editors.append(self._make_end(kind, len(editors)))
            for i, editor in enumerate(editors):
                editor.setVisible(i < wanted)
                if i < wanted and leg is not None:
                    can_go = wanted > 1 or isinstance(leg, TurnLeg | CreepLeg)
                    editor.set_end(leg.ends[i], can_go, self.session.setup.second is not None)
        if leg is not None:
            self.ends_heading.setText("It ends" if not isinstance(leg, TurnLeg) else "It ends sooner")
            self.ends_heading.setVisible(bool(leg.ends))
            self.add_end.setVisible(len(leg.ends) < MAX_ENDS)

    def _make_end(self, kind: str, place: int) -> EndEditor:
        editor = EndEditor(self.theme, planning.ENDS_OF[kind])
        editor.became.connect(
            lambda end: self._edit(
                f"ends {NAMES[end]}",
                lambda program: planning.other_end(program, self.chosen, place, end),
            )
        )
        editor.edited.connect(lambda name, value, settled: self._set_end(place, name, value, settled))
        editor.opted.connect(lambda name, option: self._option(f"ends.{place}.{name}", option))
        editor.removed.connect(
            lambda: self._edit(
                "ends otherwise",
                lambda program: planning.without_end(program, self.chosen, place),
            )
        )
        before = self.column.indexOf(self.ends_heading) + 1 + sum(len(each) for each in self.ends.values())
        self.column.insertWidget(before, editor)
        return editor
