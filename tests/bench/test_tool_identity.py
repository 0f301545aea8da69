"""A tool is a thing, not a pocket: what an edit, a file or a new row may have exchanged is asked, and never
inherited.
"""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench.station.site import Site
from nonna.bench.tray.tool_identity import as_same, taken_apart
from nonna.bench.tray.tray import Tray
from nonna.desk.commands.ids import CommandId
from nonna.desk.forms.form_dialog import FormDialog
from nonna.shop.cards.machine import HolderPart, Tool
from nonna.shop.links.subjects import tool as tool_of
from tests.support.hands import settle, shown_dialog


@pytest.fixture(scope="module")
def site(practice):
    return Site.load(ShopFolder(practice))


def edited(tray, number, **fields):
    return tray.with_tool(tray.tool(number).model_copy(update=fields), number)


OTHER = {
    "kind": "reamer", "diameter_mm": 7.77, "holder": [HolderPart(diameter_mm=41.0, length_mm=11.0)], "hand": "left",
    "material": "hss",
}  # fmt: skip
ITSELF = {
    "description": "sharp",
    "length_mm": 91.5,
    "tolerance_mm": 0.05,
    "edge_deg": 30.0,
    "max_rpm": 9000.0,
    "repeats": False,
}


@given(name=st.sampled_from(sorted(OTHER)), beside=st.sets(st.sampled_from(sorted(ITSELF))))
def test_what_a_tool_is_made_of_asks_and_no_record_speaks_for_it_until_it_is_said(site, name, beside):
    before, standing = Tray(tools=site.tools), site.standing()
    typed = edited(before, 2, **{n: ITSELF[n] for n in beside}, **{name: OTHER[name]})
    taken, (doubt,) = taken_apart(before, typed, standing)
    assert doubt.tool == typed.tool(2) and doubt.was == before.tool(2) and str(doubt.record.number) in doubt.words
    assert taken.tool(2).subject not in {e.subject for e in standing} | {t.subject for t in before.tools}
    assert site.results().held("tool-length", "length_mm", taken.tool(2).subject) is None
    # a length typed with it is the new tool's; one that only stayed there was the old one's
    assert taken.tool(2).length_mm == (ITSELF["length_mm"] if "length_mm" in beside else None)
    assert as_same(taken, [doubt]) == typed


@given(
    beside=st.sets(st.sampled_from(sorted(ITSELF)), min_size=1),
    filled=st.sets(st.sampled_from(["flutes", "holder", "point_angle_deg"])),
)
def test_a_name_a_length_or_a_field_filled_in_makes_no_other_tool(site, beside, filled):
    bare = {"flutes": 0, "holder": [], "point_angle_deg": 0.0}
    given_ = {"flutes": 4, "holder": OTHER["holder"], "point_angle_deg": 118.0}
    before = edited(Tray(tools=site.tools), 2, **bare)
    typed = edited(before, 2, **{n: ITSELF[n] for n in beside}, **{n: given_[n] for n in filled})
    assert taken_apart(before, typed, site.standing()) == (typed, ())


def test_out_and_in_again_a_file_and_rows_that_change_places_are_asked_about(site):
    before, standing = Tray(tools=site.tools), site.standing()
    two, three = before.tool(2), before.tool(3)
    out = before.without({2})
    assert taken_apart(before, out, standing) == (out, ())
    again, (doubt,) = taken_apart(out, out.with_tool(two.model_copy()), standing)
    assert doubt.was is None and "the book knows a T2" in doubt.words and again.tool(2).subject != tool_of(2)
    read, doubts = taken_apart(before, before.merged([Tool(number=2, kind="drill", diameter_mm=3.3), three]), standing)
    assert [d.number for d in doubts] == [2] and read.tool(3) == three and f"{two.diameter_mm:g}" in doubts[0].words
    swapped = before.with_rows(  # two lines of a spreadsheet pasted in another order
        [(two, three.model_copy(update={"id": ""})), (three, two.model_copy(update={"id": ""}))]
    )
    _, doubts = taken_apart(before, swapped, standing)
    assert {d.number for d in doubts} == {2, 3}
    moved = before.with_rows([(two, two.model_copy(update={"number": 41}))])
    assert taken_apart(before, moved, standing) == (moved, ())
    # twice exchanged: never the first one's identity again
    once, _ = taken_apart(before, edited(before, 2, diameter_mm=5.0), standing)
    new, _ = taken_apart(
        once.without({2}), once.without({2}).with_tool(Tool(number=2, kind="drill", diameter_mm=6.0)), standing
    )
    assert new.tool(2).subject != tool_of(2)
    assert taken_apart(once, edited(once, 2, diameter_mm=5.1), standing)[1] == ()  # nothing measured speaks for it yet


@pytest.mark.parametrize(("answer", "holds"), [("other", False), ("same", True)])
def test_the_desk_asks_which_tool_it_is_with_the_keyboard_alone(desk, hands, answer, holds):
    desk.do(CommandId.TOOLS)
    settle(desk)
    c = desk.tools.controller
    number = next(
        t.number
        for t in c.tray.tools
        if t.kind == "end-mill" and desk.site.results().held("tool-length", "length_mm", t.subject)
    )
    was, began = c.tray.tool(number), c.tray.tools
    desk.tools.table.go_to(number)
    hands.type("e")
    hands.until(lambda: shown_dialog(desk, FormDialog) is not None)
    form = shown_dialog(desk, FormDialog)
    form.put({"diameter_mm": "7.7"})
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: shown_dialog(desk, FormDialog) not in (None, form))
    asked = shown_dialog(desk, FormDialog)
    assert c.tray.tool(number).subject != was.subject  # until it is said
    if answer == "same":
        hands.press(Qt.Key.Key_Down)
    assert asked.values() == {str(number): answer}
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: shown_dialog(desk, FormDialog) is None)
    now = c.tray.tool(number)
    assert (now.subject == was.subject) is holds and now.diameter_mm == 7.7
    assert now.length_mm == (was.length_mm if holds else None)
    settle(desk)
    assert desk.site.tools == c.tray.tools
    c.undo()
    assert c.tray.tools == began
