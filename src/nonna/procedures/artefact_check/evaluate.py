"""Artefact check: a second artefact, not used before, measured through the whole loop."""

from __future__ import annotations

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.agreement import en_number
from nonna.metrology.doubt.decision import worst
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.metrology.drifting.thermal import at_temperature
from nonna.procedures.artefact_check.model import ArtefactReadings
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import master_flags, require
from nonna.procedures.telling import saying

said = saying("artefact-check")


def evaluate(file: ArtefactReadings) -> Evaluation:
    """``error = mean - value(T)`` and the E_n number (ISO 13528): believe the loop only after this."""
    setup, artefact = file.setup, file.masters.artefact
    values = [r.value_mm for r in file.readings]
    if not values:
        raise TooFewReadingsError("The artefact was not measured yet.")
    if setup.quantity == "length":
        stated, certified = require(artefact.length_mm, "masters.artefact.length_mm"), artefact.u_length_mm
    else:
        stated = require(artefact.diameter_mm, "masters.artefact.diameter_mm", positive=True)
        certified = artefact.u_diameter_mm
    touch = touch_scatter([values], **setup.history())
    influences = Influences()
    mean = enter_means({"all": values}, touch, influences)["all"]
    calibration = setup.enter(influences, "calibration", "calibration of the loop", 0.0)
    temperature, cte = artefact.climate(file.conditions).enter(influences, "artefact")
    own = f"masters.artefact.{setup.quantity}_mm"
    value = at_temperature(influences.add("artefact", stated, certified, field=own), temperature, cte)
    error = influences.estimate(mean + calibration - value)
    en = en_number(error, own)
    rule = file.rule.rule()
    checks: list[Check] = [check_limit("Eₙ", en, 1.0, rule, unit="1")]
    if setup.limit_mm is not None:
        checks.append(check_limit("Error", error.value, setup.limit_mm, rule, error))
    made = (
        Quantity.of("error_mm", "Error", error),
        Quantity("en", "Eₙ", en, "1"),
    )
    flags = (
        *(("scatter-above-history",) if touch.above_history else ()),
        *master_flags(artefact, without=certified == 0.0),
    )
    verdict = worst(c.verdict for c in checks)
    return Evaluation(
        file.procedure,
        made,
        rule,
        said("found", e=error.value, U=error.expanded, en=en),
        said("not-held" if en > 1.0 else str(verdict)),
        tuple(checks),
        flags,
    )
