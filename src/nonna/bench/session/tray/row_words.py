"""What stands in and under a tool's row: what waits to be accepted, what is questioned, what the control holds."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING

from nonna.bench import clock
from nonna.bench.session.tray.picture import Waiting, notes, waiting
from nonna.procedures.listing import PROCEDURES
from nonna.shop.links.history import DIFFERS, Entry, Standing
from nonna.shop.links.subjects import Subject
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.bench.station.state import ShopState
    from nonna.bench.tray.doubtful_tools import Doubtful
    from nonna.bench.tray.tray import Tray


def row_words(
    tray: Tray, questions: Mapping[int, Doubtful], units: Units, one_by_one: bool, state: ShopState | None
) -> tuple[dict[Subject, Waiting], Callable[[int], str]]:
    """Return what waits in each row, and what says what stands under a tool's name.

    Notes: a table of the control that differs waits to be settled, like a result.
    """
    found, said = waiting(tray.results, units), notes(tray, questions, units, one_by_one)
    card = state.site.machine.control if state is not None and state.site is not None else None
    if state is None or card is None or not card.stores:
        return found, said
    standing, subjects = state.standing, {tool.number: tool.subject for tool in tray.tools}
    for subject in subjects.values():
        last = _last_word(standing, subject)
        if last is not None and last.name == DIFFERS and subject not in found:
            measured = _newest_result(standing, subject)
            found[subject] = Waiting(measured.value_mm if measured else None, "differs in the control", bad=True)

    def with_control(number: int) -> str:
        subject = subjects.get(number)
        words = in_short(standing, subject) if subject is not None else ""
        return " · ".join(part for part in (words, said(number)) if part)

    return found, with_control


def in_control(standing: Standing, subject: Subject) -> str:
    """Say since when a tool's newest results stand in its control's own table; that they do not; "" without any."""
    measured = _newest_result(standing, subject)
    if measured is None:
        return ""
    last = _last_word(standing, subject)
    if last is None:
        return "not in the control"
    if last.name == DIFFERS:
        return f"differs in the control: {last.note}"
    at = last.signed_at.astimezone()
    same_day = at.date() == clock.now().date()
    return f"in the control since {at:%H:%M}" if same_day else f"in the control since {at.day} {at:%b}"


def in_short(standing: Standing, subject: Subject) -> str:
    """Say the same as `in_control` in a word or two, for a row."""
    words = in_control(standing, subject)
    return "stored" if words.startswith("in the control since") else "not stored" if words else ""


def _last_word(standing: Standing, subject: Subject) -> Entry | None:
    """Return what was said last of a tool in its control, None where it was measured anew since."""
    last, measured = standing.in_control.get(subject), _newest_result(standing, subject)
    return last if last is not None and (measured is None or last.number > measured.number) else None


def _newest_result(standing: Standing, subject: Subject) -> Entry | None:
    stored = (name for name, listed in PROCEDURES.items() if listed.stored)
    return standing.newest(stored, subject)
