"""Breakage: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Bench, Readings, Slot, Step


def slots(bench: Bench) -> tuple[Slot, ...]:
    """One touch: a check has to be quick."""
    del bench
    return (Slot({}, "Touch", "Touch the tip", "touch"),)


def steps(bench: Bench) -> tuple[Step, ...]:
    """What the hands do."""
    del bench
    return (Step("Blow the chips off, doors shut"), Step("Touch once", "touch"), Step("Sign"))


def expected(bench: Bench, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """Where the whole tool would trigger."""
    del slot, readings, field
    plane, reference = bench.setup.number("trigger_plane_mm"), bench.setup.number("reference_mm")
    return plane + reference if plane is not None and reference is not None else None
