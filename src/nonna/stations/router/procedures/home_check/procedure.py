"""Home check: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, box, exaggeration
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, as_before
from nonna.procedures.sheet import REPEATABILITY, Need, Procedure
from nonna.stations.router.procedures.home_check import LISTED
from nonna.stations.router.procedures.home_check.evaluate import evaluate
from nonna.stations.router.procedures.home_check.model import AXES, NAMES, HomeReadings
from nonna.wording.lengths import Units, small

TOUCHES = 3


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Three touches an axis, the top first."""
    del facts
    return tuple(
        Slot({"axis": axis}, f"{NAMES[axis]} {i + 1}/{TOUCHES}", f"Touch the pin in {NAMES[axis]}", axis)
        for axis in ("z", "x", "y")
        for i in range(TOUCHES)
    )


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    del facts
    return (
        Step("Home the axes; wipe pin and rod"),
        Step("Touch its top", "z"),
        Step("Its X side, always the same one", "x"),
        Step("Its Y side, always the same one", "y"),
        Step("Sign"),
    )


def axis_of(field: str, slot: Slot | None) -> str:
    """Each reading is on the axis it names."""
    del field
    return str(slot.fields["axis"]) if slot else ""


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """The same touch before, else where the pin was found first."""
    known = as_before(HomeReadings, slot, readings, field)
    pin = facts.setup.number(f"pin_{slot.fields['axis']}_mm")
    return pin if known is None else known


def _pin_figure(moved: dict[str, float], limit: float, units: Units) -> Figure:
    reach = max([abs(v) for v in moved.values()] + [limit, 1e-3]) * 1.2
    scale = 30.0 / reach
    strokes: list[Stroke] = [
        Line((0, -36), (0, 36), "faint", 1.0), Line((-36, 0), (36, 0), "faint", 1.0),
        Circle((0, 0), limit * scale, "wash", None) if limit else Circle((0, 0), 1, None, "faint"),
        Circle((0, 0), 6, "paper", "muted", 2.0, dot=True), box(56, -30, 64, 30, "paper", "muted"),
        Label((60, 34), "Z", "muted", 14), Line((52, 0), (68, 0), "muted", 1.0),
    ]  # fmt: skip
    if not moved:
        strokes.append(Label((0, -44), "the pin, from above", "muted", 14))
    else:
        at = (moved.get("moved_x_mm", 0.0) * scale, moved.get("moved_y_mm", 0.0) * scale)
        ink: Ink = "bad" if limit and max(abs(v) for v in moved.values()) > limit else "accent"
        strokes += [Line((0, 0), at, ink, 2.5), Circle(at, 7, ink, None, dot=True)]
        if "moved_z_mm" in moved:
            strokes.append(Circle((60, moved["moved_z_mm"] * scale), 7, ink, None, dot=True))
            strokes.append(Label((60, -42), small(moved["moved_z_mm"], units, sign=True), ink, 14))
    note = f"{exaggeration(scale)}; shaded: the limit, {small(limit, units)}" if limit else exaggeration(scale)
    return Figure("Where the home went", (-48, -52, 84, 44), tuple(strokes), note)


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The pin from above, and how far its place went, exaggerated."""
    del readings
    found = {q.name: q.value for q in result.quantities if q.name.startswith("moved")} if result else {}
    limit = facts.setup.number("limit_mm") or 0.0
    return _pin_figure(found, limit, units)


SENTENCES = {
    "first": "The pin stands where it was found: this is what later checks are held against.",
    "moved": "The home is {moved:signed} off in {axis}, ± {U:small}, the most of its axes.",
    "go-on": "Inside what the home repeats within: go on.",
    "correct": "Home again and check once more. If it stays, shift the home by what is shown; the plate and the rack "
    "follow it.",
    "open": "Touch the pin again: the doubt is as large as the limit.",
    "sign": "Sign it.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "pin-touched"},
    steps=steps,
    figure=figure,
    own_expected=expected,
    own_axis_of=axis_of,
    model=HomeReadings,
    main=("moved_z_mm", "pin_z_mm"),
    main_title="Home moved in Z",
    offered={"limit_mm": 0.05, "resolution_mm": 0.001},
    needs=(
        *REPEATABILITY,
        *(
            Need(f"pin_{axis}{end}", f"home.pin_{axis}", part, "home", needed=False)  # type: ignore[arg-type]
            for axis in AXES
            for end, part in (("_mm", "value"), ("_u_mm", "u"), ("_dof", "dof"))
        ),
    ),
    caution=Caution(
        "Hands clear of the gantry while it moves",
        "Spindle stopped and confirmed, rapid turned down, a finger on feed hold. The machine's manual comes first.",
    ),
)
