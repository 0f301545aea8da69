"""An unsigned sheet as a file, so that a power cut or a closed program loses no reading."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import cast

from nonna.errors import NonnaError
from nonna.procedures.facts import PassDone
from nonna.procedures.session import Session, TapeRow
from nonna.shop.texts.given import Given, Plain, as_number

FORMAT = "nonna-draft/1"


def document_of(session: Session, master_id: str, program: str) -> dict[str, Plain]:
    """Return what has to be kept of a sheet that is not signed yet."""
    return {
        "format": FORMAT,
        "procedure": session.name,
        "subject": str(session.facts.subject),
        "variant": session.facts.variant,
        "master": master_id,
        "setup": dict(session.facts.setup),
        "conditions": dict(session.facts.conditions),
        "rule": session.rule,
        "rows": [{**row.to_document(), "label": row.label} for row in session.rows],
        "pending": dict(session.pending),
        "passes": [
            {"readings": [dict(r) for r in p.readings], "results": dict(p.results), "turned": dict(p.turned)}
            for p in session.passes
        ],
        "program": program,
    }


def taken_up(fresh: Session, draft: Given, carried: Mapping[str, object]) -> Session:
    """Put a draft's tape on a freshly opened sheet; what is carried from records is the fresh one's.

    Raises: NonnaError ``wrong-format`` (the file is not what was kept).
    """
    try:
        if draft["format"] != FORMAT or draft["procedure"] != fresh.name:
            raise NonnaError("wrong-format", "This is not the draft of such a sheet.", "format")
        rows = tuple(
            TapeRow(
                row.part("values"),
                row.text("label"),
                row.text("at"),
                row.text("source"),
                row.text("struck"),
                row.word("doubted"),
            )
            for row in draft.objects("rows")
        )
        passes = tuple(
            PassDone(row.rows("readings"), _numbers(row.part("results")), _numbers(row.part("turned")))
            for row in draft.objects("passes")
        )
        kept = {name: value for name, value in draft.part("setup").items() if f"setup.{name}" not in carried}
        conditions = cast("dict[str, float]", draft.part("conditions"))
        facts = replace(fresh.facts, setup=Given({**fresh.facts.setup, **kept}), conditions=conditions)
        pending = _numbers(draft.part("pending"))
        return replace(fresh, facts=facts, rows=rows, passes=passes, rule=draft.text("rule"), pending=pending)
    except (KeyError, TypeError, AttributeError, ValueError) as error:
        if isinstance(error, NonnaError):
            raise
        raise NonnaError("wrong-format", "The draft is damaged: {error!r}.", "rows", error=error) from error


def _numbers(given: Given) -> dict[str, float]:
    return {name: as_number(value) for name, value in given.items()}
