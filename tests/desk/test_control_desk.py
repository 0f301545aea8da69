"""The closed way by keyboard: mark, program, results, accept, load, proof; a card of the control typed on the shelf."""

import pytest
from PySide6.QtCore import Qt

from nonna.bench.book.writing import Signature
from nonna.bench.control.from_book import holding_tools
from nonna.bench.control.runs import runs_of
from nonna.bench.job.planning import program_of
from nonna.bench.session.tray import control_watch
from nonna.bench.session.tray.picture import panel
from nonna.bench.shelf.machine_card import card_of
from nonna.bench.shelf.shelving import put
from nonna.bench.tray.tray import Tray
from nonna.desk.commands.ids import CommandId
from nonna.desk.tray import control_way
from nonna.desk.tray.by_command import save_program
from nonna.desk.tray.control_way import StoreDialog
from nonna.desk.tray.machine_results import read_results
from nonna.errors import NonnaError
from nonna.programs.dialects.listing import dialect_of
from nonna.shop.cards.machine import Tools
from nonna.shop.links.history import STORED
from nonna.standin.control import StandinControl
from nonna.standin.first_tables import first_tables
from nonna.wording.lengths import Units
from tests.support.hands import settled, shown_dialog, shown_text, the_dialog, worked

TYPED = {
    "prints": "(PRINT,{text})", "prints_value": "#{parameter}", "store_length": "#[700 + {tool}] = {value}",
    "read_length": "#[700 + {tool}]",
}  # fmt: skip
MARKED = (2, 3)


class Log:
    """What a control prints, in a file that grows."""

    def __init__(self, path):
        self.path = path

    def printed(self, line):
        with self.path.open("a") as file:
            file.write(f"{line}\n")

    def stored(self, tables):
        pass

    def passed(self, seconds):
        pass


def typed_on_the_shelf(shop, **fields):
    card = card_of("larch", shop.machine("larch"))
    return put(shop, "machines", {**card, **TYPED, **fields}, Signature("K. Amsel"))


@pytest.mark.parametrize(
    ("fields", "where"),
    [({"store_length": "G0 Z{value} P{tool}"}, "store_length"), ({"store_length": "#702 = {value}"}, "store_length"),
     ({"prints": "G0 Z-400 ({text})"}, "prints"), ({"prints_value": "#{number}"}, "prints_value"),
     ({"read_length": "#[700 + {toool}]"}, "read_length"),
     ({"store_diameter": "#[700 + {tool}] = {value}"}, "store_diameter"),
     ({"results_from": 500, "results_to": 400}, "results_from")],
)  # fmt: skip
def test_a_line_that_no_control_could_mean_is_refused_at_its_field(shop, fields, where):
    before = (shop.root / "machines" / "larch.json").read_text()
    with pytest.raises(NonnaError) as caught:
        typed_on_the_shelf(shop, **fields)
    assert caught.value.where == where
    assert (shop.root / "machines" / "larch.json").read_text() == before


def test_what_is_typed_on_the_card_comes_back_and_goes_again(shop):
    typed_on_the_shelf(shop, control_units="inch")
    card = card_of("larch", shop.machine("larch"))
    assert {name: card[name] for name in TYPED} == TYPED and card["control_units"] == "inch"
    put(shop, "machines", {**card, **dict.fromkeys(TYPED, ""), "control_units": "mm"}, Signature("K. Amsel"))
    control = shop.machine("larch").control
    assert control is None or not (control.stores or control.reads or control.prints)


def test_mark_enter_accept_enter_load_and_it_stands_in_the_controls_table(shop, desk, hands, tmp_path, monkeypatch):
    typed_on_the_shelf(shop)
    desk.look_again()
    hands.until(lambda: desk.site is not None and desk.site.machine.control is not None)
    monkeypatch.setattr(  # the demo's setter was knocked, and what rests on it is not stored
        control_way, "holding_tools", lambda links: frozenset(s for each in links for s, _ in each.subjects)
    )
    desk.do(CommandId.TOOLS)
    settled(desk, hands)
    c, log = desk.tools.controller, Log(tmp_path / "log.txt")
    c.change(c.tray.with_marks(MARKED))
    hands.until(lambda: c.answer is not None and not c.plans.busy)
    save_program(desk, tmp_path / "measure.ngc")
    worked(desk)
    hands.until(lambda: len(runs_of(shop, "Larch")) == 1)
    tools = Tools(format="nonna-tools/1", tools=list(desk.site.tools))
    control = StandinControl(c.machine, dialect_of("rs274"), first_tables(c.machine, tools))

    def run(name):
        control.run((tmp_path / name).read_text(), program_of(c.machine).standin(c.machine, tools, 5).drive, log)

    run("measure.ngc")
    read_results(desk, log.path)
    hands.until(lambda: len(c.tray.results) == len(MARKED))
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: not c.tray.results and not c.busy and c.unwritten == len(MARKED))
    settled(desk, hands)
    said = panel(Tray(), None, None, c.machine, Units.MM, planning=None, busy=False, progress=None, unwritten=2)
    assert said.action == "To the control   Enter"
    monkeypatch.setattr(control_way, "save_file", lambda w, title, name, kinds, take: take(tmp_path / "load.ngc"))
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: shown_dialog(desk, StoreDialog) is not None)
    dialog = shown_dialog(desk, StoreDialog)
    assert "T2 Drill 8.5" in shown_text(dialog) and "not known" in shown_text(dialog)
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: runs_of(shop, "Larch")[-1].purpose == "load")
    settled(desk, hands)
    run("load.ngc")
    entries = len(desk.state.entries)
    read_results(desk, log.path)
    hands.until(lambda: len(desk.state.entries) >= entries + len(MARKED))
    settled(desk, hands)
    assert {e.name for e in desk.state.entries[entries:]} == {STORED} and c.unwritten == 0
    assert "read back and proved" in desk.tools.said.text()
    assert not holding_tools(desk.state.links), "and in this shop nothing holds before the setter is mended"


def test_without_a_card_it_is_said_what_is_missing(desk, hands):
    desk.do(CommandId.TOOLS)
    settled(desk, hands)
    desk.do(CommandId.TRAY_STORE)
    hands.until(lambda: "does not say how its control stores" in desk.tools.said.text())
    desk.do(CommandId.TRAY_PUT_BACK)
    hands.until(lambda: "no load program" in desk.tools.said.text())


def test_over_the_wire_programs_go_and_lines_come_without_a_question(shop, desk, hands, tmp_path, monkeypatch):
    """A control in another process: mark, Enter (it goes), Enter (accept), Enter and Enter (load); no file is asked."""
    typed_on_the_shelf(shop)
    desk.look_again()
    hands.until(lambda: desk.site is not None and desk.site.machine.control is not None)
    monkeypatch.setattr(
        control_way, "holding_tools", lambda links: frozenset(s for each in links for s, _ in each.subjects)
    )
    drop = tmp_path / "drop"
    drop.mkdir()
    desk.settings.programs, desk.settings.printed = str(drop), str(tmp_path)
    (tmp_path / "strange.log").write_text("nonna STRANGER 1 tool=2 what=length axis=z value=-1.000\n")
    monkeypatch.setattr(control_watch, "LOOK_MS", 20)
    desk.do(CommandId.TOOLS)
    settled(desk, hands)
    c, log = desk.tools.controller, Log(tmp_path / "larch.log")
    tools = Tools(format="nonna-tools/1", tools=list(desk.site.tools))
    control = StandinControl(c.machine, dialect_of("rs274"), first_tables(c.machine, tools))
    before = len(desk.state.entries)
    c.change(c.tray.with_marks(MARKED))
    hands.until(lambda: c.answer is not None and not c.plans.busy)
    desk.do(CommandId.TRAY_PROGRAM)

    def run(kind):
        hands.until(lambda: bool(list(drop.glob(f"larch-{kind}-*.ngc")) and c.control.watch.run))
        (program,) = drop.glob(f"larch-{kind}-*.ngc")
        control.run(program.read_text(), program_of(c.machine).standin(c.machine, tools, 5).drive, log)
        program.unlink()

    run("measure")
    hands.until(lambda: len(c.tray.results) == len(MARKED))
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: not c.tray.results and not c.busy and c.unwritten == len(MARKED))
    settled(desk, hands)
    hands.press(Qt.Key.Key_Return)
    hands.until(lambda: shown_dialog(desk, StoreDialog) is not None)
    hands.press(Qt.Key.Key_Return)
    run("load")
    hands.until(lambda: {e.name for e in desk.state.entries[before + len(MARKED) :]} >= {STORED})
    assert c.control.watch.run == "" and c.unwritten == 0
    desk.do(CommandId.FILE)
    hands.until(lambda: "in the book already" in desk.tools.said.text())


def test_where_lines_should_come_in_is_gone_it_is_said_and_f8_asks_for_a_file(desk, hands, tmp_path):
    desk.settings.printed = str(tmp_path / "nothing.log")
    desk.do(CommandId.TOOLS)
    settled(desk, hands)
    desk.do(CommandId.FILE)
    hands.until(lambda: "nothing.log" in desk.tools.said.text())
    (tmp_path / "nothing.log").write_text("door open\n")
    desk.do(CommandId.FILE)
    hands.until(lambda: the_dialog(hands) is not None)
    the_dialog(hands).reject()
