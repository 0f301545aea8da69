"""What mills and routers are asked, and the machine file that follows from the answers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from nonna.errors import NonnaError
from nonna.figures.figure import Figure
from nonna.figures.founding import machine_figure
from nonna.procedures.entry import parse_length
from nonna.shop.texts.given import Document, Given, Plain
from nonna.stations.questions import Answer, Founded, SetUpQuestion, answered, known
from nonna.wording.lengths import Units, length

WIDEST_TOOL_MM = 32.0  #: with a wider one nobody touches the sides of a setter


def _sides_fit(text: str, _: Answer | None, known: Mapping[str, Answer | None], units: Units) -> str:
    """Compare two sides that were touched with one tool with the pad between them."""
    pad, parts = known.get("pad"), text.split(";")
    if not isinstance(pad, (int, float)) or len(parts) != 2:
        return ""
    apart = abs(parse_length(parts[0], units) - parse_length(parts[1], units))
    if pad <= apart <= pad + WIDEST_TOOL_MM:
        return ""
    return (
        f"The sides are {length(apart, units)} apart and the pad is {length(pad, units)} wide: the tool that touched "
        f"both would be {length(apart - pad, units)} thick. Is the pad right (Page up), or a side?"
    )


ENDS = ("low end", "high end", "middle")
_PLATE = "On the machine's plate or in its manual; or jog from end to end and read the axis."
_ZERO = "Home the machine, then read the axis: 0 at the right or back end means the high end."

QUESTIONS = (
    SetUpQuestion(
        "travel_x", "How far does X go?", _PLATE, "No plan ever leaves it.", least=50.0, most=10_000.0, needed=True
    ),
    SetUpQuestion(
        "travel_y", "How far does Y go?", _PLATE, "No plan ever leaves it.", least=50.0, most=10_000.0, needed=True
    ),
    SetUpQuestion(
        "travel_z", "How far does Z go?", _PLATE, "No plan ever leaves it.", least=50.0, most=3_000.0, needed=True
    ),
    SetUpQuestion(
        "pad",
        "How wide is the setter's pad?",
        "Calipers over the pad, or its manual.",
        "Wide tools are touched beside its middle.",
        least=2.0,
        most=300.0,
        needed=True,
    ),
    SetUpQuestion(
        "overtravel",
        "How far can the pad be pushed beyond its trigger?",
        "In the setter's manual; if nobody knows, half of what it gives under a finger.",
        "The feeds are chosen so that nothing is bent.",
        least=0.1,
        most=30.0,
        needed=True,
    ),
    SetUpQuestion(
        "zero_x",
        "Where is the machine's zero in X?",
        _ZERO,
        "So that positions have the right sign.",
        "choice",
        "low end",
        choices=ENDS,
    ),
    SetUpQuestion(
        "zero_y",
        "Where is the machine's zero in Y?",
        _ZERO,
        "So that positions have the right sign.",
        "choice",
        "low end",
        choices=ENDS,
    ),
    SetUpQuestion(
        "zero_z",
        "Where is the machine's zero in Z?",
        "Home the machine: most read 0 at the top.",
        "So that positions have the right sign.",
        "choice",
        "high end",
        choices=ENDS,
    ),
    SetUpQuestion(
        "setter_x",
        "What does X read over the setter?",
        "Jog the spindle over the middle of the pad and read the axis. Or touch its two sides with one tool and type "
        "both, as -57.1; -42.9.",
        "Programs go there.",
        least=-10_000.0,
        most=10_000.0,
        sides=True,
        doubt=_sides_fit,
    ),
    SetUpQuestion(
        "setter_y",
        "What does Y read over the setter?",
        "The same place, the other axis; or its two other sides.",
        "Programs go there.",
        least=-10_000.0,
        most=10_000.0,
        sides=True,
        doubt=_sides_fit,
    ),
    SetUpQuestion(
        "setter_z",
        "What does Z read when the master just triggers the setter?",
        "Lower it by hand, slowly; the first calibration finds the true value.",
        "Searches begin above it.",
        least=-3_000.0,
        most=3_000.0,
    ),
    SetUpQuestion(
        "master_length",
        "How long is the master in the spindle then?",
        "On its certificate, from the gauge line; 0 for the bare spindle face.",
        "From it and Z follows about where the pad is.",
        least=0.0,
        most=1_000.0,
    ),
    SetUpQuestion(
        "pad_shape",
        "Is the pad round or square?",
        "Look at it.",
        "Where its edges are.",
        "choice",
        "disc",
        choices=("disc", "square"),
    ),
    SetUpQuestion(
        "free",
        "Can a tool come to the pad from all four sides?",
        "Look at it.",
        "Diameters are touched on its sides.",
        "yes",
        False,
    ),
    SetUpQuestion(
        "setter_height",
        "How high is the setter above the table?",
        "A ruler is good enough.",
        "Its body is kept clear.",
        usual=60.0,
        least=5.0,
        most=1_000.0,
    ),
    SetUpQuestion(
        "rapid_xy",
        "How fast is rapid in X and Y?",
        "In the manual.",
        "Times, and what could be hit how hard.",
        "feed",
        20_000.0,
        500.0,
        200_000.0,
    ),
    SetUpQuestion(
        "rapid_z",
        "How fast is rapid in Z?",
        "In the manual.",
        "Times, and what could be hit how hard.",
        "feed",
        15_000.0,
        500.0,
        200_000.0,
    ),
    SetUpQuestion(
        "brakes",
        "How hard does it brake?",
        "A parameter of the control; or leave it.",
        "How far it runs on after the trigger.",
        "acceleration",
        1_000.0,
        50.0,
        50_000.0,
    ),
    SetUpQuestion(
        "change",
        "How long does a tool change take?",
        "A watch.",
        "Minutes on the job list.",
        "seconds",
        6.0,
        0.0,
        300.0,
    ),
    SetUpQuestion(
        "rpm",
        "What is the spindle's top speed?",
        "On the plate.",
        "No tool is turned faster.",
        "speed",
        8_000.0,
        100.0,
        100_000.0,
    ),
    SetUpQuestion(
        "pockets",
        "How many pockets has the changer?",
        "Count them; 0: tools are changed by hand.",
        "Whether programs ask for tools.",
        "count",
        24.0,
        0.0,
        500.0,
    ),
    SetUpQuestion(
        "orients",
        "Can the spindle be turned to an angle and held?",
        "In the manual: oriented spindle stop.",
        "Teeth are touched one by one.",
        "yes",
        False,
    ),
    SetUpQuestion(
        "probe", "Is there a spindle probe?", "Look for it in the changer.", "Its links join the loop.", "yes", False
    ),
    SetUpQuestion(
        "latency",
        "How late is the trigger, in milliseconds?",
        "Nobody knows it: sheet “Trigger latency” finds it.",
        "Feeds of the last touch.",
        "count",
        2.0,
        0.0,
        100.0,
    ),
)


def founded(kind: str, name: str, answers: Mapping[str, Answer | None]) -> Founded:
    """Return a mill's or router's files from the answers (mm).

    Raises: NonnaError naming the question whose answer is needed and missing, or that cannot be.
    """
    got = answered(QUESTIONS, answers)
    travel = {axis: _ends(got.needed(f"travel_{axis}"), got.text(f"zero_{axis}")) for axis in "xyz"}
    machine: dict[str, Plain] = {
        "format": "nonna-machine/1",
        "name": name,
        "kind": kind,
        "travel_mm": travel,
        "rapid_mm_min": {"xy": got["rapid_xy"], "z": got["rapid_z"]},
        "acceleration_mm_s2": {"xy": got["brakes"], "z": got["brakes"]},
        "tool_change_s": got["change"],
        "tool_change_z_mm": travel["z"][1],
        "max_rpm": got["rpm"],
        "pocket_count": int(got.needed("pockets")),
        "spindle_orient": got["orients"],
        "trigger_latency_s": got.needed("latency") / 1000.0,
        "trigger_jitter_s": got.needed("latency") / 10_000.0,
        "repeatability_mm": 0.001,
        "setter": _setter(got, Given(travel)),
        "assumed": list(
            dict.fromkeys(_FIELDS[q.key] for q in QUESTIONS if q.key in _FIELDS and answers.get(q.key) is None)
        ),
    }
    gear: dict[str, tuple[Document, ...]] = {
        "setters": ({"name": f"Contact setter of {name}", "kind": "contact", "machine": name},),
    }
    if got["probe"]:
        gear["probes"] = ({"name": f"Spindle probe of {name}", "machine": name},)
    return Founded(machine, gear, tuple(q.key for q in QUESTIONS if q.key not in got))


_PLACE = ("pad", "overtravel", "setter_x", "setter_y", "setter_z", "master_length")  #: nothing is planned without
_SETTER = (*_PLACE, "pad_shape", "free", "setter_height")
_FIELDS = {
    "rapid_xy": "rapid_mm_min", "rapid_z": "rapid_mm_min", "brakes": "acceleration_mm_s2", "change": "tool_change_s",
    "rpm": "max_rpm", "pockets": "pocket_count", "latency": "trigger_latency_s",
}  # fmt: skip


def _ends(way: float, zero: str) -> list[float]:
    low = {"low end": 0.0, "high end": -way, "middle": -way / 2.0}[zero]
    return [low, low + way]


def _setter(got: Given, travel: Given) -> Document | None:
    """The setter, as soon as its place is known; until then there is none to plan with."""
    for axis in "xyz":
        low, high = travel.numbers(axis)
        at = got.number(f"setter_{axis}")
        if at is not None and not low <= at <= high:
            words = (
                "{upper} {at:g} over the setter is outside the travel, {low:g} to {high:g}. Is its sign right, "
                "and the end where zero is?"
            )
            raise NonnaError("out-of-range", words, f"setter_{axis}", upper=axis.upper(), at=at, low=low, high=high)
    if not all(key in got for key in ("setter_x", "setter_y", "setter_z", "master_length")):
        return None
    return {
        "x_mm": got["setter_x"], "y_mm": got["setter_y"],
        "trigger_plane_mm": got.needed("setter_z") - got.needed("master_length"),
        "shape": got["pad_shape"], "width_x_mm": got["pad"], "width_y_mm": got["pad"],
        "height_mm": got["setter_height"],
        "overtravel_mm": got["overtravel"], "clear_sides": ["+x", "-x", "+y", "-y"] if got["free"] else [],
    }  # fmt: skip


def open_questions(machine: Given) -> tuple[SetUpQuestion, ...]:
    """Return what a machine is still asked: all of its setter where that has no place yet, then what was only
    assumed.
    """
    assumed = set(machine.words("assumed"))
    setter = (
        ()
        if machine.get("setter")
        else tuple(replace(q, needed=q.key in _PLACE) for q in QUESTIONS if q.key in _SETTER)
    )
    return (*setter, *(q for q in QUESTIONS if _FIELDS.get(q.key) in assumed))


def taught(machine: Given, answers: Mapping[str, Answer | None]) -> Mapping[str, Plain]:
    """Return a machine's file with what was answered since it was set up (mm).

    Raises: NonnaError naming the question whose answer cannot be.
    """
    said = {key: value for key, value in answers.items() if value is not None}
    made, got = dict(machine), Given(known(QUESTIONS, answers))
    if not machine.get("setter") and {"pad", "overtravel"} <= said.keys():
        made["setter"] = _setter(got, machine.part("travel_mm"))
    elif not machine.get("setter"):
        _setter(got, machine.part("travel_mm"))  # a place outside the travel is said at once
    for name, parts in (
        ("rapid_mm_min", {"xy": "rapid_xy", "z": "rapid_z"}), ("acceleration_mm_s2", {"xy": "brakes", "z": "brakes"}),
    ):  # fmt: skip
        made[name] = {**machine.part(name), **{part: said[key] for part, key in parts.items() if key in said}}
    for key, name in (("change", "tool_change_s"), ("rpm", "max_rpm")):
        made[name] = said.get(key, machine[name])
    if "pockets" in said:
        made["pocket_count"] = int(float(said["pockets"]))
    if "latency" in said:
        late = float(said["latency"]) / 1000.0
        made |= {"trigger_latency_s": late, "trigger_jitter_s": late / 10.0}
    left = {_FIELDS[key] for key in _FIELDS if _FIELDS[key] in machine.words("assumed") and key not in said}
    return {**made, "assumed": [name for name in machine.words("assumed") if name in left]}


def answers_of(machine: Given) -> dict[str, Answer]:
    """Return the answers that a machine's travel amounts to, for its drawing."""
    found: dict[str, Answer] = {}
    travel = machine.part("travel_mm")
    for axis in travel:
        low, high = travel.numbers(axis)
        found |= {
            f"travel_{axis}": high - low,
            f"zero_{axis}": "low end" if low == 0 else "high end" if high == 0 else "middle",
        }
    return found


def drawn(answers: Mapping[str, object], asked: str, units: Units) -> Figure:
    """Draw the machine while it is set up."""
    return machine_figure(answers, asked, units)
