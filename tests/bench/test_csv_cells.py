"""Cells that a spreadsheet would run: harmless in every table we write, and read back as they were."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.tables import csv_table
from nonna.bench.tables.csv_table import guess, read_rows
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.csv_rows import open_csv, rows_csv

RUN = "=+-@\t\r"
TEXTS = st.text(st.sampled_from("=+-@'\t ab1.,;\"\u00e9"), min_size=1, max_size=8).filter(lambda t: t.strip())


def cells_of(text):
    return [cell for row in csv.reader(io.StringIO(text)) for cell in row]


@given(rows=st.lists(st.lists(TEXTS, min_size=3, max_size=3), min_size=1, max_size=4))
def test_no_cell_runs_and_each_comes_back_as_it_was(rows):
    text = rows_csv([("one", "two", "three"), *rows])
    for cell in cells_of(text):
        start = cell.lstrip(" \u00a0")[:1]
        if start and start in RUN:
            float(cell)  # a number alone may begin so
    assert [list(row) for row in open_csv(text.encode()).rows] == rows


def test_numbers_stay_numbers():
    assert rows_csv([("a", "b"), ("-312.4010", -3.5), ("+1e-5", "-x")]) == "a,b\n-312.4010,-3.5\n+1e-5,'-x\n"


@pytest.mark.parametrize("name", ["=cmd|' /C calc'!A0", "+1-2", "-drill", "@sum(1)", "'=x", "it's"])
def test_a_tools_name_goes_through_a_table_unharmed(name):
    tool = Tool(number=4, kind="drill", diameter_mm=8.5, length_mm=112.4, description=name)
    text = csv_table.csv_of([tool])
    assert all(cell[:1] not in RUN or not cell[:1] for cell in cells_of(text))
    table = open_csv(text.encode())
    (back,) = read_rows(table, guess(table)[0]).rows
    assert back.description == name
