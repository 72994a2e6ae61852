"""Where pages go: a file asked for, with its ending, and what has become of it told."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget


def asked_path(over: QWidget, title: str, name: str, kinds: dict[str, str]) -> Path | None:
    """A file asked for over a window; None if the person thought better of it.

    `kinds` are endings with what each is called; the first is taken where none is typed.
    """
    filters = ";;".join(f"{says} (*{ending})" for ending, says in kinds.items())
    # A mat may be called as no file can be.
    given, chosen = QFileDialog.getSaveFileName(over, title, name.replace("/", "-"), filters)
    if not given:
        return None
    path = Path(given)
    if path.suffix.lower() in kinds:
        return path
    ending = next((ending for ending, says in kinds.items() if chosen.startswith(says)), next(iter(kinds)))
    return path.with_name(path.name + ending)
