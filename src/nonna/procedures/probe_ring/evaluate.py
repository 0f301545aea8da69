"""Probe in a ring or on a pin: effective ball radius, offset from the spindle axis, lobing."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from nonna.errors import DegenerateGeometryError, TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict, worst
from nonna.metrology.doubt.fits import Floats, fit_harmonics, full_turn
from nonna.metrology.doubt.means import TOUCH
from nonna.metrology.doubt.scatter import TouchScatter, touch_from
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.drifting.thermal import at_temperature
from nonna.metrology.shapes.circles import CircleFit, fit_circles, largest_gap
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import master_flags, require
from nonna.procedures.probe_ring.model import RingReadings
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason

said = saying("probe-ring")

LEAST, LEAST_WITH_HISTORY = 4, 3


HARMONICS = (2, 3)


UNEVEN = 1.6  # largest gap between touches, in even shares, beyond which the spacing is called uneven


@dataclass(frozen=True, slots=True)
class _Turned:
    """Touches by orientation of the spindle, with the circle through them."""

    orientations: tuple[float, ...]
    points: tuple[Floats, ...]
    fit: CircleFit


def _turned(file: RingReadings) -> _Turned:
    least = LEAST_WITH_HISTORY if file.setup.repeatability_mm else LEAST
    by: dict[float, list[tuple[float, float]]] = {}
    for reading in file.readings:
        by.setdefault(float(reading.spindle_deg), []).append((reading.x_mm, reading.y_mm))
    if not by:
        raise TooFewReadingsError("Nothing was touched yet.")
    for turn, points in sorted(by.items()):
        if len(points) < least:
            raise TooFewReadingsError(
                "At {turn:g}° at least {least} touches are needed, not {count}.",
                turn=turn,
                least=least,
                count=len(points),
            )
    orientations = tuple(sorted(by))
    points_by = tuple(np.array(by[turn]) for turn in orientations)
    fit = fit_circles(points_by)
    diameter = file.masters.ring.diameter_mm or 0.0
    if fit.radius > 100.0 * diameter:
        raise DegenerateGeometryError("The touches lie on a straight line, not on the ring: spread them round.")
    return _Turned(orientations, points_by, fit)


def _ball(file: RingReadings, turned: _Turned, touch: TouchScatter, sign: float) -> Quantity:
    ring = file.masters.ring
    influences = Influences()
    temperature, cte = ring.climate(file.conditions).enter(influences, "ring")
    certified = influences.add(
        "ring diameter", ring.diameter_mm or 0.0, ring.u_diameter_mm, field="masters.ring.diameter_mm"
    )
    radius_t = at_temperature(certified, temperature, cte) / 2.0
    weights = np.zeros(turned.fit.spread.shape[0])
    weights[-1] = 1.0
    found = influences.add(TOUCH, turned.fit.radius, *_touch_u(turned, touch, weights))
    return Quantity.of("ball_radius_mm", "Effective ball radius", influences.estimate(sign * (radius_t - found)))


def _touch_u(turned: _Turned, touch: TouchScatter, weights: Floats) -> tuple[float, float]:
    u, dof = touch.reading_u()
    return u * turned.fit.u(weights), dof


def _offsets(turned: _Turned, touch: TouchScatter) -> list[Quantity]:
    """Offset of the ball at 0° and centre of the ring, where the spindle was turned."""
    if len(turned.orientations) != 2:
        return []
    made = []
    for name, title, half in (("offset", "Offset", (-0.5, 0.5)), ("ring", "Ring centre", (0.5, 0.5))):
        for i, axis in enumerate("xy"):
            weights = np.zeros(5)
            weights[i], weights[2 + i] = half
            value = float(half[0] * turned.fit.centres[0, i] + half[1] * turned.fit.centres[1, i])
            influences = Influences()
            number = influences.add(TOUCH, value, *_touch_u(turned, touch, weights))
            made.append(Quantity.of(f"{name}_{axis}_mm", f"{title} {axis.upper()}", influences.estimate(number)))
    return made


def _map(turned: _Turned, radius_t: float, sign: float) -> tuple[Floats, Floats]:
    """Return the directions as the probe sees them (radians) and the effective radius in each."""
    directions, radii = [], []
    for turn, centre, points in zip(turned.orientations, turned.fit.centres, turned.points, strict=True):
        away = points - centre
        directions.append((np.arctan2(away[:, 1], away[:, 0]) - math.radians(turn)) % (2.0 * math.pi))
        radii.append(sign * (radius_t - np.hypot(away[:, 0], away[:, 1])))
    return np.concatenate(directions), np.concatenate(radii)


def _harmonics(directions: Floats, radii: Floats) -> dict[str, dict[str, float]]:
    """Return amplitude and direction of the second and third harmonic, where the touches can tell them."""
    if directions.size < 1 + 2 * len(HARMONICS):
        return {}
    try:
        fit = fit_harmonics(directions, radii, HARMONICS)
    except DegenerateGeometryError:
        return {}  # directions repeat: the map itself is all there is
    found = {}
    for i, order in enumerate(HARMONICS):
        a, b = (float(c) for c in fit.coefficients[1 + 2 * i : 3 + 2 * i])
        found[str(order)] = {
            "amplitude_mm": math.hypot(a, b),
            "direction_deg": full_turn(math.degrees(math.atan2(b, a)) / order),
        }
    return found


def _headline(ball: Quantity, lobing: Quantity, verdict: Verdict, checks: Sequence[Check]) -> Reason:
    if verdict in (Verdict.FAIL, Verdict.UNDECIDED):
        check = next(c for c in checks if c.verdict is verdict)
        return said(
            "over" if verdict is Verdict.FAIL else "open", what=check.title, value=check.value, limit=check.limit
        )
    doubt = ball.estimate.expanded if ball.estimate else 0.0
    return said("found", r=ball.value, U=doubt, lobing=lobing.value)


def _todo(checks: Sequence[Check], verdict: Verdict) -> Reason:
    if verdict is Verdict.FAIL:
        lobes = any(c.title == "Lobing" and c.verdict is Verdict.FAIL for c in checks)
        return said("lobes" if lobes else "dial-in")
    if verdict is Verdict.UNDECIDED:
        return said("more")
    return said("sign")


def _advice(
    gaps: Sequence[float], points: Sequence[Floats], harmonics: Mapping[str, Mapping[str, float]], lobing: float
) -> tuple[Reason, ...]:
    advice = []
    if any(gap > UNEVEN * 2.0 * math.pi / len(p) for gap, p in zip(gaps, points, strict=True)):
        advice.append(said("gap"))
    if harmonics:
        two, three = harmonics["2"]["amplitude_mm"], harmonics["3"]["amplitude_mm"]
        if max(two, three) > 0.25 * lobing:
            advice.append(said("three-lobes" if three >= two else "two-lobes", size=max(two, three)))
    return tuple(advice)


def evaluate(file: RingReadings) -> Evaluation:
    """Circles of one radius through the touches; offset from 0° against 180°."""
    setup, ring = file.setup, file.masters.ring
    diameter = require(ring.diameter_mm, "masters.ring.diameter_mm", positive=True)
    turned = _turned(file)
    touch = touch_from(turned.fit.scatter, **setup.history())
    radius_t = diameter / 2.0 * ring.climate(file.conditions).factor()
    sign = 1.0 if setup.side == "internal" else -1.0
    quantities = [_ball(file, turned, touch, sign), *_offsets(turned, touch)]
    directions, radii = _map(turned, radius_t, sign)
    lobing = Quantity("lobing_mm", "Lobing", float(np.ptp(radii)))
    quantities.append(lobing)
    rule = file.rule.rule()
    checks: list[Check] = []
    if setup.limit_lobing_mm is not None:
        checks.append(check_limit("Lobing", lobing.value, setup.limit_lobing_mm, rule))
    if setup.limit_offset_mm is not None:
        for q in quantities:
            if q.name.startswith("offset") and q.estimate is not None:
                checks.append(check_limit(q.title, q.value, setup.limit_offset_mm, rule, q.estimate))
    gaps = [largest_gap(c, p) for c, p in zip(turned.fit.centres, turned.points, strict=True)]
    flags = (
        *(("scatter-above-history",) if touch.above_history else ()),
        *(() if len(turned.orientations) == 2 else ("no-reversal",)),
        *(("short-arc",) if any(2.0 * math.pi - gap < math.pi - 1e-9 for gap in gaps) else ()),
        *master_flags(ring, without=ring.U_diameter_mm == 0.0),
    )
    verdict = worst(c.verdict for c in checks)
    order = {Verdict.FAIL: 0, Verdict.UNDECIDED: 1, Verdict.PASS: 2, Verdict.NONE: 3}
    harmonics = _harmonics(directions, radii)
    return Evaluation(
        file.procedure,
        tuple(quantities),
        rule,
        _headline(quantities[0], lobing, verdict, checks),
        _todo(checks, verdict),
        tuple(sorted(checks, key=lambda c: order[c.verdict])),
        flags,
        _advice(gaps, turned.points, harmonics, lobing.value),
        {
            "harmonics": harmonics,
            "lobing_map": [{"direction_deg": full_turn(float(np.degrees(t))), "radius_mm": float(r)}
                           for t, r in zip(directions, radii, strict=True)],
        },
    )  # fmt: skip
