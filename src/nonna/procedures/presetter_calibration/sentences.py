"""Presetter calibration: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("presetter-calibration")


SENTENCES = {
    "found": "{axis}: zero off by {offset:signed}, scale by {scale:1f} ppm, ± {U:small} at the zero.",
    "found-one": "{axis}: zero off by {offset:signed}, ± {U:small}; the scale was taken as it is.",
    "proved": "Proof: {error:signed} off, Eₙ {en:2f}.",
    "not-held": "The proof master does not come out as certified. Clean masters and taper, and measure all three "
    "again.",
    "one-master": "One master tells no scale: away from its size the doubt grows by what you gave for the scale.",
    "no-proof": "No third master was measured: nothing proves this yet.",
    "pass": "Sign it. Tools measured here are put right by it from now on.",
    "none": "Sign it. Tools measured here are put right by it from now on.",
    "fail": "Clean masters and taper and start again; if it stays, have the presetter seen to.",
    "undecided": "Measure each master again: the doubt is too large for the limit.",
}
