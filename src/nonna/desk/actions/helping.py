"""Help on what is in front: which page of the guide, which field, which keys."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QDialog, QGridLayout, QVBoxLayout, QWidget

from nonna.bench.form_fields import asked_in
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.page import on_rail
from nonna.desk.commands.page_keys import keys_of
from nonna.desk.forms.help_dialog import HelpDialog
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.widgets import label, scrolled
from nonna.desk.frame.settings_dialog import SettingsDialog
from nonna.desk.frame.window import DeskWindow
from nonna.errors import NonnaError
from nonna.figures.figure import Figure
from nonna.procedures.catalogue import procedure
from nonna.procedures.facts import SheetFacts
from nonna.procedures.listing import PROCEDURES


def page_of(window: DeskWindow) -> str:
    """Return which page is in front, by its key in the guide; "sheet" for any sheet."""
    if window.sheets.in_front:
        return "sheet"
    if window.places.at(CommandId.TOOLS) and window.tools.rehearsing:
        return "rehearsal"
    return next((page.key for page in on_rail() if window.places.at(page.key)), CommandId.LOOP)


def topic_of(window: DeskWindow) -> str:
    """Return the page of the guide on what is in front: of a sheet that of its procedure."""
    if any(dialog.isVisible() for dialog in window.findChildren(SettingsDialog)):
        return "settings"
    page = page_of(window)
    return window.sheet.controller.session.name if page == "sheet" and window.sheet is not None else page


def field_in_hand() -> str:
    """Return what is to be said of the field that has the keyboard, "" where it is none."""
    widget = QApplication.focusWidget()
    if widget is None or not widget.toolTip():
        return ""
    return f"{widget.accessibleName()}: {widget.toolTip()}"


def help_here(window: DeskWindow) -> None:
    """Show the guide at the page, and the field, that is in front."""
    show(window, topic_of(window), field_in_hand())


def show(window: DeskWindow, key: str, field: str = "") -> None:
    """Show a page of the guide over the window; not over another one."""
    if any(dialog.isVisible() for dialog in window.findChildren(HelpDialog)):
        return
    show_over(HelpDialog(key, window, field=field, drawn=partial(_figure, window), more=_starts_from), window)


def keys_here(window: DeskWindow) -> None:
    """Show the keys of the page in front."""
    if not any(dialog.isVisible() for dialog in window.findChildren(QDialog)):
        show_over(KeysDialog(keys_of(page_of(window)), window), window)


class KeysDialog(QDialog):
    """A card of keys; any of the two that close a dialog leaves."""

    def __init__(self, keys: Iterable[tuple[str, str]], parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 20)
        column.addWidget(label(self.tr("The keys of this page"), "title"))
        inside, grid = QWidget(), QGridLayout()
        grid.setHorizontalSpacing(24)
        grid.setColumnStretch(1, 1)
        self.shown = tuple(keys)
        for row, (key, words) in enumerate(self.shown):
            grid.addWidget(label(key, "strong"), row, 0)
            grid.addWidget(label(words, wrap=True), row, 1)
        inside.setLayout(grid)
        column.addWidget(scrolled(inside), 1)
        column.addWidget(label(self.tr("Esc leaves. Everything else is found with Ctrl+K."), "quiet"))
        self.resize(640, 600)


def _figure(window: DeskWindow, key: str) -> Figure | None:
    """Draw a sheet as it starts here; nothing where that needs what nobody has typed yet."""
    if key not in PROCEDURES:
        return None
    here = window.sheet.controller.session if window.sheet is not None and window.sheets.in_front else None
    facts = here.facts if here is not None and here.name == key else SheetFacts()
    with suppress(NonnaError, KeyError, IndexError, ZeroDivisionError):
        return procedure(key).figure(facts, [], None, window.units)
    return None


def _starts_from(key: str) -> str:
    """List what a sheet of a procedure starts from; "" for the other pages."""
    if key not in PROCEDURES:
        return ""
    setup = procedure(key).model.model_fields["setup"].annotation
    rows = [f"- **{a.title}**: {a.help}" for a in asked_in(setup) if a.help]  # type: ignore[arg-type]
    return "\n\n## What it starts from\n\n" + "\n".join(rows) if rows else ""
