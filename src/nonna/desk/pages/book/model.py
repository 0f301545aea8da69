"""Records as an item model, newest first, found by a few letters."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QModelIndex

from nonna.desk.forms.cells import Cell, Index
from nonna.desk.forms.word_filter import SearchedModel, WordFilter
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.wording import LONG_MM
from nonna.shop.links.history import CARD, DIFFERS, Entry
from nonna.shop.links.subjects import STATION
from nonna.stations.kind import event_words
from nonna.wording.lengths import Units, length, small

WHAT, VERDICT = 2, 5

_CARDS = {
    "cards-begun": "Cards as they stood",
    "card-taken-over": "Cards changed outside, taken over",
    "card-put-back": "Cards changed outside, put back",
}


def title(entry: Entry) -> str:
    """Return what a record is, in words."""
    if entry.kind == "event":
        return event_words(entry.name)
    if entry.kind == CARD:
        return _CARDS.get(entry.name, "Cards changed")
    if entry.kind == "withdrawal":
        return f"Record {entry.refers_to} taken back"
    return PROCEDURES[entry.name].title if entry.name in PROCEDURES else entry.name


def is_scatter(entry: Entry) -> bool:
    """Whether a record's main value is a standard deviation."""
    listed = PROCEDURES.get(entry.name)
    return listed is not None and listed.is_scatter


class BookModel(SearchedModel):
    """Adapts ledger entries."""

    HEADERS = ("No.", "When", "What", "On", "Result", "Verdict", "Signed")

    def __init__(self) -> None:
        super().__init__()
        self._entries: tuple[Entry, ...] = ()
        self._units = Units.MM
        self._haystacks: list[str] = []
        self._words: dict[int, tuple[str, ...]] = {}
        self._station = ""
        self._practice = True
        self._cards = False

    def show_entries(
        self, entries: tuple[Entry, ...], units: Units, station: str = "", *, practice: bool = True
    ) -> None:
        """Take the ledger's entries.

        Parameters: station, the one shown: what is of another says so; practice, whether the shop is invented: in
        another what was signed for practice says so.
        """
        self.beginResetModel()
        self._entries, self._units, self._words, self._station = entries[::-1], units, {}, station
        self._haystacks, self._practice = [], practice
        self.endResetModel()

    def show_cards(self, on: bool) -> None:
        """Show each record as a card: what it is, and below it all else that its row said."""
        if on is not self._cards:
            self._cards = on
            if self._entries:
                self.dataChanged.emit(self.index(0, WHAT), self.index(len(self._entries) - 1, WHAT))

    def searched(self) -> Sequence[str]:
        """Return what each record is found by, put together when first asked for."""
        if not self._haystacks:
            self._haystacks = [_searched(entry) for entry in self._entries]
        return self._haystacks

    def entry(self, row: int) -> Entry:
        """Return the entry of a row."""
        return self._entries[row]

    def number(self, row: int) -> int:
        """Return a record's number."""
        return self._entries[row].number

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """How many records."""
        return 0 if parent.isValid() else len(self._entries)

    def cell(self, row: int, column: int) -> Cell:
        """Return what stands in a cell."""
        entry = self._entries[row]
        ink, bold = "ink", column in (2, 5)
        if column == 5:
            ink = {"pass": "accent", "fail": "bad", "undecided": "due"}.get(entry.verdict, "ink")
        elif entry.befell or entry.name == DIFFERS:
            ink = "bad"
        elif column in (0, 1, 6):
            ink = "muted"
        words = self.words(entry)
        if self._cards and column == WHAT:
            number, when, what, on, result, _, _ = words
            return Cell(what, ink, note=" · ".join(w for w in (number, when, on, result) if w))
        return Cell(words[column], ink, bold)

    def newest(self, count: int) -> tuple[Entry, ...]:
        """Return the newest entries."""
        return self._entries[:count]

    def words(self, entry: Entry) -> tuple[str, ...]:
        """Return what stands in the cells of an entry; a list that is painted asks for it again and again."""
        if entry.number not in self._words:
            self._words[entry.number] = self._written(entry)
        return self._words[entry.number]

    def _written(self, entry: Entry) -> tuple[str, ...]:
        return (
            str(entry.number), f"{entry.signed_at:%d %b %H:%M}", title(entry), self._on(entry), self._result(entry),
            entry.verdict if entry.kind == "measurement" and entry.verdict != "none" else "",
            f"{entry.operator}, practice" if entry.invented and not self._practice else entry.operator,
        )  # fmt: skip

    def _on(self, entry: Entry) -> str:
        if not self._station or entry.machine in ("", self._station):
            return entry.subject.words
        return entry.machine if entry.subject == STATION else f"{entry.machine}, {entry.subject.words}"

    def _result(self, entry: Entry) -> str:
        if entry.kind != "measurement" or entry.value_mm is None:
            return ""
        if is_scatter(entry):
            return f"scatter, 2 s: {small(entry.value_mm, self._units)}"
        doubt = f" ± {small(entry.expanded_mm, self._units)}" if entry.expanded_mm else ""
        if abs(entry.value_mm) < LONG_MM:
            return f"{small(entry.value_mm, self._units)}{doubt}"
        return f"{length(entry.value_mm, self._units, unit=False)}{doubt}"


class ShownRecords(WordFilter):
    """The records in sight."""

    def __init__(self, records: BookModel) -> None:
        super().__init__(records)
        self._records = records

    def entry(self, row: int) -> Entry:
        """Return the entry of a row."""
        return self._records.entry(self.behind(row))


def _searched(entry: Entry) -> str:
    return (
        f"{entry.number} {title(entry)} {entry.machine} {entry.subject.words} {entry.operator} "
        f"{entry.verdict} {entry.note}"
    ).lower()
