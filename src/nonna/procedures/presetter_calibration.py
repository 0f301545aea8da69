"""Presetter calibration: zero and scale of both axes from two masters, proved on a third."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any, ClassVar, Literal

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.figures.presetter import corrections_figure
from nonna.metrology.agreement import en_number
from nonna.metrology.decision import worst
from nonna.metrology.means import enter_means
from nonna.metrology.thermal import at_temperature
from nonna.metrology.two_masters import AxisLine, line_through
from nonna.metrology.uncertain import Influences, Uncertain, value_of
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import (
    Dof,
    Master,
    Masters,
    ReadingsFile,
    Setup,
    asked,
    carried_dof,
    master_flags,
    require,
)
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step
from nonna.procedures.shown import XShows, shown_scatter, x_shows
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure
    from nonna.shop.masters import MasterCard

Axis = Literal["z", "x"]
Role = Literal["low", "high", "proof"]
TOUCHES = 3
FITTED = 2  #: masters that tell a line
PPM = 1e6
_WORDS = {"z": "Length", "x": "Diameter"}
_ROLE_WORDS = {"low": "Short master", "high": "Long master", "proof": "Proof master"}

said = saying("presetter-calibration")
SENTENCES = {
    "found": "{axis}: zero off by {offset:signed}, scale by {scale:1f} ppm, ± {U:small} at the zero.",
    "found-one": "{axis}: zero off by {offset:signed}, ± {U:small}; the scale was taken as it is.",
    "proved": "Proof: {error:signed} off, Eₙ {en:2f}.",
    "not-held": "The proof master does not come out as certified. Clean masters and taper, and measure all three again.",
    "one-master": "One master tells no scale: away from its size the doubt grows by what you gave for the scale.",
    "no-proof": "No third master was measured: nothing proves this yet.",
    "pass": "Sign it. Tools measured here are put right by it from now on.",
    "none": "Sign it. Tools measured here are put right by it from now on.",
    "fail": "Clean masters and taper and start again; if it stays, have the presetter seen to.",
    "undecided": "Measure each master again: the doubt is too large for the limit.",
}


class PresetterSetup(Setup):
    """Setup of a presetter calibration."""

    x_shows: XShows = x_shows()
    z_scale_u_ppm: NotNegative | None = asked(
        "Doubt of the Z scale", "1", "Standard uncertainty in ppm; needed where one master only was measured.", None
    )
    z_scale_dof: Dof | None = carried_dof()
    x_scale_u_ppm: NotNegative | None = asked(
        "Doubt of the X scale", "1", "Standard uncertainty in ppm; needed where one master only was measured.", None
    )
    x_scale_dof: Dof | None = carried_dof()
    limit_proof_mm: NotNegative | None = asked(
        "Largest error of the proof", help="On the master not used for fitting.", default=None, limit=True
    )
    limit_scale_ppm: NotNegative | None = asked(
        "Largest scale error", "1", "In millionths of the length.", None, limit=True
    )


class PresetterMasters(Masters):
    """Two masters to fit by, and one to prove it."""

    low: Master
    high: Master | None = None
    proof: Master | None = None


class ShownReading(Strict):
    """What the display shows on one axis with a master in the spindle."""

    master: Role
    axis: Axis
    value_mm: Number


class PresetterReadings(ReadingsFile):
    """Readings file of a presetter calibration."""

    procedure: Literal["presetter-calibration"]
    setup: PresetterSetup
    masters: PresetterMasters
    readings: list[ShownReading]
    value_fields = ("value_mm",)


class PresetterCalibration(Procedure):
    """``true = shown + offset + scale (shown - pivot)``, each axis apart."""

    name = "presetter-calibration"
    sentences = SENTENCES
    model = PresetterReadings
    main = ("z_offset_mm",)
    main_title = "Zero of the length"
    role = "low"
    master_kinds = ("master-tool",)
    beside = ("z_pivot_mm", "x_pivot_mm")
    reads: ClassVar[dict[str, str]] = {}
    offered: ClassVar[dict[str, Any]] = {"x_shows": "diameter", "limit_proof_mm": 0.005, "resolution_mm": 0.001}
    caution = Caution(
        "Sharp edges, heavy tools",
        "Both hands for a heavy master; nothing on the sliding way while it moves. Never look into the lamp.",
    )

    def _evaluate(self, file: PresetterReadings) -> Evaluation:
        if not file.readings:
            raise TooFewReadingsError("Nothing was measured yet.")
        rule = file.rule.rule()
        influences = Influences()
        temperature = file.masters.low.climate(file.conditions).enter_temperature(influences)
        quantities: list[Quantity] = []
        checks: list[Check] = []
        found: list[Reason] = []
        advice: list[Reason] = []
        above = not_held = False
        for axis in ("z", "x"):
            groups = _groups(file, axis)
            if not groups:
                continue
            made = _Axis(file, axis, groups, influences, temperature)
            above = above or made.above_history
            quantities += made.quantities
            limit = file.setup.limit_scale_ppm
            if limit is not None:
                scale = made.scale
                checks.append(
                    check_limit(f"{_WORDS[axis]}: scale", scale.value, limit, rule, scale.estimate, "ppm", scale.name)
                )
            if made.proof is not None:
                error, en = made.proof
                not_held = not_held or en.value > 1.0
                checks.append(check_limit(f"{_WORDS[axis]}: Eₙ", en.value, 1.0, rule, unit="1", of=en.name))
                if file.setup.limit_proof_mm is not None:
                    checks.append(
                        check_limit(
                            f"{_WORDS[axis]}: proof", error.value, file.setup.limit_proof_mm, rule, error.estimate,
                            of=error.name,
                        )
                    )  # fmt: skip
            (found if not found else advice).append(made.headline)
            advice += made.advice
        flags = (
            *(("scatter-above-history",) if above else ()),
            *dict.fromkeys(flag for master in _used(file) for flag in master_flags(master)),
        )
        key = "not-held" if not_held else str(worst(c.verdict for c in checks))
        return Evaluation(
            file.procedure, tuple(quantities), rule, found[0], said(key), tuple(checks), flags, tuple(advice)
        )

    def cast(self, cards: Sequence[MasterCard], first: MasterCard | None) -> dict[str, MasterCard]:
        """The shortest and the longest tell the line, one between them proves it; certified ones before others."""
        fit = [c for c in cards if c.length_mm is not None and c.diameter_mm is not None]
        certified = [c for c in fit if c.traceable]
        fit = sorted(certified if len(certified) >= FITTED else fit, key=lambda c: c.length_mm or 0.0)
        if len(fit) < FITTED:
            return {self.role: first} if first is not None else {}
        between = fit[1:-1]
        made = {"low": fit[0], "high": fit[-1]}
        return made | ({"proof": between[len(between) // 2]} if between else {})

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Length and diameter of each master that is there, three times each."""
        roles = [role for role in ("low", "high", "proof") if role in bench.masters] or ["low"]
        return tuple(
            Slot(
                {"master": role, "axis": axis}, f"{role} {axis.upper()} {i + 1}/{TOUCHES}",
                f"{_ROLE_WORDS[role]}: {_WORDS[axis].lower()}", role,
            )
            for role in roles
            for axis in ("z", "x")
            for i in range(TOUCHES)
        )  # fmt: skip

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        roles = [role for role in ("low", "high", "proof") if role in bench.masters] or ["low"]
        words = {
            "low": Step("Seat the short master; read length and diameter, turned a little each time", "low"),
            "high": Step("The long master likewise", "high"),
            "proof": Step("The master not used so far: it proves the others", "proof"),
        }
        return (
            Step("Wipe taper and masters; let them take the room's temperature"),
            *(words[role] for role in roles),
            Step("Sign"),
        )

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """What its certificate says, or what this very place showed before."""
        known = super().expected(bench, slot, readings, field)
        if known is not None:
            return known
        card = bench.master(str(slot.fields["master"]))
        value = card.number("length_mm" if slot.fields["axis"] == "z" else "diameter_mm")
        half = slot.fields["axis"] == "x" and bench.setup.word("x_shows") == "radius"
        return None if value is None else value / (2.0 if half else 1.0)

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The corrections over the travel with their band, and the masters on them."""
        shown = {
            role: [float(r["value_mm"]) for r in readings if r["axis"] == "z" and r["master"] == role]
            for role in ("low", "high", "proof")
        }
        names = {q.name: q for q in result.quantities} if result else {}
        line = None
        if "z_offset_mm" in names:
            offset, scale = names["z_offset_mm"], names["z_scale_ppm"]
            line = (
                names["z_pivot_mm"].value, offset.value, offset.estimate.expanded if offset.estimate else 0.0,
                scale.value / PPM, scale.estimate.expanded / PPM if scale.estimate else 0.0,
            )  # fmt: skip
        error = names["z_proof_error_mm"].value if "z_proof_error_mm" in names else None
        marks = {role: sum(values) / len(values) for role, values in shown.items() if values}
        return corrections_figure("Length: what is put right, over the travel", marks, line, error, units)


class _Axis:
    """One axis: its line, its results and what they say."""

    def __init__(
        self,
        file: PresetterReadings,
        axis: Axis,
        groups: dict[str, list[float]],
        influences: Influences,
        temperature: Uncertain,
    ) -> None:
        setup = file.setup
        touch = shown_scatter(groups, axis, setup.x_shows, setup)
        self.above_history = touch.above_history
        shown = enter_means(groups, touch, influences)
        true = {role: _true_value(file, role, axis, influences, temperature) for role in groups}
        fitted = [role for role in ("low", "high") if role in groups]
        if not fitted:
            raise TooFewReadingsError("{value}: the proof master alone calibrates nothing.", value=_WORDS[axis])
        if len(fitted) == 2:
            line = line_through(influences, (shown["low"], shown["high"]), (true["low"], true["high"]))
        else:
            line = _one_master(setup, axis, influences, shown[fitted[0]], true[fitted[0]])
        offset = influences.estimate(line.offset)
        self.scale = _plain_or_estimate(f"{axis}_scale_ppm", f"{_WORDS[axis]}: scale", line.scale * PPM, influences)
        self.quantities = [
            Quantity.of(f"{axis}_offset_mm", f"{_WORDS[axis]}: zero", offset),
            Quantity(f"{axis}_pivot_mm", f"{_WORDS[axis]}: pivot", line.pivot),
            self.scale,
        ]
        facts = {"axis": _WORDS[axis], "offset": offset.value, "scale": self.scale.value, "U": offset.expanded}
        self.headline = said("found" if len(fitted) == 2 else "found-one", **facts)
        self.advice: list[Reason] = [] if len(fitted) == 2 else [said("one-master")]
        self.proof: tuple[Quantity, Quantity] | None = None
        if "proof" in groups:
            error = influences.estimate(line.error(shown["proof"], true["proof"]))
            en = en_number(error, _certificate("proof", axis))
            self.proof = (
                Quantity.of(f"{axis}_proof_error_mm", f"{_WORDS[axis]}: proof off by", error),
                Quantity(f"{axis}_proof_en", f"{_WORDS[axis]}: Eₙ", en, "1"),
            )
            self.quantities += self.proof
            self.advice.append(said("proved", error=error.value, en=en))
        else:
            self.advice.append(said("no-proof"))


def _plain_or_estimate(name: str, title: str, number: Uncertain, influences: Influences) -> Quantity:
    """Return a ratio with its doubt; one that was given without any counts as exact."""
    if not hasattr(number, "u_component"):
        return Quantity(name, title, float(number), "ppm")
    return Quantity.of(name, title, influences.estimate(number), "ppm")


def _one_master(
    setup: PresetterSetup, axis: Axis, influences: Influences, shown: Uncertain, true: Uncertain
) -> AxisLine:
    u_ppm: float | None = getattr(setup, f"{axis}_scale_u_ppm")
    field = f"setup.{axis}_scale_u_ppm"
    scale = influences.add(
        "scale", 0.0, require(u_ppm, field) / PPM, getattr(setup, f"{axis}_scale_dof") or float("inf"), field=field
    )
    return AxisLine(float(value_of(shown)), true - shown, scale)


def _groups(file: PresetterReadings, axis: Axis) -> dict[str, list[float]]:
    groups: dict[str, list[float]] = {}
    for i, reading in enumerate(file.readings):
        if getattr(file.masters, reading.master) is None:
            where = f"masters.{reading.master}"
            raise NonnaError(
                "missing-master", "{place}: readings[{i}] is of this master, which is missing.", where, place=where, i=i
            )
        if reading.axis == axis:
            groups.setdefault(reading.master, []).append(reading.value_mm)
    return groups


def _used(file: PresetterReadings) -> list[Master]:
    named = dict.fromkeys(reading.master for reading in file.readings)
    return [getattr(file.masters, role) for role in named]


def _certificate(role: str, axis: Axis) -> str:
    return f"masters.{role}.{'length' if axis == 'z' else 'diameter'}_mm"


def _true_value(
    file: PresetterReadings, role: str, axis: Axis, influences: Influences, temperature: Uncertain
) -> Uncertain:
    """Return what the display should show with a master: its certified size at temperature, half of it on radius."""
    master: Master = getattr(file.masters, role)
    where = _certificate(role, axis)
    if axis == "z":
        size, u = require(master.length_mm, where), master.u_length_mm
    else:
        size, u = require(master.diameter_mm, where, positive=True), master.u_diameter_mm
    certified = influences.add(f"{role} master", size, u, field=where)
    cte = master.climate(file.conditions).enter_expansion(influences, role)
    true = at_temperature(certified, temperature, cte)
    return true / 2 if axis == "x" and file.setup.x_shows == "radius" else true
