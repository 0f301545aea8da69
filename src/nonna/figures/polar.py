"""Drawings round an axis: the dial's run-out and the ball's lobing, deviations from a ring of no error."""

from __future__ import annotations

import math
from collections.abc import Sequence

from nonna.figures.figure import Circle, Figure, Label, Line, Point, Polygon, Stroke
from nonna.shop.texts.given import Given
from nonna.wording.lengths import Units, small

RING, REACH = 38.0, 16.0  # radius of the ring of no error, and what the largest deviation may take
SAME_DEG = 6.0  # touches this near to each other are one direction of the outline
WINDOW = (-76.0, -62.0, 76.0, 64.0)
STEPS_UM = (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)


def _at(angle_deg: float, radius: float) -> Point:
    t = math.radians(angle_deg)
    return radius * math.cos(t), radius * math.sin(t)


def _grid_step(largest: float) -> float:
    """Return the smallest handsome step (mm) of which two cover the largest deviation."""
    return next((um / 1e3 for um in STEPS_UM if um / 1e3 * 2 >= largest), largest / 2 or 1e-4)


def _grid(step: float, scale: float) -> list[Stroke]:
    rings: list[Stroke] = [Circle((0, 0), RING + n * step * scale, None, "faint", 1.0) for n in (-2, -1, 1, 2)]
    cross: list[Stroke] = [Line(_at(a, 6), _at(a, RING + REACH), "faint", 1.0) for a in range(0, 360, 45)]
    return [*rings, *cross, Circle((0, 0), RING, None, "muted", 1.5)]


def _note(step: float, units: Units) -> str:
    return f"exaggerated: one thin ring is {small(step, units)}; +X to the right"


def runout_figure(
    points: Sequence[tuple[float, float]],
    screws_deg: Sequence[float],
    found: tuple[float, float] | None,
    next_angle: float | None,
    units: Units,
    turn: Sequence[str] = (),
) -> Figure:
    """Draw the dial round the axis.

    Parameters: points, (spindle angle in degrees, dial in mm); found, (eccentricity mm, high spot degrees);
    next_angle, where the next reading is taken; turn, names of the screws to turn ("90°").
    """
    values = [v for _, v in points]
    mean = math.fsum(values) / len(values) if values else 0.0
    largest = max([abs(v - mean) for v in values] + ([found[0]] if found else []) + [1e-4])
    step = _grid_step(largest)
    scale = REACH / (2 * step)
    strokes: list[Stroke] = _grid(step, scale)
    if found is not None:
        e, high = found
        ring = tuple(_at(a, RING + e * scale * math.cos(math.radians(a - high))) for a in range(0, 360, 5))
        strokes.append(Polygon(ring, None, "accent", 2.5))
        strokes.append(Line((0, 0), _at(high, RING + e * scale), "bad", 2.0))
        strokes.append(Circle(_at(high, RING + e * scale), 6, "bad", None, dot=True))
        strokes.append(_outside(high, "high spot", "bad", RING + e * scale + 4.0, bold=True))
    strokes += [Circle(_at(a, RING + (v - mean) * scale), 5, "paper", "ink", 2.0, dot=True) for a, v in points]
    if next_angle is not None:
        strokes.append(Line(_at(next_angle, RING - 9), _at(next_angle, RING + REACH), "accent", 3.0))
    for screw in screws_deg:
        on = f"{screw:g}°" in turn
        strokes.append(Circle(_at(screw, RING + REACH + 3), 9, "accent" if on else "steel", "ink", 1.5, dot=True))
        strokes.append(_outside(screw, f"{screw:g}°", "accent" if on else "muted", RING + REACH + 8.5, bold=on))
    strokes.append(Circle((0, 0), 3, "ink", None, dot=True))
    if not points:
        strokes.append(Label((0, -14), "each reading will stand here", "muted", 14))
    title = "The dial round the spindle axis" + (", screws outside" if screws_deg else "")
    return Figure(title, WINDOW, tuple(strokes), _note(step, units))


def lobing_figure(
    points: Sequence[tuple[float, float]],
    harmonics: Given | None,
    taken: int,
    where: str,
    units: Units,
) -> Figure:
    """Draw the effective radius in each direction about its mean.

    Parameters: points, (direction in degrees as the probe sees it, radius mm); harmonics, by order; taken,
    readings so far, drawn as marks until there is a fit; where, the orientation being touched.
    """
    radii = [r for _, r in points]
    mean = math.fsum(radii) / len(radii) if radii else 0.0
    step = _grid_step(max([abs(r - mean) for r in radii] + [1e-4]))
    scale = REACH / (2 * step)
    strokes: list[Stroke] = _grid(step, scale)
    if points:
        outline = tuple(_at(a, RING + (r - mean) * scale) for a, r in _by_direction(points))
        strokes.append(Polygon(outline, "wash", "accent", 2.0))
        strokes.append(Circle((0, 0), RING, None, "muted", 1.5))
        if harmonics and "3" in harmonics:
            third = harmonics.part("3")
            size, at = third.needed("amplitude_mm"), third.needed("direction_deg")
            lobes = [_at(a, RING + size * scale * math.cos(math.radians(3 * (a - at)))) for a in range(0, 365, 5)]
            strokes += [Line(lobes[i], lobes[i + 1], "due", 1.5) for i in range(0, 72, 2)]
            strokes.append(Label((74, -60), f"three lobes of {small(size, units)}", "due", 14, anchor="right"))
        strokes += [Circle(_at(a, RING + (r - mean) * scale), 4, "paper", "ink", 2.0, dot=True) for a, r in points]
        strokes.append(Label((RING + REACH + 4, 0), "+X", "muted", 14, anchor="left", dy=5))
    else:
        strokes += [Circle(_at(a * 45.0, RING), 5, "accent", None, dot=True) for a in range(taken % 8)]
        strokes.append(Circle(_at(taken % 8 * 45.0, RING), 8, None, "accent", 2.5, dot=True))
        strokes.append(Label((0, 0), where, "muted", 15))
    return Figure("Radius in each direction, as the probe sees it", WINDOW, tuple(strokes), _note(step, units))


def _by_direction(points: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Return a point a direction, in order: touches within `SAME_DEG` of each other count as one, at their mean."""
    groups: list[list[tuple[float, float]]] = []
    for point in sorted(points):
        if groups and point[0] - groups[-1][-1][0] <= SAME_DEG:
            groups[-1].append(point)
        else:
            groups.append([point])
    return [(math.fsum(a for a, _ in g) / len(g), math.fsum(r for _, r in g) / len(g)) for g in groups]


def _outside(angle: float, words: str, ink: str, radius: float, *, bold: bool = False) -> Label:
    x, y = _at(angle, radius)
    side = "left" if x > 12 else "right" if x < -12 else "centre"
    return Label((x, y), words, ink, 14, bold, side, 0, 5)  # type: ignore[arg-type]
