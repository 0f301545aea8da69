"""Imports what is slow and checks the shop's files, while the first picture already stands."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import suppress
from importlib import import_module
from pkgutil import walk_packages
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.station.site import Site

#: What the pages rest on, read from the disk on a worker before somebody waits for it. Nothing of Qt: its classes are
#: made when they are first met, and two threads that meet one together may take the program down.
_ROOMS_BEHIND = ("bench", "stations", "standin", "programs", "procedures", "figures", "shop")
#: The desk's own rooms from below, so that no module brings all others along in one go.
_ROOMS = ("look", "threads", "forms", "commands", "pages", "frame", "signing", "tray", "actions", "start")
SLICE_S = 0.004  #: of loading between two looks at the events
#: No page of a window that stands: what runs without one, and what comes before it.
_NEVER_SHOWN = (
    "nonna.desk.start.tour",
    "nonna.desk.start.install",
    "nonna.desk.start.app",
    "nonna.desk.start.welcome",
    "nonna.desk.start.setting_up",
)


def warm_up(folder: ShopFiles, station: str = "") -> Site:
    """Load everything a sheet needs and return the shop, checked whole. Raises: NonnaError."""
    from nonna.bench.station.site import Site
    from nonna.bench.tray.read_ahead import foresee
    from nonna.procedures.catalogue import procedure
    from nonna.procedures.entry import warm_up as read_units
    from nonna.procedures.listing import PROCEDURES
    from nonna.stations.kind import kind_of

    site = Site.load(folder, station)  # first: a damaged shop is said at once
    for name in PROCEDURES:
        procedure(name)
    read_units()
    for name in behind():
        import_module(name)
    import_module("nonna.bench.guide_pages").topics()  # its pages are files too
    with suppress(NonnaError):  # a damaged record is said by whoever rests on it
        foresee(site.results(), kind_of(site.machine.kind), (tool.subject for tool in site.tools))
    return site


class PageLoader(QObject):
    """Reads the pages' own modules between events, and has the binding make its classes, all on the Qt thread."""

    done = Signal()

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._left = _loads()
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._go_on)
        self._timer.start()

    def _go_on(self) -> None:
        begun = time.perf_counter()
        while time.perf_counter() - begun < SLICE_S:
            if next(self._left, None) is None:
                self._timer.stop()
                self.done.emit()
                return


def _loads() -> Iterator[object]:
    for name in pages():
        yield import_module(name).__name__  # the look at it loads one that was put off
    widgets = import_module("PySide6.QtWidgets")
    for name in dir(widgets):
        yield getattr(widgets, name) or name


def behind() -> list[str]:
    """Return the modules that the worker reads."""
    return ["jinja2.sandbox", "nonna.wiring", *(name for room in _ROOMS_BEHIND for name in _modules(f"nonna.{room}"))]


def pages() -> list[str]:
    """Return the modules of all that the desk can show."""
    return [name for room in _ROOMS for name in _modules(f"nonna.desk.{room}") if name not in _NEVER_SHOWN]


def _modules(room: str) -> list[str]:
    return [module.name for module in walk_packages(import_module(room).__path__, f"{room}.")]
