"""Home check: one touch of a pin that never changes, after each start; how far did the home move?"""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Circle, Figure, Ink, Label, Line, Stroke, box, exaggeration
from nonna.metrology.decision import worst
from nonna.metrology.means import TOUCH, by_axis, enter_by_axis
from nonna.metrology.scatter import TouchScatter, scatter_by_axis
from nonna.metrology.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.inputs import Dof, ReadingsFile, Setup, asked, carried_dof, carried_u
from nonna.procedures.sheet import REPEATABILITY, Bench, Carry, Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.wording.lengths import Units, small

AXES = ("x", "y", "z")
TOUCHES = 3
SAME_DOF = 1e-3  #: a carried freedom is worked back from its k
_NAMES = {"x": "X", "y": "Y", "z": "Z"}

said = saying("home-check")
SENTENCES = {
    "first": "The pin stands where it was found: this is what later checks are held against.",
    "moved": "The home is {moved:signed} off in {axis}, ± {U:small}, the most of its axes.",
    "go-on": "Inside what the home repeats within: go on.",
    "correct": "Home again and check once more. If it stays, shift the home by what is shown; the plate and the rack follow it.",
    "open": "Touch the pin again: the doubt is as large as the limit.",
    "sign": "Sign it.",
}


class HomeSetup(Setup):
    """Where the pin was when it was first found."""

    pin_x_mm: Number | None = asked("Pin in X", help="From the first check.", default=None)
    pin_x_u_mm: NotNegative = carried_u("Its standard uncertainty")
    pin_x_dof: Dof | None = carried_dof()
    pin_y_mm: Number | None = asked("Pin in Y", help="From the first check.", default=None)
    pin_y_u_mm: NotNegative = carried_u("Its standard uncertainty")
    pin_y_dof: Dof | None = carried_dof()
    pin_z_mm: Number | None = asked("Pin in Z", help="From the first check.", default=None)
    pin_z_u_mm: NotNegative = carried_u("Its standard uncertainty")
    pin_z_dof: Dof | None = carried_dof()
    limit_mm: NotNegative | None = asked(
        "Home repeats within", help="More than this is a moved home.", default=None, limit=True
    )


class PinReading(Strict):
    """Machine position of one touch of the pin."""

    axis: Literal["x", "y", "z"]
    position_mm: Number


class HomeReadings(ReadingsFile):
    """Readings file of a home check."""

    procedure: Literal["home-check"]
    setup: HomeSetup
    readings: list[PinReading]


class HomeCheck(Procedure):
    """``moved = mean - pin`` on each axis; without a pin known, what is found becomes it."""

    name = "home-check"
    sentences = SENTENCES
    model = HomeReadings
    main = ("moved_z_mm", "pin_z_mm")
    main_title = "Home moved in Z"
    offered: ClassVar[dict[str, Any]] = {"limit_mm": 0.05, "resolution_mm": 0.001}
    carries = (
        *REPEATABILITY,
        *(
            Carry(f"pin_{axis}{end}", "home-check", f"pin_{axis}_mm", part, "home", needed=False)  # type: ignore[arg-type]
            for axis in AXES
            for end, part in (("_mm", "value"), ("_u_mm", "u"), ("_dof", "dof"))
        ),
    )
    caution = Caution(
        "Hands clear of the gantry while it moves",
        "Spindle stopped and confirmed, rapid turned down, a finger on feed hold. The machine's manual comes first.",
    )

    def _evaluate(self, file: HomeReadings) -> Evaluation:
        setup, rule = file.setup, file.rule.rule()
        groups = {a: [r.position_mm for r in file.readings if r.axis == a] for a in AXES}
        groups = {a: values for a, values in groups.items() if values}
        if not groups:
            raise TooFewReadingsError("The pin was not touched yet.")
        along = by_axis(groups)
        touch = scatter_by_axis(along, **setup.history())
        influences = Influences()
        means = enter_by_axis(along, touch, influences)
        quantities: list[Quantity] = []
        checks: list[Check] = []
        moved: list[Quantity] = []
        for axis in groups:
            if getattr(setup, f"pin_{axis}_mm") is None:
                quantities.append(
                    Quantity.of(f"pin_{axis}_mm", f"Pin in {_NAMES[axis]}", influences.estimate(means[axis]))
                )
                continue
            pin = _pin(setup, axis, touch.by_axis[axis], influences)
            estimate = influences.estimate(means[axis] - pin)
            moved.append(Quantity.of(f"moved_{axis}_mm", f"Home moved in {_NAMES[axis]}", estimate))
            known = Quantity(f"pin_{axis}_mm", f"Pin in {_NAMES[axis]}", getattr(setup, f"pin_{axis}_mm"))
            if hasattr(pin, "u_component"):
                known = Quantity.of(known.name, known.title, influences.estimate(pin))
            quantities += [moved[-1], known]
            if setup.limit_mm is not None:
                checks.append(
                    check_limit(
                        f"Moved in {_NAMES[axis]}", estimate.value, setup.limit_mm, rule, estimate, of=moved[-1].name
                    )
                )
        most = max(moved, key=lambda q: abs(q.value), default=None)
        verdict = worst(c.verdict for c in checks)
        todo = {"pass": "go-on", "fail": "correct", "undecided": "open"}.get(str(verdict), "sign")
        headline = said("first")
        if most is not None and most.estimate is not None:
            headline = said("moved", moved=most.value, axis=most.title[-1], U=most.estimate.expanded)
        return Evaluation(file.procedure, tuple(quantities), rule, headline, said(todo), tuple(checks), touch.flags)

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Three touches an axis, the top first."""
        del bench
        return tuple(
            Slot({"axis": axis}, f"{_NAMES[axis]} {i + 1}/{TOUCHES}", f"Touch the pin in {_NAMES[axis]}", axis)
            for axis in ("z", "x", "y")
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Home the axes; wipe pin and rod"),
            Step("Touch its top", "z"),
            Step("Its X side, always the same one", "x"),
            Step("Its Y side, always the same one", "y"),
            Step("Sign"),
        )

    def axis_of(self, field: str, slot: Slot | None) -> str:
        """Each reading is on the axis it names."""
        del field
        return str(slot.fields["axis"]) if slot else ""

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """The same touch before, else where the pin was found first."""
        known = super().expected(bench, slot, readings, field)
        pin = bench.setup.number(f"pin_{slot.fields['axis']}_mm")
        return pin if known is None else known

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The pin from above, and how far its place went, exaggerated."""
        del readings
        found = {q.name: q.value for q in result.quantities if q.name.startswith("moved")} if result else {}
        limit = bench.setup.number("limit_mm") or 0.0
        return _pin_figure(found, limit, units)


def _pin(setup: HomeSetup, axis: str, touch: TouchScatter, influences: Influences) -> Uncertain:
    """Enter where the pin was found first.

    A doubt with the freedom of the repeatability in use rests on that very estimate, as the touches of today do: where
    it is too small, it is so in both, and two independent ones would cover 93 % for 95.
    """
    dof, source = getattr(setup, f"pin_{axis}_dof"), "first check of the pin"
    if touch.from_history and dof is not None and math.isclose(dof, touch.dof, rel_tol=SAME_DOF):
        value, u = getattr(setup, f"pin_{axis}_mm"), getattr(setup, f"pin_{axis}_u_mm")
        return influences.add(source, value, u, touch.dof, field=f"setup.pin_{axis}_mm", pool=TOUCH)
    return setup.enter(influences, f"pin_{axis}", source)


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
