"""The rack's sheet: as many pockets as there are, before beside now, a table for the control, lines from the
machine.
"""

import json
from dataclasses import replace

import pytest

from nonna.bench.book.writing import Signature
from nonna.bench.session.sheet.picture import picture
from nonna.bench.sheet.instruments import instrument_of
from nonna.bench.sheet.opening import prepared
from nonna.bench.shelf.shelving import cards, put
from nonna.bench.station.site import Site
from nonna.bench.tables.pockets import pockets_of, table_text
from nonna.desk.actions.papers import write_pockets
from nonna.errors import NonnaError
from nonna.procedures.session import Session, TapeRow
from nonna.procedures.telling import words_of
from nonna.shop.links.subjects import RACK
from nonna.shop.records.text import body_of
from nonna.shop.texts.csv_rows import open_csv
from nonna.shop.texts.given import Given
from nonna.standin.indicator import IndicatorServer
from nonna.wording.lengths import Units
from tests.support.hands import settle, shown_text

SIGNED = Signature("K. Amsel")


def sheet_of(shop):
    return Session("rack-pockets", prepared(Site.load(shop, "rowan"), "rack-pockets", RACK).facts)


def test_holder_and_rod_are_as_they_were_and_there_are_as_many_pockets_as_the_machine_has(shop):
    session = sheet_of(shop)
    setup = session.facts.setup
    assert (setup["holder_diameter_mm"], setup["rod_diameter_mm"]) == (38.0, 8.0)
    assert session.wanted == 8 * 5 and "do both leads ring" in session.prompt
    assert replace(session, confirmed=True).prompt == "Pocket 1 of 8: touch from the +x side"
    card = next(c for c in cards(shop)["machines"] if c["id"] == "rowan")
    put(shop, "machines", {**card, "pocket_count": 12}, SIGNED, card)
    assert sheet_of(shop).wanted == 12 * 5


def test_what_was_measured_before_stands_beside_the_new(shop):
    session = sheet_of(shop)
    first = session.procedure.figure(session.facts, [], None)
    assert "as it was measured last" in first.title and len(first.strokes) > 30
    record = pockets_of(Site.load(shop, "rowan").standing(), shop.book.reader())
    document = body_of(shop.book.get(record.record))["input"]
    again = session.take_all(document["readings"], "typed", "2026-11-23T10:00:00+00:00")
    drawn = again.procedure.figure(again.facts, again.live, again.evaluate())
    assert "rings: before" in drawn.scale_note


@pytest.mark.parametrize("off", [0.0, 0.6])
def test_one_renewed_place_is_held_against_the_row_the_book_knows(shop, off):
    """Five touches instead of forty; the bent place that stood out before is none of the row."""
    record = pockets_of(Site.load(shop, "rowan").standing(), shop.book.reader())
    document = body_of(shop.book.get(record.record))["input"]
    opening = prepared(Site.load(shop, "rowan"), "rack-pockets", RACK, variant="one")
    before = [{**row, "set_aside": row["pocket"] == (bent := 3)} for row in record.rows]
    session = Session("rack-pockets", replace(opening.facts, before=Given({"pockets": before})))
    assert "Which place is new?" in replace(session, confirmed=True).prompt and "known" not in session.facts.setup
    renewed = 5
    session = session.with_setup(renewed=renewed)
    assert {row["pocket"] for row in session.facts.setup["known"]} == set(range(1, 9)) - {bent, renewed}
    assert session.wanted == 5 and f"Pocket {renewed} of 8" in replace(session, confirmed=True).prompt
    touches = [
        {**r, "position_mm": r["position_mm"] + off * (r["face"] in ("+x", "-x"))}
        for r in document["readings"] if r["pocket"] == renewed
    ]  # fmt: skip
    found = session.take_all(touches, "typed", "2026-11-23T10:00:00+00:00").evaluate()
    words = words_of(found.advice[0], Units.MM)
    assert [row["pocket"] for row in found.extras["pockets"] if row["set_aside"]] == ([renewed] if off else [])
    assert (f"Pocket {renewed} stands" if off else f"Place {renewed} stands within") in words
    assert str(found.verdict) == ("fail" if off else "pass")
    assert session.with_variant("row").facts.setup.get("known") is None


def test_the_tape_says_how_long_the_rest_takes(shop):
    session = sheet_of(shop)
    slots = session.procedure.slots(session.facts)
    rows = [TapeRow(Given({**s.fields, "position_mm": 1.0 * i}), s.label,
        f"2026-11-23T10:{i // 6:02d}:{10 * (i % 6):02d}+00:00", "typed")
            for i, s in enumerate(slots[:22])]  # fmt: skip
    assert (
        "min left" not in picture(Session(session.name, session.facts, tuple(rows[:3])), Units.MM, None, "").tape_note
    )
    note = picture(Session(session.name, session.facts, tuple(rows)), Units.MM, None, "").tape_note
    assert note == "22 of 40 taken, about 3 min left"  # 18 readings of ten seconds


def test_the_pockets_are_written_for_the_control(shop, desk, hands, tmp_path):
    site = Site.load(shop, "rowan")
    found = pockets_of(site.standing(), shop.book.reader())
    whole = json.loads(table_text(found, ".json"))
    assert (whole["machine"], whole["record"], len(whole["pockets"])) == ("Rowan", found.record, 8)
    table = open_csv(table_text(found, ".CSV").encode())
    assert table.headers[:4] == ("pocket", "x_mm", "y_mm", "z_mm")
    assert [float(row[1]) for row in table.rows] == pytest.approx([p["x_mm"] for p in whole["pockets"]], abs=1e-4)
    with pytest.raises(NonnaError, match="csv or"):
        table_text(found, ".doc")
    write_pockets(desk, tmp_path / "none.csv")  # the mill has no rack
    hands.until(lambda: "No rack of pockets" in shown_text(desk))
    desk.show_station("rowan")
    settle(desk)
    write_pockets(desk, tmp_path / "p.csv")
    hands.until(lambda: f"from record {found.record}" in shown_text(desk))
    assert (tmp_path / "p.csv").read_text() == table_text(found, ".csv")


def test_the_leads_are_tried_before_the_first_touch(desk, hands):
    desk.show_station("rowan")
    settle(desk)
    desk.open_link("rack")
    c = hands.sheet().controller
    assert "do both leads ring" in shown_text(desk.sheet)
    hands.enter("123.4")
    assert c.session.rows == () and "Enter when it is so" in shown_text(desk.sheet)
    desk.sheet.numbers.reading.clear()
    hands.enter()
    hands.enter("123.4")
    hands.until(lambda: len(c.session.rows) == 1 or c.question is not None)
    assert c.session.confirmed


def test_where_the_machine_stands_is_taken_from_its_own_line(desk, hands, shop):
    site = Site.load(shop, "rowan")
    session = sheet_of(shop)
    assert instrument_of(site, session) is None  # no print-out of this machine is on the shelf
    slots = session.procedure.slots(session.facts)[:5]
    told = [f"{slot.axis.upper()}={-96.0 if slot.axis == 'z' else 100.0 + i:.3f}" for i, slot in enumerate(slots)]
    lines = iter(["", "", "", *told])
    server = IndicatorServer(lambda: next(lines, ""), rate_hz=20)
    put(
        shop,
        "printouts",
        {"name": "Rowan's pendant", "machine": "Rowan", "pattern": "{axis}={value}", "port": server.url},
        SIGNED,
    )
    desk.show_station("rowan")
    settle(desk)
    desk.open_link("rack")
    c = hands.sheet().controller
    assert c.has_dial
    hands.enter()  # the leads ring
    c.go_live("")
    hands.until(lambda: len(c.session.rows) == 5 or c.question is not None)
    c.stop_live()
    server.close()
    assert [row.values["face"] for row in c.session.rows] == ["+x", "-x", "+y", "-y", "top"]
    assert "Pocket 2 of 8" in c.session.prompt
