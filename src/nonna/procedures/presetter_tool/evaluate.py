"""A tool measured on a calibrated presetter."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import worst
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.uncertain import Influences, Uncertain, value_of
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import require
from nonna.procedures.presetter_calibration.model import PPM
from nonna.procedures.presetter_tool.model import NAMES, Axis, PresetterToolReadings, PresetterToolSetup
from nonna.procedures.shown import shown_scatter
from nonna.procedures.telling import saying

said = saying("presetter-tool")


def put_right(
    setup: PresetterToolSetup, axis: Axis, mean: Uncertain, influences: Influences | None = None
) -> Uncertain:
    """Return the length, or the diameter, that a mean reading stands for; without influences as a plain number.

    Raises: MissingFieldError (the calibration of that axis).
    """

    def given(end: str) -> float:
        value: float | None = getattr(setup, f"{axis}_{end}")
        return require(value, f"setup.{axis}_{end}")

    def dof(end: str) -> float:
        freedom: float | None = getattr(setup, f"{axis}_{end}_dof")
        return float("inf") if freedom is None else freedom

    def entered(name: str, value: float, u: float, end: str, field: str) -> Uncertain:
        return value if influences is None else influences.add(name, value, u, dof(end), field=field)

    offset = entered("zero", given("offset_mm"), given("offset_u_mm"), "offset", f"setup.{axis}_offset_mm")
    scale = entered("scale", given("scale_ppm") / PPM, given("scale_u_ppm") / PPM, "scale", f"setup.{axis}_scale_ppm")
    size = mean + offset + scale * (float(value_of(mean)) - given("pivot_mm"))
    return size * 2 if axis == "x" and setup.x_shows == "radius" else size


def evaluate(file: PresetterToolReadings) -> Evaluation:
    """``length = r + offset + scale (r - pivot)``; the diameter likewise, twice it where X shows the radius."""
    setup, rule = file.setup, file.rule.rule()
    if not file.readings:
        raise TooFewReadingsError("Nothing was measured yet.")
    influences = Influences()
    quantities: list[Quantity] = []
    checks: list[Check] = []
    above = False
    for axis in ("z", "x"):
        name, title = NAMES[axis]
        values = [r.value_mm for r in file.readings if r.axis == axis]
        limit: float | None = getattr(setup, f"limit_{name}_mm")
        expected: float | None = getattr(setup, f"expected_{name}_mm")
        if limit is not None:
            require(expected, f"setup.expected_{name}_mm")
        if not values:
            continue
        touch = shown_scatter({"all": values}, axis, setup.x_shows, setup)
        above = above or touch.above_history
        mean = enter_means({"all": values}, touch, influences)["all"]
        estimate = influences.estimate(put_right(setup, axis, mean, influences))
        quantities.append(Quantity.of(f"{name}_mm", title, estimate))
        if limit is not None and expected is not None:
            checks.append(
                check_limit(f"{title}: change", estimate.value - expected, limit, rule, estimate, of=f"{name}_mm")
            )
    told = [
        said(q.name.removesuffix("_mm"), value=q.value, U=q.estimate.expanded if q.estimate else 0.0)
        for q in quantities
    ]
    return Evaluation(
        file.procedure, tuple(quantities), rule, told[0], said(str(worst(c.verdict for c in checks))),
        tuple(checks), ("scatter-above-history",) if above else (), tuple(told[1:]),
    )  # fmt: skip
