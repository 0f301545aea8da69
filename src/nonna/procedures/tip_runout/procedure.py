"""Tip run-out: what the hands do, its drawing, and everything together."""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.errors import DegenerateGeometryError
from nonna.figures.figure import Figure
from nonna.figures.polar import runout_figure
from nonna.metrology.doubt.fits import fit_harmonics
from nonna.metrology.shapes import centring
from nonna.procedures.evaluation import Evaluation, Move
from nonna.procedures.facts import Caution, PassDone, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.guess import Guess, guess_by_fit
from nonna.procedures.sheet import Procedure
from nonna.procedures.telling import saying
from nonna.procedures.tip_runout import LISTED
from nonna.procedures.tip_runout.evaluate import evaluate, harmonic_of, moves_to
from nonna.procedures.tip_runout.model import LEAST, POSITIONS, RunoutReadings, RunoutSetup
from nonna.shop.reason import Reason
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units

said = saying("tip-runout")


def outlook_words(sizes: Sequence[float], limit: float) -> Reason | None:
    """Say how many more passes bring the newest of these deviations within a limit."""
    left = centring.passes_left(sizes, limit)
    if left is None:
        return said("not-smaller") if len(sizes) > 1 else None
    if left == 0:
        return None
    return said("one-more") if left == 1 else said("more-passes", passes=left)


def next_moves(facts: SheetFacts, passes: Sequence[PassDone], result: Evaluation) -> tuple[Move, ...]:
    """The screws to turn, in degrees of key too once earlier passes taught what a degree does."""
    setup = RunoutSetup.model_validate(dict(facts.setup))
    if not result.moves:
        return result.moves
    earlier = [
        centring.Pass(*harmonic_of(p.results), {float(s.rstrip("°")): d for s, d in p.turned.items()}) for p in passes
    ]
    now = {q.name: q.value for q in result.quantities}
    return moves_to(now, setup, earlier)


def guess(facts: SheetFacts, slot: Slot, readings: Readings, field: str) -> Guess | None:
    """By the circle through the other angles, once there are enough."""
    del facts
    if len(readings) <= LEAST:
        return None
    t = math.radians(as_number(slot.fields["angle_deg"]))
    try:
        fit = fit_harmonics(
            [math.radians(as_number(r["angle_deg"])) for r in readings], [as_number(r[field]) for r in readings]
        )
    except DegenerateGeometryError:
        return None
    weights = (1.0, math.cos(t), math.sin(t))
    return guess_by_fit(fit, weights)


def outlook(passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
    """How many more passes, from how fast the run-out shrank so far."""
    if not result.checks or not passes:
        return None
    sizes = [*(p.results["runout_mm"] for p in passes), result.quantity("runout_mm").value]
    return outlook_words(sizes, result.checks[0].limit)


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Eight angles, a turn of the spindle."""
    del facts
    return tuple(
        Slot({"angle_deg": i * 360.0 / POSITIONS}, f"{i * 360 / POSITIONS:g}°", f"Dial at {i * 360 / POSITIONS:g}°",
            "turn")
        for i in range(POSITIONS)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    what = {"master": "master tool", "shank": "shank"}.get(facts.variant, "stylus ball")
    last = (Step("Turn the screw named, watch the dial, measure again"),) if facts.variant in ("", "ball") else ()
    return (
        Step("Wipe taper and holder; spindle in neutral"),
        Step(f"Dial against the {what}, at its widest, set about zero"),
        Step("Turn by hand, read at each angle", "turn"),
        *last,
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The dial round the axis, with the fitted circle and the screws."""
    cosine = math.cos(math.radians(facts.setup.part("indicator").number("lever_deg", 0.0)))
    points = [(as_number(r["angle_deg"]), as_number(r["value_mm"]) * cosine) for r in readings]
    found = None
    if result is not None:
        found = (result.quantity("eccentricity_mm").value, result.quantity("high_spot_deg").value)
    next_angle = None
    taken = {r["angle_deg"] for r in readings}
    left = [as_number(s.fields["angle_deg"]) for s in slots(facts) if s.fields["angle_deg"] not in taken]
    if left and result is None:
        next_angle = left[0]
    return runout_figure(points, facts.setup.numbers("screws_deg"), found, next_angle, units,
                         tuple(m.screw for m in result.moves) if result else ())  # fmt: skip


SENTENCES = {
    "found-none": "Run-out {runout:small}, ± {U:small}.",
    "found-pass": "Run-out {runout:small}, within {limit:small} even with its doubt.",
    "found-fail": "Run-out {runout:small}, over {limit:small}.",
    "found-undecided": "Run-out {runout:small}; the doubt of ± {U:small} leaves {limit:small} open.",
    "tighten": "{screw} screw under the dial: tighten, until the dial drops {drop:small}.",
    "tighten-ease": "{screw} screw under the dial: tighten, ease {other}, until the dial drops {drop:small}.",
    "tighten-key": "{screw} screw under the dial: tighten, until the dial drops {drop:small} (about {key:0f}° of key).",
    "tighten-ease-key": "{screw} screw under the dial: tighten, ease {other}, until the dial drops {drop:small} "
    "(about {key:0f}° of key).",
    "clean": "Take it out, clean taper, shank and ball, look for burrs, and measure again.",
    "form": "{form:small} of it is form, not eccentricity: no screw will help that.",
    "more-angles": "Measure more angles.",
    "turn-round": "Take it out, clean taper and shank, turn it half round in the holder and measure again.",
    "finer-dial": "Measure more angles, or with a finer dial.",
    "never-more": "Never more than {half:small}: half the run-out is all there is.",
    "not-smaller": "It is not getting smaller. Is a screw loose, or already at its end?",
    "one-more": "One more pass should do.",
    "more-passes": "About {passes} more passes at this rate.",
    "sign": "Sign it.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "dial-round"},
    steps=steps,
    figure=figure,
    own_guess=guess,
    own_next_moves=next_moves,
    outlook=outlook,
    model=RunoutReadings,
    main=("runout_mm",),
    main_title="Run-out",
    learns_turns=True,
    foreseeable=False,
    reads={"value_mm": "dial"},
    offered={
        "limit_mm": 0.005,
        "screws_deg": [0.0, 90.0, 180.0, 270.0],
        "indicator": {"resolution_mm": 0.001},
    },
    variants=(
        Variant("ball", "Stylus ball"),
        Variant("master", "Master tool", {"screws_deg": []}),
        Variant("shank", "Any held shank", {"screws_deg": []}),
    ),
    caution=Caution(
        "Turn the spindle by hand",
        "Drive off, spindle in neutral, before a hand goes near. The dial's tip gives way, the stylus does not: "
        "come up to it slowly.",
    ),
)
