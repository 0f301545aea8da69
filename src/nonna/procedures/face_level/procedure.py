"""Face level: what the hands do, its drawing, and everything together."""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.errors import DegenerateGeometryError
from nonna.figures.figure import Figure
from nonna.figures.level import face_figure
from nonna.metrology.doubt.fits import fit_plane
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.face_level import LISTED
from nonna.procedures.face_level.evaluate import evaluate
from nonna.procedures.face_level.model import LEAST, MAIN, FaceLevelReadings
from nonna.procedures.facts import Caution, PassDone, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.guess import Guess, guess_by_fit
from nonna.procedures.sheet import Procedure
from nonna.procedures.tip_runout.procedure import outlook_words
from nonna.shop.reason import Reason
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units

EDGE = 0.8  #: how far out the indicator goes, as a share of half the pad


STEEPEST = 0.01  #: standard deviation of a lean before anything is known of it


_CORNER = {False: 1.0, True: 0.85}  # corners of a round pad lie off it


def _place_name(i: int, j: int) -> str:
    if i == 0 and j == 0:
        return "in the middle"
    depth = {1: "back", -1: "front", 0: ""}[j]
    side = {1: "right", -1: "left", 0: ""}[i]
    return " ".join(word for word in (depth, side) if word)


def guess(facts: SheetFacts, slot: Slot, readings: Readings, field: str) -> Guess | None:
    """By the plane through the other places, once there are enough; before that no setter leans beyond reason."""
    del facts
    x, y = as_number(slot.fields["x_mm"]), as_number(slot.fields["y_mm"])
    if len(readings) <= LEAST:
        away = [(math.hypot(as_number(r["x_mm"]) - x, as_number(r["y_mm"]) - y), as_number(r[field])) for r in readings]
        near, value = min(away, default=(0.0, 0.0))
        return Guess(value, STEEPEST * near, math.inf) if near > 0.0 else None
    try:
        fit = fit_plane(
            [as_number(r["x_mm"]) for r in readings],
            [as_number(r["y_mm"]) for r in readings],
            [as_number(r[field]) for r in readings],
        )
    except DegenerateGeometryError:
        return None
    return guess_by_fit(fit, (1.0, x, y))


def outlook(passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
    """How many more passes, from how fast the larger rise shrank so far."""
    if not result.checks or not passes:
        return None
    sizes = [max(abs(p.results["rise_x_mm"]), abs(p.results["rise_y_mm"])) for p in passes]
    return outlook_words([*sizes, max(abs(result.quantity(n).value) for n in MAIN)], result.checks[0].limit)


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """A cross of five places or a grid of nine, about the pad's middle."""
    x = facts.setup.number("pad_x_mm", facts.pad_width) / 2 * EDGE
    y = facts.setup.number("pad_y_mm", facts.pad_width) / 2 * EDGE
    if facts.variant == "grid":
        places = [(i, j) for j in (-1, 0, 1) for i in (-1, 0, 1)]
    else:
        places = [(0, 0), (1, 0), (-1, 0), (0, 1), (0, -1)]
    return tuple(
        Slot({"x_mm": round(i * x * _CORNER[facts.variant == "grid" and bool(i and j)], 3),
              "y_mm": round(j * y * _CORNER[facts.variant == "grid" and bool(i and j)], 3)},
             _place_name(i, j), f"Dial {_place_name(i, j)}", "places")
        for i, j in places
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Wipe the pad; indicator in the spindle, spindle locked"),
        Step("Dial on the middle of the pad, set to zero"),
        Step("Carry it over the pad, read at each place", "places"),
        Step("Turn the screws named and measure again"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The pad from above and how it leans, exaggerated."""
    pad = (facts.setup.number("pad_x_mm", facts.pad_width), facts.setup.number("pad_y_mm", facts.pad_width))
    rises = tuple(result.quantity(n).value for n in MAIN) if result else None
    screws = [(s.word("name"), s.number("x_mm", 0.0), s.number("y_mm", 0.0)) for s in facts.setup.rows("screws")]
    places = [(as_number(s.fields["x_mm"]), as_number(s.fields["y_mm"])) for s in slots(facts)]
    return face_figure(
        pad, places, list(readings), rises, screws, {m.screw for m in result.moves} if result else set(), units
    )


SENTENCES = {
    "pad": "The pad itself is {flat:small} from flat: wipe it, look for a burr.",
    "raise": "Screw {screw}: raise it by {about} ({turns:2f} turns, {by:small}).",
    "lower": "Screw {screw}: lower it by {about} ({turns:2f} turns, {by:small}).",
    "found-none": (_FOUND := "The pad rises {x:signed} in X and {y:signed} in Y") + ".",
    "found-pass": _FOUND + ", within {limit:small} even with the doubt.",
    "found-fail": _FOUND + "; {limit:small} is allowed.",
    "found-undecided": _FOUND + "; the doubt leaves {limit:small} open.",
    "too-far": "Screw {screw} would need {turns:1f} turns: no levelling does that. Look for the cause: a chip under "
    "the "
    "setter, a dial that slipped, a reading in the wrong unit.",
    "fail": "Level the setter and measure again.",
    "undecided": "Take a grid of nine places: more places lower the doubt most.",
    "pass": "Sign it, then calibrate the setter.",
    "none": "Sign it, then calibrate the setter.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "dial-over-face"},
    steps=steps,
    figure=figure,
    own_guess=guess,
    outlook=outlook,
    model=FaceLevelReadings,
    main=MAIN,
    beside=("slope_x", "slope_y"),
    main_title="Rise in X",
    foreseeable=False,
    reads={"value_mm": "dial"},
    offered={"limit_mm": 0.005, "indicator": {"resolution_mm": 0.001}},
    variants=(Variant("cross", "Cross, five places"), Variant("grid", "Grid, nine places")),
    caution=Caution(
        "Spindle stopped and locked",
        "The indicator rides in the spindle: drive off. Move by handwheel only, doors as your shop's rules say.",
    ),
)
