"""What has to be known of a sheet before anybody signs it: said once something changed, not at each key."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Protocol

from nonna.bench import clock
from nonna.bench.session.signals import Signal
from nonna.bench.sheet.rests_on import warning
from nonna.bench.sheet.signing import is_rehearsal

if TYPE_CHECKING:
    from nonna.bench.session.front import Front
    from nonna.bench.sheet.opening import Opening
    from nonna.bench.station.site import Site
    from nonna.procedures.session import Session
    from nonna.shop.links.judge import LinkState

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
