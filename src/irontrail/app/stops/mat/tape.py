"""Laying tape: pieces added, dragged on the mat, measured by dials, turned the other way and taken up."""

from collections.abc import Callable
from dataclasses import fields, replace

from PySide6.QtWidgets import QGridLayout, QPushButton

from irontrail.app.column import clear
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.mat.editing import edit_line, edit_mat
from irontrail.app.stops.mat.line_editor import LineEditor
from irontrail.app.theme import Theme
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.piece_button import PICTURES, PieceButton
from irontrail.app.widgets.tape_hand import TapeHand
from irontrail.core.capital import capital
from irontrail.core.mat import laying, lines
from irontrail.core.mat.lead_back import joined
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Piece, Straight, Stroke, Wiggle
from irontrail.core.quantity import quantities, with_value

KINDS: dict[str, type[Piece]] = {"straight": Straight, "bend": Bend, "corner": Corner, "wiggle": Wiggle, "gap": Gap}
# What the tracks of a piece's dials cover.
TRACKS = {
    "length_mm": (0.0, 1500.0),
    "radius_mm": (20.0, 500.0),
    "angle_deg": (-180.0, 180.0),
    "swing_deg": (-90.0, 90.0),
    "waves": (1.0, 12.0),
}
HINT = "On the mat: drag joints, bends and whole lines; Ctrl lets go of the grid."
# Buttons for lines beside each other.
IN_A_ROW = 8


class TapeSheet(Panel):
    """The lines, the pieces to lay, the chosen piece's measures, and its line."""

    SAYS = "Lay the line, piece by piece."

    hand: TapeHand

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = hand = TapeHand(self)
        hand.picked.connect(self.choose)
        hand.laid.connect(self._on_laid)
        hand.taken_up.connect(self.take_up)
        hand.doubled.connect(self.double)
        hand.brought_together.connect(lambda: self.editor.close_by(joined))
        self._line, self.piece_at = 0, len(session.setup.mat.followed.pieces) - 1
        self._lines = QGridLayout()
        self._lines.setSpacing(4)
        self.column.addLayout(self._lines)
        self.line_buttons: list[QPushButton] = []
        self.goal: QPushButton | None = None
        self._lay_out_pieces()
        self._lay_out_piece()
        self._lay_out_rest()
        self.finish()

    @property
    def stroke(self) -> Stroke:
        """The line worked on."""
        return self.session.setup.mat.lines[self._line]

    @property
    def piece(self) -> Piece:
        """The chosen piece."""
        return self.stroke.pieces[self.piece_at]

    def _lay_out_pieces(self) -> None:
        self.where = self.add_heading("")
        grid = QGridLayout()
        grid.setSpacing(5)
        self.kinds: dict[str, PieceButton] = {}
        for i, kind in enumerate(PICTURES):
            button = PieceButton(kind, self.theme)
            button.clicked.connect(lambda _checked=False, kind=kind: self.lay(kind))
            grid.addWidget(button, i // 4, i % 4)
            self.kinds[kind] = button
        self.column.addLayout(grid)

    def _lay_out_piece(self) -> None:
        row = self.add_row()
        self.back = self.add_act("‹", "The piece before (Page Up on the mat)", lambda: self._step(-1), row)
        self.name = self._label("", "heading")
        row.addWidget(self.name)
        self.on = self.add_act("›", "The next piece (Page Down on the mat)", lambda: self._step(1), row)
        row.addStretch(1)
        for button in (self.back, self.on):
            button.setFixedWidth(26)
        row = self.add_row()
        self.add_act("Double", "Lay the same piece once more (Insert on the mat)", self.double, row)
        self.add_act("Other way", "Turn it to the other side", self._mirror, row)
        self.add_act("Take up", "Take this piece of tape up (Delete on the mat)", self.take_up, row)
        row.addStretch(1)
        self.measures: dict[tuple[str, str], Dial] = {}
        for kind, made in KINDS.items():
            for name, quantity in quantities(made).items():
                dial = Dial(quantity, self.theme, *TRACKS[name])
                dial.setObjectName(f"{kind}.{name}")
                dial.edited.connect(lambda value, settled, name=name: self._measure(name, value, settled))
                self.column.addWidget(dial)
                self.measures[kind, name] = dial

    def _lay_out_rest(self) -> None:
        self.add_rule()
        self.editor = LineEditor(self.session, self.theme)
        self.editor.turned_round.connect(self._from_its_other_end)
        self.editor.laid_twice.connect(lambda: self.choose(len(self.session.setup.mat.lines) - 1, self.piece_at))
        self.column.addWidget(self.editor)
        self.no_picture = QPushButton("Take the picture from under it")
        self.no_picture.setToolTip("Show the mat without the photo it was traced from")
        self.no_picture.setProperty("small", "true")
        self.no_picture.clicked.connect(lambda: self.session.lent.lay_under(None))
        self.session.lent.underlay_changed.connect(self.show_project)
        self.column.addWidget(self.no_picture)
        self.hint = self.add_words(HINT, "quiet")

    # --- choosing

    def choose(self, line: int, piece: int) -> None:
        """Work on a piece of a line."""
        self.take_typed()
        self._line, self.piece_at = line, piece
        self.show_project()

    def _step(self, by: int) -> None:
        self.choose(self._line, (self.piece_at + by) % len(self.stroke.pieces))

    # --- laying

    def _change(
        self, label: str, change: Callable[[Stroke], Stroke], piece: int | None = None, key: str | None = None
    ) -> None:
        """Change the line worked on, and work on a piece of it then."""
        if edit_line(self.session, self._line, label, change, key) and piece is not None:
            self.piece_at = piece
        self.show_project()

    def lay(self, kind: str) -> None:
        """Lay another piece after the chosen one, or a fork or a crossing there."""
        self.take_typed()
        at = self.piece_at + 1
        if kind in ("fork", "crossing"):
            make = lines.forked if kind == "fork" else lines.crossed
            if edit_mat(self.session, f"lay a {kind}", lambda mat: make(mat, self._line, self.piece_at)):
                laid = self.session.setup.mat.lines
                self.choose(len(laid) - 1, len(laid[-1].pieces) - 1)
            return
        name, _, side = kind.partition(" ")
        piece = laying.NEW_PIECES[name]
        if isinstance(piece, Bend) and side == "right":
            piece = replace(piece, angle_deg=-piece.angle_deg)
        self._change(f"lay a {kind}", lambda stroke: laying.inserted(stroke, at, piece), at)

    def double(self) -> None:
        """Lay the chosen piece once more, after itself."""
        at, piece = self.piece_at + 1, self.piece
        self._change(f"double the {piece.kind}", lambda stroke: laying.inserted(stroke, at, piece), at)

    def take_up(self) -> None:
        """Take the chosen piece up."""
        at = self.piece_at
        self._change(f"take up the {self.piece.kind}", lambda stroke: laying.removed(stroke, at), max(at - 1, 0))

    def _mirror(self) -> None:
        piece = self.piece
        if isinstance(piece, Bend | Corner):
            other: Piece = replace(piece, angle_deg=-piece.angle_deg)
        elif isinstance(piece, Wiggle):
            other = replace(piece, swing_deg=-piece.swing_deg)
        else:
            return
        self._replace(f"turn the {piece.kind} the other way", other)

    def _measure(self, name: str, value: float, settled: bool) -> None:
        piece = self.piece
        if name not in {field.name for field in fields(piece)}:
            return
        if name in ("angle_deg", "swing_deg") and value == 0.0:
            value = 1.0
        other: Piece = with_value(piece, name, int(value) if name == "waves" else value)
        self._replace(f"{piece.kind} {quantities(type(piece))[name].label}", other, key=f"piece {name}")
        if settled:
            self.session.settle()

    def _replace(self, label: str, piece: Piece, key: str | None = None) -> None:
        at = self.piece_at
        self._change(label, lambda stroke: laying.replaced(stroke, at, piece), key=key)

    def _on_laid(self, line: int, stroke: Stroke, label: str, settled: bool) -> None:
        edit_line(self.session, line, label, lambda _stroke: stroke, label)
        if settled:
            self.session.settle()

    def _from_its_other_end(self) -> None:
        self.choose(self._line, len(self.stroke.pieces) - 1 - self.piece_at)

    def _follow(self) -> None:
        edit_mat(self.session, f"follow line {self._line + 1}", lambda mat: replace(mat, goal=self._line))

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        mat = self.session.setup.mat
        self._line = min(self._line, len(mat.lines) - 1)
        stroke = mat.lines[self._line]
        self.piece_at = min(self.piece_at, len(stroke.pieces) - 1)
        piece, last = self.piece, len(stroke.pieces) - 1
        self.hand.set_line(mat, self._line, self.piece_at)
        self._show_lines(mat)
        end = self.piece_at == last and not stroke.closed
        self.where.setText("Lay at the open end" if end else f"Lay after piece {self.piece_at + 1}")
        self.name.setText(f"{capital(piece.kind)}, {self.piece_at + 1} of {last + 1}")
        for (kind, name), dial in self.measures.items():
            dial.setVisible(kind == piece.kind)
            if kind == piece.kind:
                dial.set_value(float(getattr(piece, name)))
        self.editor.show_line(self._line)
        self.hint.setText("This line runs off the mat. " + HINT if _runs_off(mat, stroke) else HINT)
        underlay = self.session.lent.underlay
        self.no_picture.setVisible(underlay is not None and underlay.mat_name == mat.name)

    def _show_lines(self, mat: Mat) -> None:
        """A button for each line where there are several, and one to follow another of them."""
        wanted = len(mat.lines) if len(mat.lines) > 1 else 0
        if len(self.line_buttons) != wanted:
            clear(self._lines)
            self.line_buttons = [self._line_button(i) for i in range(wanted)]
            one_of(self, self.line_buttons)
            self.goal = None
            if wanted:
                self.goal = self.add_act("", "Make this the line to the goal", self._follow)
                self._lines.addWidget(self.goal, (wanted - 1) // IN_A_ROW + 1, 0, 1, IN_A_ROW)
        for i, button in enumerate(self.line_buttons):
            button.setChecked(i == self._line)
            button.setText(f"{i + 1} ★" if i == mat.goal else str(i + 1))
            button.setToolTip("the line that is followed" if i == mat.goal else "another line")
        if self.goal is not None:
            self.goal.setEnabled(self._line != mat.goal)
            self.goal.setText("Followed" if self._line == mat.goal else "Follow this line")

    def _line_button(self, i: int) -> QPushButton:
        button = QPushButton(str(i + 1))
        button.setCheckable(True)
        button.setProperty("choice", "true")
        button.setMinimumWidth(30)
        button.setAccessibleName(f"work on line {i + 1}")
        button.clicked.connect(lambda: self.choose(i, 0))
        self._lines.addWidget(button, i // IN_A_ROW, i % IN_A_ROW)
        return button


def _runs_off(mat: Mat, stroke: Stroke) -> bool:
    """Whether any of a line's middle lies beside its mat."""
    route = stroke_route(stroke, mat.name)
    inside = (route.x_mm >= 0.0) & (route.x_mm <= mat.width_mm) & (route.y_mm >= 0.0) & (route.y_mm <= mat.height_mm)
    return not bool(inside.all())
