"""Unsigned sheets that were left: what they are called, and taken up again as they open."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.bench.ports import DraftPlace, ShopFiles
from nonna.bench.sheet.opening import Opening, open_sheet
from nonna.bench.sheet.transfer_pairs import with_pairs
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures.draft import taken_up
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.session import Session
from nonna.shop.links.subjects import Subject


def left_behind(shop: ShopFiles) -> tuple[str, ...]:
    """Return what the unsigned sheets of a shop are called, such as "setter calibration, Setter"; not those in hand."""
    names = []
    for name, draft in shop.drafts_left():
        if draft is None:
            names.append(f"{name}, which cannot be read")
            continue
        try:
            if shop.book.record_of_draft(draft.word("id")) is None:
                subject = Subject.of(draft.text("subject")).words
                names.append(f"{PROCEDURES[draft.text('procedure')].title.lower()}, {subject}")
        except (NonnaError, KeyError, TypeError, AttributeError):
            names.append(f"{name}, which cannot be read")
    return tuple(names)


@dataclass(frozen=True, slots=True)
class Started:
    """A sheet as it opens: fresh, or taken up where it was left."""

    opening: Opening
    session: Session
    place: DraftPlace  #: where its tape is kept; held from here on
    draft: str = ""  #: the name of the tape that was left, "" for a new one
    program: str = ""
    words: str = ""  #: what there is to say of what was left


def started(site: Site, name: str, subject: Subject) -> Started:
    """Open a sheet, take up what was left of it, and work out how it stands.

    Raises: NonnaError as `open_sheet`; a draft that cannot be read is said, never refused.
    """
    made = _started(site, name, subject)
    made.session.evaluate()  # kept there: the first of a procedure takes long
    return made


def _started(site: Site, name: str, subject: Subject) -> Started:
    opening = open_sheet(site, name, subject)
    fresh = with_pairs(site, Session(opening.name, opening.facts))
    place = site.folder.draft(site.machine.name, name, subject)
    try:
        draft = place.read()
        if draft is None:
            return Started(opening, fresh, place)
        signed = site.folder.book.record_of_draft(draft.word("id"))
        if signed is not None:  # the program ended between the signature and putting the draft away
            place.forget()
            words = f"What was left here is signed already, as record {signed}. This is a fresh sheet."
            return Started(opening, fresh, place, words=words)
        again = open_sheet(site, name, subject, draft.text("master"), draft.text("variant"))
        session = taken_up(with_pairs(site, Session(again.name, again.facts)), draft, again.carried)
        program = draft.word("program")
    except (NonnaError, KeyError, TypeError, AttributeError) as error:
        return Started(opening, fresh, place, words=f"A sheet was left unsigned here, but it cannot be read: {error}")
    when = session.rows[-1].at[11:16] if session.rows else ""
    words = f"Taken up where it was left, {len(session.live)} readings, the last at {when}."
    return Started(again, session, place, str(draft.get("id") or ""), program, words)
