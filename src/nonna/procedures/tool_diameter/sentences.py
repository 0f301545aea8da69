"""Tool diameter: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("tool-diameter")


SENTENCES = {
    "found-none": "Diameter {d:length}, ± {U:small}.",
    "change-none": (_CHANGE := "Diameter {d:length}, {change:signed} against the table."),
    "change-pass": _CHANGE + " That is within {limit:small}.",
    "change-fail": _CHANGE + " That is over {limit:small}.",
    "change-undecided": _CHANGE + " The doubt of ± {U:small} leaves open whether that is within {limit:small}.",
    "pass": "Sign it to take it over.",
    "none": "Sign it to take it over.",
    "fail": "Is it the right tool, the inserts seated? If so, sign it and tell the next shift.",
    "undecided": "Touch it again from both sides.",
}
