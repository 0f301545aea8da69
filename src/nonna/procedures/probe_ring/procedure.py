"""Probe ring: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.polar import lobing_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, Variant
from nonna.procedures.probe_ring import LISTED
from nonna.procedures.probe_ring.evaluate import evaluate
from nonna.procedures.probe_ring.model import DIRECTIONS, RingReadings
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import Given
from nonna.wording.lengths import Units

_COMPASS = ("+X", "+X+Y", "+Y", "−X+Y", "−X", "−X−Y", "−Y", "+X−Y")


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Eight directions, at 0° and, where the spindle orients, at 180°."""
    turns = (0, 180) if not facts.variant.endswith("-0") else (0,)
    return tuple(
        Slot({"spindle_deg": turn}, f"{turn}° {_COMPASS[i]}", f"At {turn}°, towards {_COMPASS[i]}: X", f"at {turn}",
             (f"At {turn}°, towards {_COMPASS[i]}: Y",))
        for turn in turns
        for i in range(DIRECTIONS)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    what = "round the pin" if facts.variant.startswith("external") else "in the ring"
    how = "touch twice, note the slow touch, in" if facts.variant.endswith("-two") else "touch"
    second = () if facts.variant.endswith("-0") else (Step("Orient the spindle to 180°, the same again", "at 180"),)
    return (
        Step("Wipe ring and ball; let the ring take the machine's temperature"),
        Step(f"Spindle oriented to 0°: {how} eight directions {what}", "at 0"),
        *second,
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The lobing map: each direction's radius, exaggerated."""
    if result is None:
        turned = "180°" if len(readings) >= DIRECTIONS else "0°"
        return lobing_figure((), None, len(readings), f"spindle at {turned}", units)
    found = Given(result.extras)
    points = [(row.needed("direction_deg"), row.needed("radius_mm")) for row in found.rows("lobing_map")]
    return lobing_figure(points, found.part("harmonics"), len(readings), "", units)


SENTENCES = {
    "found": "Ball radius {r:length}, ± {U:small}; lobing {lobing:small}.",
    "over": "{what} is {value:small}, over {limit:small}.",
    "open": "{what} is {value:small}, its doubt leaves open {limit:small}.",
    "lobes": "Is the stylus tight, the ball whole, the battery good? Then measure again.",
    "dial-in": "Dial the ball in first: run-out and ring go together.",
    "more": "Touch more directions.",
    "sign": "Sign it, then put radius and offset into the machine.",
    "gap": "The touches are unevenly spread; what lies in the gap was not seen.",
    "three-lobes": "Three lobes of {size:small}: how the probe's own seats give.",
    "two-lobes": "Two lobes of {size:small}: a ring out of round, or axes out of square.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "ring-turned"},
    steps=steps,
    figure=figure,
    model=RingReadings,
    main=("ball_radius_mm",),
    main_title="Effective ball radius",
    role="ring",
    foreseeable=False,
    reads={"x_mm": "x", "y_mm": "y"},
    master_kinds=("ring",),
    offered={"limit_lobing_mm": 0.003, "limit_offset_mm": 0.005, "resolution_mm": 0.0001},
    compares=True,
    differ_words="they differ, so measure each way with the radius of its own cycle",
    variants=(
        Variant("internal", "In the ring, 0° and 180°", {"side": "internal"}, beside="internal"),
        Variant("internal-two", "In the ring, touched twice: fast, then slow", {"side": "internal"}, beside="internal"),
        Variant("internal-0", "In the ring, 0° only", {"side": "internal"}, beside="internal"),
        Variant("external", "Round the pin, 0° and 180°", {"side": "external"}, beside="external"),
        Variant("external-0", "Round the pin, 0° only", {"side": "external"}, beside="external"),
    ),
    caution=Caution(
        "A probe breaks quickly",
        "Spindle oriented, never turning, probe awake, doors shut, rapid turned down, a finger on feed hold.",
    ),
)
