"""Face level: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Figure
from nonna.figures.level import face_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.face_level.hands import slots
from nonna.procedures.face_level.model import MAIN
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The pad from above and how it leans, exaggerated."""
    pad = (facts.setup.number("pad_x_mm", facts.pad_width), facts.setup.number("pad_y_mm", facts.pad_width))
    rises = tuple(result.quantity(n).value for n in MAIN) if result else None
    screws = [(s.word("name"), s.number("x_mm", 0.0), s.number("y_mm", 0.0)) for s in facts.setup.rows("screws")]
    places = [(as_number(s.fields["x_mm"]), as_number(s.fields["y_mm"])) for s in slots(facts)]
    return face_figure(
        pad, places, list(readings), rises, screws, {m.screw for m in result.moves} if result else set(), units
    )
