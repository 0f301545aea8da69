"""Imports what is slow and checks the shop's files, while the first picture already stands."""

from __future__ import annotations

from importlib import import_module
from pkgutil import walk_packages
from typing import TYPE_CHECKING

import nonna.desk
from nonna.bench.ports import ShopFiles

if TYPE_CHECKING:
    from nonna.bench.site import Site

#: What the pages need beside the desk's own modules, read from the disk before somebody waits for it.
BEHIND = (
    "nonna.bench.planning",
    "nonna.bench.tool_storing",
    "nonna.bench.lengths_known",
    "nonna.programs.snippets",
    "nonna.programs.writer",
    "nonna.standin.measuring",
    "nonna.standin.sheet_programs",
    "nonna.shop.schools",
    "jinja2.sandbox",
)
_NEVER_SHOWN = ("nonna.desk.tour", "nonna.desk.install")


def warm_up(folder: ShopFiles, station: str = "") -> Site:
    """Load everything a sheet needs and return the shop, checked whole. Raises: NonnaError."""
    from nonna.bench.site import Site
    from nonna.procedures.catalogue import procedure
    from nonna.procedures.entry import warm_up as read_units
    from nonna.procedures.listing import PROCEDURES

    site = Site.load(folder, station)  # first: a damaged shop is said at once
    for name in PROCEDURES:
        procedure(name)
    read_units()
    for name in (*BEHIND, *_pages()):
        import_module(name)
    _know_the_toolkit()
    return site


def _pages() -> list[str]:
    found = (module.name for module in walk_packages(nonna.desk.__path__, "nonna.desk."))
    return [name for name in found if name not in _NEVER_SHOWN]


def _know_the_toolkit() -> None:
    """Have the binding make its classes now; it does so when one is first met, all relatives of it at once."""
    widgets = import_module("PySide6.QtWidgets")
    for name in dir(widgets):
        getattr(widgets, name)
