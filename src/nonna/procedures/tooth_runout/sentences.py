"""Tooth run-out: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("tooth-runout")


SENTENCES = {
    "found-none": (
        _FOUND := "Tooth {longest} stands out most, {r:small} beyond tooth {shortest}; each height ± {U:small}."
    ),
    "found-pass": _FOUND + " Within {limit:small}.",
    "found-fail": _FOUND + " Over {limit:small}.",
    "found-undecided": _FOUND + " The doubt leaves {limit:small} open.",
    "back": "Tooth {tooth} stands {d:small} back.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Take the insert of tooth {tooth} out, wipe its seat and the insert, put it back and touch again.",
    "undecided": "Touch each tooth once more.",
}
