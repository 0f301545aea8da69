"""Holders and the spindle nose: met where they are described, said where they are not, clearances as they are."""

import json
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.errors import NonnaError
from nonna.shop.cards.hanging import parts
from nonna.shop.cards.machine import SpindleNose, Tool
from nonna.shop.texts.strict_model import checked
from nonna.standin.course import course_of
from nonna.standin.nearest import nearest_at, standing
from nonna.standin.path import PathPoint
from nonna.stations.mill.standin.rehearsing import rehearse
from tests.support.plans import HEAD, MACHINE, TOUCH, drill, machine_with, planned, table

SHORT = {"number": 2, "kind": "end-mill", "diameter_mm": 5, "length_mm": 50.0}
HOLDER = [{"diameter_mm": 63, "length_mm": 20}, {"diameter_mm": 40, "length_mm": 15}]
POST = [{"name": "post", "box_mm": [[735, 40, -560], [750, 80, -435]]}]  # beside the pad, above its plane
NOSE = {"nose_diameter_mm": 90, "nose_length_mm": 120}
DOWN = TOUCH.replace("Z-345", "Z-406").replace("Z-330", "Z-398")


def problems(tool, **machine):
    found = rehearse(DOWN, machine_with(**machine), table(tool))
    return [(p.code, p.message) for p in found.problems if p.severity == "stop"]


def test_a_holder_meets_what_the_tool_alone_would_miss():
    assert problems(SHORT, obstacles=POST, spindle=None) == []
    met = problems({**SHORT, "holder": HOLDER}, obstacles=POST, spindle=None)
    assert any(code == "collision" and "its holder runs into post" in words for code, words in met)
    beside = HEAD + "T2 M6\nG53 G0 X750 Y60\nG53 G0 Z-442\nG53 G0 Z0\nM2\n"  # the tip goes down beside the pad
    assert rehearse(beside, machine_with(spindle=None), table(SHORT)).clean
    met = rehearse(beside, machine_with(spindle=None), table({**SHORT, "holder": HOLDER})).problems
    assert any(p.message == "its holder runs into the setter" for p in met)


def test_the_spindle_nose_meets_what_is_tall():
    tall = [
        {"name": "wall", "box_mm": [[760, 0, -560], [770, 120, -380]]}
    ]  # above the gauge line's height at the touch
    assert problems(SHORT, obstacles=tall, spindle=None) == []
    met = problems(SHORT, obstacles=tall, spindle=NOSE)
    assert any(code == "collision" and "the spindle nose runs into wall" in words for code, words in met)


def test_a_plan_keeps_holder_and_nose_clear_and_says_which():
    def refused(tool, **machine):
        return planned([tool], machine_with(**machine))[0].tools[0].refused

    assert refused(SHORT, obstacles=POST, spindle=None) == ""
    assert "post is in the way of its holder" in refused({**SHORT, "holder": HOLDER}, obstacles=POST, spindle=None)
    near = [{"name": "wall", "box_mm": [[750, 0, -560], [770, 120, -380]]}]
    assert "wall is in the way of the spindle nose" in refused(SHORT, obstacles=near, spindle=NOSE)
    stub = {**SHORT, "kind": "drill", "holder": [{"diameter_mm": 40, "length_mm": 48}]}
    assert "the setter is in the way of its holder" in refused(stub, spindle=None)
    wide = {**SHORT, "length_mm": 30.0, "holder": [{"diameter_mm": 60, "length_mm": 28}], "measure": ["diameter"]}
    plan = planned([wide], machine_with(spindle=None))[0].tools[0]
    assert not plan.touches and "the setter is in the way of its holder" in plan.refused


def test_a_tool_of_unknown_length_is_not_searched_with_its_holder():
    blind = {**SHORT, "length_mm": None, "holder": HOLDER}
    plan = planned([blind])[0].tools[0]
    assert plan.search_to_z == MACHINE.setter.trigger_plane_mm + 35 + 10


@pytest.mark.parametrize("long", [35.0, 20.0])
def test_a_holder_longer_than_its_tool_is_refused_by_name(long):
    with pytest.raises(NonnaError) as caught:
        checked(Tool, {**SHORT, "length_mm": long, "holder": HOLDER})
    assert "the holder is 35 mm long" in caught.value.message


@given(
    x=st.floats(600, 800), y=st.floats(0, 200), z=st.floats(-440, -200), wide=st.floats(1, 80), deep=st.floats(1, 60),
    nose=st.booleans(),
)  # fmt: skip
def test_the_nearest_gap_is_that_of_the_points_of_all_parts(x, y, z, wide, deep, nose):
    """Against points spread over each cylinder's surface: never nearer than said, and nearly as near."""
    spindle = SpindleNose.model_validate(NOSE) if nose else None
    machine = machine_with(obstacles=POST, spindle=NOSE if nose else None)
    holder = ((wide, deep),)
    near = nearest_at(PathPoint(1, 2, 0.0, x, y, z, 90.0, 8.0, "rapid", holder), machine)
    around = dict(standing(machine))
    assert set(around) == {"post", "the setter"}
    least = np.inf
    angles = np.linspace(0, 2 * np.pi, 73)
    for part in parts(90.0, 8.0, holder, spindle):
        radii, heights = np.linspace(0, part.radius, 15), np.linspace(z - part.foot, z - part.top, 60)
        r, t, h = np.meshgrid(radii, angles, heights, indexing="ij")
        points = np.stack([x + r * np.cos(t), y + r * np.sin(t), h], -1).reshape(-1, 3)
        for box in around.values():
            out = np.maximum(np.maximum(np.array(box.low) - points, points - np.array(box.high)), 0.0)
            least = min(least, float(np.linalg.norm(out, axis=1).min()))
    assert near.gap_mm - 1e-9 <= least <= near.gap_mm + 3.0


def test_every_tool_has_room_on_the_bar_and_time_goes_on():
    rows = [
        drill(),
        {"number": 7, "kind": "slitting-saw", "diameter_mm": 80, "length_mm": 54.3, "centre_cutting": False},
    ]
    plan, text = planned(rows)
    found = rehearse(text, MACHINE, table(*rows), trace=True)
    course = course_of(found.path, MACHINE)
    seconds = [s.seconds for s in course.stretches]
    assert [s.tool for s in course.stretches][-2:] == [2, 7] and sum(seconds) == pytest.approx(course.times[-1])
    widths = np.diff(course.edges)
    assert widths.min() >= 0.5 / len(widths) and widths.sum() == pytest.approx(1.0)
    places = [course.place(t) for t in course.times]
    assert all(b >= a for a, b in pairwise(places))
    middle = course.times[-1] / 2
    assert course.second(course.place(middle)) == pytest.approx(middle)
    assert course.point(0, 0.0) == course.path[0] and len(course.outline(800)) == len(course.path)
    assert course_of(found.path[:1], MACHINE) is None
    assert json.dumps(plan.tools[0].to_document())


def test_a_long_path_is_drawn_by_what_shows():
    path = [
        PathPoint(i, 1, i * 0.01, 100.0, 100.0, -100.0 - (i == 7777) * 50, 50.0, 8.0, "feed") for i in range(20_000)
    ]
    course = course_of(path, machine_with(obstacles=[]))
    shown = course.outline(500)
    assert len(shown) <= 4 * 501 and min(height for _, height, _ in shown) == -200.0
