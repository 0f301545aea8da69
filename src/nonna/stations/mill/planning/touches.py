"""Plans of touches: where to go, which way to search, where the result is left."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from nonna.errors import NonnaError
from nonna.metrology.safe_feeds import Feeds, safe_feeds
from nonna.programs.language.tables import USUAL_RESULTS, clear_of_tables
from nonna.programs.writing.storing import PARAMETERS
from nonna.programs.writing.touches import WAITED, Touch, TouchPlan
from nonna.shop.cards.machine import Machine, SetterSpec
from nonna.stations.touched_tools import ACCURACY_MM

CLEARANCE_MM = 5.0
RUN_UP_MM = 1.0  #: way to reach a feed evenly before the contact
SIDE_DEPTH_MM = 3.0
TURNING = {"cw": "M3", "ccw": "M4", "stopped": ""}
FIRST_SCRATCH, SCRATCH = (
    101,
    9,
)  #: parameters a program works with, where the card names no others, and how many it needs


def plan_for(
    machine: Machine, title: str, lines: tuple[str, ...], feeds: Feeds, touches: tuple[Touch, ...],
    sheets: tuple[str, ...] = (),
) -> TouchPlan:  # fmt: skip
    """Return a plan with what the machine's card says: the top of travel as safe height, how the spindle is waited for.

    Raises: NonnaError ``out-of-range`` (more results than the card has parameters for, or too few to work with).
    """
    card = machine.control
    ranges = card.parameters if card is not None else None
    _, last = results_of(machine)
    ends = [t.first_parameter + t.count - 1 for t in touches]
    ends += [t.stores.first_parameter + PARAMETERS - 1 for t in touches if t.stores is not None]
    highest = max(ends, default=0)
    if highest > last:
        raise NonnaError(
            "out-of-range",
            "{count} results go beyond parameter #{last}, the last that {name} has for them: measure fewer tools in "
            "one program.",
            "machine.control.parameters.results",
            count=sum(t.count for t in touches),
            last=last,
            name=machine.name,
        )
    if card is not None and highest:
        clear_of_tables(card, results_of(machine)[0], highest - results_of(machine)[0] + 1, machine.name)
    first = 0
    if ranges is not None and ranges.scratch is not None:
        first = ranges.scratch[0]
        if ranges.scratch[1] - first + 1 < SCRATCH:
            words = "{scratch} parameters are needed to work with; the card of {name} has {few}."
            few = ranges.scratch[1] - first + 1
            raise NonnaError(
                "out-of-range", words, "machine.control.parameters.scratch", scratch=SCRATCH, name=machine.name, few=few
            )
    line = (card.words.get("spindle-stopped") or "") if card is not None else ""
    wait = machine.spindle_run_down_s + WAITED
    top = machine.travel_mm.z[1]
    return TouchPlan(title, lines, top, feeds, touches, wait, line, first, control=card, sheets=sheets)


def results_of(machine: Machine) -> tuple[int, int]:
    """Return the first and last parameter that may hold results on a machine."""
    ranges = machine.control.parameters if machine.control is not None else None
    span = ranges.results if ranges is not None else None
    return (span[0], span[1]) if span is not None else USUAL_RESULTS


def _setter(machine: Machine) -> SetterSpec:
    if machine.setter is None:
        raise NonnaError(
            "missing-field", "{name} has no setter; add one to its machine file.", "setter", name=machine.name
        )
    return machine.setter


def feeds_of(machine: Machine, accuracy_mm: float = ACCURACY_MM, rpm: float = 0.0, *, sideways: bool = False) -> Feeds:
    """Return the safe feeds on a machine's setter; ``sideways``: along X or Y, which brake otherwise than Z.

    Raises: NonnaError ``missing-field`` (no setter).
    """
    brakes = machine.acceleration_mm_s2
    return safe_feeds(
        overtravel_mm=_setter(machine).overtravel_mm,
        latency_s=machine.trigger_latency_s,
        jitter_s=machine.trigger_jitter_s,
        deceleration_mm_s2=brakes.xy if sideways else brakes.z,
        accuracy_mm=accuracy_mm,
        rpm=rpm,
    )


def nose_aside(machine: Machine) -> tuple[float, float]:
    """Return how far off the pad's middle a bare spindle stands when it is touched, X and Y, mm.

    A nose that is open would take a small pad up into its bore: the ring of its face is brought over the pad instead,
    on a side that is clear; a pad wider than the bore is met in the middle.
    """
    nose, setter = machine.spindle, _setter(machine)
    if nose is None or min(setter.width_x_mm, setter.width_y_mm) > nose.bore_mm:
        return 0.0, 0.0
    side = next(iter(setter.clear_sides), "+x")
    away = (nose.bore_mm + nose.nose_diameter_mm) / 4.0 * (1.0 if side[0] == "+" else -1.0)
    return (away, 0.0) if side[1] == "x" else (0.0, away)


def setter_calibration(
    machine: Machine,
    master_length: float,
    master_diameter: float,
    top: int,
    side: int,
    aside: tuple[float, float] = (0.0, 0.0),
) -> TouchPlan:
    """Plan a setter calibration with a master in the spindle; side 0 leaves the faces out.

    Parameters: aside, how far off the pad's middle its top is touched (`nose_aside`).
    Raises: NonnaError (no setter, or the master does not fit the travel).
    """
    setter, feeds = _setter(machine), feeds_of(machine)
    h, cx, cy = setter.trigger_plane_mm, setter.x_mm, setter.y_mm
    above = h + master_length + CLEARANCE_MM
    low = h + master_length - setter.overtravel_mm
    first, sideways = results_of(machine)[0], feeds_of(machine, sideways=True)
    touches = [Touch("top", cx + aside[0], cy + aside[1], above, "z", low, top, 1, first, what="top")]
    depth = h + master_length - SIDE_DEPTH_MM
    number = first + top
    for face in ("+x", "-x", "+y", "-y") if side else ():
        sign, axis = (1 if face[0] == "+" else -1), face[1]
        half = (setter.width_x_mm if axis == "x" else setter.width_y_mm) / 2 + master_diameter / 2
        start, end = sign * (half + CLEARANCE_MM), sign * (half - setter.overtravel_mm / 2)
        x, y = (cx + start, cy) if axis == "x" else (cx, cy + start)
        target = (cx if axis == "x" else cy) + end
        touches.append(Touch(face, x, y, depth, axis, target, side, sign, number, feeds=sideways, what=f"face{face}"))
        number += side
    plan = plan_for(
        machine, f"Setter calibration on {machine.name}",
        (f"Master {master_diameter:.4f} x {master_length:.4f} in the spindle, put there by hand",
            "Touches top, then both faces of X and Y"),
        feeds, tuple(touches),
    )  # fmt: skip
    return _within_travel(plan, machine)


def top_touches(machine: Machine, title: str, held: str, length: float, count: int) -> TouchPlan:
    """Plan touches on top of the setter with what is in the spindle already.

    Parameters: title and held, words for the header; length of what is held (mm), 0 for the bare spindle.
    Raises: NonnaError (no setter, or it does not fit the travel).
    """
    whole = setter_calibration(machine, length, 0.0, count, 0, nose_aside(machine) if length == 0.0 else (0.0, 0.0))
    return replace(whole, title=f"{title} on {machine.name}", lines=(held, "Touches the setter's top"))


def top_touches_at(machine: Machine, title: str, held: str, length: float, feeds: Mapping[float, int]) -> TouchPlan:
    """Plan touches on top of the setter, so many at each feed (mm/min), the slowest first; named by their feed.

    Raises: NonnaError ``out-of-range`` (a feed at which the setter's overtravel would not do), and as `top_touches`.
    """
    whole = top_touches(machine, title, held, length, 1)
    safe = feeds_of(machine)
    too_fast = max(feeds, default=0.0)
    if too_fast > safe.fast_mm_min:
        raise NonnaError(
            "out-of-range",
            "{too_fast:g} mm/min is too fast for this setter's overtravel: at most {fast_mm_min:g}.",
            "setup.fast_mm_min",
            too_fast=too_fast,
            fast_mm_min=safe.fast_mm_min,
        )
    touches, first = [], results_of(machine)[0]
    for feed in sorted(feeds):
        own = replace(safe, slow_mm_min=feed, middle_mm_min=0.0, last_back_mm=max(safe.back_off_mm, RUN_UP_MM))
        touches.append(replace(whole.touches[0], name=f"{feed:g}", count=feeds[feed], first_parameter=first, feeds=own))
        first += feeds[feed]
    return replace(whole, touches=tuple(touches))


def _within_travel(plan: TouchPlan, machine: Machine) -> TouchPlan:
    limits = {"x": machine.travel_mm.x, "y": machine.travel_mm.y, "z": machine.travel_mm.z}
    for touch in plan.touches:
        places = {"x": [touch.x], "y": [touch.y], "z": [touch.z]}
        places[touch.axis].append(touch.search_to)
        for axis, values in places.items():
            low, high = limits[axis]
            for value in values:
                if not low <= value <= high:
                    raise NonnaError(
                        "out-of-range",
                        "{name}: {upper} {value:.1f} mm is outside the travel of {name_2} ({low:g} to {high:g}).",
                        "setter",
                        name=touch.name,
                        upper=axis.upper(),
                        value=value,
                        name_2=machine.name,
                        low=low,
                        high=high,
                    )
    return plan
