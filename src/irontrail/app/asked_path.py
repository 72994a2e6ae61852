"""A file asked for, with its ending: what would be lost under the name that comes of it is asked about."""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from irontrail.app.theme import dress


def asked_path(over: QWidget, title: str, name: str | Path, kinds: dict[str, str]) -> Path | None:
    """A file asked for over a window; None if the person thought better of it.

    `kinds` are endings with what each is called; the first is taken where none is typed. The dialog has asked of the
    name as it was typed: where the name with its ending is another file that is there, it is asked about here.
    """
    filters = ";;".join(f"{says} (*{ending})" for ending, says in kinds.items())
    # A mat may be called as no file can be.
    start = str(name) if isinstance(name, Path) else name.replace("/", "-")
    while True:
        given, chosen = QFileDialog.getSaveFileName(over, title, start, filters)
        if not given:
            return None
        path = Path(given)
        if path.suffix.lower() in kinds:
            return path
        ending = next((ending for ending, says in kinds.items() if chosen.startswith(says)), next(iter(kinds)))
        path = path.with_name(path.name + ending)
        answer = what_of(over, path, f"{path.name} is there already.") if path.exists() else "over"
        if answer != "elsewhere":
            return path if answer == "over" else None


def what_of(over: QWidget, path: Path, says: str) -> str:
    """Ask where to save, as something else stands in the file: "over" it, "elsewhere", or nowhere ("")."""
    box = QMessageBox(over)
    box.setWindowTitle("Iron Trail")
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(says)
    box.setInformativeText(f"If you save over it, what {path.name} holds now is lost.")
    replace = box.addButton("Save over it", QMessageBox.ButtonRole.DestructiveRole)
    elsewhere = box.addButton("Save elsewhere …", QMessageBox.ButtonRole.AcceptRole)
    box.addButton(QMessageBox.StandardButton.Cancel)
    box.setDefaultButton(elsewhere)
    dress(box)
    box.exec()
    chosen = box.clickedButton()
    box.deleteLater()
    return "over" if chosen is replace else "elsewhere" if chosen is elsewhere else ""
