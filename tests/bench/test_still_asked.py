"""What nobody could answer when the machine was set up is asked when a plan first needs it, there and then."""

import json

import pytest
from PySide6.QtCore import Qt

from nonna.bench.book.writing import Signature
from nonna.bench.founding.interview import Interview
from nonna.bench.founding.open_questions import StillAsked, keep, questions_of
from nonna.desk.commands.ids import CommandId
from nonna.desk.frame.settings import DeskSettings
from nonna.desk.look import style
from nonna.desk.look.palette import LIGHT
from nonna.desk.signing.asking_machine import AskMachine
from nonna.desk.start.window_making import make_window
from nonna.errors import NonnaError
from nonna.wiring import new_shop
from nonna.wording.lengths import Units
from tests.support.founding import MM, answer
from tests.support.hands import Hands, shown_dialog, shown_text

SIGNED = Signature("K. Amsel")

PLACE = {
    "pad": "14",
    "overtravel": "4",
    "setter_x": "-50",
    "setter_y": "50",
    "setter_z": "-300",
    "master_length": "120",
}


@pytest.fixture
def bare(tmp_path):
    """A shop set up by somebody who did not know where the setter stands, nor how fast anything moves."""
    now = Interview()
    while (question := now.question) is not None:
        said = MM.get(question.key, "")
        choices = ("yes", "no") if question.sort == "yes" else question.choices
        if question.key in ("setter_x", "setter_y", "setter_z", "master_length"):
            said = ""
        now = now.answered(choices[int(said) - 1] if choices and said else said)
    return new_shop(tmp_path / "bare", now.found().documents)


def asked_all(folder, answers, units=Units.MM):
    now = StillAsked.of(folder, "birch", units)
    while now.question is not None:
        now = now.answered(answers.get(now.question.key, ""))
    return now


def test_what_is_answered_later_is_as_good_as_at_once(bare):
    first = StillAsked.of(bare, "birch", Units.MM)
    keys = [q.key for q in first.questions]
    assert keys[:6] == list(PLACE) and "rapid_xy" in keys and "travel_x" not in keys
    assert all(q.needed for q in first.questions if q.key in PLACE)
    assert keep(bare, asked_all(bare, {**PLACE, "rapid_xy": "24000", "latency": "3", "free": "yes"}), SIGNED) != ()
    machine = bare.machine("birch")
    assert (machine.setter.x_mm, machine.setter.trigger_plane_mm, machine.setter.overtravel_mm) == (-50.0, -420.0, 4.0)
    assert machine.setter.clear_sides == ["+x", "-x", "+y", "-y"] and machine.trigger_latency_s == pytest.approx(0.003)
    assert machine.rapid_mm_min.xy == 24_000.0 and "trigger_latency_s" not in machine.assumed
    left = [q.key for q in questions_of(machine.model_dump())]
    assert "rapid_z" in left and "latency" not in left and "setter_x" not in left  # both rapids are one figure
    more = dict.fromkeys(left, "5") | {"rapid_xy": "24000", "rapid_z": "12000", "brakes": "900", "rpm": "9000"}
    assert keep(bare, asked_all(bare, more), SIGNED) == () and bare.machine("birch").assumed == []
    assert bare.machine("birch").setter == machine.setter


def test_inches_slips_and_another_window(bare):
    inch = asked_all(bare, {**PLACE, "pad": "0.55", "overtravel": "0.157", "setter_x": "-1.9685", "setter_y": "1.9685",
                            "setter_z": "-11.811", "master_length": "4.7244"}, Units.INCH)  # fmt: skip
    assert inch.document()["setter"]["x_mm"] == pytest.approx(-50.0, abs=1e-3)
    now = StillAsked.of(bare, "birch", Units.MM)
    for said in ("14", "4"):
        now = now.answered(said)
    with pytest.raises(NonnaError, match="outside the travel"):
        now.answered("50")  # the sign is forgotten
    with pytest.raises(NonnaError, match="Nothing goes on without it"):
        now.answered("")
    before = bare.document("machines", "birch.json")
    bare.change(("machines", "birch.json"), lambda old: {**old, "max_rpm": 9_000.0})
    with pytest.raises(NonnaError, match="another window"):
        keep(bare, inch, SIGNED)
    assert bare.document("machines", "birch.json") == {**before, "max_rpm": 9_000.0}


def test_a_machine_that_was_told_everything_is_asked_nothing(shop):
    for station in {"larch", "alder"} & set(shop.shop().machines):  # a presetter asks all of it at once
        assert StillAsked.of(shop, station, Units.MM).questions == ()


def test_enter_on_the_tools_asks_where_the_setter_stands_and_then_plans(bare, tmp_path, qtbot, qapp):
    table = {
        "format": "nonna-tools/1",
        "tools": [{"number": 1, "kind": "drill", "diameter_mm": 8.0, "length_mm": 110.0}],
    }
    (bare.root / "tools" / "birch.json").write_text(json.dumps(table))
    style.load_fonts()
    style.apply(qapp, LIGHT)
    window = make_window(bare, DeskSettings(tmp_path / "desk.ini"))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    at = Hands(window, qtbot)
    at.until(lambda: window.site is not None)
    at.press(Qt.Key.Key_F3)
    at.until(
        lambda: window.tools.controller.tray.tools != () and "setter stands is not known" in shown_text(window.tools)
    )
    window.tools.table.setFocus()
    at.press(Qt.Key.Key_Return)
    at.until(lambda: any(d.isVisible() for d in window.findChildren(AskMachine)))
    pages = shown_dialog(window, AskMachine)
    answer(pages, PLACE)
    assert "6 answers." in shown_text(pages) and "How high is the setter" in shown_text(pages)
    at.press(Qt.Key.Key_Return)
    at.until(lambda: window.site.machine.setter is not None)
    at.until(lambda: not any(d.isVisible() for d in window.findChildren(AskMachine)))
    at.until(lambda: not window.tools.controller.asking and "not known" not in shown_text(window.tools.panel))
    window.do(CommandId.ASK_MACHINE)
    at.until(lambda: any(d.isVisible() for d in window.findChildren(AskMachine)))
    at.press(Qt.Key.Key_Escape)
    assert {**PLACE, "setter_height": ""}.keys() & {
        q.key for q in questions_of(window.site.machine.model_dump())
    } == set()


@pytest.mark.parametrize(("typed", "middle"), [("-57.1; -42.9", -50.0), ("-2.25in; -1.5in", -47.625), ("-50", -50.0)])
def test_a_place_may_be_typed_from_its_two_sides(bare, typed, middle):
    asked = asked_all(bare, {**PLACE, "setter_x": typed})
    assert asked.document()["setter"]["x_mm"] == pytest.approx(middle)
    for odd in ("1;2;3", "-57.1;", ";"):
        with pytest.raises(NonnaError, match="What does X read"):
            asked_all(bare, {**PLACE, "setter_x": odd})
