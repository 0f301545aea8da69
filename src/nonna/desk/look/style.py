"""Type, colours and how single widgets wear them."""

from __future__ import annotations

import functools
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TypeVar

from PySide6.QtCore import QObject
from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication, QToolTip, QWidget
from shiboken6 import isValid

from nonna import fonts
from nonna.desk.look.palette import LIGHT, Palette

WHOLE = {"QComboBox", "QAbstractItemView", "QLineEdit"}  #: by name: to be met they need not be imported
_HELD = "_nonna_wardrobe"


class Wardrobe(QObject):
    """What is dressed, by its roots."""

    def __init__(self, app: QApplication, worn: Callable[[QWidget], QWidget]) -> None:
        super().__init__(app)
        self._worn = worn
        self._roots: list[QWidget] = []

    @classmethod
    def of(cls, app: QApplication, worn: Callable[[QWidget], QWidget]) -> Wardrobe:
        """Return the application's; it is told what puts on one widget what that wears."""
        found = getattr(app, _HELD, None)  # not by findChild: that makes half of the binding's classes, at start-up
        if not isinstance(found, cls):
            found = cls(app, worn)
            setattr(app, _HELD, found)
        return found

    def dress(self, root: QWidget) -> None:
        """Dress a widget with all that is in it now, and again whenever the theme changes."""
        self._roots = [r for r in self._roots if isValid(r) and r is not root] + [root]
        for piece in pieces(root):
            self._worn(piece)

    def change(self) -> None:
        """Take on another theme everywhere."""
        self._roots = [r for r in self._roots if isValid(r)]
        for root in self._roots:
            for piece in pieces(root):
                self._worn(piece)


def pieces(root: QWidget) -> Iterator[QWidget]:
    """Give a widget and all that is in it, but for what goes while others are dressed."""
    if not isValid(root):
        return
    inside = (
        [] if WHOLE & {cls.__name__ for cls in type(root).__mro__} else root.children()
    )  # what those are made of wears what they wear
    yield root
    for child in inside:
        if isValid(child) and isinstance(child, QWidget) and not child.isWindow():
            yield from pieces(child)


FAMILY = "B612"
BODY_PX = 15
LOOK = "look"  #: property of a widget that wears something else than its kind
_SHEETS = Path(__file__).with_name("kinds.qss")
_KINDS = {  # by name: at start-up most of them are not wanted yet
    "QPushButton": "button",
    "QLineEdit": "line",
    "QComboBox": "choice",
    "QScrollBar": "scroll-bar",
    "QTableView": "table",
    "QTreeView": "table",
    "QListView": "list",
    "QProgressBar": "progress",
}
_WORN = "_nonna_palette"  #: kept by the application: asked for with every stroke
_WITH_BARS = ("table", "list", "choice")
_W = TypeVar("_W", bound=QWidget)


def load_fonts() -> None:
    """Make the shipped typeface known to Qt."""
    for file in (fonts.REGULAR, fonts.BOLD):
        QFontDatabase.addApplicationFont(str(file))


@functools.cache
def font(pixels: int, *, bold: bool = False) -> QFont:
    """Return the typeface at a size in logical pixels."""
    made = QFont(FAMILY)
    made.setPixelSize(pixels)
    made.setBold(bold)
    return made


def wear(palette: Palette) -> None:
    """Dress the application there is in another theme."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        apply(app, palette)


def apply(app: QApplication, palette: Palette) -> None:
    """Dress the application in a theme: what is seen first, the rest between events."""
    app.setFont(font(BODY_PX))
    colours = QPalette()
    for role, name in (
        (QPalette.ColorRole.Window, palette.ground), (QPalette.ColorRole.Base, palette.card),
        (QPalette.ColorRole.Text, palette.ink), (QPalette.ColorRole.WindowText, palette.ink),
        (QPalette.ColorRole.ButtonText, palette.ink), (QPalette.ColorRole.Button, palette.card),
        (QPalette.ColorRole.Highlight, palette.accent), (QPalette.ColorRole.HighlightedText, palette.on_accent),
        (QPalette.ColorRole.PlaceholderText, palette.muted),
    ):  # fmt: skip
        colours.setColor(role, QColor(name))
    app.setPalette(colours)
    setattr(app, _WORN, palette)
    tips = QPalette(colours)
    tips.setColor(QPalette.ColorRole.ToolTipBase, QColor(palette.bar))
    tips.setColor(QPalette.ColorRole.ToolTipText, QColor(palette.on_bar))
    QToolTip.setPalette(tips)
    Wardrobe.of(app, worn).change()


def worn(widget: _W) -> _W:
    """Put on one widget what it wears in the theme there is, and return it; one with a ``wear`` does it itself."""
    wear = getattr(widget, "wear", None)
    if wear is not None:
        wear(current())
    elif kind := kind_of(widget):
        wanted = sheet(kind, current())
        if widget.styleSheet() != wanted:
            widget.setStyleSheet(wanted)
    return widget


def kind_of(widget: QWidget) -> str:
    """Return what kind of style sheet a widget wears, "" for none: it takes its colours from the palette."""
    kind = next((_KINDS[cls.__name__] for cls in type(widget).__mro__ if cls.__name__ in _KINDS), "")
    return str(widget.property(LOOK) or kind) if kind else ""


def show_look(widget: QWidget, look: str) -> None:
    """Have a widget wear something else than its kind."""
    if widget.property(LOOK) != look:
        widget.setProperty(LOOK, look)
        worn(widget)


@functools.cache
def sheet(kind: str, palette: Palette) -> str:
    """Return the style sheet of a kind of widgets: a short one, for each is worked through by itself."""
    found = _sections()[kind] + (_sections()["scroll-bar"] if kind in _WITH_BARS else "")
    for name, colour in palette._asdict().items():
        found = found.replace(f"@{name};", f"{colour};")
    return found.replace("CHEVRON", _quoted(_SHEETS.with_name(f"chevron-{palette.name}.svg")))


@functools.cache
def _sections() -> dict[str, str]:
    parts = _SHEETS.read_text("utf-8").split("/* ")[1:]
    return {name: rules for name, _, rules in (part.partition(" */\n") for part in parts)}


def dress(widget: QWidget) -> None:
    """Dress a widget and all that is in it in the theme, now and whenever that changes."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        Wardrobe.of(app, worn).dress(widget)


def _quoted(path: Path) -> str:
    """Return a path as a style sheet takes it, whatever letters its folders have."""
    plain = path.as_posix().replace("\\", "\\\\").replace('"', '\\"')
    return f'"{plain}"'


def current() -> Palette:
    """Return the theme the application wears."""
    found: Palette = getattr(QApplication.instance(), _WORN, LIGHT)
    return found
