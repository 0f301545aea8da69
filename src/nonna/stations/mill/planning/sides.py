"""Touches of a tool's edges on the setter's faces, for its diameter: from both sides of an axis, or from one."""

from __future__ import annotations

from nonna.metrology.safe_feeds import FURTHER
from nonna.programs.writing.touches import Touch
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, SetterSpec
from nonna.shop.cards.tool_end import end_of
from nonna.stations.mill.planning.choose import USUAL, in_the_way, spin
from nonna.stations.mill.planning.touches import CLEARANCE_MM, TURNING, feeds_of

DEPTH_MM = 3.0  #: how far below its tip (and its corner or point) a tool's side is touched
FLOOR_MM = 2.0  #: kept between the tip and the setter's foot
_NO_SIDE = {
    "slitting-saw": "a saw's teeth are too thin to be touched from the side here",
    "t-slot": "its neck is thinner than its head",
    "dovetail": "its side leans",
    "boring-bar": "one edge alone has no diameter",
    "turning-tool": "a turning tool has no diameter",
    "probe": "a probe is calibrated in the ring",
    "master": "a master's diameter is certified",
}


def side_touches(
    machine: Machine, setter: SetterSpec, tool: JobTool, count: int, parameter: int, accuracy: float, *, first: bool
) -> tuple[list[Touch], str]:
    """Plan touches of a tool's edges, turning backwards; returns none where it cannot be done, and the reason either
    way.

    Parameters: parameter, where the first result is left; first, whether the tool must be put in beforehand.
    """
    if tool.kind in _NO_SIDE:
        return [], f"Its diameter is left out: {_NO_SIDE[tool.kind]}."
    if tool.length_mm is None:
        return [], "Its diameter is left out: measure its length first."
    point = end_of(tool).full_height  # its corner, point or lead stands below this
    doubt = tool.length_uncertainty_mm
    depth = setter.trigger_plane_mm + tool.length_mm - doubt - point - DEPTH_MM
    tip = depth - tool.length_mm - doubt
    if tip < setter.trigger_plane_mm - setter.height_mm + FLOOR_MM or depth < machine.travel_mm.z[0]:
        return (
            [],
            "Its diameter is left out: its side cannot be reached before it meets the table or the end of travel.",
        )
    free: dict[str, str] = {}
    for side in ("+x", "-x", "+y", "-y"):
        if side not in setter.clear_sides:
            free[side] = "not marked clear"
        else:
            ends = (
                _beside(setter, tool, side, CLEARANCE_MM),
                _beside(setter, tool, side, -FURTHER * setter.overtravel_mm),
            )
            free[side] = next((met for at in ends if (met := in_the_way(machine, tool, at, tip))), "")
    sides: tuple[str, ...] | None = next(
        (pair for pair in (("+x", "-x"), ("+y", "-y")) if not free[pair[0]] and not free[pair[1]]), None
    )
    words = "Its diameter from both sides, turning backwards."
    if sides is None:
        sides = next(((side,) for side, trouble in free.items() if not trouble), None)
        words = f"Its diameter from the {sides[0] if sides else ''} side alone: it rests on the setter's centre too."
    if sides is None:
        why = "; ".join(f"{side}: {trouble}" for side, trouble in free.items())
        return [], f"Its diameter is left out: no side of the setter is free ({why})."
    rpm, direction = spin(tool, machine, USUAL)
    feeds = feeds_of(machine, accuracy, rpm, sideways=True)
    made = []
    for i, side in enumerate(sides):
        x, y = _beside(setter, tool, side, CLEARANCE_MM)
        sign, axis = (1 if side[0] == "+" else -1), side[1]
        end = _beside(setter, tool, side, -FURTHER * setter.overtravel_mm)["xy".index(axis)]
        made.append(
            Touch(f"T{tool.number} {side}", x, y, depth, axis, end, count, sign, parameter + i * count,
                  tool.number if first and i == 0 else 0, feeds, rpm, TURNING[direction], of=tool.number,
                  what=f"face{side}")
        )  # fmt: skip
    return made, words


def _beside(setter: SetterSpec, tool: JobTool, side: str, air: float) -> tuple[float, float]:
    """Return where the spindle stands when a tool is so far off a face (mm, negative: past it)."""
    sign = 1.0 if side[0] == "+" else -1.0
    width = setter.width_x_mm if side[1] == "x" else setter.width_y_mm
    away = sign * (width / 2 + tool.diameter_mm / 2 + air)
    return (setter.x_mm + away, setter.y_mm) if side[1] == "x" else (setter.x_mm, setter.y_mm + away)
