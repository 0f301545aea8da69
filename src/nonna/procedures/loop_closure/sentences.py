"""Loop closure: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("loop-closure")


SENTENCES = {
    "higher-none": (_HIGHER := "The probe sees the surface {size:small} higher than the tool, ± {U:small}."),
    "higher-pass": _HIGHER + " Within {limit:small}.",
    "higher-fail": _HIGHER + " Over {limit:small}.",
    "higher-undecided": _HIGHER + " Whether that is within {limit:small} stays open.",
    "lower-none": (_LOWER := "The probe sees the surface {size:small} lower than the tool, ± {U:small}."),
    "lower-pass": _LOWER + " Within {limit:small}.",
    "lower-fail": _LOWER + " Over {limit:small}.",
    "lower-undecided": _LOWER + " Whether that is within {limit:small} stays open.",
    "apart": "That is more than the doubt: one of the two chains is off.",
    "agree": "That is within the doubt: the two chains agree as far as this can tell.",
    "new-length": "New probe length, if the setter is to be believed: the old one {d:signed}.",
    "pass": "Sign it, then prove the loop on an artefact.",
    "none": "Sign it.",
    "fail": "Prove both on an artefact not used before: it says which chain is off. Redo that one.",
    "undecided": "Measure the surface again, through both.",
}
