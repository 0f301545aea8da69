"""Each procedure worked by hand, and what must not change a result."""

import math
import re
from importlib import import_module
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.errors import NonnaError
from nonna.metrology.doubt.quantiles import chi_square
from nonna.procedures.catalogue import evaluate, procedure
from nonna.procedures.facts import SheetFacts
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.session import Session
from tests.support.documents import REPEAT, SETTER, TOOL
from tests.support.examples import EXAMPLES, FROM_PRESETTER, ON_PRESETTER
from tests.support.examples import document as readings_file


def results(document):
    return evaluate(document).to_document()


def test_setter_calibration_by_hand(setter):
    found = results(setter)
    length = 140.0032 * (1 + 11.5e-6 * 1.4)
    top = (-312.4 - 312.401 - 312.4004) / 3
    r = found["results"]
    assert r["trigger_plane_mm"]["value"] == pytest.approx(top - length, abs=1e-9)
    assert r["centre_x_mm"]["value"] == pytest.approx((735.0003 + 705.0007) / 2)
    assert r["width_x_mm"]["value"] == pytest.approx(735.0003 - 705.0007 - 16.0006 * (1 + 11.5e-6 * 1.4))
    assert r["top_range_mm"] == {"value": pytest.approx(0.001), "unit": "mm"}
    assert not any(name.endswith("y_mm") for name in r)
    ss = sum((z - top) ** 2 for z in (-312.4, -312.401, -312.4004))  # of Z alone: X says nothing of it
    touch = math.sqrt(ss / 2 / 3)
    others = [0.0004, 140.0032 * 11.5e-6 * 0.3, 140.0032 * 1.4 * 1e-6]
    assert r["trigger_plane_mm"]["u"] == pytest.approx(math.hypot(touch, *others), rel=1e-4)
    assert r["centre_x_mm"]["dof"] == pytest.approx(2)
    for rows in found["budget"].values():
        assert sum(row["share"] for row in rows) == pytest.approx(1)
    assert found["verdict"] == "pass"
    assert found["rule"] == {"kind": "guarded", "risk": 0.05}


def test_relative_school_takes_the_master_as_exact(setter):
    setter["setup"]["school"] = "relative"
    found = results(setter)
    assert "self-consistent" in found["flags"]
    assert {row["source"] for row in found["budget"]["trigger_plane_mm"]} == {"touch repeatability in Z"}
    absolute = results(SETTER)["results"]["trigger_plane_mm"]
    assert found["results"]["trigger_plane_mm"]["value"] == pytest.approx(absolute["value"], abs=1e-9)


def test_spindle_face_and_block_are_masters_too(setter):
    setter["readings"] = [{"face": "top", "position_mm": z} for z in (-452.4, -452.4006)]
    setter["masters"] = {"master": {"length_mm": 0.0}}
    assert results(setter)["results"]["trigger_plane_mm"]["value"] == pytest.approx(-452.4003)
    setter["masters"] = {"master": {"length_mm": 75.0, "traceable": False}}
    found = results(setter)
    assert found["results"]["trigger_plane_mm"]["value"] == pytest.approx(-527.4003)
    assert {"not-traceable", "master-without-uncertainty"} <= set(found["flags"])


def test_tool_length_turning_adds_half_a_feed_step(tool):
    tool["setup"].update(feed_per_rev_mm=0.006, repeatability_mm=0.001, repeatability_dof=None)
    found = results(tool)["results"]["length_mm"]
    mean = (-339.981 - 339.9805 - 339.9812) / 3
    assert found["value"] == pytest.approx(mean + 452.4 + 0.003)
    assert found["u"] == pytest.approx(math.sqrt((0.001**2 + 0.006**2 / 12) / 3 + 0.0006**2))
    assert found["dof"] is None


def test_tool_length_verdicts(tool):
    assert results(tool)["verdict"] == "pass"
    tool["setup"]["limit_mm"] = 0.0012
    undecided = results(tool)
    assert undecided["verdict"] == "undecided"
    assert any("Calibrate the setter again" in words for words in undecided["advice"])
    tool["rule"] = {"kind": "simple"}
    assert results(tool)["verdict"] == "pass"
    tool["setup"]["expected_mm"] = 112.4
    assert results(tool)["verdict"] == "fail"
    del tool["setup"]["limit_mm"]
    assert results(tool)["verdict"] == "none"


def test_repeatability_by_hand(repeat):
    values = [r["value_mm"] for r in repeat["readings"]]
    mean = sum(values) / 7
    s = math.sqrt(sum((v - mean) ** 2 for v in values) / 6)
    found = results(repeat)
    assert found["results"]["s_mm"]["value"] == pytest.approx(s)
    assert found["results"]["two_s_mm"]["value"] == pytest.approx(2 * s)
    assert set(found["results"]["p"]) == {"value", "unit"}
    assert found["outliers"] == []
    high = 2 * s * math.sqrt(6 / chi_square(0.05, 6))
    repeat["setup"]["limit_2s_mm"] = high * 1.001
    assert results(repeat)["verdict"] == "pass"
    repeat["setup"]["limit_2s_mm"] = high * 0.999
    assert results(repeat)["verdict"] == "undecided"
    repeat["readings"].append({"value_mm": 0.02})
    assert results(repeat)["outliers"] == [7]
    assert results(repeat)["verdict"] == "fail"


def test_a_drift_is_flagged_with_its_own_doubt(repeat):
    noise = (1, -2, 2, -1, 1, 0, -2, 1, 2, -1)
    repeat["readings"] = [{"value_mm": 0.001 * i + 1e-4 * n, "t_s": float(i)} for i, n in enumerate(noise)]
    found = results(repeat)
    assert "drift" in found["flags"]
    assert found["results"]["drift_mm_per_touch"]["value"] == pytest.approx(0.001, rel=0.05)
    assert found["results"]["drift_mm_per_touch"]["dof"] == 8


@given(shift=st.floats(-50, 50), order=st.permutations(range(3)))
def test_moving_setter_and_touches_together_changes_nothing(shift, order):
    moved = {
        **TOOL,
        "setup": {**TOOL["setup"], "trigger_plane_mm": -452.4 + shift},
        "readings": [{"position_mm": TOOL["readings"][i]["position_mm"] + shift} for i in order],
    }
    before, after = results(TOOL)["results"]["length_mm"], results(moved)["results"]["length_mm"]
    assert after["value"] == pytest.approx(before["value"], abs=1e-9)
    assert after["u"] == pytest.approx(before["u"], rel=1e-6)


@pytest.mark.parametrize("name", sorted(PROCEDURES))
def test_every_procedure_brings_what_a_sheet_needs(name):
    found = procedure(name)
    fields = found.setup_model.model_fields
    setup = {
        name: 0.5 if name in ("false_alarm", "missed") else 1.0 for name, info in fields.items() if info.is_required()
    } | {**found.offered}
    setup |= {"repeatability_mm": 0.001} if name == "breakage" else {}
    way = found.variant("")
    setup |= {**(way.setup if way else {}), **({"expected_mm": 100.0} if "expected_mm" in fields else {})}
    setup |= {"setter_width_mm": 14.0} if name == "tool-diameter" else {}
    setup |= {
        "presetter-tool": ON_PRESETTER["setup"], "tool-from-presetter": FROM_PRESETTER["setup"],
        "presetter-calibration": {"z_scale_u_ppm": 5.0, "x_scale_u_ppm": 5.0},
    }.get(name, EXAMPLES[name]["setup"] if name.startswith("lathe-") else {})  # fmt: skip
    master = {found.role: {"length_mm": 140.0, "diameter_mm": 16.0}} if found.master_kinds else {}
    session = Session(name, SheetFacts(setup=setup, masters=master, variant=way.key if way else ""))
    if not session.wanted:  # a sum without readings
        assert found.figure(session.facts, [], session.evaluate()).strokes
        return
    assert isinstance(session.evaluate(), NonnaError)
    assert found.caution.words
    assert found.steps(session.facts)
    value = 0.0
    while session.next_slot is not None:
        assert found.figure(session.facts, session.live, None).strokes
        value = (value + 0.37) % 1.0
        assert session.prompt
        for part in range(len(found.model.value_fields)):
            turn = 2 * math.pi * len(session.rows) / 8  # round a ring where there are two values, else beside zero
            on_ring = 5.0 * (math.cos(turn), math.sin(turn))[part] if len(found.model.value_fields) > 1 else 0.0
            session = session.take(on_ring + 0.001 * value, "typed", "2026-11-23T10:00:00+00:00")
    assert len(session.rows) == session.wanted
    evaluation = session.evaluate()
    assert {q.name for q in evaluation.quantities} & set(found.main)
    assert found.figure(session.facts, session.live, evaluation).scale_note
    reopened = session.strike(0, "chip on the pad")
    assert reopened.next_slot is not None
    assert len(reopened.rows) == len(session.rows)
    with pytest.raises(NonnaError):
        session.strike(0, "  ")


def test_documents_used_here_are_sound():
    for document in (TOOL, SETTER, REPEAT):
        assert results(document)["format"] == "nonna-result/1"


def test_every_code_has_its_sentence_and_a_strangers_name_is_a_fact():
    for name in PROCEDURES:
        folder = Path(import_module(PROCEDURES[name].package).__file__).parent
        sentences = import_module(f"{PROCEDURES[name].package}.procedure").SENTENCES
        codes = {c for file in folder.glob("*.py") for c in re.findall(r'\bsaid\(\s*"([\w-]+)"', file.read_text())}
        assert codes <= set(sentences), name
        assert sentences and all(key and words[-1] in ".!?" for key, words in sentences.items()), name
    screws = [{"name": name, "x_mm": x, "y_mm": y, "pitch_mm": 0.5, "pivot": not x}
              for name, x, y in (("{by.__class__}", 20, 0), ("{nothing}", 0, 20), ("pivot", 0, 0))]  # fmt: skip
    screws[1]["pivot"] = False
    rows = [{"x_mm": x, "y_mm": y, "value_mm": 0.004 * x} for x in (-5, 5) for y in (-5, 5)]
    setup = {"pad_x_mm": 14, "pad_y_mm": 14, "limit_mm": 0.005, "screws": screws, "resolution_mm": 0.001}
    told = evaluate(readings_file("face-level", setup, rows)).to_document()["advice"]
    assert any("{by.__class__}" in words for words in told)
