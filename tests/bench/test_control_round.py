"""The closed way on a session alone: planned, run by a control, judged, signed, stored, read back, proved."""

import json
from random import Random

import pytest

from nonna.adapters.standin_control.faults import Faults
from nonna.bench.control.from_book import to_store
from nonna.bench.control.loading import load_program
from nonna.bench.control.runs import newest_in, note_loading, note_measuring, runs_of
from nonna.bench.control.storing_shown import put_back_of
from nonna.bench.job.measuring import planned_now
from nonna.bench.job.planning import program_of
from nonna.bench.session.tray.row_words import in_control, row_words
from nonna.errors import NonnaError
from nonna.programs.dialects.listing import dialect_of
from nonna.shop.cards.machine import Tools
from nonna.shop.links.history import DIFFERS, STORED
from nonna.standin.control import AlarmError, StandinControl
from nonna.standin.first_tables import first_tables
from nonna.wording.lengths import Units
from tests.support.at_once import Remembered, Stage

CARD = {
    "stores": {"length": "#[700 + {tool}] = {value}"}, "reads": {"length": "#[700 + {tool}]"},
    "prints": "(PRINT,{text})", "prints_value": "#{parameter}",
}  # fmt: skip
MARKED = (2, 3, 5)


class Cabinet:
    """A control with its machine, its cable and its disk; what it printed is a log that grows."""

    def __init__(self, machine, tools, seed=0, faults=""):
        self.machine, self.tools, self.seed = machine, Tools(format="nonna-tools/1", tools=list(tools)), seed
        self.faults = Faults.of(faults, seed)
        kept = self.faults.begun_with(first_tables(machine, self.tools))
        turret = program_of(machine).standin(machine, self.tools, 0).turret
        self.control = StandinControl(machine, dialect_of("rs274"), kept, turret, self.faults.forgets())
        self.log, self.runs = b"", 0

    def printed(self, line):
        self.log += b"".join(self.faults.on_the_cable(line))

    def stored(self, tables):
        pass

    def passed(self, seconds):
        pass

    def run(self, text):
        self.runs += 1
        drive = program_of(self.machine).standin(self.machine, self.tools, self.seed + self.runs).drive
        try:
            self.control.run(text, drive, self)
        except AlarmError as alarm:
            self.printed(f"alarm {alarm}")
        self.log += b"".join(self.faults.last_ones())

    @property
    def lengths(self):
        return {row.number: row.length for row in self.control.kept.tools}


class Round:
    """A session at a machine whose control has a card, and hands that carry files to and fro."""

    def __init__(self, shop, card=None, key="larch", marked=MARKED, **more):
        self.marked = marked

        def with_card(document):
            return {**document, "control": card or CARD}

        shop.change(("machines", f"{key}.json"), with_card, {})
        self.stage = Stage(shop, Remembered(Units.MM))
        self.session = self.stage.session
        assert self.session.begin()
        self.session.look_again()
        self.session.take(self.session.state.site)
        if key != "larch":
            self.session.move_to(shop, key)
        self.tray, self.told = self.session.open_tray(), []
        self.tray.said.connect(lambda words, tone: self.told.append((words, tone)))
        self.tray.load_from_site()
        self.site = self.session.site
        self.cabinet = Cabinet(self.tray.machine, self.site.tools, **more)

    @property
    def name(self):
        return self.site.machine.name

    def measure(self, numbers=None):
        numbers = numbers or self.marked
        if self.tray.by_program:
            plan = planned_now(self.site, self.tray.tray, numbers, self.session.state.results)
            assert plan.trial.clean
            note_measuring(self.site.folder, self.name, plan.trial.text, self.site.tools)
            self.cabinet.run(plan.trial.text)
            return
        for marks in ((), numbers):  # planned afresh: each written program has a run of its own
            self.tray.change(self.tray.tray.with_marks(marks))
            self.stage.front.turn()
        answer = self.tray.answer
        assert answer is not None and answer.rehearsal.clean
        note_measuring(self.site.folder, self.name, answer.text, answer.plan.asked.table)
        self.cabinet.run(answer.text)

    def load(self, plan=None, run="LOADONE1"):
        tools = [t for t in self.site.tools if t.number in self.marked]
        made = plan or to_store(self.site.machine, tools, self.session.state.results).plan(self.site.machine, run)
        text = load_program(made)
        note_loading(self.site.folder, made, text, self.site.tools)
        self.cabinet.run(text)
        return made

    def read(self):
        """F8 on the log."""
        try:
            came = newest_in(self.cabinet.log.decode("ascii", "replace"), runs_of(self.site.folder, self.name))
        except NonnaError as error:
            self.told.append((error.message, "bad"))
        else:
            if came is not None:
                self.tray.control.take(came, "file log.txt")

    def signed(self):
        return {
            e.subject.id or str(e.subject): e.value_mm
            for e in self.session.state.entries if e.kind == "measurement" and e.name == "tool-length"
        }  # fmt: skip

    def subject(self, number):
        return next(t.subject for t in self.site.tools if t.number == number)


@pytest.fixture
def around(shop):
    return Round(shop)


def test_from_the_mark_to_the_number_in_the_controls_own_table(around):
    entries = len(around.session.state.entries)
    around.measure()
    around.read()
    assert {row.subject for row in around.tray.tray.results} == {around.subject(n) for n in MARKED}
    around.tray.accept()
    assert len(around.session.state.entries) == entries + 3
    around.read()
    assert around.tray.tray.results == () and "is in the book already" in around.told[-1][0], "signed once"
    assert in_control(around.session.state.standing, around.subject(2)) == "not in the control"
    plan = around.load()
    assert around.cabinet.lengths[2] == round(plan.rows[0].meant_mm, 3)
    around.read()
    words, tone = around.told[-1]
    assert tone == "good" and "3 numbers in the control's table, read back and proved." in words
    events = around.session.state.entries[-3:]
    assert {e.name for e in events} == {STORED} and all("LOADONE1" in e.note for e in events)
    assert in_control(around.session.state.standing, around.subject(2)).startswith("in the control since ")
    around.read()
    assert "in the book already" in around.told[-1][0] and len(around.session.state.entries) == entries + 6
    around.measure()
    around.read()
    around.tray.accept()
    assert in_control(around.session.state.standing, around.subject(2)) == "not in the control", "measured anew since"


def test_thirty_tools_at_once(shop):
    (drill,) = [row for row in shop.document("tools", "larch.json")["tools"] if row["number"] == 2]
    marked = range(2, 32)
    rows = [{**drill, "number": n, "length_mm": 90.0 + n, "description": f"Drill {n}"} for n in marked]
    shop.change(("tools", "larch.json"), lambda old: {**old, "tools": rows}, {})
    around = Round(shop, marked=tuple(marked))
    around.measure()
    around.read()
    assert len(around.tray.tray.results) == len(marked)
    around.tray.accept()
    assert around.told[-1][1] == "good" and len(around.load().rows) == len(marked)
    around.read()
    words, tone = around.told[-1]
    assert tone == "good" and words.startswith("30 numbers in the control's table, read back and proved.")


def test_an_inch_control_with_inch_tables(shop):
    around = Round(shop, CARD | {"units": "inch"})
    around.measure()
    around.read()
    assert len(around.tray.tray.results) == len(MARKED)
    around.tray.accept()
    plan = around.load()
    assert around.cabinet.lengths[2] == round(plan.rows[0].meant_mm / 25.4, 4)
    around.read()
    assert around.told[-1][1] == "good" and " in, read back " in around.session.state.entries[-1].note
    assert abs(around.signed()["T2"] - around.cabinet.lengths[2] * 25.4) <= 0.0013


TURRET = {
    "stores": {"offset-x": "#[2000 + {offset}] = {value}", "offset-z": "G10 P{offset} {axis}{value}"},
    "reads": {"offset-x": "#[2000 + {offset}]", "offset-z": "#[2100 + {offset}]"},
    "prints": "SAY [{text}]", "prints_value": "#{parameter}",
}  # fmt: skip


@pytest.mark.parametrize("units", ["mm", "inch"])
def test_a_lathes_tips_are_measured_stored_and_read_back(shop, units):
    ranges = {"results": [500, 560], "scratch": [580, 589]} if units == "inch" else None
    around = Round(shop, TURRET | {"units": units, "parameters": ranges}, "willow", (3, 9))
    around.measure()
    text = runs_of(around.site.folder, "Willow")[-1].text
    set_there = {int(line[1:].split(" ")[0]) for line in text.splitlines() if line.startswith("#")}
    assert not ranges or all(500 <= n <= 560 or 580 <= n <= 589 for n in set_there), "no other parameter is written"
    around.read()
    assert {row.subject for row in around.tray.tray.results} == {around.subject(n) for n in (3, 9)}, around.told
    around.tray.accept([around.subject(n) for n in (3, 9)])
    plan = around.load()
    around.read()
    assert around.told[-1][1] == "good", around.told[-1]
    unit, digits = (25.4, 4) if units == "inch" else (1.0, 3)
    rows = {row.number: row for row in around.cabinet.control.kept.tools}
    assert {row.tool for row in plan.rows} == {3, 9} and len(plan.rows) >= 3
    for row in plan.rows:
        there = getattr(rows[row.tool], row.what.replace("-", "_"))
        assert abs(there - row.meant_mm / unit) <= 0.502 * 10.0**-digits


def test_what_differs_is_red_until_it_is_settled_and_is_put_back(shop):
    around = Round(shop, faults="forget", seed=1)
    before = around.cabinet.lengths
    around.measure()
    around.read()
    around.tray.accept()
    around.load()
    around.read()
    words, tone = around.told[-1]
    assert tone == "bad" and words.startswith("DIFFERS: T")
    waiting, _ = row_words(around.tray.tray, {}, Units.MM, False, around.session.state)
    assert waiting and all(each.bad and each.value_mm and "differs" in each.words for each in waiting.values())
    around.cabinet.control.forgets = frozenset()
    around.load(run="LOADTWO2")
    around.read()
    assert around.told[-1][1] == "good"
    waiting, _ = row_words(around.tray.tray, {}, Units.MM, False, around.session.state)
    assert waiting == {}
    kept = around.cabinet.lengths
    around.load(put_back_of(around.site.machine, runs_of(around.site.folder, "Larch"), "BACKBACK"))
    assert around.cabinet.lengths != kept
    assert around.cabinet.lengths.keys() == before.keys()
    around.read()
    assert around.session.state.entries[-1].name == DIFFERS and "Put back" in around.session.state.entries[-1].note


def test_what_nothing_proves_yet_is_proved_when_its_line_comes(around):
    around.measure()
    around.read()
    around.tray.accept()
    around.load()
    whole = around.cabinet.log.decode()
    late = [line for line in whole.splitlines() if "tool=3 what=stored-length" in line]
    around.cabinet.log = "".join(f"{line}\n" for line in whole.splitlines() if line not in late).encode()
    entries = len(around.session.state.entries)
    around.read()
    assert around.told[-1][1] == "bad" and "Not proved: T3 length" in around.told[-1][0]
    assert len(around.session.state.entries) == entries + 2
    around.cabinet.log = whole.encode()
    around.read()
    assert len(around.session.state.entries) == entries + 3 and around.told[-1][1] == "good"
    assert in_control(around.session.state.standing, around.subject(3)).startswith("in the control since ")


def test_a_tool_that_was_exchanged_since_and_lines_that_are_missing_are_not_taken(around):
    around.measure()
    answer = around.tray.answer
    lines = around.cabinet.log.decode().splitlines(keepends=True)
    around.cabinet.log = "".join(line for line in lines if " 1 tool=2 " not in line).encode()
    around.read()
    assert {row.subject for row in around.tray.tray.results} == {around.subject(n) for n in MARKED if n != 2}
    assert "Not all lines of T2 have come" in around.told[-1][0]
    around.tray.undo()
    around.cabinet.log = "".join(lines).encode()
    other = next(t for t in around.site.tools if t.number == 3).of_its_own(())
    around.tray.change(around.tray.tray.with_tool(other, 3))
    around.stage.front.turn()
    around.read()
    assert "T3: another tool is there since" in around.told[-1][0]
    assert answer.text == runs_of(around.site.folder, "Larch")[-1].text


FAULTS = ["double", "shuffle", "drop", "cut", "forget", "old-table", "inch-table", "double,shuffle", "drop,cut,shuffle",
          "double,cut,forget"]  # fmt: skip


@pytest.mark.parametrize("seed", range(10))
def test_whatever_goes_wrong_nothing_is_signed_that_was_not_measured_and_nothing_said_to_be_stored_that_is_not(
    shop, seed
):
    dice = Random(seed)
    around = Round(shop, seed=seed, faults=FAULTS[seed % len(FAULTS)])
    stranger = json.dumps({"alarm": "door"}) + "\nnonna ABCD1234 1 tool=2 what=length axis=z value=-1.000\n"
    for turn in range(4):
        around.cabinet.log += stranger.encode() if dice.random() < 0.5 else b""
        around.measure()
        around.read()
        readings = {
            row.subject: {r.needed("position_mm") for r in row.session.live}
            for row in around.tray.tray.results if row.session is not None
        }  # fmt: skip
        own = around.cabinet.log.decode("ascii", "replace").splitlines()
        said = {float(line.rpartition("=")[2]) for line in own if " what=length " in line and line[-4:-3] == "."}
        assert all(values <= said for values in readings.values()), "every reading was printed whole"
        around.tray.accept()
        if not around.signed():
            continue
        around.load(run=f"LOAD{seed}{turn}AB")
        entries = len(around.session.state.entries)
        around.read()
        for event in around.session.state.entries[entries:]:
            number = next(t.number for t in around.site.tools if t.subject == event.subject)
            there = around.cabinet.lengths[number]
            signed = around.session.state.results.find("tool-length", "length_mm", event.subject).value
            assert (event.name == STORED) is (abs(there - signed) <= 0.000503), (event.note, there, signed)
