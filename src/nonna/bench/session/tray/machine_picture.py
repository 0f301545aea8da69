"""Drawings of a rehearsal: what matters at this moment close up, the whole machine from the front and from above."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import pairwise
from typing import TYPE_CHECKING

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Point, Stroke, box
from nonna.figures.setter import cutter_outline
from nonna.shop.cards.standing import SETTER
from nonna.standin.nearest import Nearest, hanging_at, nearest_at, standing

if TYPE_CHECKING:
    from nonna.shop.cards.machine import Machine
    from nonna.standin.contact import Problem
    from nonna.standin.course import Course
    from nonna.standin.path import PathPoint

MARGIN, AROUND, TRAIL = 30.0, 80.0, 400
TITLE = 0.2  #: of a small drawing's height, above it
LEVELS = (12.0, 25.0, 50.0, 100.0, 200.0)  #: mm from the tip to the edge of the close-up: few, so that it does not pump
WIDE, BELOW, ABOVE = 1.5, 0.75, 1.0  #: of the level, how far the close-up reaches to each side, down and up
AHEAD = 12  #: places of the path within which a search decides the side it is looked at from


def close_up(machine: Machine, course: Course, index: int, point: PathPoint, kinds: Mapping[int, str]) -> Figure:
    """Draw what matters where the path stands: the tool, the thing nearest to it, the way, to scale; seen from the side
    it moves in.
    """
    axis = 1 if _searches_in_y(course.path, index) else 0
    near = nearest_at(point, machine)
    at, tip = point.at[axis], point.z - point.long
    level = _level(near.gap_mm if near else LEVELS[-1], min(point.wide / 2.0, 40.0))
    low = tip
    if near is not None and near.part != "the tool":
        low = next(point.z - part.foot for part in hanging_at(point, machine) if part.words == near.part)
    strokes: list[Stroke] = []
    for name, around in standing(machine):
        ink: Ink = "pad" if name == SETTER else "master"
        strokes.append(box(around.low[axis], around.low[2], around.high[axis], around.high[2], ink, "muted"))
        strokes.append(Label((around.high[axis], around.high[2]), name, "muted", 13, anchor="left", dx=6, dy=16))
    strokes += _hanging(point, at, kinds, machine)
    strokes += _track(course.path, index, lambda p: (p.at[axis], p.z - p.long), (at, tip))
    if near is not None:
        strokes += _gap(near, point, axis, machine)
    side = "from the right: Y to the right, Z up" if axis else "from the front: X to the right, Z up"
    window = (at - WIDE * level, low - BELOW * level, at + WIDE * level, low + ABOVE * level)
    return Figure(f"Close up {side}", window, tuple(strokes),
        f"to scale, {2 * WIDE * level:.0f} mm wide{_unknown(machine, point)}", cut=True)  # fmt: skip


def whole(
    machine: Machine,
    course: Course,
    index: int,
    point: PathPoint,
    kinds: Mapping[int, str],
    problems: Sequence[Problem],
) -> tuple[Figure, Figure]:
    """Draw the whole machine from the front and from above, the tool where the path stands."""
    corners = [corner for o in machine.obstacles for corner in o.box_mm]
    x0, x1 = _span([*course.reach[:2], *(c[0] for c in corners)], machine.travel_mm.x)
    y0, y1 = _span([*course.reach[2:], *(c[1] for c in corners)], machine.travel_mm.y)
    floor, top = _floor(machine), machine.travel_mm.z[1]
    side: list[Stroke] = [box(x0, floor - 16, x1, floor, "faint", None)]
    above: list[Stroke] = [box(x0, y0, x1, y1, "ghost", "faint")]
    for name, around in standing(machine):
        low, high = around.low, around.high
        ink: Ink = "pad" if name == SETTER else "master"
        side.append(box(low[0], max(low[2], floor), high[0], high[2], ink, "muted"))
        above.append(box(low[0], low[1], high[0], high[1], ink, "muted"))
        if name != SETTER:
            above.append(Label(((low[0] + high[0]) / 2, high[1]), name, "muted", 12, dy=-4))
    side += _hanging(point, point.x, kinds, machine)
    above.append(Circle((point.x, point.y), max(point.wide / 2, 4.0), "steel", "ink"))
    side += _track(course.path, index, lambda p: (p.x, p.z - p.long), (point.x, point.z - point.long))
    above += _track(course.path, index, lambda p: (p.x, p.y), (point.x, point.y))
    for problem in problems:
        at = course.path[course.path.index_of_line(problem.line)]
        side.append(Circle((at.x, at.z - at.long), 7, None, "bad", 3.0, dot=True))
        above.append(Circle((at.x, at.y), 7, None, "bad", 3.0, dot=True))
    return (
        _inset("Front", (x0 - MARGIN, floor - 24, x1 + MARGIN, top + 120), side),
        _inset("Above", (x0 - MARGIN, y0 - MARGIN, x1 + MARGIN, y1 + MARGIN), above),
    )


def _inset(title: str, window: tuple[float, float, float, float], strokes: list[Stroke]) -> Figure:
    """Return a small drawing of the whole machine with its title in it."""
    left, bottom, right, top = window
    top += TITLE * (top - bottom)
    words = Label((left, top), title, "muted", 13, anchor="left", dy=12)
    return Figure(title, (left, bottom, right, top), (*strokes, words), "to scale")


def _searches_in_y(path: Sequence[PathPoint], index: int) -> bool:
    """Say whether the search going on or coming next goes along Y."""
    for i in range(max(1, index), min(index + AHEAD, len(path))):
        if path[i].way == "probe":
            dx, dy, dz = (abs(b - a) for a, b in zip(path[i - 1].at, path[i].at, strict=True))
            return dy > max(dx, dz)
    return False


def _level(gap: float, radius: float) -> float:
    wanted = 1.3 * gap + radius + 4.0
    return next((level for level in LEVELS if level >= wanted), LEVELS[-1])


def _hanging(point: PathPoint, at: float, kinds: Mapping[int, str], machine: Machine) -> list[Stroke]:
    """Draw tool, holder and nose as far as they are described."""
    deep = sum(long for _, long in point.holder)
    strokes: list[Stroke] = []
    nose = machine.spindle
    if nose is not None:
        half = nose.nose_diameter_mm / 2
        strokes.append(box(at - half, point.z, at + half, point.z + nose.nose_length_mm, "steel", "muted"))
    z = point.z
    for wide, long in point.holder:
        strokes.append(box(at - wide / 2, z - long, at + wide / 2, z, "steel", "muted"))
        z -= long
    if point.long > 0.0:
        tip = (at, point.z - point.long)
        strokes += cutter_outline(kinds.get(point.tool, "end-mill"), point.wide, tip, point.z - deep)
    strokes.append(Line((at - 44, point.z), (at + 44, point.z), "muted", 1.0, dashed=True))
    return strokes


def _gap(near: Nearest, point: PathPoint, axis: int, machine: Machine) -> list[Stroke]:
    """Draw the gap, where it lies in the plane of the drawing."""
    part = next(each for each in hanging_at(point, machine) if each.words == near.part)
    thing = next(around for name, around in standing(machine) if name == near.name)
    at = point.at[axis]
    a_x, b_x = _between((at - part.radius, at + part.radius), (thing.low[axis], thing.high[axis]))
    a_z, b_z = _between((point.z - part.foot, point.z - part.top), (thing.low[2], thing.high[2]))
    seen = ((b_x - a_x) ** 2 + (b_z - a_z) ** 2) ** 0.5
    if near.gap_mm <= 0.0 or seen < 0.9 * near.gap_mm:
        return []
    return [Line((a_x, a_z), (b_x, b_z), "accent", 2.5),
        *(Circle(end, 4, "accent", None, dot=True) for end in ((a_x, a_z), (b_x, b_z)))]  # fmt: skip


def _between(a: tuple[float, float], b: tuple[float, float]) -> tuple[float, float]:
    """Return the places of two stretches that are nearest to each other: of both their common middle where they
    overlap.
    """
    if a[1] < b[0]:
        return a[1], b[0]
    if b[1] < a[0]:
        return a[0], b[1]
    middle = (max(a[0], b[0]) + min(a[1], b[1])) / 2
    return middle, middle


def _unknown(machine: Machine, point: PathPoint) -> str:
    """Say what is not described, and so neither drawn nor looked at."""
    missing = ["spindle nose"] if machine.spindle is None else []
    if point.long and not point.holder:
        missing.append("holder")
    said = f"; {' and '.join(missing)} not described, so not looked at" if missing else ""
    return (
        f"{said}; {len(machine.assumed)} of the machine's figures are assumed (Ctrl+K: what the machine is asked)"
        if machine.assumed
        else said
    )


def _span(values: Sequence[float], travel: Sequence[float]) -> tuple[float, float]:
    """Return what is shown along an axis: where the path goes and a good way round it, within the travel."""
    low, high = min(values, default=travel[0]), max(values, default=travel[1])
    return max(travel[0], low - AROUND), min(travel[1], high + AROUND)


def _floor(machine: Machine) -> float:
    """The table, as far as it is known: the foot of the setter or of an obstacle."""
    return min((around.low[2] for _, around in standing(machine)), default=machine.travel_mm.z[0])


def _track(path: Sequence[PathPoint], index: int, place: Callable[[PathPoint], Point], here: Point) -> list[Stroke]:
    """Draw the tip's way up to here, the newest part strongest; rapids dashed."""
    first = max(0, index - TRAIL)
    strokes: list[Stroke] = []
    shown = path[first : index + 1]
    newest = len(shown) - 40
    for i, (before, move) in enumerate(pairwise(shown)):
        a, b = place(before), place(move)
        if a == b or move.tool != before.tool:
            continue
        new = i >= newest
        ink: Ink = "bad" if move.way == "probe" and new else "accent" if new else "muted"
        strokes.append(Line(a, b, ink, 2.0 if new else 1.0, move.way == "rapid"))
    if shown and place(shown[-1]) != here:
        strokes.append(Line(place(shown[-1]), here, "accent", 2.0))
    return strokes


def gap_at(point: PathPoint, machine: Machine) -> tuple[float | None, str]:
    """Return the clearance where the path stands, mm, and between what it is; None where nothing is near."""
    near = nearest_at(point, machine)
    if near is None:
        return None, ""
    if near.gap_mm <= 0.0:
        return near.gap_mm, f"{near.part} touches {near.name}"
    return near.gap_mm, f"between {near.part} and {near.name}"


def nearest_words(course: Course | None) -> str:
    """Say how near the path comes to anything but the setter's pad."""
    near = course.nearest if course is not None else None
    if near is None:
        return "Nothing stands in the way."
    part = "" if near.part == "the tool" else f"'s {near.part.split()[-1]}"
    return f"Nearest miss: {near.gap_mm:.1f} mm, T{near.tool}{part} and {near.name}."
