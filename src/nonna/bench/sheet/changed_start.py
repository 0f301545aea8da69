"""A sheet that goes on with another master, or another way: what it starts from changes, its tape stays."""

from __future__ import annotations

from dataclasses import replace

from nonna.bench.sheet.opening import Opening, open_sheet
from nonna.bench.station.site import Site
from nonna.procedures.session import Session
from nonna.shop.texts.given import Given


def with_master(site: Site, opening: Opening, session: Session, master_id: str) -> tuple[Session, Opening]:
    """Return a sheet with another master; readings already taken belong to the one before and are struck.

    Raises: NonnaError (a file or a record is damaged).
    """
    fresh = open_sheet(site, opening.name, session.facts.subject, master_id)
    facts = replace(fresh.facts, setup=session.facts.setup, conditions=session.facts.conditions)
    changed = replace(session, facts=facts)
    for i, row in enumerate(changed.rows):
        if not row.struck:
            changed = changed.strike(i, "other master chosen")
    return changed, replace(fresh, carried=opening.carried)


def with_way(site: Site, opening: Opening, session: Session, key: str) -> tuple[Session, Opening]:
    """Return a sheet done another way; readings already taken belong to the way before and are struck.

    Raises: NonnaError (a file or a record is damaged).
    """
    fresh = open_sheet(site, opening.name, session.facts.subject, "", key)
    changed = session.with_variant(key)
    setup = Given({**changed.facts.setup, **fresh.facts.setup})
    return replace(changed, facts=replace(fresh.facts, conditions=changed.facts.conditions, setup=setup)), fresh
