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
    fresh = open_sheet(site, opening.name, session.bench.subject, master_id)
    bench = replace(fresh.bench, setup=session.bench.setup, conditions=session.bench.conditions)
    changed = replace(session, bench=bench)
    for i, row in enumerate(changed.rows):
        if not row.struck:
            changed = changed.strike(i, "other master chosen")
    return changed, replace(fresh, carried=opening.carried)


def with_way(site: Site, opening: Opening, session: Session, key: str) -> tuple[Session, Opening]:
    """Return a sheet done another way; readings already taken belong to the way before and are struck.

    Raises: NonnaError (a file or a record is damaged).
    """
    fresh = open_sheet(site, opening.name, session.bench.subject, "", key)
    changed = session.with_variant(key)
    setup = Given({**changed.bench.setup, **fresh.bench.setup})
    return replace(changed, bench=replace(fresh.bench, conditions=changed.bench.conditions, setup=setup)), fresh
