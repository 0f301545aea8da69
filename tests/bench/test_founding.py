"""A shop of one's own: from answers to its files, slips that are named, and the first length without the demo."""

import json

import pytest

from nonna.adapters.shop_files.founding import write_shop
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench.founding.founding import found, questions, understood
from nonna.bench.founding.interview import Interview
from nonna.bench.shelf.machine_card import MachineCard, card_of, machine_of
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.shop.cards.kinds import station_kinds
from nonna.shop.records.text import body_of
from nonna.shop.texts.given import Given
from nonna.stations.kind import kind_of
from nonna.stations.questions import SetUpQuestion
from nonna.wording.lengths import Units

MILL = {
    "travel_x": 600, "travel_y": "400 mm", "travel_z": 500, "pad": 14, "overtravel": 4, "zero_x": "high end",
    "setter_x": -50.5, "setter_y": 50, "setter_z": -300, "master_length": 120, "pockets": None,
}  # fmt: skip
MASTER = {"name": "Master 16 x 120", "kind": "master-tool", "length_mm": 120.003, "diameter_mm": 16.0}


def answers(station=MILL, kind="mill", **more):
    return {
        "format": "nonna-answers/1", "shop": "Our shop", "operators": ["A. Person"],
        "stations": [{"name": "Birch", "kind": kind, "answers": dict(station)}], "masters": [MASTER], **more,
    }  # fmt: skip


def refused(document):
    with pytest.raises(NonnaError) as error:
        found(document)
    return error.value.code, error.value.where, error.value.message


def test_a_mill_from_its_answers(tmp_path):
    made = found(answers())
    shop = write_shop(tmp_path / "shop", made.documents)
    machine = shop.machine("birch")
    assert (machine.travel_mm.x, machine.travel_mm.y, machine.travel_mm.z) == ([-600, 0], [0, 400], [-500, 0])
    assert machine.setter is not None and machine.setter.trigger_plane_mm == -420.0
    assert machine.setter.clear_sides == []  # nobody said that they are free
    assert "pocket_count" in machine.assumed and "travel_mm" not in machine.assumed
    assert shop.gear().setters[0].machine == "Birch" and shop.tools("birch").tools == []
    assert not shop.shelf().masters[0].traceable
    assert any("relative school" in words for words in made.report["masters"][0]["follows"])


def test_what_nobody_knows_yet_is_left_open_and_what_is_needed_is_asked_for():
    few = {key: MILL[key] for key in ("travel_x", "travel_y", "travel_z", "pad", "overtravel")}
    made = found(answers(few))
    assert made.report["stations"][0]["open"] == ["setter_x", "setter_y", "setter_z", "master_length"]
    assert made.documents["machines", "birch.json"]["setter"] is None
    for key in few:
        code, where, words = refused(answers({**few, key: None}))
        assert (code, where) == ("missing-field", f"stations[0].answers.{key}") and "Birch" in words


@pytest.mark.parametrize(
    ("units", "key", "said", "meant"),
    [
        ("mm", "travel_x", 23.6, "599.44 mm"),
        ("inch", "travel_x", 600, "23.622 in"),
        ("inch", "pad", "14", "0.551 in"),
        ("mm", "rapid_xy", 200, "in inches"),
        ("mm", "rpm", 1_000_000, "decimal point"),
    ],
)
def test_slips_are_named(units, key, said, meant):
    inch = {k: f"{v} mm" if isinstance(v, (int, float)) else v for k, v in MILL.items()}
    code, where, words = refused(answers({**(inch if units == "inch" else MILL), key: said}, units=units))
    assert (code, where) == ("out-of-range", f"stations[0].answers.{key}") and meant in words


@pytest.mark.parametrize(("units", "meant"), [(Units.MM, "in micrometres, 0.0012 mm?"), (Units.INCH, "4.724e-05 in?")])
def test_a_doubt_typed_in_micrometres_is_taken_for_nothing_else(units, meant):
    doubt = SetUpQuestion("U", "What U does its certificate state?", "", "", "length", 0.001, most=0.05)
    with pytest.raises(NonnaError) as refusal:
        understood(doubt, "1.2", units)
    assert refusal.value.message.endswith(meant) and refusal.value.message.count(", ") == 1


def test_an_inch_shop_means_the_same_machine():
    inch = {k: v / 25.4 if isinstance(v, (int, float)) else v for k, v in MILL.items()}
    a, b = found(answers()), found(answers(inch, units="inch"))
    for name in ("travel_mm", "setter"):
        left, right = (json.dumps(m.documents["machines", "birch.json"][name]) for m in (a, b))
        assert json.loads(left).keys() == json.loads(right).keys()
    assert b.documents["machines", "birch.json"]["setter"]["x_mm"] == pytest.approx(-50.5)


def test_what_cannot_be_is_refused_by_name():
    assert refused(answers({**MILL, "setter_x": 50}))[1] == "stations[0].answers.setter_x"  # the wrong end
    assert refused(answers({**MILL, "pad": "wide"}))[:2] == ("not-a-number", "stations[0].answers.pad")
    assert refused(answers({**MILL, "orients": "perhaps"}))[:2] == ("not-a-number", "stations[0].answers.orients")
    assert refused(answers({**MILL, "zero_x": "left"}))[1] == "stations[0].answers.zero_x"
    assert refused(answers({**MILL, "colour": 1}))[:2] == ("unknown-field", "stations[0].answers.colour")
    assert refused(answers(masters=[{"kind": "ring"}]))[1] == "masters[0].name"
    assert refused(answers(masters=[{**MASTER, "length_mm": "long"}]))[1] == "masters[0].length_mm"
    twice = answers()
    twice["stations"] *= 2
    assert refused(twice)[1] == "stations[1].name"


@pytest.mark.parametrize("kind", [k for k in station_kinds() if kind_of(k).questions])
def test_every_question_can_be_answered_standing_at_the_machine(kind):
    for question in kind_of(kind).questions:
        assert question.words.endswith("?") and question.where and question.why
        if isinstance(question.usual, float):
            assert question.least <= question.usual <= question.most
        if question.choices:
            assert question.usual in question.choices
        assert not (question.needed and question.usual is not None)
    needed = {q.key: (q.least * q.most) ** 0.5 or 100.0 for q in kind_of(kind).questions if q.needed}
    assert len(needed) <= 5
    assert found(answers(needed, kind)).documents["machines", "birch.json"]["kind"] == kind
    assert [q["key"] for q in questions(kind)] == [q.key for q in kind_of(kind).questions]


def test_what_is_typed_on_the_card_is_no_longer_assumed():
    old = Given(found(answers()).documents["machines", "birch.json"])
    from nonna.shop.cards.machine import Machine

    card = MachineCard.model_validate({**card_of("birch", Machine.model_validate(old)), "max_rpm": 12_000.0})
    assert "max_rpm" not in machine_of(card, old)["assumed"] and "tool_change_s" in machine_of(card, old)["assumed"]


def test_a_new_shop_wants_a_folder_of_its_own(tmp_path, capsys):
    (tmp_path / "full").mkdir()
    (tmp_path / "full" / "mine.txt").write_text("mine")
    file = tmp_path / "answers.json"
    file.write_text(json.dumps(answers()))
    assert run(["shop", "new", str(tmp_path / "full"), str(file)], lambda _: 0) == 2
    assert "not empty" in capsys.readouterr().err and [p.name for p in (tmp_path / "full").iterdir()] == ["mine.txt"]
    file.write_text(json.dumps(answers({**MILL, "pad": 0.5})))
    assert run(["shop", "new", str(tmp_path / "new"), str(file)], lambda _: 0) == 2
    assert not (tmp_path / "new").exists() and not list(tmp_path.glob(".nonna*"))


def test_the_first_length_of_a_shop_of_ones_own(tmp_path, capsys):
    file, shop = tmp_path / "answers.json", tmp_path / "shop"
    file.write_text(json.dumps(answers()))
    assert run(["shop", "new", str(shop), str(file)], lambda _: 0) == 0
    assert run(["shop", "questions", "mill"], lambda _: 0) == 0
    capsys.readouterr()

    def sheet(name, readings, *subject):
        assert run(["prepare", name, "--shop", str(shop), *subject], lambda _: 0) == 0
        started = json.loads(capsys.readouterr().out)
        started.pop("missing")
        (tmp_path / "r.json").write_text(json.dumps({**started, "readings": readings}))
        command = ["record", str(tmp_path / "r.json"), "--shop", str(shop), "--operator", "A. Person", *subject]
        assert run(command, lambda _: 0) == 0
        capsys.readouterr()

    sheet("setter-calibration", [{"face": "top", "position_mm": z} for z in (-300.0, -300.001, -299.9995)])
    sheet("tool-length", [{"position_mm": z} for z in (-340.1, -340.101, -340.1005)], "--subject", "T1")
    length = body_of(ShopFolder(shop).book.get(2))["result"]["results"]["length_mm"]["value"]
    assert length == pytest.approx(-340.1005 + 300.000167 + 120.003, abs=1e-3)
    assert run(["certificate", "2", "--shop", str(shop), "-o", str(tmp_path / "c.pdf")], lambda _: 0) == 0
    assert run(["ledger", "verify", "--shop", str(shop)], lambda _: 0) == 0


@pytest.mark.parametrize(
    ("kind", "said"),
    [("lathe", {"diameter": "32.0006", "U": "0.0008"}), ("mill", {"certified_length": "140.0032", "U": "0.0008"})],
)
def test_a_station_is_asked_for_the_master_its_loop_rests_on(kind, said):
    now, asked = Interview(), []
    answers = {
        "units": "mm",
        "shop": "X",
        "operator": "M. Teal",
        "kind": kind,
        "name": "Elder",
        "travel_x": "500",
        "travel_y": "400",
        "travel_z": "500",
        "probe": "yes",
        **said,
    }
    while (question := now.question) is not None:
        asked.append(question)
        now = now.answered(answers.get(question.key, "14" if question.needed else ""))
    card = now.document()["masters"][0]
    if kind == "lathe":
        assert (
            card["kind"] == "ring"
            and card["name"] == "Ring"
            and (card["diameter_mm"], card["U_diameter_mm"]) == (32.0006, 0.0008)
        )
        assert "ring" in next(q for q in asked if q.key == "master").words and "length_mm" not in card
    else:
        assert card["kind"] == "master-tool" and card["name"] == "Master tool" and card["length_mm"] == 140.0032
