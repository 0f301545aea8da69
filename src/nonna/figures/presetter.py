"""Drawings of a presetter: corrections over the travel, a tool in its spindle, differences to a machine."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Polygon, Span, Stroke, box
from nonna.figures.setter import tool_outline
from nonna.wording.lengths import Units, length, number, small

WIDE, HIGH = 120.0, 60.0
_ROLE_WORDS = {"low": "low", "high": "high", "proof": "proof"}


class _Chart:
    """A window of its own scale: lengths across, deviations up about a middle line."""

    def __init__(self, lengths: Sequence[float], reach: float) -> None:
        low, high = min(lengths), max(lengths)
        margin = max((high - low) * 0.18, 5.0)
        self.low, self.high = low - margin, high + margin
        self.reach = max(reach, 1e-4) * 1.2

    def at(self, long: float, off: float) -> tuple[float, float]:
        """Return the place of a deviation at a length."""
        return (
            WIDE * (long - self.low) / (self.high - self.low),
            HIGH / 2.0 + off / self.reach * HIGH / 2.0,
        )

    def note(self, units: Units) -> str:
        """Say how the two directions are scaled."""
        low, high = (number(end * units.scale, 0 if units.metric else 1) for end in (self.low, self.high))
        return f"full height {small(2 * self.reach, units)}, full width {low} to {high} {units.symbol}"

    def band(self, centre: Sequence[tuple[float, float]], half: Sequence[float]) -> Polygon:
        """Return the band round a line of (length, deviation), half its width at each."""
        above = [self.at(x, y + h) for (x, y), h in zip(centre, half, strict=True)]
        below = [self.at(x, y - h) for (x, y), h in zip(centre, half, strict=True)]
        return Polygon((*above, *reversed(below)), "wash", None)

    def ground(self, words: str) -> list[Stroke]:
        """Return the paper with the line of no deviation."""
        zero = self.at(self.low, 0.0)[1]
        return [
            Line((0.0, zero), (WIDE, zero), "muted", 1.0, dashed=True),
            Label((1.0, zero), words, "muted", 13, anchor="left", dy=-6),
        ]


def corrections_figure(
    title: str,
    marks: Mapping[str, float],
    line: tuple[float, float, float, float, float] | None,
    proof_error: float | None,
    units: Units,
) -> Figure:
    """Draw what is put right over the travel, with its doubt, and the masters on it.

    Parameters: marks, what was shown by master (mm); line, (pivot mm, offset mm, U of it, scale as a ratio, U of it);
    proof_error, what is left on the proof master (mm).
    """
    window = (-4.0, -12.0, WIDE + 4.0, HIGH + 6.0)
    if line is None or not marks:
        strokes: list[Stroke] = [Line((0, HIGH / 2), (WIDE, HIGH / 2), "muted", 1.0, dashed=True)]
        for k, (role, at) in enumerate(marks.items()):
            strokes.append(
                Label((20.0 + 40.0 * k, HIGH / 2), f"{_ROLE_WORDS[role]} {length(at, units)}", "ink", 14, dy=-8)
            )
        if not marks:
            strokes.append(Label((WIDE / 2, HIGH / 2), "the masters will stand here", "muted", 14, dy=-8))
        return Figure(title, window, tuple(strokes), "not to scale")
    pivot, offset, u_offset, scale, u_scale = line

    def put_right(at: float) -> float:
        return offset + scale * (at - pivot)

    ends = (min(marks.values()), max(marks.values()))
    half = [(u_offset**2 + ((at - pivot) * u_scale) ** 2) ** 0.5 for at in ends]
    reach = max(max(abs(put_right(at)) + h for at, h in zip(ends, half, strict=True)), abs(proof_error or 0.0))
    chart = _Chart(ends, reach)
    steps = [chart.low + (chart.high - chart.low) * i / 24.0 for i in range(25)]
    doubt = [(u_offset**2 + ((x - pivot) * u_scale) ** 2) ** 0.5 for x in steps]
    strokes = [chart.band([(x, put_right(x)) for x in steps], doubt), *chart.ground("shown as it is")]
    strokes.append(
        Line(chart.at(chart.low, put_right(chart.low)), chart.at(chart.high, put_right(chart.high)), "accent", 2.5)
    )
    for role, at in marks.items():
        off = put_right(at) - (proof_error or 0.0) if role == "proof" else put_right(at)
        ink: Ink = "ink" if role == "proof" else "accent"
        place = chart.at(at, off)
        strokes.append(Circle(place, 7, "paper" if role == "proof" else "accent", ink, 2.0, dot=True))
        strokes.append(
            Label((place[0], 0.0), f"{_ROLE_WORDS[role]} {length(at, units, unit=False)}", "muted", 13, dy=18)
        )
    return Figure(title, window, tuple(strokes), f"{chart.note(units)}; band: the doubt")


def tool_figure(kind: str, wide: float, long: float, found: bool, units: Units) -> Figure:
    """Draw a tool upright in the presetter's spindle, with the two lines it is measured by; to scale."""
    half, top = max(wide / 2.0, 4.0), long
    ink: Ink = "accent" if found else "muted"
    room = half + 34.0
    strokes: list[Stroke] = [
        box(-30, -24, 30, 0, "steel-dark"),
        Label((0, -12), "spindle", "paper", 13, dy=4),
        *upright(kind, wide, long),
        Line((-room, top), (room, top), ink, 1.5, dashed=True),
        Line((half, top + 10), (half, -2), ink, 1.5, dashed=True),
        Span((-room + 8, 0), (-room + 8, top), "", ink),
        Label((-room + 8, top / 2.0), length(long, units), ink, 14, True, "right", -8, 5),
        Label((half, top + 14), f"⌀ {length(wide, units)}", ink, 14),
    ]
    return Figure("On the presetter", (-room - 50, -30, room + 24, top + 24), tuple(strokes), "to scale")


def upright(kind: str, wide: float, long: float, at: tuple[float, float] = (0.0, 0.0)) -> list[Stroke]:
    """Return a tool standing tip up: a presetter's spindle holds it so. Parameters: at, the middle of its foot."""
    return [_turned(stroke, at[0], at[1] + long) for stroke in tool_outline(kind, wide, long, (0.0, 0.0))]


def _turned(stroke: Stroke, x: float, top: float) -> Stroke:
    if isinstance(stroke, Polygon):
        return stroke._replace(points=tuple((x - px, top - py) for px, py in stroke.points))
    if isinstance(stroke, Circle):
        return stroke._replace(centre=(x - stroke.centre[0], top - stroke.centre[1]))
    if isinstance(stroke, Line):
        (x0, y0), (x1, y1) = stroke.start, stroke.end
        return stroke._replace(start=(x - x0, top - y0), end=(x - x1, top - y1))
    return stroke


def transfer_figure(
    points: Sequence[tuple[float, float]],
    found: tuple[float, float] | None,
    slope: tuple[float, float],
    units: Units,
) -> Figure:
    """Draw the differences over the length, with the band one more tool will fall into.

    Parameters: points, (length on the presetter, machine less presetter), mm; found, (transfer, expanded uncertainty
    of one more tool), mm; slope, (as a ratio, the length where the transfer holds).
    """
    title, window = "Machine less presetter, over the length", (-4.0, -12.0, WIDE + 4.0, HIGH + 6.0)
    if not points:
        empty = Label((WIDE / 2, HIGH / 2), "each tool will stand here", "muted", 14)
        return Figure(
            title, window, (Line((0, HIGH / 2), (WIDE, HIGH / 2), "muted", 1.0, dashed=True), empty), "not to scale"
        )
    lengths = [x for x, _ in points]

    def off(x: float) -> float:
        return found[0] + slope[0] * (x - slope[1]) if found else 0.0

    reach = max(max(abs(d) for _, d in points), (abs(found[0]) + found[1]) if found else 0.0)
    chart = _Chart(lengths, reach)
    strokes: list[Stroke] = []
    if found is not None:
        ends = [chart.low, chart.high]
        strokes.append(chart.band([(x, off(x)) for x in ends], [found[1]] * 2))
    strokes += chart.ground("alike")
    if found is not None:
        strokes.append(Line(chart.at(chart.low, off(chart.low)), chart.at(chart.high, off(chart.high)), "accent", 2.5))
        place = chart.at(chart.high, off(chart.high) + found[1])
        strokes.append(Label(place, f"next tool ± {small(found[1], units)}", "accent", 14, anchor="right", dy=-6))
    strokes += [Circle(chart.at(x, d), 6, "paper", "ink", 2.0, dot=True) for x, d in points]
    return Figure(title, window, tuple(strokes), chart.note(units))
