"""Sign something other than a sheet into the book: an event, a record taken back."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from nonna.bench.record_body import Signature, event
from nonna.desk.sign_link import SignLink
from nonna.shop.subjects import STATION, Subject

if TYPE_CHECKING:
    from nonna.bench.record import Receipt
    from nonna.bench.record_body import Signature
    from nonna.desk.window import DeskWindow


def log_event(window: DeskWindow, name: str, note: str, subject: Subject | None = None) -> None:
    """Sign an event into the book; the loop follows."""
    known = window.state.kind.loop.event(name) if window.state else None
    sign(window, lambda signature: event(name, signature, note), subject or (known.subject if known else STATION))


def sign(window: DeskWindow, make: Callable[[Signature], dict[str, Any]], subject: Subject) -> None:
    """Sign what ``make`` makes of a signature; says how it went, the loop follows."""
    state, site = window.state, window.site
    if state is None or site is None:
        window.tell("One moment, the rest is still loading…", "plain")
        return
    signature = Signature(window.operator, state.machine, subject, state.shop, site.shop.invented)
    book, body = window.folder.book, make(signature)

    def told(receipts: tuple[Receipt, ...]) -> None:
        window.look_again()
        window.tell(f"Signed as record {receipts[0].number}.", "good")

    link = SignLink(window)
    link.signed.connect(told)
    link.refused.connect(lambda error: window.tell(error.message, "bad"))
    link.signed.connect(link.deleteLater)
    link.refused.connect(link.deleteLater)
    link.sign(lambda: book.sign([body]), book)
