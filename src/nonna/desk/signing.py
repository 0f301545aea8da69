"""Sign something other than a sheet into the book: an event, a record taken back."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from nonna.metrology.errors import NonnaError
from nonna.shop.events import BY_NAME

if TYPE_CHECKING:
    from nonna.desk.window import DeskWindow
    from nonna.records.entry_body import Signature


def log_event(window: DeskWindow, name: str, note: str, subject: str = "") -> None:
    """Sign an event into the book; the loop follows."""
    from nonna.records.entry_body import event

    befallen = subject or (BY_NAME[name].subject if name in BY_NAME else "")
    sign(window, lambda signature: event(name, signature, note), befallen)


def sign(window: DeskWindow, make: Callable[[Signature], dict[str, Any]], subject: str) -> None:
    """Sign what ``make`` makes of a signature; says how it went, the loop follows."""
    from nonna.records.entry_body import Signature
    from nonna.records.ledger import Ledger

    state, site = window.state, window.site
    if state is None or site is None:
        window.tell("One moment, the rest is still loading…", "plain")
        return
    signature = Signature(window.operator, state.machine, subject, state.shop, site.shop.invented)
    try:
        ledger = Ledger(window.folder.ledger)
        try:
            receipt = ledger.sign(make(signature))
        finally:
            ledger.close()
    except NonnaError as error:
        window.tell(error.message, "bad")
        return
    window.refresh()
    window.tell(f"Signed as record {receipt.number}.", "good")
