"""Programs that set tips on the arm, in both dialects: confirmed before and after, back along the way that was free."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from nonna.errors import NonnaError
from nonna.procedures.shown import as_shown, real_per_shown
from nonna.programs.interpreter import TRIP
from nonna.programs.rendering import render
from nonna.shop.machine import ArmSpec, Machine, Tool
from nonna.stations.lathe.tip import WAYS

TEMPLATE = Path(__file__).with_name("tips.j2")
STAND_OFF_MM, PAST_MM = 4.0, 3.0  #: before a face, diagonal; behind it, to where a search gives up
FAR_MM = 40.0  #: from the stylus, where Z comes in for a bar
FAST_MM_MIN, SLOW_MM_MIN = 200.0, 20.0
FIRST_RESULT = 100
LEAST_MM, MOST_MM = 0.003, 0.5  #: what an insert's wear or break is told by
SLIPS = (
    (25.4, "in inches"), (1.0 / 25.4, "in millimetres for inches"), (0.1, "with the point one place on"),
    (10.0, "with the point one place back"), (0.001, "in micrometres"),
)  # fmt: skip
_FROM_THE_CHUCK = ("outside-away", "back")  #: tips that stand on the chuck's side of the stylus
_UNDER = ("inside-chuck", "inside")  #: bars that reach under the stylus


@dataclass(frozen=True, slots=True)
class TipProgram:
    """A program and where it leaves what it measured."""

    text: str
    results: dict[int, tuple[int, str]]  #: by parameter: the tool's number and the axis


def tip_check(machine: Machine, tool: Tool, tolerance_mm: float) -> TipProgram:
    """Write a piece for a part program that stops it where a tip is further from its table than a tolerance (real mm).

    It goes before or after a line of a program in the branching dialect. Raises: NonnaError as `tip_program`, or for a
    tolerance that no insert has.
    """
    if not LEAST_MM <= tolerance_mm <= MOST_MM:
        raise NonnaError("out-of-range", _slip(tolerance_mm), "tolerance")
    return _written(machine, [tool], branching=True, check=tolerance_mm)


def _slip(tolerance: float) -> str:
    """Say that a tolerance cannot be, and what slip would explain it."""
    said = f"A tip is not checked to within {tolerance:g} mm: {LEAST_MM:g} to {MOST_MM:g} mm."
    for factor, words in SLIPS:
        if LEAST_MM <= tolerance * factor <= MOST_MM:
            return f"{said} Was it typed {words}, {tolerance * factor:.4g} mm?"
    return said


def tip_program(machine: Machine, tools: Sequence[Tool], *, branching: bool = False) -> TipProgram:
    """Write the program that touches each tip on the faces its edges look at.

    Raises: NonnaError (the machine has no arm on file; a tip's way or offsets are not known, or it cannot get there).
    """
    return _written(machine, tools, branching=branching)


def _written(machine: Machine, tools: Sequence[Tool], *, branching: bool, check: float | None = None) -> TipProgram:
    if machine.lathe is None or machine.lathe.arm is None:
        raise NonnaError("missing-field", "{name} has no arm on file.", "machine.lathe.arm", name=machine.name)
    arm, results = machine.lathe.arm, dict[int, tuple[int, str]]()
    tips = [_tip(machine, arm, tool, results, check or 0.0) for tool in tools]
    context = {
        "title": f"TIPS OF {len(tips)} TOOLS ON THE ARM" if check is None else "CHECK OF A TIP FOR BREAK OR WEAR",
        "branching": branching, "tips": tips, "check": check is not None, "piece": check is not None,
        "notes": [f"X IS SHOWN AS A {machine.x_shows.upper()}", "FIRST RUN WITH RAPID TURNED DOWN, DOORS SHUT, A FINGER ON FEED HOLD"],
        "modes": "G21 G90 G94", "home_x": machine.travel_mm.x[1], "home_z": machine.travel_mm.z[1],
        "out_m": arm.out_m, "in_m": arm.in_m, "search": "G31" if branching else "G38.2",
        "fast": FAST_MM_MIN, "slow": SLOW_MM_MIN,
    }  # fmt: skip
    (text,) = render({"tips": TEMPLATE.read_text("utf-8")}, "tips", [context])
    return TipProgram("\n".join(line for line in text.splitlines() if line.strip()) + "\n", results)


def _tip(
    machine: Machine, arm: ArmSpec, tool: Tool, results: dict[int, tuple[int, str]], within: float
) -> dict[str, Any]:
    if tool.edge not in WAYS:
        words = "T{number}: say first which way it cuts."
        raise NonnaError("missing-field", words, "tools.edge", number=tool.number)
    if tool.edge == "inside-away":
        words = "T{number}: a bar cannot come to the chuck's side of the arm. Touch it by hand."
        raise NonnaError("out-of-range", words, "tools.edge", number=tool.number)
    if tool.offset_x_mm is None or tool.offset_z_mm is None:
        words = "T{number}: about its offsets have to be known before a program may go near the arm with it."
        raise NonnaError("missing-field", words, "tools.offset_x_mm", number=tool.number)
    factor, half = real_per_shown("x", machine.x_shows), arm.width_mm / 2.0
    words, x_face, z_face = WAYS[tool.edge]

    def at(axis: str, real: float) -> float:
        return real / factor - float(tool.offset_x_mm or 0.0) if axis == "x" else real - float(tool.offset_z_mm or 0.0)

    def to(axis: str, real: float) -> str:
        return f"{axis.upper()}{at(axis, real):.3f}"

    under, behind = tool.edge in _UNDER, tool.edge in _FROM_THE_CHUCK
    corner_x = arm.x_mm + (-1 if under else 1) * (half + STAND_OFF_MM)
    corner_z = arm.z_mm + (-1 if behind else 1) * (half + STAND_OFF_MM)
    far_z = arm.z_mm + half + FAR_MM
    way_in = [to("z", far_z), to("x", corner_x), to("z", corner_z)] if under else [to("z", corner_z), to("x", corner_x)]
    home = [f"X{machine.travel_mm.x[1]:.3f}", f"Z{machine.travel_mm.z[1]:.3f}"]
    way_out = [to("z", far_z), *home] if under else home
    faces: list[dict[str, Any]] = []
    for axis, face in (("x", x_face), ("z", z_face)):
        if not face:
            continue
        sign = 1 if face[0] == "+" else -1
        centre = arm.x_mm if axis == "x" else arm.z_mm
        result = FIRST_RESULT + len(results)
        results[result] = (tool.number, axis)
        beside = ("z", arm.z_mm) if axis == "x" else ("x", arm.x_mm)
        corner = ("z", corner_z) if axis == "x" else ("x", corner_x)
        faces.append({
            "axis": axis.upper(), "name": f"{as_shown(axis, machine.x_shows)} ON {face}".replace("⌀", "DIAMETER").upper(),
            "way": [to(*beside)], "to": at(axis, centre + sign * (half - PAST_MM)),
            "back": at(axis, centre + sign * (half + STAND_OFF_MM)), "after": to(*corner),
            "expected": at(axis, centre + sign * half), "within": within / (factor if axis == "x" else 1.0),
            "position": TRIP + (0 if axis == "x" else 2), "result": result,
        })  # fmt: skip
    ways: list[str] = []
    for touched in faces:  # from one face to the next by way of the corner
        touched["way"] = [*ways, *touched["way"]]
        ways = [touched["after"]]
    return {
        "number": tool.number, "words": words.upper(), "way_in": way_in, "faces": faces, "way_out": [*ways, *way_out],
    }  # fmt: skip
