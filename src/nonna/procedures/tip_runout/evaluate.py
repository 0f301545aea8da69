"""Tip run-out: a stylus ball, master tool or any held shank turned against an indicator."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict
from nonna.metrology.doubt.fits import LinearFit, fit_harmonics, full_turn
from nonna.metrology.doubt.quantiles import variance_ratio
from nonna.metrology.doubt.scatter import TouchScatter, touch_from
from nonna.metrology.doubt.uncertain import Estimate, Influences
from nonna.metrology.shapes import centring
from nonna.procedures.evaluation import Check, Evaluation, Move, Quantity, check_limit
from nonna.procedures.telling import saying
from nonna.procedures.tip_runout.model import LEAST, RunoutReadings, RunoutSetup
from nonna.shop.reason import Reason

said = saying("tip-runout")

SCATTER = "indicator repeatability"


LARGEST_U_RAD = math.pi / math.sqrt(3.0)  # a direction of which nothing is known at all


NO_SCREW_WILL_HELP = 0.5  # share of the run-out limit that form alone may take before it is named


SHANK_SHARE = 0.6  # form beyond this share of the run-out: dirt or a bent shank, not the screws


def harmonic_of(results: Mapping[str, float]) -> tuple[float, float]:
    """Return the eccentricity as X and Y, mm."""
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


def moves_to(results: dict[str, float], setup: RunoutSetup, earlier: Sequence[centring.Pass]) -> tuple[Move, ...]:
    """Return the screws to turn, by what earlier passes taught."""
    resolution = setup.history()["resolution"]
    made = []
    for move in centring.moves(*harmonic_of(results), setup.screws_deg, resolution, earlier):
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
            moves = moves_to(results, setup, ())
            todo = moves[0].words if moves else said("more-angles")
        elif verdict is Verdict.FAIL:
            todo = said("turn-round")
        else:
            todo = said("finer-dial")
    if moves:
        advice += [move.words for move in moves[1:]]
        advice.append(said("never-more", half=results["eccentricity_mm"] / setup.indicator.cosine))
    return replace(made, headline=said(f"found-{verdict}", **facts), todo=todo, advice=tuple(advice), moves=moves)


def evaluate(file: RunoutReadings) -> Evaluation:
    """First harmonic of the dial: ``y = m + a cos t + b sin t``, ``e = hypot(a, b)``, ``run-out = 2 e``."""
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
