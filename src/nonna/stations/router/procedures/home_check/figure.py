"""Home check: its drawing."""

from __future__ import annotations

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, box, exaggeration
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Readings, SheetFacts
from nonna.wording.lengths import Units, small


def _pin_figure(moved: dict[str, float], limit: float, units: Units) -> Figure:
    reach = max([abs(v) for v in moved.values()] + [limit, 1e-3]) * 1.2
    scale = 30.0 / reach
    strokes: list[Stroke] = [
        Line((0, -36), (0, 36), "faint", 1.0), Line((-36, 0), (36, 0), "faint", 1.0),
        Circle((0, 0), limit * scale, "wash", None) if limit else Circle((0, 0), 1, None, "faint"),
        Circle((0, 0), 6, "paper", "muted", 2.0, dot=True), box(56, -30, 64, 30, "paper", "muted"),
        Label((60, 34), "Z", "muted", 14), Line((52, 0), (68, 0), "muted", 1.0),
    ]  # fmt: skip
    if not moved:
        strokes.append(Label((0, -44), "the pin, from above", "muted", 14))
    else:
        at = (moved.get("moved_x_mm", 0.0) * scale, moved.get("moved_y_mm", 0.0) * scale)
        ink: Ink = "bad" if limit and max(abs(v) for v in moved.values()) > limit else "accent"
        strokes += [Line((0, 0), at, ink, 2.5), Circle(at, 7, ink, None, dot=True)]
        if "moved_z_mm" in moved:
            strokes.append(Circle((60, moved["moved_z_mm"] * scale), 7, ink, None, dot=True))
            strokes.append(Label((60, -42), small(moved["moved_z_mm"], units, sign=True), ink, 14))
    note = f"{exaggeration(scale)}; shaded: the limit, {small(limit, units)}" if limit else exaggeration(scale)
    return Figure("Where the home went", (-48, -52, 84, 44), tuple(strokes), note)


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The pin from above, and how far its place went, exaggerated."""
    del readings
    found = {q.name: q.value for q in result.quantities if q.name.startswith("moved")} if result else {}
    limit = facts.setup.number("limit_mm") or 0.0
    return _pin_figure(found, limit, units)
