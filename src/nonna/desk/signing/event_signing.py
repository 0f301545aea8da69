"""Sign something other than a sheet into the book: an event, a record taken back."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, TypeVar

from nonna.bench.book.writing import Signature, event
from nonna.bench.session.signer import Signer
from nonna.bench.sheet.signing import sign as sign_in
from nonna.shop.links.subjects import ANY, STATION, Subject
from nonna.shop.records.values import Record

if TYPE_CHECKING:
    from nonna.bench.book.chain import Receipt
    from nonna.bench.book.writing import Signature
    from nonna.desk.frame.window import DeskWindow
    from nonna.errors import NonnaError

T = TypeVar("T")


def log_event(window: DeskWindow, name: str, note: str, subject: Subject | None = None) -> None:
    """Sign an event into the book; the loop follows."""
    known = window.state.kind.loop.event(name) if window.state else None
    sign(window, lambda signature: event(name, signature, note), subject or (known.subject if known else STATION))


def signature_here(window: DeskWindow, subject: Subject = ANY) -> Signature | None:
    """Return who signs what on the machine shown; None, and says so, while that is still being read."""
    state, site = window.state, window.site
    if state is None or site is None:
        window.tell("One moment, the rest is still loading…", "plain")
        return None
    return Signature(window.operator, state.machine, subject, state.shop, site.shop.invented)


def sign(window: DeskWindow, make: Callable[[Signature], Record], subject: Subject) -> None:
    """Sign what ``make`` makes of a signature; says how it went, the loop follows."""
    signature = signature_here(window, subject)
    if signature is None:
        return
    folder, body = window.folder, make(signature)

    def told(receipts: tuple[Receipt, ...]) -> None:
        window.look_again()
        window.tell(f"Signed as record {receipts[0].number}.", "good")

    sign_behind(window, lambda: sign_in(folder, [body]), told, lambda error: window.tell(error.message, "bad"))


def sign_behind(
    window: DeskWindow, act: Callable[[], T], done: Callable[[T], object], failed: Callable[[NonnaError], object]
) -> None:
    """Do what signs something into the window's book behind the screen; a clock that is far off is asked about."""
    link = Signer(window.front)
    link.signed.connect(done)
    link.refused.connect(failed)
    link.sign(act, window.folder.book)
