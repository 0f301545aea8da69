"""Beam level: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("beam-level")


SENTENCES = {
    "raise": "Adjuster: raise it by {about} ({turns:2f} turns, {by:small}).",
    "lower": "Adjuster: lower it by {about} ({turns:2f} turns, {by:small}).",
    "span": "{what}: a span of {span:length} would decide it.",
    "found-none": (_FOUND := "Over 100 mm the beam goes {z:signed} in Z and {cross:signed} across") + ".",
    "found-pass": _FOUND + ": level.",
    "found-fail": _FOUND + ": not level yet.",
    "found-undecided": _FOUND + "; the doubt leaves it open.",
    "fail": "Turn the setter on the table until it runs along, and measure again.",
    "undecided": "Measure over a longer span.",
    "pass": "Sign it, then calibrate the beam.",
    "none": "Sign it, then calibrate the beam.",
}
