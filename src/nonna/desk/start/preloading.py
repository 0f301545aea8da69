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
    from nonna.bench.station.site import Site

#: What the pages rest on, read from the disk on a worker before somebody waits for it. Nothing of Qt: its classes are
#: made when they are first met, and two threads that meet one together may take the program down.
BEHIND = (
    "jinja2.sandbox",
    "nonna.bench.sheet.changed_start",
    "nonna.bench.job.arriving",
    "nonna.bench.form_fields",
    "nonna.bench.job.batch_judging",
    "nonna.bench.job.breakage_checks",
    "nonna.bench.shelf.card_figure",
    "nonna.bench.tray.doubtful_tools",
    "nonna.bench.sheet.drafts",
    "nonna.bench.undo",
    "nonna.bench.sheet.instruments",
    "nonna.bench.founding.interview",
    "nonna.bench.tables.columns_chosen",
    "nonna.bench.tables.labels",
    "nonna.bench.tray.lengths_known",
    "nonna.bench.shelf.machine_card",
    "nonna.bench.tray.offset_table",
    "nonna.bench.founding.one_more_station",
    "nonna.bench.sheet.opening",
    "nonna.bench.job.planning",
    "nonna.bench.job.programs_run",
    "nonna.bench.job.programs_written",
    "nonna.bench.sheet.rests_on",
    "nonna.bench.shelf.shelving",
    "nonna.bench.sheet.signing",
    "nonna.bench.sheet.standin_jobs",
    "nonna.bench.founding.open_questions",
    "nonna.bench.tray.tool_grid",
    "nonna.bench.tray.table_change",
    "nonna.bench.sheet.temperature",
    "nonna.bench.tables.pockets",
    "nonna.bench.tray.tool_identity",
    "nonna.bench.job.tools_program",
    "nonna.bench.sheet.transfer_pairs",
    "nonna.bench.job.unseen",
    "nonna.bench.tray.tray",
    "nonna.bench.job.tray_work",
    "nonna.bench.station.weakest",
    "nonna.bench.tables.wear_column",
    "nonna.bench.job.measuring_way",
    "nonna.figures.ways",
    "nonna.metrology.drifting.wear",
    "nonna.procedures.doubt",
    "nonna.procedures.draft",
    "nonna.procedures.from_file",
    "nonna.procedures.instrument_line",
    "nonna.procedures.session",
    "nonna.procedures.wording",
    "nonna.programs.writing.results",
    "nonna.stations.mill.planning.snippets",
    "nonna.programs.writing.writer",
    "nonna.bench.guide_pages",
    "nonna.wiring",
    "nonna.shop.texts.line_pattern",
    "nonna.shop.cards.schools",
    "nonna.stations.mill.standin.batch",
    "nonna.standin.indicator",
    "nonna.stations.mill.standin.measuring",
    "nonna.stations.mill.standin.nearest",
    "nonna.stations.mill.standin.sheet_programs",
    "nonna.stations.mill.standin.template_check",
)
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
