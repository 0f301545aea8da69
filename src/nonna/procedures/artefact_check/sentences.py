"""Artefact check: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("artefact-check")


SENTENCES = {
    "found": "The artefact comes out {e:signed} off, ± {U:small}: Eₙ {en:2f}.",
    "not-held": "The loop does not hold its promise. Look at closure and temperature, then redo the weakest link.",
    "pass": "Sign it: the loop is proved.",
    "fail": "The doubt is honest, but the error is over its limit: calibrate again.",
    "undecided": "Measure it again, or with a better artefact.",
    "none": "Measure it again, or with a better artefact.",
}
