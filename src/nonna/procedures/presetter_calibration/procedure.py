"""Presetter calibration: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.figures.figure import Figure
from nonna.figures.presetter import corrections_figure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import Caution, Readings, SheetFacts, Slot, Step, as_before
from nonna.procedures.presetter_calibration import LISTED
from nonna.procedures.presetter_calibration.evaluate import evaluate
from nonna.procedures.presetter_calibration.model import PPM, WORDS, PresetterReadings
from nonna.procedures.sheet import Procedure
from nonna.shop.cards.masters import MasterCard
from nonna.shop.texts.given import as_number
from nonna.wording.lengths import Units

TOUCHES = 3


FITTED = 2  #: masters that tell a line


_ROLE_WORDS = {"low": "Short master", "high": "Long master", "proof": "Proof master"}


def cast(cards: Sequence[MasterCard], first: MasterCard | None) -> dict[str, MasterCard]:
    """The shortest and the longest tell the line, one between them proves it; certified ones before others."""
    fit = [c for c in cards if c.length_mm is not None and c.diameter_mm is not None]
    certified = [c for c in fit if c.traceable]
    fit = sorted(certified if len(certified) >= FITTED else fit, key=lambda c: c.length_mm or 0.0)
    if len(fit) < FITTED:
        return {"low": first} if first is not None else {}
    between = fit[1:-1]
    made = {"low": fit[0], "high": fit[-1]}
    return made | ({"proof": between[len(between) // 2]} if between else {})


def slots(facts: SheetFacts) -> tuple[Slot, ...]:
    """Length and diameter of each master that is there, three times each."""
    roles = [role for role in ("low", "high", "proof") if role in facts.masters] or ["low"]
    return tuple(
        Slot(
            {"master": role, "axis": axis}, f"{role} {axis.upper()} {i + 1}/{TOUCHES}",
            f"{_ROLE_WORDS[role]}: {WORDS[axis].lower()}", role,
        )
        for role in roles
        for axis in ("z", "x")
        for i in range(TOUCHES)
    )  # fmt: skip


def steps(facts: SheetFacts) -> tuple[Step, ...]:
    """What the hands do."""
    roles = [role for role in ("low", "high", "proof") if role in facts.masters] or ["low"]
    words = {
        "low": Step("Seat the short master; read length and diameter, turned a little each time", "low"),
        "high": Step("The long master likewise", "high"),
        "proof": Step("The master not used so far: it proves the others", "proof"),
    }
    return (
        Step("Wipe taper and masters; let them take the room's temperature"),
        *(words[role] for role in roles),
        Step("Sign"),
    )


def expected(facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
    """What its certificate says, or what this very place showed before."""
    known = as_before(PresetterReadings, slot, readings, field)
    if known is not None:
        return known
    card = facts.master(str(slot.fields["master"]))
    value = card.number("length_mm" if slot.fields["axis"] == "z" else "diameter_mm")
    half = slot.fields["axis"] == "x" and facts.setup.word("x_shows") == "radius"
    return None if value is None else value / (2.0 if half else 1.0)


def figure(facts: SheetFacts, readings: Readings, result: Evaluation | None, units: Units = Units.MM) -> Figure:
    """The corrections over the travel with their band, and the masters on them."""
    shown = {
        role: [as_number(r["value_mm"]) for r in readings if r["axis"] == "z" and r["master"] == role]
        for role in ("low", "high", "proof")
    }
    names = {q.name: q for q in result.quantities} if result else {}
    line = None
    if "z_offset_mm" in names:
        offset, scale = names["z_offset_mm"], names["z_scale_ppm"]
        line = (
            names["z_pivot_mm"].value, offset.value, offset.estimate.expanded if offset.estimate else 0.0,
            scale.value / PPM, scale.estimate.expanded / PPM if scale.estimate else 0.0,
        )  # fmt: skip
    error = names["z_proof_error_mm"].value if "z_proof_error_mm" in names else None
    marks = {role: sum(values) / len(values) for role, values in shown.items() if values}
    return corrections_figure("Length: what is put right, over the travel", marks, line, error, units)


SENTENCES = {
    "found": "{axis}: zero off by {offset:signed}, scale by {scale:1f} ppm, ± {U:small} at the zero.",
    "found-one": "{axis}: zero off by {offset:signed}, ± {U:small}; the scale was taken as it is.",
    "proved": "Proof: {error:signed} off, Eₙ {en:2f}.",
    "not-held": "The proof master does not come out as certified. Clean masters and taper, and measure all three "
    "again.",
    "one-master": "One master tells no scale: away from its size the doubt grows by what you gave for the scale.",
    "no-proof": "No third master was measured: nothing proves this yet.",
    "pass": "Sign it. Tools measured here are put right by it from now on.",
    "none": "Sign it. Tools measured here are put right by it from now on.",
    "fail": "Clean masters and taper and start again; if it stays, have the presetter seen to.",
    "undecided": "Measure each master again: the doubt is too large for the limit.",
}


PROCEDURE = Procedure(
    listed=LISTED,
    evaluation=evaluate,
    slots=slots,
    taken={"": "master-read"},
    steps=steps,
    figure=figure,
    own_cast=cast,
    own_expected=expected,
    model=PresetterReadings,
    main=("z_offset_mm",),
    main_title="Zero of the length",
    role="low",
    master_kinds=("master-tool",),
    beside=("z_pivot_mm", "x_pivot_mm"),
    reads={},
    offered={"x_shows": "diameter", "limit_proof_mm": 0.005, "resolution_mm": 0.001},
    caution=Caution(
        "Sharp edges, heavy tools",
        "Both hands for a heavy master; nothing on the sliding way while it moves. Never look into the lamp.",
    ),
)
