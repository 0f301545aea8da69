"""Tools typed in rows: nothing is lost or rounded, wrong cells are named, and the grid is worked by keyboard."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QComboBox, QPushButton

from nonna.bench.tray.tool_grid import Grid, block_of
from nonna.bench.tray.tray import Tray
from nonna.desk.commands.ids import CommandId
from nonna.desk.pages.tools.forms.grid_dialog import GridDialog
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool
from nonna.shop.links.subjects import tool as tool_subject
from nonna.stations.tool_fields import usual
from nonna.wording.lengths import Units
from tests.support.eyes import unpainted
from tests.support.hands import settle, shown_dialog, shown_text

KINDS = ("end-mill", "drill", "face-mill", "tap", "reamer", "ball-mill", "probe", "boring-bar")
tools = st.lists(
    st.builds(
        Tool,
        number=st.integers(1, 500),
        kind=st.sampled_from(KINDS),
        diameter_mm=st.floats(0.1, 200.0),
        length_mm=st.none() | st.floats(20.0, 400.0),
        corner_radius_mm=st.sampled_from([0.0, 0.5, 1.23456789]),
        flutes=st.integers(0, 9),
        description=st.sampled_from(["", "Rougher", "second of two"]),
        edge_deg=st.floats(0.0, 359.0),
        hand=st.sampled_from(["right", "left"]),
    ),
    max_size=6,
    unique_by=lambda t: t.number,
)


def row(grid, text):
    """The grid with a line of cells, parted by bars, in its last row."""
    return grid.with_cells(len(grid.rows) - 1, 0, [text.split("|")])


@given(tools, st.sampled_from((Units.MM, Units.INCH)))
def test_what_nobody_touched_stays_to_the_last_bit(found, units):
    tray = Tray(tools=tuple(found))
    grid = Grid.of(found, units, usual(None))
    assert grid.changed == 0 and grid.taken(tray) == tray
    more = row(grid, "T501|drill||8.5")
    taken = more.taken(tray)
    assert taken.tools[:-1] == tray.tools and taken.tools[-1].diameter_mm == pytest.approx(8.5 / units.scale)
    assert more.changed == 1 and more.rows[-1].empty


@given(tools.filter(lambda t: len(t) > 1))
def test_a_changed_cell_changes_that_alone_and_records_stay_the_tools_own(found):
    tray = Tray(tools=tuple(found))
    first, second = found[0], found[1]
    grid = (
        Grid.of(found, Units.MM, usual(None))
        .with_cells(0, 0, [[str(second.number), "tap"]])
        .with_cells(1, 0, [[str(first.number)]])
    )
    swapped = grid.taken(tray)
    assert [t.number for t in swapped.tools[:2]] == [second.number, first.number]
    assert [t.subject for t in swapped.tools] == [t.subject for t in tray.tools]  # a pocket is not a tool
    assert swapped.tools[0].kind == "tap" and swapped.tools[0].edge_deg == first.edge_deg
    assert swapped.tools[0].hand == first.hand and swapped.tools[2:] == tray.tools[2:]


@pytest.mark.parametrize(
    ("cells", "column", "words"),
    [
        ("7|drill||eight", "diameter_mm", "Row 2. Diameter: 'eight' is not a length"),
        ("7|sausage||8", "kind", "Row 2. Kind: 'sausage' is none known here"),
        ("7|||8", "kind", "Row 2. Kind: needed"),
        ("|drill||8", "number", "Row 2. Number: needed"),
        ("7.5|drill||8", "number", "a whole number is wanted"),
        ("7|drill||", "diameter_mm", "Diameter: needed"),
        ("7|drill||8|no idea", "length_mm", "Length: 'no idea' is no length"),
        ("7|drill||8|||two", "flutes", "Teeth"),
        ("7|drill||8|||2|thick", "holder", "no holder"),
        ("2|drill||8", "number", "T2 stands in row 1 too"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_named_and_nothing_is_taken(cells, column, words):
    old = Tool(number=2, kind="drill", diameter_mm=8.0)
    tray = Tray(tools=(old,))
    grid = row(Grid.of([old], Units.MM, usual(None)), cells)
    with pytest.raises(NonnaError) as said:
        grid.taken(tray)
    assert said.value.where == f"1.{column}" and words in said.value.message


def test_a_name_will_do_for_a_kind_and_an_emptied_row_is_no_way_to_lose_a_tool():
    tray = Tray()
    made = row(
        row(Grid.of([], Units.INCH, usual(None)), "T3||Drill 8.5|0.335|about 4"),
        "4|End Mill|| 10mm |80mm ± 1|.5mm|4|2 x 1",
    ).taken(tray)
    assert [t.kind for t in made.tools] == ["drill", "end-mill"]
    assert made.tools[0].length_mm == pytest.approx(101.6) and made.tools[0].length_uncertainty_mm > 1.0
    assert (made.tools[1].diameter_mm, made.tools[1].flutes) == (10.0, 4) and made.tools[1].holder[0].length_mm == 1.0
    emptied = Grid.of(made.tools, Units.MM, usual(None)).with_cells(0, 0, [[""] * len(usual(None).grid)])
    with pytest.raises(NonnaError, match="Delete in the list"):
        emptied.taken(made)
    with pytest.raises(NonnaError, match="At most"):
        emptied.with_cells(4999, 0, [["1"], ["2"]])
    moved = Grid.of(made.tools, Units.MM, usual(None)).with_cells(0, 0, [["9"]])
    again = row(moved, "3|tap||6").taken(made)  # a new tool where the first one stood
    assert again.tools[0].subject == tool_subject("T3") and len({t.subject for t in again.tools}) == 3


def test_headers_of_a_spreadsheet_are_left_out():
    assert block_of("Tool\tKind\tDia\n2\tdrill\t8.5\n3\ttap\t6\n") == [["2", "drill", "8.5"], ["3", "tap", "6"]]
    assert block_of("Rougher\n") == [["Rougher"]]


def test_ten_tools_are_typed_and_pasted_by_keyboard(desk, hands):
    desk.do(CommandId.TOOLS)
    hands.until(lambda: desk.tools.controller.tray.tools != ())
    settle(desk)
    before = desk.tools.controller.tray
    count = len(before.tools)
    hands.press(Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: any(d.isVisible() for d in desk.findChildren(GridDialog)))
    dialog = shown_dialog(desk, GridDialog)
    table, model = dialog.table, dialog.model

    def typed(*cells):
        QTest.keyClick(table, Qt.Key.Key_F2)
        for cell in cells[:-1]:
            QTest.keyClicks(QApplication.focusWidget(), cell)
            QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)  # commits, and opens the next
        QTest.keyClicks(QApplication.focusWidget(), cells[-1])
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
        QApplication.processEvents()  # a delegate takes Enter when the editor has had it

    typed("61", "drill", "Long one", "8.5")
    assert model.grid.rows[count].cells[:4] == ("61", "drill", "Long one", "8.5")
    assert (table.currentIndex().row(), table.currentIndex().column()) == (count + 1, 0)
    QGuiApplication.clipboard().setText("\n".join(f"{70 + i}\ttap\tPasted\t{3 + i}" for i in range(8)))
    QTest.keyClick(table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert model.rowCount() == count + 1 + 8 + 1
    QTest.keyClick(table, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert model.rowCount() == count + 2
    QTest.keyClick(table, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    table.go_to(count + 9, 0)
    typed("62", "gimlet")
    assert "gimlet" in shown_text(dialog)
    QTest.keyClick(table, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    assert dialog.isVisible() and "gimlet" in shown_text(dialog)
    QTest.keyClick(table, Qt.Key.Key_Escape)
    assert dialog.isVisible() and "throws away 10 rows" in shown_text(dialog)
    table.go_to(count + 9, 1)
    typed("reamer", "", "6")
    QTest.keyClick(table, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: not dialog.isVisible())
    now = desk.tools.controller.tray
    assert len(now.tools) == count + 10 and now.tools[:count] == before.tools
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: len(desk.tools.controller.tray.tools) == count)


def test_kind_and_direction_are_chosen_by_their_first_letters(desk, hands):
    desk.do(CommandId.TOOLS)
    settle(desk)
    desk.do(CommandId.TRAY_GRID)
    hands.until(lambda: shown_dialog(desk, GridDialog) is not None)
    table = shown_dialog(desk, GridDialog).table
    model = table.model()
    for name, letters, whole in (("kind", "ream", "reamer"), ("hand", "l", "left")):
        row, column = model.rowCount() - 1, model.grid.columns.index(name)
        table.go_to(row, column)
        table.edit(table.currentIndex())
        box = table.findChild(QComboBox)
        assert box.count() == len(model.grid.asks.choices[name]) > 1
        QTest.keyClicks(box.lineEdit(), letters)
        QTest.keyClick(box.lineEdit(), Qt.Key.Key_Return)
        assert model.index(row, column).data().lower() == whole
        hands.until(lambda: table.findChild(QComboBox) is None)


def test_an_empty_tray_has_its_ways_as_buttons(desk, hands):
    desk.do(CommandId.TOOLS)
    settle(desk)
    c = desk.tools.controller
    c.change(c.tray.without({t.number for t in c.tray.tools}))
    settle(desk)
    shown = {b.text(): b for b in desk.tools.findChildren(QPushButton) if b.isVisible()}
    (grid,) = (b for words, b in shown.items() if words.endswith("Ctrl+G"))
    assert any(words.endswith("N") for words in shown) and not unpainted(desk)
    QTest.mouseClick(grid, Qt.MouseButton.LeftButton)
    hands.until(lambda: shown_dialog(desk, GridDialog) is not None)
