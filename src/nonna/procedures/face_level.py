"""Face level: how a contact setter's pad leans, by an indicator carried over it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field

from nonna.errors import DegenerateGeometryError, NonnaError, TooFewReadingsError
from nonna.figures.level import face_figure
from nonna.metrology.decision import Verdict, worst
from nonna.metrology.fits import fit_plane
from nonna.metrology.scatter import touch_from
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Check, Evaluation, Move, Quantity, check_limit
from nonna.procedures.guess import Guess, guess_by_fit
from nonna.procedures.inputs import IndicatorSetup, ReadingsFile, asked
from nonna.procedures.sheet import Bench, Caution, PassDone, Procedure, Slot, Step, Variant
from nonna.procedures.telling import saying
from nonna.procedures.tip_runout import SCATTER, outlook_words
from nonna.shop.gear import LevelScrew
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Positive, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

LEAST = 4
EDGE = 0.8  #: how far out the indicator goes, as a share of half the pad

said = saying("face-level")
SENTENCES = {
    "pad": "The pad itself is {flat:small} from flat: wipe it, look for a burr.",
    "raise": "Screw {screw}: raise it by {about} ({turns:2f} turns, {by:small}).",
    "lower": "Screw {screw}: lower it by {about} ({turns:2f} turns, {by:small}).",
    "found-none": (_FOUND := "The pad rises {x:signed} in X and {y:signed} in Y") + ".",
    "found-pass": _FOUND + ", within {limit:small} even with the doubt.",
    "found-fail": _FOUND + "; {limit:small} is allowed.",
    "found-undecided": _FOUND + "; the doubt leaves {limit:small} open.",
    "too-far": "Screw {screw} would need {turns:1f} turns: no levelling does that. Look for the cause: a chip under the "
    "setter, a dial that slipped, a reading in the wrong unit.",
    "fail": "Level the setter and measure again.",
    "undecided": "Take a grid of nine places: more places lower the doubt most.",
    "pass": "Sign it, then calibrate the setter.",
    "none": "Sign it, then calibrate the setter.",
}


class FaceLevelSetup(IndicatorSetup):
    """Setup of a face level."""

    limit_mm: NotNegative | None = asked(
        "Largest rise", help="Over the pad's whole width, each way.", default=None, limit=True
    )
    pad_x_mm: Positive = asked("Pad in X")
    pad_y_mm: Positive = asked("Pad in Y")
    screws: list[LevelScrew] = Field([], max_length=24, title="Levelling screws")


class PlaceReading(Strict):
    """The dial over one place of the pad."""

    x_mm: Number
    y_mm: Number
    value_mm: Number


class FaceLevelReadings(ReadingsFile):
    """Readings file of a face level."""

    procedure: Literal["face-level"]
    setup: FaceLevelSetup
    readings: list[PlaceReading]
    value_fields = ("value_mm",)


class FaceLevel(Procedure):
    """Plane ``z = c + sx x + sy y`` through the dial; the rise is the slope over the pad's width."""

    name = "face-level"
    sentences = SENTENCES
    model = FaceLevelReadings
    main = ("rise_x_mm", "rise_y_mm")
    beside = ("slope_x", "slope_y")
    main_title = "Rise in X"
    foreseeable = False
    reads: ClassVar[Mapping[str, str]] = {"value_mm": "dial"}
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.005, "indicator": {"resolution_mm": 0.001}}
    variants = (Variant("cross", "Cross, five places"), Variant("grid", "Grid, nine places"))
    caution = Caution(
        "Spindle stopped and locked",
        "The indicator rides in the spindle: drive off. Move by handwheel only, doors as your shop's rules say.",
    )

    def _evaluate(self, file: FaceLevelReadings) -> Evaluation:
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
            rise = influences.add(SCATTER, slope * pad, u, dof) + influences.add(
                "indicator", 0.0, mpe, shape="rectangular"
            )
            rises.append(Quantity.of(f"rise_{axis}_mm", f"Rise in {axis.upper()}", influences.estimate(rise)))
            slopes.append(
                Quantity.of(f"slope_{axis}", f"Slope in {axis.upper()}", influences.estimate(rise / pad), "1")
            )
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

    def guess(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str) -> Guess | None:
        """By the plane through the other places, once there are enough; before that no setter leans beyond reason."""
        del bench
        x, y = float(slot.fields["x_mm"]), float(slot.fields["y_mm"])
        if len(readings) <= LEAST:
            away = [(math.hypot(r["x_mm"] - x, r["y_mm"] - y), float(r[field])) for r in readings]
            near, value = min(away, default=(0.0, 0.0))
            return Guess(value, STEEPEST * near, math.inf) if near > 0.0 else None
        try:
            fit = fit_plane([r["x_mm"] for r in readings], [r["y_mm"] for r in readings], [r[field] for r in readings])
        except DegenerateGeometryError:
            return None
        return guess_by_fit(fit, (1.0, x, y))

    def outlook(self, passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
        """How many more passes, from how fast the larger rise shrank so far."""
        if not result.checks or not passes:
            return None
        sizes = [max(abs(p.results["rise_x_mm"]), abs(p.results["rise_y_mm"])) for p in passes]
        return outlook_words([*sizes, max(abs(result.quantity(n).value) for n in self.main)], result.checks[0].limit)

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """A cross of five places or a grid of nine, about the pad's middle."""
        x = bench.setup.number("pad_x_mm", bench.pad_width) / 2 * EDGE
        y = bench.setup.number("pad_y_mm", bench.pad_width) / 2 * EDGE
        if bench.variant == "grid":
            places = [(i, j) for j in (-1, 0, 1) for i in (-1, 0, 1)]
        else:
            places = [(0, 0), (1, 0), (-1, 0), (0, 1), (0, -1)]
        return tuple(
            Slot({"x_mm": round(i * x * _CORNER[bench.variant == "grid" and bool(i and j)], 3),
                  "y_mm": round(j * y * _CORNER[bench.variant == "grid" and bool(i and j)], 3)},
                 _place_name(i, j), f"Dial {_place_name(i, j)}", "places")
            for i, j in places
        )  # fmt: skip

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Wipe the pad; indicator in the spindle, spindle locked"),
            Step("Dial on the middle of the pad, set to zero"),
            Step("Carry it over the pad, read at each place", "places"),
            Step("Turn the screws named and measure again"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The pad from above and how it leans, exaggerated."""
        pad = (bench.setup.number("pad_x_mm", bench.pad_width), bench.setup.number("pad_y_mm", bench.pad_width))
        rises = tuple(result.quantity(n).value for n in self.main) if result else None
        screws = [(s.word("name"), s.number("x_mm", 0.0), s.number("y_mm", 0.0)) for s in bench.setup.rows("screws")]
        places = [(s.fields["x_mm"], s.fields["y_mm"]) for s in self.slots(bench)]
        return face_figure(
            pad, places, readings, rises, screws, {m.screw for m in result.moves} if result else set(), units
        )


STEEPEST = 0.01  #: standard deviation of a lean before anything is known of it
MOST_TURNS = 2.0  #: of a levelling screw; beyond it the cause is elsewhere
_CORNER = {False: 1.0, True: 0.85}  # corners of a round pad lie off it
_HALF_TURN_WORDS = (
    (0.02, "a hair"), (0.06, "a twentieth of a turn"), (0.1, "a twelfth of a turn"), (0.145, "an eighth of a turn"), (0.22, "a quarter turn less a bit"),
    (0.28, "a quarter turn"), (0.36, "a third of a turn"), (0.45, "half a turn less a bit"), (0.55, "half a turn"),
    (0.7, "two thirds of a turn"), (0.8, "three quarters of a turn"), (0.95, "a turn less a bit"), (1.05, "a full turn"),
)  # fmt: skip


def turn_words(turns: float) -> str:
    """Say an amount of turning as one would at the machine: "a quarter turn less a bit"."""
    size = abs(turns)
    for upto, words in _HALF_TURN_WORDS:
        if size <= upto:
            return words
    return f"{size:.1f} turns"


def _place_name(i: int, j: int) -> str:
    if i == 0 and j == 0:
        return "in the middle"
    depth = {1: "back", -1: "front", 0: ""}[j]
    side = {1: "right", -1: "left", 0: ""}[i]
    return " ".join(word for word in (depth, side) if word)


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
