"""Small pieces that every view is made of."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QEvent, QObject, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPalette, QResizeEvent
from PySide6.QtWidgets import QApplication, QFrame, QLabel, QLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from nonna.desk.look.palette import Palette
from nonna.desk.look.style import BODY_PX, LOOK, current, font, worn
from nonna.desk.threads.event_turns import next_turn

ANY_PX = 16_777_215  #: what Qt has for a width that is not bounded
PAPER = "paper"
GROUNDS = {PAPER: "card", "plain": "ground", "good": "wash", "due": "due_wash", "bad": "bad_wash"}


class Role(NamedTuple):
    """How words look that have a part to play; inks are names of the palette."""

    ink: str = "ink"
    pixels: int = BODY_PX
    bold: bool = False


ROLES = {
    "": Role(),
    "headline": Role(pixels=26, bold=True),
    "title": Role(pixels=19, bold=True),
    "finding": Role(pixels=17, bold=True),
    "strong": Role(bold=True),
    "quiet": Role("muted"),
    "small": Role("muted", 13),
    "value": Role(pixels=40, bold=True),
    "figure": Role(pixels=28, bold=True),
    "doubt": Role("muted", 18),
    "bar": Role("on_bar"),
    "bar-quiet": Role("on_bar_quiet"),
    "bar-strong": Role("on_bar", 18, bold=True),
    "brand": Role("on_bar", 23, bold=True),
}
TONES = {"accent": "accent", "due": "due", "bad": "bad", "good": "accent"}


class Words(QLabel):
    """Plain words whose looks follow from their role and tone."""

    def __init__(self, words: str, role: str, tone: str) -> None:
        super().__init__(words)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self._role, self._tone, self._ink = role, tone, ""
        self._dress()

    def show_role(self, role: str) -> None:
        """Play another part."""
        if role != self._role:
            self._role = role
            self._dress()

    def show_tone(self, tone: str) -> None:
        """Say it in another tone."""
        if tone != self._tone:
            self._tone = tone
            self.wear(current())

    def wear(self, palette: Palette) -> None:
        """Take the colours of a theme."""
        ink = getattr(palette, TONES.get(self._tone, ROLES[self._role].ink))
        if ink != self._ink:
            self._ink = ink
            colours = self.palette()
            colours.setColor(QPalette.ColorRole.WindowText, QColor(ink))
            self.setPalette(colours)

    def _dress(self) -> None:
        role = ROLES[self._role]
        self.setFont(font(role.pixels, bold=role.bold))
        self.wear(current())


class GivesWay(Words):
    """Words that are all there or not at all: they give way where there is no room for them."""

    def minimumSizeHint(self) -> QSize:
        """Nothing of it has to be seen."""
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the words where all of them have room."""
        if self.fontMetrics().horizontalAdvance(self.text()) <= self.width():
            super().paintEvent(event)


def label(words: str = "", role: str = "", *, wrap: bool = False, tone: str = "") -> Words:
    """Return words in a role (`ROLES`) and a tone (`TONES`)."""
    made = Words(words, role, tone)
    made.setWordWrap(wrap)
    return made


class Card(QFrame):
    """A sheet of paper that things lie on, or a coloured field on it."""

    def __init__(self, parent: QWidget | None = None, tone: str = PAPER) -> None:
        super().__init__(parent)
        self.tone = tone
        if tone == PAPER:
            self.setFrameShape(QFrame.Shape.Box)
            self.setLineWidth(1)

    def show_tone(self, tone: str) -> None:
        """Show another ground; "" for none."""
        if tone != self.tone:
            self.tone = tone
            self.update()

    def wear(self, palette: Palette) -> None:
        """Take the colours of a theme."""
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the ground and its edge."""
        if not self.tone:
            return
        palette = current()
        with QPainter(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setBrush(QColor(getattr(palette, GROUNDS[self.tone])))
            painter.setPen(QColor(palette.faint) if self.tone == PAPER else Qt.PenStyle.NoPen)
            inset, corner = (0.5, 10) if self.tone == PAPER else (0.0, 8)
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(inset, inset, -inset, -inset), corner, corner)


def card(
    *, tone: str = PAPER, margins: tuple[int, int, int, int] = (16, 14, 16, 14), spacing: int = 8
) -> tuple[Card, QVBoxLayout]:
    """Return a card and the column inside it."""
    frame = Card(tone=tone)
    column = QVBoxLayout(frame)
    column.setContentsMargins(*margins)
    column.setSpacing(spacing)
    return frame, column


class _Button(QPushButton):
    """Enter presses it where it has the keyboard, as Space does; a key held down presses it once."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Take Enter too."""
        if (
            event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
            and not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        ):
            if not event.isAutoRepeat():
                self.click()
            return
        super().keyPressEvent(event)


def press_main(inside: QWidget) -> bool:
    """Press the button that says it is Enter's; says whether there is one."""
    for made in inside.findChildren(QPushButton):
        words = made.text()
        if words.endswith("   Enter") and made.isVisible() and made.isEnabled():
            made.click()
            return True
    return False


def button(
    words: str, pressed: Callable[[], object], name: str = "", *, main: bool = False, focus: bool = True, look: str = ""
) -> QPushButton:
    """Return a button with an accessible name."""
    made = _Button(words)
    made.setAccessibleName(name or words)
    if main or look:
        made.setProperty(LOOK, look or "main")
    made.setCursor(Qt.CursorShape.PointingHandCursor)
    made.setAutoDefault(False)
    if not focus:
        made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    made.clicked.connect(lambda: pressed())
    return worn(made)


class ClearArea(QScrollArea):
    """Scrolls by wheel and bar; keys go on to the page, and what lies under it is its ground."""

    def __init__(self) -> None:
        super().__init__()
        self._unrolled = False
        self.setViewport(QWidget())
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        for bar in (self.verticalScrollBar(), self.horizontalScrollBar()):
            worn(bar)

    def setWidget(self, widget: QWidget) -> None:
        """Take what is scrolled."""
        super().setWidget(widget)
        widget.setAutoFillBackground(False)

    def unroll(self, on: bool) -> None:
        """Be as high as what is inside, so that the page around scrolls it, or scroll by itself again."""
        if on is self._unrolled:
            return
        self._unrolled = on
        off, needed = Qt.ScrollBarPolicy.ScrollBarAlwaysOff, Qt.ScrollBarPolicy.ScrollBarAsNeeded
        self.setVerticalScrollBarPolicy(off if on else needed)
        self.updateGeometry()

    def minimumSizeHint(self) -> QSize:
        """As high as what is inside where it is unrolled."""
        least, inside = super().minimumSizeHint(), self.widget()
        if not self._unrolled or inside is None:
            return least
        wide = max(self.width(), 1)
        high = inside.heightForWidth(wide) if inside.hasHeightForWidth() else inside.sizeHint().height()
        return QSize(least.width(), max(high, inside.minimumSizeHint().height()))

    def sizeHint(self) -> QSize:
        """No more than what is inside where it is unrolled."""
        return self.minimumSizeHint() if self._unrolled else super().sizeHint()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Words wrap anew."""
        super().resizeEvent(event)
        if self._unrolled and event.size().width() != event.oldSize().width():
            self.updateGeometry()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """What is inside may need more room, or less."""
        if self._unrolled and event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()
        return super().eventFilter(watched, event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Leave keys to the page."""
        event.ignore()


SEEN_WITH = "seen_with"  #: attribute of what has the keyboard: what has to be seen with it, such as its question
NEAR_PX = 20  #: what is seen around the widget that has the keyboard


class Room(ClearArea):
    """Room for what may be larger than the window: scrolls both ways then, and follows the keyboard until hands
    scroll.
    """

    _followed: QWidget | None = None  #: what has the keyboard, until hands scroll
    _fitting = False  #: what is inside is being fitted

    def __init__(self, inside: QWidget) -> None:
        super().__init__()
        self.setWidget(inside)
        self.setCornerWidget(QWidget())  # what the style paints there is no part of the page
        for bar in (self.horizontalScrollBar(), self.verticalScrollBar()):
            bar.actionTriggered.connect(self._let_go)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._on_focus)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """What has the keyboard may get its place only later."""
        if self._fitting:  # bars that come and go with the room they take must not chase each other
            return False
        if self._followed is not None and event.type() in (QEvent.Type.LayoutRequest, QEvent.Type.Resize):
            next_turn(self, self._follow)
        self._fitting = True
        try:
            return super().eventFilter(watched, event)
        finally:
            self._fitting = False

    def _on_focus(self, before: QWidget | None, now: QWidget | None) -> None:
        del before
        inside = self.widget()
        if now is not None and inside is not None and inside.isAncestorOf(now):
            self._followed = now
            self._follow()
            next_turn(self, self._follow)

    def _let_go(self, _: int) -> None:
        self._followed = None

    def _follow(self) -> None:
        now = QApplication.focusWidget()
        if now is None or now is not self._followed:
            return
        if now.height() > self.viewport().height():
            return  # a page: it is looked at from its top
        for widget in (getattr(now, SEEN_WITH, None), now):
            if isinstance(widget, QWidget) and widget.isVisible():
                self.ensureWidgetVisible(widget, NEAR_PX, NEAR_PX)


def scrolled(inside: QWidget, width: int = 0) -> ClearArea:
    """Return a widget in an area that scrolls up and down instead of making the window taller."""
    area = ClearArea()
    area.setWidget(inside)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    if width:
        area.setFixedWidth(width)
    return area


def emptied(layout: QLayout) -> None:
    """Take every widget out of a layout."""
    while (item := layout.takeAt(0)) is not None:
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
