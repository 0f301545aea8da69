"""What a gauge study found: every reading of every part, appraiser by appraiser."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, exaggeration
from nonna.wording.lengths import Units, small

_INKS: tuple[Ink, ...] = ("accent", "due", "steel-dark", "master", "muted")
WIDE, HIGH = 100.0, 44.0


def gauge_figure(
    points: Mapping[str, Mapping[str, Sequence[float]]], middle: float | None, units: Units = Units.MM
) -> Figure:
    """Draw deviations over the parts, one colour and column an appraiser.

    Parameters: points, values in mm by part and appraiser; middle, what deviations are counted from (None: their mean).
    """
    values = [v for row in points.values() for cell in row.values() for v in cell]
    if not values:
        empty: tuple[Stroke, ...] = (
            Line((0, 0), (WIDE, 0), "faint"),
            Label((WIDE / 2, 6), "a dot a reading", "muted", 14),
        )
        return Figure("Readings by part", (-6, -HIGH / 2 - 8, WIDE + 6, HIGH / 2 + 8), empty, "")
    zero = sum(values) / len(values) if middle is None else middle
    reach = max(max(abs(v - zero) for v in values), 1e-6)
    scale = HIGH / 2 / reach
    appraisers = sorted({name for row in points.values() for name in row})
    step = WIDE / len(points)
    strokes: list[Stroke] = [Line((0, 0), (WIDE, 0), "muted", 1.0, True)]
    for i, (part, row) in enumerate(points.items()):
        strokes.append(Label(((i + 0.5) * step, -HIGH / 2 - 5), part, "muted", 13))
        for name, cell in row.items():
            k = appraisers.index(name)
            x = (i + 0.2 + 0.6 * (k + 0.5) / len(appraisers)) * step
            strokes += [Circle((x, (v - zero) * scale), 4, _INKS[k % len(_INKS)], None, dot=True) for v in cell]
    for k, name in enumerate(appraisers[: len(_INKS)]):
        strokes.append(
            Label(
                (k * WIDE / max(1, len(appraisers)), HIGH / 2 + 5),
                f"person {name}",
                _INKS[k % len(_INKS)],
                13,
                True,
                "left",
            )
        )
    note = f"{exaggeration(scale)}; full height {small(2 * reach, units)}"
    return Figure("Readings by part", (-6, -HIGH / 2 - 10, WIDE + 6, HIGH / 2 + 10), tuple(strokes), note)
