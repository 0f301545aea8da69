"""Chuck run-out: a part or bar probed at angles of the chuck, or the second side against the first."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.polar import runout_figure
from nonna.metrology.fits import fit_harmonics, oval_seen
from nonna.metrology.scatter import touch_from
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step
from nonna.procedures.shown import XShows, as_shown, real_per_shown, x_shows
from nonna.procedures.telling import saying
from nonna.procedures.tip_runout import harmonic_estimates
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

LEAST, POSITIONS = 3, 6
SENTENCES = {
    "found-none": "Run-out {runout:small}, ± {U:small}, high at {high:0f}°.",
    "found-pass": "Run-out {runout:small}, ± {U:small}: within {limit:small}.",
    "found-fail": "Run-out {runout:small}, ± {U:small}, over {limit:small}, high at {high:0f}°.",
    "found-undecided": "Run-out {runout:small}, ± {U:small}: the doubt leaves {limit:small} open.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Chips under a jaw? Clean, close again at full pressure. Tap the jaw nearest {high:0f}° in, or bore soft jaws anew.",
    "undecided": "Probe more angles, or each one twice.",
}


class ChuckSetup(Setup):
    """Setup of a chuck's run-out."""

    limit_mm: NotNegative | None = asked("Largest run-out", help="Full swing.", default=None, limit=True)
    x_shows: XShows = x_shows()
    form_mm: NotNegative | None = asked(
        "Out of round", help="Of the surface, peak to valley: three angles take an oval for run-out.", default=None
    )


class ChuckTouch(Strict):
    """Machine position of the probe at one angle of the chuck."""

    angle_deg: Number
    position_mm: Number


class ChuckReadings(ReadingsFile):
    """Readings file of a chuck's run-out."""

    procedure: Literal["chuck-runout"]
    setup: ChuckSetup
    readings: list[ChuckTouch]


class ChuckRunout(Procedure):
    """First harmonic of ``f position`` over the chuck's angle; three angles leave no freedom: history is needed."""

    name = "chuck-runout"
    sentences = SENTENCES
    model: ClassVar[type[ReadingsFile]] = ChuckReadings
    main = ("runout_mm",)
    main_title = "Run-out"
    foreseeable = False
    oval_mm: ClassVar[float] = 0.0  #: out of round that is reckoned with where nobody says, peak to valley
    carries = REPEATABILITY
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.02, "x_shows": "diameter", "resolution_mm": 0.001}
    reads: ClassVar[dict[str, str]] = {}  # as shown: by the machine's zero or the part's, nobody says which
    caution = Caution(
        "Spindle stopped and the chuck at full pressure first",
        "Turn the chuck by the control in steps, never by hand with the drive on. Hands out of the jaws, doors shut while anything moves.",
    )

    def _evaluate(self, file: ChuckReadings) -> Evaluation:
        setup, said = file.setup, saying(self.name)
        if len(file.readings) < LEAST:
            raise TooFewReadingsError(
                "Chuck run-out needs at least {least} angles, not {count}.", least=LEAST, count=len(file.readings)
            )
        factor = real_per_shown("x", setup.x_shows)
        values = np.array([r.position_mm for r in file.readings]) * factor
        angles = np.radians([r.angle_deg for r in file.readings])
        fit = fit_harmonics(angles, values)
        oval = (self.oval_mm if setup.form_mm is None else setup.form_mm) / 2.0
        known = setup.history()
        known["resolution"] *= factor
        touch = touch_from(fit.scatter, **known)
        (eccentricity, high_spot, runout), near_zero = harmonic_estimates(fit, touch, 0.0, oval * oval_seen(angles))
        rule = file.rule.rule()
        checks: tuple[Check, ...] = ()
        if setup.limit_mm is not None:
            checks = (check_limit("Run-out", runout.value, setup.limit_mm, rule, runout, of="runout_mm"),)
        verdict = checks[0].verdict if checks else "none"
        facts = {"runout": runout.value, "U": runout.expanded, "limit": setup.limit_mm or 0.0, "high": high_spot.value}
        flags = (
            *(("scatter-above-history",) if touch.above_history else ()), *(("eccentricity-near-zero",) if near_zero else ()),
        )  # fmt: skip
        quantities = (
            Quantity.of("runout_mm", "Run-out", runout),
            Quantity.of("eccentricity_mm", "Eccentricity", eccentricity),
            Quantity.of("high_spot_deg", "High spot", high_spot, "deg"),
            Quantity("fim_mm", "Full swing", float(np.ptp(values))),
            Quantity("form_mm", "Form, what is left", fit.peak_to_valley),
        )
        return Evaluation(
            file.procedure,
            quantities,
            rule,
            said(f"found-{verdict}", **facts),
            said(str(verdict), **facts),
            checks,
            flags,
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Six angles of the chuck."""
        named = as_shown("x", bench.setup.word("x_shows"))
        return tuple(
            Slot({"angle_deg": i * 360.0 / POSITIONS}, f"{i * 360 / POSITIONS:g}°", f"Probe at {i * 360 / POSITIONS:g}° of the chuck: {named}", "turn", on="x")
            for i in range(POSITIONS)
        )  # fmt: skip

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Clamp the part or bar at full pressure"),
            Step("Turn in steps, probe at each angle", "turn"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The surface round the axis, with the fitted circle."""
        shows: XShows = "radius" if bench.setup.word("x_shows") == "radius" else "diameter"
        factor = real_per_shown("x", shows)
        points = [(float(r["angle_deg"]), float(r["position_mm"]) * factor) for r in readings]
        found = None
        if result is not None:
            found = (result.quantity("eccentricity_mm").value, result.quantity("high_spot_deg").value)
        return runout_figure(points, [], found, None, units, ())
