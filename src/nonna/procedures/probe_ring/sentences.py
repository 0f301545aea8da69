"""Probe ring: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("probe-ring")


SENTENCES = {
    "found": "Ball radius {r:length}, ± {U:small}; lobing {lobing:small}.",
    "over": "{what} is {value:small}, over {limit:small}.",
    "open": "{what} is {value:small}, its doubt leaves open {limit:small}.",
    "lobes": "Is the stylus tight, the ball whole, the battery good? Then measure again.",
    "dial-in": "Dial the ball in first: run-out and ring go together.",
    "more": "Touch more directions.",
    "sign": "Sign it, then put radius and offset into the machine.",
    "gap": "The touches are unevenly spread; what lies in the gap was not seen.",
    "three-lobes": "Three lobes of {size:small}: how the probe's own seats give.",
    "two-lobes": "Two lobes of {size:small}: a ring out of round, or axes out of square.",
}
