"""Rack pockets: what the hands do."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from nonna.procedures.rack_pockets.model import FACES, LEAST, MOST, POCKETS, KnownPocket, RackReadings
from nonna.procedures.sheet import Readings, SheetFacts, Slot, Step, as_before
from nonna.shop.texts.given import Given, as_number


def _asked_for(facts: SheetFacts, count: int) -> Iterable[int]:
    """Return the pockets to be touched: all of the row, or the renewed one (the first until it is named)."""
    return range(1, count + 1) if facts.variant != "one" else (int(facts.setup.number("renewed", 1.0)),)


def _count(facts: SheetFacts) -> int:
    return facts.pockets if LEAST <= facts.pockets <= MOST else POCKETS


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Four sides and the top of each pocket, down the row."""
    count, unnamed = _count(facts), facts.variant == "one" and facts.setup.number("renewed") is None
    return tuple(
        Slot(
            {"pocket": pocket, "face": face}, f"{pocket} {face}",
            "Which place is new? Say its number first (F9)" if unnamed else
            f"Pocket {pocket} of {count}: touch {'the top' if face == 'top' else f'from the {face} side'}", "touch",
        )
        for pocket in _asked_for(facts, count)
        for face in FACES
    )  # fmt: skip


def settled(facts: SheetFacts) -> SheetFacts:
    """For one renewed place: the others as the book has them, those that stood out left aside."""
    setup = {name: value for name, value in facts.setup.items() if name != "known"}
    renewed = facts.setup.number("renewed")
    if facts.variant == "one" and renewed is not None:
        rows = (row for row in facts.before.rows("pockets") if not row.get("set_aside") and row["pocket"] != renewed)
        setup["known"] = [{name: row[name] for name in KnownPocket.model_fields} for row in rows]
    return replace(facts, setup=Given(setup))


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Rod in the spindle; one lead on the holder, one on the rod: touch them, it must ring"),
        Step("Hang the bare holder upside down in the pocket; four sides and the top", "touch"),
        Step("On to the next pocket"),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """This very touch before, or the same face one pocket on, by the step the row has so far."""
    known = as_before(RackReadings, slot, readings, field)
    if known is not None:
        return known
    same = [
        (int(as_number(r["pocket"])), as_number(r["position_mm"])) for r in readings if r["face"] == slot.fields["face"]
    ]
    if len(same) < 2 or same[-1][0] == same[0][0]:
        return None
    step = (same[-1][1] - same[0][1]) / (same[-1][0] - same[0][0])
    return same[-1][1] + step * (int(as_number(slot.fields["pocket"])) - same[-1][0])
