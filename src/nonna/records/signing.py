"""Evaluate and make the record in one step: what the sheet and the command line share."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from nonna.procedures.catalogue import named_in
from nonna.procedures.evaluation import Evaluation
from nonna.records.entry_body import Evidence, Signature, measurement


def prepare(
    document: Mapping[str, Any], signature: Signature, evidence: Evidence | None = None
) -> tuple[dict[str, Any], Evaluation]:
    """Evaluate a readings document and return the record's body, ready for `Ledger.sign`, and the evaluation.

    Raises: NonnaError (bad document).
    """
    found = named_in(document)
    evaluation = found.evaluate(dict(document))
    return measurement(document, evaluation, signature, evidence or Evidence(title=found.title)), evaluation
