"""How a tool may be touched on a contact setter: at its centre, off centre, under its rim, or not at all."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from nonna.metrology.shapes.boxes import Post, swept
from nonna.shop.cards.hanging import holder_of, parts
from nonna.shop.cards.machine import SHORTEST_MM, Machine, SetterSpec, Tool
from nonna.shop.cards.standing import SETTER, boxes_of, column_of, lift, table_of
from nonna.shop.cards.tool_end import end_of
from nonna.stations.touched_tools import Choice, Direction, Method, Wish

AIR_MM = 1.0  #: kept between a tool and what it must not touch
SAME_HEIGHT_MM = 0.005  #: what is touched lies no further than this from the tip
_POINTED = ("drill", "spot-drill", "tap", "reamer")
_CENTRE_KINDS = (*_POINTED, "ball-mill", "probe", "master")
_RIM_KINDS = ("slitting-saw", "t-slot", "dovetail")
_SIDES = {"+x": (1.0, 0.0), "-x": (-1.0, 0.0), "+y": (0.0, 1.0), "-y": (0.0, -1.0)}


@dataclass(frozen=True, slots=True)
class TouchSettings:
    """What a shop may set about touching tools."""

    safe_part_mm: float = 6.0  #: an end mill up to this lies wholly on the pad's middle
    safe_share: float = 0.6  #: ... or up to this share of the pad
    speed_m_min: Mapping[str, float] = field(default_factory=lambda: {"carbide": 50.0, "hss": 25.0})
    most_rpm: float = 1000.0


USUAL = TouchSettings()


def safe_part(pad_width_mm: float, settings: TouchSettings = USUAL) -> float:
    """Return the widest end mill that lies on the pad's safe part."""
    return min(settings.safe_part_mm, settings.safe_share * pad_width_mm)


def centre_will_do(kind: str, diameter_mm: float, pad_width_mm: float) -> bool:
    """Say whether a tool's centre web, point or whole end lies on the pad's safe part."""
    return kind in _CENTRE_KINDS or (kind in ("end-mill", "bull-mill") and diameter_mm <= safe_part(pad_width_mm))


def choose(tool: Tool, machine: Machine, settings: TouchSettings = USUAL, wish: Wish | None = None) -> Choice:
    """Choose how to touch a tool on a machine's setter; a tool that cannot be touched is refused in words.

    ``wish`` is what somebody wants otherwise: it is followed as far as nothing is hit and nothing turns too fast.
    """
    setter = machine.setter
    if wish is not None and setter is not None:
        return _wished(tool, machine, setter, settings, wish)
    if setter is None:
        return Choice("centre-static", (0.0, 0.0), 0.0, "stopped", (), f"{machine.name} has no setter.")
    if tool.kind == "turning-tool":
        return Choice("centre-static", (0.0, 0.0), 0.0, "stopped", (), "A turning tool is set on a lathe's arm.")
    method, distance, reasons = _method(tool, setter, settings)
    if method == "centre-static":
        trouble = _trouble(tool, machine, setter, (0.0, 0.0)) or _end_trouble(tool, setter, (0.0, 0.0))
        refused = f"It cannot stand over the setter: {trouble}." if trouble else ""
        return Choice(method, (0.0, 0.0), 0.0, "stopped", reasons, refused)
    still: tuple[float, Direction] = (0.0, "stopped")
    rpm, direction = still if method == "edge-oriented" else spin(tool, machine, settings)
    if rpm:
        reasons = (*reasons, _spin_words(tool, rpm, direction, settings))
    blocked: list[str] = []
    for side in setter.clear_sides:
        way = _SIDES[side]
        offset = (way[0] * distance, way[1] * distance)
        trouble = _trouble(tool, machine, setter, offset) or _end_trouble(tool, setter, offset)
        if not trouble:
            words = f"The setter is clear on its {side} side, so the tool stands {distance:.2f} mm that way."
            return Choice(method, offset, rpm, direction, (*reasons, words))
        blocked.append(f"{side}: {trouble}")
    why = "; ".join(blocked) or "no side of the setter is marked clear"
    return Choice(
        method,
        (0.0, 0.0),
        rpm,
        direction,
        reasons,
        f"It must hang over one side of the setter, and none is free ({why}).",
    )


def _wished(tool: Tool, machine: Machine, setter: SetterSpec, settings: TouchSettings, wish: Wish) -> Choice:
    """Return what was decided by hand, refused where it would crash."""
    reasons: tuple[str, ...] = (f"Decided by hand: {wish.reason or 'no reason was given'}.",)
    still: tuple[float, Direction] = (0.0, "stopped")
    if wish.method == "centre-static":
        place, trouble = (0.0, 0.0), _trouble(tool, machine, setter, (0.0, 0.0))
        rpm, direction = still
        if not centre_will_do(tool.kind, tool.diameter_mm, setter.width_x_mm) and not tool.centre_cutting:
            trouble = trouble or "its middle is open, so the pad would go up into it"
        trouble = trouble or _end_trouble(tool, setter, place)
    else:
        way = _SIDES[wish.side]
        place = (way[0] * wish.distance_mm, way[1] * wish.distance_mm)
        trouble = _trouble(tool, machine, setter, place) or _end_trouble(tool, setter, place)
        if not trouble and wish.side not in setter.clear_sides:
            trouble = f"the {wish.side} side of the setter is not marked clear"
        rpm, direction = still if wish.method == "edge-oriented" else spin(tool, machine, settings)
        if rpm:
            reasons = (*reasons, _spin_words(tool, rpm, direction, settings))
    refused = f"Not as decided by hand: {trouble}." if trouble else ""
    return Choice(wish.method, place, rpm, direction, reasons, refused)


def _method(tool: Tool, setter: SetterSpec, settings: TouchSettings) -> tuple[Method, float, tuple[str, ...]]:
    """Return the method, how far off centre (mm), and the reasons."""
    pad, d, rc = min(setter.width_x_mm, setter.width_y_mm), tool.diameter_mm, tool.corner_radius_mm
    safe, inset = safe_part(pad, settings), min(1.0, d / 20.0)
    if tool.kind in _POINTED:
        return (
            "centre-static",
            0.0,
            ("Its point or centre web is its longest part: touched at the centre, standing still.",),
        )
    if tool.kind == "ball-mill":
        return "centre-static", 0.0, ("A ball end is longest at its centre: touched there, standing still.",)
    if tool.kind in ("probe", "master"):
        return "centre-static", 0.0, (f"A {tool.kind} is touched at its centre, never turning.",)
    if tool.kind == "chamfer-mill":
        if tool.tip_diameter_mm <= 0.0:
            return "centre-static", 0.0, ("It ends in a point: touched at the centre, standing still.",)
        flat = tool.tip_diameter_mm
        return (
            "offset-rotating",
            flat / 2 - min(1.0, flat / 20.0),
            (f"It ends in a flat of {flat:g} mm: touched at the flat's rim.",),
        )
    if tool.kind in _RIM_KINDS:
        screw = (
            "its arbor screw clears the pad" if tool.tip_diameter_mm
            else "the size of its screw is not known, so look that the screw clears the pad"
        )  # fmt: skip
        return "rim-rotating", d / 2 - inset, (f"It is longest under its rim; {screw}.",)
    if tool.kind == "boring-bar":
        return (
            "edge-oriented",
            max(0.0, d / 2 - rc),
            ("One edge only: spindle oriented, the edge over the pad, not turning.",),
        )
    if tool.kind in ("end-mill", "bull-mill") and d <= safe and tool.centre_cutting:
        return (
            "centre-static",
            0.0,
            (f"Up to {safe:g} mm the whole end lies on the pad: touched at the centre, standing still.",),
        )
    if tool.kind == "bull-mill":
        return (
            "offset-rotating",
            max(0.0, d / 2 - rc),
            ("Its corner radius begins inside the rim: touched where the flat ends.",),
        )
    hollow = "its end is open in the middle" if not tool.centre_cutting else f"it is wider than {safe:g} mm"
    why = {"face-mill": "its inserts stand at the rim", "thread-mill": "its teeth stand at the rim"}.get(
        tool.kind, hollow
    )
    return (
        "offset-rotating",
        max(0.0, d / 2 - rc - inset),
        (f"Touched off centre because {why}: turning, each edge passes the pad.",),
    )


def spin(tool: Tool, machine: Machine, settings: TouchSettings) -> tuple[float, Direction]:
    """Return speed and direction backwards to the cutting hand, so that the edges drag and do not cut."""
    by_speed = settings.speed_m_min[tool.material] * 1000.0 / (math.pi * tool.diameter_mm)
    rpm = min(by_speed, settings.most_rpm, machine.max_rpm, tool.max_rpm or math.inf)
    return float(max(1, math.floor(rpm))), "ccw" if tool.hand == "right" else "cw"


def _spin_words(tool: Tool, rpm: float, direction: Direction, settings: TouchSettings) -> str:
    way = "counter-clockwise (M4)" if direction == "ccw" else "clockwise (M3)"
    return (
        f"It turns backwards, {way}, at {rpm:g} rpm so that the edges drag: at most "
        f"{settings.speed_m_min[tool.material]:g} m/min for "
        f"{'carbide' if tool.material == 'carbide' else 'high-speed steel'}."
    )


def _beyond_travel(machine: Machine, x: float, y: float) -> str:
    for axis, value, (low, high) in (("X", x, machine.travel_mm.x), ("Y", y, machine.travel_mm.y)):
        if not low <= value <= high:
            return f"{axis} {value:.1f} is outside the travel of {machine.name}."
    return ""


def _trouble(tool: Tool, machine: Machine, setter: SetterSpec, offset: tuple[float, float]) -> str:
    x, y = setter.x_mm + offset[0], setter.y_mm + offset[1]
    return in_the_way(machine, tool, (x, y), setter.trigger_plane_mm - setter.overtravel_mm)


def in_the_way(machine: Machine, tool: Tool, at: tuple[float, float], lowest: float) -> str:
    """Say what is in the way of a tool whose tip goes down to ``lowest`` (machine Z) at a place, "" when nothing is."""
    outside = _beyond_travel(machine, *at)
    if outside:
        return outside.rstrip(".")
    for words, above, post in _standing(machine, tool):
        if post.core.high[2] > lowest + above and post.away(*at) < 0.0:
            return words
    return ""


def on_the_way(machine: Machine, tool: Tool, start: tuple[float, float], end: tuple[float, float], tip: float) -> str:
    """Say what a tool runs into on a straight way at one height, its tip at machine Z ``tip``; "" when nothing."""
    for words, above, post in _standing(machine, tool, on_setter=True):
        level = post.core.high[2] - SAME_HEIGHT_MM
        if post.core.high[2] > tip + above and (
            post.away(*start) < 0.0 or swept((*start, level), (*end, level), post) is not None
        ):
            return f"{words} at the safe height"
    return ""


def shortest_of(tool: Tool) -> float:
    """Return the shortest a tool can be from the gauge line (mm): where nothing is known, a little out of its
    holder.
    """
    if tool.length_mm is None:
        return sum(part.length_mm for part in tool.holder) + SHORTEST_MM
    return tool.length_mm - tool.length_uncertainty_mm


def _standing(machine: Machine, tool: Tool, *, on_setter: bool = False) -> Iterator[tuple[str, float, Post]]:
    """Give each thing that a part of what hangs in the spindle could meet: in words, how far that part's foot is above
    the tip, and the thing wider by the part's radius and a little air. The tool itself may meet the setter, but
    ``on_setter``.
    """
    long = shortest_of(tool)
    table = table_of(machine)
    around = (*boxes_of(machine), *((table,) if table is not None else ()))
    hanging = parts(long, tool.diameter_mm, holder_of(tool.holder), machine.spindle)
    for part in hanging:
        of = "" if part is hanging[0] else f" of {part.words}"
        for thing in around:
            yield f"{thing.name} is in the way{of}", long - part.foot, thing.post.grown(part.radius + AIR_MM)
        if machine.setter is not None and (of or on_setter):
            yield (
                f"{SETTER} is in the way{of}", long - part.foot, column_of(machine.setter).grown(part.radius + AIR_MM)
            )  # fmt: skip


def _end_trouble(tool: Tool, setter: SetterSpec, offset: tuple[float, float]) -> str:
    """Say what of a tool's end the pad would meet instead of its tip at an offset, "" when it meets the tip."""
    end = end_of(tool)
    above, _ = lift(column_of(setter), end, setter.x_mm + offset[0], setter.y_mm + offset[1])
    if abs(above) <= SAME_HEIGHT_MM:
        return ""
    if math.isinf(above):
        return "so far off centre it would go past the pad"
    if above < 0.0:
        size = tool.tip_diameter_mm
        screw = f"its arbor screw ({size:g} mm)" if size else "its arbor screw, whose size nobody gave"
        pad = min(setter.width_x_mm, setter.width_y_mm)
        rim = f"a rim of {tool.diameter_mm / 2:g} mm leaves too little room on a {pad:g} mm pad"
        return f"the pad would reach under {screw}, {rim}"
    if above == end.cup_mm:
        return "its middle is open, so the pad would go up into it"
    return f"the pad would meet it {above:.2f} mm above its tip"
