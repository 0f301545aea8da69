"""Rack of tool pockets: where each pocket is, whether its clip is bent, and the row they make."""

from __future__ import annotations

import math

from nonna.errors import NoRepeatabilityError, TooFewReadingsError
from nonna.metrology.doubt.decision import worst
from nonna.metrology.doubt.quantiles import variance_ratio
from nonna.metrology.doubt.scatter import HISTORY_TEST_P, pooled
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.shapes.pocket_row import LEAST_KEPT, PocketRow, fit_row
from nonna.procedures.evaluation import Evaluation, Quantity, check_limit
from nonna.procedures.rack_pockets.model import FACES, RackReadings, RackSetup
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason

said = saying("rack-pockets")


def _groups(file: RackReadings) -> dict[tuple[int, str], list[float]]:
    """Return the touches by pocket and face. Raises: TooFewReadingsError naming what is missing."""
    groups: dict[tuple[int, str], list[float]] = {}
    for reading in file.readings:
        groups.setdefault((reading.pocket, reading.face), []).append(reading.position_mm)
    if not groups:
        raise TooFewReadingsError("No pocket was measured yet.")
    for pocket in sorted({p for p, _ in groups}):
        missing = [face for face in FACES if (pocket, face) not in groups]
        if missing:
            raise TooFewReadingsError(
                "Pocket {pocket}: {names} not touched yet; all five are needed.",
                pocket=pocket,
                names=" and ".join(missing),
            )
    return groups


def _place(means: dict[tuple[int, str], float], pocket: int) -> tuple[float, float, float]:
    return (
        (means[pocket, "+x"] + means[pocket, "-x"]) / 2.0,
        (means[pocket, "+y"] + means[pocket, "-y"]) / 2.0,
        means[pocket, "top"],
    )


def _diameter(means: dict[tuple[int, str], float], pocket: int, rod: float) -> float:
    return (means[pocket, "+x"] - means[pocket, "-x"] + means[pocket, "+y"] - means[pocket, "-y"]) / 2.0 - rod


def _row_quantities(row: PocketRow) -> tuple[Quantity, ...]:
    """Return pitch, direction and rise; each has the doubt its own residuals give."""
    rows = (
        ("pitch_mm", "Pitch", row.pitch, row.u_pitch, "mm"),
        ("direction_deg", "Direction", math.degrees(row.direction) % 360.0, math.degrees(row.u_direction), "deg"),
        ("rise_mm", "Rise a pocket", row.rise, row.u_rise, "mm"),
    )
    made = []
    for name, title, value, u, unit in rows:
        if u <= 0.0:
            raise NoRepeatabilityError()
        influences = Influences()
        estimate = influences.estimate(influences.add("scatter of the pockets", value, u, row.dof))
        made.append(Quantity.of(name, title, estimate, unit))
    return tuple(made)


def _holder(diameters: list[float]) -> Quantity:
    """Return the holder's diameter, the mean over the pockets it hung in."""
    here = pooled([diameters])
    mean = math.fsum(diameters) / len(diameters)
    u = math.sqrt(here.variance / len(diameters))
    if u <= 0.0:
        return Quantity("diameter_mm", "Holder", mean)
    influences = Influences()
    return Quantity.of(
        "diameter_mm", "Holder", influences.estimate(influences.add("scatter of the pockets", mean, u, here.dof))
    )


def _above_history(groups: dict[tuple[int, str], list[float]], setup: RackSetup) -> bool:
    """Whether repeated touches of one face scatter more than the known repeatability allows."""
    here = pooled(list(groups.values()))
    if setup.repeatability_mm is None or here.dof < 1:
        return False
    bound = math.sqrt(variance_ratio(HISTORY_TEST_P, here.dof, setup.repeatability_dof or math.inf))
    return math.sqrt(here.variance) > bound * setup.repeatability_mm


def _advice(numbers: list[int], row: PocketRow, renewed: list[int]) -> tuple[Reason, ...]:
    """Say what stands out. Parameters: renewed, the places held against a row that is known, none for a row of its
    own.
    """
    if renewed and not {numbers[k] for k in row.set_aside} & set(renewed) and len(numbers) >= LEAST_KEPT:
        off = max(float(row.off_line[numbers.index(pocket)]) for pocket in renewed)
        return (said("fits", names=renewed, off=off, known=len(numbers) - len(renewed)),)
    if not row.set_aside and len(numbers) < LEAST_KEPT:
        return (said("too-few", count=len(numbers), off=float(row.off_line.max())),)
    if not row.set_aside:
        return (said("straight", off=float(row.off_line.max())),)
    return tuple(
        said("aside", pocket=numbers[k], off=float(row.off_line[k]), height=float(row.height[k])) for k in row.set_aside
    )


def evaluate(file: RackReadings) -> Evaluation:
    """Places of pockets from five faces each, and the straight row of those not set aside."""
    setup, rule = file.setup, file.rule.rule()
    groups = _groups(file)
    means = {key: math.fsum(values) / len(values) for key, values in groups.items()}
    new = sorted({pocket for pocket, _ in groups})
    stand = {each.pocket: ((each.x_mm, each.y_mm, each.z_mm), each.diameter_mm) for each in setup.known}
    stand |= {pocket: (_place(means, pocket), _diameter(means, pocket, setup.rod_diameter_mm)) for pocket in new}
    numbers = sorted(stand)
    places = [stand[pocket][0] for pocket in numbers]
    diameters = [stand[pocket][1] for pocket in new]
    row = fit_row(numbers, places, setup.repeatability_mm or 0.0, setup.resolution_mm)
    now = [numbers.index(pocket) for pocket in new]  # what is judged: the rest was, when it was measured
    off, height = float(row.off_line[now].max()), float(abs(row.height[now]).max())
    wide = max(diameters, key=lambda d: abs(d - setup.holder_diameter_mm))
    quantities = (
        *_row_quantities(row),
        Quantity("off_line_mm", "Worst off the line", off),
        Quantity("height_mm", "Worst off in height", height),
        _holder(diameters),
    )
    limits = (
        ("Off the line", off, setup.limit_off_line_mm, "off_line_mm"),
        ("Height", height, setup.limit_height_mm, "height_mm"),
        ("Diameter", wide - setup.holder_diameter_mm, setup.limit_diameter_mm, "diameter_mm"),
    )
    checks = tuple(check_limit(t, v, limit, rule, of=of) for t, v, limit, of in limits if limit is not None)
    found = said("found", count=len(numbers), pitch=row.pitch, rise=row.rise)
    if row.set_aside:
        names = sorted(numbers[k] for k in row.set_aside)
        found = said("one-bent" if len(names) == 1 else "some-bent", count=len(numbers), names=names)
    verdict = worst(c.verdict for c in checks)
    pockets = [
        {
            "pocket": number, "x_mm": place[0], "y_mm": place[1], "z_mm": place[2], "diameter_mm": stand[number][1],
            "along_mm": float(row.along[k]), "across_mm": float(row.across[k]), "height_mm": float(row.height[k]),
            "set_aside": k in row.set_aside,
        }
        for k, (number, place) in enumerate(zip(numbers, places, strict=True))
    ]  # fmt: skip
    flags = ("scatter-above-history",) if _above_history(groups, setup) else ()
    return Evaluation(
        file.procedure, quantities, rule, found, said(str(verdict)), checks, flags,
        _advice(numbers, row, new if setup.known else []),
        {"pockets": pockets},
    )  # fmt: skip
