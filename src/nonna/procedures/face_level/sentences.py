"""Face level: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("face-level")


SENTENCES = {
    "pad": "The pad itself is {flat:small} from flat: wipe it, look for a burr.",
    "raise": "Screw {screw}: raise it by {about} ({turns:2f} turns, {by:small}).",
    "lower": "Screw {screw}: lower it by {about} ({turns:2f} turns, {by:small}).",
    "found-none": (_FOUND := "The pad rises {x:signed} in X and {y:signed} in Y") + ".",
    "found-pass": _FOUND + ", within {limit:small} even with the doubt.",
    "found-fail": _FOUND + "; {limit:small} is allowed.",
    "found-undecided": _FOUND + "; the doubt leaves {limit:small} open.",
    "too-far": "Screw {screw} would need {turns:1f} turns: no levelling does that. Look for the cause: a chip under "
    "the "
    "setter, a dial that slipped, a reading in the wrong unit.",
    "fail": "Level the setter and measure again.",
    "undecided": "Take a grid of nine places: more places lower the doubt most.",
    "pass": "Sign it, then calibrate the setter.",
    "none": "Sign it, then calibrate the setter.",
}
