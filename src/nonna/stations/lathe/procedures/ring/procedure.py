"""Probe in the ring, lathe: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.lathe import ring_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.sheet import REPEATABILITY, Procedure
from nonna.procedures.shown import as_shown
from nonna.stations.lathe.procedures.ring import LISTED
from nonna.stations.lathe.procedures.ring.evaluate import evaluate
from nonna.stations.lathe.procedures.ring.model import LatheRingReadings
from nonna.wording.lengths import Units

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Both sides, three times each."""
    axis = facts.setup.word("axis", "x")
    return tuple(
        Slot(
            {"at": at},
            f"{at} {i + 1}/{TOUCHES}",
            f"Touch on the {at}{axis.upper()} side: {as_shown(axis, facts.setup.word('x_shows'))}",
            at,
            on=axis,
        )
        for at in ("+", "-")
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    where = "round the pin" if facts.setup.word("side") == "external" else "in the ring"
    return (
        Step("Wipe ring and stylus; the ring in the chuck, indicated true"),
        Step(f"Touch {where} on the + side", "+"),
        Step("On the - side", "-"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The ball in the ring, or beside the pin."""
    size = facts.master("ring").number("diameter_mm") or 50.0
    ball = result.quantity("ball_diameter_mm").value if result else None
    inside = facts.setup.word("side", "internal") == "internal"
    return ring_figure(size, ball, inside, {str(r["at"]) for r in readings}, units)


SENTENCES = {
    "found": "Effective ball {value:length}, ± {U:small}, {side}.",
    "centre": "Centre at {centre:length} as shown.",
    "sign": "Sign it; inside and outside are calibrated apart.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "ring-across"},
    steps=steps,
    figure=figure,
    model=LatheRingReadings,
    main=("ball_diameter_mm",),
    main_title="Effective ball",
    role="ring",
    master_kinds=("ring", "master-tool"),
    offered={"side": "internal", "x_shows": "diameter", "resolution_mm": 0.001},
    needs=REPEATABILITY,
    variants=(
        Variant("internal", "In the ring", {"side": "internal"}, ("ring",)),
        Variant("external", "Round a pin", {"side": "external"}),
        Variant("part", "Round the part itself, its micrometer for a master", {"side": "external"}, ("part",)),
    ),
    reads={},
    caution=Caution(
        "The stem must not touch the shoulder",
        "Probe awake, spindle stopped, doors shut, rapid turned down, a finger on feed hold. Jog with the smallest "
        "step near the ring.",
    ),
)
