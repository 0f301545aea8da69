"""What if: a slider for each source of doubt, and what lengths and diameters would then be good for."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QGridLayout, QLabel, QSlider, QVBoxLayout, QWidget

from nonna.bench.station.weakest import Doubt
from nonna.desk.forms.widgets import label
from nonna.wording.lengths import Units, small


class WhatIfDialog(QDialog):
    """Moves nothing but its own numbers; Esc leaves."""

    def __init__(self, doubts: tuple[Doubt, ...], units: Units, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self._units = units
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 20)
        column.setSpacing(6)
        column.addWidget(label(self.tr("What if a link were done better?"), "title"))
        column.addWidget(
            label(self.tr("Each slider is one source's standard uncertainty, 100 % as it is now."), "quiet", wrap=True)
        )
        self.sliders: list[QSlider] = []
        for doubt in doubts:
            self._group(doubt, column)
        column.addWidget(label(self.tr("Arrow keys move a slider, Tab goes on, Esc leaves."), "quiet"))
        self.resize(760, 200)

    def _group(self, doubt: Doubt, column: QVBoxLayout) -> None:
        column.addSpacing(10)
        answer = label("", "strong", wrap=True)
        column.addWidget(answer)
        grid = QGridLayout()
        grid.setVerticalSpacing(2)
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        column.addLayout(grid)
        factors = {part.source: 1.0 for part in doubt.parts}
        for row, part in enumerate(doubt.parts):
            name = label(f"{part.source[0].upper()}{part.source[1:]}, {doubt.share(part) * 100:.0f} %", wrap=True)
            shown = label("100 %", "quiet")
            shown.setMinimumWidth(shown.fontMetrics().horizontalAdvance("150 %") + 2)
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, 150)
            slider.setValue(100)
            slider.setPageStep(25)
            slider.setMinimumWidth(120)
            slider.setAccessibleName(name.text())
            slider.valueChanged.connect(partial(self._on_moved, doubt, factors, part.source, shown, answer))
            self.sliders.append(slider)
            for at, widget in enumerate((name, slider, shown)):
                grid.addWidget(widget, row, at)
        self._say(doubt, factors, answer)

    def _on_moved(
        self, doubt: Doubt, factors: dict[str, float], source: str, shown: QLabel, answer: QLabel, percent: int
    ) -> None:
        factors[source] = percent / 100.0
        shown.setText(f"{percent} %")
        self._say(doubt, factors, answer)

    def _say(self, doubt: Doubt, factors: dict[str, float], answer: QLabel) -> None:
        now, then = small(doubt.expanded_mm, self._units), small(doubt.what_if(factors), self._units)
        words = f"{doubt.words[0].upper()}{doubt.words[1:]}: now ± {now}, then ± {then}."
        if any(not part.common for part in doubt.parts):
            words += f" Between two tools ± {small(doubt.between_two(factors), self._units)}: what they share cancels."
        answer.setText(words)
