"""Breakage threshold: what the hands do."""

from __future__ import annotations

from nonna.procedures.sheet import Bench, Slot, Step


def slots(bench: Bench) -> tuple[Slot, ...]:
    """Nothing is measured."""
    del bench
    return ()


def steps(bench: Bench) -> tuple[Step, ...]:
    """What the hands do."""
    del bench
    return (Step("Say what is wanted (F9)"), Step("Sign"))
