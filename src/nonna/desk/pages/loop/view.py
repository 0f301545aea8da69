"""The Loop view: how things stand, drawn; what to do next."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nonna.bench.station.state import ShopState
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.widgets import card, emptied, label, scrolled
from nonna.desk.pages.loop.jobs import JobsPanel
from nonna.desk.pages.loop.station import Station, StationRow
from nonna.stations.branch import NOTE, branch_figure
from nonna.stations.telling import cause, headline
from nonna.wording.lengths import Units, small

if TYPE_CHECKING:
    from nonna.bench.station.weakest import Weakest

SCENE_PX = 80  #: of a drawing that can still be read
JOBS_PX, STACKS_PX = 330, 720  #: of the jobs beside the loop; below which they stand under it


class LoopView(QWidget):
    """Home: every link in its place, the weakest named, the next jobs beside it."""

    link_chosen = Signal(str)
    job_started = Signal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.headline, self._cause = label("", "headline", wrap=True), label("", "quiet", wrap=True)
        self._branches = QVBoxLayout()
        self._figures: dict[str, FigureView] = {}
        self._rows: dict[str, StationRow] = {}
        self._stations: list[Station] = []
        self._shown: tuple[object, ...] = ()
        self.weak_frame, weak = card(margins=(18, 10, 18, 10), spacing=2)
        self._weak = label(self.tr("The weakest link is being looked for."), "strong", wrap=True)
        self._weak_more = label(" ", "quiet", wrap=True)
        weak.addWidget(self._weak)
        weak.addWidget(self._weak_more)
        self._jobs = JobsPanel()
        self._jobs.started.connect(self.job_started)
        left = QVBoxLayout()
        left.setSpacing(6)
        left.addWidget(self.headline)
        said = QHBoxLayout()
        said.setSpacing(18)
        said.addWidget(self._cause, 1)
        said.addWidget(label(NOTE, "small"), 0, Qt.AlignmentFlag.AlignBottom)  # once, for all the drawings below
        left.addLayout(said)
        left.addSpacing(4)
        self._branches.setSpacing(6)
        left.addLayout(self._branches, 1)
        left.addWidget(self.weak_frame)
        left.setContentsMargins(0, 0, 4, 0)
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 18, 20, 18)
        picture = QWidget()
        picture.setLayout(left)
        frames = (Frame(scrolled(picture), 1), Frame(scrolled(self._jobs, JOBS_PX)))
        row.addWidget(FoldingRow(frames, stacks_below=STACKS_PX, gap=18))

    @property
    def stations(self) -> list[Station]:
        """The links' buttons, in loop order."""
        return self._stations

    def take_keyboard(self) -> None:
        """Take the keyboard: arrows walk, Enter starts the next job."""
        self.setFocus()

    def show_state(self, state: ShopState, units: Units) -> None:
        """Paint everything from one state of the shop."""
        self.headline.setText(headline(state.links))
        self._cause.setText(cause(state.links))
        tools = [(t.kind, t.diameter_mm, t.length_mm or 100.0) for t in state.tools[2:]]
        shown = (state.machine, state.links, tools, units)
        if shown != self._shown:
            self._shown = shown
            self._show_links(state, tools, units)
        self._jobs.show_jobs(state.jobs, state.fetched, state.kept)
        if not state.glanced:
            self._show_weakest(state.weakest, units)

    def _show_links(self, state: ShopState, tools: list[tuple[str, float, float]], units: Units) -> None:
        had = self.focused_link()
        self._stations = []
        self._make_branches(state)
        for branch, words in state.kind.loop.branches.items():
            links = [state_of for state_of in state.links if state_of.link.branch == branch]
            self._figures[branch].show_figure(
                branch_figure(state.kind, f"{words} of {state.machine}", [s.link.key for s in links], tools)
            )
            made = [Station(link, units, i == 0, i == len(links) - 1) for i, link in enumerate(links)]
            for station in made:
                station.clicked.connect(lambda _=False, key=station.link: self.link_chosen.emit(key))
            self._rows[branch].show_stations(made)
            self._stations += made
        if had:
            self.focus_link(had)

    def _make_branches(self, state: ShopState) -> None:
        """Make a row for each branch of this kind's loop."""
        if list(self._figures) == list(state.kind.loop.branches):
            return
        emptied(self._branches)
        self._figures, self._rows = {}, {}
        for branch in state.kind.loop.branches:
            figure, row = self._figures[branch], self._rows[branch] = (
                FigureView(captions=False, least=SCENE_PX),
                StationRow(),
            )
            row.listed.connect(lambda on, figure=figure: figure.setHidden(on))  # the drawing gives way
            figure.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Ignored)  # gives way first
            self._branches.addWidget(figure, 1)
            self._branches.addWidget(row)

    def focused_link(self) -> str:
        """Key of the station that has the keyboard, or ""."""
        return next((s.link for s in self._stations if s.hasFocus()), "")

    def focus_link(self, key: str) -> None:
        """Give the keyboard to a station."""
        for station in self._stations:
            if station.link == key:
                station.setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows walk the loop, Enter starts the next job (or opens the link walked to)."""
        if event.key() in _STEPS and self._stations:
            keys = [s.link for s in self._stations]
            here = self.focused_link()
            step = _STEPS[Qt.Key(event.key())]
            self.focus_link(keys[(keys.index(here) + step) % len(keys)] if here else keys[0])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            here = self.focused_link()
            if here:
                self.link_chosen.emit(here)
            else:
                self._jobs.start_first()
        else:
            super().keyPressEvent(event)

    def _show_weakest(self, found: Weakest | None, units: Units) -> None:
        if found is None:
            self._weak.setText(self.tr("Nothing was measured to its end yet."))
            self._weak_more.setText(self.tr("The weakest link is named here once one was."))
            return
        self._weak.setText(f"Weakest: {found.source}, {found.share * 100:.0f} % of the doubt in {found.words}.")
        self._weak_more.setText(
            f"With half of that, lengths go from ± {small(found.expanded_mm, units)} to ± "
            f"{small(found.halved_mm, units)}. "
            "Ctrl+W: what if?"
        )


_STEPS = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -5, Qt.Key.Key_Down: 5}


def made(_: object) -> LoopView:
    """Return the page for a window."""
    return LoopView()
