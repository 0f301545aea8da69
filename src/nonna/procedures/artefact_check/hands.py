"""Artefact check: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Bench, Readings, Slot, Step

TIMES = 3


def slots(bench: Bench) -> tuple[Slot, ...]:
    """Three measurements; one for the daily check."""
    if bench.variant == "daily":
        return (Slot({}, "1/1", "Z of the touch less the trigger plane", "values"),)
    return tuple(Slot({}, f"{i + 1}/{TIMES}", "Measured value", "values") for i in range(TIMES))


def steps(bench: Bench) -> tuple[Step, ...]:
    """What the hands do."""
    if bench.variant == "daily":
        return (
            Step("Wipe taper, master and pad; spindle stopped"),
            Step("Touch the setter once with the master", "values"),
            Step("Sign"),
        )
    what = "diameter" if bench.variant in ("", "diameter") else "length"
    return (
        Step("Fetch an artefact that no calibration here has used; let it take the machine's temperature"),
        Step(f"Measure its {what} with the probe, three times", "values"),
        Step("Sign"),
    )


def expected(bench: Bench, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What its certificate says."""
    del slot, readings, field
    name = "diameter_mm" if bench.variant in ("", "diameter") else "length_mm"
    value = bench.master("artefact").number(name)
    return value or None
