"""Readings of a file put on a sheet: the whole file or nothing."""

from __future__ import annotations

from dataclasses import replace

from nonna.errors import NonnaError
from nonna.procedures.catalogue import named_in
from nonna.procedures.session import Session
from nonna.shop.texts import strict_json


def with_file(session: Session, name: str, data: bytes, at: str) -> Session:
    """Return a sheet with the readings, setup and masters of a readings file; what was on it stays on its tape.

    Parameters: name and data of the file; at, the time it is taken over (ISO). Raises: NonnaError naming the file and
    what is wrong with it.
    """
    try:
        document = strict_json.loads(data)
        found = named_in(document)
        if found.name != session.name:
            own = session.procedure.title.lower()
            raise NonnaError(
                "wrong-format", "That file holds a {lower}, this sheet is a {own}.", lower=found.title.lower(), own=own
            )
        found.evaluate(document)
    except NonnaError as error:
        raise NonnaError(error.code, "{name}: {words}", error.where, name=name, words=error.message) from error
    facts = replace(
        session.facts, setup=document.get("setup", {}), masters=document.get("masters", {}),
        conditions=document.get("conditions", {}),
    )  # fmt: skip
    there = replace(session, facts=facts, rule=document.get("rule", {}).get("kind", "guarded"))
    return there.take_all(document["readings"], f"file {name}", at)
