"""Touches with the spindle oriented: an edge turned to the pad, a cutter's teeth one by one."""

from __future__ import annotations

import math

from nonna.programs.writing.touches import Touch
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, SetterSpec, Tool
from nonna.shop.cards.standing import column_of
from nonna.stations.mill.planning.touches import feeds_of
from nonna.stations.touched_tools import Choice

TOUCHES_A_TOOTH = 2
MOST_TEETH = 60
APART_MM = 0.3  #: a neighbour's edge keeps this from the pad
EDGE_PLACES = 12


def turn_to_pad(tool: Tool, offset: tuple[float, float], edge: int = 1) -> float:
    """Return the spindle's angle (degrees, [0, 360)) that turns an edge to the pad's middle.

    Parameters: offset, spindle axis minus the pad's middle (mm); edge, from 1, counted counter-clockwise from above.
    """
    wanted = math.degrees(math.atan2(-offset[1], -offset[0]))
    return (wanted - tool.edge_deg - 360.0 * (edge - 1) / tool.edges) % 360.0


def edge_at_pad(tool: Tool, offset: tuple[float, float], angle: float, half_pad: float) -> int:
    """Return which edge (from 1) of an oriented tool stands over a pad of that half width, 0 where none does."""
    away = math.hypot(*offset)
    half = 180.0 if away <= half_pad else math.degrees(math.atan2(half_pad, away))
    for edge in range(1, tool.edges + 1):
        off = (turn_to_pad(tool, offset, edge) - angle + 180.0) % 360.0 - 180.0
        if abs(off) <= half:
            return edge
    return 0


def two_at_once(setter: SetterSpec, tool: Tool, offset: tuple[float, float]) -> bool:
    """Whether a neighbour of the tooth that is turned to the pad stands over the pad, too.

    Parameters: offset, spindle axis minus the pad's middle (mm). Edges are looked at from half the radius out.
    """
    pad, teeth = column_of(setter), tool.edges
    towards = math.atan2(-offset[1], -offset[0])
    for side in (1, -1):
        angle = towards + side * 2.0 * math.pi / teeth
        for i in range(EDGE_PLACES + 1):
            reach = tool.diameter_mm / 2.0 * (1.0 + i / EDGE_PLACES) / 2.0
            at = (setter.x_mm + offset[0] + reach * math.cos(angle), setter.y_mm + offset[1] + reach * math.sin(angle))
            if pad.away(*at) < APART_MM:
                return True
    return False


def tooth_touches(
    machine: Machine, setter: SetterSpec, tool: JobTool, how: Choice, window: tuple[float, float], parameter: int,
    accuracy: float,
    *, first: bool,
) -> tuple[list[Touch], str]:  # fmt: skip
    """Plan touches of a cutter's teeth one by one, standing still; none where it cannot be done, and the reason either
    way.

    Parameters: window, from where to where is searched (gauge-line machine Z); parameter, where the first result is
    left; first, whether the tool must be put in beforehand.
    """
    why = ""
    if not machine.spindle_orient:
        why = f"the spindle of {machine.name} cannot be oriented, as far as its card says"
    elif tool.length_mm is None:
        why = "measure its length first"
    elif not 2 <= tool.flutes <= MOST_TEETH:
        why = f"{tool.flutes} teeth cannot be told apart"
    elif how.method != "offset-rotating":
        why = "its teeth do not stand out at its rim alone"
    elif two_at_once(setter, tool, how.offset_mm):
        pad = min(setter.width_x_mm, setter.width_y_mm)
        why = f"two of its teeth stand over the {pad:g} mm pad at once, and the longer one would be read for both"
    if why:
        return [], f"Tooth by tooth is left out: {why}."
    feeds = feeds_of(machine, accuracy)
    x, y = setter.x_mm + how.offset_mm[0], setter.y_mm + how.offset_mm[1]
    made = [
        Touch(f"T{tool.number} tooth {edge}", x, y, window[0], "z", window[1], TOUCHES_A_TOOTH, 1,
              parameter + (edge - 1) * TOUCHES_A_TOOTH, tool.number if first and edge == 1 else 0, feeds,
              orient=turn_to_pad(tool, how.offset_mm, edge), tooth=edge, of=tool.number, what=f"tooth-{edge}")
        for edge in range(1, tool.flutes + 1)
    ]  # fmt: skip
    turns = ", ".join(f"{touch.orient:.0f}°" for touch in made[:6])
    return made, f"Tooth by tooth, oriented and standing still: {turns}{' ...' if len(made) > 6 else ''}."
