"""Plots as figures: readings about their mean, drawn in a window of their own scale."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import datetime
from itertools import pairwise

from nonna.figures.figure import Circle, Figure, Label, Line, Stroke, box
from nonna.wording.lengths import Units, small


def run_chart(
    title: str, readings_mm: Sequence[float], outliers: Sequence[int] = (), units: Units = Units.MM
) -> Figure:
    """Draw readings in the order taken about their mean, with a band of ± 2 s.

    The window is 100 by 60; the height is stretched to the readings and the note says by how much.
    """
    strokes: list[Stroke] = [box(0, 0, 100, 60, "paper", None), Line((0, 30), (100, 30), "muted", 1.0)]
    if not readings_mm:
        strokes.append(Label((50, 36), "each touch will stand here", "muted", 14))
        return Figure(title, (-4, -8, 104, 64), tuple(strokes), "not to scale")
    n = len(readings_mm)
    mean = math.fsum(readings_mm) / n
    deviations = [r - mean for r in readings_mm]
    s = math.sqrt(math.fsum(d * d for d in deviations) / (n - 1)) if n > 1 else 0.0
    band = 2 * s
    largest = max(max(map(abs, deviations)), band, 1e-5) * 1.15
    scale = 30.0 / largest

    def place(i: int, d: float) -> tuple[float, float]:
        return (4 + 70 * (i / max(n - 1, 9)), 30 + d * scale)

    if band:
        strokes.insert(1, box(0, 30 - band * scale, 78, 30 + band * scale, "wash", None))
        strokes.append(Label((77, 30 + band * scale), "± 2 s", "muted", 13, False, "right", 0, 16))
    strokes += _histogram(deviations, scale)
    for i in range(1, n):
        strokes.append(Line(place(i - 1, deviations[i - 1]), place(i, deviations[i]), "faint", 1.5))
    for i, d in enumerate(deviations):
        bad = i in outliers
        strokes.append(Circle(place(i, d), 5, "bad" if bad else "paper", "bad" if bad else "accent", 2.0, dot=True))
        if bad:
            strokes.append(Label(place(i, d), str(i + 1), "bad", 13, True, dy=-12))
    note = f"height stretched: the full height is {small(2 * largest, units)}"
    return Figure(title, (-4, -8, 104, 64), tuple(strokes), note)


def _histogram(deviations: Sequence[float], scale: float) -> list[Stroke]:
    """Draw how often each height came, beside the run chart on the same scale."""
    n = len(deviations)
    low, high = min(deviations), max(deviations)
    if n < 5 or high <= low:
        return []
    bins = max(4, math.ceil(math.sqrt(n)) + 1)
    width = (high - low) / bins
    counts = [0] * bins
    for d in deviations:
        counts[min(bins - 1, int((d - low) / width))] += 1
    reach = 18.0 / max(counts)
    bars: list[Stroke] = [Line((80, 2), (80, 58), "faint", 1.0)]
    for i, count in enumerate(counts):
        low_edge, high_edge = 30 + (low + i * width) * scale, 30 + (low + (i + 1) * width) * scale
        if count:
            bars.append(box(80, low_edge, 80 + count * reach, high_edge, "accent", "paper"))
    return bars


def history_chart(
    title: str,
    points: Sequence[tuple[float, float, float]],
    events: Sequence[float],
    chosen: float,
    units: Units = Units.MM,
) -> Figure:
    """Draw a calibrated value over time with its doubt; events stand as dashed strokes.

    Parameters: points, (seconds since 1970, value mm, U mm) oldest first, at least one; events and chosen, seconds.
    """
    strokes: list[Stroke] = [box(0, 0, 100, 60, "paper", None)]
    first = min([p[0] for p in points] + [chosen])
    last = max([p[0] for p in points] + [chosen] + [t for t in events if t >= first])
    middle = (max(p[1] for p in points) + min(p[1] for p in points)) / 2
    reach = max(max(abs(p[1] - middle) + p[2] for p in points), 1e-4) * 1.15

    def x(t: float) -> float:
        return 6 + 88 * ((t - first) / (last - first) if last > first else 0.5)

    def y(v: float) -> float:
        return 30 + (v - middle) / reach * 28

    for at in events:
        if first <= at <= last:
            strokes.append(Line((x(at), 2), (x(at), 58), "bad", 1.5, dashed=True))
    for (t0, v0, _), (t1, v1, _) in pairwise(points):
        strokes.append(Line((x(t0), y(v0)), (x(t1), y(v1)), "faint", 1.5))
    for t, v, u in points:
        strokes.append(Line((x(t), y(v - u)), (x(t), y(v + u)), "accent", 2.0))
        strokes.append(
            Circle((x(t), y(v)), 6 if t == chosen else 4, "accent" if t == chosen else "paper", "accent", 2.0, dot=True)
        )
    for t, anchor in ((first, "left"), (last, "right")):
        words = f"{datetime.fromtimestamp(t):%d %b %Y}"
        strokes.append(Label((x(t), 0), words, "muted", 13, False, anchor, 0, 18))  # type: ignore[arg-type]
    note = f"full height {small(2 * reach, units)}; dashed: an event"
    return Figure(title, (-2, -8, 102, 62), tuple(strokes), note)
