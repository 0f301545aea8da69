"""Rack of tool pockets: where each pocket is, whether its clip is bent, and the row they make."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import replace
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from pydantic import Field

from nonna.errors import NoRepeatabilityError, TooFewReadingsError
from nonna.figures.rack import rack_figure
from nonna.metrology.decision import worst
from nonna.metrology.pocket_row import LEAST_KEPT, PocketRow, fit_row
from nonna.metrology.quantiles import variance_ratio
from nonna.metrology.scatter import HISTORY_TEST_P, pooled
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity, check_limit
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step, Variant
from nonna.procedures.telling import saying
from nonna.shop.given import Given
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Positive, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure

Face = Literal["+x", "-x", "+y", "-y", "top"]
FACES: tuple[Face, ...] = ("+x", "-x", "+y", "-y", "top")
POCKETS, LEAST, MOST = 8, 3, 60  #: of a rack of which nobody said how many it has; what is measured as one row

said = saying("rack-pockets")
SENTENCES = {
    "found": "{count} pockets, {pitch:length} apart, rising {rise:signed} a pocket.",
    "one-bent": "{count} pockets; pocket {names:list} stands out of the row.",
    "some-bent": "{count} pockets; pockets {names:list} stand out of the row.",
    "aside": "Pocket {pocket} stands {off:small} off the row and {height:signed} in height: straighten its clip or replace it, "
    "then measure it again.",
    "too-few": "{count} places lie within {off:small} of their own line; with fewer than four nobody can tell which one is bent: measure one more.",
    "fits": "Place {names:list} stands within {off:small} of the row of the {known} others, as the book has them. Was the home lost since, "
    "or did anything touch the rack? Then measure the whole row.",
    "straight": "No clip is bent: the pockets stand in one row within {off:small}.",
    "pass": "Sign it and load the places into the control.",
    "none": "Sign it and load the places into the control.",
    "fail": "Mend what stands out before a tool is parked there.",
    "undecided": "Measure the row again.",
}


class KnownPocket(Strict):
    """Where a pocket stood when the row was measured; nothing befell it since."""

    pocket: int
    x_mm: Number
    y_mm: Number
    z_mm: Number
    diameter_mm: Positive


class RackSetup(Setup):
    """Setup of a rack, or of one renewed place of it."""

    renewed: int | None = asked("Renewed place", "1", "Its number: the one place with a new clip.", None)
    known: list[KnownPocket] = Field(
        [], max_length=MOST, title="Places the book knows", description="Of the same row; those measured now replace theirs.",
    )  # fmt: skip
    holder_diameter_mm: Positive = asked("Diameter of the bare holder", help="Where the rod touches it.")
    rod_diameter_mm: Positive = asked("Diameter of the rod", help="In the spindle.")
    limit_off_line_mm: NotNegative | None = asked("Off the line, at most", default=None, limit=True)
    limit_height_mm: NotNegative | None = asked("Off in height, at most", default=None, limit=True)
    limit_diameter_mm: NotNegative | None = asked(
        "Off in diameter, at most", help="More tells of a holder that does not sit.", default=None, limit=True
    )


class PocketReading(Strict):
    """Spindle position at one touch of the holder that hangs in a pocket."""

    pocket: int
    face: Face
    position_mm: Number


class RackReadings(ReadingsFile):
    """Readings file of a rack."""

    procedure: Literal["rack-pockets"]
    setup: RackSetup
    readings: list[PocketReading]


class RackPockets(Procedure):
    """Places of pockets from five faces each, and the straight row of those not set aside."""

    name = "rack-pockets"
    sentences = SENTENCES
    model = RackReadings
    main = ("off_line_mm",)
    main_title = "Worst off the line"
    carries = REPEATABILITY
    remembers = ("holder_diameter_mm", "rod_diameter_mm")
    looks_back = "pockets"
    variants = (
        Variant("row", "The whole row"),
        Variant("one", "One renewed place, against the row the book knows"),
    )
    first = "Touch the rod to the holder: do both leads ring?"
    offered: ClassVar[dict[str, Any]] = {
        "limit_off_line_mm": 0.2, "limit_height_mm": 0.2, "limit_diameter_mm": 0.1, "resolution_mm": 0.001,
    }  # fmt: skip
    caution = Caution(
        "Hands clear of the rack while the gantry moves",
        "Spindle stopped and confirmed; step it, do not jog it, over the pockets. Check that both leads ring before "
        "each touch.",
    )

    def _evaluate(self, file: RackReadings) -> Evaluation:
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
            file.procedure, quantities, rule, found, said(str(verdict)), checks, flags, _advice(numbers, row, new if setup.known else []),
            {"pockets": pockets},
        )  # fmt: skip

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Four sides and the top of each pocket, down the row."""
        count, unnamed = _count(bench), bench.variant == "one" and bench.setup.number("renewed") is None
        return tuple(
            Slot(
                {"pocket": pocket, "face": face}, f"{pocket} {face}",
                "Which place is new? Say its number first (F9)" if unnamed else
                f"Pocket {pocket} of {count}: touch {'the top' if face == 'top' else f'from the {face} side'}", "touch",
            )
            for pocket in _asked_for(bench, count)
            for face in FACES
        )  # fmt: skip

    def settled(self, bench: Bench) -> Bench:
        """For one renewed place: the others as the book has them, those that stood out left aside."""
        setup = {name: value for name, value in bench.setup.items() if name != "known"}
        renewed = bench.setup.number("renewed")
        if bench.variant == "one" and renewed is not None:
            rows = (
                row for row in bench.before.rows("pockets") if not row.get("set_aside") and row["pocket"] != renewed
            )
            setup["known"] = [{name: row[name] for name in KnownPocket.model_fields} for row in rows]
        return replace(bench, setup=Given(setup))

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Rod in the spindle; one lead on the holder, one on the rod: touch them, it must ring"),
            Step("Hang the bare holder upside down in the pocket; four sides and the top", "touch"),
            Step("On to the next pocket"),
            Step("Sign"),
        )

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """This very touch before, or the same face one pocket on, by the step the row has so far."""
        known = super().expected(bench, slot, readings, field)
        if known is not None:
            return known
        same = [(int(r["pocket"]), float(r["position_mm"])) for r in readings if r["face"] == slot.fields["face"]]
        if len(same) < 2 or same[-1][0] == same[0][0]:
            return None
        step = (same[-1][1] - same[0][1]) / (same[-1][0] - same[0][0])
        return same[-1][1] + step * (int(slot.fields["pocket"]) - same[-1][0])

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The row from above and from the side, deviations exaggerated; a bent clip stands out."""
        pockets = result.extras["pockets"] if result else []
        return rack_figure(pockets, len({r["pocket"] for r in readings}), units, bench.before.rows("pockets"))


def _asked_for(bench: Bench, count: int) -> Iterable[int]:
    """Return the pockets to be touched: all of the row, or the renewed one (the first until it is named)."""
    return range(1, count + 1) if bench.variant != "one" else (int(bench.setup.number("renewed", 1.0)),)


def _count(bench: Bench) -> int:
    return bench.pockets if LEAST <= bench.pockets <= MOST else POCKETS


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
    """Say what stands out. Parameters: renewed, the places held against a row that is known, none for a row of its own."""
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
