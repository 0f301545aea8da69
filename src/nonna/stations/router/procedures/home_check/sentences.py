"""Home check: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("home-check")


SENTENCES = {
    "first": "The pin stands where it was found: this is what later checks are held against.",
    "moved": "The home is {moved:signed} off in {axis}, ± {U:small}, the most of its axes.",
    "go-on": "Inside what the home repeats within: go on.",
    "correct": "Home again and check once more. If it stays, shift the home by what is shown; the plate and the rack "
    "follow it.",
    "open": "Touch the pin again: the doubt is as large as the limit.",
    "sign": "Sign it.",
}
