"""The look: paper and graphite, one hot accent, and the pair of colours of the two sides of the edge."""

from dataclasses import dataclass, fields
from functools import cache
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette, QPen
from PySide6.QtWidgets import QApplication, QWidget

from irontrail.core.mat.reflectance import linear_light

FAMILY = "B612"
ONE_WIDTH = "Iosevka"
_FONTS = Path(__file__).parent / "fonts"
_LAID_READY = "style sheet that parts are dressed in"


@dataclass(frozen=True)
class Theme:
    """Every colour of the window, as #rrggbb.

    `desk` lies under everything, `sheet` carries panels, `card` what can be pressed, `edge` outlines that; `rust` is
    what can be grabbed or started and the current run; `slate` is the dark side of the edge, `brass` the light side,
    each with a wash to fill with and a text tone. `kept` are the kept runs', each with the dash of KEPT_DASHES.
    """

    name: str
    desk: str
    sheet: str
    card: str
    rule: str
    edge: str
    ink: str
    second: str
    rust: str
    slate: str
    slate_wash: str
    brass: str
    brass_wash: str
    brass_text: str
    on_brass: str
    good: str
    shadow: str
    kept: tuple[str, str, str, str, str, str]


LIGHT = Theme(
    name="light",
    desk="#E9E3D6", sheet="#F7F3EA", card="#FFFDF8", rule="#D5CCBB", edge="#888070", ink="#23272B", second="#555B61",
    rust="#A8421A", slate="#2E4C78", slate_wash="#DFE5EE", brass="#B07D16", brass_wash="#F6EBD2",
    brass_text="#7A5408", on_brass="#23272B", good="#1F6B3A", shadow="#D3CAB8",
    kept=("#2E4C78", "#2F6B4F", "#7A3E6B", "#6B6A1E", "#1C6E7D", "#5A5F66"),
)  # fmt: skip

DARK = Theme(
    name="dark",
    desk="#17191C", sheet="#1F2226", card="#272B30", rule="#3A3F45", edge="#767C83", ink="#ECE7DC", second="#B4B5B3",
    rust="#EE7B47", slate="#7FA6DE", slate_wash="#2A3442", brass="#DCAA45", brass_wash="#3A3323",
    brass_text="#E2B456", on_brass="#1F2226", good="#77C794", shadow="#0E1012",
    kept=("#7FA6DE", "#6FBF97", "#C98ABB", "#C9C46A", "#6CC3D3", "#B4BAC2"),
)  # fmt: skip


class Worn(Theme):
    """The theme that a window wears: every view holds this one, and its colours change under them.

    Qt has all widgets painted when the application takes other colours; those that keep something drawn follow the
    StyleChange of being dressed anew.
    """

    def wear(self, theme: Theme) -> None:
        """Take the colours of another theme."""
        for field in fields(Theme):
            object.__setattr__(self, field.name, getattr(theme, field.name))


def worn(theme: Theme) -> Worn:
    """A theme to wear, with the colours of another to begin with."""
    return Worn(**{field.name: getattr(theme, field.name) for field in fields(Theme)})


# Pen dashes of the kept runs, in lengths of the pen's width.
KEPT_DASHES: tuple[tuple[float, ...], ...] = (
    (6.0, 3.0), (2.0, 3.0), (9.0, 3.0, 2.0, 3.0), (14.0, 4.0), (4.0, 2.0, 1.0, 2.0, 1.0, 2.0), (1.0, 2.0),
)  # fmt: skip


def load_fonts() -> None:
    """Register the bundled typefaces; a bare system has none at all."""
    for name in ("B612-Regular.otf", "B612-Bold.otf", "Iosevka-Regular.ttf"):
        if QFontDatabase.addApplicationFont(str(_FONTS / name)) < 0:
            raise RuntimeError(f"the bundled font {name} could not be loaded")


@cache
def font(pixels: int, bold: bool = False) -> QFont:
    """The typeface in a size, the same for all; sizes are in logical pixels, scaled with the screen."""
    made = QFont(FAMILY)
    made.setPixelSize(pixels)
    made.setBold(bold)
    return made


def pen(colour: str, width: float = 1.0, dashes: tuple[float, ...] = ()) -> QPen:
    """A round-joined pen that keeps its width at any zoom."""
    made = QPen(QColor(colour), width)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    made.setCapStyle(Qt.PenCapStyle.FlatCap if dashes else Qt.PenCapStyle.RoundCap)
    if dashes:
        made.setDashPattern(list(dashes))
    return made


def mixed(colour: str, other: str, share: float) -> QColor:
    """A colour with a share of another one: what that looks like, let through in part, over the first."""
    parts = ((int(colour[i : i + 2], 16), int(other[i : i + 2], 16)) for i in (1, 3, 5))
    return QColor(*(round(one + share * (two - one)) for one, two in parts))


def fade(colour: str, opacity: float) -> QColor:
    """A colour let through in part."""
    made = QColor(colour)
    made.setAlphaF(opacity)
    return made


@cache
def contrast(one: str, other: str) -> float:
    """How well one colour stands out on another, from 1 to 21 (WCAG 2.1)."""
    parts = (float(linear_light(colour) @ (0.2126, 0.7152, 0.0722)) for colour in (one, other))
    bright, dark = sorted(parts, reverse=True)
    return (bright + 0.05) / (dark + 0.05)


def readable(on: str, *inks: str, least: float = 4.5) -> str:
    """The first of some inks that can be read on a ground; black or white if none can, as one of them always can."""
    inks = (*inks, "#000000", "#FFFFFF")
    return next(ink for ink in inks if contrast(ink, on) >= least)


def apply(app: QApplication, theme: Theme) -> None:
    """Colour the whole application, and lay ready what its parts are dressed in."""
    palette = QPalette()
    roles = {
        QPalette.ColorRole.Window: theme.sheet,
        QPalette.ColorRole.WindowText: theme.ink,
        QPalette.ColorRole.Base: theme.card,
        QPalette.ColorRole.AlternateBase: theme.sheet,
        QPalette.ColorRole.Text: theme.ink,
        QPalette.ColorRole.Button: theme.card,
        QPalette.ColorRole.ButtonText: theme.ink,
        QPalette.ColorRole.ToolTipBase: theme.card,
        QPalette.ColorRole.ToolTipText: theme.ink,
        QPalette.ColorRole.PlaceholderText: theme.second,
        QPalette.ColorRole.Highlight: theme.rust,
        QPalette.ColorRole.HighlightedText: theme.card,
        QPalette.ColorRole.Accent: theme.rust,
    }
    for role, colour in roles.items():
        palette.setColor(role, QColor(colour))
    for role in (QPalette.ColorRole.WindowText, QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, fade(theme.second, 0.75))
    app.setPalette(palette)
    app.setProperty(_LAID_READY, _style_sheet(theme))


def dress(part: QWidget) -> None:
    """Dress a part of the window, and all in it, in the theme that the application wears; it may be so already.

    A style sheet is laid on each widget by itself, half a millisecond each: with all sheets open a window has 1,400, of
    which 70 are in sight. So there is none on the application, and what is out of sight is dressed when it is shown.
    """
    app = QApplication.instance()
    sheet = str(app.property(_LAID_READY) or "") if app is not None else ""
    if sheet != part.styleSheet():
        part.setStyleSheet(sheet)


def _style_sheet(theme: Theme) -> str:
    return f"""
    QToolTip {{ color: {theme.ink}; background: {theme.card}; border: 1px solid {theme.rule}; padding: 4px; }}
    QMenuBar {{ background: transparent; color: {theme.ink}; padding: 3px 6px; }}
    QMenuBar::item {{ padding: 4px 12px; background: transparent; border-radius: 4px; }}
    QMenuBar::item:selected {{ background: {theme.desk}; }}
    QMenu {{ background: {theme.card}; color: {theme.ink}; border: 1px solid {theme.rule}; padding: 4px; }}
    QMenu::item {{ padding: 5px 28px 5px 24px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {theme.desk}; }}
    QMenu::item:disabled {{ color: {theme.second}; }}
    QMenu::separator {{ height: 1px; background: {theme.rule}; margin: 4px 8px; }}
    QPlainTextEdit[listing="true"] {{ font-family: "{ONE_WIDTH}"; font-size: 12px;
        border: 1px solid {theme.edge}; }}
    QPlainTextEdit[listing="true"]:focus {{ border-color: {theme.rust}; }}
    QCheckBox::indicator:unchecked {{ border: 1px solid {theme.edge}; border-radius: 3px; background: {theme.card};
        width: 12px; height: 12px; }}
    QPushButton {{ background: {theme.card}; color: {theme.ink}; border: 1px solid {theme.edge};
        border-radius: 5px; padding: 5px 12px; }}
    QPushButton:hover {{ border-color: {theme.rust}; }}
    QPushButton:focus, QCheckBox:focus {{ outline: 1px solid {theme.rust}; outline-offset: -1px;
        outline-radius: 3px; border-color: {theme.rust}; }}
    QPushButton:pressed {{ background: {theme.desk}; }}
    QPushButton:checked {{ border: 1px solid {theme.rust}; color: {theme.rust}; font-weight: bold; }}
    QPushButton:disabled {{ color: {theme.second}; border-color: {theme.rule}; }}
    QPushButton[start="true"] {{ border-color: {theme.rust}; color: {theme.rust}; font-weight: bold; }}
    QPushButton[small="true"] {{ padding: 3px 7px; font-size: 11px; }}
    QPushButton[choice="true"] {{ padding: 5px 3px; }}
    QPushButton[sheet="true"] {{ background: transparent; border: none; border-bottom: 2px solid transparent;
        border-radius: 0; padding: 3px 5px; font-size: 11px; color: {theme.second}; }}
    QPushButton[sheet="true"]:hover {{ color: {theme.ink}; border-bottom-color: {theme.rule}; }}
    QPushButton[sheet="true"]:checked {{ color: {theme.ink}; font-weight: bold;
        border-bottom: 2px solid {theme.rust}; }}
    QPushButton[tool="true"] {{ padding: 0px 8px; min-height: 16px; font-size: 11px; border-radius: 4px; }}
    QLineEdit:focus {{ border-color: {theme.rust}; }}
    QLineEdit {{ background: {theme.card}; color: {theme.ink}; border: 1px solid {theme.edge};
        border-radius: 4px; padding: 1px 4px; selection-background-color: {theme.rust}; }}
    QComboBox {{ background: {theme.card}; color: {theme.ink}; border: 1px solid {theme.edge}; border-radius: 5px;
        padding: 3px 8px; }}
    QComboBox::drop-down {{ border: none; width: 18px; }}
    QComboBox::down-arrow {{ image: none; width: 0px; height: 0px; border-left: 4px solid {theme.card};
        border-right: 4px solid {theme.card}; border-top: 5px solid {theme.second}; margin-right: 6px; }}
    QComboBox:hover {{ border-color: {theme.rust}; }}
    QComboBox:focus {{ border: 2px solid {theme.rust}; padding: 2px 7px; }}
    QComboBox QAbstractItemView {{ background: {theme.card}; color: {theme.ink}; border: 1px solid {theme.rule};
        selection-background-color: {theme.desk}; selection-color: {theme.ink}; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: {theme.sheet}; border: none; }}
    QScrollBar:vertical {{ background: transparent; width: 8px; }}
    QScrollBar::handle:vertical {{ background: {theme.rule}; border-radius: 4px; min-height: 24px; }}
    QScrollBar:horizontal {{ background: transparent; height: 8px; }}
    QScrollBar::handle:horizontal {{ background: {theme.rule}; border-radius: 4px; min-width: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    QLabel[role="title"] {{ font-size: 20px; font-weight: bold; color: {theme.ink}; }}
    QLabel[role="number"] {{ font-size: 17px; font-weight: bold; color: {theme.ink}; }}
    QLabel[role="lead"] {{ font-size: 12px; font-weight: bold; color: {theme.ink}; }}
    QLabel[role="heading"] {{ font-size: 12px; font-weight: bold; color: {theme.second}; }}
    QLabel[role="words"] {{ font-size: 11px; color: {theme.ink}; }}
    QLabel[role="quiet"] {{ font-size: 11px; color: {theme.second}; }}
    QFrame[role="rule"] {{ background: {theme.rule}; max-height: 1px; border: none; }}
    QFrame[role="notice"] {{ background: {theme.brass_wash}; border: none; border-bottom: 1px solid {theme.brass}; }}
    """
