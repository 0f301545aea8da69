"""Each reading is doubted a little before it is taken: by the instrument, by the machine, by the other readings, by slips."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.metrology.quantiles import student_t
from nonna.procedures.guess import Guess
from nonna.procedures.session import Session
from nonna.wording.lengths import MM_PER_INCH, Units, length

FAR_MM = 3.0  #: from where a reading is expected
APART_MM = 0.05  #: from the other readings of the spot; nearer than this the scatter itself is judged
LUCK = 0.99995  #: one-sided: so seldom is a sound reading questioned for lying apart
SLIP = 0.02  #: how near to a factor a ratio must be to be taken for a slip
LEAST_SLIP_MM = 1.0  #: below this two readings may well be in such a ratio
INCH_TOLERANCE = 0.04


@dataclass(frozen=True, slots=True)
class Question:
    """Why an entry is not simply taken, and what it may have meant."""

    words: str
    suggestion_mm: float | None


def doubted(session: Session, value_mm: float, units: Units) -> Question | None:
    """Return why a reading about to be taken is questioned, None where nothing speaks against it."""
    slot = session.next_slot
    if slot is None:
        return None
    expected = session.expected_mm()
    guess = session.procedure.guess(session.bench, slot, session.live, session.next_field)
    about = expected if expected is not None else guess.value if guess else None
    return (
        _inches(value_mm, about, units)
        or _beyond(session, value_mm, units)
        or _slip(value_mm, about, units)
        or _apart(value_mm, guess, units)
        or _far(value_mm, expected, units)
    )


def _inches(value: float, about: float | None, units: Units) -> Question | None:
    if about is None or value == 0.0:
        return None
    for factor, words in ((MM_PER_INCH, "read in inches"), (1.0 / MM_PER_INCH, "read in millimetres, typed as inches")):
        if abs(about / value / factor - 1.0) < INCH_TOLERANCE:
            said = f"{length(value, units)} looks as if it was {words}; about {length(about, units)} is expected."
            return Question(said, value * factor)
    return None


def _beyond(session: Session, value: float, units: Units) -> Question | None:
    """Beyond what the instrument can show, or where the machine can go."""
    what = session.procedure.axis_of(session.next_field, session.next_slot)
    reach = session.bench.reach.get(what)
    if reach is None or reach[0] <= value <= reach[1]:
        return None
    if what == "dial":
        said = f"{length(value, units)} is more than this dial can show ({length(reach[1], units)} either way)."
    else:
        said = f"{length(value, units)} is outside the {what.upper()} travel ({length(reach[0], units, unit=False)} to {length(reach[1], units)})."
    for factor, meant in ((1.0 / MM_PER_INCH, "millimetres typed as inches"), (1e-3, "micrometres")):
        if what == "dial" and reach[0] <= value * factor <= reach[1]:
            return Question(f"{said} Was it {length(value * factor, units)}, {meant}?", value * factor)
    return Question(said, None)


def _slip(value: float, about: float | None, units: Units) -> Question | None:
    """A decimal point in the wrong place, or a sign left out."""
    if about is None or value == 0.0 or abs(about) < LEAST_SLIP_MM:
        return None
    for factor in (10.0, 0.1, 100.0, 0.01, 1000.0, 0.001):
        if abs(about / value / factor - 1.0) < SLIP:
            said = f"{length(value, units)} looks like a decimal point in the wrong place; about {length(about, units)} is expected."
            return Question(said, value * factor)
    if abs(about / value + 1.0) < SLIP:
        return Question(f"{length(value, units)}: is its sign right? About {length(about, units)} is expected.", -value)
    return None


def _apart(value: float, guess: Guess | None, units: Units) -> Question | None:
    """Far from what the other readings say, beyond what scatter makes of it."""
    if guess is None:
        return None
    away = abs(value - guess.value)
    if away <= max(APART_MM, student_t(LUCK, guess.dof) * guess.u) or away > FAR_MM:
        return None
    said = f"{length(value, units)} is {length(away, units)} from what the other readings say ({length(guess.value, units)})."
    return Question(said, None)


def _far(value: float, expected: float | None, units: Units) -> Question | None:
    if expected is None or abs(value - expected) <= FAR_MM:
        return None
    away = length(abs(value - expected), units)
    return Question(f"{length(value, units)} is {away} away from what is expected ({length(expected, units)}).", None)
