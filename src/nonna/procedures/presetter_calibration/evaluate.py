"""Presetter calibration: zero and scale of both axes from two masters, proved on a third."""

from __future__ import annotations

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.metrology.doubt.agreement import en_number
from nonna.metrology.doubt.decision import worst
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.uncertain import Influences, Uncertain, value_of
from nonna.metrology.drifting.thermal import at_temperature
from nonna.metrology.shapes.two_masters import AxisLine, line_through
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Master, master_flags, require
from nonna.procedures.presetter_calibration.model import PPM, WORDS, Axis, PresetterReadings, PresetterSetup
from nonna.procedures.shown import shown_scatter
from nonna.procedures.telling import saying
from nonna.shop.reason import Reason

said = saying("presetter-calibration")


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
            raise TooFewReadingsError("{value}: the proof master alone calibrates nothing.", value=WORDS[axis])
        if len(fitted) == 2:
            line = line_through(influences, (shown["low"], shown["high"]), (true["low"], true["high"]))
        else:
            line = _one_master(setup, axis, influences, shown[fitted[0]], true[fitted[0]])
        offset = influences.estimate(line.offset)
        self.scale = _plain_or_estimate(f"{axis}_scale_ppm", f"{WORDS[axis]}: scale", line.scale * PPM, influences)
        self.quantities = [
            Quantity.of(f"{axis}_offset_mm", f"{WORDS[axis]}: zero", offset),
            Quantity(f"{axis}_pivot_mm", f"{WORDS[axis]}: pivot", line.pivot),
            self.scale,
        ]
        facts = {"axis": WORDS[axis], "offset": offset.value, "scale": self.scale.value, "U": offset.expanded}
        self.headline = said("found" if len(fitted) == 2 else "found-one", **facts)
        self.advice: list[Reason] = [] if len(fitted) == 2 else [said("one-master")]
        self.proof: tuple[Quantity, Quantity] | None = None
        if "proof" in groups:
            error = influences.estimate(line.error(shown["proof"], true["proof"]))
            en = en_number(error, _certificate("proof", axis))
            self.proof = (
                Quantity.of(f"{axis}_proof_error_mm", f"{WORDS[axis]}: proof off by", error),
                Quantity(f"{axis}_proof_en", f"{WORDS[axis]}: Eₙ", en, "1"),
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


def evaluate(file: PresetterReadings) -> Evaluation:
    """``true = shown + offset + scale (shown - pivot)``, each axis apart."""
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
                check_limit(f"{WORDS[axis]}: scale", scale.value, limit, rule, scale.estimate, "ppm", scale.name)
            )
        if made.proof is not None:
            error, en = made.proof
            not_held = not_held or en.value > 1.0
            checks.append(check_limit(f"{WORDS[axis]}: Eₙ", en.value, 1.0, rule, unit="1", of=en.name))
            if file.setup.limit_proof_mm is not None:
                checks.append(
                    check_limit(
                        f"{WORDS[axis]}: proof", error.value, file.setup.limit_proof_mm, rule, error.estimate,
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
    return Evaluation(file.procedure, tuple(quantities), rule, found[0], said(key), tuple(checks), flags, tuple(advice))
