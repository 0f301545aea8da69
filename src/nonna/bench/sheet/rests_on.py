"""Whether what a sheet rests on holds, said before anything is measured on it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date
from itertools import islice

from nonna.bench.sheet.opening import Opening
from nonna.shop.links.judge import LinkState, State
from nonna.stations.telling import reason_words


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
