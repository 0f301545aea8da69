"""Beam level: what the hands do."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.procedures.beam_level.model import Z
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import PassDone, SheetFacts, Slot, Step
from nonna.procedures.tip_runout.hands import outlook_words
from nonna.shop.reason import Reason

TIMES = 3


def outlook(passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
    """How many more passes, from how fast the fall in Z shrank so far."""
    check = next((c for c in result.checks if c.of == Z), None)
    if check is None or not passes:
        return None
    sizes = [*(p.results["z_per_100_mm"] for p in passes), check.value]
    return outlook_words(sizes, check.limit)


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three times at each end, height and cross position."""
    del facts
    return tuple(
        Slot({"end": end}, f"{end} {i + 1}/{TIMES}", f"End {end}, height Z", end, (f"End {end}, across",))
        for end in ("A", "B")
        for i in range(TIMES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    span = facts.setup.number("span_mm", 0.0)
    return (
        Step("Wipe the windows and the pin; spindle stopped"),
        Step("Find the pin at end A three times", "A"),
        Step(f"Move along the beam by {span:g} mm, find it at end B", "B"),
        Step("Turn the adjuster and measure again"),
        Step("Sign"),
    )
