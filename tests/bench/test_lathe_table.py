"""A lathe's tools from the first typed row to written offsets: by grid, by program on the stand-in, from a machine's
results.
"""

import math
import re

import numpy as np
import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog

from nonna.bench.book.writing import event
from nonna.bench.job.measuring import judged_of, read_back
from nonna.bench.job.programs_written import left_in, note_written
from nonna.bench.sheet.judging import sign_all
from nonna.bench.sheet.signing import signature_of
from nonna.bench.station.site import Site
from nonna.bench.tables.csv_table import csv_of, guess, read_rows
from nonna.bench.tray.offset_table import offset_changes, with_offsets
from nonna.bench.tray.tool_grid import Grid
from nonna.bench.tray.tray import Tray
from nonna.desk.commands.ids import CommandId
from nonna.desk.tray.machine_results import read_results
from nonna.desk.tray.offsets_dialog import OffsetsDialog
from nonna.errors import NonnaError
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.writing.results import by_tool, from_json, from_log, from_parameters, read_csv, readings_by_tool
from nonna.shop.links.subjects import ARM, REFERENCE_TOOL, tool
from nonna.shop.texts.csv_rows import open_csv
from nonna.standin.world import World
from nonna.stations.kind import kind_of
from nonna.stations.lathe.standin import LatheTruth, tip_offsets
from nonna.stations.lathe.tip_program import tip_program
from nonna.stations.lathe.tip_run import run_tips
from nonna.wording.lengths import Units
from tests.support.dialects import BRANCH, DIALECTS, PLAIN_OR_BRANCHING, RS274
from tests.support.hands import settle, shown_dialog, shown_text
from tests.support.lathe import (
    LONGER,
    RADIUS,
    codes,
    machine,
    signed,
    text_of,
    turret,
)
from tests.support.tool_programs import judged_each, run_on_standin, tools_program

LATHE = kind_of("lathe").asks_of_tools(machine())
TYPED = "\n".join(
    (
        "2|turning|Outside|outside, cutting tow|135.2|134.8|0.8|25", "4|bor|Bar|inside-chuck|130.1|155.1|0.4|20",
        "6|drill 18|||125.9|129.9||18",
    )
)  # fmt: skip


def typed(rows, units=Units.MM, asks=LATHE):
    grid = Grid.of([], units, asks)
    return grid.with_cells(0, 0, [line.split("|") for line in rows.splitlines()]).taken(Tray()).tools


def test_tools_typed_in_rows_are_enough_for_a_program():
    tools = typed(TYPED)
    assert [t.edge for t in tools] == ["outside-chuck", "inside-chuck", "drill"]  # a drill stands on the centre line
    assert [t.kind for t in tools] == ["turning-tool", "boring-bar", "drill"]
    held = turret().model_copy(update={"tools": list(tools)})
    for branching in (False, True):
        stops, found = codes(
            tip_program(machine(), tools, dialect=PLAIN_OR_BRANCHING[branching], rounds=2).text,
            tools=held,
            branching=branching,
        )
        assert stops == [] and len(found.contacts) == 2 * 2 * 5
    inches = typed("2|turning||outside-chuck|5.3228|5.3071||1in", Units.INCH)
    assert inches[0].offset_x_mm == pytest.approx(135.2, abs=1e-3) and inches[0].diameter_mm == pytest.approx(25.4)
    assert kind_of("lathe").asks_of_tools(RADIUS).titles["offset_x_mm"] == "X radius offset"


def test_a_way_that_may_mean_several_is_asked_again():
    with pytest.raises(NonnaError) as said:
        typed("2|turning||outside, cut|1|2||25")
    assert said.value.where == "0.edge" and "towards the chuck; Outside, cutting away" in said.value.message
    with pytest.raises(NonnaError, match="X ⌀ offset"):
        typed("2|turning||facing|one|2||25")


@pytest.mark.parametrize("branching", [False, True])
def test_the_active_work_offset_changes_neither_places_nor_results(branching):
    def places(text):
        return [(c.position, c.what) for c in codes(text, branching=branching)[1].contacts]

    plain = text_of(branching=branching)
    shifted = f"#5221 = -12.5\n#5223 = 31.25\n#5211 = 0.5\n{plain}#5221 = 0\n#5223 = 0\n#5211 = 0\n".replace(
        "M30\n", ""
    )
    moved = places(shifted)
    assert len(moved) == 2 * 9
    for (at, _), (wanted, _) in zip(moved, places(plain), strict=True):
        assert at == pytest.approx(wanted, abs=1e-9)


@pytest.mark.parametrize("number", [1, 3])
def test_a_tip_that_reaches_further_than_its_table_stops_at_the_touch(number):
    stops, found = codes(text_of(number, branching=True), tools=turret(**LONGER), branching=True)
    assert "collision" not in stops and "rapid-contact" not in stops
    assert (
        len(found.contacts) == 1 and stops == ["arm-left-out"]
    ) or "wrong-face" in stops  # it stands there: hands back it off
    assert re.search(r"N9003 M5\nM0 \(TOUCHED ON THE WAY", text_of(number, branching=True))


def program_run(shop, world, number, dialect="rs274", rounds=3):
    site = Site.load(shop, "willow")
    made = tools_program(site, (1, 3, 5, 7), dialect_of(dialect), rounds)
    return run_on_standin(site, made, world), site


def test_what_a_program_finds_covers_what_is_so_from_the_test_cut_on(shop):
    seed, hits = 3, []
    world, truth = World.from_seed(seed), LatheTruth.of(seed)

    def table(old):  # about where this seed's tips are
        rows = []
        for t in turret().tools:
            own = tip_offsets(t, truth, world)
            rows.append(
                {
                    **t.model_dump(exclude_none=True),
                    "offset_x_mm": round(2 * own["x"], 1),
                    "offset_z_mm": round(own["z"], 1),
                }
            )
        return {**old, "tools": rows}

    shop.change(("tools", "willow.json"), table)
    site = Site.load(shop, "willow")
    for number in range(14):
        for name, subject in (("lathe-offset-cut", REFERENCE_TOOL), ("repeatability", ARM), ("lathe-arm", ARM)):
            signed(site, name, subject)
        made = tools_program(site, (1, 5), PLAIN_OR_BRANCHING[number % 2], 1 + number % 3)
        rows = run_on_standin(site, made, world)
        for row in rows:
            own = tip_offsets(next(t for t in site.tools if t.subject == row.subject), truth, world)
            for axis, factor in (("x", 0.5), ("z", 1.0)):
                found = next(q for q in row.evaluation.quantities if q.name == f"offset_{axis}_mm")
                assert found.estimate.expanded * factor < 0.008
                hits.append(abs(found.value * factor - own[axis]) <= found.estimate.expanded * factor)
    assert len(hits) == 14 * 4 and sum(hits) >= 48  # 95 % of 56 are 53, those of one arm hang together


def test_a_broken_insert_is_seen_and_not_accepted_with_the_others(shop):
    world = World.from_seed(11)
    world.longer[3] = -0.3
    rows, _ = program_run(shop, world, 1, rounds=1)
    by = {r.subject.id: r for r in rows}
    assert by["T3"].doubtful and not by["T1"].doubtful
    change = next(q for q in by["T3"].evaluation.quantities if q.name == "change_x_mm")
    assert change.value == pytest.approx(0.6, abs=0.02)  # shown on diameter, and receded: the part gets larger
    world.longer[3] = -9.0
    for dialect in DIALECTS:
        rows, _ = program_run(shop, world, 2, dialect, rounds=1)
        by = {r.subject.id: r for r in rows}
        assert set(by) == {"T1", "T3"} and by["T1"].evaluation  # what was touched before it stopped is kept
        assert "is the insert there and whole" in by["T3"].failed and by["T3"].evaluation is None


def test_results_of_a_machine_name_their_axis():
    csv = b"tool;axis;position_mm\nT3;x;7.1\n3;Z;188.2\n3;x;7.2\n"
    wanted = {3: [("x", 7.1), ("z", 188.2), ("x", 7.2)]}

    def plain(found):
        return {n: [(r["axis"], r["position_mm"]) for r in rows] for n, rows in readings_by_tool(found).items()}

    assert plain(read_csv(csv).rows) == wanted
    assert plain(from_log("T3 X 7.1 Z 188.2\nnoise\n", "T{tool} X {x} Z {z}")) == {3: [("x", 7.1), ("z", 188.2)]}
    assert plain(from_log("T3 X=7.1\nT3 Z=188,2", "T{tool} {axis}={value}")) == {3: [("x", 7.1), ("z", 188.2)]}
    assert plain(from_json(b'[{"tool": 3, "axis": "x", "position_mm": 7.1}]')) == {3: [("x", 7.1)]}
    assert by_tool(read_csv(csv).rows) == {3: [188.2]}  # what X showed is no length on a mill
    with pytest.raises(NonnaError, match="which axis"):
        readings_by_tool(read_csv(b"tool,position_mm\n3,7.1\n").rows)
    with pytest.raises(NonnaError, match="axis: x or z"):
        read_csv(b"tool,axis,position_mm\n3,q,7.1\n")


def test_results_of_a_tool_that_is_not_here_are_not_taken(shop):
    site = Site.load(shop, "willow")
    with pytest.raises(NonnaError, match="T8 is not in this tray"):
        judged_each(site, {3: [], 8: [{"axis": "z", "position_mm": 1.0}]}, "file x.csv")
    (row,) = judged_each(site, {3: [{"axis": "z", "position_mm": 192.5}]}, "file x.csv")
    assert [q.name for q in row.evaluation.quantities if q.name.startswith("offset")] == ["offset_z_mm"]


def test_what_names_no_way_or_too_much_is_refused_in_words(shop):
    def bare(old):
        return {**old, "tools": [{k: v for k, v in t.items() if k != "edge"} for t in old["tools"]]}

    rows = {3: [{"axis": "z", "position_mm": 192.5}] * 2}
    assert judged_each(Site.load(shop, "willow"), rows, "file x.csv")[0].evaluation
    shop.change(("tools", "willow.json"), bare)
    (row,) = judged_each(Site.load(shop, "willow"), rows, "file x.csv")
    assert row.evaluation is None and "which way it cuts" in row.failed  # another way's plane would be wrong
    with pytest.raises(NonnaError, match="more than one program keeps"):
        tip_program(machine(), turret().tools, rounds=101)


def test_a_lathes_table_of_any_shape_keeps_its_offsets_apart_from_lengths():
    text = b"Tool;Name;Dia (mm);X offset;Z offset\n3;Finisher;25;123.64;130.51\n"
    table = open_csv(text)
    (tool3,) = read_rows(table, guess(table)[0]).rows
    assert (tool3.offset_x_mm, tool3.offset_z_mm, tool3.length_mm) == (123.64, 130.51, None)
    mill = open_csv(b"Tool;Dia (mm);Z offset\n3;10;80.5\n")
    assert read_rows(mill, guess(mill)[0]).rows[0].length_mm == 80.5
    whole = turret().tools
    again = open_csv(csv_of(whole).encode())
    assert list(read_rows(again, guess(again)[0]).rows) == whole


def changes(shop, holding=None):
    site = Site.load(shop, "willow")
    held = {t.subject for t in site.tools} if holding is None else holding
    return {
        (c.tool, c.axis): c for c in offset_changes(site.results(), kind_of(site.machine.kind), site.tools, held)
    }, site


def log(shop, name, subject):
    shop.book.sign([event(name, signature_of(Site.load(shop, "willow"), "K. Amsel", subject))])


def test_only_what_differs_beyond_its_doubt_is_offered_and_wear_that_parts_found_stays(shop):
    def table(number, **fields):
        def made(old):
            return {**old, "tools": [{**t, **(fields if t["number"] == number else {})} for t in old["tools"]]}

        shop.change(("tools", "willow.json"), made)

    found, site = changes(shop)
    by = {t.number: t for t in site.tools}
    assert (
        by[3].wear_x_mm and (3, "x") not in found
    )  # measured again, and the same within the doubt: the wear is the parts'
    for change in found.values():
        assert change.difference is None or abs(change.difference) > (change.expanded or 0.0)
    assert changes(shop, set())[0] == {}  # measured before its insert was changed: it says nothing
    table(3, offset_x_mm=123.70)
    off = changes(shop)[0][(3, "x")]
    assert not off.writes and off.wear == pytest.approx(-0.0177)  # the same edge: the wear holds part of it already
    tray = Tray(tools=tuple(site.tools))
    assert with_offsets(tray, [off]) == tray
    table(3, offset_x_mm=123.70, wear_x_mm=0.0)
    off = changes(shop)[0][(3, "x")]
    assert off.writes and with_offsets(tray, [off]).tool(3).offset_x_mm == pytest.approx(123.64, abs=0.01)


def test_a_tip_that_was_touched_one_way_has_that_in_the_table_and_an_older_edges_axis_is_not_taken(shop):
    def bare(old):
        rows = [
            {k: v for k, v in t.items() if t["number"] != 1 or k not in ("edge", "offset_x_mm", "offset_z_mm")}
            for t in old["tools"]
        ]
        return {**old, "tools": rows}

    shop.change(("tools", "willow.json"), bare)
    found, site = changes(shop)
    whole = with_offsets(Tray(tools=tuple(site.tools)), [c for c in found.values() if c.tool == 1]).tool(1)
    assert whole.edge == "outside-chuck" and whole.offset_x_mm is not None and whole.offset_z_mm is not None
    shop.change(
        ("tools", "willow.json"),
        lambda old: {
            **old,
            "tools": [whole.model_dump(exclude_none=True) if t["number"] == 1 else t for t in old["tools"]],
        },
    )
    assert not [key for key in changes(shop)[0] if key[0] == 1]
    log(shop, "tip-crashed", tool(1))
    rows = judged_each(Site.load(shop, "willow"), {1: [{"axis": "z", "position_mm": 188.2}] * 2}, "file z.csv")
    sign_all(rows, "K. Amsel")
    assert [key for key in changes(shop)[0] if key[0] == 1] == [(1, "z")]  # its X is the old edge's


def test_a_new_edge_begins_without_the_wear_of_the_old_one(shop):
    log(shop, "insert-changed", tool(3))
    rows, _ = program_run(shop, World.from_seed(11), 5)
    sign_all([r for r in rows if r.subject == tool(3)], "K. Amsel")
    found, site = changes(shop)
    edge = found[(3, "x")]
    assert edge.new_edge and edge.writes and edge.wear
    new = with_offsets(Tray(tools=tuple(site.tools)), [edge]).tool(3)
    assert new.wear_x_mm == 0.0 and new.offset_x_mm == pytest.approx(edge.after) and new.offset_z_mm == 130.51


def test_results_without_an_axis_are_answered_in_words(desk, hands, tmp_path):
    desk.show_station("willow")
    hands.until(lambda: desk.state is not None and desk.state.machine == "Willow" and desk.settled)
    desk.do(CommandId.TOOLS)
    settle(desk)
    (tmp_path / "r.csv").write_text("tool,position_mm\n3,7.1\n")
    read_results(desk, tmp_path / "r.csv")
    hands.until(lambda: "which axis" in shown_text(desk.tools))
    (tmp_path / "r.log").write_text("T3 X7.12\nT3 Z188.2\nT3 X7.121\nT3 Z188.201\n")
    read_results(desk, tmp_path / "r.log", "T{tool} {axis}{value}")
    hands.until(lambda: desk.tools.controller.tray.results != ())
    assert "offset" in shown_text(desk.tools) and desk.tools.controller.tray.results[0].subject == tool(3)
    desk.tools.controller.undo()  # results that wait keep their machine in front
    settle(desk)
    if "alder" not in desk.folder.shop().machines:
        return
    desk.show_station("alder")
    hands.until(lambda: desk.state is not None and desk.state.machine == "Alder" and desk.settled)
    desk.do(CommandId.TOOLS)
    settle(desk)
    read_results(desk, tmp_path / "r.csv")
    hands.until(lambda: "on their sheets here" in shown_text(desk.tools))


def test_marked_tips_are_measured_accepted_and_written_by_keyboard(desk, hands, shop):
    desk.show_station("willow")
    hands.until(lambda: desk.state is not None and desk.state.machine == "Willow" and desk.settled)
    desk.do(CommandId.TOOLS)
    hands.until(lambda: desk.site is not None and desk.site.key == "willow" and desk.tools.controller.tray.tools != ())
    settle(desk)
    c = desk.tools.controller
    desk.tools.mark((1, 7))
    desk.tools.table.setFocus()
    hands.press(Qt.Key.Key_F7)
    hands.until(lambda: c.tray.results != () and not c.busy)
    assert "All 2 are sound" in shown_text(desk.tools)
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: c.tray.results == () and desk.settled and "not what the table holds" in shown_text(desk.tools))
    before = c.tray.tools
    hands.press(Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: any(d.isVisible() for d in desk.findChildren(OffsetsDialog)))
    assert "T7 Drill 18" in shown_text(shown_dialog(desk, OffsetsDialog))
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: not any(d.isVisible() for d in desk.findChildren(QDialog)))
    seven = next(t for t in Site.load(shop, "willow").tools if t.number == 7)
    own = tip_offsets(seven, LatheTruth.of(11), World.from_seed(11))
    assert math.isclose(seven.offset_z_mm, own["z"], abs_tol=0.006) and seven != before[3]
    hands.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    hands.until(lambda: c.tray.tools == before)
    assert tuple(Site.load(shop, "willow").tools) == before
    hands.press(Qt.Key.Key_E)
    hands.until(lambda: any(d.isVisible() for d in desk.findChildren(QDialog)))
    assert "Cuts" in shown_text(shown_dialog(desk, QDialog)) and "X ⌀ wear" in shown_text(shown_dialog(desk, QDialog))
    hands.press(Qt.Key.Key_Escape)


def test_seating_scatters_between_rounds_and_not_within_one(shop):
    site = Site.load(shop, "willow")
    world, truth = World.from_seed(11), LatheTruth.of(11)
    made = tools_program(site, (1,), RS274, 40)
    found, stopped = run_tips(made.trial.text, made.spots, site.machine, site.tools, world, 1, dialect=RS274)
    assert stopped == {}
    x = np.array([r["position_mm"] for r in found[1] if r["axis"] == "x"]) / 2.0
    assert len(x) == 40 and 0.6 < x.std(ddof=1) / math.hypot(truth.seating, truth.touch) < 1.5


def test_the_parameters_that_its_program_leaves_are_read_back_as_its_tips(shop):
    site = Site.load(shop, "willow")
    plan = tools_program(site, (3, 5), BRANCH, 2)
    note_written(shop, site.machine.name, plan)
    shown = {tool.number: {"x": tool.offset_x_mm, "z": tool.offset_z_mm} for tool in site.tools}
    lines = [f"#{spot.first} = {200 - shown[spot.tool][spot.axis]:.3f}" for spot in plan.spots]
    touches = from_parameters("\n".join(lines), left_in(shop, site.machine.name)).rows
    three, five = read_back(touches, None, site)
    assert (three.number, five.number) == (3, 5) and [row["axis"] for row in three.taken[0].rows] == ["x", "z"] * 2
    assert [len(row.session.rows) for row in judged_of((three, five), site, "file") if row.session] == [4, 4]
    (lacking,) = read_back(from_parameters("\n".join(lines[4:]), left_in(shop, "Willow")).rows, None, site)
    assert lacking.number == 5  # of a tip that is not whole nothing is taken
