"""Tool length: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("tool-length")


SENTENCES = {
    "found": "Length {length:length}, ± {U:small}.",
    "change": (_CHANGE := "Length {length:length}, {change:signed} against the table."),
    "change-pass": _CHANGE + " That is within {limit:small}.",
    "change-fail": _CHANGE + " That is over {limit:small}.",
    "change-undecided": _CHANGE + " The doubt of ± {U:small} leaves open whether that is within {limit:small}.",
    "pass": "Sign it to take it over.",
    "fail": "Is it the right tool, well seated? If so, sign it and tell the next shift.",
    "undecided": "Touch it again, or sign it as it is.",
    "more-touches": "Touch it again: more touches lower the doubt most.",
    "slower-feed": "Touch it with less feed a turn: which edge is met first is most of the doubt.",
    "better-plane": "Calibrate the setter again: its trigger plane is most of the doubt.",
}
