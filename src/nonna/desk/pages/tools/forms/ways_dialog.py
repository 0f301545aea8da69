"""Presetter or setter: one picture of what each tool needs, and the minutes each way costs."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nonna.bench.form_fields import Asked
from nonna.bench.job.measuring_way import TOLERANCE_MM, Way, with_usual
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.form_dialog import FormDialog
from nonna.desk.forms.widgets import ClearArea
from nonna.errors import NonnaError
from nonna.figures.ways import WayRow, ways_figure
from nonna.procedures.entry import parse_length
from nonna.wording.lengths import Units, small

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

ROW_PX, MOST_PX = 30, 430


class WaysDialog(FormDialog):
    """Shows every tool's two ways; Enter marks those that need the machine's setter."""

    def __init__(self, found: tuple[Way, ...], units: Units, parent: QWidget) -> None:
        self.ways, self._units = found, units
        self.view = FigureView()
        usual = f"{TOLERANCE_MM * units.scale:.4g}"
        fields = [Asked("tolerance", "Tolerance of tools without one", usual, unit=units.symbol)]
        hint = "The presetter where it is good enough, for the machine cuts on meanwhile; else the machine's setter."
        super().__init__("Presetter or setter?", hint, fields, parent, action="Mark those for the setter")
        area = ClearArea()
        area.setWidget(self.view)
        area.setMinimumHeight(MOST_PX)
        self.add_below(area)
        self.resize(900, 620)
        self.edited.connect(self._show)
        self._show(self.values())

    def _show(self, values: dict[str, str]) -> None:
        try:
            tolerance = parse_length(values["tolerance"], self._units)
            if tolerance <= 0.0:
                raise NonnaError("out-of-range", "Tolerance: more than nothing.", "tolerance")
            self.ways = with_usual(self.ways, tolerance)
        except NonnaError as error:
            self.say(error.message, "bad")
            return
        self.view.setMinimumHeight(max(MOST_PX - 20, ROW_PX * len(self.ways) + 70))
        self.view.show_figure(ways_figure([_row(way, self._units) for way in self.ways], self._units))
        self.say(_words(self.ways))


def _row(way: Way, units: Units) -> WayRow:
    words = {
        "presetter": f"presetter {way.presetter.minutes:.1f} min, setter {way.setter.minutes:.1f}",
        "setter": f"setter {way.setter.minutes:.1f} min, presetter {way.presetter.minutes:.1f}",
        "neither": _neither(way, units),
    }[way.choice]
    return WayRow(
        f"T{way.number}", way.tolerance_mm, way.presetter.expanded_mm, way.setter.expanded_mm, way.choice, words
    )


def _neither(way: Way, units: Units) -> str:
    best = min((s.expanded_mm for s in (way.presetter, way.setter) if s.expanded_mm is not None), default=None)
    return f"neither: at best ± {small(best, units)}" if best is not None else "neither can be done now"


def _words(found: tuple[Way, ...]) -> str:
    """Say how many go which way and what that costs, and why a way is closed to all."""
    counts = {name: [w for w in found if w.choice == name] for name in ("presetter", "setter", "neither")}
    beside = sum(w.presetter.minutes for w in counts["presetter"])
    on = sum(w.setter.minutes for w in counts["setter"])
    saved = sum(w.setter.minutes for w in counts["presetter"])
    words = (
        f"{len(counts['presetter'])} on the presetter, {beside:.0f} min beside the machine (saves {saved:.0f} min of "
        "it); "
        f"{len(counts['setter'])} on the setter, {on:.0f} min; {len(counts['neither'])} neither."
    )
    closed = {w.presetter.why for w in found if w.presetter.expanded_mm is None}
    return f"{words} No presetter now: {closed.pop()}" if len(closed) == 1 and found else words
