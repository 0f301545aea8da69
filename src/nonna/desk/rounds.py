"""One guided round: what it does in order, and where it stops."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nonna.desk.sheet.controller import SheetController
    from nonna.shop.judge import NextJob
    from nonna.shop.subjects import Subject


def wanted(jobs: Sequence[NextJob]) -> list[tuple[str, Subject]]:
    """Return the sheets (procedure, subject) that the jobs which cannot wait ask for, in order."""
    sheets: list[tuple[str, Subject]] = []
    for job in jobs:
        if not job.can_wait and job.link.procedure:
            sheets += [(job.link.procedure, subject) for subject in job.subjects or (job.link.subject,)]
    return sheets


def stop_words(controller: SheetController) -> str:
    """Say why a round goes no further after this sheet, or "" when it may."""
    from nonna.procedures.evaluation import Evaluation

    result = controller.session.evaluate()
    if controller.receipt is None or not isinstance(result, Evaluation) or result.verdict.value != "fail":
        return ""
    title, units = controller.session.procedure.title.lower(), controller.units
    return f"The round stops at the {title}: {result.headline.render(units)} {result.todo.render(units)}"
