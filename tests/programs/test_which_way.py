"""Presetter or setter: the doubt of each way against each tool's tolerance, and what it costs."""

import math
from dataclasses import replace

import pytest
from PySide6.QtCore import Qt

from nonna.bench.job.measuring_way import TOLERANCE_MM, Side, Way, ways, with_usual
from nonna.bench.job.planning import calibrated
from nonna.bench.station.site import Site
from nonna.desk.pages.tools.forms.ways_dialog import WaysDialog
from nonna.shop.cards.job import JobTool
from nonna.stations.mill.planning.plan import plan_job
from tests.support.hands import shown_dialog, shown_text


def found_in(shop, station="", **tolerances):
    site = Site.load(shop, station)
    tools = [t.model_copy(update={"tolerance_mm": tolerances.get(f"T{t.number}")}) for t in site.tools]
    wanted = [JobTool.model_validate(t.model_dump()) for t in tools]
    plan = plan_job(calibrated(site.machine, site.results()), wanted, 3, 0.002)
    return {way.number: way for way in ways(site, tools, {p.tool.number: p for p in plan.tools}, 3)}


def test_the_presetter_where_it_is_good_enough_else_the_setter(shop):
    found = found_in(shop, T9=0.005, T2=0.0001)
    assert {found[n].choice for n in (3, 4, 5, 7, 11, 14)} == {"presetter"}
    assert (found[9].choice, found[2].choice) == ("setter", "neither")
    setter = found[3].setter
    results = Site.load(shop).results()
    plane, s = results.held("setter-calibration", "trigger_plane_mm"), results.held("repeatability", "s_mm")
    assert setter.expanded_mm == pytest.approx(1.96 * math.hypot(plane.u, s.value / math.sqrt(3)), rel=0.1)
    assert found[4].setter.expanded_mm > setter.expanded_mm  # it turns: the feed a turn is in it
    assert found[4].setter.minutes > found[3].setter.minutes > 0.0
    wide = {way.number: way for way in with_usual(tuple(found.values()), 0.001)}
    assert wide[3].choice == "neither" and wide[9].tolerance_mm == 0.005  # its own stays


def test_where_there_is_no_transfer_the_setter_is_left(shop):
    found = found_in(shop, "rowan")
    assert {way.choice for way in found.values()} <= {"setter", "neither"}
    assert all(way.presetter.expanded_mm is None and "Machine Larch" in way.presetter.why for way in found.values())
    none = Way(1, "x", TOLERANCE_MM, Side(None, 1.0, "no"), Side(None, 1.0, "no"))
    assert none.choice == "neither" and replace(none, setter=Side(0.001, 1.0)).choice == "setter"


def test_one_key_shows_it_and_marks_what_the_setter_is_needed_for(desk, hands):
    hands.press(Qt.Key.Key_F3)
    c = desk.tools.controller
    hands.until(lambda: c.answer is not None)
    c.change(c.tray.with_tool(c.tray.tool(9).model_copy(update={"tolerance_mm": 0.005}), 9))
    desk.tools.table.setFocus()
    hands.press(Qt.Key.Key_W)
    hands.until(lambda: shown_dialog(desk, WaysDialog) is not None)
    dialog = shown_dialog(desk, WaysDialog)
    assert "7 on the presetter" in shown_text(dialog) and "1 on the setter" in shown_text(dialog)
    assert "share of its tolerance" in dialog.view.figure.title
    dialog.put({"tolerance": "abc"})
    dialog.edited.emit(dialog.values())
    assert "abc" in shown_text(dialog)
    dialog.put({"tolerance": "5um"})
    dialog.edited.emit(dialog.values())
    assert "0 on the presetter" in shown_text(dialog)
    dialog.put({"tolerance": "0.02"})
    dialog.edited.emit(dialog.values())
    dialog.submit()
    assert c.marked == (9,)
