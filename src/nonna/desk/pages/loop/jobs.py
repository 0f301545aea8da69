"""The next jobs in order, with minutes and what to fetch; the first is the biggest thing to press."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout, QWidget

from nonna.desk.forms.widgets import button, card, emptied, label
from nonna.shop.links.judge import NextJob
from nonna.stations.telling import job_words, reason_words

IN_FULL = 2  #: jobs shown with their reason; the rest stand in a line each


class JobsPanel(QWidget):
    """What to do next."""

    started = Signal(object)  #: a NextJob

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        frame, self._column = card(margins=(18, 12, 18, 12), spacing=7)
        outer.addWidget(frame)
        self._start = button("", lambda: None, main=True)
        self._first: NextJob | None = None
        self._shown: tuple[object, ...] = ()

    def show_jobs(self, jobs: Sequence[NextJob], named: Mapping[str, str], kept: Mapping[str, str]) -> None:
        """Show the jobs; ``named`` says what the things to fetch are called here, ``kept`` where they lie."""
        shown = (list(jobs), dict(named), dict(kept))
        if shown == self._shown:
            return  # making and dressing it anew takes longer than a key may
        self._shown = shown
        emptied(self._column)
        now = [job for job in jobs if not job.can_wait]
        later = [job for job in jobs if job.can_wait]
        self._first = now[0] if now else None
        head = QWidget()
        row = QHBoxLayout(head)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label(self.tr("Next"), "title"))
        row.addStretch()
        if now:
            row.addWidget(label(f"{sum(job.minutes for job in now):.0f} min", "title", tone="accent"))
        self._column.addWidget(head)
        for i, job in enumerate(now, 1):
            self._column.addWidget(self._job(i, job) if i <= IN_FULL else self._line(i, job))
        if now:
            self._start = button(
                self.tr("Start   Enter"), self.start_first, self.tr("Start: {}").format(job_words(now[0])), main=True
            )
            self._column.addSpacing(4)
            self._column.addWidget(self._start)
            self._fetch(now, named, kept)
        else:
            self._column.addWidget(label(self.tr("Nothing has to be done now."), "strong"))
            self._column.addWidget(label(self.tr("Measure a tool any time: F3."), "quiet", wrap=True))
        if later:
            self._column.addSpacing(6)
            self._column.addWidget(label(self.tr("Can wait"), "strong"))
            for job in later:
                self._column.addWidget(label(f"{job_words(job)}: {reason_words(job.reason)}", "quiet", wrap=True))
        self._column.addStretch(1)

    def start_first(self) -> None:
        """Start the first job."""
        if self._first is not None:
            self.started.emit(self._first)

    def _job(self, number: int, job: NextJob) -> QFrame:
        frame, column = card(tone="good" if number == 1 else "plain", margins=(14, 10, 14, 10), spacing=2)
        row = QHBoxLayout()
        row.addWidget(label(str(number), "title", tone="accent"))
        row.addSpacing(8)
        row.addWidget(label(job_words(job), "strong", wrap=True), 1)
        row.addWidget(label(f"{job.minutes:.0f} min", "strong"))
        column.addLayout(row)
        column.addWidget(label(_why(job), "quiet", wrap=True))
        return frame

    def _line(self, number: int, job: NextJob) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(14, 0, 14, 0)
        row.addWidget(label(str(number), "strong", tone="accent"))
        row.addSpacing(8)
        row.addWidget(label(job_words(job), wrap=True), 1)
        row.addWidget(label(f"{job.minutes:.0f} min"))
        line.setToolTip(_why(job))
        return line

    def _fetch(self, jobs: Sequence[NextJob], named: Mapping[str, str], kept: Mapping[str, str]) -> None:
        things = dict.fromkeys(named.get(thing, thing) for job in jobs for thing in job.link.fetch)
        if things:
            self._column.addSpacing(6)
            self._column.addWidget(label(self.tr("Fetch first"), "strong"))
        for thing in things:
            place = f" · {kept[thing]}" if thing in kept else ""
            self._column.addWidget(label(f"{thing}{place}", "quiet", wrap=True))


def _why(job: NextJob) -> str:
    """Say why a job is there, and who has to hear of it."""
    told = f" Tell {job.link.told}." if job.link.told else ""
    words = reason_words(job.reason)
    return f"{words}.{told}" if told else words
