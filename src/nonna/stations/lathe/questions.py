"""What a lathe is asked when it is set up, the machine while it grows, and the files that follow."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Span, Stroke, box
from nonna.figures.lathe import chuck
from nonna.shop.texts.given import Document, Given, Plain
from nonna.stations.questions import Answer, Founded, SetUpQuestion, answered, known
from nonna.wording.lengths import Units, length

ENDS = ("low end", "high end", "middle")
_PLATE = "On the machine's plate or in its manual; or jog from end to end and read the axis."
_ZERO = "Home the machine, then read the axis: 0 away from the chuck means the high end."

QUESTIONS = (
    SetUpQuestion("x_shows", "Does X show diameter or radius?",
        "Move X until it reads 10 mm less, and look whether the tool went 5 or 10: a ruler tells.",
        "Half or double is a wrong tool. It stands beside every X from here on.", "choice", "diameter",
        choices=("diameter", "radius")),
    SetUpQuestion("travel_x", "How far does X go, as it is shown?", _PLATE, "What a tip can reach.", least=20.0,
        most=3_000.0, needed=True),
    SetUpQuestion("travel_z", "How far does Z go?", _PLATE, "What a tip can reach.", least=50.0, most=10_000.0,
        needed=True),
    SetUpQuestion("zero_x", "Where is the machine's zero in X?", _ZERO, "So that positions have the right sign.",
        "choice", "high end", choices=ENDS),
    SetUpQuestion("zero_z", "Where is the machine's zero in Z?", _ZERO, "So that positions have the right sign.",
        "choice", "high end", choices=ENDS),
    SetUpQuestion("travel_y", "Does it have a Y axis, and how far does it go?",
        "Look whether the turret moves up and down; 0 for none.", "Parts can be probed in Y too.", usual=0.0, least=0.0,
        most=1_000.0),
    SetUpQuestion("stations", "How many stations has the turret?", "Count them.", "Which tools there can be.", "count",
        12.0, 1.0, 60.0),
    SetUpQuestion("probe", "Is there a probe in the turret?", "Look for it.", "Parts are measured with it.", "yes",
        False),
    SetUpQuestion("micrometer_step", "What is the last digit of your micrometer?", "Look at it.",
        "The reference tool's cut is measured with it.", usual=0.001, least=0.0001, most=0.05),
    SetUpQuestion("micrometer_mpe", "How far off may your micrometer be?",
        "On its certificate: maximum permissible error.", "It goes into every offset.", usual=0.004, least=0.0001,
        most=0.05),
    SetUpQuestion("micrometer_due", "When is the micrometer due for calibration?", "On its sticker: year-month-day.",
        "It is said in good time; without a date it is never due.", "date"),
    SetUpQuestion("rapid_x", "How fast is rapid in X?", "In the manual.", "Times, and what could be hit how hard.",
        "feed", 15_000.0, 500.0, 200_000.0),
    SetUpQuestion("rapid_z", "How fast is rapid in Z?", "In the manual.", "Times, and what could be hit how hard.",
        "feed", 20_000.0, 500.0, 200_000.0),
    SetUpQuestion("rpm", "What is the spindle's top speed?", "On the plate.", "Nothing is turned faster.", "speed",
        4_000.0, 50.0, 20_000.0),
)  # fmt: skip
_FIELDS = {"rapid_x": "rapid_mm_min", "rapid_z": "rapid_mm_min", "rpm": "max_rpm", "stations": "pocket_count"}


_RULER = "A ruler from the axis; for rehearsals a centimetre too much is better than one too little."
LATER = (
    SetUpQuestion("chuck_radius", "How far do the jaws reach out from the axis?", _RULER,
        "Nothing may come nearer at rapid.", least=10.0, most=1_000.0, needed=True),
    SetUpQuestion("chuck_length", "How far from the spindle's face do the jaws end?", _RULER,
        "Nothing may come nearer at rapid.", least=10.0, most=1_500.0, needed=True),
    SetUpQuestion("arm_x", "How far from the axis is the arm's stylus, swung out?", _RULER, "Tips are sent to it.",
        least=1.0, most=1_500.0, needed=True),
    SetUpQuestion("arm_z", "How far from the spindle's face is it?", _RULER, "Tips are sent to it.", least=10.0,
        most=5_000.0, needed=True),
    SetUpQuestion("arm_width", "How wide is its stylus?", "Callipers.", "Where its faces are.", usual=10.0, least=1.0,
        most=60.0),
    SetUpQuestion("arm_overtravel", "How far does it give beyond its trigger?",
        "In its manual; half of what it gives under a finger.", "The feeds are held against it.", usual=2.0, least=0.1,
        most=20.0),
    SetUpQuestion("swing", "How far round it must be free while it swings?", "Swing it by hand and look.",
        "It must meet nothing.", usual=60.0, least=5.0, most=500.0),
    SetUpQuestion("out_m", "Which M word swings it out?", "In the machine's manual.", "Programs say it.", "count",
        least=10.0, most=999.0, needed=True),
    SetUpQuestion("in_m", "Which M word swings it in?", "In the machine's manual.", "Programs say it.", "count",
        least=10.0, most=999.0, needed=True),
    SetUpQuestion("turret_x", "How far from the axis is the middle of the turret when X reads 0?", _RULER,
        "Its body must meet nothing.", least=-2_000.0, most=2_000.0, needed=True),
    SetUpQuestion("turret_z", "How far from the spindle's face is the turret's face when Z reads 0?", _RULER,
        "Its body must meet nothing.", least=-5_000.0, most=5_000.0, needed=True),
    SetUpQuestion("turret_radius", "How large is the turret's body, from its middle?", _RULER,
        "Its body must meet nothing.", usual=120.0, least=20.0, most=600.0),
    SetUpQuestion("turret_swing", "How far does the longest tool reach from the turret's middle?", _RULER,
        "So far it must be free while it indexes.", usual=220.0, least=30.0, most=1_000.0),
)  # fmt: skip


def open_questions(machine: Given) -> tuple[SetUpQuestion, ...]:
    """Return what a lathe is asked before a program is rehearsed on it, then what was only assumed."""
    assumed = set(machine.words("assumed"))
    return (*(() if machine.get("lathe") else LATER), *(q for q in QUESTIONS if _FIELDS.get(q.key) in assumed))


def taught(machine: Given, answers: Mapping[str, Answer | None]) -> Mapping[str, Plain]:
    """Return a lathe's file with what was answered since it was set up (mm, real)."""
    said = {key: value for key, value in answers.items() if value is not None}
    made, got = dict(machine), dict(known(LATER, answers))
    if not machine.get("lathe") and all(q.key in said for q in LATER if q.needed):
        made["lathe"] = {
            "chuck_radius_mm": got["chuck_radius"], "chuck_length_mm": got["chuck_length"],
            "turret_x_mm": got["turret_x"], "turret_z_mm": got["turret_z"], "turret_radius_mm": got["turret_radius"],
            "turret_swing_mm": got["turret_swing"],
            "arm": {
                "x_mm": got["arm_x"], "z_mm": got["arm_z"], "width_mm": got["arm_width"],
                "overtravel_mm": got["arm_overtravel"],
                "swing_mm": got["swing"], "out_m": int(float(got["out_m"])), "in_m": int(float(got["in_m"])),
            },
        }  # fmt: skip
    rapid = {part: said[key] for part, key in (("xy", "rapid_x"), ("z", "rapid_z")) if key in said}
    made["rapid_mm_min"] = {**machine.part("rapid_mm_min"), **rapid}
    made |= {name: said[key] for key, name in (("rpm", "max_rpm"),) if key in said}
    if "stations" in said:
        made["pocket_count"] = int(float(said["stations"]))
    left = {field for key, field in _FIELDS.items() if key not in said}
    return {**made, "assumed": [name for name in machine.words("assumed") if name in left]}


def answers_of(machine: Given) -> dict[str, Answer]:
    """Return the answers that a lathe's travel amounts to, for its drawing."""
    found: dict[str, Answer] = {"x_shows": str(machine.get("x_shows", "diameter"))}
    travel = machine.part("travel_mm")
    ends = {axis: travel.numbers(axis) for axis in travel if axis != "y"}
    return found | {f"travel_{axis}": high - low for axis, (low, high) in ends.items()}


def founded(kind: str, name: str, answers: Mapping[str, Answer | None]) -> Founded:
    """Return a lathe's files from the answers (mm; X as it is shown). Raises: NonnaError naming a needed answer."""
    got = answered(QUESTIONS, answers)
    half = max(got.needed("travel_y") / 2.0, 0.5)
    travel = {axis: _ends(got.needed(f"travel_{axis}"), got.text(f"zero_{axis}")) for axis in "xz"}
    machine: dict[str, Plain] = {
        "format": "nonna-machine/1",
        "name": name,
        "kind": kind,
        "x_shows": got["x_shows"],
        "travel_mm": {"x": travel["x"], "y": [-half, half], "z": travel["z"]},
        "rapid_mm_min": {"xy": got["rapid_x"], "z": got["rapid_z"]},
        "acceleration_mm_s2": {"xy": 1500.0, "z": 1500.0},
        "tool_change_s": 1.0,
        "tool_change_z_mm": travel["z"][1],
        "max_rpm": got["rpm"],
        "pocket_count": int(got.needed("stations")),
        "repeatability_mm": 0.001,
        "setter": None,
        "assumed": list(
            dict.fromkeys(_FIELDS[q.key] for q in QUESTIONS if q.key in _FIELDS and answers.get(q.key) is None)
        ),
    }
    micrometer = {
        "name": f"Micrometer at {name}", "resolution_mm": got["micrometer_step"], "mpe_mm": got["micrometer_mpe"],
        "due": got.get("micrometer_due", ""),
    }  # fmt: skip
    gear: dict[str, tuple[Document, ...]] = {"micrometers": (micrometer,)}
    if got["probe"]:
        gear["probes"] = ({"name": f"Turret probe of {name}", "machine": name},)
    return Founded(machine, gear, tuple(q.key for q in QUESTIONS if q.key not in got))


def _ends(way: float, zero: str) -> list[float]:
    low = {"low end": 0.0, "high end": -way, "middle": -way / 2.0}[zero]
    return [low, low + way]


def drawn(answers: Mapping[str, object], asked: str, units: Units) -> Figure:
    """Draw the lathe while it is set up: the chuck left, the turret right, what is asked for standing out."""
    strokes: list[Stroke] = [
        *chuck(30, 20),
        box(96, 30, 124, 104, "steel", "ink"),
        box(124, 46, 150, 88, "ghost", None),
        Line((110, 30), (110, 14), "steel-dark", 8.0),
        Circle((110, 12), 4.0, "bad", None, dot=True),
        box(-76, -74, 156, -62, "faint", "muted"),
    ]
    for axis, start, end in (("x", (166.0, 12.0), (166.0, 104.0)), ("z", (30.0, 122.0), (150.0, 122.0))):
        value = answers.get(f"travel_{axis}")
        on = asked in (f"travel_{axis}", f"zero_{axis}", f"rapid_{axis}")
        words = (
            f"{axis.upper()} ?"
            if not isinstance(value, (int, float))
            else f"{axis.upper()} {length(float(value), units)}"
        )
        if axis == "x":
            words += " R" if answers.get("x_shows") == "radius" else " ⌀"
        ink: Ink = "accent" if on or (axis == "x" and asked == "x_shows") else "muted"
        strokes.append(Span(start, end, words, ink, "left" if axis == "x" else "centre"))
    if asked.startswith(("arm", "swing")) or asked in ("out_m", "in_m"):
        strokes += [Line((70, -70), (70, 18), "accent", 7.0), box(64, 18, 76, 30, "pad", "accent")]
    if asked.startswith("chuck"):
        strokes.append(
            Span((-14, 0), (-14, 38), "?", "accent", "left")
            if asked == "chuck_radius"
            else Span((-70, 52), (-14, 52), "?", "accent")
        )
    if asked.startswith("turret"):
        strokes.append(Circle((110, 67), 6.0, "accent", "accent", dot=True))
    if asked.startswith("micrometer"):
        strokes += [Span((24, -20), (24, 20), "⌀", "accent", "left")]
    if asked == "probe" or answers.get("probe") is True:
        strokes += [Line((124, 96), (96, 96), "ink", 2.5), Circle((92, 96), 5.0, "bad", "ink")]
    strokes.append(Label((-74, 116), "the spindle's axis, seen from the front", "muted", 13, anchor="left"))
    return Figure("Your lathe, as far as it is known", (-84, -84, 214, 134), tuple(strokes), "schematic, not to scale")
