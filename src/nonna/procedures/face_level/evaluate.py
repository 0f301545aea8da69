"""Face level: how a contact setter's pad leans, by an indicator carried over it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.metrology.doubt.decision import Verdict, worst
from nonna.metrology.doubt.fits import fit_plane
from nonna.metrology.doubt.scatter import touch_from
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Move, Quantity, check_limit
from nonna.procedures.face_level.model import LEAST, FaceLevelReadings
from nonna.procedures.telling import saying
from nonna.procedures.tip_runout.evaluate import SCATTER
from nonna.shop.cards.gear import LevelScrew
from nonna.shop.reason import Reason

said = saying("face-level")

MOST_TURNS = 2.0  #: of a levelling screw; beyond it the cause is elsewhere


_HALF_TURN_WORDS = (
    (0.02, "a hair"), (0.06, "a twentieth of a turn"), (0.1, "a twelfth of a turn"), (0.145, "an eighth of a turn"),
    (0.22, "a quarter turn less a bit"),
    (0.28, "a quarter turn"), (0.36, "a third of a turn"), (0.45, "half a turn less a bit"), (0.55, "half a turn"),
    (0.7, "two thirds of a turn"), (0.8, "three quarters of a turn"), (0.95, "a turn less a bit"),
    (1.05, "a full turn"),
)  # fmt: skip


def turn_words(turns: float) -> str:
    """Say an amount of turning as one would at the machine: "a quarter turn less a bit"."""
    size = abs(turns)
    for upto, words in _HALF_TURN_WORDS:
        if size <= upto:
            return words
    return f"{size:.1f} turns"


def _turns(screws: Sequence[LevelScrew], sx: float, sy: float) -> dict[str, float]:
    """Return turns by screw, + raises, about the pivot (the origin of the readings without one)."""
    pivots = [s for s in screws if s.pivot]
    if len(pivots) > 1:
        raise NonnaError("out-of-range", "setup.screws: only one screw can be the pivot.", "setup.screws")
    if len({s.name for s in screws}) < len(screws):
        raise NonnaError("out-of-range", "setup.screws: two screws have the same name.", "setup.screws")
    xp, yp = (pivots[0].x_mm, pivots[0].y_mm) if pivots else (0.0, 0.0)
    return {s.name: -(sx * (s.x_mm - xp) + sy * (s.y_mm - yp)) / s.pitch_mm + 0.0 for s in screws}


def _moves(screws: Sequence[LevelScrew], turns: dict[str, float], verdict: Verdict) -> tuple[Move, ...]:
    if verdict not in (Verdict.FAIL, Verdict.UNDECIDED):
        return ()
    rows = sorted((s for s in screws if not s.pivot and turns[s.name] != 0.0), key=lambda s: -abs(turns[s.name]))
    if any(abs(turns[s.name]) > MOST_TURNS for s in rows):
        return ()  # no levelling: something else is wrong, see `_todo`
    made = []
    for s in rows:
        turn = turns[s.name]
        words = said(
            "raise" if turn > 0 else "lower",
            screw=s.name,
            about=turn_words(turn),
            turns=abs(turn),
            by=abs(turn) * s.pitch_mm,
        )
        made.append(Move(s.name, words, turn * s.pitch_mm))
    return tuple(made)


def _headline(rises: Sequence[Quantity], limit: float | None, verdict: Verdict) -> Reason:
    return said(f"found-{verdict}", x=rises[0].value, y=rises[1].value, limit=limit or 0.0)


def _todo(verdict: Verdict, moves: Sequence[Move], turns: Mapping[str, float]) -> Reason:
    if moves:
        return moves[0].words
    far = max(turns, key=lambda name: abs(turns[name]), default="")
    if far and abs(turns[far]) > MOST_TURNS:
        return said("too-far", screw=far, turns=abs(turns[far]))
    return said(str(verdict))


def evaluate(file: FaceLevelReadings) -> Evaluation:
    """Plane ``z = c + sx x + sy y`` through the dial; the rise is the slope over the pad's width."""
    setup = file.setup
    if len(file.readings) < LEAST:
        raise TooFewReadingsError(
            "A plane needs at least {least} places, not {count}.", least=LEAST, count=len(file.readings)
        )
    dial = setup.indicator
    values = [r.value_mm * dial.cosine for r in file.readings]
    fit = fit_plane([r.x_mm for r in file.readings], [r.y_mm for r in file.readings], values)
    touch = touch_from(fit.scatter, **setup.history())
    touch_u, dof = touch.reading_u()
    _, sx, sy = (float(c) for c in fit.coefficients)
    mpe = dial.mpe_mm * dial.cosine / math.sqrt(3.0)
    rises, slopes = [], []
    for axis, slope, pad, weights in (
        ("x", sx, setup.pad_x_mm, (0.0, 1.0, 0.0)),
        ("y", sy, setup.pad_y_mm, (0.0, 0.0, 1.0)),
    ):
        influences = Influences()
        u = touch_u * fit.u(*weights) * pad
        rise = influences.add(SCATTER, slope * pad, u, dof) + influences.add("indicator", 0.0, mpe, shape="rectangular")
        rises.append(Quantity.of(f"rise_{axis}_mm", f"Rise in {axis.upper()}", influences.estimate(rise)))
        slopes.append(Quantity.of(f"slope_{axis}", f"Slope in {axis.upper()}", influences.estimate(rise / pad), "1"))
    rule = file.rule.rule()
    checks: tuple[Check, ...] = ()
    if setup.limit_mm is not None:
        checks = tuple(check_limit(q.title, q.value, setup.limit_mm, rule, q.estimate) for q in rises)
    verdict = worst(check.verdict for check in checks)
    turns = _turns(setup.screws, sx, sy)
    moves = _moves(setup.screws, turns, verdict)
    flat = Quantity("flatness_mm", "Flatness, what is left", fit.peak_to_valley)
    advice = [move.words for move in moves[1:]]
    if setup.limit_mm is not None and flat.value > setup.limit_mm:
        advice.append(said("pad", flat=flat.value))
    return Evaluation(
        file.procedure,
        (*rises, *slopes, flat),
        rule,
        _headline(rises, setup.limit_mm, verdict),
        _todo(verdict, moves, turns),
        tuple(sorted(checks, key=lambda check: -check.guard_high)),
        ("scatter-above-history",) if touch.above_history else (),
        tuple(advice),
        {"turns": turns} if turns else {},
        moves,
    )
