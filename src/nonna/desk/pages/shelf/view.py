"""The Shelf view: every card on the left with what is due, the one chosen on the right."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from functools import partial
from typing import cast

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QMenu, QSizePolicy, QVBoxLayout, QWidget

from nonna.bench import clock
from nonna.bench.ports import ShopFiles
from nonna.bench.shelf.shelving import GROUPS, ShelfGroup, cards
from nonna.bench.station.state import ShopState
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.widgets import ClearArea, button, card, label
from nonna.desk.look.style import font, worn
from nonna.desk.pages.shelf.form import CardForm
from nonna.errors import NonnaError
from nonna.shop.links.loop import NOTICE_DAYS
from nonna.shop.texts.given import Plain
from nonna.wording.lengths import Units

LIST_PX, LIST_HIGH_PX, LEAST_FORM_PX = 330, 190, 410
_PLACE = Qt.ItemDataRole.UserRole


class ShelfView(QWidget):
    """Cards in, wishes out: what is put, recalled or retired is done by whoever listens."""

    put_asked = Signal(str, object)  #: group, card
    recall_asked = Signal(str, str)  #: master's id, name
    station_asked = Signal()  #: one more machine is set up by questions

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.storing = False  #: a card is on its way to the disk
        self._today = clock.now().date()
        self._group = GROUPS[0]
        self._cards: dict[str, list[dict[str, Plain]]] | None = None
        self.list = worn(QListWidget())
        self.list.setAccessibleName(self.tr("Shelf"))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setWordWrap(True)
        self.form = CardForm()
        self._title, self._about = label("", "title", wrap=True), label("", "quiet", wrap=True)
        self._said = label("", wrap=True)
        self._save = button(self.tr("Put it on the shelf   Enter"), self.submit, self.tr("Save"), main=True)
        self._retire = button("", self._on_retire)
        self._recall = button(self.tr("Recalled…"), self._on_recall, self.tr("Log that this master was recalled"))
        self._new = button(self.tr("A new card…   N"), self._choose_new, self.tr("A new card"))
        QShortcut(QKeySequence(Qt.Key.Key_N), self.list, self._choose_new, context=Qt.ShortcutContext.WidgetShortcut)
        self._arrange()
        self.list.currentItemChanged.connect(lambda *_: self._show_current())
        self.form.submitted.connect(self.submit)

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.addWidget(label(self.tr("Shelf"), "headline"))
        head.addSpacing(12)
        promise = label(self.tr("what a record used stays as it was"), "quiet")
        promise.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        head.addWidget(promise, 1)
        head.addWidget(self._new)
        left, column = card(margins=(8, 8, 8, 8))
        column.addWidget(self.list)
        right, stack = card(margins=(18, 14, 18, 14))
        right.setMinimumWidth(LEAST_FORM_PX)
        stack.addWidget(self._title)
        stack.addWidget(self._about)
        self.area = ClearArea()
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Ignored)  # it scrolls, not the page
        self.area.setWidget(self.form)
        stack.addWidget(self.area, 1)
        stack.addWidget(self._said)
        stack.addWidget(self._save)
        row = QHBoxLayout()
        row.addWidget(self._retire)
        row.addWidget(self._recall)
        row.addStretch()
        stack.addLayout(row)
        left.setFixedWidth(LIST_PX)
        body = FoldingRow((Frame(left, 0, LIST_HIGH_PX), Frame(right, 1)), stacks_below=LIST_PX + LEAST_FORM_PX + 12)
        body.stacked.connect(self._on_stacked)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(20, 14, 20, 14)
        whole.addLayout(head)
        whole.addWidget(body, 1)

    def _on_stacked(self, on: bool) -> None:
        """The list over the card: the page scrolls then, not the card."""
        vertical = QSizePolicy.Policy.Preferred if on else QSizePolicy.Policy.Ignored
        self.area.setSizePolicy(QSizePolicy.Policy.Preferred, vertical)
        self.area.unroll(on)

    def take_keyboard(self) -> None:
        """Give the keyboard to the list of cards."""
        self.list.setFocus()

    def show_state(self, state: ShopState, units: Units) -> None:
        """Cards are read when the shelf is gone to, not with every state of the shop."""

    def read(self, folder: ShopFiles) -> object:
        """Read the cards; on a worker."""
        return cards(folder)

    def take(self, found: object) -> None:
        """Show the cards that were read."""
        self.show_cards(cast("Mapping[str, list[dict[str, Plain]]]", found))

    def show_cards(self, cards: Mapping[str, list[dict[str, Plain]]]) -> None:
        """Show the shelf; the card looked at stays chosen."""
        if cards == self._cards:
            return  # what is being typed stays
        self._cards = {key: list(group) for key, group in cards.items()}
        here = self._here()
        chosen = (here[0].key, here[1].get("id")) if here else ("", None)
        self.list.blockSignals(True)
        self.list.clear()
        again = None
        for group in GROUPS:
            head = QListWidgetItem(group.title)
            head.setFlags(Qt.ItemFlag.NoItemFlags)
            head.setFont(font(16, bold=True))
            self.list.addItem(head)
            for each in cards.get(group.key, ()):
                item = QListWidgetItem(f"    {self._line(group, each)}")
                item.setData(_PLACE, (group, each))
                self.list.addItem(item)
                if again is None or (group.key, each["id"]) == chosen:
                    again = item
        if again is not None:
            self.list.setCurrentItem(again)
        self.list.blockSignals(False)
        self._show_current()

    def begin(self, group: ShelfGroup) -> None:
        """Begin a new card."""
        self.list.clearSelection()
        self.list.setCurrentRow(-1)
        self._show(group, {})
        self.form.take_keyboard()
        self.say(
            self.tr("Fill in what the certificate says, then Enter.")
            if group.key == "masters"
            else self.tr("Fill in what you know, then Enter; the rest can wait."),
            "plain",
        )

    @property
    def shown(self) -> Mapping[str, Plain]:
        """The card in the form as it stood when it was shown, empty for a new one."""
        return dict(self.form.shown)

    def submit(self) -> None:
        """Ask for the card in the form to be put on the shelf."""
        group = self._group
        try:
            made = self.form.card()
            if due := made.get("due"):
                try:
                    date.fromisoformat(str(due))
                except ValueError:
                    raise NonnaError(
                        "out-of-range", "Due: {due!r} is no date like 2027-03-31.", "due", due=made["due"]
                    ) from None
        except NonnaError as error:
            self.say(error.message, "bad")
            return
        self._put(group.key, made)

    def _put(self, key: str, made: Mapping[str, Plain]) -> None:
        if not self.storing:  # a second Enter is no second card
            self.storing = True
            self.put_asked.emit(key, made)

    def stored(self, words: str, tone: str) -> None:
        """Say how putting a card on the shelf went."""
        self.storing = False
        self.say(words, tone)

    def say(self, words: str, tone: str) -> None:
        """Say how it went."""
        self._said.setText(words)
        self._said.show_tone(tone)

    def _here(self) -> tuple[ShelfGroup, Mapping[str, Plain]] | None:
        item = self.list.currentItem()
        found: tuple[ShelfGroup, dict[str, Plain]] | None = item.data(_PLACE) if item is not None else None
        return found

    def _show_current(self) -> None:
        here = self._here()
        if here is not None:
            self._show(*here)
            self.say("", "plain")

    def _show(self, group: ShelfGroup, each: Mapping[str, Plain]) -> None:
        self._group = group
        self._title.setText(str(each.get("name") or self.tr("A new {}").format(group.one)))
        about = [self._due(each)] if each.get("due") else []
        if group.key == "masters" and each:
            known = self.tr("traceable: lengths are true to the world")
            own = self.tr("shop-made: lengths agree with each other only, and sheets say self-consistent")
            about.append(known if each.get("traceable", True) else own)
        self._about.setText(" · ".join(about))
        self.form.show_card(group, each)
        self.area.verticalScrollBar().setValue(0)  # not where the card before was left
        retired = bool(each.get("retired"))
        self._retire.setText(self.tr("Bring it back") if retired else self.tr("Retire it"))
        self._retire.setVisible(bool(each) and "retired" in group.card.model_fields)
        self._recall.setVisible(bool(each) and group.key == "masters")

    def _line(self, group: ShelfGroup, each: Mapping[str, Plain]) -> str:
        marks = [str(each["name"])]
        if each.get("retired"):
            marks.append("retired")
        elif each.get("due"):
            marks.append(self._due(each))
        if group.key == "masters" and not each.get("traceable", True):
            marks.append("self-consistent")
        return "\n    ".join([marks[0], *filter(None, [" · ".join(marks[1:])])])

    def _due(self, each: Mapping[str, Plain]) -> str:
        left = (date.fromisoformat(str(each["due"])) - self._today).days
        if left < 0:
            return f"ran out {-left} days ago"
        return f"due in {left} days" if left <= 3 * NOTICE_DAYS else f"good to {each['due']}"

    def _choose_new(self) -> None:
        """Ask what kind of card."""
        menu = worn(QMenu(self))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for group in GROUPS:
            new = self.station_asked.emit if group.key == "machines" else partial(self.begin, group)
            menu.addAction(group.one.capitalize()).triggered.connect(lambda *_, new=new: new())
        menu.popup(self._new.mapToGlobal(self._new.rect().bottomLeft()))

    def _on_retire(self) -> None:
        here = self._here()
        if here is not None:
            self._put(here[0].key, {**here[1], "retired": not here[1].get("retired", False)})

    def _on_recall(self) -> None:
        here = self._here()
        if here is not None:
            self.recall_asked.emit(str(here[1]["id"]), str(here[1]["name"]))


def made(_: object) -> ShelfView:
    """Return the page for a window."""
    return ShelfView()
