"""Rack pockets: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("rack-pockets")


SENTENCES = {
    "found": "{count} pockets, {pitch:length} apart, rising {rise:signed} a pocket.",
    "one-bent": "{count} pockets; pocket {names:list} stands out of the row.",
    "some-bent": "{count} pockets; pockets {names:list} stand out of the row.",
    "aside": "Pocket {pocket} stands {off:small} off the row and {height:signed} in height: straighten its clip or "
    "replace it, "
    "then measure it again.",
    "too-few": "{count} places lie within {off:small} of their own line; with fewer than four nobody can tell which "
    "one is bent: measure one more.",
    "fits": "Place {names:list} stands within {off:small} of the row of the {known} others, as the book has them. "
    "Was the home lost since, "
    "or did anything touch the rack? Then measure the whole row.",
    "straight": "No clip is bent: the pockets stand in one row within {off:small}.",
    "pass": "Sign it and load the places into the control.",
    "none": "Sign it and load the places into the control.",
    "fail": "Mend what stands out before a tool is parked there.",
    "undecided": "Measure the row again.",
}
