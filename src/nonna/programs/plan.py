"""Plans the measuring of a list of tools: how each is touched, how far, how fast, how long it takes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.programs.choose import USUAL, Choice, choose, spin
from nonna.programs.feeds import Feeds
from nonna.programs.touches import CLEARANCE_MM, FIRST_RESULT, Touch, TouchPlan, feeds_of
from nonna.shop.job import JobTool
from nonna.shop.machine import Machine, SetterSpec

SHORTEST_MM = 10.0  #: no tool in a holder is shorter; a search for an unknown length ends there
DEPTH_MM = 3.0  #: how far below its tip a tool's side is touched
FURTHER = 0.5  #: the search goes this share of the overtravel below the shortest the tool can be
_NO_SIDE = ("slitting-saw", "t-slot", "dovetail", "boring-bar", "probe", "master")
_TURNING = {"cw": "M3", "ccw": "M4", "stopped": ""}


@dataclass(frozen=True, slots=True)
class ToolPlan:
    """One tool's plan."""

    tool: JobTool
    choice: Choice
    feeds: Feeds
    approach_z: float
    search_to_z: float
    seconds: float
    reasons: tuple[str, ...]
    refused: str
    touches: tuple[Touch, ...]

    def to_document(self) -> dict[str, Any]:
        """Return the plan as its report has it."""
        return {
            "number": self.tool.number,
            "method": self.choice.method,
            "offset_mm": {"x": self.choice.offset_mm[0], "y": self.choice.offset_mm[1]},
            "spindle_rpm": self.choice.rpm,
            "spindle_direction": self.choice.direction,
            "fast_feed_mm_min": self.feeds.fast_mm_min,
            "slow_feed_mm_min": self.feeds.slow_mm_min,
            "approach_z_mm": self.approach_z,
            "search_to_z_mm": self.search_to_z,
            "seconds": self.seconds,
            "reasons": list(self.reasons),
            "refused": self.refused or None,
        }


@dataclass(frozen=True, slots=True)
class JobPlan:
    """Plans of all tools, and the touches of those that are not refused as one program's plan."""

    tools: tuple[ToolPlan, ...]
    program: TouchPlan

    @property
    def seconds(self) -> float:
        """Time of the whole program."""
        return math.fsum(plan.seconds for plan in self.tools if not plan.refused)


def plan_job(machine: Machine, tools: Sequence[JobTool], touches: int, accuracy_mm: float) -> JobPlan:
    """Plan a job.

    Raises: NonnaError (the machine has no setter; two tools with one number; a breakage check without its reference).
    """
    if machine.setter is None:
        raise NonnaError("missing-field", f"{machine.name} has no setter; nothing can be touched.", "machine.setter")
    seen: set[int] = set()
    for i, tool in enumerate(tools):
        if tool.number in seen:
            raise NonnaError("out-of-range", f"tools[{i}].number: T{tool.number} stands twice.", f"tools[{i}].number")
        seen.add(tool.number)
        if "breakage" in tool.measure:
            for name in ("reference_mm", "tolerance_short_mm", "tolerance_long_mm"):
                if getattr(tool, name) is None:
                    raise NonnaError("missing-field", f"tools[{i}].{name}: this is missing.", f"tools[{i}].{name}")
    plans: list[ToolPlan] = []
    parameter = FIRST_RESULT
    for tool in tools:
        plan = _plan(machine, machine.setter, tool, touches, accuracy_mm, parameter)
        parameter += sum(t.count for t in plan.touches)
        plans.append(plan)
    made = tuple(t for plan in plans for t in plan.touches)
    lines = tuple(_line(plan) for plan in plans)
    return JobPlan(
        tuple(plans),
        TouchPlan(f"Measuring {len(plans)} tools on {machine.name}", lines, machine.tool_change_z_mm,
                  feeds_of(machine, accuracy_mm), made),
    )  # fmt: skip


def _plan(
    machine: Machine, setter: SetterSpec, tool: JobTool, touches: int, accuracy: float, parameter: int
) -> ToolPlan:
    how = choose(tool, machine)
    feeds = feeds_of(machine, accuracy, how.rpm)
    plane, top = setter.trigger_plane_mm, machine.travel_mm.z[1]
    reasons, refused = list(how.reasons), how.refused
    check = "breakage" in tool.measure
    about = tool.reference_mm if check and tool.reference_mm is not None else tool.length_mm
    if about is None:
        approach, search = min(machine.tool_change_z_mm, top), max(plane + SHORTEST_MM, machine.travel_mm.z[0])
        reasons.append("Its length is not known: a slow guarded descent from the top.")
    else:
        longest, shortest = about + tool.length_uncertainty_mm, about - tool.length_uncertainty_mm
        if check and tool.tolerance_long_mm is not None and tool.tolerance_short_mm is not None:
            longest = max(longest, about + 2.0 * tool.tolerance_long_mm + CLEARANCE_MM)
            shortest = min(shortest, about - tool.tolerance_short_mm)
            reasons.append(
                "The rapid stops where it is safe even if the tool has pulled out; no trigger proves a break."
            )
        approach = plane + longest + CLEARANCE_MM
        search = max(plane + shortest - FURTHER * setter.overtravel_mm, machine.travel_mm.z[0])
        if approach > top and plane + longest + 0.5 < top:
            approach = top  # little room above it: still clear of the pad
        if not refused and (approach > top or plane + shortest < machine.travel_mm.z[0]):
            word = "long" if approach > top else "short"
            refused = f"It is too {word} for the travel of {machine.name} at the setter."
    if not refused and tool.number > machine.pocket_count > 0 and machine.kind == "router":
        refused = f"{machine.name} has {machine.pocket_count:g} pockets; there is none for T{tool.number}."
    reasons.append(
        f"Fast touch {feeds.fast_mm_min:g} mm/min stops within half the overtravel of {setter.overtravel_mm:g} mm; "
        f"slow touch {feeds.slow_mm_min:g} mm/min for {accuracy * 1000:g} µm."
    )
    made = (
        [] if refused else _touches(machine, setter, tool, how, feeds, (approach, search), touches, parameter, accuracy)
    )
    trip = plane + (about if about is not None else 100.0)
    seconds = 0.0 if refused else machine.tool_change_s + math.fsum(_seconds(machine, t, feeds, trip) for t in made)
    return ToolPlan(tool, how, feeds, approach, search, seconds, tuple(reasons), refused, tuple(made))


def _touches(
    machine: Machine, setter: SetterSpec, tool: JobTool, how: Choice, feeds: Feeds, z: tuple[float, float],
    count: int, parameter: int, accuracy: float,
) -> list[Touch]:  # fmt: skip
    turning = _TURNING[how.direction]
    x, y = setter.x_mm + how.offset_mm[0], setter.y_mm + how.offset_mm[1]
    times = 1 if "breakage" in tool.measure and "length" not in tool.measure else count
    made = []
    limits: tuple[float | None, float | None] = (None, None)
    if tool.reference_mm is not None and tool.tolerance_short_mm is not None and tool.tolerance_long_mm is not None:
        whole = setter.trigger_plane_mm + tool.reference_mm
        limits = (whole - tool.tolerance_short_mm, whole + tool.tolerance_long_mm)
    if "length" in tool.measure or "breakage" in tool.measure:
        made.append(
            Touch(
                f"T{tool.number} length",
                x,
                y,
                z[0],
                "z",
                z[1],
                times,
                1,
                parameter,
                tool.number,
                feeds,
                how.rpm,
                turning,
                *limits,
            )
        )
        parameter += times
    if "diameter" in tool.measure and tool.length_mm is not None and tool.kind not in _NO_SIDE:
        made += _sides(machine, setter, tool, count, parameter, accuracy, first=not made)
    return made


def _sides(
    machine: Machine, setter: SetterSpec, tool: JobTool, count: int, parameter: int, accuracy: float, *, first: bool
) -> list[Touch]:
    """Touch the tool's edges on both X faces of the pad, turning backwards."""
    rpm, direction = spin(tool, machine, USUAL)
    feeds = feeds_of(machine, accuracy, rpm)
    point = tool.diameter_mm / 2 if tool.kind in ("ball-mill", "chamfer-mill") else tool.corner_radius_mm
    if tool.point_angle_deg:
        point = tool.diameter_mm / 2 / math.tan(math.radians(min(tool.point_angle_deg, 179.0)) / 2)
    longest = (tool.length_mm or 0.0) + tool.length_uncertainty_mm
    depth = setter.trigger_plane_mm + longest - point - DEPTH_MM
    half = setter.width_x_mm / 2 + tool.diameter_mm / 2
    made = []
    for i, (side, sign) in enumerate((("+x", 1), ("-x", -1))):
        start, end = (
            setter.x_mm + sign * (half + CLEARANCE_MM),
            setter.x_mm + sign * (half - FURTHER * setter.overtravel_mm),
        )
        if not machine.travel_mm.x[0] <= start <= machine.travel_mm.x[1]:
            return []
        made.append(
            Touch(f"T{tool.number} {side}", start, setter.y_mm, depth, "x", end, count, sign, parameter + i * count,
                  tool.number if first and i == 0 else 0, feeds, rpm, _TURNING[direction])
        )  # fmt: skip
    return made


def _seconds(machine: Machine, touch: Touch, usual: Feeds, trip: float) -> float:
    """Return about how long a touch takes: way there, fast search, back, slow ones."""
    feeds = touch.feeds or usual
    there = 2.0 * (abs(machine.tool_change_z_mm - touch.z) / machine.rapid_mm_min.z + 0.02) * 60.0
    search = max(0.5, abs(touch.z - trip) if touch.axis == "z" else CLEARANCE_MM)
    seconds = there + search / feeds.fast_mm_min * 60.0
    back = feeds.back_off_mm
    if feeds.middle_mm_min:
        seconds += back / feeds.middle_mm_min * 60.0
        back = feeds.again_mm
    seconds += back / feeds.slow_mm_min * 60.0
    return seconds + (touch.count - 1) * feeds.again_mm / feeds.slow_mm_min * 60.0 + (4.0 if touch.turning else 1.0)


def _line(plan: ToolPlan) -> str:
    tool = plan.tool
    about = "length not known" if tool.length_mm is None else f"about {tool.length_mm:.2f}"
    if plan.refused:
        return f"T{tool.number} {tool.description or tool.kind} LEFT OUT: {plan.refused}"
    turning = f", turning BACKWARDS {plan.choice.rpm:.0f} rpm" if plan.choice.rpm else ", standing still"
    return f"T{tool.number} {tool.description or tool.kind}, {about}, {', '.join(tool.measure)}{turning}"
