"""The program as a listing for the team's own controller: to read, copy, save and print."""

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtGui import QFont, QTextDocument
from PySide6.QtWidgets import QApplication, QCheckBox, QPushButton

from irontrail.app import printing
from irontrail.app.asked_path import asked_path
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import ONE_WIDTH, Theme
from irontrail.app.widgets.listing_view import ListingView
from irontrail.core.errors import IronTrailError
from irontrail.core.listing.languages import LANGUAGES, changed_lines, listing
from irontrail.core.listing.parts import Listing
from irontrail.core.listing.robot import Options
from irontrail.core.listing.source import source
from irontrail.files import atomic

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

PRINTED_PT = 8.5
CALIBRATES = ("no", "by a sweep", "by hand")


class ListingSheet(Panel):
    """The language, what the program does beside driving, the text, and what has changed since it last went out."""

    SAYS = "The program to put on your robot."
    PRINTS = "the listing"

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.language, self.options = next(iter(LANGUAGES)), Options()
        self.listing = Listing("", ())
        self.languages = self.add_choice(
            "In", tuple(LANGUAGES), self._on_language, says="The program in {}, from the same steps."
        )
        self.calibrates = self.add_choice(
            "Calibrate", CALIBRATES, self._on_calibrate, says="Calibrate at the start: {}."
        )
        self.boxes: dict[str, QCheckBox] = {}
        rows = (self.add_row(), self.add_row())
        for name, words, says in (
            ("log", "keep a log", "Keep what was read and set, and print it at the end"),
            ("wheels", "with the wheels", "Write both wheels' counts into the log too"),
            ("stop_button", "stop on the button", "End the program when the button is pressed"),
        ):
            box = QCheckBox(words)
            row = rows[name == "stop_button"]
            box.setToolTip(says)
            box.toggled.connect(lambda on, name=name: self._on_box(name, on))
            row.addWidget(box)
            self.boxes[name] = box
        self.view = ListingView(theme)
        self.column.addWidget(self.view, 20)
        self.says = self.add_words("", "quiet")
        row = self.add_row()
        self.copy, self.save, self.print = QPushButton("Copy"), QPushButton("Save …"), QPushButton("Print …")
        for button, tip, act in (
            (self.copy, "Copy the listing, to paste it anywhere", self._copy),
            (self.save, "Save the listing as a file", self._save),
            (self.print, "Print the listing (Ctrl+P)", lambda: printing.ask(self, self.PRINTS, self.print_on)),
        ):
            button.setToolTip(tip)
            button.clicked.connect(act)
            row.addWidget(button)
        self.finish()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        for name, button in self.languages.items():
            button.setChecked(name == self.language)
        calibrates = source(self.session.setup).calibrates
        for name, button in self.calibrates.items():
            button.setChecked(name == self.options.calibrate)
            button.setEnabled(self.language != "words" and (name == "no" or calibrates))
        for box in self.boxes.values():
            box.setEnabled(self.language != "words")
        self.boxes["wheels"].setEnabled(self.language != "words" and self.options.log)
        self._show_listing()

    def _show_listing(self) -> None:
        self.listing = listing(self.session.setup, self.language, self.options)
        exported = self.session.project.exported
        changed: tuple[int, ...] = ()
        if exported is None:
            self.says.setText("It has not gone out yet.")
        else:
            changed = changed_lines(listing(exported, self.language, self.options).text, self.listing.text)
            what = f"{len(changed)} lines have" if len(changed) != 1 else "One line has"
            self.says.setText(f"{what} changed since it last went out." if changed else "As it last went out.")
        self.view.set_listing(self.listing.text, changed)

    def show_now(self, row: int) -> None:
        view = self.session.view
        if view is None or view.setup != self.session.setup:
            return
        rule, leg = int(np.rint(view.run.trace.rule[row])), int(view.run.trace.leg[row])
        now = {"rule": rule, "leg": leg}
        lit = tuple(line for line, kind, number in self.listing.marks if now[kind] == number)
        self.view.set_lit(lit, in_sight=self.session.playback.playing)

    # --- choosing

    def _on_language(self, language: str) -> None:
        self.language = language
        self.show_project()

    def _on_calibrate(self, how: str) -> None:
        self.options = replace(self.options, calibrate=how)  # type: ignore[arg-type]
        self.show_project()

    def _on_box(self, name: str, on: bool) -> None:
        self.options = replace(self.options, **{name: on})  # type: ignore[arg-type]
        self.show_project()

    # --- out

    def _copy(self) -> None:
        QApplication.clipboard().setText(self.listing.text)
        self._gone("copied")

    def _save(self) -> None:
        suffix = LANGUAGES[self.language][0]
        path = asked_path(self, "Save the listing", f"line_follower{suffix}", {suffix: self.language})
        if path is not None:
            self.save_to(path)

    def save_to(self, path: Path) -> None:
        """Save the listing as a file; what is wrong is told."""
        try:
            atomic.write_text(path, self.listing.text)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self._gone(f"in {path.name}")

    def print_on(self, printer: "QPrinter") -> None:
        # Set in points: what is on screen is measured in pixels, of which a page has ten times as many.
        page, letters = QTextDocument(), QFont(ONE_WIDTH)
        letters.setPointSizeF(PRINTED_PT)
        page.setDefaultFont(letters)
        page.setPlainText(self.listing.text)
        page.print_(printer)
        self._gone("printed")

    def _gone(self, how: str) -> None:
        """The listing has gone out: from now on what changes is marked."""
        project = self.session.project
        if project.exported != project.setup:
            self.session.document.apply("listing taken", replace(project, exported=project.setup))
        self.session.notice(f"The listing is {how}: {len(self.listing.lines)} lines.")
        self.show_project()
