"""A theme is worn by all that is in sight at once, and by the rest when it is shown."""

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QMenu, QPushButton, QWidget

from irontrail.app.panel import Panel
from irontrail.app.theme import DARK
from irontrail.app.trouble import TroubleWindow
from irontrail.app.widgets.key_sheet import KeySheet
from irontrail.app.widgets.label import Label
from tests.support import WindowTest


class Watch(QObject):
    """Counts how often widgets are dressed anew."""

    def __init__(self) -> None:
        super().__init__()
        self.dressed = 0

    def eventFilter(self, _watched: QObject, event: QEvent) -> bool:
        self.dressed += event.type() == QEvent.Type.StyleChange
        return False


def fill_of(button: QWidget) -> str:
    """The colour of a button just inside its outline, or of a bar's handle."""
    return button.grab().toImage().pixelColor(button.width() // 2, 3).name().upper()


def ink_of(words: QWidget) -> str:
    return words.palette().color(words.foregroundRole()).name().upper()


class DressingTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.window = self.open_window()
        self.window.wear("light")

    def test_what_is_out_of_sight_is_dressed_when_it_is_shown(self) -> None:
        looking, mat = self.window.session.looking, self.window.panel("Mat")
        watch = Watch()
        looking.go_to("Mat")
        for name in mat.there:
            mat.turn_to(name)
            self.app.processEvents()
            for inside in (mat.sheet(name), *mat.sheet(name).findChildren(QWidget)):
                inside.installEventFilter(watch)
        looking.go_to("Pit")
        self.app.processEvents()
        watch.dressed = 0
        self.window.wear("dark")
        self.app.processEvents()
        self.assertEqual(watch.dressed, 0)
        shown = [each for each in self.window.panel("Pit").findChildren(QPushButton) if each.isVisible()]
        self.assertEqual({fill_of(each) for each in shown if not each.property("sheet")}, {DARK.card})
        looking.go_to("Mat")
        self.assertEqual(fill_of(self.window.stack.areas["Mat"].verticalScrollBar()), DARK.rule)
        for name in mat.there:
            mat.turn_to(name)
            self.app.processEvents()
            for words in mat.findChildren(Label):
                if words.isVisible() and words.property("role"):
                    self.assertIn(ink_of(words), (DARK.ink, DARK.second), words.text())
            at = self.window.stack.areas["Mat"].mapTo(self.window, self.window.stack.areas["Mat"].rect().bottomRight())
            self.assertEqual(self.window.grab().toImage().pixelColor(at).name().upper(), DARK.sheet, name)
        self.assertGreater(watch.dressed, 0)

    def test_what_is_within_a_sheet_in_sight_is_dressed_with_it(self) -> None:
        looking = self.window.session.looking
        for stop, name in (("Mat", "Files"), ("Trip", "Legs")):
            self.window.wear("light")
            looking.go_to(stop)
            self.window.panel(stop).turn_to(name)
            self.app.processEvents()
            self.window.wear("dark")
            self.app.processEvents()
            sheet = self.window.panel(stop).in_sight
            self.assertTrue([each for each in sheet.findChildren(Panel) if each.isVisible()])
            for words in sheet.findChildren(Label):
                if words.isVisible() and words.property("role"):
                    self.assertIn(ink_of(words), (DARK.ink, DARK.second), words.text())

    def test_a_sheet_that_is_first_looked_at_wears_it(self) -> None:
        self.window.wear("dark")
        self.window.session.looking.go_to("Robot")
        robot = self.window.panel("Robot")
        robot.turn_to("Bench")
        self.app.processEvents()
        buttons = [each for each in robot.in_sight.findChildren(QPushButton) if each.isVisible() and each.isEnabled()]
        self.assertTrue(buttons)
        self.assertLessEqual({fill_of(each) for each in buttons}, {DARK.card})

    def test_what_stands_over_the_window_wears_it(self) -> None:
        self.window.show_keys()
        keys = self.window.findChild(KeySheet)
        self.window.wear("dark")
        headings = [words for words in keys.findChildren(Label) if words.property("role") == "heading"]
        self.assertTrue(headings)
        self.assertEqual({ink_of(words) for words in headings}, {DARK.second})
        trouble = TroubleWindow(self.window, "all is safe")
        trouble.show()
        self.app.processEvents()
        self.assertEqual(fill_of(trouble.buttons["copy"]), DARK.card)
        trouble.close()
        file = next(menu for menu in self.window.findChildren(QMenu) if menu.title() == "&File")
        self.assertEqual(file.grab().toImage().pixelColor(3, 3).name().upper(), DARK.card)
