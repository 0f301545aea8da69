"""Beam level: how a light beam leans, by a master pin found at both of its ends."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.level import beam_figure
from nonna.metrology.decision import Verdict, worst
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import TouchScatter, touch_scatter
from nonna.metrology.uncertain import Estimate, Influences
from nonna.procedures.evaluation import Check, Evaluation, Move, Quantity, check_limit
from nonna.procedures.face_level import turn_words
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import Bench, Caution, PassDone, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.procedures.tip_runout import outlook_words
from nonna.shop.gear import Adjuster
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Positive, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

Z = "z_per_100_mm"  #: what the adjuster acts on
PER_MM = 100.0
TIMES = 3

said = saying("beam-level")
SENTENCES = {
    "raise": "Adjuster: raise it by {about} ({turns:2f} turns, {by:small}).",
    "lower": "Adjuster: lower it by {about} ({turns:2f} turns, {by:small}).",
    "span": "{what}: a span of {span:length} would decide it.",
    "found-none": (_FOUND := "Over 100 mm the beam goes {z:signed} in Z and {cross:signed} across") + ".",
    "found-pass": _FOUND + ": level.",
    "found-fail": _FOUND + ": not level yet.",
    "found-undecided": _FOUND + "; the doubt leaves it open.",
    "fail": "Turn the setter on the table until it runs along, and measure again.",
    "undecided": "Measure over a longer span.",
    "pass": "Sign it, then calibrate the beam.",
    "none": "Sign it, then calibrate the beam.",
}


class BeamSetup(Setup):
    """Setup of a beam level."""

    limit_z_mm_per_100: NotNegative | None = asked(
        "Largest fall in Z", "mm per 100", "The beam may rise or fall this much over 100 mm.", None, limit=True
    )
    limit_cross_mm_per_100: NotNegative | None = asked(
        "Largest run across", "mm per 100", "The beam may run sideways this much over 100 mm.", None, limit=True
    )
    span_mm: Positive = asked("Span between the ends")
    adjuster: Adjuster | None = None


class EndReading(Strict):
    """Where the pin met the beam at one end."""

    end: Literal["A", "B"]
    z_mm: Number
    cross_mm: Number


class BeamReadings(ReadingsFile):
    """Readings file of a beam level."""

    procedure: Literal["beam-level"]
    setup: BeamSetup
    readings: list[EndReading]
    value_fields = ("z_mm", "cross_mm")


class BeamLevel(Procedure):
    """Deviation from end A to end B, scaled to 100 mm."""

    name = "beam-level"
    sentences = SENTENCES
    model = BeamReadings
    main = ("z_per_100_mm",)
    main_title = "Z over 100 mm"
    reads: ClassVar[dict[str, str]] = {"z_mm": "z"}
    offered: ClassVar[dict[str, Any]] = {"limit_z_mm_per_100": 0.010, "limit_cross_mm_per_100": 1.0, "span_mm": 100.0}
    caution = Caution(
        "Never look into the beam",
        "Not even for a moment, not at its reflection on the pin. Doors shut while anything moves; spindle stopped.",
    )

    def _evaluate(self, file: BeamReadings) -> Evaluation:
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

    def outlook(self, passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
        """How many more passes, from how fast the fall in Z shrank so far."""
        check = next((c for c in result.checks if c.of == Z), None)
        if check is None or not passes:
            return None
        sizes = [*(p.results["z_per_100_mm"] for p in passes), check.value]
        return outlook_words(sizes, check.limit)

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three times at each end, height and cross position."""
        del bench
        return tuple(
            Slot({"end": end}, f"{end} {i + 1}/{TIMES}", f"End {end}, height Z", end, (f"End {end}, across",))
            for end in ("A", "B")
            for i in range(TIMES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        span = bench.setup.number("span_mm", 0.0)
        return (
            Step("Wipe the windows and the pin; spindle stopped"),
            Step("Find the pin at end A three times", "A"),
            Step(f"Move along the beam by {span:g} mm, find it at end B", "B"),
            Step("Turn the adjuster and measure again"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The beam from the side and from above, exaggerated."""
        found = None
        if result is not None:
            found = (result.quantity("z_deviation_mm").value, result.quantity("cross_deviation_mm").value)
        taken = {end: sum(1 for r in readings if r["end"] == end) for end in ("A", "B")}
        return beam_figure(bench.setup.number("span_mm", 100.0), taken, found, units)


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
