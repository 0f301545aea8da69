"""Imports what is slow and checks the shop's files, while the first picture already stands."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import suppress
from importlib import import_module
from pkgutil import walk_packages
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

import nonna.desk
from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.site import Site

#: What the pages rest on, read from the disk on a worker before somebody waits for it. Nothing of Qt: its classes are made
#: when they are first met, and two threads that meet one together may take the program down.
BEHIND = (
    "jinja2.sandbox",
    *(f"nonna.{name}" for name in (
        "bench.another_way", "bench.arriving", "bench.asked", "bench.batch_judging", "bench.breakage_checks", "bench.card_figure", "bench.doubtful_tools", "bench.drafts", "bench.history", "bench.instruments", "bench.interview", "bench.kept_columns", "bench.labels",
        "bench.lengths_known", "bench.machine_card", "bench.offset_table", "bench.one_more_station", "bench.opening", "bench.planning", "bench.programs_run", "bench.programs_written", "bench.rests_on", "bench.shelving", "bench.signing",
        "bench.standin_jobs", "bench.still_asked", "bench.tool_grid", "bench.table_change", "bench.temperature", "bench.tables.pockets", "bench.tool_identity", "bench.tools_program", "bench.transfer_pairs", "bench.unseen", "bench.tray", "bench.tray_work", "bench.weakest", "bench.wear_column", "bench.which_way", "figures.ways", "metrology.wear", "procedures.doubt", "procedures.draft",
        "procedures.from_file", "procedures.instrument_line", "procedures.session", "procedures.wording", "programs.results", "programs.snippets", "programs.writer",
        "bench.guide_pages", "plugged", "shop.line_pattern", "shop.schools", "standin.batch", "standin.indicator", "standin.measuring", "standin.nearest",
        "standin.sheet_programs", "standin.template_check",
    )),
)  # fmt: skip
SLICE_S = 0.004  #: of loading between two looks at the events
#: No page of a window that stands: what runs without one, and what comes before it.
_NEVER_SHOWN = tuple(f"nonna.desk.{name}" for name in ("tour", "install", "app", "welcome", "setting_up"))


def warm_up(folder: ShopFiles, station: str = "") -> Site:
    """Load everything a sheet needs and return the shop, checked whole. Raises: NonnaError."""
    from nonna.bench.foreseen import foresee
    from nonna.bench.site import Site
    from nonna.procedures.catalogue import procedure
    from nonna.procedures.entry import warm_up as read_units
    from nonna.procedures.listing import PROCEDURES
    from nonna.stations.kind import kind_of

    site = Site.load(folder, station)  # first: a damaged shop is said at once
    for name in PROCEDURES:
        procedure(name)
    read_units()
    for name in BEHIND:
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


def pages() -> list[str]:
    """Return the modules of all that the desk can show."""
    found = (module.name for module in walk_packages(nonna.desk.__path__, "nonna.desk."))
    return [name for name in found if name not in _NEVER_SHOWN]
