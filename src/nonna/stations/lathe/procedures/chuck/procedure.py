"""Chuck run-out: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.polar import runout_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.sheet import REPEATABILITY, Procedure
from nonna.procedures.shown import XShows, as_shown, real_per_shown
from nonna.shop.texts.given import as_number
from nonna.stations.lathe.procedures.chuck import LISTED
from nonna.stations.lathe.procedures.chuck.evaluate import evaluate
from nonna.stations.lathe.procedures.chuck.model import POSITIONS, ChuckReadings
from nonna.wording.lengths import Units


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Six angles of the chuck."""
    named = as_shown("x", facts.setup.word("x_shows"))
    return tuple(
        Slot({"angle_deg": i * 360.0 / POSITIONS}, f"{i * 360 / POSITIONS:g}°",
            f"Probe at {i * 360 / POSITIONS:g}° of the chuck: {named}", "turn", on="x")
        for i in range(POSITIONS)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Clamp the part or bar at full pressure"),
        Step("Turn in steps, probe at each angle", "turn"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The surface round the axis, with the fitted circle."""
    shows: XShows = "radius" if facts.setup.word("x_shows") == "radius" else "diameter"
    factor = real_per_shown("x", shows)
    points = [(as_number(r["angle_deg"]), as_number(r["position_mm"]) * factor) for r in readings]
    found = None
    if result is not None:
        found = (result.quantity("eccentricity_mm").value, result.quantity("high_spot_deg").value)
    return runout_figure(points, [], found, None, units, ())


SENTENCES = {
    "found-none": "Run-out {runout:small}, ± {U:small}, high at {high:0f}°.",
    "found-pass": "Run-out {runout:small}, ± {U:small}: within {limit:small}.",
    "found-fail": "Run-out {runout:small}, ± {U:small}, over {limit:small}, high at {high:0f}°.",
    "found-undecided": "Run-out {runout:small}, ± {U:small}: the doubt leaves {limit:small} open.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Chips under a jaw? Clean, close again at full pressure. Tap the jaw nearest {high:0f}° in, or bore soft "
    "jaws anew.",
    "undecided": "Probe more angles, or each one twice.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "part-turned"},
    steps=steps,
    figure=figure,
    model=ChuckReadings,
    main=("runout_mm",),
    main_title="Run-out",
    foreseeable=False,
    needs=REPEATABILITY,
    offered={"limit_mm": 0.02, "x_shows": "diameter", "resolution_mm": 0.001},
    reads={},
    caution=Caution(
        "Spindle stopped and the chuck at full pressure first",
        "Turn the chuck by the control in steps, never by hand with the drive on. Hands out of the jaws, doors shut "
        "while anything moves.",
    ),
)
