"""What a reason is called in a sentence: the one look-up, for those of procedures and all others."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cache
from importlib import import_module

from nonna.procedures.listing import PROCEDURES
from nonna.shop.reason import Reason
from nonna.wording.lengths import Units
from nonna.wording.saying import tell
from nonna.wording.saying import template_of as shared_template

SIGNED = "signed"  #: a record's own words, kept with it


def saying(procedure: str) -> Callable[..., Reason]:
    """Return what makes a procedure's reasons: ``said("too-far", screw="left")``."""

    def said(key: str, /, **facts: object) -> Reason:
        return Reason(f"{procedure}.{key}", facts)

    return said


@cache
def _sentences(procedure: str) -> Mapping[str, str]:
    found: Mapping[str, str] = import_module(f"{PROCEDURES[procedure].package}.procedure").SENTENCES
    return found


def signed_words(template: str, facts: Mapping[str, object]) -> Reason:
    """Return words that a record holds; they stay as they were signed, whatever the program says today."""
    return Reason(SIGNED, {"template": template, "facts": dict(facts)})


def template_of(reason: Reason) -> str:
    """Return a reason's sentence with its facts still to be filled in. Raises: KeyError (no such code)."""
    if reason.code == SIGNED:
        return str(reason.facts["template"])
    table, _, name = reason.code.partition(".")
    return _sentences(table)[name] if table in PROCEDURES else shared_template(reason.code)


def facts_of(reason: Reason) -> dict[str, object]:
    """Return the facts that go into a reason's sentence."""
    return dict(reason.facts["facts"] if reason.code == SIGNED else reason.facts)


def words_of(reason: Reason, units: Units = Units.MM) -> str:
    """Return a reason in words, with its lengths in the unit wanted. Raises: KeyError (no such code, a fact
    missing).
    """
    return tell(template_of(reason), facts_of(reason), units)
