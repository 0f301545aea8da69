"""One guided round: what it does in order, and where it stops."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from nonna.procedures.telling import words_of

if TYPE_CHECKING:
    from nonna.procedures.evaluation import Evaluation
    from nonna.shop.links.judge import NextJob
    from nonna.shop.links.subjects import Subject
    from nonna.wording.lengths import Units


def wanted(jobs: Sequence[NextJob]) -> list[tuple[str, Subject]]:
    """Return the sheets (procedure, subject) that the jobs which cannot wait ask for, in order."""
    sheets: list[tuple[str, Subject]] = []
    for job in jobs:
        if not job.can_wait and job.link.procedure:
            sheets += [(job.link.procedure, subject) for subject in job.subjects or (job.link.subject,)]
    return sheets


def stop_words(title: str, result: Evaluation | None, units: Units) -> str:
    """Say why a round goes no further after a sheet that was signed with this result, or "" when it may."""
    if result is None or result.verdict.value != "fail":
        return ""
    said = " ".join(words_of(each, units) for each in (result.headline, result.todo) if each is not None)
    return f"The round stops at the {title.lower()}: {said}"
