"""Presetter transfer: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.presetter import transfer_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step
from nonna.procedures.presetter_calibration.model import PPM
from nonna.procedures.presetter_transfer import LISTED
from nonna.procedures.presetter_transfer.evaluate import evaluate
from nonna.procedures.presetter_transfer.model import TransferReadings
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units

TOOLS = 5


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Five tools, each on both; those that the records hold first."""
    tools = [*facts.named, *range(len(facts.named) + 1, TOOLS + 1)]
    return tuple(
        Slot({"tool": tool}, f"Tool {i}/{len(tools)}", "Length on the presetter", "tools", ("Length on the machine",))
        for i, tool in enumerate(tools, 1)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Choose tools from the shortest to the longest in use; wipe tapers"),
        Step("Each on the presetter, then on the machine's own setter", "tools"),
        Step("Sign"),
    )


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The differences over the length, with the band for the next tool."""
    points = [
        (as_number(r["presetter_mm"]), as_number(r["machine_mm"]) - as_number(r["presetter_mm"])) for r in readings
    ]
    names = {q.name: q.value for q in result.quantities} if result else {}
    line = facts.setup.word("model") == "line"
    found = (names["transfer_mm"], names["corrected_U_mm"]) if names else None
    slope = (names["trend_ppm"] / PPM, names["pivot_mm"]) if names and line else (0.0, 0.0)
    return transfer_figure(points, found, slope, units)


SENTENCES = {
    "found": "The machine finds tools {transfer:signed} against the presetter. One more, corrected: ± {U:small}.",
    "trend": "The difference grows with the length, {slope:1f} ppm: take the line instead of one offset.",
    "line": "By the line: {slope:1f} ppm of the length. It holds from the shortest to the longest of these tools.",
    "pass": "Sign it: lengths from the presetter are good enough for this machine.",
    "none": "Sign it.",
    "fail": "That is not good enough: calibrate presetter and setter, seat the tools again, or measure on the machine.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "tools-both-ways"},
    steps=steps,
    figure=figure,
    model=TransferReadings,
    main=("transfer_mm",),
    main_title="Machine less presetter",
    foreseeable=False,
    reads={},
    offered={"model": "offset", "limit_mm": 0.02, "resolution_mm": 0.001},
    caution=Caution("Sharp edges", "Carry tools by the holder. On the machine its own cautions hold."),
)
