"""Artefact check: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step

TIMES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three measurements; one for the daily check."""
    if facts.variant == "daily":
        return (Slot({}, "1/1", "Z of the touch less the trigger plane", "values"),)
    return tuple(Slot({}, f"{i + 1}/{TIMES}", "Measured value", "values") for i in range(TIMES))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    if facts.variant == "daily":
        return (
            Step("Wipe taper, master and pad; spindle stopped"),
            Step("Touch the setter once with the master", "values"),
            Step("Sign"),
        )
    what = "diameter" if facts.variant in ("", "diameter") else "length"
    return (
        Step("Fetch an artefact that no calibration here has used; let it take the machine's temperature"),
        Step(f"Measure its {what} with the probe, three times", "values"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What its certificate says."""
    del slot, readings, field
    name = "diameter_mm" if facts.variant in ("", "diameter") else "length_mm"
    value = facts.master("artefact").number(name)
    return value or None
