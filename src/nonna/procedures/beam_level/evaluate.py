"""Beam level: how a light beam leans, by a master pin found at both of its ends."""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict, worst
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import TouchScatter, touch_scatter
from nonna.metrology.doubt.uncertain import Estimate, Influences
from nonna.procedures.beam_level.model import BeamReadings, BeamSetup, Z
from nonna.procedures.evaluation import Check, Evaluation, Move, Quantity, check_limit
from nonna.procedures.face_level.evaluate import turn_words
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason

said = saying("beam-level")

PER_MM = 100.0


_SERIOUS = {Verdict.FAIL: 3, Verdict.UNDECIDED: 2, Verdict.PASS: 1, Verdict.NONE: 0}


def _deviation(groups: dict[str, list[float]], touch: TouchScatter, span: float) -> tuple[Estimate, Estimate]:
    influences = Influences()
    means = enter_means(groups, touch, influences)
    deviation = means["B"] - means["A"]
    return influences.estimate(deviation), influences.estimate(deviation * (PER_MM / span))


def _turns(setup: BeamSetup, z_deviation: float) -> float | None:
    """Return turns of the adjuster that level the beam."""
    if setup.adjuster is None:
        return None
    return -(z_deviation / setup.span_mm) * setup.adjuster.distance_mm / setup.adjuster.pitch_mm + 0.0


def _moves(setup: BeamSetup, z_deviation: float, verdict: Verdict) -> tuple[Move, ...]:
    turns = _turns(setup, z_deviation)
    if not turns or setup.adjuster is None or verdict not in (Verdict.FAIL, Verdict.UNDECIDED):
        return ()
    by = turns * setup.adjuster.pitch_mm
    words = said("raise" if turns > 0 else "lower", about=turn_words(turns), turns=abs(turns), by=abs(by))
    return (Move("adjuster", words, by),)


def deciding_span(value: float, guard: float, limit: float, span: float) -> float | None:
    """Return the span at which a per-100 value would be decided, its doubt shrinking with the span; None if none would.

    Parameters: value, its guard band and limit per 100 mm at the present span.
    """
    room = abs(limit - abs(value))
    return span * guard / room if room > 0.0 else None


def _advice(checks: Sequence[Check], quantities: Sequence[Quantity], span: float) -> list[Reason]:
    advice = []
    for check in checks:
        if check.verdict is Verdict.UNDECIDED:
            wanted = deciding_span(check.value, check.guard_high - check.value, check.limit, span)
            if wanted is not None and math.isfinite(wanted):
                advice.append(said("span", what=check.title, span=math.ceil(wanted)))
    return advice


def _headline(quantities: Sequence[Quantity], verdict: Verdict) -> Reason:
    return said(f"found-{verdict}", z=quantities[0].value, cross=quantities[2].value)


def _todo(verdict: Verdict, checks: Sequence[Check], moves: Sequence[Move]) -> Reason:
    if moves and any(c.verdict in (Verdict.FAIL, Verdict.UNDECIDED) and c.of == Z for c in checks):
        return moves[0].words
    return said(str(verdict))


def evaluate(file: BeamReadings) -> Evaluation:
    """Deviation from end A to end B, scaled to 100 mm."""
    setup = file.setup
    ends = {end: [r for r in file.readings if r.end == end] for end in ("A", "B")}
    for end, other in (("A", "B"), ("B", "A")):
        if not ends[end]:
            raise TooFewReadingsError(
                "End {end} is still to be measured; {other} alone says nothing.", end=end, other=other
            )
    rule = file.rule.rule()
    quantities: list[Quantity] = []
    checks: list[Check] = []
    above = False
    for name, title, limit in (
        ("z", "Z", setup.limit_z_mm_per_100),
        ("cross", "Across", setup.limit_cross_mm_per_100),
    ):
        groups = {end: [float(getattr(r, f"{name}_mm")) for r in rows] for end, rows in ends.items()}
        touch = touch_scatter(list(groups.values()), **setup.history())
        above = above or touch.above_history
        deviation, per_100 = _deviation(groups, touch, setup.span_mm)
        quantities.append(Quantity.of(f"{name}_per_100_mm", f"{title} over 100 mm", per_100))
        quantities.append(Quantity.of(f"{name}_deviation_mm", f"{title}, end to end", deviation))
        if limit is not None:
            name_100 = f"{name}_per_100_mm"
            checks.append(check_limit(f"{title} over 100 mm", per_100.value, limit, rule, per_100, of=name_100))
    moves = _moves(setup, quantities[1].value, worst(check.verdict for check in checks))
    turns = _turns(setup, quantities[1].value)
    verdict = worst(check.verdict for check in checks)
    return Evaluation(
        file.procedure,
        tuple(quantities),
        rule,
        _headline(quantities, verdict),
        _todo(verdict, checks, moves),
        tuple(sorted(checks, key=lambda check: -_SERIOUS[check.verdict])),
        ("scatter-above-history",) if above else (),
        tuple(_advice(checks, quantities, setup.span_mm)),
        {} if turns is None else {"turns": turns},
        moves,
    )
