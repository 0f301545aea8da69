"""Frames side by side that make room for numbers: a drawing gives way, and where that is too little they stand one
below the other.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from PySide6.QtCore import QSize, Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QBoxLayout, QStackedWidget, QWidget

from nonna.desk.forms.widgets import ANY_PX, ClearArea

GAP_PX = 12


class Front(QStackedWidget):
    """Pages of which one is in front; it is as large as that one: those behind have another width, and may stack."""

    def __init__(self) -> None:
        super().__init__()
        self.currentChanged.connect(self.updateGeometry)

    def minimumSizeHint(self) -> QSize:
        """Of the page in front."""
        page = self.currentWidget()
        return page.minimumSizeHint() if page is not None else QSize()

    def heightForWidth(self, width: int) -> int:
        """Of the page in front; -1 where its width says nothing."""
        page = self.currentWidget()
        return page.heightForWidth(width) if page is not None and page.hasHeightForWidth() else -1


class Frame(NamedTuple):
    """One of those that stand side by side."""

    widget: QWidget
    stretch: int = 0
    high: int = 0  #: pixels it has at least where others stand below it; 0: what it needs


class FoldingRow(QWidget):
    """No number is ever cut for a drawing, or for what stands beside it."""

    folded = Signal(bool)  #: whether the drawing has given way now
    stacked = Signal(bool)  #: whether the frames stand one below the other now

    def __init__(
        self,
        frames: Sequence[Frame],
        *,
        stacks_below: int,
        folds: QWidget | None = None,
        folds_below: int = 0,
        gap: int = GAP_PX,
    ) -> None:
        """Parameters: frames side by side; pixels in all below which they stack, and below which one gives way."""
        super().__init__()
        self._folds, self._folds_below, self._stacks_below = folds, folds_below, stacks_below
        self._frames = [(frame, frame.widget.minimumWidth(), frame.widget.maximumWidth()) for frame in frames]
        self._row = QBoxLayout(QBoxLayout.Direction.LeftToRight, self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(gap)
        for frame in frames:
            self._row.addWidget(frame.widget, frame.stretch)

    @property
    def is_stacked(self) -> bool:
        """Whether the frames stand one below the other."""
        return self._row.direction() is QBoxLayout.Direction.TopToBottom

    def minimumSizeHint(self) -> QSize:
        """No wider than the widest frame: below a certain width they stack."""
        whole = self._row.minimumSize()
        return QSize(max(f.widget.minimumSizeHint().width() for f, _, _ in self._frames), whole.height())

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Share out the room."""
        narrow = self.width() < self._folds_below
        if self._folds is not None and narrow is self._folds.isVisibleTo(self):
            self._folds.setVisible(not narrow)
            self.folded.emit(narrow)
        self.stack(self.width() < self._stacks_below)
        super().resizeEvent(event)

    def stack(self, on: bool) -> None:
        """Put the frames below each other, each as high as it has to be, or side by side again."""
        if on is self.is_stacked:
            return
        self._row.setDirection(QBoxLayout.Direction.TopToBottom if on else QBoxLayout.Direction.LeftToRight)
        for i, (frame, least, most) in enumerate(self._frames):
            self._row.setStretch(i, 0 if on else frame.stretch)
            frame.widget.setMinimumWidth(0 if on else least)  # what is below something is as wide as that
            frame.widget.setMaximumWidth(ANY_PX if on else most)
            high = max(frame.high, frame.widget.minimumSizeHint().height()) if frame.high else 0
            frame.widget.setMinimumHeight(high if on else 0)
            if isinstance(frame.widget, ClearArea):
                frame.widget.unroll(on)
        self.updateGeometry()
        self.stacked.emit(on)
