"""Tool tables in and out: exact round trips, foreign files guessed and asked about, bombs refused."""

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.bench.tables import csv_table, xml_table
from nonna.bench.tables.columns_chosen import ForeignTable, keep_columns, tools_in_rows
from nonna.bench.tables.csv_table import Columns, guess
from nonna.bench.tables.files import text_of, tools_in
from nonna.bench.tables.holders import holder_from
from nonna.bench.tables.rough import read_length
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool, Tools
from nonna.shop.texts import strict_json
from nonna.shop.texts.csv_rows import open_csv
from nonna.shop.texts.strict_model import checked
from tests.support.plans import KIND, TOOLS

numbers = st.floats(1e-3, 9e5, allow_nan=False)
some_tools = st.lists(
    st.builds(
        lambda **k: Tool(
            **(
                k
                | {"holder": k["holder"] if sum(p["length_mm"] for p in k["holder"]) < (k["length_mm"] or 1e9) else []}
            )
        ),
        holder=st.lists(st.fixed_dictionaries({"diameter_mm": numbers, "length_mm": numbers}), max_size=3),
        tolerance_mm=st.one_of(st.none(), numbers),
        edge_deg=st.floats(-360, 360),
        repeats=st.booleans(),
        number=st.integers(1, 999_999),
        kind=st.sampled_from(sorted(KIND)),
        diameter_mm=numbers,
        corner_radius_mm=numbers,
        tip_diameter_mm=st.one_of(st.just(0.0), numbers),
        flutes=st.integers(0, 99),
        centre_cutting=st.booleans(),
        point_angle_deg=st.floats(0, 180),
        length_mm=st.one_of(st.none(), numbers),
        true_length_mm=st.one_of(st.none(), numbers),
        length_uncertainty_mm=st.floats(0, 50),
        hand=st.sampled_from(["right", "left"]),
        material=st.sampled_from(["carbide", "hss"]),
        max_rpm=st.one_of(st.none(), numbers),
        description=st.text("aZ09 ,;\"'<>&äµ×-", max_size=20).filter(lambda s: s == "" or s.strip()),
    ),
    min_size=1,
    max_size=6,
)


@given(some_tools)
def test_round_trips_are_exact(tools):
    table = open_csv(csv_table.csv_of(tools).encode())
    columns, questions = guess(table)
    assert questions == ()
    assert list(csv_table.read_rows(table, columns).rows) == tools
    assert list(xml_table.tools_of(xml_table.xml_of(tools, "2026-01-01T00:00:00+00:00", "Larch"))) == tools
    assert checked(Tools, strict_json.loads(text_of(tools, ".json", "Larch"))).tools == tools


def test_files_by_their_ending():
    for name in ("t.json", "t.xml"):
        assert tools_in(name, text_of(TOOLS.tools, f".{name[2:]}", "Larch").encode()) == tuple(TOOLS.tools)
    assert text_of(TOOLS.tools, ".csv", "Larch").startswith("number,kind,")
    bad = b'{"format": "nonna-tools/1", "tools": [{"number": 1}]}'
    with pytest.raises(NonnaError, match=r"bad\.json: tools"):
        tools_in("bad.json", bad)


def test_somebodys_own_holder_column_is_no_description_of_one():
    foreign = open_csv(b"tool,diameter_mm,length_mm,holder\n2,8.5,112.4,ER32 collet chuck\n")
    columns, _ = guess(foreign)
    assert "holder" not in columns.fields and csv_table.read_rows(foreign, columns).rows[0].holder == []
    ours = open_csv(b"tool,diameter_mm,length_mm,holder\n2,8.5,112.4,63x20; 40 x 15.5\n")
    (tool,) = csv_table.read_rows(ours, guess(ours)[0]).rows
    assert [(p.diameter_mm, p.length_mm) for p in tool.holder] == [(63.0, 20.0), (40.0, 15.5)]
    with pytest.raises(NonnaError, match="diameter x length"):
        holder_from("ER32")


FOREIGN = b"Tool No;Name;Diam.;Length\nT02;Drill 8.5;8,5;112,418\n 3 ;M10 TAP;10;about 98\n4;shell mill 63;63,0;?\n"


def test_foreign_tables_are_guessed_and_asked_about():
    table = open_csv(FOREIGN)
    columns, questions = guess(table)
    assert columns.decimal_comma and "decimal comma" in questions[0]
    assert any("millimetres" in q for q in questions)
    drill, tap, mill = csv_table.read_rows(table, columns).rows
    assert (drill.number, drill.kind, drill.diameter_mm, drill.length_mm) == (2, "drill", 8.5, 112.418)
    assert (tap.kind, tap.length_mm, tap.length_uncertainty_mm) == ("tap", 98.0, 5.0)
    assert (mill.kind, mill.length_mm) == ("face-mill", None)
    kept = Columns(**columns.to_document())
    assert csv_table.read_rows(table, kept).rows == (drill, tap, mill)
    inches = open_csv(b"tool,dia (in),len (in)\n1,0.25,3.5\n")
    columns, questions = guess(inches)
    assert columns.inch and questions == ()
    assert csv_table.read_rows(inches, columns).rows[0].length_mm == pytest.approx(88.9)
    unknown = open_csv(b"a,b,c\n1,6,80\n")
    columns, questions = guess(unknown)
    assert sum(q.startswith("Which column") for q in questions) == 2
    columns = Columns({"number": 0, "diameter_mm": 1, "length_mm": 2})
    assert csv_table.read_rows(unknown, columns).rows[0].length_mm == 80.0


@pytest.mark.parametrize(
    ("data", "code", "where"),
    [
        (b"number,diameter_mm\n1,six\n", "not-a-number", "row 2, diameter_mm"),
        (b"number,diameter_mm\n1,6,5\n", "wrong-format", "row 2"),
        (b"number,diameter_mm\n1,6\nx,6\n", "not-a-number", "row 3, number"),
        (b"number,diameter_mm\n1,-6\n", "out-of-range", "row 2, diameter_mm"),
        (b"number,diameter_mm,length_mm\n1,6,long\n", "not-a-number", "row 2, length_mm"),
        (b"number;diameter_mm\n1;6,5\n2;6.5\n", "not-a-number", "row 3, diameter_mm"),
        (b"hello\n", "wrong-format", ""),
        (b"\xff\xfe\x00", "unreadable", ""),
    ],
)
def test_bad_csv_is_refused_with_its_row(data, code, where):
    with pytest.raises(NonnaError) as caught:
        table = open_csv(data)
        columns, _ = guess(table)
        if where == "row 3, diameter_mm":  # points and commas mixed: as a decimal point
            columns = Columns(columns.fields, decimal_comma=False)
            table = open_csv(b"number;diameter_mm\n1;6.5\n2;6,5\n")
        raise csv_table.read_rows(table, columns).wrong[0]
    assert (caught.value.code, caught.value.where) == (code, where)


BOMB = b'<!DOCTYPE a [<!ENTITY b "bang"><!ENTITY c "&b;&b;">]><MTConnectAssets>&c;</MTConnectAssets>'
ASSET = (
    b'<MTConnectAssets xmlns="urn:mtconnect.org:MTConnectAssets:1.3"><Assets><CuttingTool serialNumber="9" toolId="DR">'
    b"<Description>Drill 6</Description><CuttingToolLifeCycle><ProgramToolNumber>%s</ProgramToolNumber><Measurements>"
    b'<FunctionalLength code="LF" units="%s">4.0</FunctionalLength><CuttingDiameterMax code="DC">6</CuttingDiameterMax>'
    b"</Measurements></CuttingToolLifeCycle></CuttingTool></Assets></MTConnectAssets>"
)


def test_foreign_xml_is_read_carefully():
    (tool,) = xml_table.tools_of(ASSET % (b"9", b"INCH"))
    assert (tool.number, tool.kind, tool.length_mm) == (9, "drill", pytest.approx(101.6))
    for data, code, words in (
        (BOMB, "wrong-format", "entities"),
        (b"<a", "wrong-format", "not XML"),
        (b"<html/>", "wrong-format", "assets document"),
        (b"<Assets/>", "missing-field", "no CuttingTool"),
        (ASSET % (b"nine", b"INCH"), "not-a-number", "ProgramToolNumber"),
        (ASSET % (b"nan", b"INCH"), "not-a-number", "finite"),
        (ASSET % (b"1e999", b"INCH"), "not-a-number", "finite"),
        (ASSET % (b"9.5", b"INCH"), "out-of-range", "whole number"),
        ((ASSET % (b"9", b"INCH")).replace(b">6<", b">1e999<"), "not-a-number", "CuttingDiameter"),
        (ASSET % (b"9", b"CUBIT"), "out-of-range", "CUBIT"),
        ((ASSET % (b"9", b"INCH")).replace(b">6<", b">-6<"), "out-of-range", "diameter_mm"),
        ((ASSET % (b"9", b"INCH")).replace(b"ProgramToolNumber", b"Other"), "missing-field", "ProgramToolNumber"),
    ):
        with pytest.raises(NonnaError, match=words) as caught:
            xml_table.tools_of(data)
        assert caught.value.code == code


@pytest.mark.parametrize(
    ("text", "value", "doubt"),
    [
        ("", None, None), ("?", None, None), ("80.25", 80.25, None), ("about 80", 80.0, 5.0), ("~ 300", 300.0, 15.0),
        ("80?", 80.0, 5.0),
        ("80 ± 0.5", 80.0, 0.5), ("80 mm", 80.0, None),
    ],
)  # fmt: skip
def test_lengths_as_people_write_them(text, value, doubt):
    found = read_length(text)
    assert (found.value_mm, found.doubt_mm) == (value, doubt)


def test_what_is_no_length():
    for text in ("long", "-3", "0", "about", "nan", "inf", "80 ± nan", "80 ± -1"):
        with pytest.raises(NonnaError):
            read_length(text)


@pytest.mark.parametrize("kept, where", [
    ([], ""), (5, ""), ({"fields": {}}, "decimal_comma"),
    ({"fields": {"number": "0"}, "decimal_comma": False, "inch": False}, "fields.number"),
    ({"fields": {"number": 9}, "decimal_comma": False, "inch": False}, "fields.number"),
    ({"fields": {"__class__": 0}, "decimal_comma": False, "inch": False}, "fields.__class__"),
])  # fmt: skip
def test_a_mapping_that_somebody_else_wrote_is_refused_by_name(shop, kept, where):
    rows = b"Nr;D;L\n60;5;80\n"
    asked = tools_in_rows(shop, rows)
    signature = asked.table.signature if isinstance(asked, ForeignTable) else open_csv(rows).signature
    (shop.root / "table-columns.json").write_text(json.dumps({signature: kept}))
    with pytest.raises(NonnaError) as told:
        tools_in_rows(shop, rows)
    assert told.value.where == where and "table-columns.json" in told.value.message
    columns = Columns({"number": 0, "diameter_mm": 1, "length_mm": 2}, decimal_comma=False, inch=False)
    (shop.root / "table-columns.json").unlink()
    keep_columns(shop, signature, columns)
    assert [(t.number, t.diameter_mm, t.length_mm) for t in tools_in_rows(shop, rows).rows] == [(60, 5.0, 80.0)]
