"""Procedures by name; each is imported when it is first asked for."""

from __future__ import annotations

from collections.abc import Mapping
from difflib import get_close_matches
from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING

from nonna.errors import NonnaError
from nonna.procedures.listing import PROCEDURES
from nonna.shop.texts.given import Plain

if TYPE_CHECKING:
    from nonna.procedures.evaluation import Evaluation
    from nonna.procedures.sheet import Procedure


@cache
def procedure(name: str) -> Procedure:
    """Return a procedure by its published name.

    Raises: NonnaError ``unknown-procedure``.
    """
    if name not in PROCEDURES:
        like = get_close_matches(name, sorted(PROCEDURES), 4, 0.3)
        words = f"Is {' or '.join(like)} meant?" if like else "nonna schema lists them all."
        raise NonnaError(
            "unknown-procedure", "There is no procedure {value!r}. {words}", "procedure", value=name[:60], words=words
        )
    made: Procedure = import_module(f"{PROCEDURES[name].package}.procedure").PROCEDURE
    return made


def named_in(document: object) -> Procedure:
    """Return the procedure a readings document names.

    Raises: NonnaError ``wrong-format``, ``missing-field`` or ``unknown-procedure``.
    """
    if not isinstance(document, dict):
        raise NonnaError("wrong-format", "A readings file is one JSON object.")
    for name in ("format", "procedure"):
        if name not in document:
            raise NonnaError("missing-field", "{name}: this is missing.", name, name=name)
    if document["format"] != "nonna-readings/1":
        raise NonnaError(
            "wrong-format", 'format: "nonna-readings/1" is wanted, not {format!r}.', "format", format=document["format"]
        )
    if not isinstance(document["procedure"], str):
        raise NonnaError("wrong-format", "procedure: the name of a procedure is wanted.", "procedure")
    return procedure(document["procedure"])


def evaluate(document: Mapping[str, Plain]) -> Evaluation:
    """Evaluate any readings document. Raises: NonnaError."""
    return named_in(document).evaluate(document)
