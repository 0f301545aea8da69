"""What has to be known of a sheet before anybody signs it: said once something changed, not at each key."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import date
from itertools import islice
from typing import TYPE_CHECKING, Protocol

from nonna.bench import clock
from nonna.bench.session.signals import Signal
from nonna.bench.sheet.opening import Opening
from nonna.bench.sheet.signing import is_rehearsal
from nonna.shop.links.judge import LinkState, State
from nonna.stations.telling import reason_words

if TYPE_CHECKING:
    from nonna.bench.session.front import Front
    from nonna.bench.sheet.opening import Opening
    from nonna.bench.station.site import Site
    from nonna.procedures.session import Session
    from nonna.shop.links.judge import LinkState


def warning(opening: Opening, links: Sequence[LinkState], today: date) -> str:
    """Say why what is signed on this sheet would not count, or not hold what it says; "" if it would."""
    said = []
    if opening.outside:
        words = "; ".join(change.words for change in opening.outside[:2])
        said = [f"Changed outside, and not signed: {words}. Find “changed outside” (Ctrl+K) before you rely on it."]
    return " ".join([*said, *islice(_not_counting(opening, links, today), 1)])


def _not_counting(opening: Opening, links: Sequence[LinkState], today: date) -> Iterator[str]:
    used = {row.link for row in opening.carried.values()}
    for state in links:
        own = opening.name in state.link.procedures  # what it measures itself is no reason not to measure it
        if state.link.key in used and not own and state.state is State.BROKEN:
            yield (
                f"This rests on the {state.link.title.lower()}, which is broken ({reason_words(state.reason)}). "
                "Mend that first, or what you sign here will not count."
            )
    if opening.undecided:
        numbers = " and ".join(f"record {number}" for number in opening.undecided)
        yield f"This rests on {numbers}, which left open whether it is within its limit."
    for card in opening.cards.values():
        due = card.get("due")
        if due and date.fromisoformat(str(due)) < today:
            yield (
                f"The certificate of {card['name']} ran out on {due}. Send it for calibration, or choose another "
                "master (F9): what you sign with this one will not hold."
            )


REHEARSED = "A rehearsal: the stand-in's readings. Nothing of this is signed; Ctrl+Z takes them off the tape."
_SURE = 0x180  #: letters below are in every typeface used


class _Sheet(Protocol):
    """What is looked at."""

    front: Front
    site: Site
    opening: Opening
    session: Session
    operator: str
    links: Sequence[LinkState]


class Notices:
    """Whether what a sheet rests on holds, and whether a certificate can print the names a record will carry."""

    def __init__(self) -> None:
        self.found: Signal[[]] = Signal()
        self._rests_on = self._lost = self._letters = ""

    def words(self, sheet: _Sheet) -> str:
        """Return why what is signed here would not count, or nothing."""
        return REHEARSED if is_rehearsal(sheet.site, sheet.session) else self._rests_on or self._lost

    def look(self, sheet: _Sheet) -> None:
        """Look again: what it rests on, who signs, or why something was struck has changed."""
        self._rests_on = warning(sheet.opening, sheet.links, clock.now().date())
        cards: Sequence[Mapping[str, object]] = tuple(sheet.opening.cards.values())
        names = [sheet.operator, sheet.site.shop.name, sheet.site.machine.name, str(sheet.session.facts.subject)]
        names += [str(card.get("name", "")) for card in cards]
        names += [row.struck for row in sheet.session.rows]
        letters = "".join(sorted({letter for name in names for letter in name if ord(letter) >= _SURE}))
        if letters == self._letters:
            return
        self._letters, self._lost = letters, ""
        if letters:
            front = sheet.front
            looked = lambda lost: self._on_looked(letters, lost)  # noqa: E731
            front.behind(lambda _: front.unprintable(letters), looked, lambda _: None, file=True)

    def _on_looked(self, letters: str, lost: tuple[str, ...]) -> None:
        if lost and letters == self._letters:
            self._lost = (
                f"No certificate can print {' '.join(lost)}: a box will stand there. Write the name another way before "
                "you sign, if that matters."
            )
            self.found.emit()
