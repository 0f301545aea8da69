"""What is written for random machines and trays in both dialects, checked by eyes that share nothing with the
product.
"""

import random

import pytest

from nonna.errors import NonnaError
from nonna.programs.writing.writer import write
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine
from nonna.stations.mill.planning.plan import plan_job
from tests.support.plan_checker import Checker, Stop
from tests.support.plans_at_random import checked, machine, tool


@pytest.mark.parametrize("block", range(10))
def test_nothing_is_found_in_what_is_written(block):
    planned = 0
    for seed in range(25 * block, 25 * block + 25):
        said, kept, _ = checked(seed)
        assert not said, f"seed {seed}: {said[:3]}"
        planned += kept
    assert planned >= 25


def test_the_eyes_see_what_is_wrong():
    """Programs spoilt on purpose: the checker is no rubber stamp."""
    for spoil, words in (
        (lambda t: t.replace("M4", "M3"), "backwards"),
        (lambda t: t.replace("G38.2", "G1"), "setter"), (lambda t: t.replace("F#101", "F9000"), "runs"),
    ):  # fmt: skip
        found = []
        for seed in range(0, 40, 2):
            dice = random.Random(seed)
            card = machine(dice) | {"obstacles": []}
            row, long = tool(dice, 1)
            row |= {
                "kind": "face-mill",
                "diameter_mm": 63.0,
                "measure": ["length"],
                "centre_cutting": False,
                "corner_radius_mm": 0.0,
            }
            try:
                plan = plan_job(Machine.model_validate(card), [JobTool.model_validate(row)], 2, 0.005)
            except NonnaError:
                continue
            eyes = Checker(card, [row], False, {1: long})
            try:
                eyes.run(spoil(write(plan.program)))
            except Stop as stop:
                eyes.say(0, str(stop))
            found += eyes.said
        assert any(words in each for each in found), words


def test_more_results_than_the_card_has_room_for_are_refused():
    card = machine(random.Random(1)) | {"control": {"parameters": {"results": [500, 509], "scratch": [600, 620]}}}
    rows = [
        JobTool.model_validate({"number": n, "kind": "drill", "diameter_mm": 5, "length_mm": 100}) for n in range(1, 5)
    ]
    with pytest.raises(NonnaError, match="beyond parameter #509"):
        plan_job(Machine.model_validate(card), rows, 3, 0.005)
    text = write(plan_job(Machine.model_validate(card), rows[:3], 3, 0.005).program)
    assert "#600 =" in text and "#508 =" in text and "#101" not in text and "#1001" not in text
