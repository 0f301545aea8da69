"""Each reading is doubted a little before it is taken: by the instrument, by the machine, by the other readings, by
slips.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nonna.metrology.doubt.quantiles import student_t
from nonna.procedures.guess import Guess
from nonna.procedures.session import Session
from nonna.wording.lengths import MM_PER_INCH, Units, length

ALIKE_MM = 1.0  #: about how well a place is known before it is touched; masters no further apart are told by nobody
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
    guess = session.procedure.guess(session.facts, slot, session.live, session.next_field)
    about = expected if expected is not None else guess.value if guess else None
    return (
        _other_master(session, value_mm, expected, units)
        or slipped(value_mm, about, units)
        or beyond(session, value_mm, units)
        or _apart(value_mm, guess, units)
        or _far(value_mm, expected, units)
    )


@dataclass(frozen=True, slots=True)
class _Slip:
    """What an entry may have meant, and by which slip."""

    value_mm: float
    words: str


#: By what an entry is multiplied, the slip in words, how near it must come, and how large what is expected must be:
#: two small readings may well be in the ratio of a decimal point.
_FACTORS = (
    (MM_PER_INCH, "read in inches", INCH_TOLERANCE, 0.0),
    (1.0 / MM_PER_INCH, "millimetres typed as inches", INCH_TOLERANCE, 0.0),
    *(
        (by, "a decimal point in the wrong place", SLIP, LEAST_SLIP_MM)
        for by in (10.0, 0.1, 100.0, 0.01, 1000.0, 0.001)
    ),
)


def _explained(value: float, about: float) -> list[_Slip]:
    """Return the slips that would make an entry what is expected; a sign left out beside any of them."""
    found = []
    if value and abs(about) >= LEAST_SLIP_MM and abs(about / value + 1.0) < SLIP:
        found.append(_Slip(-value, "its sign left out"))
    for factor, words, near, least in _FACTORS:
        if abs(about) < least:
            continue
        signs = ((1.0, ""), (-1.0, ", its sign left out")) if abs(about) >= LEAST_SLIP_MM else ((1.0, ""),)
        for sign, more in signs:
            if value and abs(about / value / (sign * factor) - 1.0) < near:
                found.append(_Slip(sign * value * factor, words + more))
    return found


def slipped(value: float, about: float | None, units: Units) -> Question | None:
    """A slip of unit, point or sign: one explanation is offered, several are named and none is Enter's."""
    if about is None or value == 0.0:
        return None
    found = _explained(value, about)
    if not found:
        return None
    expected = f"about {length(about, units)} is expected."
    if len(found) == 1:
        said = f"{length(value, units)} looks like {found[0].words}; {expected}"
        return Question(said, found[0].value_mm)
    return Question(f"{length(value, units)}: {expected} {_either(found, units)}", None)


def _either(found: Sequence[_Slip], units: Units) -> str:
    said = " or ".join(f"{length(slip.value_mm, units)} ({slip.words})" for slip in found)
    return f"Was it {said}? Type which, with its unit."


def _other_master(session: Session, value: float, expected: float | None, units: Units) -> Question | None:
    """Where a master of the shelf that was not chosen would have been touched: it is named, and none is Enter's."""
    slot = session.next_slot
    if expected is None or slot is None or abs(value - expected) <= ALIKE_MM:
        return None
    face = str(slot.fields.get("face", "top"))
    half = {"+": 0.5, "-": -0.5}.get(face[:1], 0.0)
    near = {
        name: abs(value - expected - (half * wider if half else longer))
        for name, (longer, wider) in session.facts.others.items()
        if abs(half * wider if half else longer) > ALIKE_MM
    }
    if not near or min(near.values()) > min(ALIKE_MM, abs(value - expected) / 4.0):
        return None
    name, away = min(near, key=near.__getitem__), length(abs(value - expected), units)
    said = (
        f"{length(value, units)} is {away} from what is expected. Was that the {name}? F9 chooses the master; "
        "Ctrl+Enter takes it for this one."
    )
    return Question(said, None)


def beyond(session: Session, value: float, units: Units) -> Question | None:
    """Beyond what the instrument can show, or where the machine can go."""
    what = session.procedure.axis_of(session.next_field, session.next_slot)
    reach = session.facts.reach.get(what)
    if reach is None or reach[0] <= value <= reach[1]:
        return None
    if what != "dial":
        said = (
            f"{length(value, units)} is outside the {what.upper()} travel "
            f"({length(reach[0], units, unit=False)} to {length(reach[1], units)})."
        )
        return Question(said, None)
    said = f"{length(value, units)} is more than this dial can show ({length(reach[1], units)} either way)."
    slips = ((1e-3, "micrometres"), (1.0 / MM_PER_INCH, "millimetres typed as inches"))
    found = [_Slip(value * factor, words) for factor, words in slips if reach[0] <= value * factor <= reach[1]]
    if len(found) == 1:
        shown = f"{length(found[0].value_mm, units)}, {found[0].words}"
        return Question(f"{said} Was it {shown}?", found[0].value_mm)
    return Question(f"{said} {_either(found, units)}" if found else said, None)


def _apart(value: float, guess: Guess | None, units: Units) -> Question | None:
    """Far from what the other readings say, beyond what scatter makes of it."""
    if guess is None:
        return None
    away = abs(value - guess.value)
    if away <= max(APART_MM, student_t(LUCK, guess.dof) * guess.u) or away > FAR_MM:
        return None
    said = (
        f"{length(value, units)} is {length(away, units)} from what the other readings say "
        f"({length(guess.value, units)})."
    )
    return Question(said, None)


def _far(value: float, expected: float | None, units: Units) -> Question | None:
    if expected is None or abs(value - expected) <= FAR_MM:
        return None
    away = length(abs(value - expected), units)
    return Question(f"{length(value, units)} is {away} away from what is expected ({length(expected, units)}).", None)
