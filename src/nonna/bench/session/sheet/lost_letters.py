"""Letters that no certificate could print, said on the sheet before anybody signs with them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nonna.bench.session.signals import Signal

if TYPE_CHECKING:
    from nonna.bench.session.sheet.open_sheet import OpenSheet

_SURE = 0x180  #: letters below are in every typeface used


class LostLetters:
    """Looks at the names a record will carry and at the reasons typed for it."""

    def __init__(self) -> None:
        self.found: Signal[[]] = Signal()
        self.words = ""
        self._letters = ""

    def look(self, c: OpenSheet) -> None:
        """Look at a sheet's words, behind the screen where any letter is an unusual one."""
        names = [c.operator, c.site.shop.name, c.site.machine.name, str(c.session.facts.subject)]
        names += [str(card.get("name", "")) for card in c.opening.cards.values()]
        names += [row.struck for row in c.session.rows]
        letters = "".join(sorted({letter for name in names for letter in name if ord(letter) >= _SURE}))
        if letters == self._letters:
            return
        self._letters, self.words = letters, ""
        if letters:
            front = c.front
            front.behind(
                lambda _: front.unprintable(letters),
                lambda lost: self._on_looked(letters, lost),
                lambda _: None,
                file=True,
            )

    def _on_looked(self, letters: str, lost: tuple[str, ...]) -> None:
        if lost and letters == self._letters:
            some = " ".join(lost)
            self.words = (
                f"No certificate can print {some}: a box will stand there. Write the name another way before "
                "you sign, if that matters."
            )
            self.found.emit()
