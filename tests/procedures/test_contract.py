"""The published formats: every error code with its place, and nothing half-read."""

import copy
import json
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.errors import NonnaError
from nonna.metrology.doubt.fits import full_turn
from nonna.procedures.catalogue import evaluate
from nonna.shop.texts import strict_json
from tests.support.documents import REPEAT, SETTER, TOOL
from tests.support.examples import IN_RING, OFFSET, RUNOUT


def changed(document, path, value):
    """A copy with one place changed; DELETE takes it out."""
    made = copy.deepcopy(document)
    at = made
    for step in path[:-1]:
        at = at[step]
    if value is DELETE:
        del at[path[-1]]
    else:
        at[path[-1]] = value
    return made


DELETE = object()
BAD = [
    (TOOL, ["format"], "nonna-readings/2", "wrong-format", "format"),
    (TOOL, ["format"], DELETE, "missing-field", "format"),
    (TOOL, ["procedure"], DELETE, "missing-field", "procedure"),
    (TOOL, ["procedure"], "tool-lenght", "unknown-procedure", "procedure"),
    (TOOL, ["procedure"], 3, "wrong-format", "procedure"),
    (TOOL, ["procedure"], ["tool-length"], "wrong-format", "procedure"),
    (TOOL, ["comment"], "hello", "unknown-field", "comment"),
    (TOOL, ["setup", "trigger_plane"], 3.0, "unknown-field", "setup.trigger_plane"),
    (TOOL, ["setup", "trigger_plane_mm"], DELETE, "missing-field", "setup.trigger_plane_mm"),
    (TOOL, ["setup"], DELETE, "missing-field", "setup.trigger_plane_mm"),
    (TOOL, ["setup", "expected_mm"], DELETE, "missing-field", "setup.expected_mm"),
    (TOOL, ["setup", "limit_mm"], "0.02", "not-a-number", "setup.limit_mm"),
    (TOOL, ["setup", "limit_mm"], -0.02, "out-of-range", "setup.limit_mm"),
    (TOOL, ["setup", "trigger_plane_u_mm"], -1e-9, "out-of-range", "setup.trigger_plane_u_mm"),
    (TOOL, ["setup", "repeatability_mm"], True, "not-a-number", "setup.repeatability_mm"),
    (TOOL, ["setup"], [], "wrong-format", "setup"),
    (TOOL, ["masters"], {"master": {}}, "unknown-field", "masters.master"),
    (TOOL, ["readings"], {}, "wrong-format", "readings"),
    (TOOL, ["readings"], [], "too-few-readings", "readings"),
    (TOOL, ["readings"], DELETE, "missing-field", "readings"),
    (TOOL, ["readings", 1], 3.0, "wrong-format", "readings[1]"),
    (TOOL, ["readings", 1, "position_mm"], "x", "not-a-number", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "position_mm"], None, "not-a-number", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "position_mm"], [1.0], "not-a-number", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "position_mm"], math.nan, "not-a-number", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "position_mm"], math.inf, "not-a-number", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "position_mm"], 1e308, "out-of-range", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "position_mm"], -1000000.5, "out-of-range", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "position_mm"], DELETE, "missing-field", "readings[1].position_mm"),
    (TOOL, ["readings", 1, "positon_mm"], 1.0, "unknown-field", "readings[1].positon_mm"),
    (TOOL, ["readings"], [{"position_mm": 1.0}], "no-repeatability", "readings"),
    (TOOL, ["readings"], [{"position_mm": 1.0}] * 4, "no-repeatability", "readings"),
    (TOOL, ["rule"], {"kind": "strict"}, "out-of-range", "rule.kind"),
    (TOOL, ["rule"], {"kind": 1}, "wrong-format", "rule.kind"),
    (TOOL, ["rule"], {"kind": "guarded", "risk": 0.1}, "out-of-range", "rule.risk"),
    (TOOL, ["conditions"], {"temperature_u_c": -0.1}, "out-of-range", "conditions.temperature_u_c"),
    (SETTER, ["masters"], DELETE, "missing-master", "masters.master"),
    (SETTER, ["masters", "master"], DELETE, "missing-master", "masters.master"),
    (SETTER, ["masters", "master"], "box 2", "wrong-format", "masters.master"),
    (SETTER, ["masters", "master", "length_mm"], DELETE, "missing-field", "masters.master.length_mm"),
    (SETTER, ["masters", "master", "diameter_mm"], DELETE, "missing-field", "masters.master.diameter_mm"),
    (SETTER, ["masters", "master", "U_length_mm"], -0.001, "out-of-range", "masters.master.U_length_mm"),
    (SETTER, ["masters", "master", "k"], 0, "out-of-range", "masters.master.k"),
    (SETTER, ["masters", "master", "traceable"], "yes", "wrong-format", "masters.master.traceable"),
    (SETTER, ["setup", "school"], "modern", "out-of-range", "setup.school"),
    (SETTER, ["setup", "school"], 1, "wrong-format", "setup.school"),
    (SETTER, ["readings", 0, "face"], "bottom", "out-of-range", "readings[0].face"),
    (SETTER, ["readings", 0, "face"], {}, "wrong-format", "readings[0].face"),
    (SETTER, ["readings"], SETTER["readings"][:4], "too-few-readings", "readings"),
    (SETTER, ["readings"], [], "too-few-readings", "readings"),
    (REPEAT, ["readings"], REPEAT["readings"][:4], "too-few-readings", "readings"),
    (REPEAT, ["readings"], [{"value_mm": 1.0}] * 6, "no-repeatability", "readings"),
    (REPEAT, ["readings", 2, "t_s"], "now", "not-a-number", "readings[2].t_s"),
]


@pytest.mark.parametrize(("document", "path", "value", "code", "where"), BAD)
def test_bad_input_is_refused_with_code_and_place(document, path, value, code, where):
    with pytest.raises(NonnaError) as caught:
        evaluate(changed(document, path, value))
    assert (caught.value.code, caught.value.where) == (code, where)
    assert "\n" not in caught.value.message
    assert len(caught.value.message) < 400


@pytest.mark.parametrize("document", [[], "x", 3, None, True])
def test_anything_but_an_object_is_refused(document):
    with pytest.raises(NonnaError) as caught:
        evaluate(document)
    assert (caught.value.code, caught.value.where) == ("wrong-format", "")


def test_zero_and_absent_mean_the_same_where_the_format_says_so(tool):
    before = evaluate(tool).to_document()
    tool["setup"].update(repeatability_dof=None, trigger_plane_dof=None, resolution_mm=0, feed_per_rev_mm=0)
    tool |= {"masters": {}, "conditions": {}, "rule": {}, "missing": []}
    assert evaluate(tool).to_document() == before


def _ringed(**card):
    return copy.deepcopy(IN_RING) | {"masters": {"ring": {"diameter_mm": 50.0, **card}}}


@pytest.mark.parametrize(
    ("doc", "code", "where"),
    [
        (_ringed(U_diameter_mm=0.001), "missing-field", "masters.ring.k"),
        (_ringed(U_length_mm=0.0), "missing-field", "masters.ring.k"),
        (_ringed(U_diameter_mm=0.001, k=0), "out-of-range", "masters.ring.k"),
        ({**IN_RING, "conditions": {"temperature_c": 150.5}}, "out-of-range", "conditions.temperature_c"),
        ({**IN_RING, "conditions": {"temperature_c": -51}}, "out-of-range", "conditions.temperature_c"),
        ({**OFFSET, "setup": {**OFFSET["setup"], "repeatability_mm": 0.0}}, "out-of-range", "setup.repeatability_mm"),
        ({**OFFSET, "setup": {**OFFSET["setup"], "repeatability_dof": 0.5}}, "out-of-range", "setup.repeatability_dof"),
        ({**OFFSET, "setup": {**OFFSET["setup"], "height_dof": 0.98}}, "out-of-range", "setup.height_dof"),
        ({**OFFSET, "setup": {**OFFSET["setup"], "height_dof": "many"}}, "not-a-number", "setup.height_dof"),
    ],
)
def test_the_contract_is_exact(doc, code, where):
    with pytest.raises(NonnaError) as caught:
        evaluate(doc)
    assert (caught.value.code, caught.value.where) == (code, where)


def test_the_edges_of_the_contract_are_inside():
    evaluate(_ringed(U_diameter_mm=0.001, k=2) | {"conditions": {"temperature_c": -50, "temperature_u_c": 0}})
    evaluate({**OFFSET, "setup": {**OFFSET["setup"], "height_dof": 0.99, "tool_length_dof": None}})


@given(high=st.floats(-720.0, 720.0))
def test_angles_of_results_lie_within_a_turn(high):
    rows = [
        {"angle_deg": 45.0 * i, "value_mm": 0.01 * math.cos(math.radians(45.0 * i - high)) + 1e-5 * i} for i in range(8)
    ]
    found = evaluate({**RUNOUT, "readings": rows}).to_document()["results"]["high_spot_deg"]["value"]
    assert 0.0 <= found < 360.0
    assert math.cos(math.radians(found - high)) > 0.99
    assert 0.0 <= full_turn(-1e-17) < 360.0


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", "not-json"),
        (b"{", "not-json"),
        (b'{"a": 1,}', "not-json"),
        (b'{"a": 1, "a": 2}', "not-json"),
        (b'{"x": {"b": [], "b": 1}}', "not-json"),
        (b"\xff\xfe{}", "unreadable"),
        (b"[" * 1000 + b"]" * 1000, "too-large"),
        (b"[" * 1000, "too-large"),
        (b'{"a": ' * 51 + b"1" + b"}" * 51, "too-large"),
        (b"[1] trailing", "not-json"),
        (b" " * (strict_json.MAX_BYTES + 1), "too-large"),
        (b'{"a": 01}', "not-json"),
        (b"{'a': 1}", "not-json"),
    ],
)
def test_text_that_is_no_json_of_ours_is_refused(data, code):
    with pytest.raises(NonnaError) as caught:
        strict_json.loads(data)
    assert caught.value.code == code


def test_json_numbers_no_float_holds_are_out_of_range_not_lost(tool):
    text = json.dumps(tool)
    for number in ("1e999", "-1e999", "9" * 400, "9" * 5000):
        with pytest.raises(NonnaError) as caught:
            evaluate(strict_json.loads(text.replace("-339.9805", number)))
        assert (caught.value.code, caught.value.where) == ("out-of-range", "readings[1].position_mm")
    for number in ("NaN", "Infinity", "-Infinity"):
        with pytest.raises(NonnaError) as caught:
            evaluate(strict_json.loads(text.replace("-339.9805", number)))
        assert caught.value.code == "not-a-number"


def test_brackets_inside_text_are_no_nesting():
    assert strict_json.loads(json.dumps({"a": "[" * 200 + '\\"' + "{" * 200})) == {"a": "[" * 200 + '\\"' + "{" * 200}
    assert strict_json.loads(b"[" * 50 + b"]" * 50)
    assert strict_json.loads(b"\xef\xbb\xbf{}") == {}


@pytest.mark.parametrize("document", [TOOL, SETTER, REPEAT])
def test_a_file_cut_anywhere_is_refused_whole(document):
    text = json.dumps(document).encode()
    for cut in range(0, len(text) - 1, 7):
        with pytest.raises(NonnaError):
            evaluate(strict_json.loads(text[:cut]))


JSON = st.recursive(
    st.none() | st.booleans() | st.floats() | st.integers() | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=8,
)


@given(data=st.data())
def test_whatever_stands_in_a_place_the_answer_is_a_result_or_one_error(data):
    document = copy.deepcopy(data.draw(st.sampled_from([TOOL, SETTER, REPEAT])))
    places = [["setup"], ["masters"], ["readings"], ["conditions"], ["rule"], ["readings", 0], ["readings", -1]]
    places += [["setup", name] for name in document["setup"]]
    path = data.draw(st.sampled_from([p for p in places if p[0] in document]))
    try:
        answer = evaluate(changed(document, path, data.draw(JSON))).to_document()
    except NonnaError as error:
        assert error.code in CODES
        assert json.dumps(error.to_document(), allow_nan=False)
    else:
        assert json.dumps(answer, allow_nan=False)


CODES = {
    "wrong-format",
    "unknown-procedure",
    "unknown-field",
    "missing-field",
    "not-a-number",
    "out-of-range",
    "too-few-readings",
    "no-repeatability",
    "degenerate-geometry",
    "missing-master",
}
