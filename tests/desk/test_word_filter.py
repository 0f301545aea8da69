"""A list that is found in by words shows what a plain search leaves, whatever comes in which order."""

from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtTest import QAbstractItemModelTester

from nonna.desk.forms.cells import Cell
from nonna.desk.forms.word_filter import SearchedModel, WordFilter


class Words(SearchedModel):
    """One column of words."""

    HEADERS = ("Word",)
    rows: tuple[str, ...] = ()

    def show(self, rows):
        self.beginResetModel()
        self.rows = tuple(rows)
        self.endResetModel()

    def rowCount(self, parent=None):
        return 0 if parent is not None and parent.isValid() else len(self.rows)

    def cell(self, row, column):
        return Cell(self.rows[row])

    def searched(self):
        return [row.lower() for row in self.rows]

    def number(self, row):
        return 3 * row + 7


ROWS = st.lists(st.text("abAB ", max_size=6), max_size=12)
STEPS = st.lists(
    st.one_of(
        st.tuples(st.just("rows"), ROWS),
        st.tuples(st.just("words"), st.text("abAB ", max_size=4)),
        st.tuples(st.just("change"), st.tuples(st.integers(0, 11), st.integers(0, 11))),
    ),
    max_size=12,
)


@given(STEPS)
def test_what_is_in_sight_is_what_holds_every_word(qapp, steps):
    words = Words()
    shown = WordFilter(words)
    told = []
    shown.dataChanged.connect(lambda first, last: told.append((first.row(), last.row())))
    tester = QAbstractItemModelTester(shown, QAbstractItemModelTester.FailureReportingMode.Fatal)
    text = ""
    for what, value in steps:
        told.clear()
        if what == "rows":
            words.show(value)
        elif what == "words":
            text = value
            shown.show_filter(text)
        elif max(value) < len(words.rows):
            words.dataChanged.emit(words.index(min(value), 0), words.index(max(value), 0))
        kept = [i for i, row in enumerate(words.rows) if all(word in row.lower() for word in text.lower().split())]
        assert [shown.behind(row) for row in range(shown.rowCount())] == kept
        assert [shown.index(row, 0).data() for row in range(len(kept))] == [words.rows[i] for i in kept]
        assert [shown.in_sight(i) for i in range(len(words.rows))] == [
            kept.index(i) if i in kept else -1 for i in range(len(words.rows))
        ]
        for typed in ("1", "13", "2"):
            there = [row for row, i in enumerate(kept) if str(3 * i + 7).startswith(typed)]
            for start in range(len(kept)):
                found = shown.match(shown.index(start, 0), Qt.ItemDataRole.DisplayRole, typed)
                itself = [row for row in there if str(3 * kept[row] + 7) == typed]
                assert [index.row() for index in found] == (itself or [r for r in there if r >= start] or there)[:1]
        if what == "change" and max(value) < len(words.rows):
            changed = [row for row, i in enumerate(kept) if min(value) <= i <= max(value)]
            assert told == ([(changed[0], changed[-1])] if changed else [])
    assert shown.headerData(0, Qt.Orientation.Horizontal) == "Word"
    assert tester.model() is shown
