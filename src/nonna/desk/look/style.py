"""Type and style sheet: set once on the application."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QApplication, QToolTip, QWidget

from nonna import fonts
from nonna.desk.look.palette import DARK, LIGHT, Palette
from nonna.desk.look.wardrobe import Wardrobe

FAMILY = "B612"
BODY_PX = 15
_SHEET = Path(__file__).with_name("desk.qss")


def load_fonts() -> None:
    """Make the shipped typeface known to Qt."""
    for file in (fonts.REGULAR, fonts.BOLD):
        QFontDatabase.addApplicationFont(str(file))


def font(pixels: int, *, bold: bool = False) -> QFont:
    """Return the typeface at a size in logical pixels."""
    made = QFont(FAMILY)
    made.setPixelSize(pixels)
    made.setBold(bold)
    return made


def apply(app: QApplication, palette: Palette) -> None:
    """Dress the application in a theme."""
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
    sheet = _SHEET.read_text("utf-8")
    for name, colour in asdict(palette).items():
        sheet = sheet.replace(f"@{name};", f"{colour};")
    sheet = sheet.replace("CHEVRON", _quoted(_SHEET.with_name(f"chevron-{palette.name}.svg")))
    app.setProperty("nonna_theme", palette.name)
    tips = QPalette(colours)
    tips.setColor(QPalette.ColorRole.ToolTipBase, QColor(palette.bar))
    tips.setColor(QPalette.ColorRole.ToolTipText, QColor(palette.on_bar))
    QToolTip.setPalette(tips)
    Wardrobe.of(app).change(sheet)


def dress(widget: QWidget, *, soon: bool = False) -> None:
    """Dress a widget and all that is in it in the theme, now (or between events) and whenever that changes."""
    app = QApplication.instance()
    if isinstance(app, QApplication):
        (Wardrobe.of(app).dress_soon if soon else Wardrobe.of(app).dress)(widget)


def _quoted(path: Path) -> str:
    """Return a path as a style sheet takes it, whatever letters its folders have."""
    plain = path.as_posix().replace("\\", "\\\\").replace('"', '\\"')
    return f'"{plain}"'


def current() -> Palette:
    """Return the theme the application wears."""
    app = QApplication.instance()
    return DARK if app is not None and app.property("nonna_theme") == "dark" else LIGHT
