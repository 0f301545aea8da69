"""Everything by mouse: one menu, ordered as the commands are."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QMenu

from nonna.desk.actions.choices import events, sheets
from nonna.desk.commands.listed import CommandGroup, commands
from nonna.desk.forms.finder import Offer

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow


def open_menu(window: DeskWindow, choose: Callable[[str], None]) -> QMenu:
    """Open the menu under its button."""
    menu = QMenu(window)
    menu.aboutToHide.connect(menu.deleteLater)
    menu.setToolTipsVisible(True)
    for group in CommandGroup:
        _fill(
            menu.addMenu(group.value),
            (Offer(c.do, c.words, c.keys, c.help) for c in commands() if c.group is group),
            choose,
        )
        if group is CommandGroup.GO:
            _fill(menu.addMenu(window.tr("Open a sheet")), sheets(window.state), choose)
            _fill(menu.addMenu(window.tr("Log what happened")), events(window.state), choose)
    button = window.bar.menu
    menu.popup(button.mapToGlobal(QPoint(0, button.height())))
    return menu


def _fill(menu: QMenu, choices: Iterable[Offer], choose: Callable[[str], None]) -> None:
    for choice in choices:
        words = choice.words.replace("&", "&&")
        action = menu.addAction(f"{words}\t{choice.keys}" if choice.keys else words)
        action.setToolTip(choice.more)
        action.triggered.connect(partial(_chosen, choose, choice.key))


def _chosen(choose: Callable[[str], None], key: str, checked: bool = False) -> None:
    del checked
    choose(key)
