"""Tip run-out: a stylus ball, master tool or any held shank turned against an indicator."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, ClassVar, Literal

import numpy as np
from pydantic import Field

from nonna.errors import DegenerateGeometryError, TooFewReadingsError
from nonna.figures.polar import runout_figure
from nonna.metrology import centring
from nonna.metrology.decision import Verdict
from nonna.metrology.fits import LinearFit, fit_harmonics, full_turn
from nonna.metrology.quantiles import variance_ratio
from nonna.metrology.scatter import TouchScatter, touch_from
from nonna.metrology.uncertain import Estimate, Influences
from nonna.procedures.evaluation import Check, Evaluation, Move, Quantity, check_limit
from nonna.procedures.guess import Guess, guess_by_fit
from nonna.procedures.inputs import IndicatorSetup, ReadingsFile, asked
from nonna.procedures.sheet import Bench, Caution, PassDone, Procedure, Slot, Step, Variant
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

LEAST, POSITIONS = 4, 8
SCATTER = "indicator repeatability"
LARGEST_U_RAD = math.pi / math.sqrt(3.0)  # a direction of which nothing is known at all
NO_SCREW_WILL_HELP = 0.5  # share of the run-out limit that form alone may take before it is named
SHANK_SHARE = 0.6  # form beyond this share of the run-out: dirt or a bent shank, not the screws

said = saying("tip-runout")
SENTENCES = {
    "found-none": "Run-out {runout:small}, ± {U:small}.",
    "found-pass": "Run-out {runout:small}, within {limit:small} even with its doubt.",
    "found-fail": "Run-out {runout:small}, over {limit:small}.",
    "found-undecided": "Run-out {runout:small}; the doubt of ± {U:small} leaves {limit:small} open.",
    "tighten": "{screw} screw under the dial: tighten, until the dial drops {drop:small}.",
    "tighten-ease": "{screw} screw under the dial: tighten, ease {other}, until the dial drops {drop:small}.",
    "tighten-key": "{screw} screw under the dial: tighten, until the dial drops {drop:small} (about {key:0f}° of key).",
    "tighten-ease-key": "{screw} screw under the dial: tighten, ease {other}, until the dial drops {drop:small} (about {key:0f}° of key).",
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


class RunoutSetup(IndicatorSetup):
    """Setup of a tip run-out."""

    limit_mm: NotNegative | None = asked(
        "Largest run-out", help="Full swing of the dial that is allowed.", default=None, limit=True
    )
    screws_deg: list[Number] = Field([], max_length=24, title="Adjusting screws")


class AngleReading(Strict):
    """The dial at one angle of the spindle."""

    angle_deg: Number
    value_mm: Number


class RunoutReadings(ReadingsFile):
    """Readings file of a tip run-out."""

    procedure: Literal["tip-runout"]
    setup: RunoutSetup
    readings: list[AngleReading]
    value_fields = ("value_mm",)


class TipRunout(Procedure):
    """First harmonic of the dial: ``y = m + a cos t + b sin t``, ``e = hypot(a, b)``, ``run-out = 2 e``."""

    name = "tip-runout"
    sentences = SENTENCES
    model = RunoutReadings
    main = ("runout_mm",)
    main_title = "Run-out"
    learns_turns = True
    foreseeable = False
    reads: ClassVar[Mapping[str, str]] = {"value_mm": "dial"}
    offered: ClassVar[dict[str, Any]] = {
        "limit_mm": 0.005,
        "screws_deg": [0.0, 90.0, 180.0, 270.0],
        "indicator": {"resolution_mm": 0.001},
    }
    variants = (
        Variant("ball", "Stylus ball"),
        Variant("master", "Master tool", {"screws_deg": []}),
        Variant("shank", "Any held shank", {"screws_deg": []}),
    )
    caution = Caution(
        "Turn the spindle by hand",
        "Drive off, spindle in neutral, before a hand goes near. The dial's tip gives way, the stylus does not: "
        "come up to it slowly.",
    )

    def _evaluate(self, file: RunoutReadings) -> Evaluation:
        setup = file.setup
        if len(file.readings) < LEAST:
            raise TooFewReadingsError(
                "Run-out needs at least {least} angles, not {count}.", least=LEAST, count=len(file.readings)
            )
        values = np.array([r.value_mm for r in file.readings]) * setup.indicator.cosine
        fit = fit_harmonics(np.radians([r.angle_deg for r in file.readings]), values)
        touch = touch_from(fit.scatter, **setup.history())
        estimates, near_zero = harmonic_estimates(fit, touch, setup.indicator.mpe_mm * setup.indicator.cosine)
        eccentricity, high_spot, runout = estimates
        rule = file.rule.rule()
        checks: tuple[Check, ...] = ()
        if setup.limit_mm is not None:
            checks = (check_limit("Run-out", runout.value, setup.limit_mm, rule, runout),)
        flags = [
            *(["scatter-above-history"] if touch.above_history else []),
            *(["eccentricity-near-zero"] if near_zero else []),
        ]
        quantities = (
            Quantity.of("runout_mm", "Run-out", runout),
            Quantity.of("eccentricity_mm", "Eccentricity", eccentricity),
            Quantity.of("high_spot_deg", "High spot", high_spot, "deg"),
            Quantity("fim_mm", "Full swing of the dial", float(np.ptp(values))),
            Quantity("form_mm", "Form, what is left", fit.peak_to_valley),
        )
        made = Evaluation(file.procedure, quantities, rule, said("sign"), said("sign"), checks, tuple(flags))
        return _concluded(made, setup)

    def next_moves(self, bench: Bench, passes: Sequence[PassDone], result: Evaluation) -> tuple[Move, ...]:
        """The screws to turn, in degrees of key too once earlier passes taught what a degree does."""
        setup = self.setup_model.model_validate(dict(bench.setup))
        if not isinstance(setup, RunoutSetup) or not result.moves:
            return result.moves
        earlier = [
            centring.Pass(*_harmonic(p.results), {float(s.rstrip("°")): d for s, d in p.turned.items()}) for p in passes
        ]
        now = {q.name: q.value for q in result.quantities}
        return _moves(now, setup, earlier)

    def guess(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str) -> Guess | None:
        """By the circle through the other angles, once there are enough."""
        del bench
        if len(readings) <= LEAST:
            return None
        t = math.radians(float(slot.fields["angle_deg"]))
        try:
            fit = fit_harmonics([math.radians(r["angle_deg"]) for r in readings], [r[field] for r in readings])
        except DegenerateGeometryError:
            return None
        weights = (1.0, math.cos(t), math.sin(t))
        return guess_by_fit(fit, weights)

    def outlook(self, passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
        """How many more passes, from how fast the run-out shrank so far."""
        if not result.checks or not passes:
            return None
        sizes = [*(p.results["runout_mm"] for p in passes), result.quantity("runout_mm").value]
        return outlook_words(sizes, result.checks[0].limit)

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Eight angles, a turn of the spindle."""
        del bench
        return tuple(
            Slot({"angle_deg": i * 360.0 / POSITIONS}, f"{i * 360 / POSITIONS:g}°", f"Dial at {i * 360 / POSITIONS:g}°", "turn")
            for i in range(POSITIONS)
        )  # fmt: skip

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        what = {"master": "master tool", "shank": "shank"}.get(bench.variant, "stylus ball")
        last = (Step("Turn the screw named, watch the dial, measure again"),) if bench.variant in ("", "ball") else ()
        return (
            Step("Wipe taper and holder; spindle in neutral"),
            Step(f"Dial against the {what}, at its widest, set about zero"),
            Step("Turn by hand, read at each angle", "turn"),
            *last,
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The dial round the axis, with the fitted circle and the screws."""
        cosine = math.cos(math.radians(bench.setup.part("indicator").number("lever_deg", 0.0)))
        points = [(float(r["angle_deg"]), float(r["value_mm"]) * cosine) for r in readings]
        found = None
        if result is not None:
            found = (result.quantity("eccentricity_mm").value, result.quantity("high_spot_deg").value)
        next_angle = None
        taken = {r["angle_deg"] for r in readings}
        left = [s.fields["angle_deg"] for s in self.slots(bench) if s.fields["angle_deg"] not in taken]
        if left and result is None:
            next_angle = left[0]
        return runout_figure(points, bench.setup.numbers("screws_deg"), found, next_angle, units,
                             tuple(m.screw for m in result.moves) if result else ())  # fmt: skip


def _harmonic(results: Any) -> tuple[float, float]:
    e, high = results["eccentricity_mm"], math.radians(results["high_spot_deg"])
    return e * math.cos(high), e * math.sin(high)


def harmonic_estimates(
    fit: LinearFit, touch: TouchScatter, mpe: float, oval_u: float = 0.0
) -> tuple[tuple[Estimate, Estimate, Estimate], bool]:
    """Return eccentricity, high spot (degrees) and run-out, and whether it is too small to have a direction.

    Parameters: oval_u, standard uncertainty of the eccentricity from an oval that these angles cannot tell from it, mm.
    """
    _, a, b = (float(c) for c in fit.coefficients)
    e = math.hypot(a, b)
    along = (a / e, b / e) if e > 0.0 else (1.0, 0.0)
    s, dof = touch.reading_u()
    influences = Influences()
    u_e = s * (fit.u(0.0, *along) if e > 0.0 else math.sqrt(float(np.linalg.eigvalsh(fit.spread[1:, 1:])[-1])))
    indicator = influences.add("indicator", 0.0, mpe / (2.0 * math.sqrt(3.0)), shape="rectangular")
    oval = influences.add("an oval these angles cannot see", 0.0, oval_u, shape="rectangular")
    number = influences.add(SCATTER, e, u_e, dof) + indicator + oval
    eccentricity, runout = influences.estimate(number), influences.estimate(2.0 * number)
    across = s * fit.u(0.0, -along[1], along[0])
    u_high = min(across / e, LARGEST_U_RAD) if e > 0.0 else LARGEST_U_RAD
    turn = Influences()
    high = turn.estimate(turn.add(SCATTER, full_turn(math.degrees(math.atan2(b, a))), math.degrees(u_high), dof))
    near_zero = e < 3.0 * eccentricity.u
    if near_zero:
        eccentricity, runout = (
            replace(q, k=max(q.k, math.sqrt(2.0 * variance_ratio(0.95, 2.0, q.dof)))) for q in (eccentricity, runout)
        )
    return (eccentricity, high, runout), near_zero


def _moves(results: dict[str, float], setup: RunoutSetup, earlier: Sequence[centring.Pass]) -> tuple[Move, ...]:
    resolution = setup.history()["resolution"]
    made = []
    for move in centring.moves(*_harmonic(results), setup.screws_deg, resolution, earlier):
        name = f"{move.screw_deg:g}°"
        facts: dict[str, object] = {"screw": name, "drop": move.drop_mm / setup.indicator.cosine}
        code = "tighten"
        if move.opposite_deg is not None:
            code, facts["other"] = f"{code}-ease", f"{move.opposite_deg:g}°"
        if move.key_deg is not None:
            code, facts["key"] = f"{code}-key", move.key_deg
        made.append(Move(name, said(code, **facts), move.drop_mm))
    return tuple(made)


def _concluded(made: Evaluation, setup: RunoutSetup) -> Evaluation:
    results = {q.name: q.value for q in made.quantities}
    runout = made.quantity("runout_mm").estimate
    form, limit = results["form_mm"], setup.limit_mm
    facts = {"runout": results["runout_mm"], "limit": limit or 0.0, "U": runout.expanded if runout else 0.0}
    verdict = made.verdict
    advice: list[Reason] = []
    todo = said("sign")
    moves: tuple[Move, ...] = ()
    mostly_form = form > SHANK_SHARE * results["runout_mm"] and form > 3.0 * setup.history()["resolution"]
    if verdict in (Verdict.FAIL, Verdict.UNDECIDED):
        if limit is not None and mostly_form and form > limit * NO_SCREW_WILL_HELP:
            todo = said("clean")
            advice.append(said("form", form=form))
        elif setup.screws_deg:
            moves = _moves(results, setup, ())
            todo = moves[0].words if moves else said("more-angles")
        elif verdict is Verdict.FAIL:
            todo = said("turn-round")
        else:
            todo = said("finer-dial")
    if moves:
        advice += [move.words for move in moves[1:]]
        advice.append(said("never-more", half=results["eccentricity_mm"] / setup.indicator.cosine))
    return replace(made, headline=said(f"found-{verdict}", **facts), todo=todo, advice=tuple(advice), moves=moves)


def outlook_words(sizes: Sequence[float], limit: float) -> Reason | None:
    """Say how many more passes bring the newest of these deviations within a limit."""
    left = centring.passes_left(sizes, limit)
    if left is None:
        return said("not-smaller") if len(sizes) > 1 else None
    if left == 0:
        return None
    return said("one-more") if left == 1 else said("more-passes", passes=left)
