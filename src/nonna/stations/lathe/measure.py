"""A part measured by the turret probe: diameter, distance, groove, rib; and what the wear column should be."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal

from pydantic import Field

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.lathe import part_figure
from nonna.metrology.uncertain import Estimate, Influences
from nonna.metrology.wear_control import NextWear, next_wear
from nonna.metrology.wear_process import LEAST_PARTS, Part, next_by_process
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u, require
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step, Variant, carried
from nonna.procedures.shown import XShows, as_shown, real_per_shown, x_shows
from nonna.procedures.telling import saying
from nonna.shop.given import Given, Plain
from nonna.shop.strict_model import NotNegative, Number, Positive, Strict
from nonna.stations.lathe.axes import Deep, across, carried_value, enter_shown
from nonna.wording.lengths import Units

Feature = Literal["diameter", "distance", "groove", "rib"]
GAIN, TOUCHES = 0.7, 2
STOP_MM = 0.3  #: an error that no wear makes from one part to the next, where no tolerance says so
_ONE_PROCESS = ("tool", "feature", "side", "axis", "nominal_mm", "x_shows")  #: what parts of one process have alike
said = saying("lathe-measure")
SENTENCES = {
    "found-none": "{size:length}, ± {U:small}: {error:signed} from nominal.",
    "found-pass": "{size:length}, ± {U:small}: {error:signed} from nominal, within its tolerance.",
    "found-fail": "{size:length}, ± {U:small}: {error:signed} from nominal, OUT of its tolerance.",
    "found-undecided": "{size:length}, ± {U:small}: {error:signed} from nominal; the doubt reaches over a limit.",
    "leave": "The error is within its own doubt: the wear stays as it is.",
    "correct": "Wear {old:signed} becomes {new:signed} for the next part.",
    "early": "Part {parts} of this process: its wear is followed from part {least} on, when its scatter is known. It stays as it is.",
    "process-leave": "{parts} parts together say no more than their own scatter: the wear stays as it is.",
    "process-correct": "{parts} parts together: wear {old:signed} becomes {new:signed} for the next one.",
    "stop": "Too far off for wear: broken insert, wrong part or wrong program? No correction is made; look first.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Set the part aside and find out why before the next one.",
    "undecided": "Touch again, each side once more, or measure it by micrometer.",
}


class EarlierPart(Strict):
    """A part measured before, and the wear it was cut with (as shown)."""

    error_mm: Number
    u_mm: NotNegative = 0.0
    wear_mm: Number = 0.0


class PartSetup(Deep):
    """Setup of a part's feature."""

    feature: Feature = asked("What it is", "", "Diameter, distance, groove or rib.")
    nominal_mm: Number = asked("Nominal size", help="From the drawing.")
    side: Literal["internal", "external"] | None = asked("Touched", "", "A diameter: inside or outside.", None)
    axis: Literal["x", "y", "z"] | None = asked("Axis", "", "X for a diameter, Z for the rest, where not said.", None)
    x_shows: XShows = x_shows()
    ball_diameter_mm: Number | None = asked(
        "Effective ball", help="From the ring; inside and outside apart.", default=None
    )
    ball_diameter_u_mm: NotNegative = carried_u("Its standard uncertainty")
    ball_diameter_dof: Dof | None = carried_dof()
    centre_mm: Number | None = asked("Centre", help="As shown; needed where one side only is touched.", default=None)
    centre_u_mm: NotNegative = carried_u("Its standard uncertainty")
    centre_dof: Dof | None = carried_dof()
    lower_mm: Number | None = asked("Lower limit of the error", help="From the drawing.", default=None, limit=True)
    upper_mm: Number | None = asked("Upper limit of the error", help="From the drawing.", default=None, limit=True)
    tool: str | None = asked("Cut by", "", "The tool whose wear is corrected, such as T3.", None)
    wear_mm: Number | None = asked("Wear in the table", help="As shown, of the tool that cut it.", default=None)
    gain: Positive = asked("Gain", "1", "How much of the error is taken away at once.", GAIN)
    step_limit_mm: NotNegative | None = asked("Largest step of the wear", help="As shown.", default=None)
    stop_mm: NotNegative | None = asked("Stop beyond", help="An error this large is no wear.", default=None)
    earlier: list[EarlierPart] = Field(
        [], max_length=1000, title="Parts before", description="Of this process, the oldest first: wear follows them all.",
    )  # fmt: skip


class PartTouch(Strict):
    """Machine position at one trigger: on the + or - side, or of the farther and the nearer of two faces."""

    at: Literal["+", "-"]
    position_mm: Number


class PartReadings(ReadingsFile):
    """Readings file of a part's feature."""

    procedure: Literal["lathe-measure"]
    setup: PartSetup
    readings: list[PartTouch]


class LatheMeasure(Procedure):
    """Internal diameter and groove ``A + ball``, external and rib ``A - ball``, distance ``A``; ``error = size - nominal``."""

    name = "lathe-measure"
    sentences = SENTENCES
    model = PartReadings
    main = ("size_mm",)
    main_title = "Size"
    remembers = ("nominal_mm", "lower_mm", "upper_mm", "step_limit_mm", "stop_mm", "gain")
    offered: ClassVar[dict[str, Any]] = {
        "feature": "diameter",
        "side": "external",
        "x_shows": "diameter",
        "resolution_mm": 0.001,
    }
    variants = (
        Variant("external", "Outside diameter", {"feature": "diameter", "side": "external"}),
        Variant("internal", "Inside diameter", {"feature": "diameter", "side": "internal"}),
        Variant("distance", "Distance of two faces", {"feature": "distance"}),
        Variant("groove", "Groove", {"feature": "groove"}),
        Variant("rib", "Rib", {"feature": "rib"}),
    )
    carries = (
        *REPEATABILITY,
        *carried(
            "ball_diameter",
            "lathe-ring",
            "ball_diameter_mm",
            "ring",
            ("external", "internal", "groove", "rib"),
            needed=False,
        ),
    )
    reads: ClassVar[dict[str, str]] = {}  # as shown: by the machine's zero or the part's, nobody says which
    caution = Caution(
        "Spindle stopped before the probe comes near",
        "Probe awake, doors shut, rapid turned down. Will the stem clear the shoulder? Look first.",
    )

    def _evaluate(self, file: PartReadings) -> Evaluation:
        setup, rule = file.setup, file.rule.rule()
        _check(setup)
        setup.must_reach()
        sides = {at: [r.position_mm for r in file.readings if r.at == at] for at in ("+", "-")}
        sides = {at: values for at, values in sides.items() if values}
        if not sides:
            raise TooFewReadingsError("Nothing was touched yet.")
        if len(sides) == 1 and setup.feature != "diameter":
            raise TooFewReadingsError("Both faces are needed.")
        if len(sides) == 1:
            require(setup.centre_mm, "setup.centre_mm")
        axis = setup.axis or ("x" if setup.feature == "diameter" else "z")
        influences = Influences()
        shown = enter_shown({axis: sides}, setup.x_shows, setup, influences)
        centre = None if len(sides) == 2 else carried_value(setup, influences, "centre", "spindle's centre")
        wide = across(axis, setup.x_shows, shown.means.get("+"), shown.means.get("-"), centre)
        if setup.feature != "distance":
            ball = carried_value(setup, influences, "ball_diameter", "effective ball")
            wide = wide + ball if setup.side == "internal" or setup.feature == "groove" else wide - ball
        size, error = influences.estimate(wide), influences.estimate(wide - setup.nominal_mm)
        quantities = [Quantity.of("size_mm", "Size", size), Quantity.of("error_mm", "Error", error)]
        checks: tuple[Check, ...] = ()
        if setup.lower_mm is not None and setup.upper_mm is not None:
            middle, half = (setup.lower_mm + setup.upper_mm) / 2.0, (setup.upper_mm - setup.lower_mm) / 2.0
            # guarded on each side: the same as the distance from the middle against half the tolerance
            checks = (check_limit("Error from the middle", error.value - middle, half, rule, error, of="error_mm"),)
        flags, extras, advice = shown.flags, {}, []
        if setup.wear_mm is not None:
            found = _next_wear(setup, error, real_per_shown(axis, setup.x_shows))
            quantities.append(
                Quantity("new_wear_mm", f"Wear for the next part, {as_shown(axis, setup.x_shows)}", found.wear)
            )
            flags = (*flags, *(("step-limited",) if found.limited else ()))
            extras["state"] = found.state
            count = len(setup.earlier) + 1
            code: str = found.state
            if count > 1 and code in ("leave", "correct"):
                code = "early" if count < LEAST_PARTS else f"process-{code}"
            advice.append(said(code, old=setup.wear_mm, new=found.wear, parts=count, least=LEAST_PARTS))
        verdict = checks[0].verdict if checks else "none"
        headline = said(f"found-{verdict}", size=size.value, U=size.expanded, error=error.value)
        return Evaluation(
            file.procedure, tuple(quantities), rule, headline, said(str(verdict)), checks, flags, tuple(advice), extras
        )

    def settled(self, bench: Bench) -> Bench:
        """Fill in the parts of the same process: the same tool, feature and size, back to one that was a stop."""
        setup = bench.setup
        if not bench.past:
            return bench  # the book has none: what a file brought stays
        if not setup.word("tool"):
            return _with_earlier(bench, [])
        one = [setup.get(name) for name in _ONE_PROCESS]
        parts: list[Plain] = []
        for each in bench.past:
            if [each.get(name) for name in _ONE_PROCESS] != one:
                continue
            if each.word("state") == "stop":
                break
            parts.append({"error_mm": each["error_mm"], "u_mm": each["u_mm"], "wear_mm": each.number("wear_mm", 0.0)})
        return _with_earlier(bench, parts[::-1])

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Both sides, twice each."""
        feature = bench.setup.word("feature", "diameter")
        words = "face" if feature == "distance" else "side"
        axis = bench.setup.word("axis") or ("x" if feature == "diameter" else "z")
        named = as_shown(axis, bench.setup.word("x_shows"))
        return tuple(
            Slot({"at": at}, f"{at} {i + 1}/{TOUCHES}", f"Touch the {at} {words}: {named}", at, on=axis)
            for at in ("+", "-")
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Blow the part clean; probe in the turret"),
            Step("Touch the + side", "+"),
            Step("The - side", "-"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The feature with its tolerance band and where it came out."""
        setup = bench.setup
        found = None
        if result is not None:
            error = result.quantity("error_mm")
            found = (error.value, error.estimate.expanded if error.estimate else 0.0)
        lower, upper = setup.number("lower_mm"), setup.number("upper_mm")
        limits = (lower, upper) if lower is not None and upper is not None else None
        return part_figure(setup.word("feature", "diameter"), {str(r["at"]) for r in readings}, found, limits, units)


def _with_earlier(bench: Bench, parts: list[Plain]) -> Bench:
    setup = {name: value for name, value in bench.setup.items() if name != "earlier"}
    return replace(bench, setup=Given({**setup, "earlier": parts} if parts else setup))


def _next_wear(setup: PartSetup, error: Estimate, factor: float) -> NextWear:
    """Return the wear for the next part: from this part alone, or from all parts since the process began.

    Without a stop it is the tolerance's width, without a step limit a third of it; without a tolerance what no edge
    wears by from part to part.
    """
    width = None
    if setup.lower_mm is not None and setup.upper_mm is not None:
        width = setup.upper_mm - setup.lower_mm
    stop = setup.stop_mm if setup.stop_mm is not None else width if width else STOP_MM
    limit = setup.step_limit_mm if setup.step_limit_mm is not None else width / 3.0 if width else STOP_MM / 3.0
    old = setup.wear_mm or 0.0
    if not setup.earlier:
        return next_wear(old, error.value, error.expanded, factor, gain=setup.gain, step_limit=limit, stop=stop)
    parts = [Part(each.error_mm, each.u_mm, 2.0 * factor * each.wear_mm) for each in setup.earlier]
    parts.append(Part(error.value, error.u, 2.0 * factor * old))
    return next_by_process(parts, old, factor, gain=setup.gain, step_limit=limit, stop=stop)


def _check(setup: PartSetup) -> None:
    """Raises: NonnaError (a field that this feature needs is missing, or one that it has no use for decides something)."""
    if setup.feature == "diameter":
        if setup.side is None:
            raise NonnaError("missing-field", "setup.side: this is missing.", "setup.side")
    elif setup.wear_mm is not None:
        raise NonnaError("out-of-range", "setup.wear_mm: wear is corrected by diameters only.", "setup.wear_mm")
    for one, other in (("lower_mm", "upper_mm"), ("upper_mm", "lower_mm")):
        if getattr(setup, one) is not None:
            require(getattr(setup, other), f"setup.{other}")
    if setup.lower_mm is not None and setup.upper_mm is not None and setup.lower_mm > setup.upper_mm:
        raise NonnaError("out-of-range", "setup.lower_mm: the lower limit is above the upper one.", "setup.lower_mm")
