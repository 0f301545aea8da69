"""Rack pockets: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from nonna.figures.figure import Figure
from nonna.figures.rack import rack_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant, as_before
from nonna.procedures.rack_pockets import LISTED
from nonna.procedures.rack_pockets.evaluate import evaluate
from nonna.procedures.rack_pockets.model import FACES, LEAST, MOST, POCKETS, KnownPocket, RackReadings
from nonna.procedures.sheet import REPEATABILITY, Procedure
from nonna.shop.texts.given import Given, as_number
from nonna.wording.lengths import Units


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


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The row from above and from the side, deviations exaggerated; a bent clip stands out."""
    pockets = Given(result.extras).rows("pockets") if result else ()
    return rack_figure(pockets, len({r["pocket"] for r in readings}), units, facts.before.rows("pockets"))


SENTENCES = {
    "found": "{count} pockets, {pitch:length} apart, rising {rise:signed} a pocket.",
    "one-bent": "{count} pockets; pocket {names:list} stands out of the row.",
    "some-bent": "{count} pockets; pockets {names:list} stand out of the row.",
    "aside": "Pocket {pocket} stands {off:small} off the row and {height:signed} in height: straighten its clip or "
    "replace it, "
    "then measure it again.",
    "too-few": "{count} places lie within {off:small} of their own line; with fewer than four nobody can tell which "
    "one is bent: measure one more.",
    "fits": "Place {names:list} stands within {off:small} of the row of the {known} others, as the book has them. "
    "Was the home lost since, "
    "or did anything touch the rack? Then measure the whole row.",
    "straight": "No clip is bent: the pockets stand in one row within {off:small}.",
    "pass": "Sign it and load the places into the control.",
    "none": "Sign it and load the places into the control.",
    "fail": "Mend what stands out before a tool is parked there.",
    "undecided": "Measure the row again.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "pockets-touched"},
    steps=steps,
    figure=figure,
    settled=settled,
    own_expected=expected,
    model=RackReadings,
    main=("off_line_mm",),
    main_title="Worst off the line",
    needs=REPEATABILITY,
    remembers=("holder_diameter_mm", "rod_diameter_mm"),
    looks_back="pockets",
    variants=(
        Variant("row", "The whole row"),
        Variant("one", "One renewed place, against the row the book knows"),
    ),
    first="Touch the rod to the holder: do both leads ring?",
    offered={
        "limit_off_line_mm": 0.2,
        "limit_height_mm": 0.2,
        "limit_diameter_mm": 0.1,
        "resolution_mm": 0.001,
    },
    caution=Caution(
        "Hands clear of the rack while the gantry moves",
        "Spindle stopped and confirmed; step it, do not jog it, over the pockets. Check that both leads ring before "
        "each touch.",
    ),
)
