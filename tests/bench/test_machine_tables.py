"""A machine's tables on their way to the disk: nothing hands changed is lost, nothing others changed is taken back."""

import json
import threading
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench.station.site import Site
from nonna.bench.tray import table_change
from nonna.bench.tray.table_change import ChangedElsewhere, TableChange
from nonna.bench.tray.tray import Tray
from nonna.desk.commands.ids import CommandId
from nonna.desk.signing.event_signing import log_event
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool
from nonna.shop.cards.seen import ToolSeen
from nonna.shop.links.subjects import Subject
from nonna.shop.texts.given import Given
from nonna.stations.touched_tools import Wish
from tests.support.hands import settle, shown_text, worked


class Gate:
    """Holds every write of a table until it is opened."""

    def __init__(self, monkeypatch):
        self.open, self.writes, self.begun, write = threading.Event(), [], threading.Semaphore(0), TableChange.write

        def held(change, site):
            self.writes.append(change)
            self.begun.release()
            assert self.open.wait(60)
            return write(change, site)

        monkeypatch.setattr(table_change.TableChange, "write", held)


def described(tray, number, words):
    """Change a tool's description as hands would."""
    tray.change(tray.tray.with_tool(tray.tray.tool(number).model_copy(update={"description": words}), number))


def in_file(shop, number):
    rows = json.loads((shop.root / "tools" / "larch.json").read_text())["tools"]
    return next((row.get("description", "") for row in rows if row["number"] == number), None)


def elsewhere(shop, change):
    """Change the table as another window does."""
    site = Site.load(ShopFolder(shop.root))
    TableChange.between(site, change(Tray(tools=site.tools, wishes=site.wishes))).write(site)


@pytest.fixture
def tray(desk):
    desk.do(CommandId.TOOLS)
    settle(desk)
    return desk.tools.controller


def test_what_is_changed_while_a_table_is_written_follows_it_in_one_go(tray, desk, shop, monkeypatch):
    gate = Gate(monkeypatch)
    for words in ("one", "two", "three"):
        described(tray, 2, words)
        assert desk.site.tools == tray.tray.tools and desk.tables.busy  # shown at once
    described(tray, 3, "four")
    desk.look_again()  # whatever is read meanwhile does not bring the old table back
    assert in_file(shop, 2) != "one"
    gate.open.set()
    settle(desk)
    assert (in_file(shop, 2), in_file(shop, 3)) == ("three", "four") and len(gate.writes) == 2
    assert tray.tray.tool(2).description == "three" and desk.site.tools == Site.load(shop).tools


def test_a_sheet_opened_meanwhile_knows_the_new_tool(tray, desk, hands, shop, monkeypatch):
    gate = Gate(monkeypatch)
    tray.change(tray.tray.with_tool(Tool(number=60, kind="drill", diameter_mm=5.0, length_mm=80.0)))
    before = desk.state
    log_event(desk, "crash", "bumped")  # the book is read anew, and with it the table as it still is
    hands.until(lambda: desk.state is not before)
    assert 60 not in {seen.number for seen in desk.state.tools} and 60 in {row.number for row in desk.tools.model.rows}
    desk.open_sheets([("tool-length", Subject.of("T60"))], CommandId.TOOLS)
    sheet = hands.sheet("T60")
    assert not gate.open.is_set() and in_file(shop, 60) is None
    assert any(tool.number == 60 for tool in sheet.controller.site.tools)
    gate.open.set()
    settle(desk)
    assert in_file(shop, 60) is not None


def test_another_windows_tool_is_there_and_no_undo_takes_it(tray, desk, shop):
    described(tray, 2, "mine")
    settle(desk)
    elsewhere(shop, lambda t: t.with_tool(Tool(number=61, kind="drill", diameter_mm=6.1)))
    described(tray, 3, "mine too")
    settle(desk)
    assert tray.tray.tool(61) is not None
    tray.undo()
    tray.undo()
    settle(desk)
    assert in_file(shop, 61) is not None and in_file(shop, 2) != "mine" and in_file(shop, 3) != "mine too"
    tray.redo()
    settle(desk)
    assert in_file(shop, 61) is not None and in_file(shop, 2) == "mine"


def test_a_tool_that_another_window_changed_first_is_theirs(tray, desk, shop):
    elsewhere(shop, lambda t: t.with_tool(t.tool(2).model_copy(update={"description": "theirs"}), 2))
    described(tray, 2, "mine")
    settle(desk)
    assert in_file(shop, 2) == "theirs" == tray.tray.tool(2).description
    assert "T2 was changed in another window" in shown_text(desk.tools)
    described(tray, 2, "mine now")
    settle(desk)
    assert in_file(shop, 2) == "mine now"


def test_what_cannot_be_written_stays_and_is_tried_again(tray, desk, shop, monkeypatch):
    write = TableChange.write

    def full(change, site):
        raise NonnaError("unreadable", "No space left.", "output")

    monkeypatch.setattr(table_change.TableChange, "write", full)
    described(tray, 2, "typed long")
    settle(desk)
    assert "No space left" in shown_text(desk.tools) and not desk.tables.busy
    assert tray.tray.tool(2).description == "typed long" == desk.site.tools[0].description
    desk.close()
    assert desk.isVisible() and "tray is not written" in shown_text(desk)  # closed again it would leave
    monkeypatch.setattr(table_change.TableChange, "write", write)
    described(tray, 3, "one more")
    settle(desk)
    assert (in_file(shop, 2), in_file(shop, 3)) == ("typed long", "one more")


def test_touches_decided_in_two_windows_are_kept_both(tray, desk, shop):
    mine, theirs = Wish("centre-static", reason="short"), Wish("rim-rotating", "+y", 3.0, "worn middle")
    tray.change(Tray(tray.tray.tools, tray.tray.marked, wishes={2: mine}))
    settle(desk)
    elsewhere(shop, lambda t: Tray(t.tools, wishes={**t.wishes, 8: theirs}))
    desk.look_again()
    settle(desk)
    assert tray.tray.wishes == {2: mine, 8: theirs} == Site.load(shop).wishes
    tray.undo()
    settle(desk)
    assert tray.tray.wishes == {8: theirs} == Site.load(shop).wishes


@pytest.mark.parametrize("kept, where, words", [
    ("[]", "", "an object is wanted"), ('{"Larch": []}', "", "not what the tray wrote"),
    ('{"Larch": {"T2": {"method": "centre-static"}}}', "", "not what the tray wrote"),
    ('{"Larch": {"2": 5}}', "", "this is 5"),
    ('{"Larch": {"2": {"method": 5}}}', "method", "a word is wanted"),
    ('{"Larch": {"2": {"method": "centre-static", "nonsense": 1}}}', "nonsense", "no such field"),
    ('{"Larch": {"2": {"method": "rim-rotating", "side": "up"}}}', "side", "outside what is possible"),
    ('{"Larch": {"2": {"method": "rim-rotating", "distance_mm": "x"}}}', "distance_mm", "a number is wanted"),
    ('{"Larch": {"2": {"method": "rim-rotating", "distance_mm": -1}}}', "distance_mm", "outside what is possible"),
])  # fmt: skip
def test_touches_that_somebody_else_wrote_are_refused_by_name(shop, kept, where, words):
    (shop.root / "touch-wishes.json").write_text(kept)
    with pytest.raises(NonnaError, match=words) as told:
        Site.load(shop)
    assert told.value.where == where and "touch-wishes.json" in told.value.message
    (shop.root / "touch-wishes.json").write_text(
        '{"Rowan": {}, "Larch": {"2": {"method": "rim-rotating", "distance_mm": 2}}}'
    )
    assert Site.load(shop).wishes == {2: Wish("rim-rotating", distance_mm=2.0)}


def test_a_card_stored_meanwhile_brings_no_older_table_back(tray, desk, shop):
    older = Site.load(ShopFolder(shop.root))
    described(tray, 2, "newer")
    settle(desk)
    card = older.gear.probes[0].model_copy(update={"ball_mm": 5.5})
    desk.tables.take_cards(replace(older, gear=older.gear.model_copy(update={"probes": [card]})))
    assert desk.site.gear.probes[0].ball_mm == 5.5 and desk.site.tools[0].description == "newer"
    assert not desk.tables.of_files.is_fresh()  # it is read once more


@pytest.mark.parametrize("closes", [1, 2])
def test_a_window_closes_once_the_last_change_is_there(tray, desk, hands, shop, monkeypatch, closes):
    gate = Gate(monkeypatch)
    described(tray, 2, "first")
    described(tray, 3, "second")
    desk.show_station("willow")
    assert "table is on its way" in shown_text(desk) and desk.state.key == "larch"
    for _ in range(closes):
        desk.close()
    assert desk.isVisible() is (closes == 1)
    gate.open.set()
    hands.until(lambda: not desk.isVisible())
    worked(desk)
    assert in_file(shop, 2) == "first" and in_file(shop, 3) == "second"


TOOLS = st.dictionaries(st.integers(1, 6), st.sampled_from("abc"), max_size=5)
WISHES = st.dictionaries(st.integers(1, 4), st.sampled_from("xy"), max_size=3)


def made(tools, wishes):
    rows = tuple(Tool(number=n, kind="drill", diameter_mm=5.0, description=words) for n, words in tools.items())
    return Tray(rows, wishes={n: Wish("centre-static", reason=words) for n, words in wishes.items()})


def by_number(tray):
    return {t.number: t for t in tray.tools}, dict(tray.wishes)


@given(st.tuples(TOOLS, WISHES), st.tuples(TOOLS, WISHES), st.tuples(TOOLS, WISHES))
def test_changes_one_after_the_other_are_one_change(first, second, third):
    a, b, c = made(*first), made(*second), made(*third)
    ab, bc = TableChange.between(a, b), TableChange.between(b, c)
    assert by_number(ab.laid_over(a)) == by_number(b)
    both = ab.followed_by(bc)
    assert by_number(both.laid_over(a)) == by_number(c) == by_number(bc.laid_over(ab.laid_over(a)))
    assert bool(both) == (by_number(a) != by_number(c)) and not TableChange.between(a, a)


@given(TOOLS, TOOLS, TOOLS)
def test_two_windows_changes_meet_or_one_is_refused(base, mine, theirs):
    """What both left alone, or changed alike, is merged; the same tool changed in two ways is refused whole."""
    a, b, c = made(base, {}), made(mine, {}), made(theirs, {})
    change, other = TableChange.between(a, b), TableChange.between(a, c)
    both = {n for n in change.tools if n in other.tools and change.tools[n] != other.tools[n]}
    document = {"format": "nonna-tools/1", "tools": [t.model_dump(exclude_none=True) for t in c.tools]}
    if both:
        with pytest.raises(ChangedElsewhere):
            change.merged(document)
        return
    found = {row["number"]: row["description"] for row in change.merged(document)["tools"]}
    wanted = {**theirs, **{n: now.description if now else None for n, (_, now) in change.tools.items()}}
    assert found == {n: words for n, words in wanted.items() if words is not None}


@given(st.lists(TOOLS, min_size=1))
def test_a_tool_is_seen_as_its_row_is_read(many):
    more = [Tool(number=9, kind="tap", diameter_mm=6.0, length_mm=80.0, id="T3-2", repeats=False)]
    for tool in (*more, *(tool for row in many for tool in made(row, {}).tools)):
        assert (
            ToolSeen.of_tool(tool)
            == ToolSeen.of(Given(tool.model_dump()))
            == ToolSeen.of(Given(tool.model_dump(exclude_none=True)))
        )
