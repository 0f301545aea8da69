"""Centre line of the turret: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("lathe-centre")


SENTENCES = {
    "found": "A tool on the centre line of this turret has {axis} offset {value:length}, ± {U:small}.",
    "height": "The bar stands {d:signed} off the spindle's height.",
    "sign": "Sign it: drills take their X from it.",
    "pass": "Sign it: drills take their X from it.",
    "fail": "Too far off in height for a drill: is the bar seated, was the turret hit? Shim it or have it aligned.",
    "undecided": "Sweep it once more.",
}
