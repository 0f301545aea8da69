"""A limit, a value and its doubt, drawn on one scale."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from nonna.desk.look.style import current, font
from nonna.procedures.evaluation import Check, Verdict
from nonna.procedures.wording import check_words, value_words
from nonna.wording.lengths import Units


class LimitBar(QWidget):
    """Shows a check; empty without one."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._check: Check | None = None
        self._units, self._rule = Units.MM, "guarded"
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(self.tr("Limit"))

    def sizeHint(self) -> QSize:
        """Low and wide."""
        return QSize(300, 46)

    def show_check(self, check: Check | None, rule: str, units: Units) -> None:
        """Show a check with the rule it was judged by, in the unit wanted."""
        self._check, self._rule, self._units = check, rule, units
        self.setVisible(check is not None)
        if check is not None:
            self.setAccessibleDescription(
                f"{check.title} {value_words(check.value, check.unit, units)}, {check_words(check, units)}"
            )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the bar: the allowed part washed, the limit a stroke, the value a dot in its doubt."""
        if self._check is None:
            return
        with QPainter(self) as painter:  # ended whatever happens: one left open takes the program along
            self._paint(painter, self._check)

    def _paint(self, p: QPainter, check: Check) -> None:
        palette = current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        full = max(check.limit * 1.6, check.guard_high * 1.1, 1e-9)
        left, right, y = 8.0, self.width() - 8.0, 14.0

        def x(value: float) -> float:
            return left + (right - left) * min(max(value / full, 0.0), 1.0)

        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(palette.faint))
        p.drawRoundedRect(QRectF(left, y - 6, right - left, 12), 6, 6)
        p.setBrush(QColor(palette.wash))
        p.drawRoundedRect(QRectF(left, y - 6, x(check.limit) - left, 12), 6, 6)
        tone = {Verdict.PASS: palette.accent, Verdict.FAIL: palette.bad, Verdict.UNDECIDED: palette.due}
        colour = QColor(tone.get(check.verdict, palette.ink))
        pen = QPen(colour, 5)
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        p.setPen(pen)
        p.drawLine(QPointF(x(check.guard_low), y), QPointF(x(check.guard_high), y))
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(colour)
        p.drawEllipse(QPointF(x(check.value), y), 7, 7)
        p.setPen(QPen(QColor(palette.ink), 2))
        p.drawLine(QPointF(x(check.limit), y - 12), QPointF(x(check.limit), y + 12))
        p.setFont(font(13))
        p.setPen(QColor(palette.muted))
        words = f"{check.title}: {check_words(check, self._units)}, {self._rule} rule"
        p.drawText(QRectF(left, y + 14, right - left, 18), Qt.AlignmentFlag.AlignHCenter, words)
