"""Plans the measuring of a list of tools: how each is touched, how far, how fast, how long it takes."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from nonna.errors import NonnaError
from nonna.metrology.safe_feeds import FURTHER, SLOWEST_TURNING_MM_MIN, Feeds
from nonna.programs.writing.touches import Touch, TouchPlan
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, SetterSpec
from nonna.stations.mill.planning.choose import choose, on_the_way, shortest_of
from nonna.stations.mill.planning.oriented import tooth_touches, turn_to_pad
from nonna.stations.mill.planning.sheets import sheet_lines
from nonna.stations.mill.planning.sides import side_touches
from nonna.stations.mill.planning.storing import with_stores
from nonna.stations.mill.planning.touches import CLEARANCE_MM, TURNING, feeds_of, plan_for, results_of
from nonna.stations.touched_tools import Choice, ToolPlan, Wish

UNKNOWN_ABOUT_MM = 100.0  #: taken for the time where a length is not known
WIDE_MM = 10.0  #: a search window wider than this is reported


@dataclass(frozen=True, slots=True)
class JobPlan:
    """Plans of all tools, and the touches of those that are not refused as one program's plan."""

    tools: tuple[ToolPlan, ...]
    program: TouchPlan

    @property
    def seconds(self) -> float:
        """Time of the whole program."""
        return math.fsum(plan.seconds for plan in self.tools if not plan.refused)


@dataclass(frozen=True, slots=True)
class _Setting:
    """What all tools of a job share."""

    machine: Machine
    setter: SetterSpec
    touches: int
    accuracy: float
    wishes: Mapping[int, Wish]


def plan_job(
    machine: Machine,
    tools: Sequence[JobTool],
    touches: int,
    accuracy_mm: float,
    progress: Callable[[int, int], None] | None = None,
    wishes: Mapping[int, Wish] | None = None,
    *,
    store: bool = False,
) -> JobPlan:
    """Plan a job; ``store``: lengths are stored behind their touches (`storing`).

    ``wishes`` by tool number go before our own choice; ``progress`` is told how many tools of how many are done, what
    it raises stops the planning.

    Raises: NonnaError (the machine has no setter; two tools with one number; a breakage check without its reference).
    """
    if machine.setter is None:
        raise NonnaError(
            "missing-field", "{name} has no setter; nothing can be touched.", "machine.setter", name=machine.name
        )
    seen: set[int] = set()
    for i, tool in enumerate(tools):
        if tool.number in seen:
            raise NonnaError(
                "out-of-range",
                "tools[{i}].number: T{number} stands twice.",
                f"tools[{i}].number",
                i=i,
                number=tool.number,
            )
        seen.add(tool.number)
        if "breakage" in tool.measure:
            for name in ("reference_mm", "tolerance_short_mm", "tolerance_long_mm"):
                if getattr(tool, name) is None:
                    raise NonnaError(
                        "missing-field", "tools[{i}].{name}: this is missing.", f"tools[{i}].{name}", i=i, name=name
                    )
    plans: list[ToolPlan] = []
    parameter, setting = results_of(machine)[0], _Setting(machine, machine.setter, touches, accuracy_mm, wishes or {})
    at = (sum(machine.travel_mm.x) / 2, sum(machine.travel_mm.y) / 2)
    for i, tool in enumerate(tools):
        plan = _plan(setting, tool, parameter, at)
        parameter += sum(t.count for t in plan.touches)
        at = (plan.touches[-1].x, plan.touches[-1].y) if plan.touches else at
        plans.append(plan)
        if progress is not None:
            progress(i + 1, len(tools))
    if store:
        plans = list(with_stores(machine, machine.setter, plans, accuracy_mm, parameter))
    made = tuple(t for plan in plans for t in plan.touches)
    lines = tuple(_line(plan) for plan in plans)
    return JobPlan(
        tuple(plans),
        plan_for(machine, f"Measuring {len(plans)} tools on {machine.name}", lines, feeds_of(machine, accuracy_mm),
            made, tuple(line for plan in plans for line in sheet_lines(plan, machine))),
    )  # fmt: skip


def _plan(job: _Setting, tool: JobTool, parameter: int, start: tuple[float, float]) -> ToolPlan:
    machine, setter = job.machine, job.setter
    how = choose(tool, machine, wish=job.wishes.get(tool.number))
    feeds = feeds_of(machine, job.accuracy, how.rpm)
    window = _window(machine, setter, tool, feeds.back_off_mm)
    refused = how.refused or window.refused
    place = (setter.x_mm + how.offset_mm[0], setter.y_mm + how.offset_mm[1])
    if not refused and tool.number > machine.pocket_count > 0 and machine.kind == "router":
        refused = f"{machine.name} has {machine.pocket_count:g} pockets; there is none for T{tool.number}."
    if not refused:
        refused = _no_way(machine, tool, start, place, window.longest)
    if not refused and how.rpm and job.accuracy * how.rpm < SLOWEST_TURNING_MM_MIN:
        refused = (
            f"At {how.rpm:g} rpm it cannot be touched to {job.accuracy * 1000:g} µm in any time: ask for "
            f"{math.ceil(SLOWEST_TURNING_MM_MIN / how.rpm * 1000):g} µm, or let it turn faster."
        )
    reasons = [*how.reasons, *window.reasons]
    reasons.append(
        f"Fast touch {feeds.fast_mm_min:g} mm/min stops within half the overtravel of {setter.overtravel_mm:g} mm; "
        f"slow touch {feeds.slow_mm_min:g} mm/min for {job.accuracy * 1000:g} µm."
    )
    made: list[Touch] = []
    if not refused:
        made = _length_touches(job, tool, how, feeds, window, parameter)
        parameter += sum(touch.count for touch in made)
        if "diameter" in tool.measure:
            sides, words = side_touches(machine, setter, tool, job.touches, parameter, job.accuracy, first=not made)
            made += sides
            reasons.append(words)
            if not made:
                refused = words
        if "teeth" in tool.measure:
            parameter = parameter + sum(touch.count for touch in made if touch.axis != "z")
            one_by_one, words = tooth_touches(
                machine, setter, tool, how, (window.approach, window.search), parameter, job.accuracy, first=not made
            )
            made += one_by_one
            reasons.append(words)
            if not made:
                refused = words
    if made and "breakage" in tool.measure and "length" not in tool.measure:
        whole = replace(made[0], count=max(3, job.touches))
        quick, slow = (machine.tool_change_s + _seconds(machine, t, feeds, window.approach) for t in (made[0], whole))
        if slow - quick >= 1.0:
            reasons.append(f"A check is one touch, about {quick:.0f} s; its whole length would take {slow:.0f} s.")
    if made and how.method == "edge-oriented" and not machine.spindle_orient:
        way = (
            "+x"
            if how.offset_mm[0] < 0.0
            else "-x"
            if how.offset_mm[0] > 0.0
            else "+y"
            if how.offset_mm[1] < 0.0
            else "-y"
        )
        made[0] = replace(made[0], turn_by_hand=f"turn the spindle until its edge points to {way}, over the pad")
        reasons.append("The spindle cannot be oriented: the program stops above the pad for a hand to turn the edge.")
    if made and machine.pocket_count == 0:
        made[0] = replace(
            made[0], by_hand=f"T{tool.number} {tool.description or tool.kind}, {tool.diameter_mm:g} mm wide"
        )
        reasons.append("There is no changer: the program stops and asks for it.")
    if not tool.repeats:
        reasons.append("Its holder does not come back to the same length: it is measured at every load.")
    trip = setter.trigger_plane_mm + (window.about if window.about is not None else UNKNOWN_ABOUT_MM)
    seconds = 0.0 if refused else machine.tool_change_s + math.fsum(_seconds(machine, t, feeds, trip) for t in made)
    return ToolPlan(
        tool,
        how,
        feeds,
        window.approach,
        window.search,
        seconds,
        tuple(reasons),
        refused,
        () if refused else tuple(made),
    )


def _no_way(
    machine: Machine, tool: JobTool, start: tuple[float, float], place: tuple[float, float], longest: float
) -> str:
    """Say why a tool can neither be changed where the spindle then stands nor go from there, "" where it can."""
    met = on_the_way(machine, tool, start, start, machine.tool_change_z_mm - longest)
    if met:
        return f"It cannot be put in: {met.replace('the safe height', 'the height of the change')}."
    met = on_the_way(machine, tool, start, place, machine.travel_mm.z[1] - longest)
    return f"It cannot go to the setter: {met}." if met else ""


@dataclass(frozen=True, slots=True)
class _Window:
    """From where to where a length is searched, gauge-line machine Z, and what is to be said about it."""

    about: float | None
    longest: float  #: the longest the tool can be, as far as that is known
    approach: float
    search: float
    reasons: tuple[str, ...]
    refused: str = ""


def _window(machine: Machine, setter: SetterSpec, tool: JobTool, room: float) -> _Window:
    """Work out the window; ``room`` is what a touch backs off afterwards."""
    plane, (bottom, top) = setter.trigger_plane_mm, machine.travel_mm.z
    check = "breakage" in tool.measure
    about = tool.reference_mm if check and tool.reference_mm is not None else tool.length_mm
    if about is None:
        approach, search = top, max(plane + shortest_of(tool), bottom)
        words = (
            f"Its length is not known: a slow guarded descent from the top, down to a tool of {search - plane:g} mm."
        )
        refused = ""
        if approach - search < CLEARANCE_MM:
            refused = f"There is no room to search at the setter of {machine.name}: its pad lies above the travel."
        return _Window(None, 0.0, approach, search, (words,), refused)
    reasons = []
    longest, shortest = about + tool.length_uncertainty_mm, about - tool.length_uncertainty_mm
    if check and tool.tolerance_long_mm is not None and tool.tolerance_short_mm is not None:
        longest = max(longest, about + 2.0 * tool.tolerance_long_mm + CLEARANCE_MM)
        shortest = min(shortest, about - tool.tolerance_short_mm)
        if tool.length_mm is not None:  # the table may say otherwise than the reference: believe whichever is safer
            longest = max(longest, tool.length_mm + tool.length_uncertainty_mm)
            if "length" in tool.measure:
                shortest = min(shortest, tool.length_mm - tool.length_uncertainty_mm)
        reasons.append("The rapid stops where it is safe even if the tool has pulled out; no trigger proves a break.")
    if longest - shortest > WIDE_MM:
        reasons.append(
            f"Its length is only known within {longest - shortest:g} mm: the search is long. A better length makes it "
            "quick."
        )
    approach, wanted = plane + longest + CLEARANCE_MM, plane + shortest - FURTHER * setter.overtravel_mm
    search, refused = max(wanted, bottom), ""
    if approach > top and plane + longest + max(0.5, room) < top:
        reasons.append(
            f"There is only {top - plane - longest:.1f} mm of air above it: the rapid stops at the top of travel."
        )
        approach = top
    if search > wanted:
        reasons.append(
            f"The travel ends {search - wanted:.1f} mm before the search should: shorter tools are not found."
        )
    if approach > top or plane + shortest < bottom:
        refused = f"It is too {'long' if approach > top else 'short'} for the travel of {machine.name} at the setter."
    return _Window(about, longest, approach, search, tuple(reasons), refused)


def _length_touches(
    job: _Setting, tool: JobTool, how: Choice, feeds: Feeds, window: _Window, parameter: int
) -> list[Touch]:
    if not {"length", "breakage"} & set(tool.measure):
        return []
    setter = job.setter
    limits: tuple[float | None, float | None] = (None, None)
    if tool.reference_mm is not None and tool.tolerance_short_mm is not None and tool.tolerance_long_mm is not None:
        whole = setter.trigger_plane_mm + tool.reference_mm
        limits = (whole - tool.tolerance_short_mm, whole + tool.tolerance_long_mm)
    times = 1 if "length" not in tool.measure else job.touches
    x, y = setter.x_mm + how.offset_mm[0], setter.y_mm + how.offset_mm[1]
    oriented = how.method == "edge-oriented" and job.machine.spindle_orient
    orient = turn_to_pad(tool, how.offset_mm) if oriented else None
    return [
        Touch(f"T{tool.number} length", x, y, window.approach, "z", window.search, times, 1, parameter, tool.number,
              feeds, how.rpm, TURNING[how.direction], *limits, orient=orient, of=tool.number, what="length")
    ]  # fmt: skip


def _seconds(machine: Machine, touch: Touch, usual: Feeds, trip: float) -> float:
    """Return about how long a touch takes: way there, fast search, back, slow ones."""
    feeds = touch.feeds or usual
    there = 2.0 * (abs(machine.travel_mm.z[1] - touch.z) / machine.rapid_mm_min.z + 0.02) * 60.0
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
